/** Words as outlines, held against the same words as Skia (`@napi-rs/canvas`) sets them in the same font. */
import { FULL_SEAT, paintWords, resolveTies, type Document, type FramedItem, type Text } from '@gable/core';
import { outlinedWords, readFont, runsIn } from '@gable/core/silhouette';
import { createCanvas, GlobalFonts, Path2D } from '@napi-rs/canvas';
import { readFileSync } from 'node:fs';
import { createRequire } from 'node:module';
import { plainFont } from '../src/own-font';

const FAMILY = 'Outline Test';
const SCALE = 12;
const file = (look: string): string =>
  createRequire(__filename).resolve(`@fontsource/tinos/files/tinos-latin-${look}-normal.woff2`);
let fonts: Record<'400' | '700', ReturnType<typeof readFont>>;
beforeAll(async () => {
  const [plain, bold] = await Promise.all(
    ['400', '700'].map(async (l) => (await plainFont(readFileSync(file(l)))).bytes),
  );
  GlobalFonts.register(Buffer.from(plain!), FAMILY);
  GlobalFonts.register(Buffer.from(bold!), FAMILY);
  fonts = { 400: readFont(plain!), 700: readFont(bold!) };
});

type Run = Text['paragraphs'][number]['runs'][number];
const run = (text: string, more: Partial<Run> = {}): Run => ({
  ...{ text, font: FAMILY, size: 24, weight: 400, italic: false, underline: false },
  ...{ paint: { kind: 'solid', colour: '#000000', opacity: 1 }, ...more },
});
const item = (lines: Run[][], align: 'start' | 'centre' | 'end' = 'centre'): FramedItem => ({
  ...{ kind: 'framed', id: 'add-a', at: { on: 'page', box: { x: 0, y: 0, width: 220, height: 120 } }, turn: 0 },
  ...{ flip: { horizontal: false, vertical: false }, opacity: 1, alt: '', shape: { name: 'rectangle', knobs: {} } },
  ...{ seat: FULL_SEAT, outline: null, shadow: null, fill: null },
  text: {
    ...{ anchor: 'middle', inset: { top: 4, right: 4, bottom: 4, left: 4 } },
    paragraphs: lines.map((runs) => ({ align, runs })),
  },
});
const outlined = (of: FramedItem): ReturnType<typeof outlinedWords> =>
  outlinedWords(createCanvas(1, 1).getContext('2d'), of, (r) => (r.weight >= 600 ? fonts[700] : fonts[400]));

/** How much of the ink of both is in the same places. */
function alike(of: FramedItem): number {
  const { width, height } = of.at.box;
  const drawn = (paint: (c: ReturnType<ReturnType<typeof createCanvas>['getContext']>) => void): Uint8ClampedArray => {
    const context = createCanvas(width * SCALE, height * SCALE).getContext('2d');
    context.scale(SCALE, SCALE);
    paint(context);
    return context.getImageData(0, 0, width * SCALE, height * SCALE).data;
  };
  const theirs = drawn((c) => paintWords(c as never, of.text!, of.at.box));
  const ours = drawn((c) => {
    c.scale(width, height);
    c.fill(new Path2D(outlined(of).drawn!.path), 'evenodd');
  });
  let [both, either] = [0, 0];
  for (let i = 3; i < ours.length; i += 4) {
    both += Math.min(ours[i]!, theirs[i]!);
    either += Math.max(ours[i]!, theirs[i]!);
  }
  return both / either;
}

test.each<[string, Run[][], 'start' | 'centre' | 'end']>([
  ['a line', [[run('Open day')]], 'centre'],
  ['lines that break, kerned', [[run('AVATAR To wave, Voyage and Tea in Yarrow')]], 'start'],
  [
    'several looks, with a line beneath',
    [[run('Wheel '), run('and kiln', { weight: 700, size: 30, underline: true })], [run('in spring')]],
    'end',
  ],
])('%s', (_, lines, align) => {
  expect(alike(item(lines, align))).toBeGreaterThan(0.95);
});

test('of several colours, or without a letter, they are refused with what to do', () => {
  const red = { kind: 'solid', colour: '#ff0000', opacity: 1 } as const;
  expect(() => outlined(item([[run('One '), run('two', { paint: red })]]))).toThrow(/several colours/);
  expect(() => outlined(item([[run('漢')]]))).toThrow(/has no “漢”/);
  expect(runsIn({ ...item([]), text: null })).toEqual([]);
});

test('over a picture that grows they keep their ratio', () => {
  const words = item([[run('Open day')]]);
  const picture = {
    ...words,
    id: 'p1',
    text: null,
    at: { on: 'page', box: { x: 0, y: 0, width: 400, height: 300 } },
  } as FramedItem;
  const tie = { to: 'p1', as: 'over', gap: 0, share: 0.5 } as const;
  const over = { ...words, text: null, shape: outlined(words), tie };
  const document = {
    ...{ version: 1, flows: false, layers: [], stories: [] },
    pages: [
      {
        id: 'one',
        size: { width: 900, height: 700 },
        ground: null,
        layers: [],
        items: ['p1', 'add-a'],
        margins: { top: 0, right: 0, bottom: 0, left: 0 },
      },
    ],
    items: { p1: picture, 'add-a': over },
  } as Document;
  const { box } = resolveTies(document).items['add-a']!.at;
  // 220 × 120, half as wide as 400.
  expect([box.width, box.height]).toEqual([200, expect.closeTo((200 * 120) / 220, 9)]);
});
