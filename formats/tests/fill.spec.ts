/**
 * Pictures put into shapes and empty placeholders. Decks are written by `pptxgenjs`, and read by `pptxtojson` as well;
 * placeholders by clauses of ISO/IEC 29500-1 §19.3.1.36 and ODF 1.2 Part 1 §19.391, by hand.
 */
import {
  applyAll,
  isPictureItem,
  likeTarget,
  newPicture,
  targetsOf,
  type Box,
  type Document,
  type Position,
} from '@gable/core';
import { Resvg } from '@resvg/resvg-js';
import { strFromU8, unzipSync } from 'fflate';
import { execFileSync } from 'node:child_process';
import path from 'node:path';
import { parse } from 'pptxtojson';
import { openFile, type ReplacementImage } from '../src/index';
import { png } from './support/build';
import { buildDeck, buildWorkbook } from './support/deck';
import { buildOpen } from './support/open';
import { TILE, tileImage } from './support/tile';

let image: ReplacementImage;
beforeAll(async () => {
  image = await tileImage();
});

/** A file with a picture in the shape that has this box. */
function fill(bytes: Uint8Array, box: Box, page = 1): Uint8Array {
  const file = openFile(bytes);
  const item = newPicture('new', { on: 'page', box, fills: true }, TILE, 'Tile');
  const { id, items } = file.document.pages[page - 1]!;
  const slot = { in: { page: id }, index: items.length };
  const { document } = applyAll(file.document, [{ op: 'add', item, slot }]);
  return file.write(document, new Map([['new', image]]));
}

const targets = ({ document }: { document: Document }, page = 1): { box: Box; awaits: boolean }[] =>
  targetsOf(document, document.pages[page - 1]!).map(({ item, box }) => ({
    box,
    awaits: 'awaits' in item && item.awaits === 'picture',
  }));
const part = (bytes: Uint8Array, name: string): string => strFromU8(unzipSync(bytes)[name]!);
/** The parts that are not the same any more, or new. */
const changed = (before: Uint8Array, after: Uint8Array): string[] => {
  const [was, is] = [unzipSync(before), unzipSync(after)];
  const none = new Uint8Array();
  return Object.keys({ ...was, ...is })
    .filter((name) => Buffer.compare(was[name] ?? none, is[name] ?? none) !== 0)
    .sort();
};

describe('a deck', () => {
  /** A block, a picture, an ellipse with words over it, a table, a chart. */
  const deck = async (): Promise<Uint8Array> => {
    const script = path.join(__dirname, 'support/other-deck.mjs');
    return new Uint8Array(execFileSync('node', [script, Buffer.from(await png(60, 40)).toString('base64')]));
  };
  const ellipse = { x: 288, y: 72, width: 144, height: 72 };

  test('a picture in a shape keeps its outline, its line, its turn and its words, and covers it at its own ratio', async () => {
    const before = await deck();
    expect(targets(openFile(before)).map((t) => t.box)).toEqual([{ x: 72, y: 72, width: 216, height: 144 }, ellipse]);
    const after = fill(before, ellipse);
    const slide = part(after, 'ppt/slides/slide1.xml');
    expect(slide).toMatch(/<a:xfrm rot="900000">.*?<a:prstGeom prst="ellipse">.*?<a:blipFill .*?<a:ln w="38100"/s);
    const { slides } = await parse(after.slice().buffer);
    const filled = slides[0]!.elements.find((e) => 'fill' in e && e.fill?.type === 'image');
    expect(filled).toMatchObject({ type: 'shape', shapType: 'ellipse', left: 288, top: 72, width: 144, height: 72 });
    expect((filled as { content: string }).content).toContain('Open&nbsp;day');
    const picture = openFile(after).pictures.find((p) => p.frame.alt === 'Tile')!;
    expect(picture.frame).toMatchObject({ box: ellipse, turn: 15, outline: { weight: 3 } });
    expect(picture.frame.placement).toMatchObject({ fit: 'cover', distortion: 1 });
    expect(picture.words!.paragraphs[0]!.runs[0]).toMatchObject({ text: 'Open day', size: 24, weight: 700 });
    // Of 3 : 2 in 2 : 1 an eighth goes above and below (by hand).
    expect(slide).toMatch(/<a:srcRect t="12500" b="12500"\/>/);
    expect(changed(before, after)).toEqual([
      'ppt/media/gable1.png',
      'ppt/slides/_rels/slide1.xml.rels',
      'ppt/slides/slide1.xml',
    ]);
  });

  const PLACE =
    '<p:sp><p:nvSpPr><p:cNvPr id="2" name="Place"/><p:cNvSpPr/><p:nvPr><p:ph type="pic" idx="13"/></p:nvPr></p:nvSpPr><p:spPr><a:xfrm><a:off x="914400" y="914400"/><a:ext cx="1828800" cy="2743200"/></a:xfrm><a:prstGeom prst="roundRect"><a:avLst/></a:prstGeom></p:spPr></p:sp>';
  const EMPTY =
    '<p:sp><p:nvSpPr><p:cNvPr id="77" name="Portrait"/><p:cNvSpPr><a:spLocks noGrp="1"/></p:cNvSpPr><p:nvPr><p:ph type="pic" idx="13"/></p:nvPr></p:nvSpPr><p:spPr/><p:txBody><a:bodyPr/><a:p><a:endParaRPr lang="en"/></a:p></p:txBody></p:sp>';

  test('an empty placeholder becomes a picture in it, and takes after its layout still', async () => {
    const before = await buildDeck([EMPTY], PLACE);
    const box = { x: 72, y: 72, width: 144, height: 216 };
    expect(targets(openFile(before))).toEqual([{ box, awaits: true }]);
    const after = fill(before, box);
    const slide = part(after, 'ppt/slides/slide1.xml');
    expect(slide).toMatch(
      /<p:pic [^>]*><p:nvPicPr><p:cNvPr id="77" name="Portrait" descr="Tile"\/>.*<p:ph type="pic" idx="13"\/>/,
    );
    // Its place is still its layout's (§19.3.1.36).
    expect(slide).not.toContain('<a:off');
    const [picture] = openFile(after).pictures;
    expect(picture!.frame).toMatchObject({ box, shape: { name: 'rounded' }, placement: { fit: 'cover' } });
    expect(targets(openFile(after))).toEqual([]);
  });

  test('a shape in a group is filled where it is', async () => {
    const shape =
      '<p:sp><p:nvSpPr><p:cNvPr id="9" name="In it"/><p:cNvSpPr/><p:nvPr/></p:nvSpPr><p:spPr><a:xfrm><a:off x="0" y="0"/><a:ext cx="1270000" cy="1270000"/></a:xfrm><a:prstGeom prst="ellipse"><a:avLst/></a:prstGeom><a:solidFill><a:srgbClr val="b5482a"/></a:solidFill></p:spPr></p:sp>';
    const group = `<p:grpSp><p:nvGrpSpPr><p:cNvPr id="8" name="Group"/><p:cNvGrpSpPr/><p:nvPr/></p:nvGrpSpPr><p:grpSpPr><a:xfrm><a:off x="1270000" y="1270000"/><a:ext cx="2540000" cy="2540000"/><a:chOff x="0" y="0"/><a:chExt cx="2540000" cy="2540000"/></a:xfrm></p:grpSpPr>${shape}</p:grpSp>`;
    const after = fill(await buildDeck([group]), { x: 100, y: 100, width: 100, height: 100 });
    const slide = part(after, 'ppt/slides/slide1.xml');
    expect(slide).toMatch(/<p:grpSp>.*prst="ellipse".*<a:blipFill .*<\/p:grpSp>/);
    expect(slide).toContain('<a:ext cx="1270000" cy="1270000"/>');
  });

  test('a new picture takes the look of the shape, and only where it fills one', async () => {
    const { document } = openFile(await deck());
    const holder = { page: document.pages[0]!.id };
    const look = (at: Position): unknown => {
      const { shape, outline, turn } = likeTarget(document, holder, newPicture('new', at, TILE));
      return [shape.name, outline?.weight ?? 0, turn];
    };
    expect(look({ on: 'page', box: ellipse, fills: true })).toEqual(['ellipse', 3, 15]);
    expect(look({ on: 'page', box: ellipse })).toEqual(['rectangle', 0, 0]);
    expect(look({ on: 'page', box: { ...ellipse, x: 1 }, fills: true })).toEqual(['rectangle', 0, 0]);
  });

  test('a shape that is not there is refused', async () => {
    const before = await deck();
    expect(() => fill(before, { ...ellipse, x: 10 })).toThrow(
      'A picture into a shape that is not there cannot be written',
    );
  });
});

describe('a presentation of OpenDocument', () => {
  const styles =
    '<style:style style:name="gr1" style:family="graphic"><style:graphic-properties draw:fill="solid" draw:fill-color="#b5482a" draw:stroke="solid" svg:stroke-width="3pt" svg:stroke-color="#22302f"/><style:paragraph-properties fo:text-align="center"/></style:style>';
  const body =
    '<draw:page draw:name="One"><draw:custom-shape draw:style-name="gr1" svg:x="20pt" svg:y="30pt" svg:width="100pt" svg:height="100pt"><text:p>Anna</text:p><draw:enhanced-geometry svg:viewBox="0 0 21600 21600" draw:type="ellipse" draw:enhanced-path="U 10800 10800 10800 10800 0 360 Z N"/></draw:custom-shape>' +
    '<draw:frame presentation:class="graphic" presentation:placeholder="true" svg:x="200pt" svg:y="30pt" svg:width="90pt" svg:height="120pt"><draw:text-box/></draw:frame></draw:page>';

  test('a shape is filled: its style is its own with the picture, its words and their style stay', async () => {
    const before = await buildOpen({ kind: 'presentation', body, styles });
    const after = fill(before, { x: 20, y: 30, width: 100, height: 100 });
    const content = part(after, 'content.xml');
    expect(content).toContain('<text:p>Anna</text:p>');
    expect(content).toMatch(
      /draw:fill="bitmap"[^>]*>(<\/style:graphic-properties>)?<style:paragraph-properties fo:text-align="center"\/>/,
    );
    const [picture] = openFile(after).pictures;
    expect(picture!.frame).toMatchObject({ shape: { name: 'circle' }, outline: { weight: 3 }, alt: 'Tile' });
    expect(picture!.problem).toBeNull();
  });

  test('an empty placeholder holds the picture', async () => {
    const before = await buildOpen({ kind: 'presentation', body, styles });
    const [, placeholder] = targets(openFile(before));
    expect(placeholder).toEqual({ box: { x: 200, y: 30, width: 90, height: 120 }, awaits: true });
    const after = fill(before, placeholder!.box);
    expect(part(after, 'content.xml')).toMatch(
      /<draw:frame presentation:class="graphic" svg:x="200pt"[^>]*><draw:image [^>]*\/><svg:desc>Tile<\/svg:desc><\/draw:frame>/,
    );
    expect(openFile(after).pictures[0]!.frame.box).toEqual(placeholder!.box);
  });
});

test('a drawing: the picture stands in the place of the shape, in its form', () => {
  const svg =
    '<svg xmlns="http://www.w3.org/2000/svg" width="400" height="300"><rect id="a" x="0" y="0" width="10" height="10" fill="#123456"/><circle cx="200" cy="150" r="60" fill="#b5482a" stroke="#22302f" stroke-width="4"/><text x="5" y="290">Words</text></svg>';
  const box = { x: 105, y: 67.5, width: 90, height: 90 };
  const after = new TextDecoder().decode(fill(new TextEncoder().encode(svg), box));
  expect(after).not.toContain('<circle cx="200" cy="150" r="60" fill="#b5482a"');
  expect(after.indexOf('id="a"')).toBeLessThan(after.indexOf('<image'));
  expect(after.indexOf('</svg>') > after.indexOf('>Words<') && after.indexOf('<image') < after.indexOf('>Words<')).toBe(
    true,
  );
  const file = openFile(new TextEncoder().encode(after));
  const [picture] = file.pictures;
  expect(picture!.frame).toMatchObject({ box, outline: { weight: 3, paint: { colour: '#22302f' } } });
  expect(['circle', 'ellipse']).toContain(picture!.frame.shape.name);
  expect(Object.values(file.document.items).filter((item) => isPictureItem(item))).toHaveLength(1);
});

test.each([
  ['as it is', '', { x: 105, y: 67.5, width: 90, height: 90 }],
  // Half as large, 20 px to the right and 10 px down: 120 px across about (120, 85), by hand.
  ['scaled', ' transform="translate(20 10) scale(.5)"', { x: 67.5, y: 41.25, width: 45, height: 45 }],
  // A circle turned about its own middle is where it was.
  ['turned', ' transform="rotate(30 200 150)"', { x: 105, y: 67.5, width: 90, height: 90 }],
])('a drawing: a shape in a group that is %s', (_, transform, box) => {
  const svg = `<svg xmlns="http://www.w3.org/2000/svg" width="400" height="300"><g${transform}><circle cx="200" cy="150" r="60" fill="#b5482a"/><rect x="0" y="0" width="10" height="10" fill="#123456"/></g><rect x="390" y="0" width="10" height="10"/></svg>`;
  const after = new TextDecoder().decode(fill(new TextEncoder().encode(svg), box));
  expect(after).toMatch(/<g[^>]*>.*<image.*<rect x="0".*<\/g><rect x="390"/s);
  const [picture] = openFile(new TextEncoder().encode(after)).pictures;
  for (const side of ['x', 'y', 'width', 'height'] as const) expect(picture!.frame.box[side]).toBeCloseTo(box[side], 4);
  const { pixels, width } = new Resvg(after).render();
  const at = (x: number, y: number): number[] => [...pixels.subarray((y * width + x) * 4, (y * width + x) * 4 + 4)];
  const [x, y] = [box.x / 0.75 + box.width / 1.5, box.y / 0.75 + box.height / 1.5].map(Math.round);
  // The tile in the middle, clear in the corner of its box.
  expect([at(x!, y!)[3], at(Math.ceil(box.x / 0.75) + 2, Math.ceil(box.y / 0.75) + 2)[3]]).toEqual([255, 0]);
});

describe('a sheet', () => {
  const marker = (of: string, column: number, row: number): string =>
    `<xdr:${of}><xdr:col>${column}</xdr:col><xdr:colOff>0</xdr:colOff><xdr:row>${row}</xdr:row><xdr:rowOff>0</xdr:rowOff></xdr:${of}>`;
  const words = '<xdr:txBody><a:bodyPr/><a:p><a:r><a:t>Spring sale</a:t></a:r></a:p></xdr:txBody>';
  const shape =
    `<xdr:twoCellAnchor>${marker('from', 1, 1)}${marker('to', 3, 6)}<xdr:sp macro="" textlink=""><xdr:nvSpPr><xdr:cNvPr id="7" name="Sign"/><xdr:cNvSpPr/></xdr:nvSpPr>` +
    `<xdr:spPr><a:xfrm><a:off x="0" y="0"/><a:ext cx="1219200" cy="952500"/></a:xfrm><a:prstGeom prst="ellipse"><a:avLst/></a:prstGeom><a:solidFill><a:srgbClr val="2B6A73"/></a:solidFill><a:ln w="38100"><a:solidFill><a:srgbClr val="FF0000"/></a:solidFill></a:ln></xdr:spPr>${words}</xdr:sp><xdr:clientData/></xdr:twoCellAnchor>`;

  test('of a workbook: a picture in a shape keeps its form, its line, its words and its cells', async () => {
    const before = await buildWorkbook(shape);
    const [target] = targets(openFile(before));
    const after = fill(before, target!.box);
    const drawing = part(after, 'xl/drawings/drawing1.xml');
    expect(drawing).toContain(words);
    expect(drawing).toMatch(/prst="ellipse">.*<a:blipFill .*<\/a:blipFill><a:ln w="38100">/s);
    expect(drawing).not.toContain('2B6A73');
    expect(drawing).toContain(`${marker('from', 1, 1)}${marker('to', 3, 6)}`);
    const [picture, ...more] = openFile(after).pictures;
    expect(more).toEqual([]);
    expect(picture!.frame).toMatchObject({ alt: 'Tile', shape: { name: 'ellipse' }, outline: { weight: 3 } });
    expect(picture!.frame.placement.fit).toBe('cover');
    expect(picture!.frame.placement.distortion).toBeCloseTo(1, 4);
    expect(picture!.words!.paragraphs[0]!.runs[0]!.text).toBe('Spring sale');
    expect(changed(before, after).filter((name) => /worksheets|workbook\.xml$/.test(name))).toEqual([]);
  });

  test('of OpenDocument: the same', async () => {
    const style =
      '<style:style style:name="gr1" style:family="graphic"><style:graphic-properties draw:fill="solid" draw:fill-color="#2b6a73"/></style:style>';
    const drawn =
      '<draw:custom-shape draw:style-name="gr1" svg:x="40pt" svg:y="20pt" svg:width="96pt" svg:height="75pt"><text:p>Spring sale</text:p><draw:enhanced-geometry svg:viewBox="0 0 100 100" draw:type="ellipse" draw:enhanced-path="U 50 50 50 50 0 360 Z N"/></draw:custom-shape>';
    const before = await buildOpen({
      kind: 'spreadsheet',
      styles: style,
      body: `<table:table table:name="One"><table:shapes>${drawn}</table:shapes><table:table-row><table:table-cell><text:p>Words</text:p></table:table-cell></table:table-row></table:table>`,
    });
    const [target] = targets(openFile(before));
    const after = fill(before, target!.box);
    const content = part(after, 'content.xml');
    expect(content).toContain('<text:p>Spring sale</text:p>');
    const [picture] = openFile(after).pictures;
    expect(picture!.frame).toMatchObject({ alt: 'Tile', box: { width: 96, height: 75 } });
    expect(picture!.frame.placement.fit).toBe('cover');
    expect(picture!.frame.placement.distortion).toBeCloseTo(1, 4);
  });
});
