/**
 * Sections of web pages: markup by the HTML parser of `parse5` (what may stand where: HTML §3.2.5.2, §4.3), declarations by the grammar
 * of CSS as `css-tree` has it; what nobody touched stays byte for byte.
 */
import {
  applyAll,
  itemIdOf,
  pieceContext,
  PIECES,
  puttingPiece,
  resolveTies,
  shapedFor,
  SECTION_EDGES,
} from '@gable/core';
import { addedId, edgePath, parseSvgPath, bounds, WAITING, type Document, type Frame, type Section } from '@gable/core';
import * as csstree from 'css-tree';
import { parse, type DefaultTreeAdapterTypes } from 'parse5';
import { openFile, withFrames, type Source } from '../src/index';

type Node = DefaultTreeAdapterTypes.Node;
type Element = DefaultTreeAdapterTypes.Element;

const PIXEL =
  'data:image/png;base64,iVBORw0KGgoAAAANSUhEUgAAAAEAAAABCAYAAAAfFcSJAAAADUlEQVR42mNk+M9QDwADhgGAWjR9awAAAABJRU5ErkJggg==';
const IMAGE = `<img src="${PIXEL}" alt="Harbour" width="400" height="300">`;
const page = (around: (image: string) => string): string =>
  `<!DOCTYPE html><html><head><title>Visit</title></head>\n<body><main><h1>Visit us</h1>${around(IMAGE)}<p>Open at ten.</p></main></body></html>`;
const ALONE = page((i) => `<p>${i}</p>`);
const bytes = (text: string): Uint8Array => new TextEncoder().encode(text);
const text = (b: Uint8Array): string => new TextDecoder().decode(b);

function* all(node: Node): Generator<Element> {
  if ('tagName' in node) yield node;
  if ('childNodes' in node) for (const child of node.childNodes) yield* all(child);
}
const attribute = (e: Element, name: string): string | undefined => e.attrs.find((a) => a.name === name)?.value;
const wordsOf = (node: Node): string =>
  'value' in node ? node.value : 'childNodes' in node ? node.childNodes.map(wordsOf).join('') : '';
const sections = (html: string): Element[] => [...all(parse(html))].filter((e) => e.tagName === 'section');
const sheetOf = (e: Element): csstree.DeclarationList =>
  csstree.parse(attribute(e, 'style') ?? '', { context: 'declarationList' }) as csstree.DeclarationList;
const declared = (e: Element): Record<string, string> =>
  Object.fromEntries(
    sheetOf(e)
      .children.toArray()
      .flatMap((d) => (d.type === 'Declaration' ? [[d.property, csstree.generate(d.value)]] : [])),
  );

/** The file with a section of its first picture. */
function withSection(file: Source, change: Partial<Section> = {}, words = true): Document {
  let count = 0;
  const picture = file.pictures[0]!;
  const piece = PIECES.find((p) => p.name === 'section')!;
  const newId = (): string => addedId(`section-${count++}`);
  const known = { words: { ...WAITING, heading: 'Open day', more: 'Every Friday' }, newId, sections: true };
  const laid = {
    page: { width: 885, height: 600 },
    box: { x: 100, y: 80, width: 300, height: 225 },
    margins: { left: 100, right: 100 },
  };
  const context = pieceContext(file.document, itemIdOf(picture), { ...known, laid })!;
  const { frame, context: around } = shapedFor(piece, context, { ...picture });
  const next: Frame = { ...frame, section: { ...frame.section!, ...change } };
  const framed = withFrames(file, [next]);
  return words ? resolveTies(applyAll(framed, puttingPiece(framed, around, piece.items(around))).document) : framed;
}
const written = (html: string, change: Partial<Section> = {}, words = true): string => {
  const file = openFile(bytes(html));
  return text(file.write(withSection(file, change, words)));
};

test('a picture by itself becomes the ground of a section, with a real heading and paragraphs; the rest stays to the letter', () => {
  const out = written(ALONE);
  const [section, ...others] = sections(out);
  expect(others).toEqual([]);
  expect((section!.parentNode as Element).tagName).toBe('main');
  const of = (tag: string): string[] => [...all(section!)].filter((e) => e.tagName === tag).map(wordsOf);
  expect(of('h2')).toEqual(['Open day']);
  expect(of('p')).toEqual(['Every Friday']);
  expect(of('img')).toHaveLength(1);
  // The paragraph that only held it is gone; the image is as it was.
  expect(out).toContain(IMAGE);
  const at = ALONE.indexOf(`<p>${IMAGE}`);
  expect(out).toContain(`${ALONE.slice(ALONE.indexOf('<body'), at)}<section`);
  expect(out.endsWith(ALONE.slice(at + `<p>${IMAGE}</p>`.length))).toBe(true);
  expect(out).not.toMatch(/<script| id="| class="(?!gable-)/);
  // From edge to edge, as high as is said, and without a scroll bar for what reaches beyond the column.
  expect(declared(section!)).toMatchObject({
    'min-height': '330pt',
    contain: 'layout',
    position: 'relative',
    all: 'initial',
  });
  const ground = [...all(section!)].find((e) => attribute(e, 'data-gable-ground') !== undefined)!;
  expect(declared(ground)).toMatchObject({ position: 'absolute', inset: '0 calc(50% - 50vw)' });
});

test('what is written is known to the grammar of CSS', () => {
  const edge = { shape: 'wave', size: 40, colour: '#f4f0e7' } as const;
  const faults: string[] = [];
  for (const e of all(sections(written(ALONE, { share: 0.5, above: edge, below: { ...edge, mirrored: true } }))[0]!))
    for (const d of sheetOf(e).children.toArray())
      if (d.type === 'Declaration' && d.property !== 'all') {
        // Newer than that grammar: lengths of small windows (CSS Values 4 §6.1.2).
        const value = csstree.generate(d.value).replaceAll('svh', 'vh');
        const { error } = csstree.lexer.matchProperty(d.property, value);
        if (error) faults.push(`${d.property}: ${value}`);
      }
  expect(faults).toEqual([]);
});

test('opened again its frame is the one of before, and what stands in it stays when that changes', () => {
  const first = openFile(bytes(written(ALONE)));
  const { frame } = first.pictures[0]!;
  expect(frame.section).toEqual({ share: 0, wide: true });
  expect(first.pictures[0]!.sections).toBe(true);
  const edge = { shape: 'arch', size: 40, colour: '#f4f0e7' } as const;
  const second = first.write(
    withFrames(first, [
      { ...frame, box: { ...frame.box, height: 200 }, section: { ...frame.section!, below: edge }, alt: 'The harbour' },
    ]),
  );
  const [section] = sections(text(second));
  expect(wordsOf(section!)).toContain('Open dayEvery Friday');
  expect(declared(section!)['min-height']).toBe('200pt');
  const edges = (html: string): string[] =>
    [...all(parse(html))]
      .filter((e) => attribute(e, 'data-gable-edge') !== undefined)
      .map((e) => attribute(e, 'style')!);
  expect(edges(text(second))).toHaveLength(1);
  // Another edge takes its place, and none is left over.
  const third = openFile(second);
  const now = third.pictures[0]!.frame;
  const plain = third.write(withFrames(third, [{ ...now, section: { share: 0, wide: false } }]));
  expect(edges(text(plain))).toEqual([]);
  expect(openFile(plain).pictures[0]!.frame.section).toEqual({ share: 0, wide: false });
  // Back to what it was, it is the same page but for the digits of the frame.
  const bare = (html: string): string => html.replace(/data-gable="[^"]*"/g, '');
  const back = openFile(plain);
  const again = text(
    back.write(withFrames(back, [{ ...back.pictures[0]!.frame, box: frame.box, section: frame.section! }])),
  );
  expect(bare(again).replace('alt="The harbour"', 'alt="Harbour"')).toBe(bare(text(first.write(first.document))));
});

test('where its page no longer says what Gable knew, the section stays as it is', () => {
  const html = written(ALONE).replace(/ data-gable="[^"]*"/, ' data-gable=""');
  const file = openFile(bytes(html));
  const { frame } = file.pictures[0]!;
  expect(frame.section).toBeUndefined();
  const out = text(file.write(withFrames(file, [{ ...frame, shape: { name: 'ellipse', knobs: {} } }])));
  const [was, is] = [html, out].map((page) => sections(page)[0]!);
  expect(attribute(is!, 'style')).toBe(attribute(was!, 'style'));
  expect(wordsOf(is!)).toBe('Open dayEvery Friday');
  expect(out).toContain('ellipse(50% 50% at 50% 50%)');
});

test('more words come behind those that are there; taken out, the words stay', () => {
  const first = openFile(bytes(written(ALONE)));
  const out = text(first.write(withSection(first)));
  const [section, ...others] = sections(out);
  expect(others).toEqual([]);
  expect([...all(section!)].filter((e) => e.tagName === 'h2')).toHaveLength(2);
  const gone = applyAll(first.document, [{ op: 'remove', id: 'p1' }]).document;
  const left = text(first.write(gone));
  expect(left).not.toContain('<img');
  expect(left).not.toContain('data-gable-ground');
  expect(wordsOf(sections(left)[0]!)).toBe('Open dayEvery Friday');
});

test.each([
  ['among words', page((i) => `<p>Before ${i} behind</p>`)],
  ['in a link', page((i) => `<div><a href="#">${i}</a></div>`)],
  ['in a heading', page((i) => `<h2>${i}</h2>`)],
])('%s no section can stand: it is not offered, and refused', (_where, html) => {
  const file = openFile(bytes(html));
  expect(file.pictures[0]!.sections).toBeUndefined();
  expect(() => written(html)).toThrow(expect.objectContaining({ code: 'cannot-write' }));
});

test('in a cell, in a figure and in a page without a head', () => {
  for (const html of [
    page((i) => `<table><tr><td>${i}</td></tr></table>`),
    page((i) => `<figure>${i}<figcaption>By the sea</figcaption></figure>`),
    `<!doctype html><h1>Visit us</h1><p>${IMAGE}</p><p>Open at ten.</p>`,
  ]) {
    const out = written(html);
    expect(sections(out)).toHaveLength(1);
    expect([...all(sections(out)[0]!)].filter((e) => e.tagName === 'h2')).toHaveLength(1);
    for (const words of ['Visit us', 'Open at ten.', ...(html.includes('By the sea') ? ['By the sea'] : [])])
      expect(out).toContain(words);
    expect(openFile(bytes(out)).pictures[0]!.frame.section).toBeDefined();
  }
});

test('without words it is a picture from edge to edge; without a section headings say what they are by their role', () => {
  expect(wordsOf(sections(written(ALONE, {}, false))[0]!)).toBe('');
  const file = openFile(bytes(page((i) => `<p>Before ${i} behind</p>`)));
  let count = 0;
  const known = { words: WAITING, newId: (): string => addedId(`h-${count++}`) };
  const context = pieceContext(file.document, 'p1', known)!;
  const made = PIECES.find((p) => p.name === 'heading-over')!.items(context);
  const leveled = made.map((m) => ({
    ...m,
    item: m.item.text
      ? { ...m.item, text: { ...m.item.text, paragraphs: m.item.text.paragraphs.map((p) => ({ ...p, level: 3 })) } }
      : m.item,
  }));
  const out = text(
    file.write(resolveTies(applyAll(file.document, puttingPiece(file.document, context, leveled)).document)),
  );
  expect(out).toMatch(/<span style="[^"]*" role="heading" aria-level="3">/);
});

test('edges fill their box from one side to the other, down to its lower edge', () => {
  for (const edge of SECTION_EDGES) {
    const b = bounds(parseSvgPath(edgePath({ shape: edge.name })));
    expect([b.x, b.x + b.width, b.y + b.height]).toEqual([0, 100, expect.closeTo(10, 6)]);
    expect(b.y).toBeGreaterThan(-0.01);
  }
});

test('copied out it needs nothing of its page: its rules, its picture, and names of its own', () => {
  const snippets = [{}, { wide: false }].map((change) => openFile(bytes(written(ALONE, change))).snippet!(1)!);
  for (const html of snippets) {
    const [section, ...others] = sections(html);
    expect(others).toEqual([]);
    expect(wordsOf(section!)).toBe('Open dayEvery Friday');
    expect(html).not.toMatch(/data-gable="|<main|<title/);
    const names = [...new Set([...html.matchAll(/class="([^"]+)"/g)].map(([, name]) => name!))];
    expect(names).toHaveLength(1);
    expect(html).toContain(`.${names[0]} img {`);
  }
  const nameIn = (html: string): string => /class="([^"]+)"/.exec(html)![1]!;
  expect(nameIn(snippets[0]!)).toMatch(/^gable-1-[0-9a-f]{8}$/);
  expect(openFile(bytes(ALONE)).snippet!(1)).toBeNull();
});
