import { itemIdOf, type Frame } from '@gable/core';
import {
  openFile as open,
  withFrames,
  type Feature,
  type ItemFidelity,
  type ReplacementImage,
  type Source,
} from '../../src/index';

/** A file with its pictures as frames by their numbers, for tests of what a frame becomes. */
export interface FramedFile extends Source {
  /** The file with these frames in the place of its own, by way of its document. */
  save(frames: Iterable<Frame>, images?: ReadonlyMap<number, ReplacementImage>): Uint8Array;
  /** What of a frame the file cannot say in its own terms. */
  unsupported(frame: Frame): readonly Feature[];
  becomesShape(frame: Frame): boolean;
}

export function openFile(bytes: Uint8Array): FramedFile {
  const source = open(bytes);
  const idOf = (n: number): string => itemIdOf(source.pictures[n - 1]!);
  const fidelityOf = (frame: Frame): ItemFidelity | undefined =>
    source.fidelity(withFrames(source, [frame])).get(idOf(frame.n));
  return Object.assign(Object.create(source) as Source, {
    save: (frames: Iterable<Frame>, images: ReadonlyMap<number, ReplacementImage> = new Map()) =>
      source.write(withFrames(source, frames), new Map([...images].map(([n, image]) => [idOf(n), image]))),
    unsupported: (frame: Frame) => fidelityOf(frame)?.unsupported ?? [],
    becomesShape: (frame: Frame) => fidelityOf(frame)?.becomesShape ?? false,
  });
}
