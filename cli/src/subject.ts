import {
  GableError,
  oversteppingAt,
  subjectAlone,
  subjectOf,
  withOverstep,
  type Frame,
  type OverstepWish,
  type Region,
  type Shadow,
  type ShapeChoice,
  type Size,
} from '@gable/core';
import { cutOutFinely, outlineOfMask } from '@gable/render/cut-out';
import { findFaces } from '@gable/render/faces';

/** The outline of the subject of a picture, and its box. @throws GableError `no-subject`, `broken-picture` */
export async function cutOut(
  n: number,
  bytes: Uint8Array,
  size: Size,
): Promise<{ shape: ShapeChoice; region: Region }> {
  const mask = await cutOutFinely(bytes, size, { faces: await findFaces(bytes, size) });
  const outline = await outlineOfMask(mask, 'Subject');
  if (!outline)
    throw new GableError(
      'no-subject',
      `Picture ${n}: no subject stands out.`,
      'Cut it out in the browser, where you can paint what belongs to it.',
    );
  return outline;
}

/** The frame with the subject of its picture alone. @throws GableError `no-subject`, `broken-picture` */
export async function alone(frame: Frame, bytes: Uint8Array, size: Size): Promise<Frame> {
  const { shape, region } = await cutOut(frame.n, bytes, size);
  return subjectAlone(frame, shape, region, size);
}

/**
 * The frame with its subject reaching over these sides, or over none. One that was cut out before is not cut out anew.
 * @throws GableError `no-subject`, `broken-picture`
 */
export async function overstepping(
  frame: Frame,
  wish: OverstepWish,
  bytes: () => Uint8Array,
  size: Size,
): Promise<Frame> {
  if (wish.length === 0) return withOverstep(frame, null);
  let { subject } = frame.overstep ?? {};
  if (subject === undefined) {
    const { shape, region } = await cutOut(frame.n, bytes(), size);
    subject = subjectOf(shape, region);
  }
  const sides = wish.map((w) => w.side);
  const next = oversteppingAt(frame, subject, sides, size);
  const said = Object.fromEntries(wish.flatMap(({ side, line }) => (line === null ? [] : [[side, line] as const])));
  return withOverstep(next, { ...next.overstep!, lines: { ...next.overstep!.lines, ...said } });
}

/** The frame with another shadow of its subject on the picture. @throws GableError `bad-overstep` where nothing reaches over */
export function withOwnShadow(frame: Frame, next: Shadow | null): Frame {
  if (!frame.overstep)
    throw new GableError(
      'bad-overstep',
      `The subject of picture ${frame.n} reaches over no side, so that it has no shadow of its own.`,
      'Add --overstep top, or another side.',
    );
  const { shadow, ...overstep } = frame.overstep;
  void shadow;
  return withOverstep(frame, next ? { ...overstep, shadow: next } : overstep);
}
