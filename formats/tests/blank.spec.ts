/**
 * Files with one empty page, as others read them: `mammoth` and `docx-preview`'s rules for texts, `pptxtojson` for slides,
 * `officeparser` for OpenDocument, `parse5` and `@resvg/resvg-js` for the web. Sheets by ISO 216 and ANSI/ASME Y14.1.
 */
import { applyAll, newPicture, parsePage, parseSize, type Holder, type Position } from '@gable/core';
import { Resvg } from '@resvg/resvg-js';
import { strFromU8, unzipSync } from 'fflate';
import mammoth from 'mammoth';
import { parse as parseHtml } from 'parse5';
import { parse } from 'pptxtojson';
import { BLANKS, CAPABILITIES, openFile, type Format } from '../src/index';
import { png } from './support/build';

const A4 = { width: (210 / 25.4) * 72, height: (297 / 25.4) * 72 };
const page = { size: A4, ground: '#22302f' };
const formats = Object.keys(BLANKS) as Format[];

test('pages by name and by size', () => {
  const inches = (text: string): number[] => {
    const { width, height } = parsePage(text);
    return [width / 72, height / 72].map((v) => Math.round(v * 1000) / 1000);
  };
  expect(inches('A4')).toEqual([8.268, 11.693]);
  expect(inches('a5 landscape')).toEqual([8.268, 5.827]);
  expect(inches('letter')).toEqual([8.5, 11]);
  expect(inches('16:9')).toEqual([13.333, 7.5]);
  // A pixel is a 96th of an inch (CSS Values 4 §6.2).
  expect(inches('1080x1080px')).toEqual([11.25, 11.25]);
  expect(inches('200 mm × 100 mm')).toEqual([7.874, 3.937]);
  expect(parseSize('40px x 20px')).toEqual({ width: 30, height: 15 });
  for (const bad of ['A4 upside', '16:9 landscape', 'nothing', '0x5mm']) expect(() => parsePage(bad)).toThrow();
});

test.each(formats)('%s: opens as its kind, without pictures, the same each time', (format) => {
  const bytes = BLANKS[format]!(page);
  const file = openFile(bytes);
  expect([file.format, file.pictures]).toEqual([format, []]);
  expect(BLANKS[format]!(page)).toEqual(bytes);
  const [sheet] = file.document.pages;
  if (CAPABILITIES[format].pages === 'fixed') {
    expect(sheet!.size.width).toBeCloseTo(A4.width, 1);
    expect(sheet!.size.height).toBeCloseTo(A4.height, 1);
    if (format !== 'svg')
      expect(sheet!.ground).toMatchObject({ kind: 'paint', paint: { kind: 'solid', colour: '#22302f' } });
  } else expect(file.document.stories).toHaveLength(1);
});

test.each(formats)('%s: a picture is put into it, and is there', async (format) => {
  const file = openFile(BLANKS[format]!({ ...page, ground: null }));
  const size = { width: 60, height: 40 };
  const box = { x: 20, y: 30, width: 90, height: 60 };
  const inText = { ...box, x: 0, y: 0 };
  const places = {
    text: { on: 'line', box: inText, after: 0 },
    web: { on: 'element', box: inText, after: 0 },
    page: { on: 'page', box },
    front: { on: 'page', box },
  } satisfies Partial<Record<string, Position>>;
  const at = places[CAPABILITIES[format].insert as keyof typeof places];
  const { pages, stories } = file.document;
  const holder: Holder = pages[0] ? { page: pages[0].id } : { story: stories[0]!.id };
  const source = { sha256: '0'.repeat(64), name: 'p.png', type: 'png', size, orientation: 1 };
  const item = newPicture('new', at, source, 'A bowl');
  const next = applyAll(file.document, [{ op: 'add', item, slot: { in: holder, index: 0 } }]).document;
  const image = { bytes: await png(60, 40), type: 'png' as const, size };
  const { pictures } = openFile(file.write(next, new Map([['new', image]])));
  expect(pictures.map((p) => [p.frame.alt, p.problem])).toEqual([['A bowl', null]]);
  expect(pictures[0]!.frame.box.width).toBeCloseTo(90, 6);
});

describe('others read them', () => {
  test('a text document', async () => {
    const bytes = BLANKS.docx!(page);
    expect((await mammoth.convertToHtml({ buffer: Buffer.from(bytes) })).messages).toEqual([]);
    const { 'word/document.xml': text, 'word/settings.xml': settings } = unzipSync(bytes);
    // 210 × 297 mm in twentieths of a point.
    expect(strFromU8(text!)).toContain('<w:pgSz w:w="11906" w:h="16838"/>');
    expect(strFromU8(text!)).toContain('<w:background w:color="22302F"/>');
    expect(strFromU8(settings!)).toContain('<w:displayBackgroundShape/>');
  });

  test('slides', async () => {
    const wide = parsePage('16:9');
    const bytes = BLANKS.pptx!({ size: wide, ground: '#22302f' });
    const deck = await parse(bytes.slice().buffer);
    expect([deck.size.width, deck.size.height, deck.slides.length]).toEqual([960, 540, 1]);
    expect(deck.slides[0]!.fill).toMatchObject({ type: 'color', value: '#22302f' });
    // Every target of a relationship is there, and every part has a type.
    const parts = unzipSync(bytes);
    const types = strFromU8(parts['[Content_Types].xml']!);
    for (const [name, data] of Object.entries(parts)) {
      if (!name.endsWith('.rels')) continue;
      const folder = name.replace(/_rels\/[^/]*$/, '');
      for (const [, target] of strFromU8(data).matchAll(/Target="([^"]+)"/g)) {
        const at = new URL(target!, `http://x/${folder}`).pathname.slice(1);
        expect(parts[at]).toBeDefined();
        expect(types).toContain(`PartName="/${at}"`);
      }
    }
  });

  test.each(['odt', 'odp', 'odg'] as const)('%s begins with its kind, as it is (ODF 1.2 Part 3 §3.3)', (format) => {
    const bytes = BLANKS[format]!(page);
    const head = strFromU8(bytes.subarray(30, 100));
    expect(head).toMatch(/^mimetypeapplication\/vnd\.oasis\.opendocument\./);
    const manifest = strFromU8(unzipSync(bytes)['META-INF/manifest.xml']!);
    for (const name of ['/', 'content.xml', 'styles.xml']) expect(manifest).toContain(`manifest:full-path="${name}"`);
  });

  test('a drawing and a page', () => {
    const size = { width: 75, height: 60 };
    const image = new Resvg(Buffer.from(BLANKS.svg!({ size, ground: '#22302f' }))).render();
    expect([image.width, image.height, ...image.pixels.subarray(0, 4)]).toEqual([100, 80, 0x22, 0x30, 0x2f, 255]);
    const errors: string[] = [];
    parseHtml(strFromU8(BLANKS.html!(page)), { onParseError: ({ code }) => errors.push(code) });
    expect(errors).toEqual([]);
  });
});
