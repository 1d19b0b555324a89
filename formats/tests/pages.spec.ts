import ExcelJs from 'exceljs';
import { strFromU8, unzipSync } from 'fflate';
import { parse } from 'parse5';
import { withShape, type FloatPlace, type Mark, type SectionLayout } from '@gable/core';
import { type Sheet } from '../src/index';
import { openFile, type FramedFile } from './support/frames';
import { buildOpen, graphicStyle, openFrame } from './support/open';
import { buildDeck, buildWorkbook, pack, PLACED, sheetPic, slidePic } from './support/deck';
import { png } from './support/build';
import { attribute, tags, words } from './support/html';

const numbers = (html: string): (string | undefined)[] =>
  tags(html)
    .filter((e) => attribute(e, 'data-picture') !== undefined)
    .map((e) => attribute(e, 'data-picture'));
const html = (text: string): FramedFile => openFile(new TextEncoder().encode(`<!doctype html>${text}`));

describe('a web page for showing', () => {
  test('keeps its words and its images’ places, each a box of the picture’s size with its number', async () => {
    const data = `data:image/png;base64,${Buffer.from(await png(30, 20)).toString('base64')}`;
    const file = html(
      `<title>t</title><p class="a">One <img src="${data}" alt="x" width="90"> two</p><img src="b.png">`,
    );
    const page = file.markup!(1)!;
    expect(words(parse(page))).toContain('One  two');
    expect(numbers(page)).toEqual(['1', '2']);
    const [first] = tags(page).filter((e) => e.tagName === 'img');
    expect(attribute(first!, 'width')).toBe('90');
    // Its own size, so that what the page leaves open comes out as it does with the picture.
    expect(attribute(first!, 'src')).toMatch(/^data:image\/svg\+xml,.*width='30' height='20'/);
    expect(page).not.toContain('b.png');
    expect(file.markup!(2)).toBeNull();
  });

  test('a framed picture is the box that was put round it', async () => {
    const data = `data:image/png;base64,${Buffer.from(await png(30, 20)).toString('base64')}`;
    const file = html(`<p><img src="${data}" alt=""></p>`);
    const p = file.pictures[0]!;
    const saved = openFile(file.save([withShape(p.frame, { name: 'circle', knobs: {} }, p.size)]));
    const marked = tags(saved.markup!(1)!).filter((e) => attribute(e, 'data-picture') === '1');
    expect(marked.map((e) => e.tagName)).toEqual(['span']);
  });

  test('nothing in it runs, leads elsewhere or is fetched', () => {
    const file = html(
      '<base href="http://elsewhere.test/"><meta http-equiv="refresh" content="0;url=http://elsewhere.test/">' +
        '<link rel="stylesheet" href="http://elsewhere.test/a.css"><script>alert(1)</script>' +
        '<body><iframe srcdoc="<img src=x>" width="90"></iframe><object data="x"><img src="in.png"></object>' +
        '<video src="http://elsewhere.test/v.mp4" poster="http://elsewhere.test/p.png" autoplay><source src="v"></video>' +
        '<picture><source srcset="http://elsewhere.test/w.webp"><img src="http://elsewhere.test/i.png" srcset="x 2x"></picture>',
    );
    const page = file.markup!(1)!;
    const left = tags(page).map((e) => e.tagName);
    for (const name of ['base', 'meta', 'link', 'script', 'object', 'source']) expect(left).not.toContain(name);
    // What is not shown keeps its room, and says what it is.
    const plates = tags(page).filter((e) => attribute(e, 'data-plate') !== undefined);
    expect(plates.map((e) => `${e.tagName}: ${attribute(e, 'data-plate')}`)).toEqual([
      'iframe: Another page',
      'iframe: Embedded object',
      'video: Video',
    ]);
    expect(plates.flatMap((e) => e.attrs.map((a) => a.name)).filter((name) => name !== 'data-plate')).toEqual([
      'width',
    ]);
    expect(page).not.toContain('elsewhere.test');
    // The image in what was taken out is not there; the others keep their numbers.
    expect(numbers(page)).toEqual(['2']);
  });

  test('a site’s style sheets and the pictures in them are in the page', async () => {
    const picture = await png(3, 3);
    const site = pack({
      'index.html': '<!doctype html><link rel="stylesheet" href="css/a.css" media="screen"><p>One</p><img src="p.png">',
      'two.html': '<!doctype html><p>Two</p>',
      'css/a.css':
        '@import "more/b.css" screen;p{color:red;background:url(bg.png);height:50vh} x{content:"</style>"}@media (max-height:700px){p{top:0}}',
      'css/more/b.css': '@font-face{font-family:F;src:url("../f.woff2")}i{background:url(../../bg.png)}',
      'css/f.woff2': new Uint8Array([1, 2, 3]),
      'css/bg.png': picture,
      'bg.png': picture,
      'p.png': picture,
    });
    const file = openFile(site);
    const page = file.markup!(1)!;
    const [brought, style] = tags(page).filter((e) => e.tagName === 'style');
    expect(attribute(style!, 'media')).toBe('screen');
    const wordsIn = (e: typeof style): string => e!.childNodes.map((c) => ('value' in c ? c.value : '')).join('');
    const rules = wordsIn(style);
    expect(rules).toContain('color:red');
    // Addresses are the sheet's own (CSS Values 4 §4.5), imports come first (CSS Cascade 5 §2).
    expect(rules).toContain('background:url("data:image/png;base64,');
    expect(wordsIn(brought)).toMatch(
      /^@media screen\{@font-face\{font-family:F;src:url\("data:font\/woff2;base64,AQID"\)/,
    );
    expect(wordsIn(brought)).toContain('i{background:url("data:image/png');
    // It is laid out in a window of 1180 × 800 px, however high it is shown.
    expect(rules).toContain('height:400px');
    expect(rules).toContain('@media not all{p{top:0}}');
    // A sheet that holds the end of its element does not end it (HTML §13.2.5.2).
    expect(rules).toContain('<\\/style>');
    expect(page).toMatch(/<p data-own="[^"]+">One<\/p>/);
    expect(file.markup!(2)).toMatch(/<p data-own="[^"]+">Two<\/p>/);
  });
});

describe('a text document for showing', () => {
  const LAYOUT =
    '<style:page-layout style:name="L"><style:page-layout-properties fo:page-width="10cm" fo:page-height="15cm" fo:margin="1cm"/></style:page-layout>';
  const style = (name: string, family: string, properties: string): string =>
    `<style:style style:name="${name}" style:family="${family}">${properties}</style:style>`;

  test('words in their order, with what has no words of its own, and characters that HTML has names for', async () => {
    const file = openFile(
      await buildOpen({
        body:
          '<text:h>Head &amp; more</text:h><text:p>a<text:span>b</text:span>c<text:s text:c="2"/>d&lt;e</text:p>' +
          '<text:list><text:list-item><text:p>item</text:p></text:list-item></text:list>' +
          '<table:table><table:table-row><table:table-cell table:number-columns-spanned="2"><text:p>cell</text:p></table:table-cell><table:covered-table-cell/></table:table-row></table:table>' +
          '<text:tracked-changes><text:p>gone</text:p></text:tracked-changes>',
      }),
    );
    const page = file.markup!(1)!;
    const said = words(parse(page)).replace(/\s+/g, ' ').trim();
    expect(said).toBe('Head & moreabc d<eitemcell');
    expect(tags(page).find((e) => e.tagName === 'td')!.attrs).toContainEqual({ name: 'colspan', value: '2' });
  });

  test('styles take from those above them; pages end where the file says so, and have their header', async () => {
    const file = openFile(
      await buildOpen({
        common: `${style('Base', 'paragraph', '<style:text-properties fo:color="#112233" fo:font-size="9pt"/>')}`,
        styles:
          `<style:style style:name="P" style:family="paragraph" style:parent-style-name="Base"><style:text-properties fo:font-size="20pt"/></style:style>` +
          style('B', 'paragraph', '<style:paragraph-properties fo:break-before="page" fo:text-align="center"/>'),
        masters:
          '<style:master-page style:name="Standard" style:page-layout-name="L"><style:header><text:p>Head <text:page-number>9</text:page-number></text:p></style:header></style:master-page>',
        body: '<text:p text:style-name="P">one</text:p><text:p text:style-name="B">two</text:p><text:soft-page-break/><text:p>three</text:p>',
      }).then((bytes) => withLayout(bytes, LAYOUT)),
    );
    const page = file.markup!(1)!;
    const [section, ...more] = tags(page).filter((e) => e.tagName === 'section');
    expect([words(section!).trim(), more]).toEqual(['Head 1onetwothree', []]);
    const layout = JSON.parse(attribute(section!, 'data-section')!) as SectionLayout;
    // 10 × 15 cm at 72 points to the inch.
    expect([layout.width, layout.height, layout.margins.left].map((v) => Math.round(v * 100) / 100)).toEqual([
      283.46, 425.2, 28.35,
    ]);
    const [one, two, three] = tags(page).filter((e) => attribute(e, 'data-block') !== undefined);
    expect([one, two, three].map((e) => attribute(e!, 'data-break'))).toEqual([undefined, 'page', undefined]);
    expect(attribute(one!, 'style')).toMatch(/^color:#112233;font-size:20pt;/);
    expect(attribute(two!, 'style')).toMatch(/^text-align:center;/);
  });

  test('pictures are boxes of their frames’ sizes: in the line, beside the text, on it', async () => {
    const file = openFile(
      await buildOpen({
        styles:
          graphicStyle('beside', 'style:wrap="parallel" style:horizontal-pos="right"') +
          graphicStyle('on', 'style:wrap="run-through"'),
        body:
          `<text:p>${openFrame('text:anchor-type="as-char"')}</text:p>` +
          `<text:p>${openFrame('text:anchor-type="paragraph" draw:style-name="beside"')}words</text:p>` +
          `<text:p>${openFrame('text:anchor-type="paragraph" draw:style-name="on" svg:x="1cm" svg:y="2cm"')}</text:p>`,
      }),
    );
    const boxes = tags(file.markup!(1)!).filter((e) => attribute(e, 'data-picture') !== undefined);
    const looks = boxes.map((e) => attribute(e, 'style')!);
    for (const look of looks) expect(look).toMatch(/^width:170\.07\d*pt;height:113\.38\d*pt/);
    const places = boxes.map((e) => JSON.parse(attribute(e, 'data-float') ?? 'null') as FloatPlace | null);
    expect(places[0]).toBeNull();
    expect(places[1]!.anchor).toMatchObject({ wrap: 'square', align: { x: 'right' } });
    expect(places[2]!.anchor).toMatchObject({ wrap: 'none' });
    expect([places[2]!.x, places[2]!.y].map((v) => Math.round(v * 100) / 100)).toEqual([28.35, 56.69]);
  });

  test('what is written in a style ends no attribute and no element', async () => {
    const file = openFile(
      await buildOpen({
        styles: style(
          'P',
          'paragraph',
          `<style:text-properties fo:color="red&quot;&gt;&lt;script&gt;" fo:font-family="x';}&lt;/style&gt;"/>`,
        ),
        body: '<text:p text:style-name="P">&lt;script&gt;alert(1)&lt;/script&gt;<![CDATA[<script>]]><!-- c --></text:p>',
      }),
    );
    const page = file.markup!(1)!;
    expect(tags(page).map((e) => e.tagName)).not.toContain('script');
    expect(words(parse(page))).toContain('<script>alert(1)</script><script>');
  });
});

/** `styles.xml` of the built file has no page layouts: put where the standard has them (ODF 1.2 Part 1 §16.5). */
function withLayout(bytes: Uint8Array, layout: string): Uint8Array {
  const files: Record<string, string | Uint8Array> = unzipSync(bytes);
  const styles = strFromU8(files['styles.xml'] as Uint8Array);
  files['styles.xml'] = styles.replace(
    '<office:automatic-styles/>',
    `<office:automatic-styles>${layout}</office:automatic-styles>`,
  );
  return pack(files);
}

describe('what lies behind a page', () => {
  const GRADIENT =
    '<p:bgPr><a:gradFill><a:gsLst><a:gs pos="0"><a:srgbClr val="000000"/></a:gs><a:gs pos="50000"><a:srgbClr val="AABBCC"/></a:gs><a:gs pos="100000"><a:srgbClr val="FFFFFF"/></a:gs></a:gsLst></a:gradFill></p:bgPr>';
  const PICTURE = '<p:bgPr><a:blipFill><a:blip r:embed="rId1"/><a:stretch/></a:blipFill></p:bgPr>';
  const SOLID = '<p:bgPr><a:solidFill><a:srgbClr val="112233"/></a:solidFill></p:bgPr>';

  /** A deck of one slide; backgrounds stand before the shapes (ISO/IEC 29500-1 §19.3.1.16, cSld). */
  async function deck(slide: string, layout: string): Promise<FramedFile> {
    const files: Record<string, string | Uint8Array> = unzipSync(await buildDeck([slidePic(PLACED)]));
    const put = (name: string, bg: string): void => {
      const text = strFromU8(files[name] as Uint8Array);
      if (bg) files[name] = text.replace('<p:cSld>', `<p:cSld><p:bg>${bg}</p:bg>`);
    };
    put('ppt/slides/slide1.xml', slide);
    put('ppt/slideLayouts/slideLayout1.xml', layout);
    return openFile(pack(files));
  }

  test('of slides: the nearest counts, a colour, a gradient’s middle, or a picture', async () => {
    const own = await deck(SOLID, PICTURE);
    expect(own.sheets[0]).toMatchObject({ background: '#112233' });
    expect(own.sheets[0]!.backdrop).toBeUndefined();
    expect(own.backdrop!(1)).toBeNull();
    expect((await deck(GRADIENT, '')).sheets[0]!.background).toBe('#aabbcc');
    const behind = await deck('', PICTURE);
    expect(behind.sheets[0]!.backdrop).toBe(true);
    expect(behind.backdrop!(1)).toEqual(behind.pictureBytes(1));
    // It is no frame, and no other slide's.
    expect(behind.pictures).toHaveLength(1);
    expect(behind.backdrop!(2)).toBeNull();
  });

  test('of drawing pages: the page’s own before its master’s (ODF 1.2 Part 1 §20.3)', async () => {
    const style = (properties: string): string =>
      `<style:style style:name="dp" style:family="drawing-page"><style:drawing-page-properties ${properties}/></style:style>`;
    const page = (attributes = ''): string =>
      `<draw:page draw:master-page-name="M" ${attributes}>${openFrame('svg:x="1cm" svg:y="1cm"')}</draw:page>`;
    const build = async (body: string): Promise<FramedFile> => {
      const files: Record<string, string | Uint8Array> = unzipSync(
        await buildOpen({
          kind: 'presentation',
          styles: style('draw:fill="solid" draw:fill-color="#ABCDEF"'),
          common: '<draw:fill-image draw:name="F" xlink:href="Pictures/one.png"/>',
          masters: '<style:master-page style:name="M" draw:style-name="dp"/>',
          body,
        }),
      );
      const styles = strFromU8(files['styles.xml'] as Uint8Array);
      files['styles.xml'] = styles.replace(
        '<office:automatic-styles/>',
        `<office:automatic-styles>${style('draw:fill="bitmap" draw:fill-image-name="F"')}</office:automatic-styles>`,
      );
      return openFile(pack(files));
    };
    expect((await build(page('draw:style-name="dp"'))).sheets[0]).toMatchObject({ background: '#abcdef' });
    const behind = await build(page());
    expect(behind.sheets[0]!.backdrop).toBe(true);
    expect(behind.backdrop!(1)).toEqual(behind.pictureBytes(1));
  });
});

describe('sheets of cells', () => {
  /** Its cells are one item that is shown and not edited. */
  const marks = (sheet: Sheet): readonly Mark[] =>
    sheet.items.flatMap((i) => ('kind' in i && i.kind === 'foreign' && i.what === 'table' ? (i.preview ?? []) : []));
  const texts = (sheet: Sheet): string[] =>
    marks(sheet)
      .map((p) => p.text)
      .filter(Boolean);

  /** A workbook as another library writes it. */
  async function workbook(): Promise<{ bytes: Uint8Array; sheet: ExcelJs.Worksheet }> {
    const book = new ExcelJs.Workbook();
    const sheet = book.addWorksheet('Orders');
    sheet.columns = [{ width: 20 }, { width: 10 }];
    sheet.addRow(['Celadon', 12.5]).getCell(2).numFmt = '#,##0.00 "l"';
    sheet.addRow([new Date(Date.UTC(2026, 8, 3)), 0.42]).getCell(1).numFmt = 'yyyy-mm-dd';
    sheet.getCell('B2').numFmt = '0%';
    sheet.getCell('B2').fill = { type: 'pattern', pattern: 'solid', fgColor: { argb: 'FF2F4A46' } };
    sheet.getCell('A3').value = { richText: [{ text: 'two ' }, { font: { bold: true }, text: 'runs' }] };
    sheet.mergeCells('A5:B6');
    sheet.getCell('A5').value = 'one of four';
    sheet.getCell('A5').alignment = { horizontal: 'center' };
    sheet.getRow(5).height = 30;
    return { bytes: new Uint8Array(await book.xlsx.writeBuffer()), sheet };
  }

  test('cells of another program’s workbook stand where they are, as their formats show them', async () => {
    const { bytes } = await workbook();
    const sheet = openFile(bytes).sheets[0]!;
    // What the formats of ISO/IEC 29500-1 §18.8.31 make of the numbers.
    expect(texts(sheet)).toEqual(['Celadon', '12.50 l', '2026-09-03', '42%', 'two runs', 'one of four']);
    const piece = (text: string): Mark => marks(sheet).find((p) => p.text === text)!;
    expect(piece('12.50 l').align).toBe('right');
    expect(piece('Celadon').align).toBe('left');
    // Column A: 20 characters of 7 px are 140 px (§18.3.1.13), that is 105 pt; rows are 15 pt, the fifth 30.
    expect(piece('42%').box).toMatchObject({ x: 105, y: 15, height: 15 });
    expect(piece('one of four').box).toEqual({ x: 0, y: 60, width: sheet.lines!.x[2], height: 45 });
    expect(
      marks(sheet)
        .filter((p) => p.fill === '#2f4a46')
        .map((p) => p.box),
    ).toEqual([piece('42%').box]);
  });

  test('bold is bold, and cells have the lines on their sides', async () => {
    const book = new ExcelJs.Workbook();
    const cell = book.addWorksheet('Orders').getCell('B2');
    cell.value = 'Sum';
    cell.font = { name: 'Georgia', size: 14, bold: true, italic: true, color: { argb: 'FFB5482A' } };
    cell.border = { top: { style: 'thick', color: { argb: 'FF22302F' } }, left: { style: 'thin' } };
    const sheet = openFile(new Uint8Array(await book.xlsx.writeBuffer())).sheets[0]!;
    const look = { font: 'Georgia', size: 14, weight: 700, italic: true, colour: '#b5482a' };
    expect(marks(sheet).find((m) => m.text === 'Sum')).toMatchObject(look);
    const ruled = marks(sheet).find((m) => m.edges)!;
    // A thick line is three times as wide as a thin one (ISO/IEC 29500-1 §18.18.3 has no figures; common practice).
    expect(ruled.edges).toEqual({
      top: { weight: 2.25, colour: '#22302f' },
      left: { weight: 0.75, colour: '#000000' },
    });
    expect(ruled.box).toEqual({ x: sheet.lines!.x[1], y: sheet.lines!.y[1], width: 48, height: 15 });
  });

  test('bold is bold on a sheet of OpenDocument, too', async () => {
    const styles =
      '<style:style style:name="c" style:family="table-cell"><style:table-cell-properties fo:border-bottom="1.5pt solid #123456"/><style:text-properties fo:font-weight="bold"/></style:style>';
    const body =
      '<table:table table:name="A"><table:table-row><table:table-cell table:style-name="c"><text:p>Sum</text:p></table:table-cell></table:table-row></table:table>';
    const sheet = openFile(await buildOpen({ kind: 'spreadsheet', styles, body })).sheets[0]!;
    expect(marks(sheet).find((m) => m.text === 'Sum')).toMatchObject({ weight: 700 });
    expect(marks(sheet).find((m) => m.edges)!.edges).toEqual({ bottom: { weight: 1.5, colour: '#123456' } });
  });

  test('words run on over empty cells, and stop at full ones', async () => {
    const rows =
      '<sheetData><row r="1"><c r="A1" t="inlineStr"><is><t>long</t></is></c></row><row r="2"><c r="A2" t="inlineStr"><is><t>long</t></is></c><c r="B2"><v>1</v></c></row></sheetData>';
    const [first, second] = marks(openFile(await buildWorkbook('', rows)).sheets[0]!);
    expect(second!.box.width).toBe(48);
    expect(first!.box.width).toBeGreaterThan(48 * 4);
  });

  test('a sheet reaches as far as its pictures; cells far away are left out', async () => {
    const at = '<xdr:absoluteAnchor><xdr:pos x="0" y="12700000"/><xdr:ext cx="1270000" cy="1270000"/>';
    const far =
      '<sheetData><row r="1"><c r="A1"><v>1</v></c></row><row r="5000"><c r="A5000"><v>2</v></c></row></sheetData>';
    const drawing = `${at}${sheetPic('<a:ext cx="1270000" cy="1270000"/>')}<xdr:clientData/></xdr:absoluteAnchor>`;
    const sheet = openFile(await buildWorkbook(drawing, far)).sheets[0]!;
    expect(texts(sheet)).toEqual(['1']);
    expect(sheet.height).toBeGreaterThan(1100);
    expect(sheet.height).toBeLessThan(1200);
  });

  test('a spreadsheet’s cells, repeated rows and columns; a picture’s place counts from its cell', async () => {
    const style = (name: string, family: string, properties: string): string =>
      `<style:style style:name="${name}" style:family="${family}">${properties}</style:style>`;
    const file = openFile(
      await buildOpen({
        kind: 'spreadsheet',
        styles:
          style('co', 'table-column', '<style:table-column-properties style:column-width="72pt"/>') +
          style('ro', 'table-row', '<style:table-row-properties style:row-height="20pt"/>') +
          style('ce', 'table-cell', '<style:table-cell-properties fo:background-color="#F4F0E7"/>'),
        body:
          '<table:table table:name="S"><table:table-column table:style-name="co" table:number-columns-repeated="3"/>' +
          '<table:table-row table:style-name="ro" table:number-rows-repeated="4"><table:table-cell table:number-columns-repeated="2"/><table:table-cell table:style-name="ce" office:value-type="float" office:value="3"><text:p>3,0</text:p></table:table-cell></table:table-row>' +
          `<table:table-row table:style-name="ro"><table:table-cell/><table:table-cell>${openFrame('svg:x="9pt" svg:y="5pt"')}</table:table-cell></table:table-row></table:table>`,
      }),
    );
    expect(file.pictures[0]!.origin).toEqual({ x: 72, y: 80 });
    const [fill, text] = marks(file.sheets[0]!);
    expect(file.sheets[0]!.items.at(-1)).toEqual({ picture: 1 });
    expect(fill).toMatchObject({ fill: '#f4f0e7', box: { x: 144, y: 0, width: 72, height: 20 } });
    expect(text).toMatchObject({ text: '3,0', align: 'right' });
    expect(file.sheets[0]!.height).toBeGreaterThanOrEqual(80 + 5 + file.pictures[0]!.frame.box.height);
  });
});
