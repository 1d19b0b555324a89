import { attempt, damage, seeded } from './support/fuzz';
import { SEEDS } from './support/seeds';

/** So many damaged copies of each; `npm run fuzz` makes thousands. Every case has its number, to be made again. */
const CASES = 40;

test.each(SEEDS)(`${CASES} damaged copies of %s end in a clear error or a valid file, soon`, async (_name, make) => {
  const original = new Uint8Array(await make());
  let opened = 0;
  for (let i = 0; i < CASES; i++) {
    try {
      const { took, ...outcome } = attempt(damage(original, seeded(20_261_125 + i)));
      if (outcome.opened) opened++;
      // A standstill, not a benchmark: what takes two seconds alone has this long on a busy machine.
      if (took > 20_000) throw new Error(`It took ${took} ms.`);
    } catch (error) {
      throw new Error(`Case ${i}: ${(error as Error).message}`, { cause: error });
    }
  }
  expect(opened).toBeGreaterThan(3);
});
