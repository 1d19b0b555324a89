/** Pages as the server paints them, held against `@resvg/resvg-js`, which draws the same blocks from SVG. */
import { FULL_SEAT, type FramedItem, type Pixels, type Placed, type Text } from '@gable/core';
import { Resvg } from '@resvg/resvg-js';
import sharp from 'sharp';
import { frameOf } from '../../core/tests/frames';
import { renderPage, type PageScene } from '../src/page';

const NO_FLIP = { horizontal: false, vertical: false };
const block = (
  id: string,
  shape: string,
  box: FramedItem['at']['box'],
  { colour, turn = 0, text = null }: { colour: string | null; turn?: number; text?: Text | null },
): Placed => ({
  box,
  turn,
  flip: NO_FLIP,
  item: {
    kind: 'framed',
    id,
    at: { on: 'page', box },
    turn,
    flip: NO_FLIP,
    opacity: 1,
    alt: '',
    shape: { name: shape, knobs: {} },
    seat: FULL_SEAT,
    outline: null,
    shadow: null,
    fill: colour === null ? null : { kind: 'paint', paint: { kind: 'solid', colour, opacity: 1 } },
    text,
  },
});
const scene = (layers: PageScene['layers']): PageScene => ({
  size: { width: 240, height: 160 },
  ground: '#f4f0e7',
  backdrop: null,
  layers,
});
const words = (text: string, more: Partial<Text> = {}, size = 20): Text => ({
  paragraphs: [
    {
      align: 'start',
      runs: [
        {
          text,
          font: '',
          size,
          weight: 400,
          italic: false,
          underline: false,
          paint: { kind: 'solid', colour: '#000000', opacity: 1 },
        },
      ],
    },
  ],
  anchor: 'top',
  inset: { top: 0, right: 0, bottom: 0, left: 0 },
  ...more,
});
const nothing = (): never => {
  throw new Error('no picture');
};

/** Bounds of the dark pixels, in points. */
function darkIn({ width, data }: Pixels, scale: number): Record<string, number> {
  const [xs, ys]: [number[], number[]] = [[], []];
  for (let i = 0; i < data.length; i += 4)
    if (data[i]! + data[i + 1]! + data[i + 2]! < 200) {
      xs.push((i / 4) % width);
      ys.push(Math.floor(i / 4 / width));
    }
  const of = (list: number[], pick: 'min' | 'max'): number =>
    list.reduce((a, b) => Math[pick](a, b), pick === 'min' ? Infinity : -Infinity) / scale;
  return { left: of(xs, 'min'), right: of(xs, 'max'), top: of(ys, 'min'), bottom: of(ys, 'max') };
}

test('blocks are painted as another renderer draws them: in their order, turned about their middles', async () => {
  const mine = await renderPage(
    scene([
      block('a', 'rectangle', { x: 20, y: 20, width: 120, height: 80 }, { colour: '#2b6a73' }),
      block('b', 'ellipse', { x: 80, y: 50, width: 100, height: 60 }, { colour: '#b5482a', turn: 30 }),
    ]),
    nothing,
    3,
  );
  const svg = `<svg xmlns="http://www.w3.org/2000/svg" width="720" height="480" viewBox="0 0 240 160"><rect width="240" height="160" fill="#f4f0e7"/><rect x="20" y="20" width="120" height="80" fill="#2b6a73"/><ellipse cx="130" cy="80" rx="50" ry="30" fill="#b5482a" transform="rotate(30 130 80)"/></svg>`;
  const theirs = await sharp(new Resvg(svg).render().asPng()).ensureAlpha().raw().toBuffer();
  let far = 0;
  for (let i = 0; i < theirs.length; i++) if (Math.abs(theirs[i]! - mine.data[i]!) > 16) far++;
  // Edges may be smoothed otherwise.
  expect(far / theirs.length).toBeLessThan(0.001);
});

test('a picture lies between what is behind it and what is in front of it', async () => {
  const bytes = await sharp({ create: { width: 60, height: 40, channels: 3, background: '#00ff00' } })
    .png()
    .toBuffer();
  const frame = frameOf(60, 40, { box: { x: 60, y: 40, width: 60, height: 40 } });
  const { data, width } = await renderPage(
    scene([
      block('behind', 'rectangle', { x: 40, y: 30, width: 100, height: 60 }, { colour: '#0000ff' }),
      { frame, x: 60, y: 40, k: 1 },
      block('front', 'rectangle', { x: 100, y: 30, width: 60, height: 60 }, { colour: '#ff0000' }),
    ]),
    () => ({ bytes, size: { width: 60, height: 40 } }),
    2,
  );
  const at = (x: number, y: number): number[] => [...data.subarray((y * 2 * width + x * 2) * 4).subarray(0, 3)];
  expect([at(50, 60), at(80, 60), at(110, 60), at(10, 10)]).toEqual([
    [0, 0, 255],
    [0, 255, 0],
    [255, 0, 0],
    [0xf4, 0xf0, 0xe7],
  ]);
});

test('words are broken at the width of their box, anchored and aligned in it, and turned with it', async () => {
  const box = { x: 20, y: 20, width: 100, height: 100 };
  const paint = async (text: Text, turn = 0): Promise<Record<string, number>> =>
    darkIn(await renderPage(scene([block('t', 'rectangle', box, { colour: null, text, turn })]), nothing, 4), 4);
  const one = await paint(words('Kiln'));
  expect(one['left']).toBeGreaterThanOrEqual(20);
  expect(one['left']).toBeLessThan(24);
  // Letters of 20 points: the capital is some 14 high (common practice: 0.7 em), under the top of the box.
  expect(one['bottom']! - one['top']!).toBeGreaterThan(11);
  expect(one['bottom']! - one['top']!).toBeLessThan(18);
  const three = await paint(words('Kiln opened at dawn today'));
  expect(three['right']).toBeLessThanOrEqual(121);
  // Lines of 1.2 em.
  expect(three['bottom']! - one['bottom']!).toBeGreaterThan(23);
  const low = await paint(words('Kiln', { anchor: 'bottom' }));
  expect(low['bottom']).toBeGreaterThan(112);
  expect(low['bottom']).toBeLessThanOrEqual(121);
  const right = words('Kiln');
  right.paragraphs[0]!.align = 'end';
  expect((await paint(right))['right']).toBeGreaterThan(116);
  // Upside down the first letter is at the right end of the box's bottom.
  const over = await paint(words('Kiln'), 180);
  expect(over['right']).toBeCloseTo(140 - one['left']!, 0);
  expect(over['bottom']).toBeCloseTo(140 - one['top']!, 0);
});

test('lines with their tips are painted as another renderer draws them, and words stand within an oval', async () => {
  const box = { x: 20, y: 30, width: 120, height: 60 };
  const line: Placed = {
    box,
    turn: 0,
    flip: { horizontal: false, vertical: true },
    item: {
      kind: 'foreign',
      id: 'line',
      what: 'connector',
      at: { on: 'page', box },
      turn: 0,
      flip: { horizontal: false, vertical: true },
      opacity: 1,
      alt: '',
      look: {
        shape: { name: 'preset:bentConnector3', knobs: {} },
        outline: {
          ...{ paint: { kind: 'solid', colour: '#b5482a', opacity: 1 }, weight: 4, side: 'on' },
          ...{ dash: 'solid', join: 'mitre', cap: 'butt' },
        },
        paint: null,
        tips: { start: false, end: true },
      },
    },
  };
  const mine = await renderPage(scene([line]), nothing, 2);
  // From the bottom left to the top right, by the middle; the tip three times as long and wide as the line.
  const svg =
    '<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 240 160" width="480" height="320"><rect width="240" height="160" fill="#f4f0e7"/>' +
    '<path d="M20 90H80V30H140" fill="none" stroke="#b5482a" stroke-width="4"/><path d="M143.2 30L131.2 24V36Z" fill="#b5482a"/></svg>';
  const theirs = new Resvg(svg).render().pixels;
  let sum = 0;
  for (let i = 0; i < theirs.length; i++) sum += Math.abs(theirs[i]! - mine.data[i]!);
  expect(sum / theirs.length).toBeLessThan(0.3);

  const text = words('Words that have to be broken to stay within', {}, 12);
  const oval = { x: 20, y: 20, width: 200, height: 120 };
  const seen = darkIn(
    await renderPage(scene([block('oval', 'ellipse', oval, { colour: '#ffffff', text })]), nothing, 2),
    2,
  );
  const cut = 1 - Math.SQRT1_2;
  expect(seen['left']).toBeGreaterThan(20 + 100 * cut - 1);
  expect(seen['right']).toBeLessThan(220 - 100 * cut + 1);
  expect(seen['top']).toBeGreaterThan(20 + 60 * cut - 1);
});
