/** The middle of several runs, in milliseconds; the first run warms up and does not count. */
export async function median(runs: number, work: () => unknown): Promise<number> {
  await work();
  const times: number[] = [];
  for (let i = 0; i < runs; i++) {
    const started = performance.now();
    await work();
    times.push(performance.now() - started);
  }
  return times.sort((a, b) => a - b)[runs >> 1]!;
}

/** Prints one row: what it took, what the yardstick took in the same run, and the ratio beside its target. */
export function report(what: string, ms: number, yardstick: string, reference: number, target: number): void {
  const ratio = ms / reference;
  console.log(
    `${what}: ${ms.toFixed(0)} ms; ${yardstick}: ${reference.toFixed(0)} ms; ratio ${ratio.toFixed(2)} (target ≤ ${target})${ratio > target ? '  over' : ''}`,
  );
}
