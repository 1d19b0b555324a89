/**
 * Shapes, words and grounds of a file's own that look otherwise: only what says so is written, and others find it (`pptxtojson`).
 * Orders of elements by ISO/IEC 29500-1 §19.3.1.1 (bg), §20.1.2.2.35 (spPr) and §21.1.2.3.9 (rPr).
 */
import { addedId, applyAll, FULL_SEAT, type Document, type FramedItem, type Operation, type Paint } from '@gable/core';
import { strFromU8, unzipSync } from 'fflate';
import { readFileSync } from 'node:fs';
import { parse } from 'pptxtojson';
import { BLANKS, openFile, type Source } from '../src/index';

const talk = (): Source => openFile(new Uint8Array(readFileSync('demo/files/open-day-talk.pptx')));
const solid = (colour: string): Paint => ({ kind: 'solid', colour, opacity: 1 });
const isWords = (i: unknown): i is FramedItem => (i as FramedItem).kind === 'framed' && (i as FramedItem).text !== null;
const wordsOn = ({ document }: Source, page: number): FramedItem[] =>
  document.pages[page - 1]!.items.map((id) => document.items[id]!).filter(isWords);
const changedParts = (a: Uint8Array, b: Uint8Array): string[] => {
  const [was, is] = [unzipSync(a), unzipSync(b)] as [Record<string, Uint8Array>, Record<string, Uint8Array>];
  return Object.keys(is).filter((n) => !was[n] || strFromU8(was[n]) !== strFromU8(is[n]!));
};

test('words of a slide get another colour, larger letters and another weight, and are the same words', async () => {
  const file = talk();
  const [words] = wordsOn(file, 2);
  const text = {
    ...words!.text!,
    paragraphs: words!.text!.paragraphs.map((p) => ({
      ...p,
      runs: p.runs.map((r) => ({ ...r, paint: solid('#b5482a'), size: r.size + 6, weight: 700 })),
    })),
  };
  const { document: next } = applyAll(file.document, [{ op: 'set', id: words!.id, path: 'text', value: text }]);
  const out = file.write(next);
  const again = wordsOn(openFile(out), 2)[0]!;
  expect(again).toEqual(next.items[words!.id]);
  expect(changedParts(file.write(file.document), out)).toEqual([expect.stringMatching(/slides\/slide\d+\.xml$/)]);
  const { slides } = (await parse(Uint8Array.from(out).buffer)) as { slides: { elements: { content?: string }[] }[] };
  const html = slides[1]!.elements.map((e) => e.content ?? '').join('');
  expect(html.toLowerCase()).toContain('#b5482a');
  const xml = strFromU8(unzipSync(out)['ppt/slides/slide2.xml']!);
  expect(xml).not.toMatch(/<a:latin[^>]*\/><a:solidFill>/);
});

test('a block gets another fill, a line and another place; what lies beside it is as it was', () => {
  const blank = openFile(BLANKS.pptx!({ size: { width: 720, height: 405 }, ground: null }));
  const put = (id: string, x: number): Operation => ({
    op: 'add',
    item: {
      ...{ kind: 'framed', id: addedId(id), at: { on: 'page', box: { x, y: 90, width: 144, height: 54 } }, turn: 0 },
      ...{ flip: { horizontal: false, vertical: false }, opacity: 1, alt: '', shape: { name: 'rectangle', knobs: {} } },
      ...{ seat: FULL_SEAT, outline: null, shadow: null, fill: { kind: 'paint', paint: solid('#b5482a') }, text: null },
    },
    slot: { in: { page: blank.document.pages[0]!.id }, index: 0 },
  });
  const file = openFile(blank.write(applyAll(blank.document, [put('a', 20), put('b', 300)]).document));
  const block = file.document.items[file.document.pages[0]!.items[0]!] as FramedItem;
  const outline = { paint: solid('#000000'), weight: 3, side: 'on', dash: 'dash', join: 'round', cap: 'butt' } as const;
  const box = { ...block.at.box, x: block.at.box.x + 10, width: block.at.box.width / 2 };
  const { document: next } = applyAll(file.document, [
    { op: 'set', id: block.id, path: 'fill', value: { kind: 'paint', paint: solid('#22302f') } },
    { op: 'set', id: block.id, path: 'outline', value: outline },
    { op: 'set', id: block.id, path: 'at', value: { ...block.at, box } },
  ]);
  const again = openFile(file.write(next)).document;
  expect(again.items[block.id]).toMatchObject({
    fill: { paint: solid('#22302f') },
    outline: { weight: 3, dash: 'dash' },
  });
  expect(again.items[block.id]!.at.box.width).toBeCloseTo(box.width, 3);
  const others = (d: Document): unknown => Object.values(d.items).filter((i) => i.id !== block.id);
  expect(others(again)).toEqual(others(file.document));
});

test('other words are refused, and nothing is written', () => {
  const file = talk();
  const [words] = wordsOn(file, 2);
  const { text } = words!;
  const paragraphs = text!.paragraphs.map((p) => ({ ...p, runs: p.runs.map((r) => ({ ...r, text: 'Other words' })) }));
  const { document } = applyAll(file.document, [
    { op: 'set', id: words!.id, path: 'text', value: { ...text!, paragraphs } },
  ]);
  expect(() => file.write(document)).toThrow(/but not be others/);
});

describe.each(['pptx', 'odp', 'odg'] as const)('the ground of a page of a %s', (format) => {
  const blank = (): Source => openFile(BLANKS[format]!({ size: { width: 720, height: 405 }, ground: '#ffffff' }));
  const grounded = (file: Source, paint: Paint): Document =>
    applyAll(file.document, [
      { op: 'page-set', id: file.document.pages[0]!.id, path: 'ground', value: { kind: 'paint', paint } },
    ]).document;

  test('is another colour, twice over the same style of the file, and goes back to what it was', () => {
    const file = blank();
    const dark = openFile(file.write(grounded(file, solid('#22302f'))));
    expect(dark.sheets[0]!.background).toBe('#22302f');
    const pale = openFile(dark.write(grounded(dark, solid('#f4f0e7'))));
    expect(pale.sheets[0]!.background).toBe('#f4f0e7');
    expect(file.write(file.document)).toEqual(file.write(grounded(file, solid('#ffffff'))));
    expect(changedParts(file.write(file.document), dark.write(dark.document))).toHaveLength(1);
  });
});

test('a slide takes its background before its shapes, and only that slide', () => {
  const file = talk();
  const { document } = applyAll(file.document, [
    {
      op: 'page-set',
      id: file.document.pages[2]!.id,
      path: 'ground',
      value: { kind: 'paint', paint: solid('#22302f') },
    },
  ]);
  const out = file.write(document);
  const xml = strFromU8(unzipSync(out)[changedParts(file.write(file.document), out)[0]!]!);
  expect(xml).toMatch(
    /<p:cSld[^>]*><p:bg><p:bgPr><a:solidFill><a:srgbClr val="22302F"\/><\/a:solidFill><a:effectLst\/><\/p:bgPr><\/p:bg><p:spTree>/,
  );
  const { sheets } = openFile(out);
  expect(sheets.map((s) => s.background)).toEqual(file.sheets.map((s, i) => (i === 2 ? '#22302f' : s.background)));
});

test('grounds that cannot be are refused', () => {
  const file = openFile(new Uint8Array(readFileSync('formats/tests/fixtures/odfpy.ods')));
  const { document } = applyAll(file.document, [
    {
      op: 'page-set',
      id: file.document.pages[0]!.id,
      path: 'ground',
      value: { kind: 'paint', paint: solid('#22302f') },
    },
  ]);
  expect(() => file.write(document)).toThrow(/Another ground of a page/);
});
