import { FrameSchema, type Frame } from './frame';

/** A frame as any release wrote it, as this one has it: a single keep mark becomes a list of one. */
export function upgradedFrame<F extends { keep?: unknown }>(frame: F): F {
  const { keep } = frame;
  return keep === undefined || Array.isArray(keep) ? frame : { ...frame, keep: [keep] };
}

/** A frame that was written down, by this release or an older one; null where it is none. */
export function readFrame(written: object): Frame | null {
  const read = FrameSchema.safeParse(upgradedFrame(written));
  return read.success ? read.data : null;
}
