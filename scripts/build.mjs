// Builds the command line, the server and (unless --no-web) the screens. Skips what has not changed since the last build.
import { build } from 'esbuild';
import { spawn } from 'node:child_process';
import { createHash } from 'node:crypto';
import { copyFileSync, existsSync, mkdirSync, readFileSync, readdirSync, statSync, writeFileSync } from 'node:fs';
import { createRequire } from 'node:module';
import path from 'node:path';
import { fileURLToPath } from 'node:url';

const root = path.resolve(path.dirname(fileURLToPath(import.meta.url)), '..');
const at = (...p) => path.join(root, ...p);

/** A digest of names, sizes and times of everything a build reads. */
function stamp(folders) {
  const hash = createHash('sha256');
  const visit = (file) => {
    const info = statSync(file);
    if (info.isDirectory()) {
      for (const name of readdirSync(file).sort())
        if (name !== 'dist' && name !== 'node_modules' && name !== '.angular') visit(path.join(file, name));
    } else hash.update(`${file} ${info.size} ${info.mtimeMs}\n`);
  };
  for (const f of ['package-lock.json', 'tsconfig.base.json', 'scripts/build.mjs', ...folders])
    if (existsSync(at(f))) visit(at(f));
  return hash.digest('hex');
}

async function once(name, folders, result, make) {
  const file = at('.cache', `${name}.stamp`);
  const now = stamp(folders);
  if (existsSync(at(result)) && existsSync(file) && readFileSync(file, 'utf8') === now) return false;
  await make();
  mkdirSync(at('.cache'), { recursive: true });
  writeFileSync(file, now);
  return true;
}

function run(command, args, cwd) {
  return new Promise((resolve, reject) => {
    const child = spawn(command, args, {
      cwd,
      stdio: ['ignore', 'inherit', 'inherit'],
      env: { ...process.env, NG_CLI_ANALYTICS: 'false' },
    });
    child.on('error', reject);
    child.on('exit', (code) =>
      code === 0 ? resolve() : reject(new Error(`${command} ${args.join(' ')} ended with ${code}`)),
    );
  });
}

const node = {
  bundle: true,
  platform: 'node',
  format: 'esm',
  target: 'node20',
  packages: 'external',
  sourcemap: true,
  tsconfig: at('tsconfig.json'),
  logLevel: 'warning',
};

/**
 * The command line, and a process that runs tasks, are started while somebody waits: their libraries are in their files, which
 * start in half the time. What is native, or rarely asked for, stays where it is.
 */
const quickStart = {
  ...node,
  packages: 'bundle',
  external: ['sharp', '@napi-rs/canvas', 'pdfkit', 'pg-native', 'wawoff2'],
  minify: true,
  // Its source reads data files that lie beside it.
  alias: { 'css-tree': 'css-tree/dist/csstree.esm' },
  // Libraries in CommonJS ask for modules of Node.
  banner: {
    js: "import { createRequire as requireOf } from 'node:module'; const require = requireOf(import.meta.url);",
  },
};

/** Fonts that have the widths of common office fonts: Calibri, Cambria, Arial, Times New Roman, Courier New, Georgia. */
const FONTS = ['carlito', 'caladea', 'arimo', 'tinos', 'cousine', 'gelasio'];

/** Copies the fonts that texts are set in beside their page. @returns the rules that name them (CSS Fonts 4 §4, @font-face) */
function copyFonts(outdir) {
  mkdirSync(path.join(outdir, 'fonts'), { recursive: true });
  let css = '';
  for (const font of FONTS) {
    const from = path.dirname(createRequire(import.meta.url).resolve(`@fontsource/${font}/400.css`));
    for (const name of ['400', '400-italic', '700', '700-italic'])
      css += readFileSync(path.join(from, `${name}.css`), 'utf8').replace(
        /src: url\(\.\/files\/([\w-]+\.woff2)\)[^;]*;/g,
        (_, file) => {
          copyFileSync(path.join(from, 'files', file), path.join(outdir, 'fonts', file));
          return `src: url(fonts/${file}) format('woff2');`;
        },
      );
  }
  const rules = css
    .replace(/\/\*.*?\*\//g, '')
    .replace(/\s+/g, ' ')
    .replaceAll('font-display: swap;', '');
  // For the screens, which show slides in them.
  writeFileSync(path.join(outdir, 'fonts.css'), rules);
  return rules;
}

/** Fonts whose letters become shapes: files that can be read as outlines (WOFF). */
const LETTERS = { gelasio: 700, tinos: 700, arimo: 700, 'bricolage-grotesque': 800, cousine: 700 };

function copyLetters(outdir) {
  mkdirSync(path.join(outdir, 'letters'), { recursive: true });
  for (const [font, weight] of Object.entries(LETTERS)) {
    const file = `@fontsource/${font}/files/${font}-latin-${weight}-normal.woff`;
    copyFileSync(createRequire(import.meta.url).resolve(file), path.join(outdir, 'letters', `${font}.woff`));
  }
}

/** The page that lays out documents: a script of its own, since it runs in a frame without rights. */
async function buildPage() {
  const outdir = at('web/dist/browser/page');
  await build({
    entryPoints: [at('web/page/page.ts')],
    outdir,
    bundle: true,
    minify: true,
    format: 'iife',
    target: 'es2022',
    logLevel: 'warning',
  });
  copyLetters(outdir);
  const page = readFileSync(at('web/page/index.html'), 'utf8');
  writeFileSync(
    path.join(outdir, 'index.html'),
    page.replace('<style id="fonts"></style>', `<style id="fonts">${copyFonts(outdir)}</style>`),
  );
}

export async function buildAll({ web = true } = {}) {
  await once('cli', ['core/src', 'formats/src', 'render/src', 'cli/src'], 'cli/dist/gable.js', () =>
    build({ ...quickStart, entryPoints: [at('cli/src/main.ts')], outfile: at('cli/dist/gable.js') }),
  );
  if (existsSync(at('server/src/main.ts')))
    await once(
      'server',
      ['core/src', 'contract/src', 'formats/src', 'render/src', 'server/src'],
      'server/dist/main.js',
      () =>
        Promise.all([
          build({ ...node, entryPoints: [at('server/src/main.ts')], outfile: at('server/dist/main.js') }),
          build({
            ...quickStart,
            entryPoints: [at('server/src/tasks/process.ts')],
            outfile: at('server/dist/tasks/process.js'),
          }),
        ]),
    );
  if (web && existsSync(at('angular.json')))
    await once(
      'web',
      ['core/src', 'contract/src', 'web', 'angular.json', '.postcssrc.json'],
      'web/dist/browser/index.html',
      () => run(at('node_modules', '.bin', 'ng'), ['build'], root).then(buildPage),
    );
}

if (process.argv[1] === fileURLToPath(import.meta.url)) {
  await buildAll({ web: !process.argv.includes('--no-web') });
}
