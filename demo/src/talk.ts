/**
 * Writes demo/files/open-day-talk.pptx (ISO/IEC 29500 transitional): five slides of a talk, with a squashed picture, an egg
 * that was meant to be a circle, portraits of almost one size, a picture in a group and one in a placeholder.
 */
import { strToU8, zipSync, type Zippable } from 'fflate';
import { writeFile } from 'node:fs/promises';
import { theme } from './docx/parts';
import sharp from 'sharp';
import { reduced } from './reduced';

const HEAD = '<?xml version="1.0" encoding="UTF-8" standalone="yes"?>\n';
const OFFICE = 'http://schemas.openxmlformats.org/officeDocument/2006/relationships';
const NS = `xmlns:a="http://schemas.openxmlformats.org/drawingml/2006/main" xmlns:r="${OFFICE}" xmlns:p="http://schemas.openxmlformats.org/presentationml/2006/main"`;
const TYPE = 'application/vnd.openxmlformats-officedocument.presentationml';
const emu = (mm: number): number => Math.round(mm * 36_000);

const NAMES = [
  'three-bowls',
  'portrait-maren',
  'portrait-tobias',
  'portrait-ines',
  'portrait-odd',
  'drying-shelves',
  'stacked-plates',
  'kiln-glow',
  'teapot',
  'celadon-vase',
  'glaze-tests',
];

let id = 10;
interface Put {
  x: number;
  y: number;
  w: number;
  h: number;
}
const place = ({ x, y, w, h }: Put): string =>
  `<a:xfrm><a:off x="${emu(x)}" y="${emu(y)}"/><a:ext cx="${emu(w)}" cy="${emu(h)}"/></a:xfrm>`;
const words = (text: string, size: number, colour: string, more = ''): string =>
  text
    .split('\n')
    .map(
      (line) =>
        `<a:p>${more}<a:r><a:rPr lang="en-GB" sz="${size * 100}"><a:solidFill><a:schemeClr val="${colour}"/></a:solidFill></a:rPr><a:t>${line}</a:t></a:r></a:p>`,
    )
    .join('');
const box = (at: Put, text: string, size = 18, colour = 'tx1'): string =>
  `<p:sp><p:nvSpPr><p:cNvPr id="${++id}" name="Text ${id}"/><p:cNvSpPr txBox="1"/><p:nvPr/></p:nvSpPr><p:spPr>${place(at)}<a:prstGeom prst="rect"><a:avLst/></a:prstGeom><a:noFill/></p:spPr><p:txBody><a:bodyPr wrap="square"/><a:lstStyle/>${words(text, size, colour)}</p:txBody></p:sp>`;
const title = (text: string): string =>
  `<p:sp><p:nvSpPr><p:cNvPr id="${++id}" name="Title ${id}"/><p:cNvSpPr><a:spLocks noGrp="1"/></p:cNvSpPr><p:nvPr><p:ph type="title"/></p:nvPr></p:nvSpPr><p:spPr/><p:txBody><a:bodyPr/><a:lstStyle/>${words(text, 34, 'tx2')}</p:txBody></p:sp>`;

interface Look {
  preset?: string;
  line?: string;
  alt?: string;
  holder?: boolean;
  /** Where the middle of the crop lies, as a share of what may be hidden. */
  aim?: number;
  /** All of the picture, pressed into its box. */
  whole?: boolean;
}
const sizes = new Map<string, { width: number; height: number }>();
for (const name of NAMES) sizes.set(name, await sharp(await reduced(name, 1100)).metadata());
/** The crop that keeps the picture true in its box. */
function cropOf(name: string, { w, h }: Put, aim: number): string {
  const { width, height } = sizes.get(name)!;
  const ratio = w / h / (width / height);
  const [near, far, hidden] = ratio < 1 ? ['l', 'r', 1 - ratio] : ['t', 'b', 1 - 1 / ratio];
  const step = (v: number): number => Math.round(v * 100_000);
  return hidden < 0.001 ? '' : `${near}="${step(hidden * aim)}" ${far}="${step(hidden * (1 - aim))}"`;
}
const HOLDER: Put = { x: 20, y: 55, w: 150, h: 112.5 };
const used = new Map<string, string>();
const pic = (
  name: string,
  at: Put | null,
  { preset = 'rect', line = '', alt = '', holder = false, aim = 0.5, whole = false }: Look = {},
): string => {
  const rel = used.get(name) ?? `rIdPic${used.size + 1}`;
  used.set(name, rel);
  const crop = whole ? '' : cropOf(name, at ?? HOLDER, aim);
  const geometry = at ? `${place(at)}<a:prstGeom prst="${preset}"><a:avLst/></a:prstGeom>` : '';
  return `<p:pic><p:nvPicPr><p:cNvPr id="${++id}" name="${name}"${alt ? ` descr="${alt}"` : ''}/><p:cNvPicPr><a:picLocks noChangeAspect="1"/></p:cNvPicPr><p:nvPr>${holder ? '<p:ph type="pic" idx="13"/>' : ''}</p:nvPr></p:nvPicPr><p:blipFill><a:blip r:embed="${rel}"/>${crop && `<a:srcRect ${crop}/>`}<a:stretch><a:fillRect/></a:stretch></p:blipFill><p:spPr>${geometry}${line}</p:spPr></p:pic>`;
};
const ln = (pt: number, colour: string): string =>
  `<a:ln w="${pt * 12_700}"><a:solidFill><a:srgbClr val="${colour}"/></a:solidFill></a:ln>`;
const group = (at: Put, inner: string): string =>
  `<p:grpSp><p:nvGrpSpPr><p:cNvPr id="${++id}" name="Group ${id}"/><p:cNvGrpSpPr/><p:nvPr/></p:nvGrpSpPr><p:grpSpPr><a:xfrm><a:off x="${emu(at.x)}" y="${emu(at.y)}"/><a:ext cx="${emu(at.w)}" cy="${emu(at.h)}"/><a:chOff x="0" y="0"/><a:chExt cx="${emu(at.w)}" cy="${emu(at.h)}"/></a:xfrm></p:grpSpPr>${inner}</p:grpSp>`;

// 338.7 × 190.5 mm, the usual wide slide (16 : 9).
const slides: string[] = [
  title('Open day at Fennick Clayworks') +
    pic('three-bowls', { x: 18, y: 52, w: 302, h: 100 }, { alt: 'A bowl, a cup and a vase' }) +
    box({ x: 18, y: 160, w: 300, h: 14 }, 'Saturday from ten · everybody may touch everything'),
  title('Who shows you round') +
    pic(
      'portrait-maren',
      { x: 30, y: 60, w: 56, h: 56 },
      { preset: 'ellipse', aim: 0.85, line: ln(1, 'D9D2C3'), alt: 'Maren in a teal apron' },
    ) +
    pic('portrait-tobias', { x: 110, y: 59, w: 56, h: 60 }, { preset: 'ellipse', line: ln(1, 'D9D2C3') }) +
    pic('portrait-ines', { x: 190, y: 60, w: 54, h: 54 }, { preset: 'ellipse', line: ln(1, 'D9D2C3') }) +
    pic('portrait-odd', { x: 268, y: 60, w: 52, h: 52 }, { whole: true, line: ln(1, 'D9D2C3') }) +
    box({ x: 30, y: 126, w: 60, h: 12 }, 'Maren, wheels', 16) +
    box({ x: 110, y: 126, w: 60, h: 12 }, 'Tobias, kilns', 16) +
    box({ x: 190, y: 126, w: 60, h: 12 }, 'Ines, glazes', 16) +
    box({ x: 268, y: 126, w: 60, h: 12 }, 'Odd, the rest', 16),
  title('From the wheel to the shelf') +
    group(
      { x: 20, y: 55, w: 300, h: 95 },
      pic('drying-shelves', { x: 0, y: 0, w: 140, h: 93.3 }, { alt: 'Pots drying on shelves' }) +
        pic('stacked-plates', { x: 160, y: 0, w: 140, h: 70 }),
    ) +
    box({ x: 20, y: 158, w: 300, h: 14 }, 'Thrown on Monday, dry on Friday, glazed the week after'),
  title('Firing') +
    pic('kiln-glow', null, { holder: true, alt: 'The kiln glows' }) +
    box(
      { x: 190, y: 60, w: 130, h: 60 },
      'Two firings a week.\nThe second at 1 240 °C.\nNobody opens the door to look.',
    ),
  title('Take something home') +
    pic('teapot', { x: 24, y: 56, w: 90, h: 90 }, { preset: 'roundRect' }) +
    pic('celadon-vase', { x: 124, y: 56, w: 90, h: 90 }, { preset: 'hexagon', line: ln(6, 'FFFFFF') }) +
    pic('glaze-tests', { x: 224, y: 56, w: 90, h: 90 }, {}) +
    box({ x: 24, y: 154, w: 290, h: 14 }, 'The shop is open until the last visitor has gone'),
];

const rels = (list: [string, string, string][]): string =>
  `${HEAD}<Relationships xmlns="http://schemas.openxmlformats.org/package/2006/relationships">${list.map(([rid, kind, target]) => `<Relationship Id="${rid}" Type="${OFFICE}/${kind}" Target="${target}"/>`).join('')}</Relationships>`;
const tree = (inner: string, ground = ''): string =>
  `<p:cSld>${ground}<p:spTree><p:nvGrpSpPr><p:cNvPr id="1" name=""/><p:cNvGrpSpPr/><p:nvPr/></p:nvGrpSpPr><p:grpSpPr/>${inner}</p:spTree></p:cSld>`;
const holder = (type: string, idx: string, at: Put, more = ''): string =>
  `<p:sp><p:nvSpPr><p:cNvPr id="${++id}" name="Holder ${id}"/><p:cNvSpPr><a:spLocks noGrp="1"/></p:cNvSpPr><p:nvPr><p:ph type="${type}"${idx}/></p:nvPr></p:nvSpPr><p:spPr>${place(at)}<a:prstGeom prst="rect"><a:avLst/></a:prstGeom>${more}</p:spPr><p:txBody><a:bodyPr/><a:lstStyle/><a:p><a:endParaRPr/></a:p></p:txBody></p:sp>`;
const MAP =
  '<p:clrMap bg1="lt1" tx1="dk1" bg2="lt2" tx2="dk2" accent1="accent1" accent2="accent2" accent3="accent3" accent4="accent4" accent5="accent5" accent6="accent6" hlink="hlink" folHlink="folHlink"/>';
const band = `<p:sp><p:nvSpPr><p:cNvPr id="${++id}" name="Band"/><p:cNvSpPr/><p:nvPr userDrawn="1"/></p:nvSpPr><p:spPr>${place({ x: 0, y: 183, w: 338.7, h: 7.5 })}<a:prstGeom prst="rect"><a:avLst/></a:prstGeom><a:solidFill><a:schemeClr val="accent2"/></a:solidFill></p:spPr></p:sp>`;

const files: Record<string, string> = {
  '[Content_Types].xml': `${HEAD}<Types xmlns="http://schemas.openxmlformats.org/package/2006/content-types"><Default Extension="rels" ContentType="application/vnd.openxmlformats-package.relationships+xml"/><Default Extension="xml" ContentType="application/xml"/><Default Extension="jpg" ContentType="image/jpeg"/><Override PartName="/ppt/presentation.xml" ContentType="${TYPE}.presentation.main+xml"/><Override PartName="/ppt/slideMasters/slideMaster1.xml" ContentType="${TYPE}.slideMaster+xml"/><Override PartName="/ppt/slideLayouts/slideLayout1.xml" ContentType="${TYPE}.slideLayout+xml"/><Override PartName="/ppt/theme/theme1.xml" ContentType="application/vnd.openxmlformats-officedocument.theme+xml"/>${slides.map((_, i) => `<Override PartName="/ppt/slides/slide${i + 1}.xml" ContentType="${TYPE}.slide+xml"/>`).join('')}</Types>`,
  '_rels/.rels': rels([['rId1', 'officeDocument', 'ppt/presentation.xml']]),
  'ppt/presentation.xml': `${HEAD}<p:presentation ${NS}><p:sldMasterIdLst><p:sldMasterId id="2147483648" r:id="rIdMaster"/></p:sldMasterIdLst><p:sldIdLst>${slides.map((_, i) => `<p:sldId id="${256 + i}" r:id="rIdSlide${i + 1}"/>`).join('')}</p:sldIdLst><p:sldSz cx="12192000" cy="6858000"/><p:notesSz cx="6858000" cy="9144000"/></p:presentation>`,
  'ppt/_rels/presentation.xml.rels': rels([
    ['rIdMaster', 'slideMaster', 'slideMasters/slideMaster1.xml'],
    ['rIdTheme', 'theme', 'theme/theme1.xml'],
    ...slides.map((_, i): [string, string, string] => [`rIdSlide${i + 1}`, 'slide', `slides/slide${i + 1}.xml`]),
  ]),
  'ppt/slideMasters/slideMaster1.xml': `${HEAD}<p:sldMaster ${NS}>${tree(band + holder('title', '', { x: 18, y: 12, w: 302, h: 30 }), '<p:bg><p:bgPr><a:solidFill><a:schemeClr val="bg2"/></a:solidFill><a:effectLst/></p:bgPr></p:bg>')}${MAP}<p:sldLayoutIdLst><p:sldLayoutId id="2147483649" r:id="rIdLayout"/></p:sldLayoutIdLst></p:sldMaster>`,
  'ppt/slideMasters/_rels/slideMaster1.xml.rels': rels([
    ['rIdLayout', 'slideLayout', '../slideLayouts/slideLayout1.xml'],
    ['rIdTheme', 'theme', '../theme/theme1.xml'],
  ]),
  'ppt/slideLayouts/slideLayout1.xml': `${HEAD}<p:sldLayout ${NS}>${tree(holder('title', '', { x: 18, y: 12, w: 302, h: 30 }) + holder('pic', ' idx="13"', HOLDER, ln(3, 'C2913F')))}<p:clrMapOvr><a:masterClrMapping/></p:clrMapOvr></p:sldLayout>`,
  'ppt/slideLayouts/_rels/slideLayout1.xml.rels': rels([
    ['rIdMaster', 'slideMaster', '../slideMasters/slideMaster1.xml'],
  ]),
  'ppt/theme/theme1.xml': theme,
};
slides.forEach((inner, i) => {
  files[`ppt/slides/slide${i + 1}.xml`] =
    `${HEAD}<p:sld ${NS}>${tree(inner)}<p:clrMapOvr><a:masterClrMapping/></p:clrMapOvr></p:sld>`;
  const own = [...used].filter(([, rel]) => inner.includes(`"${rel}"`));
  files[`ppt/slides/_rels/slide${i + 1}.xml.rels`] = rels([
    ['rIdLayout', 'slideLayout', '../slideLayouts/slideLayout1.xml'],
    ...own.map(([name, rel]): [string, string, string] => [rel, 'image', `../media/${name}.jpg`]),
  ]);
});

const zip: Zippable = {};
const when = { mtime: new Date(2026, 2, 1, 9) };
for (const [name, xml] of Object.entries(files)) zip[name] = [strToU8(xml), { level: 9, ...when }];
for (const name of used.keys())
  zip[`ppt/media/${name}.jpg`] = [await reduced(name, name === 'three-bowls' ? 1800 : 1100), { level: 0, ...when }];
const bytes = zipSync(zip);
await writeFile('files/open-day-talk.pptx', bytes);
console.log(`open-day-talk.pptx: ${(bytes.length / 1e6).toFixed(1)} MB`);
