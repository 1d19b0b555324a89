import { readFileSync } from 'node:fs';
import { attempt, damage, seeded } from './support/fuzz';
import { buildDocument, inlined } from './support/build';
import { buildWorkbook, sheetPic } from './support/deck';
import { buildOpen, graphicStyle, openFrame } from './support/open';

/** So many damaged copies of each; `npm run fuzz` makes thousands. Every case has its number, to be made again. */
const CASES = 60;

const shape =
  '<draw:custom-shape draw:style-name="b" svg:width="3cm" svg:height="3cm"><draw:enhanced-geometry svg:viewBox="0 0 100 100" draw:modifiers="5 9" draw:enhanced-path="M ?f0 0 L 100 100 0 100 Z N"><draw:equation draw:name="f0" draw:formula="min($0 ,50)*2"/></draw:enhanced-geometry></draw:custom-shape>';
const anchor = `<xdr:twoCellAnchor><xdr:from><xdr:col>1</xdr:col><xdr:colOff>0</xdr:colOff><xdr:row>2</xdr:row><xdr:rowOff>0</xdr:rowOff></xdr:from><xdr:to><xdr:col>4</xdr:col><xdr:colOff>0</xdr:colOff><xdr:row>12</xdr:row><xdr:rowOff>0</xdr:rowOff></xdr:to>${sheetPic('<a:ext cx="1828800" cy="1905000"/>')}<xdr:clientData/></xdr:twoCellAnchor>`;
const files: [string, () => Uint8Array | Promise<Uint8Array>][] = [
  ['the handbook', () => readFileSync('demo/files/season-handbook.docx')],
  ['a small document', () => buildDocument({ body: inlined() + inlined() })],
  ['the talk', () => readFileSync('demo/files/open-day-talk.pptx')],
  ['a workbook', () => buildWorkbook(anchor, '<cols><col min="2" max="2" width="20"/></cols>')],
  [
    'an OpenDocument text',
    () =>
      buildOpen({
        styles:
          graphicStyle('a', 'fo:clip="rect(0in, 0in, 0in, 0in)"') +
          graphicStyle('b', 'draw:fill="bitmap" draw:fill-image-name="P" style:repeat="repeat"'),
        common: '<draw:fill-image draw:name="P" xlink:href="Pictures/one.png"/>',
        body: `<text:p>One ${openFrame('draw:style-name="a"')} ${shape}</text:p>`,
      }),
  ],
  ['the drawing', () => readFileSync('demo/files/firing-day-board.svg')],
  ['the site', () => readFileSync('demo/files/visit-us.zip')],
];

test.each(files)(`${CASES} damaged copies of %s end in a clear error or a valid file, soon`, async (_name, make) => {
  const original = new Uint8Array(await make());
  let opened = 0;
  for (let i = 0; i < CASES; i++) {
    try {
      const { took, ...outcome } = attempt(damage(original, seeded(20_261_125 + i)));
      if (outcome.opened) opened++;
      // A standstill, not a benchmark: what takes two seconds alone has this long on a busy machine.
      if (took > 20_000) throw new Error(`It took ${took} ms.`);
    } catch (error) {
      throw new Error(`Case ${i}: ${(error as Error).message}`, { cause: error });
    }
  }
  expect(opened).toBeGreaterThan(3);
});
