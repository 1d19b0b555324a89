import { type Rect, type Path, transform, multiply, type Size, type Frame } from '@gable/core';
import { outlineOf, readTransform } from '@gable/core/silhouette';
import { shapeOfPath } from '../codec/named-shape';
import type { Element } from '../xml/located';
import type { Drawing } from './drawing';

/** A `clip-path` or `mask` that is one plain shape; null for none, or for one that is not. */
export function clipOf(e: Element, { ids, looks, clips }: Drawing, port: Rect): Path | null {
  const style = looks.of(e);
  const value = ['clip-path', 'mask'].map((name) => style.get(name) ?? '').find((v) => !/^(none)?$/.test(v)) ?? '';
  const clip = ids.get(/url\(\s*["']?#([^"')]+)["']?\s*\)/.exec(value)?.[1] ?? '');
  if (!clip) return null;
  const known = clips.get(clip);
  const placed = known === undefined ? plainClip(clip) : known;
  clips.set(clip, placed);
  if (!placed) return null;
  const unit = clip.attributes['clipPathUnits'] === 'objectBoundingBox';
  return unit ? transform(placed, [port.width, 0, 0, port.height, port.x, port.y]) : placed;
}

/** So many steps has a plain shape at the most; a clip of more stays as it is, like one of several shapes. */
export const MAX_STEPS = 5_000;

function plainClip(clip: Element): Path | null {
  const [shape, ...more] = clip.children.filter((c) => c.local !== 'title' && c.local !== 'desc');
  if (!shape || more.length > 0) return null;
  const outline = outlineOf(shape.local, shape.attributes);
  if (!outline || outline.length === 0 || outline.length > MAX_STEPS) return null;
  return transform(
    outline,
    multiply(readTransform(clip.attributes['transform']), readTransform(shape.attributes['transform'])),
  );
}

export function shapeFrom(path: Path, b: Rect, box: Size): Frame['shape'] {
  const unit = transform(path, [1 / b.width, 0, 0, 1 / b.height, -b.x / b.width, -b.y / b.height]);
  return shapeOfPath(unit, box, 'Shape of the file');
}
