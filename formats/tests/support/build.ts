import { strToU8, zipSync, type Zippable } from 'fflate';
import sharp from 'sharp';

/** A small document written by hand, so that each test shows the markup it is about. */
const W = 'http://schemas.openxmlformats.org/wordprocessingml/2006/main';
const R = 'http://schemas.openxmlformats.org/officeDocument/2006/relationships';
export const NAMESPACES =
  `xmlns:w="${W}" xmlns:r="${R}" xmlns:wp="http://schemas.openxmlformats.org/drawingml/2006/wordprocessingDrawing" ` +
  `xmlns:a="http://schemas.openxmlformats.org/drawingml/2006/main" xmlns:pic="http://schemas.openxmlformats.org/drawingml/2006/picture" ` +
  `xmlns:mc="http://schemas.openxmlformats.org/markup-compatibility/2006" xmlns:wps="http://schemas.microsoft.com/office/word/2010/wordprocessingShape" ` +
  `xmlns:wpg="http://schemas.microsoft.com/office/word/2010/wordprocessingGroup" xmlns:wp14="http://schemas.microsoft.com/office/word/2010/wordprocessingDrawing" xmlns:v="urn:schemas-microsoft-com:vml"`;

export interface Parts {
  body?: string;
  namespaces?: string;
  /** More parts, or others in the place of the usual ones; null leaves one out. */
  more?: Record<string, string | Uint8Array | null>;
  /** More relationships of the main part. */
  rels?: string;
  level?: 0 | 9;
}

const CONTENT = 'application/vnd.openxmlformats-officedocument.wordprocessingml';

export async function png(width: number, height: number, background = '#c87137'): Promise<Uint8Array> {
  return new Uint8Array(
    await sharp({ create: { width, height, channels: 3, background } })
      .png()
      .toBuffer(),
  );
}

/** `rId1` is a 300 × 200 PNG. */
export async function buildDocument({
  body = '',
  namespaces = NAMESPACES,
  more = {},
  rels = '',
  level = 9,
}: Parts = {}): Promise<Uint8Array> {
  const files: Record<string, string | Uint8Array | null> = {
    '[Content_Types].xml': `<?xml version="1.0"?><Types xmlns="http://schemas.openxmlformats.org/package/2006/content-types"><Default Extension="rels" ContentType="application/vnd.openxmlformats-package.relationships+xml"/><Default Extension="xml" ContentType="application/xml"/><Default Extension="png" ContentType="image/png"/><Override PartName="/word/document.xml" ContentType="${CONTENT}.document.main+xml"/></Types>`,
    '_rels/.rels': `<Relationships xmlns="http://schemas.openxmlformats.org/package/2006/relationships"><Relationship Id="r1" Type="${R}/officeDocument" Target="word/document.xml"/></Relationships>`,
    'word/document.xml': `<?xml version="1.0" encoding="UTF-8"?>\r\n<w:document ${namespaces}><w:body>${body}</w:body></w:document>`,
    'word/_rels/document.xml.rels': `<Relationships xmlns="http://schemas.openxmlformats.org/package/2006/relationships"><Relationship Id="rId1" Type="${R}/image" Target="media/one.png"/>${rels}</Relationships>`,
    'word/media/one.png': await png(300, 200),
    'word/untouched.bin': new Uint8Array([0, 1, 2, 3, 250, 251, 252, 253]),
    ...more,
  };
  const zip: Zippable = {};
  for (const [name, data] of Object.entries(files))
    if (data !== null)
      zip[name] = [typeof data === 'string' ? strToU8(data) : data, { level, mtime: new Date(2026, 0, 1) }];
  return zipSync(zip);
}

export interface Pic {
  cx?: number;
  cy?: number;
  blip?: string;
  src?: string;
  fill?: string;
  xfrm?: string;
  geometry?: string;
  after?: string;
}

/** A `pic:pic` with a 3 × 2 inch box unless told otherwise. */
export function pic({
  cx = 2_743_200,
  cy = 1_828_800,
  blip = 'r:embed="rId1"',
  src = '',
  fill = '<a:stretch><a:fillRect/></a:stretch>',
  xfrm = '',
  geometry = '<a:prstGeom prst="rect"><a:avLst/></a:prstGeom>',
  after = '',
}: Pic = {}): string {
  return (
    `<pic:pic><pic:nvPicPr><pic:cNvPr id="7" name="p"/><pic:cNvPicPr/></pic:nvPicPr><pic:blipFill><a:blip ${blip}/>${src}${fill}</pic:blipFill>` +
    `<pic:spPr><a:xfrm${xfrm}><a:off x="0" y="0"/><a:ext cx="${cx}" cy="${cy}"/></a:xfrm>${geometry}${after}</pic:spPr></pic:pic>`
  );
}

export const graphic = (inner: string): string =>
  `<a:graphic><a:graphicData uri="http://schemas.openxmlformats.org/drawingml/2006/picture">${inner}</a:graphicData></a:graphic>`;

export function inlined(p: Pic = {}, effect = '<wp:effectExtent l="0" t="0" r="0" b="0"/>'): string {
  return `<w:p><w:r><w:drawing><wp:inline distT="0" distB="0" distL="0" distR="0"><wp:extent cx="${p.cx ?? 2_743_200}" cy="${p.cy ?? 1_828_800}"/>${effect}<wp:docPr id="7" name="p" descr="a &amp; b"/><wp:cNvGraphicFramePr/>${graphic(pic(p))}</wp:inline></w:drawing></w:r></w:p>`;
}

export function anchored(p: Pic = {}, wrap = '<wp:wrapNone/>', tail = ''): string {
  return (
    `<w:p><w:r><w:drawing><wp:anchor simplePos="0" relativeHeight="1" behindDoc="0" locked="0" layoutInCell="1" allowOverlap="1"><wp:simplePos x="0" y="0"/>` +
    `<wp:positionH relativeFrom="column"><wp:posOffset>914400</wp:posOffset></wp:positionH><wp:positionV relativeFrom="paragraph"><wp:posOffset>-457200</wp:posOffset></wp:positionV>` +
    `<wp:extent cx="${p.cx ?? 2_743_200}" cy="${p.cy ?? 1_828_800}"/>${wrap}<wp:docPr id="8" name="q"/><wp:cNvGraphicFramePr/>${graphic(pic(p))}${tail}</wp:anchor></w:drawing></w:r></w:p>`
  );
}
