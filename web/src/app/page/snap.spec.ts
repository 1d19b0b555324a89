/** Where boxes come to rest on a page: by hand. */
import { restingPull } from './resting-pull';
import { snapBox, type Rests } from './snap';

const page = { x: 0, y: 0, width: 600, height: 400 };
const rests = (others: Rests['others'] = []): Rests => ({
  areas: [
    { box: page, edge: 'Edge of the page', middle: 'Middle of the page' },
    { box: { x: 50, y: 40, width: 500, height: 320 }, edge: 'Margin', middle: 'Middle of the column' },
  ],
  others,
});
const at = (
  x: number,
  y: number,
  width = 100,
  height = 60,
): { x: number; y: number; width: number; height: number } => ({
  ...{ x, y, width, height },
});

test('edges rest on edges and margins, middles on middles, each with its reason', () => {
  expect(snapBox(at(47, 100), rests(), 5)).toEqual({
    by: { x: 3, y: 0 },
    guides: [{ axis: 'x', at: 50, from: 40, to: 360, words: 'Margin' }],
  });
  const both = snapBox(at(252, 168), rests(), 5);
  expect(both.by).toEqual({ x: -2, y: 2 });
  expect(both.guides.map((g) => g.words)).toEqual(['Middle of the page', 'Middle of the page']);
  // Its right edge on the right margin.
  expect(snapBox(at(446, 100), rests(), 5).by.x).toBe(4);
  expect(snapBox(at(120, 100), rests(), 5)).toEqual({ by: { x: 0, y: 0 }, guides: [] });
});

test('what is tied to words on a page stays on it, and says so', () => {
  const within = { box: page, words: 'Stays on the page of its words' };
  expect(snapBox(at(300, 390), { ...rests(), within }, 5)).toEqual({
    by: { x: 0, y: -50 },
    guides: [{ axis: 'y', at: 400, from: 0, to: 600, words: within.words }],
  });
  expect(snapBox(at(300, -20), { ...rests(), within }, 5).by.y).toBe(20);
  // One that is higher than the page begins where that does.
  expect(snapBox(at(300, 0, 100, 500), { ...rests(), within }, 5).by.y).toBe(0);
});

test('the nearest counts', () => {
  const near = rests([{ box: at(52, 300), name: 'picture 2' }]);
  expect(snapBox(at(53, 100), near, 5).guides[0]!.words).toBe('In line with picture 2');
  expect(snapBox(at(50.4, 100), near, 5).guides[0]!.words).toBe('Margin');
});

test('gaps are as wide as each other: beyond two neighbours, before them, and between', () => {
  const row = rests([
    { box: at(70, 100), name: 'picture 2' },
    { box: at(200, 100), name: 'picture 3' },
  ]);
  // Thirty between them: the third begins thirty behind the second.
  const third = snapBox(at(328, 120), row, 4);
  expect(third.by.x).toBe(2);
  expect(third.guides).toContainEqual({ axis: 'x', at: 150, from: 300, to: 330, words: 'Equal gaps', gap: true });
  expect(third.guides).toContainEqual({ axis: 'x', at: 150, from: 170, to: 200, words: 'Equal gaps', gap: true });
  const wide = rests([
    { box: at(60, 100), name: 'picture 2' },
    { box: at(400, 100), name: 'picture 3' },
  ]);
  // 240 between them leave 70 on either side of 100.
  expect(snapBox(at(233, 90), wide, 4).by.x).toBe(-3);
  // What stands above or below is no neighbour.
  expect(snapBox(at(233, 300), wide, 4).guides.map((g) => g.axis)).not.toContain('x');
});

describe('a side or a corner that is pulled', () => {
  const box = at(100, 100);
  /** A corner pulls the box; with a ratio its height follows its width. */
  const pulling = (ratio: number | null) => (by: { x: number; y: number }) => {
    const width = 100 + (ratio === null ? by.x : (by.x + by.y * ratio) / 2);
    return { width, height: ratio === null ? 60 + by.y : width / ratio };
  };
  const boxOf = ({ width, height }: { width: number; height: number }): typeof box => ({ ...box, width, height });
  const others = rests([{ box: at(320, 210, 80, 80), name: 'picture 2' }]);

  test('rests in line with what lies there, each side by itself', () => {
    const pulled = restingPull({
      ...{ at: pulling(null), boxOf, handle: { x: 1, y: 1 } as const, rests: others, scale: 1 },
      by: { x: 117, y: 47 },
    });
    expect(boxOf(pulled.pull)).toEqual({ ...box, width: 220, height: 110 });
    expect(pulled.guides.map((g) => g.words)).toEqual(['In line with picture 2', 'In line with picture 2']);
  });

  test('keeps its ratio: one side rests, and the other goes where that brings it', () => {
    const by = { x: 118, y: 59 };
    const { pull, guides } = restingPull({
      ...{ at: pulling(2), boxOf, handle: { x: 1, y: 1 } as const, rests: others, scale: 1, by },
    });
    expect(pull.width).toBeCloseTo(220, 0);
    expect(pull.height).toBeCloseTo(110, 0);
    expect(guides.length).toBeGreaterThan(0);
  });

  test('goes on where nothing is near, and where it is let go', () => {
    const by = { x: 80, y: 3 };
    const free = restingPull({ at: pulling(null), boxOf, handle: { x: 1, y: 0 }, rests: others, scale: 1, by });
    expect(free).toEqual({ pull: { width: 180, height: 63 }, guides: [] });
    expect(restingPull({ at: pulling(null), boxOf, handle: { x: 1, y: 1 }, rests: null, scale: 1, by })).toEqual(free);
  });
});
