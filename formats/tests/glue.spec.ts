/**
 * Connectors that are glued to frames follow them: where their ends come to lie is worked out by hand from ISO/IEC 29500-1
 * §20.1.7.6 (xfrm) and §20.1.2.2.36 (stCxn). A connector between two frames is drawn from the right side of one to the left
 * side of the other.
 */
import { strFromU8, unzipSync } from 'fflate';
import { openFile, withFrames } from '../src/index';
import { buildDeck, slidePic } from './support/deck';

const EMU = 12_700;
const at = (x: number, y: number, width: number, height: number): string =>
  `<a:xfrm><a:off x="${x * EMU}" y="${y * EMU}"/><a:ext cx="${width * EMU}" cy="${height * EMU}"/></a:xfrm><a:prstGeom prst="rect"><a:avLst/></a:prstGeom>`;
const pic = (id: number, x: number, y: number): string => slidePic(at(x, y, 100, 60)).replace('id="4"', `id="${id}"`);
const connector = (glue: string, xfrm: string): string =>
  `<p:cxnSp><p:nvCxnSpPr><p:cNvPr id="9" name="c"/><p:cNvCxnSpPr>${glue}</p:cNvCxnSpPr><p:nvPr/></p:nvCxnSpPr><p:spPr>${xfrm}<a:prstGeom prst="straightConnector1"/></p:spPr></p:cxnSp>`;
const BOTH = '<a:stCxn id="5" idx="3"/><a:endCxn id="6" idx="1"/>';
const xfrm = (x: number, y: number, width: number, height: number, more = ''): string =>
  `<a:xfrm${more}><a:off x="${x * EMU}" y="${y * EMU}"/><a:ext cx="${width * EMU}" cy="${height * EMU}"/></a:xfrm>`;

/** The connector of a deck after its first frame has another box. */
async function moved(
  slide: string,
  box: Partial<{ x: number; y: number; width: number; height: number }>,
): Promise<string> {
  const file = openFile(await buildDeck([slide]));
  const { frame } = file.pictures[0]!;
  const after = file.write(withFrames(file, [{ ...frame, box: { ...frame.box, ...box } }]));
  const xml = strFromU8(unzipSync(after)['ppt/slides/slide1.xml']!);
  return /<p:cxnSp>.*<a:xfrm.*?<\/a:xfrm>/s.exec(xml)![0].replace(/.*(<a:xfrm)/s, '$1');
}

// From (110, 40), the right side of the first, to (200, 90), the left side of the second.
const two = pic(5, 10, 10) + pic(6, 200, 60);

test('its end goes with the frame that it is glued to; the other end stays', async () => {
  const slide = two + connector(BOTH, xfrm(110, 40, 90, 50));
  expect(await moved(slide, { x: 30, y: 20 })).toBe(xfrm(130, 50, 70, 40));
  // Wider and higher: the end stays at the middle of the right side.
  expect(await moved(slide, { width: 120, height: 80 })).toBe(xfrm(130, 50, 70, 40));
});

test('on the other side it is mirrored', async () => {
  const slide = two + connector(BOTH, xfrm(110, 40, 90, 50));
  expect(await moved(slide, { x: 300, y: 160 })).toBe(xfrm(200, 90, 200, 100, ' flipH="1" flipV="1"'));
});

test('one that is turned by a right angle stays so', async () => {
  // Its box is 50 × 90 about (155, 65), turned: it covers 90 × 50, from the upper right to the lower left.
  const slide = two + connector(BOTH, xfrm(130, 20, 50, 90, ' rot="16200000" flipH="1"'));
  expect(await moved(slide, { x: 30, y: 20 })).toBe(xfrm(145, 35, 40, 70, ' rot="16200000" flipH="1"'));
});

test('one that is glued to nothing that moves stays as it is, and so does one in a group', async () => {
  const own = xfrm(110, 40, 90, 50);
  expect(await moved(two + connector('<a:endCxn id="6" idx="1"/>', own), { x: 30 })).toBe(own);
  const group = `<p:grpSp><p:nvGrpSpPr><p:cNvPr id="8" name="g"/><p:cNvGrpSpPr/><p:nvPr/></p:nvGrpSpPr><p:grpSpPr/>${connector(BOTH, own)}</p:grpSp>`;
  expect(await moved(two + group, { x: 30 })).toBe(own);
});
