import { itemIdOf, type Frame } from '@gable/core';
import { type Fidelity, fidelityOf } from '@gable/render';
import { FEATURES, paintedOf, withFrames, type ItemFidelity } from '@gable/formats';
import { openRef, task, weighFile, type FileRef } from './task';

/** How a frame will be written, and what for. */
export interface FrameFate {
  n: number;
  fidelity: Fidelity;
  reasons: string[];
  /** It becomes a drawing shape, which other programs may not take for a picture. */
  shape: boolean;
  /** Its video is left out. */
  still?: true;
}

/** What will be native, and what painted into pixels. */
export const fidelity = task({
  lane: 'quick',
  seconds: 60,
  weigh: weighFile,
  async run({ file, frames }: { file: FileRef; frames: Frame[] }, context): Promise<FrameFate[]> {
    const source = await openRef(file, context, { read: 'pictures' });
    const known = source.fidelity(withFrames(source, frames));
    return frames.map(({ n }) => fateOf(n, known.get(itemIdOf({ n }))));
  },
});

/** How a picture is written; natively where nothing is said of it. */
export function fateOf(n: number, { unsupported, becomesShape }: ItemFidelity = AS_IT_IS): FrameFate {
  return {
    n,
    fidelity: fidelityOf(unsupported),
    reasons: paintedOf(unsupported).map((m) => FEATURES[m]),
    shape: becomesShape,
    ...(unsupported.includes('video') && { still: true as const }),
  };
}
const AS_IT_IS: ItemFidelity = { unsupported: [], becomesShape: false };
