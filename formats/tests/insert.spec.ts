/**
 * Pictures put into files without any, and into places of files that have some. What comes of it is read by others: `exceljs`
 * for workbooks, `mammoth` for texts, `parse5` for pages; texts, tables and slides of OpenDocument by clauses of ODF 1.2
 * Part 1, by hand.
 */
import { applyAll, isPictureItem, newPicture, type Document, type Holder, type Position } from '@gable/core';
import { Document as DocxDocument, Packer, Paragraph, Table, TableCell, TableRow } from 'docx';
import ExcelJs from 'exceljs';
import { strFromU8, strToU8, unzipSync, zipSync } from 'fflate';
import mammoth from 'mammoth';
import { readFileSync } from 'node:fs';
import { BLANKS, openFile, type ReplacementImage, type Source } from '../src/index';
import { buildDocument, png } from './support/build';
import { buildOpen } from './support/open';
import { TILE, tileImage } from './support/tile';

let image: ReplacementImage;
beforeAll(async () => {
  image = await tileImage();
});

/** A file with pictures at places of one of its holders. */
function put(bytes: Uint8Array, places: readonly Position[], page = 1): Uint8Array {
  const file = openFile(bytes);
  const holder = (d: Document): Holder =>
    d.pages.length > 0 ? { page: d.pages[page - 1]!.id } : { story: d.stories[page - 1]!.id };
  const count = (d: Document): number => {
    const at = holder(d);
    return 'page' in at ? d.pages[page - 1]!.items.length : 0;
  };
  const items = places.map((at, i) => newPicture(`new${i}`, at, TILE, `Tile ${i}`));
  const next = items.reduce(
    (d, item) => applyAll(d, [{ op: 'add', item, slot: { in: holder(d), index: count(d) } }]).document,
    file.document,
  );
  return file.write(next, new Map(items.map(({ id }) => [id, image])));
}

/** All pictures taken out again. */
function taken(bytes: Uint8Array): Uint8Array {
  const file = openFile(bytes);
  const ids = Object.keys(file.document.items).filter((id) => isPictureItem(file.document.items[id]!));
  return file.write(
    applyAll(
      file.document,
      ids.map((id) => ({ op: 'remove', id })),
    ).document,
  );
}

const inText = (after: number): Position => ({ on: 'line', box: { x: 0, y: 0, width: 90, height: 60 }, after });
const onPage = (x: number, y: number): Position => ({ on: 'page', box: { x, y, width: 90, height: 60 } });
const atCell = (row: number, column: number, more: { moves?: boolean; sizes?: boolean } = {}): Position => ({
  on: 'cells',
  box: { x: 0, y: 0, width: 90, height: 60 },
  cells: { start: { row, column, dx: 3, dy: 2 }, end: null, moves: true, sizes: false, ...more },
});
const part = (bytes: Uint8Array, name: string): string => strFromU8(unzipSync(bytes)[name]!);

describe('a text document', () => {
  const letter = async (): Promise<Uint8Array> => {
    const words = (text: string): Paragraph => new Paragraph({ text });
    const table = new Table({ rows: [new TableRow({ children: [new TableCell({ children: [words('Table')] })] })] });
    const children = [words('First'), table, words('Second')];
    return new Uint8Array(await Packer.toBuffer(new DocxDocument({ sections: [{ children }] })));
  };

  test('has its blocks told, and a picture between any of them; the words stay', async () => {
    const before = await letter();
    const file = openFile(before);
    expect(file.blocks!(1).map((b) => [b.words.trim(), b.within])).toEqual([
      ['First', null],
      ['Table', null],
      ['Table', 0],
      ['Second', null],
    ]);
    const after = put(before, [inText(2)]);
    const { value } = await mammoth.convertToHtml({ buffer: Buffer.from(after) });
    expect(value.replace(/src="[^"]*"/, 'src=""')).toBe(
      '<p>First</p><table><tr><td><p>Table</p></td></tr></table><p><img alt="Tile 0" src="" /></p><p>Second</p>',
    );
    const [{ frame }] = openFile(after).pictures as [Source['pictures'][0]];
    expect([frame.box.width, frame.box.height]).toEqual([90, 60]);
    expect(openFile(taken(after)).pictures).toHaveLength(0);
    expect(() => put(before, [inText(9)])).toThrow('fewer than 9');
  });
});

const amid = (after: number, more: { within?: number; letters?: number }): Position => ({
  ...inText(after),
  ...more,
});
/** What stands in for a picture, for reading what is round it. */
const withoutDrawings = (xml: string): string => xml.replace(/<w:drawing xmlns.*?<\/w:drawing>/gs, '*');

describe('in cells, text boxes and paragraphs of a document', () => {
  const p = (words: string): string => `<w:p><w:r><w:rPr><w:b/></w:rPr><w:t>${words}</w:t></w:r></w:p>`;
  const cell = (inner: string): string => `<w:tc><w:p/>${inner}</w:tc>`;
  const box = (words: string): string =>
    `<w:p><w:r><mc:AlternateContent><mc:Choice Requires="wps"><w:drawing><wp:inline><a:graphic><a:graphicData><wps:wsp><wps:txbx><w:txbxContent>${p(words)}</w:txbxContent></wps:txbx></wps:wsp></a:graphicData></a:graphic></wp:inline></w:drawing></mc:Choice><mc:Fallback><w:pict><v:shape><v:textbox><w:txbxContent>${p(words)}</w:txbxContent></v:textbox></v:shape></w:pict></mc:Fallback></mc:AlternateContent></w:r></w:p>`;
  const body = `${p('First &amp; best')}<w:tbl><w:tr>${cell(p('Left'))}${cell('')}</w:tr></w:tbl>${box('Aside')}${p('Last')}`;

  test('its blocks are told in their holders; the words of what floats are those of its own holder', async () => {
    const { blocks } = openFile(await buildDocument({ body }));
    expect(blocks!(1).map((b) => [b.words.replace(/\s+/g, ' ').trim(), b.within])).toEqual([
      ['First & best', null],
      ['Left', null],
      ['', 0],
      ['Left', 0],
      ['', 1],
      ['', null],
      ['Aside', 2],
      ['Last', null],
    ]);
  });

  test('in a cell, as another program reads it; a cell without words, too', async () => {
    const after = put(await buildDocument({ body }), [amid(2, { within: 0 }), amid(1, { within: 1 })]);
    const { value } = await mammoth.convertToHtml({ buffer: Buffer.from(after) });
    const table = /<table>.*<\/table>/.exec(value)![0].replace(/<img[^>]*>/g, '*');
    expect(table).toBe('<table><tr><td><p><strong>Left</strong></p><p>*</p></td><td><p>*</p></td></tr></table>');
    expect(openFile(after).pictures.map((q) => q.where.table)).toEqual([true, true]);
    expect(() => put(after, [amid(0, { within: 9 })])).toThrow('no cell or text box 10');
  });

  test('in a text box, and in what stands in for it in older programs; it is one picture', async () => {
    const after = put(await buildDocument({ body }), [amid(1, { within: 2 })]);
    const { pictures } = openFile(after);
    expect(pictures.map((q) => q.where.textBox)).toEqual([true]);
    expect(part(after, 'word/document.xml').match(/descr="Tile 0"/g)).toHaveLength(2);
    const back = part(taken(after), 'word/document.xml');
    expect(back).not.toContain('Tile 0');
  });

  test('among the letters of a run: it is parted, and both parts look as before', async () => {
    const after = put(await buildDocument({ body }), [amid(1, { letters: 6 })]);
    expect(withoutDrawings(part(after, 'word/document.xml'))).toContain(
      '<w:p><w:r><w:rPr><w:b/></w:rPr><w:t xml:space="preserve">First &amp; </w:t>*<w:t xml:space="preserve">best</w:t></w:r></w:p>',
    );
    const { value } = await mammoth.convertToHtml({ buffer: Buffer.from(after) });
    expect(value.replace(/<img[^>]*>/, '*')).toContain('<p><strong>First &amp; *best</strong></p>');
    const ends = put(await buildDocument({ body }), [amid(1, { letters: 99 }), amid(4, { letters: 0 })]);
    expect(withoutDrawings(part(ends, 'word/document.xml'))).toContain('<w:t>First &amp; best</w:t>*</w:r>');
    const { value: words } = await mammoth.extractRawText({ buffer: Buffer.from(taken(after)) });
    expect(words).toContain('First & best');
  });
});

describe('a text of OpenDocument', () => {
  const body =
    '<text:p>First</text:p><text:list><text:list-item><text:p>Point</text:p></text:list-item></text:list><text:p/>';

  test('the same, with the picture in its manifest', async () => {
    const before = await buildOpen({ body });
    expect(openFile(before).blocks!(1).map((b) => b.words)).toEqual(['First', 'Point', '']);
    const after = put(before, [inText(1), inText(3)]);
    const content = part(after, 'content.xml');
    expect(content.replace(/<draw:frame.*?<\/draw:frame>/g, '[]')).toContain(
      body.replace('</text:p><text:list>', '</text:p><text:p>[]</text:p><text:list>') + '<text:p>[]</text:p>',
    );
    expect(part(after, 'META-INF/manifest.xml')).toContain(
      '<manifest:file-entry manifest:full-path="Pictures/gable1.png" manifest:media-type="image/png"/>',
    );
    const { pictures } = openFile(after);
    expect(pictures.map((p) => [p.frame.flow, p.frame.alt, p.problem])).toEqual([
      ['inline', 'Tile 0', null],
      ['inline', 'Tile 1', null],
    ]);
    // Every other part is the same.
    const [was, is] = [unzipSync(before), unzipSync(after)];
    for (const name of ['mimetype', 'styles.xml', 'settings.xml', 'Pictures/one.png'])
      expect(is[name]).toEqual(was[name]);
  });

  test('in a cell, in a text box, and among the letters of a paragraph', async () => {
    const text =
      '<text:p>First <text:span>and</text:span> last</text:p><table:table><table:table-row><table:table-cell><text:p>Cell</text:p></table:table-cell><table:table-cell table:number-columns-repeated="2"/></table:table-row></table:table>' +
      '<text:p><draw:frame svg:width="90pt" svg:height="60pt"><draw:text-box><text:p>Aside</text:p></draw:text-box></draw:frame></text:p>';
    const before = await buildOpen({ body: text });
    expect(openFile(before).blocks!(1).map((b) => [b.words, b.within])).toEqual([
      ['First and last', null],
      ['Cell', null],
      ['Cell', 0],
      ['', null],
      ['Aside', 2],
    ]);
    const after = put(before, [amid(1, { within: 0 }), amid(0, { within: 2 }), amid(1, { letters: 8 })]);
    const content = part(after, 'content.xml').replace(
      /<draw:frame[^>]*text:anchor-type="as-char".*?<\/draw:frame>/g,
      '*',
    );
    expect(content).toContain('<text:p>First <text:span>and</text:span> *last</text:p>');
    expect(content).toContain('<table:table-cell><text:p>Cell</text:p><text:p>*</text:p></table:table-cell>');
    expect(content).toContain('<draw:text-box><text:p>*</text:p><text:p>Aside</text:p></draw:text-box>');
    expect(openFile(after).pictures.map((q) => [q.where.table, q.where.textBox])).toEqual([
      [false, false],
      [true, false],
      [false, true],
    ]);
    expect(() => put(before, [amid(0, { within: 1 })])).toThrow('stands for several');
  });

  test('one that floats is tied to its paragraph', async () => {
    const at: Position = { on: 'anchor', box: { x: 20, y: 5, width: 90, height: 60 }, after: 1 };
    const after = put(await buildOpen({ body }), [at]);
    expect(part(after, 'content.xml')).toContain('text:anchor-type="paragraph"');
    expect(openFile(after).pictures[0]!.frame).toMatchObject({ flow: 'floating', box: at.box });
  });
});

describe('beside the text', () => {
  type Anchor = NonNullable<Extract<Position, { on: 'anchor' }>['anchor']>;
  const distances = { top: 1, right: 2, bottom: 3, left: 4 };
  const beside = (anchor: Partial<Anchor>): Position => ({
    on: 'anchor',
    box: { x: 20, y: 5, width: 90, height: 60 },
    after: 1,
    anchor: { from: { x: 'page', y: 'margin' }, wrap: 'square', behind: false, distances, ...anchor },
  });
  const WAYS: [string, Partial<Anchor>, RegExp, RegExp][] = [
    ['square', {}, /<wp:wrapSquare wrapText="bothSides"\/>/, /style:wrap="parallel".*style:wrap-contour="false"/],
    [
      'tight',
      { wrap: 'tight' },
      /<wp:wrapTight/,
      /style:wrap="parallel".*style:wrap-contour="true" style:wrap-contour-mode="outside"/,
    ],
    ['above and below', { wrap: 'top-bottom' }, /<wp:wrapTopAndBottom\/>/, /style:wrap="none"/],
    [
      'in front',
      { wrap: 'none' },
      /behindDoc="0".*<wp:wrapNone\/>/,
      /style:wrap="run-through" style:run-through="foreground"/,
    ],
    ['behind', { wrap: 'none', behind: true }, /behindDoc="1".*<wp:wrapNone\/>/, /style:run-through="background"/],
  ];

  test.each(WAYS)(
    '%s: in a document and in OpenDocument, tied to the paragraph that is there',
    async (_, anchor, word, open) => {
      const docx = put(
        new Uint8Array(
          await Packer.toBuffer(
            new DocxDocument({ sections: [{ children: [new Paragraph('One'), new Paragraph('Two')] }] }),
          ),
        ),
        [beside(anchor)],
      );
      const text = part(docx, 'word/document.xml');
      expect(text).toMatch(word);
      // §20.4.2.3: 12,700 EMU to the point.
      expect(text).toContain('<wp:anchor distT="12700" distB="38100" distL="50800" distR="25400"');
      expect(text).toMatch(/<wp:positionH relativeFrom="page"><wp:posOffset>254000</);
      expect(text).toMatch(/<wp:positionV relativeFrom="margin"><wp:posOffset>63500</);
      expect((text.match(/<w:p>|<w:p /g) ?? []).length).toBe(2);
      const odt = put(
        await buildOpen({ body: '<text:p>One <text:span>and</text:span></text:p><text:p>Two</text:p>' }),
        [beside(anchor)],
      );
      const content = part(odt, 'content.xml');
      expect(content).toMatch(open);
      expect(content).toContain('style:horizontal-rel="page"');
      expect(content).toContain('style:vertical-rel="page-content"');
      expect(content).toContain('fo:margin-left="4pt"');
      expect(content.replace(/<draw:frame.*?<\/draw:frame>/g, '[]')).toContain(
        '<text:p>[]One <text:span>and</text:span></text:p><text:p>Two</text:p>',
      );
      for (const bytes of [docx, odt]) {
        const [{ frame, where }] = openFile(bytes).pictures as [Source['pictures'][0]];
        expect([frame.flow, frame.box]).toEqual(['floating', { x: 20, y: 5, width: 90, height: 60 }]);
        expect(where.near).toMatch(/^One/);
      }
    },
  );
});

describe('slides and drawings of OpenDocument', () => {
  test('a picture lies in front of all, before notes and animations (§10.2.4)', async () => {
    const shapes = '<draw:rect svg:x="1cm" svg:y="1cm" svg:width="2cm" svg:height="2cm"/>';
    const notes = '<presentation:notes><draw:page-thumbnail/></presentation:notes>';
    const before = await buildOpen({
      kind: 'presentation',
      body: `<draw:page draw:name="one">${shapes}</draw:page><draw:page draw:name="two">${shapes}${notes}</draw:page>`,
    });
    const after = put(before, [onPage(72, 36), onPage(80, 40)], 2);
    const content = part(after, 'content.xml').replace(/<draw:frame.*?<\/draw:frame>/g, '[]');
    expect(content).toContain(`<draw:page draw:name="two">${shapes}[][]${notes}</draw:page>`);
    const { pictures } = openFile(after);
    expect(pictures.map((p) => [p.where.page, p.frame.alt, p.frame.box.x])).toEqual([
      [2, 'Tile 0', 72],
      [2, 'Tile 1', 80],
    ]);
  });

  test('into an empty page', async () => {
    const after = put(await buildOpen({ kind: 'graphics', body: '<draw:page draw:name="one"/>' }), [onPage(10, 20)]);
    expect(openFile(after).pictures[0]!.frame.box).toEqual({ x: 10, y: 20, width: 90, height: 60 });
  });
});

describe('spreadsheets', () => {
  test('a workbook that had no picture gets a drawing, and each way to follow its cells (§20.5.2.24, §20.5.2.33)', async () => {
    const book = new ExcelJs.Workbook();
    for (const name of ['One', 'Two']) book.addWorksheet(name).getCell('B4').value = `In ${name}`;
    const before = new Uint8Array(await book.xlsx.writeBuffer());
    const places = [atCell(3, 1), atCell(6, 2, { moves: false }), atCell(9, 0, { sizes: true })];
    const after = put(before, places, 2);
    const again = new ExcelJs.Workbook();
    await again.xlsx.load(Buffer.from(after) as never);
    expect(again.getWorksheet('One')!.getImages()).toHaveLength(0);
    expect(again.getWorksheet('Two')!.getCell('B4').value).toBe('In Two');
    const at = again
      .getWorksheet('Two')!
      .getImages()
      .map(({ range: { tl } }) => [tl.nativeRow, tl.nativeCol, tl.nativeColOff, tl.nativeRowOff]);
    // 3 pt and 2 pt in EMU.
    expect(at.sort((a, b) => a[0]! - b[0]!)).toEqual([
      [3, 1, 38_100, 25_400],
      [6, 2, 38_100, 25_400],
      [9, 0, 38_100, 25_400],
    ]);
    const drawing = part(after, 'xl/drawings/drawing1.xml');
    expect(drawing.match(/<xdr:oneCellAnchor>|<xdr:twoCellAnchor[^>]*>/g)!.sort()).toEqual([
      '<xdr:oneCellAnchor>',
      '<xdr:twoCellAnchor editAs="absolute">',
      '<xdr:twoCellAnchor>',
    ]);
    const { pictures } = openFile(after);
    expect(pictures.map((p) => [p.where.page, p.frame.box.width, p.frame.box.height])).toEqual([
      [2, 90, 60],
      [2, 90, 60],
      [2, 90, 60],
    ]);
    expect(openFile(taken(after)).pictures).toHaveLength(0);
  });

  const cell = (text: string, more = ''): string =>
    `<table:table-cell${more}><text:p>${text}</text:p></table:table-cell>`;
  const row = (cells: string, more = ''): string => `<table:table-row${more}>${cells}</table:table-row>`;
  const twice = ' table:number-rows-repeated="3"';
  const wide = ' table:number-columns-repeated="4"';
  /** The words of every cell, repeated ones too (§19.675, §19.679). */
  function grid(bytes: Uint8Array): string[][] {
    const times = (tag: string): number => Number(/repeated="(\d+)"/.exec(tag)?.[1] ?? 1);
    const content = part(bytes, 'content.xml').replace(/<draw:frame.*?<\/draw:frame>/g, '[]');
    return [...content.matchAll(/<table:table-row([^>]*)>(.*?)<\/table:table-row>/g)].flatMap(([, tag, inner]) => {
      const cells = [...inner!.matchAll(/<table:table-cell([^>/]*)(?:\/>|>(.*?)<\/table:table-cell>)/g)].flatMap(
        ([, of, words = '']) => Array<string>(times(of!)).fill(words.replace(/<\/?text:p>/g, '')),
      );
      return Array<string[]>(times(tag!)).fill(cells);
    });
  }

  test.each([
    ['a cell of its own', 0, 0, ['a[]', 'b', 'b', 'b', 'b']],
    ['one of several that are told as one', 0, 2, ['a', 'b', 'b[]', 'b', 'b']],
    ['a cell of a row that is told as several', 2, 1, ['c', '[]']],
    ['a cell beyond the last of its row', 4, 3, ['d', '', '', '[]']],
    ['a row beyond the last', 7, 1, ['', '[]']],
  ])('%s: only that one has it, and no word moves', async (_, at, column, expected) => {
    const sheet = row(cell('a') + cell('b', wide)) + row(cell('c') + '<table:table-cell/>', twice) + row(cell('d'));
    const before = await buildOpen({
      kind: 'spreadsheet',
      body: `<table:table table:name="One">${sheet}</table:table>`,
    });
    const after = put(before, [atCell(at, column)]);
    const [was, is] = [grid(before), grid(after)];
    expect(is[at]).toEqual(expected);
    was.forEach((cells, i) => {
      if (i !== at) expect(is[i]).toEqual(cells);
    });
    expect(is).toHaveLength(Math.max(was.length, at + 1));
    const { pictures } = openFile(after);
    expect(pictures).toHaveLength(1);
    expect(pictures[0]!.frame.box).toMatchObject({ x: 3, y: 2, width: 90, height: 60 });
  });
});

describe('web pages', () => {
  const page =
    '<!doctype html>\n<html><head><title>x</title></head><body><main><h1>Pots</h1><p>All <b>warm</b>.</p><ul><li>One</li></ul></main></body></html>';
  const inPage = (after: number): Position => ({ on: 'element', box: { x: 0, y: 0, width: 90, height: 60 }, after });

  test('between blocks, with its text and size; taken out it leaves the page as it was', () => {
    const before = strToU8(page);
    expect(openFile(before).blocks!(1).map((b) => b.words)).toEqual(['Pots', 'All warm.', 'One']);
    const after = strFromU8(put(before, [inPage(2)]));
    const img = /<p>(<img[^>]*>)<\/p>/.exec(after)![1]!;
    expect(after.replace(`<p>${img}</p>`, '')).toBe(page);
    expect(after).toContain('warm</b>.</p><p><img');
    // 90 × 60 pt are 120 × 80 px (CSS Values 4 §6.2).
    expect(img).toMatch(/^<img src="data:image\/png;base64,[^"]+" alt="Tile 0" width="120" height="80">$/);
    expect(strFromU8(taken(strToU8(after)))).toBe(page);
  });

  test('in a site the file comes beside the page', () => {
    const before = zipSync({ 'blog/index.html': strToU8(page), 'about.html': strToU8(page) });
    const after = unzipSync(put(before, [inPage(1)], 1));
    expect(after['blog/gable1.png']).toEqual(image.bytes);
    expect(strFromU8(after['blog/index.html']!)).toContain('<h1>Pots</h1><p><img src="gable1.png"');
    expect(strFromU8(after['about.html']!)).toBe(page);
  });

  test('a framed one goes with its rules', () => {
    const after = taken(readFileSync('demo/files/visit-us.zip'));
    const { pictures, document } = openFile(after);
    expect(pictures).toHaveLength(0);
    expect(document.stories[0]!.items.filter((id) => isPictureItem(document.items[id]!))).toEqual([]);
  });
});

test('a file that was given pictures before is given other ones: every relationship has an id of its own', async () => {
  const letter = await buildDocument({ body: '<w:p><w:r><w:t>One</w:t></w:r></w:p>' });
  const file = openFile(put(put(letter, [inText(0)]), [inText(1)]));
  const [red, blue] = [await png(2, 1), await png(1, 2)];
  const images = new Map<string, ReplacementImage>([
    ['p1', { bytes: red, type: 'png', size: { width: 2, height: 1 } }],
    ['p2', { bytes: blue, type: 'png', size: { width: 1, height: 2 } }],
  ]);
  const after = file.write(file.document, images);
  // ISO/IEC 29500-2, relationships: an Id is unique within its part.
  const ids = [...part(after, 'word/_rels/document.xml.rels').matchAll(/ Id="([^"]+)"/g)].map((m) => m[1]);
  expect(new Set(ids).size).toBe(ids.length);
  expect(openFile(after).pictures.map((p) => p.media!.pixels)).toEqual([
    { width: 2, height: 1 },
    { width: 1, height: 2 },
  ]);
});

describe('right behind a picture that is there', () => {
  const like = (on: 'line' | 'anchor' | 'element', beside: string): Position => ({
    on,
    box: { x: 30, y: 40, width: 90, height: 60 },
    beside,
  });
  const drawn = (xml: string): string =>
    xml.replace(/<w:drawing.*?<\/w:drawing>/gs, '*').replace(/<w:rPr>.*?<\/w:rPr>/g, '');

  test('of a document: in its line, in a cell, beside the text, in a header', async () => {
    const image = readFileSync('demo/files/season-handbook.docx');
    const bytes = new Uint8Array(image);
    const file = openFile(bytes);
    const kinds = new Set<string>();
    for (const { n, where, frame } of file.pictures) {
      if (where.group || where.textBox) continue;
      const kind = `${where.place} ${where.table} ${frame.flow}`;
      if (kinds.has(kind)) continue;
      kinds.add(kind);
      const after = openFile(put(bytes, [like(frame.flow === 'inline' ? 'line' : 'anchor', `p${n}`)]));
      expect(after.pictures).toHaveLength(file.pictures.length + 1);
      const { where: at, frame: next } = after.pictures[n]!;
      expect([at.part, at.table, next.flow, next.alt]).toEqual([where.part, where.table, frame.flow, 'Tile 0']);
      if (frame.flow === 'floating') expect([next.box.x, next.box.y]).toEqual([30, 40]);
      expect(openFile(taken(put(bytes, [like('line', `p${n}`)]))).pictures).toHaveLength(0);
    }
    expect([...kinds].sort()).toEqual(
      expect.arrayContaining(['body false floating', 'body false inline', 'body true inline', 'header false inline']),
    );
  });

  test('of a document it is a run of its own: the words about it stay in theirs', async () => {
    const words = '<w:p><w:r><w:t>Be</w:t></w:r>*<w:r><w:t>hind</w:t></w:r></w:p>';
    const { inlined } = await import('./support/build');
    const picture = inlined().replace(/^<w:p>|<\/w:p>$/g, '');
    const bytes = await buildDocument({ body: words.replace('*', picture) });
    const after = put(bytes, [like('line', 'p1')]);
    expect(drawn(part(after, 'word/document.xml'))).toContain(words.replace('*', '<w:r>*</w:r><w:r>*</w:r>'));
  });

  test('of an OpenDocument text: behind all of it, link and all', async () => {
    const picture =
      '<draw:frame text:anchor-type="as-char" svg:width="90pt" svg:height="60pt"><draw:image xlink:href="Pictures/one.png"/></draw:frame>';
    const bytes = await buildOpen({ body: `<text:p>Be<draw:a xlink:href="#">${picture}</draw:a>hind</text:p>` });
    const after = part(put(bytes, [like('line', 'p1')]), 'content.xml');
    expect(after).toMatch(/Be<draw:a xlink:href="#">.*<\/draw:a><draw:frame [^>]*as-char[^>]*>.*<\/draw:frame>hind/);
    const beside = openFile(put(bytes, [like('anchor', 'p1')])).pictures;
    expect(beside.map((p) => [p.frame.flow, p.frame.box.x])).toEqual([
      ['inline', 0],
      ['floating', 30],
    ]);
  });

  const page =
    '<!doctype html><title>x</title><ul><li>One</ul><figure><img src="a.png" alt="A"><figcaption>a</figcaption></figure><div class="card"></div><p>End';
  test('of a web page, and into an element: what stands there stays', async () => {
    const { TextEncoder: Utf8 } = await import('node:util');
    const bytes = new Utf8().encode(page);
    const text = (b: Uint8Array): string => new TextDecoder().decode(b).replace(/<img src="data:[^>]*>/, '*');
    expect(text(put(bytes, [like('element', 'p1')]))).toBe(page.replace('alt="A">', 'alt="A">*'));
    const into = (after: number): Position => ({ on: 'element', box: onPage(0, 0).box, after, inside: true });
    const blocks = openFile(bytes).blocks!(1).length;
    expect(text(put(bytes, [into(blocks)]))).toBe(`${page}*`);
    expect(text(put(bytes, [into(blocks - 1)]))).toBe(page.replace('"card">', '"card">*'));
    expect(() => put(bytes, [into(1)])).toThrow('No picture can be put into this element');
  });
});

/** Exif 2.32, tag 274: value 6 has the first row of pixels on the right side, so that a turn of 90° clockwise sets it upright. */
test.each([
  ['pptx', { on: 'page', box: { x: 100, y: 50, width: 60, height: 90 } }],
  ['odp', { on: 'page', box: { x: 100, y: 50, width: 60, height: 90 } }],
] as const)('a picture that was stored on its side stands upright in a new file: %s', (format, at) => {
  const bytes = BLANKS[format]!({ size: { width: 595, height: 842 }, ground: null });
  const file = openFile(bytes);
  const lying = { ...TILE, orientation: 6 };
  const item = newPicture('new', at as Position, lying, 'Tile');
  expect(item.fill.placement).toMatchObject({ turn: 90, mirror: false });
  const holder: Holder = { page: file.document.pages[0]!.id };
  const next = applyAll(file.document, [{ op: 'add', item, slot: { in: holder, index: 0 } }]).document;
  const after = file.write(next, new Map([['new', image]]));
  if (format === 'odp') expect(part(after, 'content.xml')).toMatch(/rotate \(-1\.5707963\d*\)/);
  else {
    const text = part(after, 'ppt/slides/slide1.xml');
    // §20.1.7.6: turned by 90° about the middle, the box itself as the picture was stored: 90 by 60 pt.
    expect(text).toMatch(/<a:xfrm rot="5400000"[^>]*>\s*<a:off[^>]*\/>\s*<a:ext cx="1143000" cy="762000"\/>/);
  }
  const { frame } = openFile(after).pictures[0]!;
  expect(frame.placement.turn).toBe(90);
  expect([frame.box.width, frame.box.height].map(Math.round)).toEqual([60, 90]);
});
