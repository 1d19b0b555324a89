/**
 * Shapes and text boxes of a text in another place, or of another size: `wp:anchor` and `wp:extent` (ISO/IEC 29500-1 §20.4.2.3,
 * §20.4.2.7), `svg:x` and `svg:width` (ODF 1.2 Part 1 §19.573, §19.575; numbers from memory). Nothing but what says so is written.
 */
import { applyAll, type Document, type FramedItem, type Operation } from '@gable/core';
import { strFromU8, unzipSync } from 'fflate';
import { readFileSync } from 'node:fs';
import { openFile, type Source } from '../src/index';
import { buildDocument, inlined } from './support/build';
import { buildOpen, graphicStyle, openFrame } from './support/open';

const CM = 360_000;
const shape = (words: string, size: string, more = ''): string =>
  `<wps:wsp><wps:cNvSpPr/><wps:spPr><a:xfrm><a:off x="0" y="0"/><a:ext ${size}/></a:xfrm><a:prstGeom prst="rect"><a:avLst/></a:prstGeom><a:solidFill><a:srgbClr val="F1E9D8"/></a:solidFill></wps:spPr>` +
  `<wps:txbx><w:txbxContent><w:p><w:r><w:t>${words}</w:t></w:r></w:p></w:txbxContent></wps:txbx><wps:bodyPr/></wps:wsp>${more}`;
const graphic = (inner: string): string => `<a:graphic><a:graphicData uri="x">${inner}</a:graphicData></a:graphic>`;
const position = (axis: 'H' | 'V', from: string, by: string): string =>
  `<wp:position${axis} relativeFrom="${from}">${by}</wp:position${axis}>`;
const offset = (emu: number): string => `<wp:posOffset>${emu}</wp:posOffset>`;
const SIZE = `cx="${4 * CM}" cy="${2 * CM}"`;
const anchored = (words: string, across: string, tail = '', wrap = '<wp:wrapNone/>'): string =>
  `<wp:anchor behindDoc="0" relativeHeight="3"><wp:simplePos x="0" y="0"/>${across}${position('V', 'paragraph', offset(CM))}<wp:extent ${SIZE}/>${wrap}<wp:docPr id="9" name="Box"/><wp:cNvGraphicFramePr/>${graphic(shape(words, SIZE))}${tail}</wp:anchor>`;
const older = `<w:pict><v:shape id="b" style="position:absolute;margin-left:28.35pt;margin-top:28.35pt;width:113.4pt;height:56.7pt;z-index:3"/></w:pict>`;
const drawn = (drawing: string, fallback = ''): string =>
  `<w:r><mc:AlternateContent><mc:Choice Requires="wps"><w:drawing>${drawing}</w:drawing></mc:Choice>${fallback && `<mc:Fallback>${fallback}</mc:Fallback>`}</mc:AlternateContent></w:r>`;
const made = (...runs: string[]): Promise<Uint8Array> =>
  buildDocument({
    body: `<w:p><w:r><w:t>The body stays.</w:t></w:r>${runs.join('')}</w:p>${inlined()}<w:sectPr><w:pgSz w:w="12240" w:h="15840"/><w:pgMar w:top="1440" w:right="1440" w:bottom="1440" w:left="1440"/></w:sectPr>`,
  });

const saying = ({ document }: Source, words: string): FramedItem =>
  Object.values(document.items).find(
    (i): i is FramedItem => i.kind === 'framed' && i.text?.paragraphs[0]?.runs[0]?.text === words,
  )!;
const placed = (file: Source, words: string, change: (item: FramedItem) => Partial<FramedItem>): Document => {
  const item = saying(file, words);
  const sets = Object.entries(change(item)).map(([path, value]): Operation => ({
    op: 'set',
    id: item.id,
    path,
    value,
  }));
  return applyAll(file.document, sets).document;
};
const withBox =
  (part: Partial<FramedItem['at']['box']>) =>
  ({ at }: FramedItem): Partial<FramedItem> => ({ at: { ...at, box: { ...at.box, ...part } } as FramedItem['at'] });
const textOf = (bytes: Uint8Array, part: string): string => strFromU8(unzipSync(bytes)[part]!);
const MAIN = 'word/document.xml';

test('beside the text it is moved, sized and turned, also for readers of the older markup; the rest stays to the letter', async () => {
  const bytes = await made(drawn(anchored('Firing', position('H', 'column', offset(CM))), older));
  const file = openFile(bytes);
  const { box } = saying(file, 'Firing').at;
  expect(box.x).toBeCloseTo(28.3465, 3);
  const out = file.write(placed(file, 'Firing', withBox({ x: box.x + 72, y: box.y - 36, width: 144, height: 72 })));
  const { at } = saying(openFile(out), 'Firing');
  for (const [side, value] of Object.entries({ x: box.x + 72, y: box.y - 36, width: 144, height: 72 }))
    expect(at.box[side as 'x']).toBeCloseTo(value, 3);
  const xml = textOf(out, MAIN);
  expect(xml).toContain(`<wp:posOffset>${CM + 914_400}</wp:posOffset>`);
  expect(xml).toContain('<wp:extent cx="1828800" cy="914400"/>');
  expect(xml).toContain('<a:ext cx="1828800" cy="914400"/>');
  expect(xml).toContain('margin-left:100.346pt;margin-top:-7.654pt;width:144pt;height:72pt;z-index:3');
  // What says its place and its size, and how far it reaches beyond that.
  const bare = (text: string): string =>
    text.replace(
      /<wp:posOffset>.*?<\/wp:posOffset>|<wp:(extent|effectExtent) [^>]*\/>|<a:ext [^>]*\/>| style="[^"]*"/g,
      '',
    );
  expect(bare(xml)).toBe(bare(textOf(bytes, MAIN)));
  // Back where it was, the file is the one that came.
  expect(Buffer.compare(Buffer.from(file.write(file.document)), Buffer.from(bytes))).toBe(0);
  const turned = file.write(placed(file, 'Firing', () => ({ turn: 30 })));
  expect(textOf(turned, MAIN)).toContain('rot="1800000"');
  expect(saying(openFile(turned), 'Firing').turn).toBe(30);
});

/** A centred box of 4 cm in a column of 6.5 in begins at (468 - 113.386) / 2 points: Letter with margins of an inch. */
test('aligned it is told where it lies; moved across it is aligned no more, moved down it still is', async () => {
  const bytes = await made(drawn(anchored('Firing', position('H', 'margin', '<wp:align>center</wp:align>'))));
  const file = openFile(bytes);
  const { at } = saying(file, 'Firing');
  expect(at.box.x).toBeCloseTo((468 - 113.3858) / 2, 3);
  const down = openFile(file.write(placed(file, 'Firing', withBox({ y: 90 }))));
  expect(saying(down, 'Firing').at).toMatchObject({ anchor: { align: { x: 'centre' } }, box: { y: 90 } });
  const free = ({ at }: FramedItem): Partial<FramedItem> => {
    if (at.on !== 'anchor') throw new Error('beside the text');
    const { align, ...anchor } = at.anchor!;
    expect(align).toEqual({ x: 'centre' });
    return { at: { ...at, anchor, box: { ...at.box, x: at.box.x + 10 } } };
  };
  const out = file.write(placed(file, 'Firing', free));
  expect(textOf(out, MAIN)).not.toContain('<wp:align>');
  expect(saying(openFile(out), 'Firing').at.box.x).toBeCloseTo(at.box.x + 10, 3);
});

test('a size in shares of the page no longer counts, and text that runs tightly round it follows', async () => {
  const share =
    '<wp14:sizeRelH xmlns:wp14="http://schemas.microsoft.com/office/word/2010/wordprocessingDrawing" relativeFrom="margin"><wp14:pctWidth>40000</wp14:pctWidth></wp14:sizeRelH>';
  const wrap =
    '<wp:wrapTight wrapText="bothSides"><wp:wrapPolygon edited="0"><wp:start x="0" y="0"/><wp:lineTo x="0" y="9000"/><wp:lineTo x="9000" y="0"/></wp:wrapPolygon></wp:wrapTight>';
  const file = openFile(await made(drawn(anchored('Firing', position('H', 'column', offset(0)), share, wrap))));
  const xml = textOf(file.write(placed(file, 'Firing', withBox({ width: 200 }))), MAIN);
  expect(xml).toContain('<wp14:pctWidth>0</wp14:pctWidth>');
  expect(xml).toContain('<wp:lineTo x="21600" y="21600"/>');
});

test('in a line it can be of another size, but not elsewhere; a part of a group keeps both', async () => {
  const inline = `<wp:inline distT="0"><wp:extent ${SIZE}/><wp:docPr id="7" name="Line"/><wp:cNvGraphicFramePr/>${graphic(shape('In line', SIZE))}</wp:inline>`;
  const group = `<wp:anchor behindDoc="0" relativeHeight="4"><wp:simplePos x="0" y="0"/>${position('H', 'column', offset(0))}${position('V', 'paragraph', offset(0))}<wp:extent ${SIZE}/><wp:wrapNone/><wp:docPr id="8" name="Group"/><wp:cNvGraphicFramePr/>${graphic(`<wpg:wgp xmlns:wpg="http://schemas.microsoft.com/office/word/2010/wordprocessingGroup"><wpg:cNvGrpSpPr/><wpg:grpSpPr><a:xfrm><a:off x="0" y="0"/><a:ext ${SIZE}/><a:chOff x="0" y="0"/><a:chExt ${SIZE}/></a:xfrm></wpg:grpSpPr>${shape('Part', SIZE)}</wpg:wgp>`)}</wp:anchor>`;
  const file = openFile(await made(drawn(inline), drawn(group)));
  const sized = openFile(file.write(placed(file, 'In line', withBox({ width: 90 }))));
  expect(saying(sized, 'In line').at).toMatchObject({ on: 'line', box: { width: 90 } });
  const refused = expect.objectContaining({ code: 'cannot-write' });
  expect(() => file.write(placed(file, 'In line', withBox({ x: 9 })))).toThrow(refused);
  expect(() => file.write(placed(file, 'Part', withBox({ x: 9 })))).toThrow(refused);
  expect(() => file.write(placed(file, 'Part', withBox({ width: 90 })))).toThrow(refused);
});

test('all that stands beside the text of the handbook goes half an inch aside; pictures and words stay', () => {
  const file = openFile(new Uint8Array(readFileSync('demo/files/season-handbook.docx')));
  const own = Object.values(file.document.items).filter(
    (i): i is FramedItem => i.kind === 'framed' && !/^p\d+$/.test(i.id) && i.at.on === 'anchor',
  );
  const sets = own.map(({ id, at }): Operation => {
    const { align, ...anchor } = at.on === 'anchor' ? at.anchor! : BESIDE;
    void align;
    return { op: 'set', id, path: 'at', value: { ...at, anchor, box: { ...at.box, x: at.box.x + 36 } } };
  });
  const again = openFile(file.write(applyAll(file.document, sets).document));
  expect(own.length).toBeGreaterThan(0);
  for (const { id, at, text } of own) {
    const now = again.document.items[id] as FramedItem;
    expect(now.at.box.x).toBeCloseTo(at.box.x + 36, 3);
    expect(now.text).toEqual(text);
  }
  expect(again.pictures.map((p) => p.frame)).toEqual(file.pictures.map((p) => p.frame));
});
const BESIDE = { align: undefined };

describe('in an .odt', () => {
  const words = (text: string): string => `<draw:text-box><text:p>${text}</text:p></draw:text-box>`;
  const frame = (text: string, attributes: string, style = 'G1'): string =>
    `<draw:frame draw:style-name="${style}" ${attributes}>${words(text)}</draw:frame>`;
  const openText = (): Promise<Uint8Array> =>
    buildOpen({
      styles:
        graphicStyle(
          'G1',
          'style:horizontal-pos="from-left" style:horizontal-rel="paragraph" fo:border="0.5pt solid #000000"',
        ) + graphicStyle('G2', 'style:horizontal-pos="center" style:horizontal-rel="page" fo:border="none"'),
      body:
        '<text:p>The body stays.' +
        frame('Firing', 'text:anchor-type="paragraph" svg:x="1cm" svg:y="2cm" svg:width="6cm" svg:height="3cm"') +
        frame('Middle', 'text:anchor-type="paragraph" svg:y="6cm" svg:width="6cm" svg:height="3cm"', 'G2') +
        `<draw:frame draw:style-name="G1" text:anchor-type="paragraph" svg:x="1cm" svg:y="12cm" svg:width="6cm"><draw:text-box fo:min-height="2cm"><text:p>Grows</text:p></draw:text-box></draw:frame>` +
        frame('In line', 'text:anchor-type="as-char" svg:width="6cm" svg:height="3cm"') +
        `</text:p><text:p>${openFrame('text:anchor-type="as-char"')}</text:p>`,
    });
  const content = (bytes: Uint8Array): string => textOf(bytes, 'content.xml');

  test('another place and size: only these are written, and read back', async () => {
    const bytes = await openText();
    const file = openFile(bytes);
    const out = file.write(placed(file, 'Firing', withBox({ x: 90, width: 150 })));
    expect(saying(openFile(out), 'Firing').at.box).toMatchObject({ x: 90, width: 150 });
    const bare = (text: string): string => text.replace(/ svg:(x|y|width|height)="[^"]*"/g, '');
    expect(bare(content(out))).toBe(bare(content(bytes)));
    expect(content(out)).toContain('svg:x="90pt"');
  });

  test('one that grows says how high it is at least; in a line nothing but its sides is said', async () => {
    const bytes = await openText();
    const file = openFile(bytes);
    const grown = content(file.write(placed(file, 'Grows', withBox({ height: 100 }))));
    expect(grown).toContain('<draw:text-box fo:min-height="100pt"><text:p>Grows');
    const inLine = file.write(placed(file, 'In line', withBox({ height: 100 })));
    expect(saying(openFile(inLine), 'In line').at).toMatchObject({ on: 'line', box: { height: 100 } });
    expect(content(inLine)).toMatch(/text:anchor-type="as-char" svg:width="170.07\d*pt" svg:height="100pt">/);
    const refused = expect.objectContaining({ code: 'cannot-write' });
    expect(() => file.write(placed(file, 'In line', withBox({ x: 9 })))).toThrow(refused);
  });

  test('aligned and moved across, its style is a new one that says so', async () => {
    const file = openFile(await openText());
    const free = ({ at }: FramedItem): Partial<FramedItem> => {
      if (at.on !== 'anchor') throw new Error('beside the text');
      const { align, ...anchor } = at.anchor!;
      expect(align).toEqual({ x: 'centre' });
      return { at: { ...at, anchor, box: { ...at.box, x: 50 } } };
    };
    const out = file.write(placed(file, 'Middle', free));
    const { at } = saying(openFile(out), 'Middle');
    expect(at.box.x).toBeCloseTo(50, 3);
    expect(at).not.toHaveProperty('anchor.align');
    expect(content(out)).toMatch(/style:horizontal-pos="from-left"[^>]*\/?>/);
    expect(saying(openFile(out), 'Firing')).toEqual(saying(file, 'Firing'));
  });
});
