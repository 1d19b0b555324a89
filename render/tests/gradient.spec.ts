import { paintFrame, type Paint } from '@gable/core';
import { createCanvas } from '@napi-rs/canvas';
import { frameOf } from '../../core/tests/frames';
import { surfaceOf } from '../src/index';

const paint: Paint = {
  kind: 'rectangular',
  stops: [
    { at: 0, colour: '#000000', opacity: 1 },
    { at: 1, colour: '#ffffff', opacity: 1 },
  ],
};

/** Grey of the fill of a box of 200 × 100 at a point. */
function greyAt(points: readonly (readonly [x: number, y: number])[], of: Paint = paint): number[] {
  const canvas = createCanvas(200, 100);
  paintFrame(surfaceOf(canvas), frameOf(200, 100, { backing: of }), null, { x: 0, y: 0, scale: 1 });
  return points.map(([x, y]) => canvas.getContext('2d').getImageData(x, y, 1, 1).data[0]!);
}

test('a gradient to four sides is as light as the way to the side that is nearest (ISO/IEC 29500-1 §20.1.10.40, rect)', () => {
  const at = [
    [100, 50],
    [150, 50],
    [100, 75],
    [50, 50],
    [100, 25],
    [150, 60],
    [120, 75],
    [199, 99],
    [1, 1],
  ] as const;
  const share = ([x, y]: readonly [number, number]): number =>
    Math.max(Math.abs(x + 0.5 - 100) / 100, Math.abs(y + 0.5 - 50) / 50);
  greyAt(at).forEach((grey, i) => expect(Math.abs(grey - 255 * share(at[i]!))).toBeLessThan(3));
});

test('what is half clear stays half clear where the two parts meet', () => {
  const half: Paint = { ...paint, stops: paint.stops.map((s) => ({ ...s, colour: '#ffffff', opacity: 0.5 })) };
  const canvas = createCanvas(200, 100);
  paintFrame(surfaceOf(canvas), frameOf(200, 100, { backing: half }), null, { x: 0, y: 0, scale: 1 });
  const { data } = canvas.getContext('2d').getImageData(0, 0, 200, 100);
  const alphas = Array.from({ length: 180 }, (_, i) => data[(Math.floor((i + 10) / 2) * 200 + i + 10) * 4 + 3]!);
  for (const alpha of alphas) expect(Math.abs(alpha - 128)).toBeLessThan(3);
});
