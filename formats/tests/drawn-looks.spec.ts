/**
 * Shapes and texts that a drawing has itself look and lie otherwise: what `resvg` paints of the file then is what was asked for
 * (SVG 2 §6.6, styling; §8.5, transform), and nothing else of it is written anew.
 */
import { applyAll, equal, type Document, type FramedItem, type ItemId, type Operation } from '@gable/core';
import { Resvg } from '@resvg/resvg-js';
import { strFromU8, strToU8 } from 'fflate';
import { readFileSync } from 'node:fs';
import { openFile, type Source } from '../src/index';

const does = (document: Document, ...operations: Operation[]): Document => applyAll(document, operations).document;
const set = (id: ItemId, path: string, value: unknown): Operation => ({ op: 'set', id, path, value });
const paint = (colour: string, opacity = 1): object => ({ kind: 'paint', paint: { kind: 'solid', colour, opacity } });

const drawing = (inside: string, more = ''): Source =>
  openFile(
    strToU8(
      `<svg xmlns="http://www.w3.org/2000/svg" width="400" height="300" viewBox="0 0 400 300"${more}>${inside}</svg>`,
    ),
  );
/** The only shape or text of a drawing. */
const only = ({ document }: Source): FramedItem =>
  Object.values(document.items).find((i): i is FramedItem => i.kind === 'framed')!;
/** Pixels as `resvg` paints them: red, green, blue and opacity at a place. */
function painted(bytes: Uint8Array): (x: number, y: number) => number[] {
  const image = new Resvg(strFromU8(bytes)).render();
  const { pixels, width } = image;
  return (x, y) => [...pixels.subarray(4 * (y * width + x), 4 * (y * width + x) + 4)];
}
const CLEAR = [0, 0, 0, 0];
const lies = ({ at: { box }, turn }: FramedItem): number[] => [box.x, box.y, box.width, box.height, turn];

const SHAPES: Record<string, string> = {
  rect: '<rect x="40" y="60" width="80" height="40" rx="4" fill="#aabbcc"/>',
  'a rect in a scaled group':
    '<g transform="translate(20 30) scale(2)"><rect x="10" y="15" width="40" height="20" class="a"/></g>',
  'a turned rect':
    '<rect x="-40" y="-20" width="80" height="40" transform="translate(80 80) rotate(20)" style="fill:#aabbcc"/>',
  circle: '<circle cx="80" cy="80" r="30" fill="#aabbcc"/>',
  ellipse: '<ellipse cx="80" cy="80" rx="40" ry="20" fill="#aabbcc"/>',
  path: '<path d="M40 60h80v40q-40 20 -80 0z" fill="#aabbcc"/>',
  polygon: '<polygon points="40,60 120,60 80,100" fill="#aabbcc"/>',
};

describe.each(Object.entries(SHAPES))('%s', (_, markup) => {
  const file = drawing(`<style>.a { fill: #aabbcc !important }</style>${markup}`.replace(' !important', ''));
  const { id, at, turn } = only(file);

  test('is recoloured, and gets a line', () => {
    const outline = { ...solid('#22302f'), weight: 3 };
    const bytes = file.write(does(file.document, set(id, 'fill', paint('#b5482a')), set(id, 'outline', outline)));
    const there = only(openFile(bytes));
    expect(there.fill).toEqual(paint('#b5482a'));
    expect(there.outline!.weight).toBeCloseTo(3, 3);
    expect(lies(there)).toEqual(lies(only(file)).map((v) => expect.closeTo(v, 3) as number));
    const middle = [at.box.x + at.box.width / 2, at.box.y + at.box.height / 2].map((v) => Math.round(v / 0.75));
    expect(painted(bytes)(middle[0]!, middle[1]!)).toEqual([0xb5, 0x48, 0x2a, 255]);
  });

  test('without a fill nothing is painted there', () => {
    const bytes = file.write(does(file.document, set(id, 'fill', null)));
    expect(only(openFile(bytes)).fill).toBeNull();
    expect(painted(bytes)(80, 80)).toEqual(CLEAR);
  });

  test.each([
    ['moved', { x: 90, y: 45 }, 0],
    ['moved and turned', { x: 90, y: 45 }, 35],
    ['wider', { width: 120 }, 0],
    ['half as large, and turned', { width: 30, height: 15 }, -60],
  ])('%s', (_name, change, by) => {
    const box = { ...at.box, ...change };
    const next = does(file.document, set(id, 'at', { on: 'page', box }), set(id, 'turn', turn + by));
    const bytes = file.write(next);
    const there = openFile(bytes);
    const now = only(there);
    expect(now.at.box).toEqual({
      x: expect.closeTo(box.x, 2) as number,
      y: expect.closeTo(box.y, 2) as number,
      width: expect.closeTo(box.width, 2) as number,
      height: expect.closeTo(box.height, 2) as number,
    });
    expect(Math.cos(((now.turn - turn - by) * Math.PI) / 180)).toBeCloseTo(1, 6);
    expect(now.fill).toEqual(only(file).fill);
    const x = Math.round((box.x + box.width / 2) / 0.75);
    const y = Math.round((box.y + box.height / 2) / 0.75);
    expect(painted(bytes)(x, y)).toEqual([0xaa, 0xbb, 0xcc, 255]);
    // Once more it is not written anew.
    expect(Buffer.compare(there.write(there.document), Buffer.from(bytes))).toBe(0);
  });
});

const solid = (colour: string): object => ({
  ...{ paint: { kind: 'solid', colour, opacity: 1 }, weight: 1, side: 'on', dash: 'solid', join: 'mitre', cap: 'butt' },
});

test('a text gets another colour, size, weight and slant, in its parts too, and moves', () => {
  const file = drawing(
    '<text x="40" y="80" font-family="Gelasio" font-size="24" fill="#22302f"><tspan x="40" dy="0" fill="#22302f">Kiln</tspan><tspan x="40" dy="30">one</tspan></text>',
  );
  const { id, at, text } = only(file);
  const looks = { size: 12, weight: 700, italic: true, paint: { kind: 'solid', colour: '#b5482a', opacity: 1 } };
  const paragraphs = text!.paragraphs.map((p) => ({ ...p, runs: p.runs.map((r) => ({ ...r, ...looks })) }));
  const bytes = file.write(does(file.document, set(id, 'text', { ...text!, paragraphs })));
  const runs = only(openFile(bytes)).text!.paragraphs.flatMap((p) => p.runs);
  for (const run of runs) expect(run).toMatchObject(looks);
  const moved = file.write(
    does(file.document, set(id, 'at', { on: 'page', box: { ...at.box, x: at.box.x + 30, y: at.box.y - 12 } })),
  );
  expect(strFromU8(moved)).toContain('transform="translate(40 -16)"');
  expect(only(openFile(moved)).at.box).toMatchObject({
    x: expect.closeTo(at.box.x + 30, 3) as number,
    y: expect.closeTo(at.box.y - 12, 3) as number,
  });
  // It has no box to be filled, and says what it says.
  expect(() => file.write(does(file.document, set(id, 'fill', paint('#ffffff'))))).toThrow('no box');
  const others = text!.paragraphs.map((p) => ({ ...p, runs: p.runs.map((r) => ({ ...r, text: 'Oven' })) }));
  expect(() => file.write(does(file.document, set(id, 'text', { ...text!, paragraphs: others })))).toThrow(
    'not be others',
  );
});

test('a gradient in a shape of the drawing is refused', () => {
  const file = drawing('<circle cx="80" cy="80" r="30"/>');
  const { id } = only(file);
  const stops = [
    { at: 0, colour: '#000000', opacity: 1 },
    { at: 1, colour: '#ffffff', opacity: 1 },
  ];
  const gradient = { kind: 'paint', paint: { kind: 'linear', angle: 0, stops } };
  expect(() => file.write(does(file.document, set(id, 'fill', gradient)))).toThrow('A gradient cannot be written');
});

test('a drawing of the demo: only the element that is changed is written, and the page behind shows it', () => {
  const bytes = new Uint8Array(readFileSync('demo/files/firing-day-board.svg'));
  const file = openFile(bytes);
  const shapes = Object.values(file.document.items).filter(
    (i): i is FramedItem => i.kind === 'framed' && i.fill?.kind === 'paint' && i.text === null,
  );
  expect(shapes.length).toBeGreaterThan(0);
  for (const { id } of shapes) {
    const next = does(file.document, set(id, 'fill', paint('#4b7352')));
    const out = strFromU8(file.write(next));
    const [before, after] = [strFromU8(bytes).split(/(?=<)/), out.split(/(?=<)/)];
    expect(after).toHaveLength(before.length);
    expect(after.filter((tag, i) => tag !== before[i])).toHaveLength(1);
    const behind = strFromU8(file.backdrop!(1, next)!);
    expect(behind).toContain('#4b7352');
    expect(equal(openFile(strToU8(out)).document.items[id], next.items[id], 1e-4)).toBe(true);
  }
  expect(Buffer.compare(file.backdrop!(1, file.document)!, file.backdrop!(1)!)).toBe(0);
});
