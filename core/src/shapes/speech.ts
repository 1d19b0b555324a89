import { clamp } from '../geometry/numeric';
import { bounds } from '../geometry/measure';
import { flatten, polygon, type Path } from '../geometry/path';
import { fromPolygons, merged } from '../geometry/polygons';
import { shift, transform } from '../geometry/transform';
import { drawGeometry } from '../presets/geometry';
import { presetGeometry } from '../presets/index';
import { boxPath, ellipsePath, roundedBox } from './boxes';
import { knob, shape, type Knob, type Shape } from './shape';

/** Speech and thought: a body above, and a tail whose tip can be dragged along the lower part of the box. */

const TAIL: readonly Knob[] = [
  knob('tip', 'Place of the tip', [0, 1], 0.2, (w, h, v) => [w * v, h]),
  knob('tail', 'Length of the tail', [0.08, 0.5], 0.22, (w, h, v) => [w / 2, h * (1 - v)]),
];

/** A body of the upper part of the box with a wedge to the tip, in one outline. */
function withTail(body: (w: number, h: number) => Path): (w: number, h: number, ...values: number[]) => Path {
  return (w, h, tip, tail) => {
    const bottom = h * (1 - tail!);
    const foot = clamp(tip!, 0.2, 0.8) * w;
    const half = Math.min(w, h) * 0.12;
    // The wedge begins inside the body, so that a round body and its tail are one.
    const wedge = polygon([
      [foot - half, bottom * 0.72],
      [foot + half, bottom * 0.72],
      [tip! * w, h],
    ]);
    const tolerance = Math.max(w, h) / 3000;
    return fromPolygons(merged([...flatten(body(w, bottom), tolerance), ...flatten(wedge)]));
  };
}

const round = (w: number, h: number): Path => roundedBox(w, h, Math.min(w, h) * 0.32);
/** The cloud of the standard, stretched so that it touches the box. */
const cloudBody = (w: number, h: number): Path => {
  const raw = drawGeometry(presetGeometry('cloud')!, 100, 100)[0]!.path;
  const b = bounds(raw);
  return transform(shift(raw, -b.x, -b.y), [w / b.width, 0, 0, h / b.height, 0, 0]);
};
const jagged = (w: number, h: number): Path => {
  const n = 14;
  return polygon(
    Array.from({ length: 2 * n }, (_, i) => {
      const a = (Math.PI * i) / n - Math.PI / 2;
      const r = i % 2 === 0 ? 1 : 0.76;
      return [w / 2 + (w / 2) * r * Math.cos(a), h / 2 + (h / 2) * r * Math.sin(a)] as const;
    }),
  );
};

/** A cloud with three bubbles that grow smaller towards the tip. */
function thought(w: number, h: number, tip: number, tail: number): Path {
  const bottom = h * (1 - tail);
  const bubbles: Path = [0, 1, 2].flatMap((i) => {
    const r = Math.min(h * tail, w * 0.3) * [0.2, 0.13, 0.08][i]!;
    const k = [0.24, 0.62, 0.92][i]!;
    const x = clamp(w * (0.4 + (tip - 0.4) * k), r, w - r);
    const y = Math.min(h - r, bottom + h * tail * k);
    return shift(ellipsePath(2 * r, 2 * r), x - r, y - r);
  });
  return fromPolygons(merged([...flatten(cloudBody(w, bottom), Math.max(w, h) / 3000), ...flatten(bubbles)]));
}

export const SPEECH: readonly Shape[] = [
  shape('speech', 'speech-box', 'Speech box', TAIL, withTail(boxPath)),
  shape('speech', 'speech-round', 'Speech, rounded', TAIL, withTail(round)),
  shape('speech', 'speech-oval', 'Speech, oval', TAIL, withTail(ellipsePath)),
  shape('speech', 'speech-cloud', 'Speech, cloud', TAIL, withTail(cloudBody)),
  shape('speech', 'speech-loud', 'Speech, loud', TAIL, withTail(jagged)),
  shape('speech', 'thought', 'Thought', TAIL, (w, h, tip, tail) => thought(w, h, tip!, tail!)),
];
