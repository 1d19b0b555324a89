import { cut } from '../cut';
import { GableError } from '../errors';
import { bounds } from '../geometry/measure';
import type { Path, Rect } from '../geometry/path';
import { toSvgPath } from '../geometry/svg-path';
import { transform } from '../geometry/transform';
import type { ShapeChoice } from '../model/frame';

/** A shape made from the author's own drawing. */
export interface Silhouette {
  choice: ShapeChoice;
  /** Of the outline, in the pixels or units of what it was made from. */
  box: Rect;
  /** Where the drawing is soft at its edge: coverage 0..255 in rows. Null for a drawing of outlines. */
  mask: { width: number; height: number; data: Uint8Array } | null;
  /** Is there text in the drawing? It is no part of the shape: outlines of letters are, once the drawing has them as paths. */
  textLeftOut: boolean;
}

/** An outline as the choice of a shape: moved and scaled into a box of 1 × 1, its ratio kept as the one it insists on. */
export const choiceOf = (path: Path, name: string, label: string): ShapeChoice =>
  inUnitBox(path, bounds(path), { name, label });

/** An outline as the choice of a shape whose box is another than that of its ink. */
export function inUnitBox(path: Path, b: Rect, { name, label }: { name: string; label: string }): ShapeChoice {
  const unit = transform(path, [1 / b.width, 0, 0, 1 / b.height, -b.x / b.width, -b.y / b.height]);
  return { name, knobs: {}, drawn: { path: toSvgPath(unit, 6), ratio: b.width / b.height, label: cut(label, 80) } };
}

/** Refuses a drawing of which nothing would be seen. @throws GableError `empty-silhouette` */
export function refuseSpecks(area: number, box: number, what: string): void {
  if (box > 0 && area / box >= 0.005) return;
  throw new GableError(
    'empty-silhouette',
    area > 0 ? `The ${what} holds only specks.` : `There is nothing in the ${what} to make a shape of.`,
    'Choose one with a filled form on a clear or white ground.',
  );
}
