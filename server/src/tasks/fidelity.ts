import type { Frame } from '@gable/core';
import { type Fate, fateOf } from '@gable/render';
import { MISFITS, openFile } from '@gable/formats';
import { task, weighFile, type BytesRef } from './task';

/** How a frame will be written, and what for. */
export interface FrameFate {
  n: number;
  fate: Fate;
  reasons: string[];
  /** It becomes a drawing shape, which other programs may not take for a picture. */
  shape: boolean;
}

/** What will be native, and what painted into pixels. */
export const fidelity = task({
  lane: 'quick',
  seconds: 60,
  weigh: weighFile,
  async run({ file, frames }: { file: BytesRef; frames: Frame[] }, { read }): Promise<FrameFate[]> {
    const opened = openFile(await read(file));
    return frames.map((f) => {
      const misfits = opened.misfits(f);
      return {
        n: f.n,
        fate: fateOf(misfits),
        reasons: misfits.map((m) => MISFITS[m]),
        shape: opened.becomesShape?.(f) ?? false,
      };
    });
  },
});
