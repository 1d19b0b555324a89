import { defaultKnobs, seatRect, shapeOf, type Frame, type Knob, type Point } from '@gable/core';

export interface KnobHandle {
  knob: Knob;
  value: number;
  /** Where it lies in the box, points. */
  at: Point;
}

/** The handles of the shape's knobs, where they lie on the shape. */
export function knobHandles(frame: Frame): KnobHandle[] {
  const shape = shapeOf(frame.shape);
  if (!shape) return [];
  const r = seatRect(frame.box, frame.seat, shape.locked);
  const knobs = { ...defaultKnobs(shape), ...frame.shape.knobs };
  return shape.knobs.flatMap((knob) => {
    const value = knobs[knob.name]!;
    const p = knob.handle?.(r.width, r.height, value);
    return p ? [{ knob, value, at: { x: p.x + r.x, y: p.y + r.y } }] : [];
  });
}

/** How finely the way of a handle is searched. */
const STEPS = 80;

/** The value at which a knob's handle comes nearest to a point of the box. */
export function valueNear(frame: Frame, knob: Knob, to: Point): number {
  const shape = shapeOf(frame.shape);
  if (!shape || !knob.handle) return knob.default;
  const r = seatRect(frame.box, frame.seat, shape.locked);
  const gap = (value: number): number => {
    const p = knob.handle!(r.width, r.height, value);
    return Math.hypot(p.x + r.x - to.x, p.y + r.y - to.y);
  };
  if (knob.whole) {
    let best = knob.min;
    for (let v = knob.min; v <= knob.max; v++) if (gap(v) < gap(best)) best = v;
    return best;
  }
  const step = (knob.max - knob.min) / STEPS;
  let best = knob.min;
  for (let i = 0; i <= STEPS; i++) if (gap(knob.min + i * step) < gap(best)) best = knob.min + i * step;
  // Halving the steps round the best one.
  for (let s = step / 2; s > (knob.max - knob.min) / 1e5; s /= 2)
    for (const v of [best - s, best + s]) if (v >= knob.min && v <= knob.max && gap(v) < gap(best)) best = v;
  return best;
}
