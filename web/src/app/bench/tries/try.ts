import {
  area,
  cutMarks,
  deriveView,
  framePath,
  keepMarks,
  markName,
  type Frame,
  type KeepMark,
  type PieceContext,
  type PieceItem,
  type ShapeChoice,
  type Size,
  type Subject,
} from '@gable/core';
import { LRUCache } from 'lru-cache';

/** An alternative, shown with the author's own picture. */
export interface Try {
  id: string;
  label: string;
  /** A figure under the label. */
  note: string;
  frame: Frame;
  /** Is this what the frame has now? */
  current: boolean;
  /** The name of the entry when it is taken. */
  entry: string;
  /** The same without the picture having been moved to keep its subject, where it was. */
  unmoved?: Frame;
  /** What is put round the picture, which then has the frame of the try. */
  add?: { made: readonly PieceItem[]; context: PieceContext };
  /** The subject must be cut out before it is taken. */
  cutsOut?: true;
}

export interface TryContext {
  frame: Frame;
  /** The frame as the file has it. */
  original: Frame;
  size: Size;
  subject: Subject | undefined;
  /** Colours of the picture. */
  palette: readonly string[];
  /** What may be worth keeping of the picture, and is not marked. */
  suggested: readonly KeepMark[];
  /** The outline of its subject, in shares of the picture, where that was cut out. */
  outline: string | null;
  /** For each shape by name the frame that keeps most of the keep marks, where there are any. */
  ranking: ReadonlyMap<string, Frame> | null;
  /** The author's own silhouettes. */
  own: readonly { id: string; name: string; shape: ShapeChoice }[];
  freeable: boolean;
  /** Was the picture placed here? Then it stays where it is. */
  placed: boolean;
  /** What the frame stays within, where that is known. */
  room: Size | null;
  /** What pieces round the picture are made of; null where there can be none. */
  around: PieceContext | null;
}

/** How much of the picture the shape lets through, 0..1; exact while the picture covers the shape. */
export function shownShare(frame: Frame, size: Size): number {
  const { scale } = deriveView(frame.placement, frame.box, size);
  return Math.min(1, areaOf(frame) / (size.width * scale.x * size.height * scale.y));
}

/** Areas that were measured: while a picture is moved behind its shape, no shape changes. */
const areas = new LRUCache<string, number>({ max: 2000 });

function areaOf(frame: Frame): number {
  const { box, seat, shape } = frame;
  const key = JSON.stringify([shape, box.width, box.height, seat]);
  let known = areas.get(key);
  if (known === undefined) {
    // A whole percent is told: so fine need it be.
    known = area(framePath(frame), Math.max(box.width, box.height) / 400);
    areas.set(key, known);
  }
  return known;
}

/** What is cut off, in words: the keep marks that cannot stay, or else how much of the picture. */
export function cutNote(frame: Frame, size: Size): string {
  const marks = keepMarks(frame);
  const [lost, ...others] = cutMarks(frame, size, marks);
  if (lost) return `cuts ${others.length > 0 ? `${others.length + 1} keep marks` : markName(marks, lost.index)}`;
  const cut = Math.round((1 - shownShare(frame, size)) * 100);
  return cut === 0 ? 'cuts nothing' : `cuts ${cut} %`;
}
