// Runs a TypeScript file: bundles it beside the cache, then starts it with the same arguments and folder.
import { build } from 'esbuild';
import { spawn } from 'node:child_process';
import { createHash } from 'node:crypto';
import path from 'node:path';
import { fileURLToPath } from 'node:url';

const root = path.resolve(path.dirname(fileURLToPath(import.meta.url)), '..');
const [entry, ...rest] = process.argv.slice(2);
if (!entry) {
  console.error('run-ts: name the TypeScript file to run.');
  process.exit(2);
}
const file = path.resolve(entry);
const name = createHash('sha256').update(file).digest('hex').slice(0, 12);
const outfile = path.join(root, '.cache', 'run', `${path.basename(entry, '.ts')}-${name}.mjs`);
await build({
  entryPoints: [file],
  outfile,
  bundle: true,
  platform: 'node',
  format: 'esm',
  target: 'node20',
  packages: 'external',
  tsconfig: path.join(root, 'tsconfig.json'),
  logLevel: 'warning',
});
spawn(process.execPath, ['--enable-source-maps', outfile, ...rest], { stdio: 'inherit' }).on('exit', (code) =>
  process.exit(code ?? 1),
);
