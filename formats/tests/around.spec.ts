/**
 * Words and blocks put on pages: what is written is read back, in all that the format has terms for, and by others:
 * `pptxtojson` for slides, `officeparser` for OpenDocument, `@resvg/resvg-js` for drawings. Orders of elements by ISO/IEC 29500-1
 * §20.1.2.2.35 and §21.1.2.3.9.
 */
import fc from 'fast-check';
import { addedId, applyAll, FULL_SEAT, type Document, type FramedItem, type Paint, type Text } from '@gable/core';
import { Resvg } from '@resvg/resvg-js';
import { strFromU8, unzipSync } from 'fflate';
import { parseOffice } from 'officeparser';
import { parse } from 'pptxtojson';
import { readFileSync } from 'node:fs';
import { BLANKS, openFile, type Format, type Source } from '../src/index';

const SIZE = { width: 720, height: 540 };
const blank = (format: Format): Source => openFile(BLANKS[format]!({ size: SIZE, ground: null }));
const solid = (colour: string, opacity = 1): Paint => ({ kind: 'solid', colour, opacity });

const words = (...lines: string[]): Text => ({
  ...{ anchor: 'bottom', inset: { top: 2, right: 4, bottom: 6, left: 8 } },
  paragraphs: lines.map((text, i) => ({
    align: (['start', 'centre', 'end'] as const)[i % 3]!,
    runs: [
      {
        text,
        font: 'Georgia',
        size: 18 + i,
        weight: i === 0 ? 700 : 400,
        italic: i === 1,
        underline: i === 2,
        paint: solid('#b5482a'),
      },
    ],
  })),
});
const item = (id: string, more: Partial<FramedItem> = {}): FramedItem => ({
  ...{ kind: 'framed', id: addedId(id), at: { on: 'page', box: { x: 72, y: 90, width: 144, height: 54 } }, turn: 0 },
  ...{ flip: { horizontal: false, vertical: false }, opacity: 1, alt: '', shape: { name: 'rectangle', knobs: {} } },
  ...{ seat: FULL_SEAT, outline: null, shadow: null, fill: null, text: null },
  ...more,
});
const withItems = (file: Source, ...items: readonly { item: FramedItem; index: number }[]): Document =>
  applyAll(
    file.document,
    items.map(({ item, index }) => ({
      op: 'add' as const,
      item,
      slot: { in: { page: file.document.pages[0]!.id }, index },
    })),
  ).document;
const framed = (bytes: Uint8Array): FramedItem[] => {
  const { document } = openFile(bytes);
  return document.pages[0]!.items.map((id) => document.items[id]!).filter((i): i is FramedItem => i.kind === 'framed');
};

/** What both an item and what was read of it say. */
const said = ({ at, turn, fill, outline, text, alt }: FramedItem): unknown => ({
  box: Object.fromEntries(Object.entries(at.box).map(([k, v]) => [k, Math.round(v * 50) / 50])),
  turn: Math.round(turn * 100) / 100,
  fill: fill?.kind === 'paint' ? fill.paint : null,
  line: outline && [outline.weight, outline.paint, outline.dash],
  alt,
  text: text && [
    text.anchor,
    Object.values(text.inset).map((v) => Math.round(v * 50) / 50),
    text.paragraphs.map((p) => [
      p.align,
      p.runs.map((r) => [r.text, r.font, r.size, r.weight >= 600, r.italic, r.underline, r.paint]),
    ]),
  ],
});

const PACKED = ['pptx', 'odp', 'odg'] as const;

describe.each(PACKED)('a %s', (format) => {
  test('has words and blocks in their order, and nothing else is another', () => {
    const file = blank(format);
    const block = item('block', { fill: { kind: 'paint', paint: solid('#22302f', 0.5) }, alt: 'A block' });
    const text = item('text', { text: words('Maren Holt', 'Potter & maker', 'since 1998'), turn: 12 });
    const before = file.write(file.document);
    const out = file.write(withItems(file, { item: block, index: 0 }, { item: text, index: 1 }));
    expect(framed(out).map(said)).toEqual([said(block), said(text)]);
    const [was, is] = [unzipSync(before), unzipSync(out)];
    const changed = Object.keys(is).filter((n) => !was[n] || strFromU8(was[n]) !== strFromU8(is[n]!));
    expect(changed).toHaveLength(1);
    expect(Object.keys(is)).toEqual(Object.keys(was));
  });

  test('has random words and blocks as they were', () => {
    const file = blank(format);
    const length = fc.integer({ min: 1, max: 400 });
    const colour = fc.constantFrom('#ffffff', '#22302f', '#b5482a', '#000000');
    const letters = fc
      .string({ unit: fc.constantFrom(...'aZ é&<>"\'–. 漢'), minLength: 1, maxLength: 12 })
      .filter((s) => s.trim() === s && !s.includes('  '));
    const box = fc.record({ x: length, y: length, width: length, height: length });
    const run = fc.record({
      text: letters,
      font: fc.constantFrom('Calibri', 'Arial'),
      size: fc.integer({ min: 6, max: 60 }),
      weight: fc.constantFrom(400, 700),
      italic: fc.boolean(),
      underline: fc.boolean(),
      paint: colour.map((c) => solid(c)),
    });
    const text = fc.record({
      anchor: fc.constantFrom('top' as const, 'middle' as const, 'bottom' as const),
      inset: fc.record({
        top: fc.integer({ min: 0, max: 20 }),
        right: fc.integer({ min: 0, max: 20 }),
        bottom: fc.integer({ min: 0, max: 20 }),
        left: fc.integer({ min: 0, max: 20 }),
      }),
      paragraphs: fc.array(
        fc.record({
          align: fc.constantFrom('start' as const, 'centre' as const, 'end' as const, 'justify' as const),
          runs: fc.array(run, { minLength: 1, maxLength: 2 }),
        }),
        { minLength: 1, maxLength: 3 },
      ),
    });
    const line = fc.record({ weight: fc.integer({ min: 1, max: 12 }), colour }).map(({ weight, colour: c }) => ({
      ...{
        paint: solid(c),
        weight,
        side: 'on' as const,
        dash: 'solid' as const,
        join: 'round' as const,
        cap: 'butt' as const,
      },
    }));
    const any = fc.record({
      at: box.map((b) => ({ on: 'page' as const, box: b })),
      turn: fc.integer({ min: 0, max: 359 }),
      shape: fc.constantFrom('rectangle', 'circle', 'ellipse').map((name) => ({ name, knobs: {} })),
      fill: fc.option(colour.map((c) => ({ kind: 'paint' as const, paint: solid(c) }))),
      outline: fc.option(line),
      text: fc.option(text),
    });
    fc.assert(
      fc.property(fc.array(any, { minLength: 1, maxLength: 4 }), (all) => {
        // What shows nothing at all is no item to some readers.
        const items = all.map((more, i) =>
          item(`i${i}`, { ...more, fill: more.fill ?? { kind: 'paint', paint: solid('#ffffff') } }),
        );
        const out = file.write(withItems(file, ...items.map((one, index) => ({ item: one, index }))));
        expect(framed(out).map(said)).toEqual(items.map(said));
      }),
      { numRuns: 25 },
    );
  });
});

test('slides: others find words, fills and lines, and ids that no other has', async () => {
  const file = openFile(new Uint8Array(readFileSync('demo/files/open-day-talk.pptx')));
  const page = file.document.pages[0]!;
  const block = item('block', {
    fill: { kind: 'paint', paint: solid('#b5482a') },
    shape: { name: 'ellipse', knobs: {} },
  });
  const text = item('text', { text: words('Found by others') });
  const at = page.items.length;
  const out = file.write(withItems(file, { item: block, index: 0 }, { item: text, index: at + 1 }));
  const { slides } = (await parse(Uint8Array.from(out).buffer)) as {
    slides: {
      elements: {
        type: string;
        content?: string;
        fill?: { value: string };
        order: number;
        left: number;
        top: number;
      }[];
    }[];
  };
  const elements = slides[0]!.elements;
  const named = elements.find((e) => e.content?.replaceAll('&nbsp;', ' ').includes('Found by others'))!;
  expect([named.left, named.top]).toEqual([expect.closeTo(72, 0), expect.closeTo(90, 0)]);
  const ellipse = elements.find((e) => e.fill?.value?.toLowerCase() === '#b5482a')!;
  expect(ellipse.order).toBeLessThan(named.order);
  const xml = strFromU8(Object.entries(unzipSync(out)).find(([n]) => /slides\/slide1\.xml$/.test(n))![1]);
  const ids = [...xml.matchAll(/<p:cNvPr id="(\d+)"/g)].map((m) => m[1]);
  expect(new Set(ids).size).toBe(ids.length);
  expect(xml).toMatch(
    /<p:spPr><a:xfrm>.*?<\/a:xfrm><a:prstGeom[^>]*>.*?<\/a:prstGeom><a:solidFill>.*?<\/a:solidFill><a:ln>/s,
  );
  // What lay there lies there still, in its order, between them.
  const again = openFile(out);
  expect(again.document.pages[0]!.items).toHaveLength(at + 2);
  expect(again.pictures.map((p) => p.frame)).toEqual(file.pictures.map((p) => p.frame));
});

test('OpenDocument: others find the words', async () => {
  const file = blank('odp');
  const out = file.write(
    withItems(file, { item: item('text', { text: words('Found by others', 'Second') }), index: 0 }),
  );
  const read = await parseOffice(Buffer.from(out));
  expect(read.toText()).toContain('Found by others');
});

describe('a drawing', () => {
  const at = (out: Uint8Array): ((x: number, y: number) => number[]) => {
    const image = new Resvg(Buffer.from(out), {
      fitTo: { mode: 'width', value: 720 },
      font: { loadSystemFonts: false },
    }).render();
    return (x, y) => [...image.pixels.subarray((y * image.width + x) * 4, (y * image.width + x) * 4 + 3)];
  };

  test('is read again with its blocks at their places in their colours, and its words in theirs', () => {
    const file = blank('svg');
    const block = item('block', { fill: { kind: 'paint', paint: solid('#b5482a') } });
    const text = item('text', { text: words('Found again') });
    const out = file.write(withItems(file, { item: block, index: 0 }, { item: text, index: 1 }));
    const again = framed(out);
    const painted = again.find((i) => i.fill)!;
    expect(painted.fill).toEqual(block.fill);
    for (const side of ['x', 'y', 'width', 'height'] as const)
      expect(painted.at.box[side]).toBeCloseTo(block.at.box[side], 2);
    const [run] = text.text!.paragraphs[0]!.runs;
    const read = again.find((i) => i.text)!.text!.paragraphs[0]!.runs[0]!;
    expect(read).toMatchObject({ text: run!.text, weight: run!.weight, paint: run!.paint });
    expect(read.size).toBeCloseTo(run!.size, 2);
  });

  test('has blocks where they were put, one over the other, over and under what is there', () => {
    const file = openFile(
      new TextEncoder().encode(
        '<svg xmlns="http://www.w3.org/2000/svg" width="720pt" height="540pt" viewBox="0 0 360 270"><style>path{stroke:red;fill:blue}</style><rect x="50" y="50" width="50" height="20" fill="#00ff00"/></svg>',
      ),
    );
    const under = item('under', { fill: { kind: 'paint', paint: solid('#b5482a') } });
    const over = item('over', {
      fill: { kind: 'paint', paint: solid('#22302f') },
      at: { on: 'page', box: { x: 150, y: 100, width: 30, height: 20 } },
    });
    const out = file.write(withItems(file, { item: under, index: 0 }, { item: over, index: 2 }));
    const pixel = at(out);
    // In the block alone, where the green rectangle lies on it, and in the block over both.
    expect([pixel(80, 95), pixel(110, 120), pixel(165, 110)]).toEqual([
      [0xb5, 0x48, 0x2a],
      [0, 255, 0],
      [0x22, 0x30, 0x2f],
    ]);
  });

  test('has words in lines that others set about the same end or middle', () => {
    const file = blank('svg');
    const text = words('One', 'a caption that is too long for a line of its box', 'Three');
    const xml = new TextDecoder().decode(
      file.write(
        withItems(file, {
          item: item('t', { text, alt: 'Said', at: { on: 'page', box: { x: 72, y: 90, width: 144, height: 200 } } }),
          index: 0,
        }),
      ),
    );
    const lines = [
      ...xml.matchAll(/<text [^>]*x="([\d.]+)" y="([\d.]+)" style="text-anchor:(\w+)[^>]*>(.*?)<\/text>/g),
    ];
    expect(lines[0]!.slice(1, 4)).toEqual(['8', expect.any(String), 'start']);
    // The middle of the room between the insets: 8 + (144 − 12) / 2.
    expect(lines[1]![1]).toBe('74');
    expect(lines.at(-1)!.slice(1, 4)).toEqual(['140', expect.any(String), 'end']);
    expect(lines.length).toBeGreaterThan(4);
    const ys = lines.map((l) => Number(l[2]));
    expect([...ys].sort((a, b) => a - b)).toEqual(ys);
    expect(xml).toContain('<title>Said</title>');
    expect(lines.map((l) => l[4]!.replace(/<[^>]*>/g, '').trim()).join(' ')).toBe(
      'One a caption that is too long for a line of its box Three',
    );
  });
});
