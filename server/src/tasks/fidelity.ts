import type { Frame } from '@gable/core';
import { type Fidelity, fidelityOf } from '@gable/render';
import { FEATURES, openFile } from '@gable/formats';
import { task, weighFile, type BytesRef } from './task';

/** How a frame will be written, and what for. */
export interface FrameFate {
  n: number;
  fidelity: Fidelity;
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
      const unsupported = opened.unsupported(f);
      return {
        n: f.n,
        fidelity: fidelityOf(unsupported),
        reasons: unsupported.map((m) => FEATURES[m]),
        shape: opened.becomesShape?.(f) ?? false,
      };
    });
  },
});
