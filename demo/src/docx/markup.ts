/** Markup of a word-processing document, written by hand so that the demo does not depend on what it is used to try. */
export const NAMESPACES = [
  'xmlns:w="http://schemas.openxmlformats.org/wordprocessingml/2006/main"',
  'xmlns:r="http://schemas.openxmlformats.org/officeDocument/2006/relationships"',
  'xmlns:wp="http://schemas.openxmlformats.org/drawingml/2006/wordprocessingDrawing"',
  'xmlns:a="http://schemas.openxmlformats.org/drawingml/2006/main"',
  'xmlns:pic="http://schemas.openxmlformats.org/drawingml/2006/picture"',
  'xmlns:mc="http://schemas.openxmlformats.org/markup-compatibility/2006"',
  'xmlns:wps="http://schemas.microsoft.com/office/word/2010/wordprocessingShape"',
  'xmlns:wp14="http://schemas.microsoft.com/office/word/2010/wordprocessingDrawing"',
  'xmlns:v="urn:schemas-microsoft-com:vml"',
].join(' ');

export const mm = (v: number): number => Math.round(v * 36_000);
const esc = (s: string): string => s.replace(/&/g, '&amp;').replace(/</g, '&lt;').replace(/"/g, '&quot;');

export interface PictureSpec {
  id: number;
  rel: string;
  name: string;
  /** Size on the page in millimetres. */
  width: number;
  height: number;
  alt?: string;
  /** Crop in 1/1000 %. */
  crop?: { l?: number; t?: number; r?: number; b?: number };
  preset?: string;
  adjust?: string;
  line?: string;
  effects?: string;
  overflow?: number;
}

/** The picture itself: `pic:pic` inside its graphic. */
export function graphic(p: PictureSpec): string {
  const crop = p.crop
    ? `<a:srcRect${Object.entries(p.crop)
        .map(([k, v]) => ` ${k}="${v}"`)
        .join('')}/>`
    : '';
  return (
    `<a:graphic><a:graphicData uri="http://schemas.openxmlformats.org/drawingml/2006/picture"><pic:pic>` +
    `<pic:nvPicPr><pic:cNvPr id="${p.id}" name="${esc(p.name)}"/><pic:cNvPicPr><a:picLocks noChangeAspect="1"/></pic:cNvPicPr></pic:nvPicPr>` +
    `<pic:blipFill><a:blip r:embed="${p.rel}"/>${crop}<a:stretch><a:fillRect/></a:stretch></pic:blipFill>` +
    `<pic:spPr><a:xfrm><a:off x="0" y="0"/><a:ext cx="${mm(p.width)}" cy="${mm(p.height)}"/></a:xfrm>` +
    `<a:prstGeom prst="${p.preset ?? 'rect'}"><a:avLst>${p.adjust ?? ''}</a:avLst></a:prstGeom>${p.line ?? ''}${p.effects ?? ''}</pic:spPr>` +
    `</pic:pic></a:graphicData></a:graphic>`
  );
}

const extents = (p: PictureSpec): string => {
  const over = p.overflow ?? 0;
  return `<wp:extent cx="${mm(p.width)}" cy="${mm(p.height)}"/><wp:effectExtent l="${over}" t="${over}" r="${over}" b="${over}"/>`;
};
const docPr = (p: PictureSpec): string =>
  `<wp:docPr id="${p.id}" name="${esc(p.name)}"${p.alt === undefined ? '' : ` descr="${esc(p.alt)}"`}/>`;
const lock = '<wp:cNvGraphicFramePr><a:graphicFrameLocks noChangeAspect="1"/></wp:cNvGraphicFramePr>';

/** A picture that sits in the text. */
export const inline = (p: PictureSpec): string =>
  `<w:r><w:drawing><wp:inline distT="0" distB="0" distL="0" distR="0">${extents(p)}${docPr(p)}${lock}${graphic(p)}</wp:inline></w:drawing></w:r>`;

export interface Spot {
  /** Millimetres from the column's left and the paragraph's top. */
  x: number;
  y: number;
  wrap: string;
  behind?: boolean;
}

export const WRAP = {
  none: '<wp:wrapNone/>',
  square: '<wp:wrapSquare wrapText="bothSides"/>',
  tight:
    '<wp:wrapTight wrapText="bothSides"><wp:wrapPolygon edited="0"><wp:start x="0" y="0"/><wp:lineTo x="0" y="21600"/><wp:lineTo x="21600" y="21600"/><wp:lineTo x="21600" y="0"/><wp:lineTo x="0" y="0"/></wp:wrapPolygon></wp:wrapTight>',
};

/** Something that lies freely on the page. */
export function anchored(id: number, spot: Spot, inner: string): string {
  return (
    `<wp:anchor distT="0" distB="0" distL="114300" distR="114300" simplePos="0" relativeHeight="${251_650_000 + id}" behindDoc="${spot.behind ? 1 : 0}" locked="0" layoutInCell="1" allowOverlap="1">` +
    `<wp:simplePos x="0" y="0"/><wp:positionH relativeFrom="column"><wp:posOffset>${mm(spot.x)}</wp:posOffset></wp:positionH>` +
    `<wp:positionV relativeFrom="paragraph"><wp:posOffset>${mm(spot.y)}</wp:posOffset></wp:positionV>${inner}</wp:anchor>`
  );
}

export const floating = (p: PictureSpec, spot: Spot): string =>
  `<w:r><w:drawing>${anchored(p.id, spot, `${extents(p)}${spot.wrap}${docPr(p)}${lock}${graphic(p)}`)}</w:drawing></w:r>`;

/** A plain disc: the usual stand-in for an outline. */
export function disc(id: number, spot: Spot, width: number, height: number, colour: string): string {
  const shape =
    `<wp:extent cx="${mm(width)}" cy="${mm(height)}"/><wp:effectExtent l="0" t="0" r="0" b="0"/>${spot.wrap}<wp:docPr id="${id}" name="Ring ${id}"/><wp:cNvGraphicFramePr/>` +
    `<a:graphic><a:graphicData uri="http://schemas.microsoft.com/office/word/2010/wordprocessingShape"><wps:wsp><wps:cNvSpPr/><wps:spPr><a:xfrm><a:off x="0" y="0"/><a:ext cx="${mm(width)}" cy="${mm(height)}"/></a:xfrm>` +
    `<a:prstGeom prst="ellipse"><a:avLst/></a:prstGeom><a:solidFill><a:srgbClr val="${colour}"/></a:solidFill><a:ln><a:noFill/></a:ln></wps:spPr><wps:bodyPr/></wps:wsp></a:graphicData></a:graphic>`;
  return (
    `<w:r><mc:AlternateContent><mc:Choice Requires="wps"><w:drawing>${anchored(id, spot, shape)}</w:drawing></mc:Choice>` +
    `<mc:Fallback><w:pict><v:oval style="position:absolute;margin-left:${(spot.x / 25.4) * 72}pt;margin-top:${(spot.y / 25.4) * 72}pt;width:${(width / 25.4) * 72}pt;height:${(height / 25.4) * 72}pt;z-index:-1" fillcolor="#${colour}" stroked="f"/></w:pict></mc:Fallback></mc:AlternateContent></w:r>`
  );
}

/** A box of text, written twice as programs do: for readers that know the newer markup, and for those that do not. */
export function textBox(id: number, spot: Spot, width: number, height: number, content: string): string {
  const shape =
    `<wp:extent cx="${mm(width)}" cy="${mm(height)}"/><wp:effectExtent l="0" t="0" r="0" b="0"/>${spot.wrap}<wp:docPr id="${id}" name="Text box ${id}"/><wp:cNvGraphicFramePr/>` +
    `<a:graphic><a:graphicData uri="http://schemas.microsoft.com/office/word/2010/wordprocessingShape"><wps:wsp><wps:cNvSpPr txBox="1"/><wps:spPr><a:xfrm><a:off x="0" y="0"/><a:ext cx="${mm(width)}" cy="${mm(height)}"/></a:xfrm>` +
    `<a:prstGeom prst="rect"><a:avLst/></a:prstGeom><a:solidFill><a:srgbClr val="F1E9D8"/></a:solidFill><a:ln><a:noFill/></a:ln></wps:spPr><wps:txbx><w:txbxContent>${content}</w:txbxContent></wps:txbx><wps:bodyPr lIns="144000" tIns="108000" rIns="144000" bIns="108000"/></wps:wsp></a:graphicData></a:graphic>`;
  return (
    `<w:r><mc:AlternateContent><mc:Choice Requires="wps"><w:drawing>${anchored(id, spot, shape)}</w:drawing></mc:Choice>` +
    `<mc:Fallback><w:pict><v:rect style="position:absolute;margin-left:${(spot.x / 25.4) * 72}pt;margin-top:${(spot.y / 25.4) * 72}pt;width:${(width / 25.4) * 72}pt;height:${(height / 25.4) * 72}pt" fillcolor="#F1E9D8" stroked="f"><v:textbox><w:txbxContent>${content}</w:txbxContent></v:textbox></v:rect></w:pict></mc:Fallback></mc:AlternateContent></w:r>`
  );
}

export const run = (text: string): string => `<w:r><w:t xml:space="preserve">${esc(text)}</w:t></w:r>`;
export const paragraph = (content: string, style?: string): string =>
  `<w:p>${style ? `<w:pPr><w:pStyle w:val="${style}"/></w:pPr>` : ''}${content}</w:p>`;
export const text = (words: string, style?: string): string => paragraph(run(words), style);
export const pageBreak = (): string => paragraph('<w:r><w:br w:type="page"/></w:r>');

export function table(rows: { cells: string[]; widths: number[] }[]): string {
  const grid = rows[0]!.widths.map((w) => `<w:gridCol w:w="${w}"/>`).join('');
  const body = rows
    .map(
      (r) =>
        `<w:tr>${r.cells.map((c, i) => `<w:tc><w:tcPr><w:tcW w:w="${r.widths[i]}" w:type="dxa"/></w:tcPr>${c}</w:tc>`).join('')}</w:tr>`,
    )
    .join('');
  return `<w:tbl><w:tblPr><w:tblW w:w="0" w:type="auto"/><w:tblLook w:val="04A0"/></w:tblPr><w:tblGrid>${grid}</w:tblGrid>${body}</w:tbl>`;
}
