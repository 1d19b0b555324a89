import { attempt, damage, seeded } from './fuzz';
import { SEEDS } from './seeds';

/** `npm run fuzz`: see scripts/fuzz.mjs. */
async function main(): Promise<void> {
  const cases = Number(process.argv[2] ?? 5000);
  const seed = Number(process.argv[3] ?? 1);
  const files = await Promise.all(SEEDS.map(async ([name, make]) => [name, new Uint8Array(await make())] as const));
  let failed = 0;
  let slowest = 0;
  let opened = 0;
  let most = 0;
  for (let i = 0; i < cases; i++) {
    const [name, bytes] = files[i % files.length]!;
    try {
      const outcome = attempt(damage(bytes, seeded(seed + i)));
      slowest = Math.max(slowest, outcome.took);
      most = Math.max(most, process.memoryUsage.rss());
      if (outcome.opened) opened++;
      if (outcome.took > 2000) throw new Error(`it took ${Math.round(outcome.took)} ms`);
    } catch (error) {
      failed++;
      console.error(`${name}, seed ${seed + i}: ${(error as Error).stack?.split('\n').slice(0, 4).join(' | ')}`);
    }
  }
  console.log(
    `${cases} cases of ${files.length} files, ${opened} opened, ${failed} failed; slowest ${Math.round(slowest)} ms; ${Math.round(most / 1e6)} MB at the most`,
  );
  process.exitCode = failed > 0 ? 1 : 0;
}

void main();
