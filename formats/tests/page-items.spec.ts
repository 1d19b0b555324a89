/**
 * What lies on pages beside the pictures: shapes, texts and what is not edited, in their order. Decks are written by
 * `pptxgenjs` and read by `pptxtojson` as well; clauses are of ISO/IEC 29500-1 and ODF 1.2 Part 1.
 */
import {
  applyAll,
  applyTo,
  checkDocument,
  documentOfPictures,
  frameMatrix,
  isPictureItem,
  itemsOf,
  plainWords,
  stackOf,
  type Document,
  type ForeignItem,
  type FramedItem,
  type GroupItem,
  type Item,
  type PageItem,
  type Slot,
} from '@gable/core';
import { execFileSync } from 'node:child_process';
import { strFromU8, strToU8, unzipSync, zipSync } from 'fflate';
import { readFileSync } from 'node:fs';
import path from 'node:path';
import { Resvg } from '@resvg/resvg-js';
import { parse } from 'pptxtojson';
import sharp from 'sharp';
import { openFile, type FramedFile } from './support/frames';
import { anchored, buildDocument, inlined, png } from './support/build';
import { buildDeck, buildWorkbook, PLACED, sheetPic, slidePic } from './support/deck';
import { buildOpen, graphicStyle, openFrame } from './support/open';

const stack = ({ sheets, layers = [] }: FramedFile, page = 1): PageItem[] => {
  const sheet = sheets[page - 1]!;
  return [...(sheet.layers ?? []).flatMap((id) => layers.find((l) => l.id === id)!.items), ...sheet.items];
};
const kinds = (items: readonly PageItem[]): string[] =>
  items.map((i) => ('picture' in i ? `picture ${i.picture}` : i.kind === 'foreign' ? i.what : i.kind));
const framed = (item: PageItem | undefined): FramedItem => item as FramedItem;
const words = (item: Item): string =>
  item.kind === 'framed' ? (item.text?.paragraphs ?? []).map((p) => p.runs.map((r) => r.text).join('')).join('\n') : '';

describe('slides', () => {
  /** A deck as another library writes it: a block, a picture, an ellipse with words over it, a table, a chart. */
  async function deck(): Promise<Uint8Array> {
    const picture = Buffer.from(await png(30, 20)).toString('base64');
    const script = path.join(__dirname, 'support/other-deck.mjs');
    return new Uint8Array(execFileSync(process.execPath, [script, picture], { maxBuffer: 10e6 }));
  }

  test('another library’s shapes, texts, table and chart, in the order and at the places that another reader finds', async () => {
    const bytes = await deck();
    const items = stack(openFile(bytes));
    expect(kinds(items)).toEqual(['framed', 'picture 1', 'framed', 'table', 'chart']);
    const other = await parse(bytes.slice().buffer);
    const theirs = other.slides[0]!.elements.sort((a, b) => a.order - b.order);
    expect(theirs.map((e) => e.type)).toEqual(['shape', 'image', 'shape', 'table', 'chart']);
    for (const [i, item] of items.entries()) {
      if ('picture' in item) continue;
      const { left, top, width, height } = theirs[i]!;
      const { box } = item.at;
      for (const [mine, its] of [
        [box.x, left],
        [box.y, top],
        [box.width, width],
        [box.height, height],
      ] as const)
        expect(Math.abs(mine - its)).toBeLessThan(0.1);
    }
    const [block, , ellipse, table] = items;
    expect(framed(block)).toMatchObject({
      shape: { name: 'rectangle' },
      fill: { kind: 'paint', paint: { kind: 'solid', colour: '#2b6a73' } },
      text: null,
    });
    expect(framed(ellipse)).toMatchObject({
      shape: { name: 'ellipse' },
      turn: 15,
      outline: { weight: 3, paint: { colour: '#b5482a' } },
      text: {
        anchor: 'bottom',
        paragraphs: [
          {
            align: 'end',
            runs: [
              { text: 'Open day', font: 'Georgia', size: 24, weight: 700, italic: true, paint: { colour: '#22302f' } },
            ],
          },
        ],
      },
    });
    const cells = (table as ForeignItem).preview!;
    expect(cells.map((m) => plainWords(m.words ?? null))).toEqual(['Glaze', 'Cone', 'Celadon', '9']);
  });

  test('layouts and masters are layers that slides share; their placeholders are not shown', async () => {
    const sp = (id: number, text: string, nv = ''): string =>
      `<p:sp><p:nvSpPr><p:cNvPr id="${id}" name="s"/><p:cNvSpPr/><p:nvPr>${nv}</p:nvPr></p:nvSpPr><p:spPr>${PLACED}</p:spPr><p:txBody><a:bodyPr/><a:p><a:r><a:t>${text}</a:t></a:r></a:p></p:txBody></p:sp>`;
    const bytes = await buildDeck(
      [sp(2, 'first'), slidePic(PLACED) + sp(2, 'second')],
      sp(3, 'on the layout') + sp(4, 'click here', '<p:ph type="title"/>'),
      sp(5, 'on the master') + slidePic(PLACED),
    );
    const file = openFile(bytes);
    expect(file.layers!.map((l) => l.items.length)).toEqual([1, 2]);
    const document = openFile(bytes).document;
    const [page] = document.pages;
    expect(page!.layers.map((id) => itemsOf(document, { layer: id }).map((i) => words(document.items[i]!)))).toEqual([
      ['on the master', ''],
      ['on the layout'],
    ]);
    // The master's picture lies in its layer, once for all slides.
    expect(Object.values(document.items).filter(isPictureItem)).toHaveLength(file.pictures.length);
    expect(stack(file, 2).map((i) => ('picture' in i ? i.picture : words(i)))).toEqual([
      'on the master',
      2,
      'on the layout',
      1,
      'second',
    ]);
  });

  test('a shape’s paint comes from itself, its style or a gradient; no fill is none; a connector is kept', async () => {
    const shape = (fill: string, style = ''): string =>
      `<p:sp><p:nvSpPr><p:cNvPr id="2" name="s"/><p:cNvSpPr/><p:nvPr/></p:nvSpPr><p:spPr>${PLACED}${fill}</p:spPr>${style}</p:sp>`;
    const style = '<p:style><a:lnRef idx="0"/><a:fillRef idx="1"><a:schemeClr val="accent1"/></a:fillRef></p:style>';
    const gradient =
      '<a:gradFill><a:gsLst><a:gs pos="0"><a:srgbClr val="000000"/></a:gs><a:gs pos="100000"><a:srgbClr val="FFFFFF"/></a:gs></a:gsLst><a:lin ang="5400000"/></a:gradFill>';
    const line = `<p:cxnSp><p:nvCxnSpPr><p:cNvPr id="9" name="c"/></p:nvCxnSpPr><p:spPr>${PLACED}</p:spPr></p:cxnSp>`;
    const file = openFile(
      await buildDeck([shape('', style) + shape('<a:noFill/>', style) + shape(gradient) + line + slidePic(PLACED)]),
    );
    const items = stack(file);
    expect(kinds(items)).toEqual(['framed', 'framed', 'framed', 'connector', 'picture 1']);
    expect(framed(items[0]).fill).toEqual({ kind: 'paint', paint: { kind: 'solid', colour: '#336699', opacity: 1 } });
    expect(framed(items[1]).fill).toBeNull();
    expect(framed(items[2]).fill).toMatchObject({
      paint: { kind: 'linear', angle: 90, stops: [{ at: 0 }, { at: 1 }] },
    });
  });

  test('a group holds its members in their order; what is in a turned one lies where another reader turns it', async () => {
    const parts = unzipSync(await deck());
    const slide = strFromU8(parts['ppt/slides/slide1.xml']!);
    const [start, end] = [slide.indexOf('<p:sp>'), slide.indexOf('</p:pic>') + '</p:pic>'.length];
    const at = (names: string): string =>
      `<a:${names.split(' ')[0]} x="914400" y="914400"/><a:${names.split(' ')[1]} cx="3657600" cy="2286000"/>`;
    const group = `<p:grpSp><p:nvGrpSpPr><p:cNvPr id="77" name="g" descr="Two"/><p:cNvGrpSpPr/><p:nvPr/></p:nvGrpSpPr><p:grpSpPr><a:xfrm rot="5400000">${at('off ext')}${at('chOff chExt')}</a:xfrm></p:grpSpPr>${slide.slice(start, end)}</p:grpSp>`;
    parts['ppt/slides/slide1.xml'] = strToU8(slide.slice(0, start) + group + slide.slice(end));
    const bytes = zipSync(parts);
    const { document } = openFile(bytes);
    const [page] = document.pages;
    const item = document.items[page!.items[0]!]!;
    expect(item).toMatchObject({ kind: 'group', turn: 90, alt: 'Two', at: { on: 'page' } });
    expect((item as GroupItem).children).toEqual([expect.stringMatching(/^slide1-/), 'p1']);
    expect(document.items['p1']!.at.on).toBe('group');
    checkDocument(document);
    // The group turns about (216, 162); the picture's middle, 36 to the right and 18 below, comes to lie 18 left and 36 below.
    const placed = stackOf(document, page!).find((p) => p.item.id === 'p1')!;
    expect([placed.box.x + placed.box.width / 2, placed.box.y + placed.box.height / 2]).toEqual([
      expect.closeTo(198, 6),
      expect.closeTo(198, 6),
    ]);
    expect(placed.turn).toBe(90);
    const theirs = (await parse(bytes.slice().buffer)).slides[0]!.elements[0] as {
      type: string;
      rotate: number;
      width: number;
      elements: { type: string }[];
    };
    expect([theirs.type, theirs.rotate, theirs.width]).toEqual(['group', 90, 288]);
    expect(theirs.elements.map((e) => e.type)).toEqual(['shape', 'image']);
  });

  test('a change of what is no picture is refused, not lost', async () => {
    const source = openFile(await deck());
    const id = Object.keys(source.document.items).find((i) => !isPictureItem(source.document.items[i]!))!;
    const items = { ...source.document.items, [id]: { ...source.document.items[id]!, alt: 'other' } };
    expect(() => source.write({ ...source.document, items })).toThrow(/cannot be written/);
  });
});

describe('drawings', () => {
  const svg = (inner: string): Uint8Array =>
    new TextEncoder().encode(
      `<svg xmlns="http://www.w3.org/2000/svg" width="400" height="300" viewBox="0 0 200 150">${inner}</svg>`,
    );
  const SHAPES = [
    '<rect x="20" y="30" width="60" height="20" fill="#2b6a73" transform="rotate(30 50 40)"/>',
    '<ellipse cx="40" cy="20" rx="20" ry="10" fill="#b5482a" transform="translate(60 40) scale(1.5)"/>',
    '<polygon points="100,20 140,20 120,60" fill="#22302f"/>',
  ] as const;

  test.each(SHAPES)('%s lies where a renderer paints it', async (markup) => {
    const { document } = openFile(svg(`<g transform="translate(5 3)">${markup}</g>`));
    const [placed] = stackOf(document, document.pages[0]!);
    const { box, turn } = placed!;
    const corners = [0, box.width].flatMap((x) =>
      [0, box.height].map((y) => applyTo(frameMatrix({ box, turn, flip: placed!.flip }), { x, y })),
    );
    const { data, info } = await sharp(
      new Resvg(Buffer.from(svg(`<g transform="translate(5 3)">${markup}</g>`))).render().asPng(),
    )
      .raw()
      .toBuffer({ resolveWithObject: true });
    const [xs, ys]: [number[], number[]] = [[], []];
    for (let i = 0; i < info.width * info.height; i++)
      if (data[i * 4 + 3]! > 127) {
        xs.push(i % info.width);
        ys.push(Math.floor(i / info.width));
      }
    // Pixels are 0.75 pt; a turned rectangle reaches as far as its corners, the others as far as their boxes.
    for (const [mine, painted] of [
      [Math.min(...corners.map((c) => c.x)), Math.min(...xs) * 0.75],
      [Math.max(...corners.map((c) => c.x)), (Math.max(...xs) + 1) * 0.75],
      [Math.min(...corners.map((c) => c.y)), Math.min(...ys) * 0.75],
      [Math.max(...corners.map((c) => c.y)), (Math.max(...ys) + 1) * 0.75],
    ] as const)
      expect(Math.abs(mine - painted)).toBeLessThan(1.2);
  });

  test('shapes, texts and groups in their order, with their paint; what is only defined is not told', () => {
    const { document } = openFile(
      svg(
        `<defs><linearGradient id="g" x2="0" y2="1"><stop offset="0" stop-color="#000000"/><stop offset="100%" style="stop-color:#ffffff"/></linearGradient><rect width="5" height="5"/></defs>${SHAPES[0]}<g><title>Both</title><rect width="9" height="9" fill="url(#g)" stroke="#c28a2c" stroke-width="2"/><image href="data:image/png;base64,AAAA" width="20" height="10"/></g><text x="10" y="50" font-size="12" text-anchor="middle" font-weight="bold"><tspan x="10">One</tspan><tspan x="10" dy="14">Two</tspan></text><line x1="0" y1="5" x2="9" y2="5" stroke="#000"/>`,
      ),
    );
    const items = document.pages[0]!.items.map((id) => document.items[id]!);
    expect(items.map((i) => (i.kind === 'foreign' ? i.what : i.kind))).toEqual([
      'framed',
      'group',
      'framed',
      'connector',
    ]);
    const [first, group, text] = items;
    expect(framed(first)).toMatchObject({ turn: 30, fill: { paint: { colour: '#2b6a73' } } });
    expect(group).toMatchObject({ alt: 'Both', children: [expect.stringContaining('drawing'), 'p1'] });
    const member = framed(document.items[(group as GroupItem).children[0]!]);
    expect(member.fill).toMatchObject({ paint: { kind: 'linear', angle: 90 } });
    // Two user units are four pixels here, three points.
    expect(member.outline).toMatchObject({ weight: 3, paint: { colour: '#c28a2c' } });
    expect(words(text!)).toBe('One\nTwo');
    expect(framed(text).text!.paragraphs[0]).toMatchObject({ align: 'centre', runs: [{ size: 18, weight: 700 }] });
  });

  test('another order, and a shape that goes: a renderer shows it; a member of a group stays in it', async () => {
    const bytes = svg(
      '<rect id="a" width="60" height="60" fill="#ff0000"/><rect id="b" x="30" width="60" height="60" fill="#0000ff"/><g opacity=".5"><circle cx="100" cy="100" r="20"/><circle cx="120" cy="100" r="20"/></g>',
    );
    const at = async (b: Uint8Array, x: number, y: number): Promise<number[]> => {
      const { data, info } = await sharp(new Resvg(Buffer.from(b)).render().asPng())
        .raw()
        .toBuffer({ resolveWithObject: true });
      return [...data.subarray((y * 2 * info.width + x * 2) * 4).subarray(0, 3)];
    };
    expect(await at(bytes, 45, 20)).toEqual([0, 0, 255]);
    const source = openFile(bytes);
    const page = source.document.pages[0]!;
    const move = (slot: Slot): Document =>
      applyAll(source.document, [{ op: 'move', id: page.items[0]!, slot }]).document;
    const front = source.write(move({ in: { page: page.id }, index: 2 }));
    expect(await at(front, 45, 20)).toEqual([255, 0, 0]);
    expect(new TextDecoder().decode(front)).toContain('<rect id="a" width="60" height="60" fill="#ff0000"/></svg>');
    const gone = applyAll(source.document, [{ op: 'remove', id: page.items[1]! }]).document;
    expect(new TextDecoder().decode(source.write(gone))).not.toContain('id="b"');
    expect(() => source.write(move({ in: { group: page.items[2]! }, index: 0 }))).toThrow('cannot go into another');
  });
});

describe('pages of OpenDocument files', () => {
  test('shapes, text boxes, lines and objects in their order, over their master’s', async () => {
    const bytes = await buildOpen({
      kind: 'presentation',
      styles: graphicStyle('g', 'draw:fill="solid" draw:fill-color="#2B6A73" draw:stroke="none"'),
      masters:
        '<style:master-page style:name="M"><draw:rect draw:style-name="g" svg:x="0pt" svg:y="0pt" svg:width="50pt" svg:height="20pt"/></style:master-page>',
      body:
        '<draw:page draw:master-page-name="M"><draw:circle draw:style-name="g" svg:x="10pt" svg:y="20pt" svg:width="60pt" svg:height="60pt"><text:p>Kiln</text:p></draw:circle>' +
        openFrame('svg:x="9pt" svg:y="5pt"') +
        '<draw:line svg:x1="5pt" svg:y1="50pt" svg:x2="45pt" svg:y2="10pt"/>' +
        '<draw:frame svg:x="1pt" svg:y="2pt" svg:width="90pt" svg:height="40pt"><draw:text-box><text:p>One</text:p><text:p>Two</text:p></draw:text-box></draw:frame>' +
        '<draw:frame svg:x="1pt" svg:y="2pt" svg:width="90pt" svg:height="40pt"><draw:object xlink:href="./Object 1"/></draw:frame></draw:page>',
    });
    const file = openFile(bytes);
    const items = stack(file);
    expect(kinds(items)).toEqual(['framed', 'framed', 'picture 1', 'connector', 'framed', 'object']);
    expect(framed(items[1])).toMatchObject({
      shape: { name: 'circle' },
      at: { box: { x: 10, y: 20, width: 60, height: 60 } },
      outline: null,
      fill: { paint: { colour: '#2b6a73' } },
    });
    expect(words(framed(items[1]))).toBe('Kiln');
    expect(words(framed(items[4]))).toBe('One\nTwo');
    expect((items[3] as Item).at.box).toEqual({ x: 5, y: 10, width: 40, height: 40 });
  });
});

test('text boxes of OpenDocument texts, with the pictures in and beside them, in the order of the text', async () => {
  const box = (inside: string, anchor: string): string =>
    `<draw:frame draw:style-name="g" text:anchor-type="${anchor}" svg:x="5pt" svg:y="6pt" svg:width="90pt" svg:height="40pt"><draw:text-box>${inside}</draw:text-box></draw:frame>`;
  const { document } = openFile(
    await buildOpen({
      styles: graphicStyle('g', 'draw:fill="solid" draw:fill-color="#F1E9D8" draw:stroke="none"'),
      body: `<text:p>${openFrame()}</text:p><text:p>${box(`<text:p>House rules</text:p><text:p>${openFrame()}</text:p>`, 'paragraph')}</text:p><text:p>${box('<text:p>Small</text:p>', 'as-char')}</text:p>`,
    }),
  );
  checkDocument(document);
  const items = document.stories[0]!.items.map((id) => document.items[id]!);
  expect(items.map((i) => (isPictureItem(i) ? i.id : i.kind))).toEqual(['p1', 'framed', 'p2', 'framed']);
  expect(items.map((i) => i.at.on)).toEqual([items[0]!.at.on, 'anchor', items[2]!.at.on, 'line']);
  expect(words(items[1]!)).toContain('House rules');
  expect(framed(items[1])).toMatchObject({
    at: { box: { x: 5, y: 6, width: 90, height: 40 } },
    fill: { paint: { colour: '#f1e9d8' } },
  });
});

describe('texts', () => {
  const drawing = (inner: string, uri = 'x'): string =>
    `<w:p><w:r><w:drawing><wp:inline><wp:extent cx="1828800" cy="914400"/><wp:docPr id="3" name="d"/><a:graphic><a:graphicData uri="${uri}">${inner}</a:graphicData></a:graphic></wp:inline></w:drawing></w:r></w:p>`;
  const box = (inside: string): string =>
    `<wps:wsp><wps:cNvSpPr txBox="1"/><wps:spPr><a:prstGeom prst="ellipse"><a:avLst/></a:prstGeom><a:solidFill><a:srgbClr val="F1E9D8"/></a:solidFill></wps:spPr><wps:txbx><w:txbxContent>${inside}</w:txbxContent></wps:txbx><wps:bodyPr lIns="91440" anchor="ctr"/></wps:wsp>`;
  const run = '<w:r><w:rPr><w:b/><w:color w:val="2B6A73"/><w:sz w:val="28"/></w:rPr><w:t>House rules</w:t></w:r>';

  test('text boxes, pictures in and beside them, and charts, in the order of the text (§20.4.2.38, txbx)', async () => {
    const inside = `<w:p><w:pPr><w:jc w:val="center"/></w:pPr>${run}</w:p>${inlined()}`;
    const chart = drawing(
      '<c:chart xmlns:c="urn:x" r:id="rId9"/>',
      'http://schemas.openxmlformats.org/drawingml/2006/chart',
    );
    const file = openFile(await buildDocument({ body: anchored() + drawing(box(inside)) + chart + inlined() }));
    const { document } = file;
    checkDocument(document);
    const [story] = document.stories;
    const items = story!.items.map((id) => document.items[id]!);
    expect(story!.kind).toBe('body');
    expect(items.map((i) => (i.kind === 'foreign' ? i.what : isPictureItem(i) ? i.id : i.kind))).toEqual([
      'p1',
      'framed',
      'p2',
      'chart',
      'p3',
    ]);
    expect(items.map((i) => i.at.on)).toEqual(['anchor', 'line', 'line', 'line', 'line']);
    expect(framed(items[1])).toMatchObject({
      at: { box: { width: 144, height: 72 } },
      shape: { name: 'ellipse' },
      fill: { paint: { colour: '#f1e9d8' } },
      text: {
        anchor: 'middle',
        inset: { left: 7.2 },
        paragraphs: [
          { align: 'centre', runs: [{ text: 'House rules', size: 14, weight: 700, paint: { colour: '#2b6a73' } }] },
          { runs: [] },
        ],
      },
    });
  });
});

test('shapes and charts lie over the cells of a sheet, with the pictures, in their order (§20.5)', async () => {
  const at = (inner: string, row: number): string =>
    `<xdr:oneCellAnchor><xdr:from><xdr:col>1</xdr:col><xdr:colOff>0</xdr:colOff><xdr:row>${row}</xdr:row><xdr:rowOff>0</xdr:rowOff></xdr:from><xdr:ext cx="914400" cy="457200"/>${inner}<xdr:clientData/></xdr:oneCellAnchor>`;
  const shape =
    '<xdr:sp><xdr:nvSpPr><xdr:cNvPr id="5" name="s"/><xdr:cNvSpPr/></xdr:nvSpPr><xdr:spPr><a:xfrm><a:off x="0" y="0"/><a:ext cx="914400" cy="457200"/></a:xfrm><a:prstGeom prst="rect"><a:avLst/></a:prstGeom><a:solidFill><a:srgbClr val="2B6A73"/></a:solidFill></xdr:spPr><xdr:txBody><a:bodyPr/><a:p><a:r><a:t>Cone 9</a:t></a:r></a:p></xdr:txBody></xdr:sp>';
  const chart =
    '<xdr:graphicFrame><xdr:nvGraphicFramePr><xdr:cNvPr id="6" name="c"/><xdr:cNvGraphicFramePr/></xdr:nvGraphicFramePr><xdr:xfrm><a:off x="0" y="0"/><a:ext cx="0" cy="0"/></xdr:xfrm><a:graphic><a:graphicData uri="http://schemas.openxmlformats.org/drawingml/2006/chart"/></a:graphic></xdr:graphicFrame>';
  const picture = sheetPic('<a:ext cx="914400" cy="457200"/>');
  const { document } = openFile(await buildWorkbook(at(shape, 1) + at(picture, 3) + at(chart, 5)));
  const items = document.pages[0]!.items.map((id) => document.items[id]!);
  expect(items.map((i) => (i.kind === 'foreign' ? i.what : isPictureItem(i) ? i.id : i.kind))).toEqual([
    'table',
    'framed',
    'p1',
    'chart',
  ]);
  expect(words(items[1]!)).toBe('Cone 9');
  // 914,400 EMU are 72 pt; all stand in the second column.
  expect(items.slice(1).map((i) => i.at.box.width)).toEqual([72, 72, 72]);
  expect(new Set(items.slice(1).map((i) => i.at.box.x)).size).toBe(1);
  expect(items[1]!.at.box.y).toBeLessThan(items[3]!.at.box.y);
});

test.each(['open-day-talk.pptx', 'firing-day-board.svg'])('%s: each picture lies on its page once', (name) => {
  const file = openFile(readFileSync(`demo/files/${name}`));
  const document = documentOfPictures(file.pictures, file);
  const all = [
    ...document.pages.flatMap((p) => p.items),
    ...document.layers.flatMap((l) => l.items),
    ...document.stories.flatMap((s) => s.items),
    ...Object.values(document.items).flatMap((i) => (i.kind === 'group' ? i.children : [])),
  ];
  expect(new Set(all).size).toBe(all.length);
  expect(all.sort()).toEqual(Object.keys(document.items).sort());
});
