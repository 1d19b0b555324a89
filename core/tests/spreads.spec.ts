/**
 * Pictures spread over a page, by rules that any arrangement keeps (ratios, nothing overlaps, gaps, room); rows of one width against the
 * best of all ways to cut the list, tried one by one; sums worked out by hand.
 */
import fc from 'fast-check';
import {
  addedId,
  applyAll,
  equal,
  isAdded,
  linearPartition,
  newPicture,
  pieceContext,
  PIECES,
  puttingPiece,
  resolveTies,
  roomOf,
  spreading,
  SPREADS,
  WAITING,
  withFrame,
  type Arranged,
  type Box,
  type Document,
  type Frame,
  type FramedItem,
  type ItemId,
  type Operation,
  type PictureItem,
  type Spread,
} from '../src/index';
import { frameOfItem } from '../src/model/frame-item';

const ratios = fc.array(fc.double({ min: 0.4, max: 2.5, noNaN: true }), { minLength: 2, maxLength: 12 });
const room = fc.record({
  width: fc.integer({ min: 300, max: 900 }),
  height: fc.integer({ min: 300, max: 900 }),
  gap: fc.record({ x: fc.integer({ min: 0, max: 20 }), y: fc.integer({ min: 0, max: 20 }) }),
});

/** How far two boxes stand off each other across or down, whichever is more. */
const apart = (a: Box, b: Box): { x: number; y: number } => ({
  x: Math.max(b.x - a.x - a.width, a.x - b.x - b.width),
  y: Math.max(b.y - a.y - a.height, a.y - b.y - b.height),
});

test.each(SPREADS.map((s) => [s.name, s] as const))(
  '%s: in its room, off each other by the gap at least, each with its ratio',
  (_, spread) => {
    fc.assert(
      fc.property(ratios, room, (all, place) => {
        const boxes = spread.boxes(all, place);
        expect(boxes).toHaveLength(all.length);
        boxes.forEach((b, i) => {
          if (spread.even) expect(b.width / b.height).toBeCloseTo(boxes[0]!.width / boxes[0]!.height, 6);
          else expect(b.width / b.height).toBeCloseTo(all[i]!, 6);
          expect(Math.min(b.x, b.y)).toBeGreaterThanOrEqual(-1e-6);
          expect(b.x + b.width).toBeLessThanOrEqual(place.width + 1e-6);
          expect(b.y + b.height).toBeLessThanOrEqual(place.height + 1e-6);
          for (const other of boxes.slice(0, i)) {
            const { x, y } = apart(b, other);
            const gap = spread.name === 'ring' ? Math.max(place.gap.x, place.gap.y) : 0;
            if (gap > 0 && all.length > 2)
              expect(Math.hypot(Math.max(0, x), Math.max(0, y))).toBeGreaterThan(gap - 1e-6);
            else expect(x > place.gap.x - 1e-6 || y > place.gap.y - 1e-6).toBe(true);
          }
        });
      }),
    );
  },
);

test('a list is cut so that its largest part is least: as the best of all ways', () => {
  fc.assert(
    fc.property(
      fc.array(fc.integer({ min: 1, max: 40 }), { minLength: 1, maxLength: 8 }),
      fc.integer({ min: 1, max: 8 }),
      (values, parts) => {
        const k = Math.min(parts, values.length);
        const largest = (counts: readonly number[]): number => {
          let at = 0;
          return Math.max(...counts.map((c) => values.slice(at, (at += c)).reduce((a, b) => a + b, 0)));
        };
        const ways = (left: number, of: number): number[][] =>
          of === 1
            ? [[left]]
            : Array.from({ length: left - of + 1 }, (_, i) => i + 1).flatMap((c) =>
                ways(left - c, of - 1).map((w) => [c, ...w]),
              );
        const cut = linearPartition(values, parts);
        expect(cut).toHaveLength(k);
        expect(cut.reduce((a, b) => a + b, 0)).toBe(values.length);
        expect(largest(cut)).toBe(Math.min(...ways(values.length, k).map(largest)));
      },
    ),
  );
});

test('full rows are of one width; a circle of four stands on its sides, as by hand', () => {
  const square = { width: 400, height: 400, gap: { x: 10, y: 10 } };
  const rows = SPREADS.find((s) => s.name === 'justified')!.boxes([1.5, 0.8, 1, 2, 1.2], square);
  const lines = new Map<number, number>();
  for (const b of rows) lines.set(Math.round(b.y), Math.max(lines.get(Math.round(b.y)) ?? 0, b.x + b.width));
  expect(new Set([...lines.values()].map((v) => Math.round(v * 1e6))).size).toBe(1);
  // d + 10 = 2 r sin 45° and 2 r + d = 400: r = 410 / (2 + 2 sin 45°) = 120.0862.
  const four = SPREADS.find((s) => s.name === 'ring')!.boxes([1, 1, 1, 1], square);
  const middles = four.map((b) =>
    [b.x + b.width / 2 - 200, b.y + b.height / 2 - 200].map((v) => Math.round(v * 1e4) / 1e4 + 0),
  );
  const r = 120.0862;
  expect(middles).toEqual([
    [0, -r],
    [r, 0],
    [0, r],
    [-r, 0],
  ]);
});

const SIZE = { width: 600, height: 400 };
const PAGE = { width: 720, height: 540 };
const source = { sha256: 'a'.repeat(64), name: '', type: 'png' as const, size: SIZE, orientation: 1 };

/** A page with pictures; the first of them lies behind all of it. */
function pageOf(count: number, shape = 'rectangle'): { document: Document; pictures: Map<ItemId, Arranged> } {
  const empty: Document = {
    ...{ version: 1, flows: false, layers: [], stories: [], items: {} },
    pages: [
      { id: 's1', size: PAGE, ground: null, margins: { top: 0, right: 0, bottom: 0, left: 0 }, layers: [], items: [] },
    ],
  };
  const operations = Array.from({ length: count + 1 }, (_, i): Operation => {
    const box =
      i === 0 ? { x: 0, y: 0, ...PAGE } : { x: 20 * i, y: 10 * i, width: 150, height: shape === 'circle' ? 150 : 100 };
    const item = {
      ...newPicture(`p${i}`, { on: 'page', box }, source, `Pot ${i}`),
      shape: { name: i === 0 ? 'rectangle' : shape, knobs: {} },
    };
    return { op: 'add', item, slot: { in: { page: 's1' }, index: i } };
  });
  const { document } = applyAll(empty, operations);
  const pictures = new Map(
    Array.from({ length: count + 1 }, (_, i): [ItemId, Arranged] => [
      `p${i}`,
      {
        frame: frameOfItem(document.items[`p${i}`] as PictureItem, i + 1),
        size: SIZE,
        subject: { u: 0.2, v: 0.5 } as Arranged['subject'],
      },
    ]),
  );
  return { document, pictures };
}
let count = 0;
const newId = (): ItemId => addedId(`s${count++}`);
const named = (name: string): Spread => SPREADS.find((s) => s.name === name)!;
const after = (document: Document, frames: ReadonlyMap<ItemId, Frame>, operations: readonly Operation[]): Document => {
  const items = { ...document.items };
  for (const [id, frame] of frames) items[id] = withFrame(items[id] as PictureItem, frame, SIZE);
  return resolveTies(applyAll({ ...document, items }, operations).document);
};

test('on a page: the one behind all of it stays, titles stand below each, all of one size, and have room', () => {
  const { document, pictures } = pageOf(8);
  let made = 0;
  const titles = { of: (id: ItemId): string => document.items[id]!.alt };
  const newId = (): string => addedId(String(made++));
  const wish = { spread: named('even-grid'), gap: 12, margin: 30, pictures, titles, newId };
  const out = spreading(document, document.pages[0]!, wish);
  expect([...out.frames.keys()]).toEqual(['p1', 'p2', 'p3', 'p4', 'p5', 'p6', 'p7', 'p8']);
  const next = after(document, out.frames, out.around);
  const words = Object.values(next.items).filter((i): i is FramedItem => i.kind === 'framed' && isAdded(i.id));
  expect(words.map((w) => w.text!.paragraphs[0]!.runs[0]!.text).sort()).toEqual(
    [...out.frames.keys()].map((id) => document.items[id]!.alt),
  );
  expect(new Set(words.map((w) => w.text!.paragraphs[0]!.runs[0]!.size)).size).toBe(1);
  const all = [...words.map((w) => w.at.box), ...[...out.frames.values()].map((f) => f.box)];
  for (const [i, b] of all.entries()) {
    expect(b.x).toBeGreaterThanOrEqual(30 - 1e-6);
    expect(b.y + b.height).toBeLessThanOrEqual(PAGE.height - 30 + 1e-6);
    for (const other of all.slice(0, i)) expect(Math.max(apart(b, other).x, apart(b, other).y)).toBeGreaterThan(-1e-6);
  }
  // A second time it is as it was: what is there is not put again.
  const again = new Map([...pictures].map(([id, p]) => [id, { ...p, frame: out.frames.get(id) ?? p.frame }]));
  const second = spreading(next, next.pages[0]!, { ...wish, pictures: again });
  expect(second.around).toEqual([]);
  for (const [id, frame] of second.frames) expect(equal(frame.box, out.frames.get(id)!.box, 1e-6)).toBe(true);
});

test('some of a page alone keep to the room that they take with their rings; the others stay', () => {
  const { document, pictures } = pageOf(5);
  const context = pieceContext(document, 'p2', { words: WAITING, newId: () => addedId('ring') })!;
  const ring = PIECES.find((p) => p.name === 'ring')!.items(context);
  const ringed = resolveTies(applyAll(document, puttingPiece(document, context, ring)).document);
  const some = ['p2', 'p3', 'p4'];
  const room = roomOf(ringed, some);
  const round = ringed.items[addedId('ring')]!.at.box;
  expect(room.x).toBeLessThanOrEqual(round.x + 1e-6);
  const only = new Map(some.map((id) => [id, pictures.get(id)!]));
  for (const spread of SPREADS) {
    const wish = { spread, gap: 4, margin: 30, room, pictures: only, titles: null, newId };
    const { frames } = spreading(ringed, ringed.pages[0]!, wish);
    expect([...frames.keys()]).toEqual(some);
    for (const { box } of frames.values()) {
      expect(Math.min(box.x - room.x, box.y - room.y)).toBeGreaterThan(-1e-6);
      expect(box.x + box.width).toBeLessThan(room.x + room.width + 1e-6);
      expect(box.y + box.height).toBeLessThan(room.y + room.height + 1e-6);
    }
  }
});

test('circles stay circles in cells that are not square, and rings have room', () => {
  const { document, pictures } = pageOf(3, 'circle');
  const context = pieceContext(document, 'p1', {
    words: WAITING,
    newId: () => addedId('ring'),
  })!;
  const ring = PIECES.find((p) => p.name === 'ring')!.items(context);
  const ringed = resolveTies(applyAll(document, puttingPiece(document, context, ring)).document);
  const { frames } = spreading(ringed, ringed.pages[0]!, {
    spread: named('row'),
    gap: 10,
    margin: 0,
    pictures,
    titles: null,
    newId,
  });
  const boxes = [...frames.values()].map((f) => f.box);
  for (const b of boxes) expect(b.width).toBeCloseTo(b.height, 9);
  // What the ring takes on both sides of its picture stands between all of them.
  const reach = ring[0]!.item.tie!.gap + (ring[0]!.item.outline?.weight ?? 0) / 2;
  expect(boxes[1]!.x - boxes[0]!.x - boxes[0]!.width).toBeCloseTo(10 + 2 * reach, 2);
});

test('pictures keep off the words of their page: they lie in the highest stretch between them', () => {
  const { document, pictures } = pageOf(4);
  const words = (id: string, y: number): Operation => ({
    op: 'add',
    item: {
      ...(document.items['p1'] as PictureItem),
      id,
      fill: null,
      at: { on: 'page', box: { x: 40, y, width: 300, height: 40 } },
    },
    slot: { in: { page: 's1' }, index: 0 },
  });
  // Free by hand: from 80 + 15 to 400 - 15, which is higher than what is below 440.
  const worded = applyAll(document, [words('title', 40), words('foot', 400)]).document;
  const { frames } = spreading(worded, worded.pages[0]!, {
    spread: named('grid'),
    gap: 10,
    margin: 30,
    pictures,
    titles: null,
    newId,
  });
  const boxes = [...frames.values()].map((f) => f.box);
  expect(Math.min(...boxes.map((b) => b.y))).toBeGreaterThanOrEqual(95 - 1e-6);
  expect(Math.max(...boxes.map((b) => b.y + b.height))).toBeLessThanOrEqual(385 + 1e-6);
});

test('a contact strip: boxes alike, strips that meet without a gap, a number below each, and all of it moves with its picture', () => {
  const { document, pictures } = pageOf(7);
  const wish = { spread: named('contact-strip'), gap: 40, margin: 30, pictures, titles: null, newId };
  const out = spreading(document, document.pages[0]!, wish);
  const next = after(document, out.frames, out.around);
  const around = (id: ItemId): FramedItem[] =>
    Object.values(next.items).filter((i): i is FramedItem => i.kind === 'framed' && i.tie?.to === id);
  const strips = [...out.frames.keys()].map((id) => around(id).find((i) => i.name === 'Strip')!.at.box);
  const feet = [...out.frames.keys()].map((id) => around(id).find((i) => i.name === 'Foot of the strip')!.at.box);
  for (const [i, strip] of strips.entries()) {
    const box = [...out.frames.values()][i]!.box;
    expect(strip.width / strip.height).toBeCloseTo(strips[0]!.width / strips[0]!.height, 6);
    expect(box.x - strip.x).toBeGreaterThan(3 - 1e-6);
    expect(strip.x + strip.width - box.x - box.width).toBeCloseTo(box.x - strip.x, 6);
    expect(feet[i]!.x).toBeCloseTo(strip.x);
    expect(feet[i]!.width).toBeCloseTo(strip.width);
    const right = strips[i + 1];
    // In one row they touch.
    if (right && Math.abs(right.y - strip.y) < 1e-6) expect(right.x).toBeCloseTo(strip.x + strip.width, 4);
  }
  const numbers = [...out.frames.keys()].map((id) => around(id).find((i) => i.text)!);
  expect(numbers.map((i) => i.text!.paragraphs[0]!.runs[0]!.text)).toEqual(['1', '2', '3', '4', '5', '6', '7']);
  for (const [i, { at }] of numbers.entries()) expect(at.box.y).toBeGreaterThan(strips[i]!.y + strips[i]!.height / 2);
  for (const b of [...strips, ...feet]) expect(b.y + b.height).toBeLessThanOrEqual(PAGE.height - 30 + 1e-6);
  // Once more, and nothing is put twice.
  const again = new Map([...pictures].map(([id, p]) => [id, { ...p, frame: out.frames.get(id) ?? p.frame }]));
  expect(spreading(next, next.pages[0]!, { ...wish, pictures: again }).around).toEqual([]);
});

test('before and after are halves that a line of 3 pt parts, each with its word', () => {
  const { document, pictures } = pageOf(2);
  const wish = { spread: named('before-after'), gap: 40, margin: 30, pictures, titles: null, newId };
  const { frames, around } = spreading(document, document.pages[0]!, wish);
  const next = after(document, frames, around);
  const [left, right] = [...frames.values()].map((f) => f.box) as [Box, Box];
  expect([right.width, right.height, right.y]).toEqual([
    expect.closeTo(left.width),
    expect.closeTo(left.height),
    expect.closeTo(left.y),
  ]);
  expect(right.x - left.x - left.width).toBeCloseTo(3, 4);
  const added = Object.values(next.items).filter((i): i is FramedItem => i.kind === 'framed' && isAdded(i.id));
  const line = added.find((i) => i.name === 'Line between')!.at.box;
  expect([line.x, line.width, line.height]).toEqual([
    expect.closeTo(left.x + left.width),
    expect.closeTo(3),
    expect.closeTo(left.height),
  ]);
  const words = added.filter((i) => i.text);
  expect(words.map((i) => [i.tie!.to, i.text!.paragraphs[0]!.runs[0]!.text])).toEqual([
    ['p1', 'Before'],
    ['p2', 'After'],
  ]);
  for (const w of words) {
    const whole = w.tie!.to === 'p1' ? left : right;
    expect(w.at.box.x).toBeGreaterThan(whole.x);
    expect(w.at.box.x + w.at.box.width).toBeLessThan(whole.x + whole.width);
    expect(w.at.box.y + w.at.box.height).toBeLessThan(whole.y + whole.height);
  }
});
