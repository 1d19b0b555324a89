#!/usr/bin/env node
import { existsSync } from 'node:fs';

const built = new URL('../dist/gable.js', import.meta.url);
if (!existsSync(built)) {
  console.error('gable is not built yet. Run: npm run build');
  process.exit(2);
}
const { run } = await import(built.href);
process.exitCode = await run(process.argv.slice(2));
