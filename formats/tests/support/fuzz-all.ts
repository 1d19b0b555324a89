import { readFileSync } from 'node:fs';
import { attempt, damage, seeded } from './fuzz';

/** `npm run fuzz`: see scripts/fuzz.mjs. */
const files = ['season-handbook.docx', 'open-day-talk.pptx', 'firing-day-board.svg', 'visit-us.zip'];
const cases = Number(process.argv[2] ?? 5000);
const seed = Number(process.argv[3] ?? 1);
let failed = 0;
let slowest = 0;
let opened = 0;
for (let i = 0; i < cases; i++) {
  const name = files[i % files.length]!;
  const bytes = new Uint8Array(readFileSync(`demo/files/${name}`));
  try {
    const outcome = attempt(damage(bytes, seeded(seed + i)));
    slowest = Math.max(slowest, outcome.took);
    if (outcome.opened) opened++;
    if (outcome.took > 2000) throw new Error(`it took ${Math.round(outcome.took)} ms`);
  } catch (error) {
    failed++;
    console.error(`${name}, seed ${seed + i}: ${(error as Error).stack?.split('\n').slice(0, 4).join(' | ')}`);
  }
}
const { rss } = process.memoryUsage();
console.log(
  `${cases} cases, ${opened} opened, ${failed} failed; slowest ${Math.round(slowest)} ms; ${Math.round(rss / 1e6)} MB in the end`,
);
process.exitCode = failed > 0 ? 1 : 0;
