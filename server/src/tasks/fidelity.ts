import { itemIdOf, type Frame } from '@gable/core';
import { type Fidelity, fidelityOf } from '@gable/render';
import { FEATURES, openFile, withFrames } from '@gable/formats';
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
    const source = openFile(await read(file), { read: 'pictures' });
    const known = source.fidelity(withFrames(source, frames));
    return frames.map(({ n }) => {
      const { unsupported = [], becomesShape = false } = known.get(itemIdOf(source.pictures[n - 1]!)) ?? {};
      return {
        n,
        fidelity: fidelityOf(unsupported),
        reasons: unsupported.map((m) => FEATURES[m]),
        shape: becomesShape,
      };
    });
  },
});
