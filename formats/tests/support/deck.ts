import { strToU8, zipSync, type Zippable } from 'fflate';
import { png } from './build';

/** Small decks and workbooks written by hand, so that each test shows the markup it is about. */
const P = 'http://schemas.openxmlformats.org/presentationml/2006/main';
const R = 'http://schemas.openxmlformats.org/officeDocument/2006/relationships';
const A = 'http://schemas.openxmlformats.org/drawingml/2006/main';
const RELS = 'http://schemas.openxmlformats.org/package/2006/relationships';

export const rels = (...list: [id: string, kind: string, target: string][]): string =>
  `<Relationships xmlns="${RELS}">${list.map(([id, kind, target]) => `<Relationship Id="${id}" Type="${R}/${kind}" Target="${target}"/>`).join('')}</Relationships>`;

export function pack(files: Record<string, string | Uint8Array>): Uint8Array {
  const zip: Zippable = {};
  for (const [name, data] of Object.entries(files))
    zip[name] = [typeof data === 'string' ? strToU8(data) : data, { mtime: new Date(2026, 0, 1) }];
  return zipSync(zip);
}

const page = (kind: string, tree: string): string =>
  `<?xml version="1.0"?><p:${kind} xmlns:p="${P}" xmlns:a="${A}" xmlns:r="${R}"><p:cSld><p:spTree><p:nvGrpSpPr/><p:grpSpPr/>${tree}</p:spTree></p:cSld></p:${kind}>`;

const THEME = `<a:theme xmlns:a="${A}"><a:themeElements><a:clrScheme name="x"><a:accent1><a:srgbClr val="336699"/></a:accent1></a:clrScheme></a:themeElements></a:theme>`;

/** One deck; `rId1` of each slide is a 300 × 200 PNG. */
export async function buildDeck(slides: readonly string[], layout = '', master = ''): Promise<Uint8Array> {
  const files: Record<string, string | Uint8Array> = {
    '[Content_Types].xml': `<Types xmlns="http://schemas.openxmlformats.org/package/2006/content-types"><Default Extension="rels" ContentType="application/vnd.openxmlformats-package.relationships+xml"/><Default Extension="xml" ContentType="application/xml"/><Default Extension="png" ContentType="image/png"/></Types>`,
    '_rels/.rels': rels(['r1', 'officeDocument', 'ppt/presentation.xml']),
    'ppt/presentation.xml': `<p:presentation xmlns:p="${P}" xmlns:r="${R}"><p:sldIdLst>${slides.map((_, i) => `<p:sldId id="${300 + i}" r:id="s${i}"/>`).join('')}</p:sldIdLst><p:sldSz cx="12192000" cy="6858000"/></p:presentation>`,
    'ppt/_rels/presentation.xml.rels': rels(
      ...slides.map((_, i): [string, string, string] => [`s${i}`, 'slide', `slides/slide${slides.length - i}.xml`]),
    ),
    'ppt/slideLayouts/slideLayout1.xml': page('sldLayout', layout),
    'ppt/slideLayouts/_rels/slideLayout1.xml.rels': rels(
      ['m', 'slideMaster', '../slideMasters/slideMaster1.xml'],
      ['rId1', 'image', '../media/one.png'],
    ),
    'ppt/slideMasters/slideMaster1.xml': page('sldMaster', master),
    'ppt/slideMasters/_rels/slideMaster1.xml.rels': rels(['t', 'theme', '../theme/theme1.xml']),
    'ppt/theme/theme1.xml': THEME,
    'ppt/media/one.png': await png(300, 200),
  };
  slides.forEach((tree, i) => {
    // The order of the parts' names is not that of the slides.
    const name = `slide${slides.length - i}.xml`;
    files[`ppt/slides/${name}`] = page('sld', tree);
    files[`ppt/slides/_rels/${name}.rels`] = rels(
      ['rId1', 'image', '../media/one.png'],
      ['l', 'slideLayout', '../slideLayouts/slideLayout1.xml'],
    );
  });
  return pack(files);
}

/** A `p:pic` of 3 × 2 inch, an inch from the corner. */
export const slidePic = (properties: string, nv = '', alt = ''): string =>
  `<p:pic><p:nvPicPr><p:cNvPr id="4" name="p"${alt}/><p:cNvPicPr/><p:nvPr>${nv}</p:nvPr></p:nvPicPr><p:blipFill><a:blip r:embed="rId1"/><a:stretch><a:fillRect/></a:stretch></p:blipFill><p:spPr>${properties}</p:spPr></p:pic>`;
export const PLACED =
  '<a:xfrm><a:off x="914400" y="914400"/><a:ext cx="2743200" cy="1828800"/></a:xfrm><a:prstGeom prst="rect"><a:avLst/></a:prstGeom>';

const X = 'http://schemas.openxmlformats.org/spreadsheetml/2006/main';
const XDR = 'http://schemas.openxmlformats.org/drawingml/2006/spreadsheetDrawing';

export const sheetPic = (ext: string): string =>
  `<xdr:pic><xdr:nvPicPr><xdr:cNvPr id="2" name="p"/><xdr:cNvPicPr/></xdr:nvPicPr><xdr:blipFill><a:blip r:embed="rId1"/><a:stretch><a:fillRect/></a:stretch></xdr:blipFill><xdr:spPr><a:xfrm><a:off x="0" y="0"/>${ext}</a:xfrm><a:prstGeom prst="rect"><a:avLst/></a:prstGeom></xdr:spPr></xdr:pic>`;

/** A workbook of one sheet. @param drawing its anchors @param sheet what stands before its cells */
export async function buildWorkbook(drawing: string, sheet = ''): Promise<Uint8Array> {
  return pack({
    '[Content_Types].xml': `<Types xmlns="http://schemas.openxmlformats.org/package/2006/content-types"><Default Extension="rels" ContentType="application/vnd.openxmlformats-package.relationships+xml"/><Default Extension="xml" ContentType="application/xml"/><Default Extension="png" ContentType="image/png"/></Types>`,
    '_rels/.rels': rels(['r1', 'officeDocument', 'xl/workbook.xml']),
    'xl/workbook.xml': `<workbook xmlns="${X}" xmlns:r="${R}"><sheets><sheet name="Glazes" sheetId="1" r:id="s1"/></sheets></workbook>`,
    'xl/_rels/workbook.xml.rels': rels(['s1', 'worksheet', 'worksheets/sheet1.xml']),
    'xl/worksheets/sheet1.xml': `<worksheet xmlns="${X}" xmlns:r="${R}">${sheet}<sheetData/><drawing r:id="d1"/></worksheet>`,
    'xl/worksheets/_rels/sheet1.xml.rels': rels(['d1', 'drawing', '../drawings/drawing1.xml']),
    'xl/drawings/drawing1.xml': `<xdr:wsDr xmlns:xdr="${XDR}" xmlns:a="${A}" xmlns:r="${R}">${drawing}</xdr:wsDr>`,
    'xl/drawings/_rels/drawing1.xml.rels': rels(['rId1', 'image', '../media/one.png']),
    'xl/media/one.png': await png(300, 200),
  });
}
