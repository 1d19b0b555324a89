/**
 * Words and blocks beside the pictures of texts: what is written is read back, and by others (`mammoth`, `officeparser`); order of elements by
 * ISO/IEC 29500-1 §20.4.2.3 (anchor), §17.3.1.26 (pPr) and §17.3.2.28 (rPr); ties by the rule that is stored.
 */
import fc from 'fast-check';
import {
  applyAll,
  NO_CHANGES,
  ordersFrom,
  PIECES,
  resolveTies,
  withChanges,
  type FramedItem,
  type Operation,
  type PictureItem,
} from '@gable/core';
import { strFromU8, strToU8, unzipSync, zipSync } from 'fflate';
import { readFileSync } from 'node:fs';
import mammoth from 'mammoth';
import { parseOffice } from 'officeparser';
import { openFile, withLaidNames, type Source } from '../src/index';
import { added, withPiece, WORDS } from './support/pieces';

const read = (name: string): Source => openFile(new Uint8Array(readFileSync(name)));
const DOCX = 'demo/files/season-handbook.docx';
const ODT = 'formats/tests/fixtures/odfpy.odt';

/** Shapes of a file's texts beside those that it had. */
function fresh(before: Source, bytes: Uint8Array): FramedItem[] {
  const shapes = ({ document }: Source): FramedItem[] =>
    document.stories
      .flatMap((s) => s.items.map((id) => document.items[id]!))
      .filter((i): i is FramedItem => i.kind === 'framed' && i.fill?.kind !== 'picture');
  const all = shapes(openFile(bytes));
  const known = new Set(shapes(before).map((i) => JSON.stringify([i.at.box.width, i.text])));
  return all.filter((i) => !known.has(JSON.stringify([i.at.box.width, i.text])));
}

const said = ({ at, fill, outline, text }: FramedItem): unknown => ({
  size: [at.box.width, at.box.height].map((v) => Math.round(v * 20) / 20),
  fill: fill?.kind === 'paint' ? fill.paint : null,
  line: outline && [outline.weight, outline.paint],
  text: text?.paragraphs.map((p) => [p.align, p.runs.map((r) => [r.text, r.font, r.size, r.weight >= 600, r.paint])]),
});

const EACH = [
  ['docx, in a line', DOCX, 1],
  ['docx, beside the text', DOCX, 6],
  ['odt', ODT, 1],
] as const;

describe.each(EACH)('%s', (_, path, n) => {
  const file = read(path);
  const part = path === DOCX ? 'word/document.xml' : 'content.xml';

  test.each(PIECES.map((p) => p.name))('%s is written as it is shown, and nothing else is written anew', (name) => {
    const next = withPiece(file, n, name);
    const out = file.write(next);
    const [was, is] = [file.write(file.document), out].map((b) => unzipSync(b)) as [
      Record<string, Uint8Array>,
      Record<string, Uint8Array>,
    ];
    // A name in the style of letters stands in a common style, of dashes; these have none.
    expect(Object.keys(is).filter((k) => strFromU8(is[k]!) !== strFromU8(was[k]!))).toEqual([part]);
    const inOrder = (items: FramedItem[]): string[] => items.map((i) => JSON.stringify(said(i))).sort();
    expect(inOrder(fresh(file, out))).toEqual(inOrder(added(next)));
    // Without what came, it is what it was.
    const text = strFromU8(is[part]!);
    const without =
      path === DOCX
        ? text.replace(/<w:r><mc:AlternateContent xmlns:mc="[^"]*" xmlns:wps=.*?<\/mc:AlternateContent><\/w:r>/gs, '')
        : text
            .replace(/<draw:(custom-shape|frame)[^>]* draw:style-name="Gable.*?<\/draw:\1>/gs, '')
            .replace(/<style:style[^>]* style:name="Gable\d+".*?<\/style:style>/gs, '');
    const plain = (xml: string): string =>
      xml.replace('<office:automatic-styles></office:automatic-styles>', '<office:automatic-styles/>');
    expect(plain(without)).toBe(strFromU8(was[part]!));
    expect(openFile(out).pictures.map((p) => p.frame)).toEqual(file.pictures.map((p) => p.frame));
  });

  test('undone it is the very same file', () => {
    const next = withPiece(file, n, 'letterhead');
    const undo = added(next)
      .map((i): Operation => ({ op: 'remove', id: i.id }))
      .reverse();
    expect(file.write(applyAll(next, undo).document)).toEqual(file.write(file.document));
  });

  test('others find the words', async () => {
    const out = Buffer.from(file.write(withPiece(file, n, 'letterhead')));
    // One reads the older markup of boxes of words, which stands beside them.
    const text =
      path === DOCX ? (await mammoth.extractRawText({ buffer: out })).value : (await parseOffice(out)).toText();
    for (const line of [WORDS.name, WORDS.more, WORDS.contact]) expect(text).toContain(line);
  });

  test('for laying out its pages the markup knows what was added: what lies over the text is left to the painter', () => {
    const html = openFile(file.write(withLaidNames(withPiece(file, n, 'letterhead')))).markup!(1)!;
    expect(html.match(/data-added="add-letterhead-\d+-0"(?! data-unseen)/g)).toHaveLength(1);
    expect(html.match(/data-added="add-letterhead-\d+-1" data-unseen/g)).toHaveLength(1);
  });
});

describe('beside the text', () => {
  const file = read(DOCX);
  const picture = file.document.items['p6'] as PictureItem;
  const drawn = (xml: string, words: string): string =>
    [...xml.matchAll(/<w:r><mc:AlternateContent xmlns:mc="[^"]*" xmlns:wps=.*?<\/mc:AlternateContent><\/w:r>/gs)].find(
      ([m]) => m.includes(words),
    )![0];
  const offset = (xml: string, axis: 'H' | 'V'): { from: string; at: number } => {
    const [, from, at] = new RegExp(`<wp:position${axis} relativeFrom="(\\w+)"><wp:posOffset>(-?\\d+)<`).exec(xml)!;
    return { from: from!, at: Number(at) / 12_700 };
  };
  const documentXml = (bytes: Uint8Array): string => strFromU8(unzipSync(bytes)['word/document.xml']!);

  test('words keep their gap to their picture wherever that is moved, and however large it becomes', () => {
    const next = withPiece(file, 6, 'name-below');
    const { tie } = added(next)[0]!;
    const { at } = picture;
    if (at.on !== 'anchor') throw new Error('not beside the text');
    const { outline } = picture;
    // The outline reaches over the box by half of its weight where it lies on the edge, by all of it outside.
    const reach = outline ? outline.weight * { inside: 0, on: 0.5, outside: 1 }[outline.side] : 0;
    fc.assert(
      fc.property(
        fc.record({
          x: fc.integer({ min: -100, max: 300 }),
          y: fc.integer({ min: -50, max: 400 }),
          side: fc.integer({ min: 20, max: 250 }),
        }),
        ({ x, y, side }) => {
          const moved = applyAll(next, [
            { op: 'set', id: 'p6', path: 'at', value: { ...at, box: { x, y, width: side, height: side } } },
          ]).document;
          const xml = drawn(documentXml(file.write(resolveTies(moved))), WORDS.name);
          expect(offset(xml, 'V').at).toBeCloseTo(y + side + reach + tie!.gap, 2);
          expect(offset(xml, 'V').from).toBe('paragraph');
        },
      ),
      { numRuns: 12 },
    );
  });

  test('a band goes from edge to edge of the paper, behind the text', () => {
    const next = withPiece(file, 6, 'band');
    const xml = documentXml(file.write(next));
    const band = drawn(xml, '<wps:bodyPr/>');
    expect(offset(band, 'H')).toEqual({ from: 'page', at: 0 });
    // A4 (ISO 216): 210 mm.
    expect(Number(/<wp:extent cx="(\d+)"/.exec(band)![1]) / 36_000).toBeCloseTo(210, 0);
    expect(band).toContain('<wp:wrapNone/>');
    expect(band).toContain('behindDoc="1"');
  });

  test('elements come in the order of the standard', () => {
    const xml = drawn(documentXml(file.write(withPiece(file, 6, 'name-beside'))), WORDS.name);
    const order = (names: readonly string[]): void => {
      const at = names.map((n) => xml.search(new RegExp(`<${n}[ />]`)));
      expect(at).not.toContain(-1);
      expect([...at].sort((a, b) => a - b)).toEqual(at);
    };
    order(
      'wp:simplePos wp:positionH wp:positionV wp:extent wp:effectExtent wp:wrapSquare wp:docPr wp:cNvGraphicFramePr a:graphic'.split(
        ' ',
      ),
    );
    order('wps:cNvSpPr wps:spPr wps:txbx wps:bodyPr'.split(' '));
    order('w:spacing w:ind w:jc'.split(' '));
    order('w:rFonts w:b w:i w:color w:sz w:szCs'.split(' '));
    const idsIn = (bytes: Uint8Array): string[] =>
      [...documentXml(bytes).matchAll(/<wp:docPr id="(\d+)"/g)].map((m) => m[1]!);
    const known = new Set(idsIn(file.write(file.document)));
    const ids = idsIn(file.write(withPiece(file, 6, 'quote'))).filter((id) => !known.has(id));
    expect(ids).toHaveLength(3);
    expect(new Set(ids).size).toBe(ids.length);
  });

  test('it is stored beside the file, and stands where it stood when that is read', () => {
    const next = withPiece(file, 1, 'ring', withPiece(file, 6, 'letterhead'));
    const items = Object.fromEntries(added(next).map((i) => [i.id, i]));
    const stored = { ...NO_CHANGES, items, orders: ordersFrom(file.document, next) };
    expect(withChanges(file.document, stored)).toEqual(next);
  });

  test('what stood round a picture that is gone is gone, and so does nothing that stands elsewhere', () => {
    const next = withPiece(file, 1, 'name-below', withPiece(file, 6, 'name-beside'));
    const { document } = applyAll(next, [{ op: 'remove', id: 'p6' }]);
    const left = fresh(file, file.write(document));
    expect(left.map((i) => i.text?.paragraphs.length)).toEqual([1]);
  });

  test('before the picture it lies under it, behind it over it', () => {
    const next = withPiece(file, 6, 'letterhead');
    const [band, text] = added(next);
    const at = (i: FramedItem | undefined): boolean | undefined =>
      i?.at.on === 'anchor' ? i.at.anchor?.behind : undefined;
    expect([at(band), at(text)]).toEqual([true, false]);
  });
});

test('words in a font of the theme follow it (§17.18.96, ST_Theme), those in another do not', () => {
  const file = read(DOCX);
  const next = withPiece(file, 6, 'name-below');
  const [words] = added(next);
  // The theme of the handbook is set in Georgia.
  const inFont = (font: string): Uint8Array => {
    const paragraphs = words!.text!.paragraphs.map((p) => ({ ...p, runs: p.runs.map((r) => ({ ...r, font })) }));
    const value = { ...words!.text!, paragraphs };
    return file.write(applyAll(next, [{ op: 'set', id: words!.id, path: 'text', value }]).document);
  };
  const fontAfter = (bytes: Uint8Array): string => {
    const parts = unzipSync(bytes);
    const theme = strFromU8(parts['word/theme/theme1.xml']!).replaceAll('typeface="Georgia"', 'typeface="Odd"');
    const changed = zipSync({ ...parts, 'word/theme/theme1.xml': strToU8(theme) });
    const item = Object.values(openFile(changed).document.items).find(
      (i) => i.kind === 'framed' && i.text?.paragraphs[0]?.runs[0]?.text === 'Maren Holt',
    ) as FramedItem;
    return item.text!.paragraphs[0]!.runs[0]!.font;
  };
  expect(fontAfter(inFont('Georgia'))).toBe('Odd');
  expect(fontAfter(inFont('Calibri'))).toBe('Calibri');
  expect(strFromU8(unzipSync(inFont('Georgia'))['word/document.xml']!)).toContain('w:asciiTheme="minorHAnsi"');
});
