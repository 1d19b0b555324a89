import { LRUCache } from 'lru-cache';
import { bounds } from '../geometry/measure';
import { offsetPath, type Join } from '../geometry/offset';
import type { Path, Rect } from '../geometry/path';
import { coveredBy } from '../geometry/polygons';
import type { Frame, Outline } from '../model/frame';
import { overstepPath, type Overstepping } from '../placement/overstep';
import { framePath } from '../shapes/index';
import { outlineBands, outlineReach } from './bands';
import { evenDashes, type DashedPath } from './dash';

/**
 * One line of an outline as it is drawn. `plain` lines are stroked on their own path. A line that touches the edge from
 * one side is stroked on the edge itself at twice its width and cut there (`inside`, `outside`), so that it shares the
 * very edge with the picture and no hairline or seam shows at any zoom.
 */
export interface Stroke {
  parts: readonly DashedPath[];
  width: number;
  cut: 'plain' | 'inside' | 'outside';
}

/** Between outlines and the polygons that are added up in their stead, in points. */
const TOLERANCE = 0.02;

type Shaped = Pick<Frame, 'box' | 'seat' | 'shape'>;

/** The lines of a frame's outline, the outermost first. */
export function outlineStrokes(frame: Shaped & { outline: Outline | null }): Stroke[] {
  const { outline } = frame;
  if (!outline) return [];
  return remembered('strokes', [frame.shape, frame.box.width, frame.box.height, frame.seat, outline], () => {
    const edge = framePath(frame);
    return outlineBands(outline).map(({ from, to }): Stroke => {
      const width = to - from;
      const round = outline.dash !== 'solid' && outline.cap !== 'butt';
      const dashes = (path: Path): DashedPath[] => evenDashes(path, outline.dash, outline.weight);
      if (from === 0 && !round) return { parts: dashes(edge), width: width * 2, cut: 'outside' };
      if (to === 0 && !round) return { parts: dashes(edge), width: width * 2, cut: 'inside' };
      return { parts: dashes(offsetPath(edge, (from + to) / 2, outline.join)), width, cut: 'plain' };
    });
  });
}

/**
 * What casts an outer shadow: the shape out to the outer edge of its outline, and a subject that reaches over it, grown or
 * shrunk by the shadow's spread.
 */
export function casterPath(frame: Overstepping & Pick<Frame, 'outline' | 'shadow'>): Path {
  const over = overstepPath(frame);
  if (over) {
    const edge = casterPath({ ...frame, overstep: undefined, shadow: null });
    return offsetPath(coveredBy([edge, over], TOLERANCE), frame.shadow?.spread ?? 0, 'round');
  }
  const reach = outlineReach(frame.outline) + (frame.shadow?.spread ?? 0);
  const join: Join = frame.outline && (frame.shadow?.spread ?? 0) === 0 ? frame.outline.join : 'round';
  return remembered('caster', [frame.shape, frame.box.width, frame.box.height, frame.seat, reach, join], () =>
    offsetPath(framePath(frame), reach, join),
  );
}

/** The rectangle round shape and outline in the box's own space, mitred corners included. Points. */
export function edgeBounds(frame: Shaped & { outline: Outline | null }): Rect {
  const reach = outlineReach(frame.outline);
  const join = frame.outline?.join ?? 'mitre';
  return remembered('bounds', [frame.shape, frame.box.width, frame.box.height, frame.seat, reach, join], () =>
    bounds(offsetPath(framePath(frame), reach, join)),
  );
}

/** Offsets that were worked out: while a picture is moved in its shape, its edge stays the same. */
const memory = new LRUCache<string, NonNullable<unknown>>({ max: 400 });

function remembered<T extends NonNullable<unknown>>(what: string, key: readonly unknown[], work: () => T): T {
  const text = what + JSON.stringify(key);
  const known = memory.get(text) as T | undefined;
  if (known !== undefined) return known;
  const value = work();
  memory.set(text, value);
  return value;
}
