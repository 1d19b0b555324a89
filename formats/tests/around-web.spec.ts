/**
 * Words and blocks around the pictures of web pages: markup by the HTML parser of `parse5`, declarations by the grammar of CSS as
 * `css-tree` has it from the specifications; what nobody touched stays byte for byte.
 */
import fc from 'fast-check';
import {
  addedId,
  applyAll,
  newPicture,
  pieceContext,
  PIECES,
  puttingPiece,
  resolveTies,
  type FramedItem,
  type Operation,
} from '@gable/core';
import * as csstree from 'css-tree';
import { parse, type DefaultTreeAdapterTypes } from 'parse5';
import { BLANKS, drawnAs, openFile, withLaidNames, type ReplacementImage } from '../src/index';
import { png } from './support/build';
import { added, LETTER, withPiece, WORDS } from './support/pieces';

type Node = DefaultTreeAdapterTypes.Node;
type Element = DefaultTreeAdapterTypes.Element;

const PIXEL =
  'data:image/png;base64,iVBORw0KGgoAAAANSUhEUgAAAAEAAAABCAYAAAAfFcSJAAAADUlEQVR42mNk+M9QDwADhgGAWjR9awAAAABJRU5ErkJggg==';
const PAGE = `<!DOCTYPE html><html><head><title>Visit</title><style>.w { width: 50%; float: left } .w + p { color: #333 }</style></head>
<body><h1>Café</h1><p>Before <img src="${PIXEL}" alt="Pots" width="300" height="200"> behind</p>
<div><img class="w" src="${PIXEL}" alt="Wheel" width="400" height="300"><p>Beside it</p></div></body></html>`;
const bytes = (text: string): Uint8Array => new TextEncoder().encode(text);
const text = (b: Uint8Array): string => new TextDecoder().decode(b);
const file = openFile(bytes(PAGE));

function* all(node: Node): Generator<Element> {
  if ('tagName' in node) yield node;
  if ('childNodes' in node) for (const child of node.childNodes) yield* all(child);
}
const attribute = (e: Element, name: string): string | undefined => e.attrs.find((a) => a.name === name)?.value;
const wordsOf = (node: Node): string =>
  'value' in node ? node.value : 'childNodes' in node ? node.childNodes.map(wordsOf).join('') : '';
const setIn = (page: string): Element =>
  [...all(parse(page))].find((e) => attribute(e, 'data-gable-set') !== undefined)!;

/** Declarations that the grammar of CSS does not know. */
function faults(page: string): string[] {
  const out: string[] = [];
  const check = (css: string, context: 'stylesheet' | 'declarationList'): void =>
    csstree.walk(csstree.parse(css, { context, onParseError: (e) => out.push(e.message) }), (node) => {
      if (node.type !== 'Declaration' || node.property.startsWith('--')) return;
      const value = csstree.generate(node.value);
      // Newer than that grammar: `all` and `translate` (CSS Cascade 4 §3.2, CSS Transforms 2 §5).
      if (node.property === 'translate' && /^0(pt)? -50%$/.test(value)) return;
      const { error } = csstree.lexer.matchProperty(node.property, node.value);
      if (error) out.push(`${node.property}: ${value}`);
    });
  for (const e of all(parse(page))) {
    const style = attribute(e, 'style');
    if (style) check(style, 'declarationList');
    if (e.tagName === 'style') check(wordsOf(e), 'stylesheet');
  }
  return out;
}

describe.each([1, 2])('picture %d', (n) => {
  test.each(PIECES.map((p) => p.name))('%s stands round it, and nothing else is written anew', (name) => {
    const next = withPiece(file, n, name);
    const out = text(file.write(next));
    const head = PAGE.indexOf('</head>');
    expect(out.slice(0, head)).toBe(PAGE.slice(0, head));
    const at = PAGE.indexOf(n === 1 ? '<img src' : '<img class');
    const end = PAGE.indexOf('>', at) + 1;
    expect(out.endsWith(PAGE.slice(end))).toBe(true);
    expect(out).toContain(PAGE.slice(head, at));
    // The image itself is as it was, in a set of its own.
    const set = setIn(out);
    expect(out).toContain(PAGE.slice(at, end));
    for (const { text: own } of added(next))
      for (const p of own?.paragraphs ?? []) expect(wordsOf(set)).toContain(p.runs.map((r) => r.text).join(''));
    expect(faults(out)).toEqual([]);
    const again = openFile(bytes(out));
    expect(again.pictures.map((p) => p.frame.shape)).toEqual(file.pictures.map((p) => p.frame.shape));
    expect(again.pictures.map((p) => p.frame.placement)).toEqual(file.pictures.map((p) => p.frame.placement));
    // Only phrasing content may stand in a paragraph (HTML §4.4.1).
    expect([...all(set)].every((e) => /^(span|img|svg|g|path|rect|defs|mask|br|use)$/.test(e.tagName))).toBe(true);
  });
});

test('undone it is the very same page', () => {
  const next = withPiece(file, 1, 'letterhead');
  const undo = added(next).map((i): Operation => ({ op: 'remove', id: i.id }));
  expect(file.write(applyAll(next, undo.reverse()).document)).toEqual(bytes(PAGE));
});

test('what the page says of an image that floats holds for the set, and its rules look past it', () => {
  const out = text(file.write(withPiece(file, 2, 'name-below')));
  const name = attribute(setIn(out), 'class')!;
  const sheet = out.slice(out.indexOf(`.${name} {`), out.indexOf('</style>', out.indexOf(`.${name} {`)));
  expect(sheet).toMatch(/float: left;/);
  expect(sheet).toMatch(/width: calc\(50% \+ 0pt\);/);
  expect(sheet).toMatch(new RegExp(`\\.${name}\\s*\\+\\s*p\\s*\\{\\s*color: ?#333`));
});

test('the markup for showing it names what was added', () => {
  const next = withPiece(file, 1, 'quote');
  const html = openFile(file.write(withLaidNames(next))).markup!(1)!;
  for (const { id } of added(next)) expect(html).toContain(`data-added="${id}"`);
  expect(text(file.write(next))).not.toContain('data-added');
});

test('whatever is typed comes back as words', () => {
  fc.assert(
    fc.property(fc.string({ unit: 'grapheme', minLength: 1, maxLength: 40 }), (typed) => {
      const said = typed.replace(/[\0\r\ufffd]|\p{Cc}|\p{Cs}|\p{Cn}/gu, 'x');
      const next = withPiece(file, 1, 'name-below');
      const [item] = added(next) as [FramedItem];
      const own = {
        ...item.text!,
        paragraphs: item.text!.paragraphs.map((p) => ({ ...p, runs: [{ ...p.runs[0]!, text: said }] })),
      };
      const changed = { ...next, items: { ...next.items, [item.id]: { ...item, text: own } } };
      expect(wordsOf(setIn(text(file.write(changed))))).toBe(said);
    }),
    { numRuns: 60 },
  );
});

test('a page of pictures handed over as a web page takes along what stands round them', async () => {
  const blank = openFile(BLANKS.pptx!({ size: { width: 400, height: 300 }, ground: null }));
  const source = {
    sha256: 'a'.repeat(64),
    name: '',
    type: 'png' as const,
    size: { width: 60, height: 40 },
    orientation: 1,
  };
  const put = (id: string, y: number): Operation => ({
    op: 'add',
    item: newPicture(id, { on: 'page', box: { x: 40, y, width: 90, height: 60 } }, source, id),
    slot: { in: { page: blank.document.pages[0]!.id }, index: 0 },
  });
  const pictures = applyAll(blank.document, [put('lower', 180), put('upper', 20)]).document;
  let count = 0;
  const newId = (): string => addedId(`below-${count++}`);
  const context = pieceContext(pictures, 'lower', { words: WORDS, letters: LETTER, newId })!;
  const made = PIECES.find((p) => p.name === 'name-below')!.items(context);
  const document = resolveTies(applyAll(pictures, puttingPiece(pictures, context, made)).document);
  const drawn = drawnAs('html', document);
  const bytes = await png(60, 40, '#ff0000');
  const image: ReplacementImage = { bytes, type: 'png', size: source.size };
  const out = text(drawn.file.write(drawn.document, new Map(['lower', 'upper'].map((id) => [id, image]))));
  // It is the second of the page, with its name below it.
  const set = setIn(out);
  expect(out.indexOf('alt="upper"')).toBeLessThan(out.indexOf('data-gable-set'));
  expect([...all(set)].find((e) => e.tagName === 'img')!.attrs).toContainEqual({ name: 'alt', value: 'lower' });
  expect(wordsOf(set)).toBe(WORDS.name);
});
