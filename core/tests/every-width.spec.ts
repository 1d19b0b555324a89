/**
 * Pictures in boxes whose ratio hangs on the window. `object-position` and `transform` by CSS Images 3 §5.5 and CSS Transforms 1 §7,
 * reckoned here by themselves; positions against all of a fine grid (brute force); the fewest breakpoints against dynamic programming.
 */
import {
  aimLying,
  atEveryWidth,
  CENTRED,
  deriveView,
  frameToCss,
  leastShown,
  lyingOf,
  movedAt,
  partedAt,
  rangesOf,
  withRanges,
  type BoxInWindow,
  type Frame,
  type Region,
  type Size,
} from '../src/index';
import { frameOf } from './frames';

/** The same numbers each time (a linear congruential generator, common practice). */
function randoms(seed: number): () => number {
  let s = seed;
  return () => (s = (s * 1_664_525 + 1_013_904_223) % 2 ** 32) / 2 ** 32;
}

const framed = (placement: Partial<Frame['placement']>, box: Size, shape = 'rectangle'): Frame =>
  frameOf(box.width, box.height, { shape: { name: shape, knobs: {} }, placement: { ...CENTRED, ...placement } });

const DECLARED = { img: '<img>', attributes: '', declared: { ratio: null } };

/** Where points of a picture come to lie in a box, by the declarations of an image that fills it. */
function laid(css: string, box: Size, picture: Size, u: number, v: number): [number, number] {
  const value = (name: string): string => new RegExp(`[^-]${name}: ([^;!]*)`).exec(css)?.[1]?.trim() ?? '';
  const shares = (name: string): number[] =>
    (value(name) || '50% 50%').split(' ').map((part) => Number(part.replace('%', '')) / 100);
  const k = Math.max(box.width / picture.width, box.height / picture.height);
  const [px, py] = shares('object-position') as [number, number];
  const [ox, oy] = shares('transform-origin') as [number, number];
  const transform = value('transform');
  const zoom = Number(/scale\(([\d.]+)\)/.exec(transform)?.[1] ?? 1);
  const mirror = transform.includes('scaleX(-1)') ? -1 : 1;
  const at = (p: number, o: number, side: number, length: number, share: number, s: number): number => {
    const plain = p * (side - length * k) + share * length * k;
    return o * side + s * (plain - o * side);
  };
  return [at(px, ox, box.width, picture.width, u, zoom * mirror), at(py, oy, box.height, picture.height, v, zoom)];
}

test('what a page says of a picture that covers a box of its own ratio puts it where it lies, closer and mirrored, too', () => {
  const random = randoms(1);
  for (let i = 0; i < 200; i++) {
    const picture = { width: 200 + 1800 * random(), height: 200 + 1800 * random() };
    const box = { width: 60 + 500 * random(), height: 60 + 500 * random() };
    const aim = { u: random(), v: random() };
    const f = framed({ aim, zoom: random() < 0.3 ? 1 : 1 + 2 * random(), mirror: random() < 0.5 }, box);
    const css = frameToCss(f, { src: 'a.png', size: picture }, 'f', DECLARED).css;
    const { corners } = deriveView(f.placement, f.box, picture);
    for (const [k, [x, y]] of [
      [0, 0],
      [box.width, 0],
      [box.width, box.height],
      [0, box.height],
    ].entries()) {
      const [left, top] = laid(css, box, picture, corners[k]!.x, corners[k]!.y);
      expect(Math.abs(left - x!)).toBeLessThan(0.05);
      expect(Math.abs(top - y!)).toBeLessThan(0.05);
    }
  }
});

test('a lie and its aim are each other’s way back, where something is hidden', () => {
  const random = randoms(2);
  for (let i = 0; i < 200; i++) {
    const picture = { width: 200 + 1800 * random(), height: 200 + 1800 * random() };
    const box = { width: 60 + 500 * random(), height: 60 + 500 * random() };
    const placement = { ...CENTRED, zoom: 1.05 + random(), mirror: random() < 0.5 };
    const at = { x: random(), y: random() };
    const back = lyingOf({ ...placement, aim: aimLying(at, placement, box, picture) }, box, picture);
    expect(back.x).toBeCloseTo(at.x, 9);
    expect(back.y).toBeCloseTo(at.y, 9);
  }
});

/** Windows of a page in steps of 16 px: a box as wide as the window, but for a margin, and of a height by a rule. */
const windows = (height: (window: number) => number, most = Infinity): BoxInWindow[] =>
  Array.from({ length: 141 }, (_, i) => {
    const window = 320 + 16 * i;
    return { window, width: Math.min(most, window - 32), height: height(window) };
  });

const HEIGHTS: Record<string, (window: number) => number> = {
  'of 480 px': () => 480,
  'by the window': (w) => Math.min(600, Math.max(200, 0.4 * w)),
  'by conditions': (w) => (w < 700 ? 520 : w < 1400 ? 300 : 260),
};

/** What shows of a region, by the edges of a box, where nothing but them cuts. */
const shows = ({ width, height }: Size, [px, py]: [number, number], picture: Size, r: Region): boolean => {
  const k = Math.max(width / picture.width, height / picture.height);
  const along = (p: number, side: number, length: number, low: number, size: number): boolean => {
    const at = p * (side - length * k);
    return at + low * length * k >= -1e-6 && at + (low + size) * length * k <= side + 1e-6;
  };
  return along(px, width, picture.width, r.u, r.width) && along(py, height, picture.height, r.v, r.height);
};

/** Of a grid of positions the fewest that serve all windows in which any does, each in its stretch of them. */
function fewest(feasible: readonly boolean[][]): number {
  const n = feasible.length;
  const best = new Array<number>(n + 1).fill(Infinity);
  best[0] = 0;
  for (let from = 0; from < n; from++) {
    let holds = feasible[from]!.map(() => true);
    for (let to = from; to < n; to++) {
      holds = holds.map((h, i) => h && feasible[to]![i]!);
      if (!holds.includes(true)) break;
      best[to + 1] = Math.min(best[to + 1]!, best[from]! + 1);
    }
  }
  return best[n]!;
}

const GRID = Array.from({ length: 201 }, (_, i) => i / 200);

test.each(Object.keys(HEIGHTS))(
  'in a rectangle with a height %s a region stays in view wherever it can, by as few positions as can be',
  (rule) => {
    const random = randoms(3);
    for (let i = 0; i < 20; i++) {
      const picture = { width: 900 + 900 * random(), height: 700 + 900 * random() };
      const size = { width: 0.1 + 0.3 * random(), height: 0.1 + 0.3 * random() };
      const region = { u: random() * (1 - size.width), v: random() * (1 - size.height), ...size };
      const boxes = windows(HEIGHTS[rule]!);
      const seen = boxes[54]!;
      const f = framed({ aim: { u: random(), v: random() } }, { width: seen.width * 0.75, height: seen.height * 0.75 });
      const told = atEveryWidth(f, { picture, regions: [region], boxes, seen: seen.window })!;
      const { at } = told.frame.positions!;
      const isCut = (w: number): boolean => told.cut.some(({ from, to }) => w >= from && w <= to);
      // Along each axis by itself: a box that is covered hides parts on one of them only.
      const feasible = boxes.map((b) => GRID.map((p) => shows(b, [p, p], picture, region)));
      for (const [k, box] of boxes.entries()) {
        const { x, y } = at.find(({ upTo }) => upTo === null || box.window <= upTo)!;
        if (feasible[k]!.includes(true)) expect(isCut(box.window)).toBe(false);
        if (!isCut(box.window)) expect(shows(box, [x, y], picture, region)).toBe(true);
      }
      if (told.cut.length === 0 && feasible.every((f) => f.includes(true))) {
        // The grid knows one position for both axes; two can only need fewer.
        expect(at.length).toBeLessThanOrEqual(fewest(feasible));
      }
      // In the window that is seen it lies as the positions say.
      const lying = lyingOf(told.frame.placement, f.box, picture);
      expect(shows(seen, [lying.x, lying.y], picture, region) || isCut(seen.window)).toBe(true);
      expect(told.frame.positions!.lies).toEqual(told.frame.placement);
    }
  },
);

test('the fewest breakpoints: a subject at one end of a tall picture and at the other of a wide one needs none', () => {
  const picture = { width: 1200, height: 800 };
  const region = { u: 0.05, v: 0.7, width: 0.15, height: 0.15 };
  const boxes = windows(() => 300);
  const f = framed({}, { width: 859.5, height: 225 });
  const told = atEveryWidth(f, { picture, regions: [region], boxes, seen: 1178 })!;
  expect(told.cut).toEqual([]);
  expect(told.frame.positions!.at).toHaveLength(1);
});

test('where two regions are too far apart for a narrow window it is said, and as much of them shows as can', () => {
  const picture = { width: 1600, height: 800 };
  const regions = [
    { u: 0.05, v: 0.4, width: 0.1, height: 0.2 },
    { u: 0.85, v: 0.4, width: 0.1, height: 0.2 },
  ];
  const f = framed({}, { width: 859.5, height: 360 });
  const told = atEveryWidth(f, { picture, regions, boxes: windows(() => 480), seen: 1178 })!;
  // All from 0.05 to 0.95 of 960 px across at 480 px of height (by hand): boxes of 864 px and more, windows of 896 and more.
  expect(told.cut).toEqual([{ from: 320, to: 880 }]);
  for (const b of windows(() => 480).filter((w) => w.window >= 896)) {
    const { x, y } = told.frame.positions!.at.find(({ upTo }) => upTo === null || b.window <= upTo)!;
    for (const r of regions) expect(shows(b, [x, y], picture, r)).toBe(true);
  }
});

test.each(['ellipse', 'heart', 'hexagon'])(
  'in a shape that is a %s, wherever a position of a grid shows all, its own does',
  (shape) => {
    const random = randoms(4);
    for (let i = 0; i < 2; i++) {
      const picture = { width: 900 + 900 * random(), height: 700 + 900 * random() };
      const region = { u: 0.1 + 0.6 * random(), v: 0.2 + 0.4 * random(), width: 0.12, height: 0.16 };
      const boxes = windows(HEIGHTS['by the window']!).filter((_, k) => k % 14 === 0);
      const f = framed({ zoom: i % 2 === 0 ? 1 : 1.3 }, { width: 859.5, height: 354 }, shape);
      const told = atEveryWidth(f, { picture, regions: [region], boxes, seen: 1178 })!;
      for (const box of boxes) {
        const { x, y } = told.frame.positions!.at.find(({ upTo }) => upTo === null || box.window <= upTo)!;
        const shown = leastShown(f, picture, [region])(box, { x, y });
        const isCut = told.cut.some(({ from, to }) => box.window >= from && box.window <= to);
        const shares = leastShown(f, picture, [region]);
        let best = 0;
        for (let px = 0; px <= 1; px += 0.05)
          for (let py = 0; py <= 1; py += 0.05) best = Math.max(best, shares(box, { x: px, y: py }));
        if (best >= 0.995) expect(isCut).toBe(false);
        if (!isCut) expect(shown).toBeGreaterThan(0.985);
      }
    }
  },
);

test('it stays where it is as long as that holds, and is left alone where it cannot have positions', () => {
  const picture = { width: 1200, height: 800 };
  const region = { u: 0.4, v: 0.4, width: 0.1, height: 0.1 };
  const f = framed({ aim: { u: 0.45, v: 0.46 } }, { width: 859.5, height: 225 });
  const boxes = windows(() => 300);
  const told = atEveryWidth(f, { picture, regions: [region], boxes, seen: 1178 })!;
  expect(told.frame.positions!.at).toHaveLength(1);
  expect(told.frame.placement.aim.v).toBeCloseTo(0.46, 6);
  for (const other of [{ turn: 5 }, { fit: 'contain' as const }, { fit: 'tile' as const }])
    expect(atEveryWidth(framed(other, f.box), { picture, regions: [region], boxes, seen: 1178 })).toBeNull();
  expect(atEveryWidth(f, { picture, regions: [], boxes, seen: 1178 })).toBeNull();
});

test('one position is moved, or a narrow window gets its own, and all others stay', () => {
  const picture = { width: 1600, height: 900 };
  const f = framed({ aim: { u: 0.5, v: 0.9 } }, { width: 859.5, height: 225 });
  const [one] = rangesOf(f, picture);
  expect(one).toMatchObject({ upTo: null, x: 0.5 });
  const parted = partedAt(rangesOf(f, picture), 500);
  expect(parted).toEqual([{ ...one, upTo: 500 }, one]);
  expect(partedAt(parted, 500)).toEqual(parted);
  const moved = movedAt(parted, 390, { x: 0.1 });
  expect(moved).toEqual([{ ...one, upTo: 500, x: 0.1 }, one]);
  const next = withRanges(f, moved, picture, 1180);
  // In the window that its own box is of it lies as before.
  expect(next.placement.aim.v).toBeCloseTo(deriveView(f.placement, f.box, picture).placement.aim.v, 9);
  expect(rangesOf(next, picture)).toEqual(moved);
  const wide = withRanges(f, movedAt(moved, 1180, { y: 0 }), picture, 1180);
  expect(deriveView(wide.placement, f.box, picture).corners[0].y).toBeCloseTo(0, 9);
});

test('the rules for narrower windows stand behind the others, the narrowest last; moved by hand they no longer count', () => {
  const picture = { width: 1600, height: 900 };
  const f = framed({ aim: { u: 0.9, v: 0.9 } }, { width: 859.5, height: 225 });
  const placement = deriveView(f.placement, f.box, picture).placement;
  const positions = {
    lies: placement,
    at: [
      { upTo: 500, x: 0.1, y: 0.2 },
      { upTo: 900, x: 0.3, y: 0.4 },
      { upTo: null, x: 0.5, y: 0.6 },
    ],
  };
  const css = (next: Frame): string => frameToCss(next, { src: 'a.png', size: picture }, 'f', DECLARED).css;
  const out = css({ ...f, placement, positions });
  expect(out).toMatch(
    /object-position: 50% 60% !important[\s\S]*\(max-width: 900\.98px\)[\s\S]*30% 40% !important[\s\S]*\(max-width: 500\.98px\)[\s\S]*10% 20% !important/,
  );
  expect(css({ ...f, placement: { ...placement, aim: { u: 0.5, v: 0.5 } }, positions })).not.toContain('@media');
});
