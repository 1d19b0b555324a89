import { readFileSync } from 'node:fs';
import { strToU8 } from 'fflate';
import { buildDocument, inlined, png } from './build';
import { buildWorkbook, sheetPic } from './deck';
import { buildOpen, graphicStyle, openFrame } from './open';

const data = async (): Promise<string> =>
  `data:image/png;base64,${Buffer.from(await png(300, 200)).toString('base64')}`;
const recoloured = inlined().replace(
  '<a:blip r:embed="rId1"/>',
  '<a:blip r:embed="rId1"><a:clrChange><a:clrFrom><a:srgbClr val="FFFFFF"/></a:clrFrom><a:clrTo><a:srgbClr val="FFFFFF"><a:alpha val="0"/></a:srgbClr></a:clrTo></a:clrChange><a:lum bright="70000" contrast="-70000"/><a:biLevel thresh="50000"/><a:duotone><a:prstClr val="dkSlateGray"/><a:schemeClr val="accent1"><a:tint val="45000"/><a:satMod val="400000"/><a:hueOff val="600000"/></a:schemeClr></a:duotone><a:alphaModFix amt="50000"/></a:blip>',
);
const older =
  '<w:p><w:r><w:pict><v:oval style="width:50mm;height:50mm;rotation:30;flip:x" stroked="t" strokecolor="#b5482a" strokeweight="2pt"><v:imagedata r:id="rId1" cropleft="6554f" gain="19661f" blacklevel="22938f" chromakey="#ffffff"/></v:oval></w:pict></w:r></w:p>' +
  '<w:p><w:r><w:pict><v:group style="position:absolute;width:200pt;height:100pt" coordorigin="100,0" coordsize="2000,1000"><v:shape style="left:600;top:200;width:1000;height:500"><v:imagedata r:id="rId1" bilevel="t"/></v:shape></v:group></w:pict></w:r></w:p>';
const patterned =
  '<svg xmlns="http://www.w3.org/2000/svg" xmlns:xlink="http://www.w3.org/1999/xlink" width="400" height="300"><style>.a{opacity:.4}g > .a, #i{filter:none;stroke:teal}</style><defs>' +
  '<pattern id="p" patternContentUnits="objectBoundingBox" width="1" height="1"><use xlink:href="#i" transform="scale(.0033 .005)"/></pattern><image id="i" href="DATA" width="300" height="200"/>' +
  '<pattern id="t" patternUnits="userSpaceOnUse" x="7" width="45" height="30" patternTransform="translate(3 2) scale(1.5)"><image href="DATA" width="45" height="30"/></pattern></defs>' +
  '<rect x="40" y="20" width="150" height="100" rx="10" fill="url(#p)" stroke="#fff" stroke-width="4"/><ellipse cx="150" cy="120" rx="120" ry="80" style="fill:url(#t)"/>' +
  '<use href="#i" x="4" transform="scale(.2)"/><g stroke="hsl(20 60% 40%)"><image class="a" href="DATA" width="60" height="40"/></g><image href="DATA" width="60" height="40" opacity=".5" style="filter:grayscale(1) blur(2px)"/></svg>';
const page =
  '<!DOCTYPE html><html><head><style>@media screen and (min-width:20em){figure img{filter:brightness(1.2) contrast(80%);opacity:.9}} @supports (display:grid){@layer a{img{width:50%}}} :root{--b:2px solid var(--c, #b5482a);--c:hsl(20 60% 40%);font-size:62.5%} *{box-sizing:border-box} main{display:grid;max-width:60rem;padding:0 4%;grid-template-columns:repeat(auto-fit,minmax(min(100%,12em),1fr));gap:1em 2%} main img{width:calc(100% - 2 * var(--w, 4px));aspect-ratio:4/3;object-fit:cover;object-position:right 10px top 20%;border:var(--b);padding:3px;border-radius:50% 0/20px;transform:rotate(3deg) scaleX(-1)} main a img{clip-path:inset(5% 1em round 8px);filter:grayscale(1) drop-shadow(1px 2px 3px rgb(0 0 0/.4));outline:1px dashed;margin:1em auto}</style></head><body><main><div><img src="DATA"></div><a href="#"><img src="DATA"></a></main><figure><img src="DATA" alt="A"></figure><p><img src="DATA" style="filter:sepia(1);width:40%"></p></body></html>';
const shape =
  '<draw:custom-shape draw:style-name="b" svg:width="3cm" svg:height="3cm"><draw:enhanced-geometry svg:viewBox="0 0 100 100" draw:modifiers="5 9" draw:enhanced-path="M ?f0 0 L 100 100 0 100 Z N"><draw:equation draw:name="f0" draw:formula="min($0 ,50)*2"/></draw:enhanced-geometry></draw:custom-shape>';
const anchor = `<xdr:twoCellAnchor><xdr:from><xdr:col>1</xdr:col><xdr:colOff>0</xdr:colOff><xdr:row>2</xdr:row><xdr:rowOff>0</xdr:rowOff></xdr:from><xdr:to><xdr:col>4</xdr:col><xdr:colOff>0</xdr:colOff><xdr:row>12</xdr:row><xdr:rowOff>0</xdr:rowOff></xdr:to>${sheetPic('<a:ext cx="1828800" cy="1905000"/>')}<xdr:clientData/></xdr:twoCellAnchor>`;
/** Files that are damaged by tests: the demo's, and small ones with what those lack. */
export const SEEDS: readonly (readonly [string, () => Uint8Array | Promise<Uint8Array>])[] = [
  ['the handbook', () => readFileSync('demo/files/season-handbook.docx')],
  ['a small document', () => buildDocument({ body: inlined() + inlined() })],
  ['the talk', () => readFileSync('demo/files/open-day-talk.pptx')],
  ['older markup and recoloured pictures', () => buildDocument({ body: recoloured + older })],
  ['a workbook', () => buildWorkbook(anchor, '<cols><col min="2" max="2" width="20"/></cols>')],
  [
    'an OpenDocument text',
    () =>
      buildOpen({
        styles:
          graphicStyle(
            'a',
            'fo:clip="rect(0in, 0in, 0in, 0in)" draw:color-mode="watermark" draw:luminance="5%" draw:gamma="120%" draw:red="1%" draw:image-opacity="60%"',
          ) + graphicStyle('b', 'draw:fill="bitmap" draw:fill-image-name="P" style:repeat="repeat"'),
        common: '<draw:fill-image draw:name="P" xlink:href="Pictures/one.png"/>',
        body: `<text:p>One ${openFrame('draw:style-name="a"')} ${shape}</text:p>`,
      }),
  ],
  ['fills, uses and filters of a drawing', async () => strToU8(patterned.replaceAll('DATA', await data()))],
  ['a page with filters', async () => strToU8(page.replaceAll('DATA', await data()))],
  ['the drawing', () => readFileSync('demo/files/firing-day-board.svg')],
  ['the site', () => readFileSync('demo/files/visit-us.zip')],
];
