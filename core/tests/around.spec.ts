/**
 * What stands round pictures: ties by hand and as invariants under random moves, sizes and shapes; the smallest circle against brute force and
 * Thales (Euclid III.31); contrasts by WCAG 2.2 (#767676 on white is 4.54 : 1).
 */
import fc from 'fast-check';
import {
  addedId,
  applyAll,
  applyTo,
  changesFrom,
  contrastOn,
  distanceOf,
  documentOfPictures,
  drawnBox,
  enclosingCircle,
  equal,
  flatten,
  frameMatrix,
  framePath,
  FULL_SEAT,
  isPictureItem,
  isStructural,
  leastVeil,
  legibleInk,
  luminances,
  PIECES,
  puttingPiece,
  resolveTies,
  tieAsItStands,
  withChanges,
  type Box,
  type Document,
  type FramedItem,
  type PictureItem,
  type Point,
  type Tie,
  WAITING,
  softened,
  solidOutline,
  type Ground,
} from '../src/index';
import { frameOf } from './frames';

const picture = (n: number, box: Box): Parameters<typeof documentOfPictures>[0][number] => ({
  ...{ n, where: { part: 'a', place: 'slide', page: 1 }, size: { width: 300, height: 200 } },
  frame: { ...frameOf(10, 10), n, flow: 'floating', box },
});
const page = { width: 720, height: 540, background: '#ffffff' };
const AT: Box = { x: 100, y: 60, width: 120, height: 90 };
const file = (): Document =>
  documentOfPictures([picture(1, AT), picture(2, { x: 400, y: 60, width: 80, height: 80 })], {
    sheets: [{ ...page, items: [{ picture: 1 }, { picture: 2 }] }],
  });

const block = (id: string, tie: Tie, more: Partial<FramedItem> = {}): FramedItem => ({
  ...{ kind: 'framed', id: addedId(id), at: { on: 'page', box: { x: 0, y: 0, width: 60, height: 20 } }, turn: 0 },
  ...{ flip: { horizontal: false, vertical: false }, opacity: 1, alt: '', shape: { name: 'rectangle', knobs: {} } },
  ...{ seat: FULL_SEAT, outline: null, shadow: null, fill: null, text: null, tie },
  ...more,
});
const added = (document: Document, ...items: FramedItem[]): Document =>
  applyAll(
    document,
    items.map((item, i) => ({ op: 'add' as const, item, slot: { in: { page: 'page1' }, index: 2 + i } })),
  ).document;
const boxOf = (document: Document, id: string): Box => resolveTies(document).items[addedId(id)]!.at.box;

describe('a tie', () => {
  test.each<[string, Omit<Tie, 'to'>, Box]>([
    ['behind', { as: 'behind', gap: 6 }, { x: 94, y: 54, width: 132, height: 102 }],
    ['a band from the top', { as: 'behind', side: 'top', gap: 10 }, { x: 0, y: 0, width: 720, height: 160 }],
    ['a band from the right', { as: 'behind', side: 'right', gap: 10 }, { x: 90, y: 0, width: 630, height: 540 }],
    ['around', { as: 'around', gap: 4 }, { x: 96, y: 56, width: 128, height: 98 }],
    [
      'below, in the middle',
      { as: 'beside', side: 'bottom', gap: 5, align: 'centre' },
      { x: 130, y: 155, width: 60, height: 20 },
    ],
    [
      'below, as wide as it',
      { as: 'beside', side: 'bottom', gap: 5, share: 1 },
      { x: 100, y: 155, width: 120, height: 20 },
    ],
    [
      'to its right, at the top',
      { as: 'beside', side: 'right', gap: 8, align: 'start' },
      { x: 228, y: 60, width: 60, height: 20 },
    ],
    [
      'to its left, moved by hand',
      { as: 'beside', side: 'left', gap: 8, along: 3 },
      { x: 32, y: 98, width: 60, height: 20 },
    ],
    ['over its foot', { as: 'over', side: 'bottom', gap: 10, share: 0.5 }, { x: 130, y: 120, width: 60, height: 20 }],
    // The circle round 120 × 90 has a radius of 75, about (160, 105); a fifth of that is an em.
    ['along', { as: 'along', gap: 5, share: 0.1 }, { x: 64, y: 9, width: 192, height: 192 }],
    ['over its middle', { as: 'over', gap: 0, share: 1 }, { x: 100, y: 95, width: 120, height: 20 }],
  ])('%s, by hand', (_, tie, box) => {
    expect(boxOf(added(file(), block('a', { to: 'p1', ...tie })), 'a')).toEqual(box);
  });

  test('counts from what is drawn: the outline, and what is turned', () => {
    const outlined = applyAll(file(), [
      {
        ...{ op: 'set', id: 'p1', path: 'outline' },
        value: {
          paint: { kind: 'solid', colour: '#ffffff', opacity: 1 },
          weight: 8,
          side: 'outside',
          dash: 'solid',
          join: 'round',
          cap: 'butt',
        },
      },
    ]).document;
    expect(boxOf(added(outlined, block('a', { to: 'p1', as: 'beside', side: 'bottom', gap: 5 })), 'a').y).toBeCloseTo(
      163,
      9,
    );
    const turned = applyAll(file(), [{ op: 'set', id: 'p1', path: 'turn', value: 90 }]).document;
    // 120 × 90 about its middle (160, 105) is 90 × 120.
    expect(boxOf(added(turned, block('a', { to: 'p1', as: 'behind', gap: 0 })), 'a')).toMatchObject({
      width: expect.closeTo(90, 6),
      y: expect.closeTo(45, 6),
    });
  });

  test('stands off a ring round the picture, too', () => {
    const ringed = added(
      file(),
      block('a', { to: 'p1', as: 'beside', side: 'bottom', gap: 5 }),
      block('ring', { to: 'p1', as: 'around', gap: 7 }),
    );
    // 150 is the lower edge of the picture, 157 that of the ring.
    expect(boxOf(ringed, 'a').y).toBe(162);
  });

  test('words along a circle clear the line of the picture, turned too, and a ring', () => {
    const outline = solidOutline(8, '#ffffff');
    const lined = applyAll(file(), [
      { op: 'set', id: 'p1', path: 'outline', value: { ...outline, side: 'outside' } },
      { op: 'set', id: 'p1', path: 'turn', value: 30 },
    ]).document;
    const rule = { to: 'p1', as: 'along', gap: 5, share: 0.1 } as const;
    // 75 round the picture, 8 of its line, 5 of the gap, and an em of a fifth of that.
    expect(boxOf(added(lined, block('a', rule)), 'a').width).toBeCloseTo(2 * 1.2 * 88, 6);
    const ringed = added(file(), block('a', rule), block('ring', { to: 'p1', as: 'around', gap: 7 }));
    expect(boxOf(ringed, 'a').width).toBeCloseTo(2 * 1.2 * 87, 6);
  });

  test('leads over others, whatever their order; what leads nowhere or in a circle stays', () => {
    const chain = added(
      file(),
      block('a', { to: 'p1', as: 'beside', side: 'bottom', gap: 5, share: 1 }),
      block('b', { to: addedId('a'), as: 'beside', side: 'bottom', gap: 2, share: 1 }),
    );
    expect(boxOf(chain, 'b')).toEqual({ x: 100, y: 177, width: 120, height: 20 });
    const circle: Document = {
      ...chain,
      items: { ...chain.items, [addedId('a')]: block('a', { to: addedId('b'), as: 'beside', gap: 5 }) },
    };
    expect(() => resolveTies(circle)).not.toThrow();
    const gone = {
      ...chain,
      items: { ...chain.items, [addedId('a')]: block('a', { to: 'p9', as: 'behind', gap: 5 }) },
    };
    expect(boxOf(gone, 'a')).toEqual({ x: 0, y: 0, width: 60, height: 20 });
  });

  test('keeps its gap however the picture moves, grows, turns and changes its shape', () => {
    const shapes = ['rectangle', 'circle', 'heart', 'hexagon', 'star-5'].map((name) => ({ name, knobs: {} }));
    fc.assert(
      fc.property(
        fc.record({
          x: fc.double({ min: 0, max: 500, noNaN: true }),
          y: fc.double({ min: 0, max: 400, noNaN: true }),
          width: fc.double({ min: 5, max: 300, noNaN: true }),
          height: fc.double({ min: 5, max: 300, noNaN: true }),
        }),
        fc.constantFrom(...shapes),
        fc.integer({ min: 0, max: 359 }),
        fc.double({ min: 0, max: 40, noNaN: true }),
        (box, shape, turn, gap) => {
          const moved = applyAll(file(), [
            { op: 'set', id: 'p1', path: 'at', value: { on: 'page', box } },
            { op: 'set', id: 'p1', path: 'shape', value: shape },
            { op: 'set', id: 'p1', path: 'turn', value: turn },
          ]).document;
          const drawn = drawnBox(moved.items['p1']!);
          const below = boxOf(
            added(moved, block('a', { to: 'p1', as: 'beside', side: 'bottom', gap, align: 'centre' })),
            'a',
          );
          expect(Math.abs(below.y - (drawn.y + drawn.height) - gap)).toBeLessThan(0.01);
          expect(Math.abs(below.x + below.width / 2 - drawn.x - drawn.width / 2)).toBeLessThan(0.01);
          const under = boxOf(added(moved, block('a', { to: 'p1', as: 'behind', gap })), 'a');
          expect(Math.abs(drawn.x - under.x - gap)).toBeLessThan(0.01);
          // The circle of words clears every corner of it by the gap, and one point by no more.
          const round = boxOf(added(moved, block('a', { to: 'p1', as: 'along', gap, share: 0.1 })), 'a');
          const r = round.width / 2 / 1.2;
          const [x, y] = [round.x + round.width / 2, round.y + round.height / 2];
          const picture = moved.items['p1'] as FramedItem;
          const onPage = frameMatrix({ box, turn, flip: picture.flip });
          const away = flatten(framePath({ box, shape, seat: picture.seat }), 1e-4)
            .flat()
            .map((p) => applyTo(onPage, p))
            .map((p) => Math.hypot(p.x - x, p.y - y));
          expect(Math.abs(r - Math.max(...away) - gap)).toBeLessThan(0.01);
        },
      ),
      { numRuns: 60 },
    );
  });

  test('inside, the circle round its ink is concentric with the picture, and takes its share', () => {
    const triangle = { name: 'triangle', knobs: {} };
    const item = block('a', { to: 'p1', as: 'inside', gap: 0, share: 0.8 }, { shape: triangle });
    const { at } = resolveTies(added(file(), item)).items[addedId('a')]!;
    const { x, y, width, height } = at.box;
    const ink = enclosingCircle([
      { x: x + width / 2, y },
      { x, y: y + height },
      { x: x + width, y: y + height },
    ]);
    expect([ink.x, ink.y, ink.r]).toEqual([expect.closeTo(160, 1), expect.closeTo(105, 1), expect.closeTo(36, 1)]);
  });
});

describe('the smallest circle', () => {
  test('over a diameter of a right angle (Thales), round one point, round none', () => {
    const right = enclosingCircle([
      { x: 0, y: 0 },
      { x: 6, y: 0 },
      { x: 0, y: 8 },
    ]);
    expect([right.x, right.y, right.r]).toEqual([3, 4, 5]);
    expect(enclosingCircle([{ x: 2, y: 3 }])).toEqual({ x: 2, y: 3, r: 0 });
    expect(enclosingCircle([])).toEqual({ x: 0, y: 0, r: 0 });
  });

  test('against brute force over pairs and triples', () => {
    const point = fc.record({ x: fc.integer({ min: -50, max: 50 }), y: fc.integer({ min: -50, max: 50 }) });
    fc.assert(
      fc.property(fc.array(point, { minLength: 2, maxLength: 9 }), (points) => {
        const circle = enclosingCircle(points);
        for (const p of points) expect(Math.hypot(p.x - circle.x, p.y - circle.y)).toBeLessThanOrEqual(circle.r + 1e-6);
        expect(circle.r).toBeLessThanOrEqual(leastRadius(points) + 1e-6);
      }),
      { numRuns: 200 },
    );
  });
});

/** The least radius of all circles over two or through three of the points that hold all of them. */
function leastRadius(points: readonly Point[]): number {
  let least = Infinity;
  const offer = (x: number, y: number, r: number): void => {
    if (Number.isFinite(r) && points.every((p) => Math.hypot(p.x - x, p.y - y) <= r + 1e-7)) least = Math.min(least, r);
  };
  for (const a of points)
    for (const b of points) {
      offer((a.x + b.x) / 2, (a.y + b.y) / 2, Math.hypot(a.x - b.x, a.y - b.y) / 2);
      for (const c of points) {
        const d = 2 * (a.x * (b.y - c.y) + b.x * (c.y - a.y) + c.x * (a.y - b.y));
        const sq = (p: Point): number => p.x ** 2 + p.y ** 2;
        const x = (sq(a) * (b.y - c.y) + sq(b) * (c.y - a.y) + sq(c) * (a.y - b.y)) / d;
        const y = (sq(a) * (c.x - b.x) + sq(b) * (a.x - c.x) + sq(c) * (b.x - a.x)) / d;
        offer(x, y, Math.hypot(a.x - x, a.y - y));
      }
    }
  return least;
}

describe('legibility', () => {
  const ground = (...greys: number[]): { data: Uint8ClampedArray; behind: string } => ({
    data: new Uint8ClampedArray(greys.flatMap((g) => [g, g, g, 255])),
    behind: '#ffffff',
  });

  test('#767676 on white is 4.54 : 1, black on white 21 : 1', () => {
    expect(contrastOn('#767676', luminances(ground(255)))).toBeCloseTo(4.54, 2);
    expect(contrastOn('#000000', luminances(ground(255)))).toBeCloseTo(21, 6);
  });

  test('the worst twentieth does not decide, more than that does', () => {
    // White words on black, with one white pixel in a hundred, and with six.
    const mixed = (white: number): Float64Array =>
      luminances(ground(...Array.from({ length: 100 }, (_, i) => (i < white ? 255 : 0))));
    expect(contrastOn('#ffffff', mixed(1))).toBeCloseTo(21, 6);
    expect(contrastOn('#ffffff', mixed(6))).toBeCloseTo(1, 6);
  });

  test('clear pixels show what is behind them', () => {
    expect(
      contrastOn('#000000', luminances({ data: new Uint8ClampedArray([0, 0, 0, 0]), behind: '#ffffff' })),
    ).toBeCloseTo(21, 6);
  });

  test('the least veil reaches what is asked, a step less does not; none where there is no need or no way', () => {
    fc.assert(
      fc.property(fc.array(fc.integer({ min: 0, max: 255 }), { minLength: 20, maxLength: 60 }), (greys) => {
        const on = ground(...greys);
        const veil = leastVeil('#ffffff', on, '#000000', 4.5)!;
        const at = (opacity: number): number => contrastOn('#ffffff', luminances(on, { colour: '#000000', opacity }));
        expect(at(veil)).toBeGreaterThanOrEqual(4.5);
        if (veil > 0) expect(at(veil - 0.01)).toBeLessThan(4.5);
      }),
      { numRuns: 40 },
    );
    expect(leastVeil('#ffffff', ground(0), '#000000', 4.5)).toBe(0);
    expect(leastVeil('#808080', ground(128), '#808080', 4.5)).toBeNull();
  });

  test('of the colours of a page the first that can be read, else black or white', () => {
    expect(legibleInk(ground(255), ['#eeeeee', '#22302f'], 4.5)).toBe('#22302f');
    expect(legibleInk(ground(20), ['#22302f'], 4.5)).toBe('#ffffff');
  });
});

describe('pieces', () => {
  const context = (): Parameters<(typeof PIECES)[number]['items']>[0] => {
    const item = file().items['p1'] as PictureItem;
    let count = 0;
    return {
      ...{
        picture: item,
        drawn: drawnBox(item),
        page: file().pages[0]!,
        flows: false,
        ground: '#ffffff',
        others: [],
        font: 'Calibri',
      },
      ...{
        colours: ['#22302f', '#b5482a'],
        words: {
          name: 'Maren Holt',
          more: 'Potter',
          contact: '0117 496 0234',
          heading: 'Open day',
          quote: 'Clay remembers',
          figures: WAITING.figures,
        },
      },
      letters: { name: 'letter', knobs: {}, drawn: { path: 'M0 0L1 0L.5 1Z', ratio: 0.8, label: 'M' } },
      along: {
        share: 0.13,
        shape: { name: 'letter', knobs: {}, drawn: { path: 'M.3 .1L.7 .1L.5 0Z', ratio: 1, label: 'Maren Holt' } },
      },
      newId: () => addedId(`piece${count++}`),
    };
  };

  test.each(PIECES.map((p) => [p.name, p] as const))(
    '%s is tied to its picture, lies on the page, and goes in one step',
    (_, piece) => {
      const made = piece.items(context());
      expect(made.length).toBeGreaterThan(0);
      const ids = new Set(['p1', ...made.map(({ item }) => item.id)]);
      for (const { item } of made) expect(ids.has(item.tie!.to)).toBe(true);
      const operations = puttingPiece(file(), context(), made);
      const { document, inverse } = applyAll(file(), operations);
      expect(operations.some(isStructural)).toBe(false);
      for (const { item } of made) {
        const box = drawnBox(resolveTies(document).items[item.id]!);
        expect(box.x).toBeGreaterThanOrEqual(-1);
        expect(box.x + box.width).toBeLessThanOrEqual(721);
        expect(box.y).toBeGreaterThanOrEqual(-1);
        expect(box.y + box.height).toBeLessThanOrEqual(541);
      }
      expect(applyAll(document, inverse).document).toEqual(file());
      // From the back in the order of the piece, behind the picture and right in front of it.
      const of = (layer: string): string[] => made.filter((p) => p.layer === layer).map((p) => p.item.id);
      expect(document.pages[0]!.items).toEqual([...of('behind'), 'p1', ...of('front'), 'p2']);
    },
  );
});

describe('what is stored', () => {
  const tie: Tie = { to: 'p1', as: 'behind', gap: 6 };
  const withBlock = (): Document =>
    applyAll(file(), [{ op: 'add', item: block('a', tie), slot: { in: { page: 'page1' }, index: 1 } }]).document;

  test('holds what was added, and where; its file with that is the document again', () => {
    const stored = changesFrom(file(), withBlock());
    expect(stored.orders).toEqual({ page1: ['p1', 'add-a', 'p2'] });
    expect(
      equal(withChanges(file(), JSON.parse(JSON.stringify(stored)) as typeof stored), resolveTies(withBlock())),
    ).toBe(true);
    expect(changesFrom(file(), file()).orders).toEqual({});
  });

  test('finds its place when pictures came or went since', () => {
    const stored = changesFrom(file(), withBlock());
    const more = documentOfPictures([picture(1, AT), picture(2, AT), picture(3, AT)], {
      sheets: [{ ...page, items: [{ picture: 1 }, { picture: 2 }, { picture: 3 }] }],
    });
    expect(withChanges(more, stored).pages[0]!.items).toEqual(['p1', 'add-a', 'p2', 'p3']);
    const fewer = documentOfPictures([picture(2, AT)], { sheets: [{ ...page, items: [{ picture: 2 }] }] });
    const left = withChanges(fewer, stored);
    expect(left.pages[0]!.items).toEqual(['add-a', 'p2']);
    expect(isPictureItem(left.items['p2']!)).toBe(true);
    // Its page is gone.
    const none = withChanges(
      documentOfPictures([picture(1, AT)], { sheets: [{ ...page, id: 'other', items: [{ picture: 1 }] }] }),
      stored,
    );
    expect(Object.keys(none.items)).toEqual(['p1']);
  });
});

describe('harsh words', () => {
  const ground = (colour: string): Ground => {
    const data = new Uint8ClampedArray(4 * 16);
    const [r, g, b] = [1, 3, 5].map((i) => parseInt(colour.slice(i, i + 2), 16));
    for (let i = 0; i < data.length; i += 4) data.set([r!, g!, b!, 255], i);
    return { data, behind: '#ffffff' };
  };
  // WCAG 2.2: black on white is 21 : 1, and 4.5 : 1 is what words need.
  test.each([
    ['#000000', '#ffffff'],
    ['#ffffff', '#000000'],
    ['#f4f4f4', '#050505'],
  ])('%s on %s becomes restful, and stays legible', (ink, behind) => {
    const soft = softened(ink, ground(behind))!;
    const now = contrastOn(soft, luminances(ground(behind)));
    expect(now).toBeLessThanOrEqual(12);
    expect(now).toBeGreaterThan(11);
  });
  test('what is not harsh stays', () => expect(softened('#444444', ground('#ffffff'))).toBeNull());
});

describe('kept together as they stand', () => {
  const boxes = fc.record({
    x: fc.integer({ min: -100, max: 700 }),
    y: fc.integer({ min: -100, max: 500 }),
    width: fc.integer({ min: 4, max: 400 }),
    height: fc.integer({ min: 4, max: 300 }),
  });

  test('the rule has an item where it was, wherever that is, and along with its picture from there', () => {
    fc.assert(
      fc.property(
        boxes,
        fc.boolean(),
        fc.integer({ min: -200, max: 200 }),
        fc.integer({ min: -200, max: 200 }),
        (box, ringed, dx, dy) => {
          const free: FramedItem = { ...block('free', { to: 'p1', as: 'beside', gap: 0 }), at: { on: 'page', box } };
          delete free.tie;
          const ring = block('ring', { to: 'p1', as: 'around', gap: 7 });
          const start = resolveTies(ringed ? added(file(), free, ring) : added(file(), free));
          const round = ringed ? [drawnBox(start.items[ring.id]!)] : [];
          const tie = tieAsItStands(free, start.items['p1']!, round);
          const tied = resolveTies({ ...start, items: { ...start.items, [free.id]: { ...free, tie } } });
          expect(equal(tied.items[free.id]!.at.box, box, 1e-9)).toBe(true);
          const picture = tied.items['p1'] as PictureItem;
          const moved = { ...picture, at: { on: 'page' as const, box: { ...AT, x: AT.x + dx, y: AT.y + dy } } };
          const after = resolveTies({ ...tied, items: { ...tied.items, p1: moved } });
          expect(equal(after.items[free.id]!.at.box, { ...box, x: box.x + dx, y: box.y + dy }, 1e-9)).toBe(true);
        },
      ),
    );
  });

  test('beside where it is clear of its picture, by the gap that there is; over it where it is not', () => {
    const item = (box: Box): FramedItem => ({
      ...block('w', { to: 'p1', as: 'beside', gap: 0 }),
      at: { on: 'page', box },
    });
    const picture = file().items['p1']!;
    const below = tieAsItStands(item({ x: 120, y: 162, width: 60, height: 20 }), picture);
    // The picture ends at 150; the middles are 160 and 150 across.
    expect(below).toMatchObject({ as: 'beside', side: 'bottom', gap: 12, along: -10 });
    const over = tieAsItStands(item({ x: 100, y: 60, width: 60, height: 20 }), picture);
    expect(over).toMatchObject({ as: 'over', share: 0.5, along: -30, gap: -35 });
    // So much wider than its picture that no share says it.
    const wide = { x: -900, y: 70, width: 1900, height: 20 };
    expect(tieAsItStands(item(wide), picture)).toMatchObject({ as: 'beside', side: 'top', gap: -30 });
    expect(distanceOf(AT, { x: 223, y: 154, width: 5, height: 5 })).toBe(5);
    expect(distanceOf(AT, AT)).toBe(0);
  });
});
