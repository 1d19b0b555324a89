import { solidOutline, withShape, type Frame } from '@gable/core';
import type { Source } from '@gable/formats';

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

/**
 * The middle of several runs of two things, taken by turns, so that a busy moment of the machine falls on both; the first
 * run of each warms up and does not count. In milliseconds.
 */
export async function byTurns(runs: number, work: () => unknown, yardstick: () => unknown): Promise<[number, number]> {
  const times: [number[], number[]] = [[], []];
  for (let i = 0; i <= runs; i++)
    for (const [k, run] of [work, yardstick].entries()) {
      const started = performance.now();
      await run();
      if (i > 0) times[k]!.push(performance.now() - started);
    }
  return times.map((t) => t.sort((a, b) => a - b)[runs >> 1]!) as [number, number];
}

/** Prints one row: what it took, what the yardstick took in the same run, and the ratio beside its target. */
export function report(what: string, ms: number, yardstick: string, reference: number, target: number): void {
  const ratio = ms / reference;
  console.log(
    `${what}: ${ms.toFixed(0)} ms; ${yardstick}: ${reference.toFixed(0)} ms; ratio ${ratio.toFixed(2)} (target ≤ ${target})${ratio > target ? '  over' : ''}`,
  );
}

/** Every picture of a file in a circle with an outline. */
export const circled = (opened: Source): Frame[] =>
  opened.pictures.map((p) => ({
    ...withShape(p.frame, { name: 'circle', knobs: {} }, p.size),
    outline: solidOutline(6, '#ffffff'),
  }));
