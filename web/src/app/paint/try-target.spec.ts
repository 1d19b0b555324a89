import { paintedBounds, type Frame } from '@gable/core';
import { frameOf } from '../../testing/works';
import { targetOf } from './try-target';

const shaded: Frame = frameOf(1, {
  box: { x: 0, y: 0, width: 100, height: 60 },
  shadow: { kind: 'outer', dx: 4, dy: 6, blur: 10, spread: 0, colour: '#000000', opacity: 0.5 },
});
const cell = { x: 0, margin: 0, cut: false };

describe('a frame in a rectangle', () => {
  test('as a whole it keeps the size that its painted bounds were given, shadow and all', () => {
    const b = paintedBounds(shaded);
    const [width, height] = [b.width * 3, b.height * 3];
    const target = targetOf({ ...cell, frame: shaded, width, height, whole: true });
    expect(target.scale).toBeCloseTo(3, 9);
    expect([target.x, target.y]).toEqual([expect.closeTo(-3 * b.x, 9), expect.closeTo(-3 * b.y, 9)]);
  });

  test('as a try it leaves a tenth round it for what it casts', () => {
    const target = targetOf({ ...cell, x: 500, frame: shaded, width: 200, height: 120, whole: false });
    expect(target.scale).toBeCloseTo((120 - 24) / 60, 9);
    expect(target.x).toBeCloseTo(500 + (200 - 100 * target.scale) / 2, 9);
    const bare = targetOf({ ...cell, frame: { ...shaded, shadow: null }, width: 200, height: 120, whole: false });
    expect(bare.scale).toBeCloseTo(2, 9);
  });
});
