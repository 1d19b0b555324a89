import { toEmu, type Size } from '@gable/core';
import type { Floating } from '../codec/contract';
import { anchorStart, wrapElement } from '../drawingml/text-anchor';
import { escapeXml } from '../xml/splice';
import { relationshipBase } from '../ooxml/additions';
import { freeId } from '../ooxml/ids';
import { isStrict } from '../ooxml/names';
import type { Package } from '../ooxml/package';

/** What a new drawing of a text document says before it is framed. */
export interface PlainPicture {
  /** Of the drawing: no other has it. */
  id: number;
  name: string;
  alt: string;
  /** Relationship of the picture's data. */
  rid: string;
  size: Size;
  /** Null for one that stands in the text like a letter. */
  floats: Floating | null;
  /** How far in front it lies where it floats. */
  height: number;
}

/**
 * A plain picture as `w:drawing` (§20.4.2.8, inline; §20.4.2.3, anchor), all names of drawings bound in place.
 * @param w the prefix of the text's own names, with its colon
 * @param word the namespace of the text
 */
export function plainDrawing(picture: PlainPicture, w: string, word: string): string {
  const { id, name, alt, rid, size, floats, height } = picture;
  const strict = isStrict(word);
  const base = strict ? 'http://purl.oclc.org/ooxml/drawingml' : 'http://schemas.openxmlformats.org/drawingml/2006';
  const [cx, cy] = [toEmu(size.width), toEmu(size.height)];
  const names = `xmlns:wp="${base}/wordprocessingDrawing" xmlns:a="${base}/main" xmlns:pic="${base}/picture" xmlns:r="${relationshipBase(strict)}"`;
  const own = w === '' ? ` xmlns="${word}"` : ` xmlns:${w.slice(0, -1)}="${word}"`;
  const inner =
    `<wp:docPr id="${id}" name="${name}" descr="${escapeXml(alt)}"/><wp:cNvGraphicFramePr/>` +
    `<a:graphic><a:graphicData uri="${base}/picture"><pic:pic><pic:nvPicPr><pic:cNvPr id="${id}" name="${name}"/><pic:cNvPicPr/></pic:nvPicPr>` +
    `<pic:blipFill><a:blip r:embed="${escapeXml(rid)}"/><a:stretch><a:fillRect/></a:stretch></pic:blipFill>` +
    `<pic:spPr><a:xfrm><a:off x="0" y="0"/><a:ext cx="${cx}" cy="${cy}"/></a:xfrm><a:prstGeom prst="rect"><a:avLst/></a:prstGeom></pic:spPr></pic:pic></a:graphicData></a:graphic>`;
  const extent = `<wp:extent cx="${cx}" cy="${cy}"/><wp:effectExtent l="0" t="0" r="0" b="0"/>`;
  if (!floats)
    return `<${w}drawing${own} ${names}><wp:inline distT="0" distB="0" distL="0" distR="0">${extent}${inner}</wp:inline></${w}drawing>`;
  const { x, y, ...anchor } = floats;
  const start = anchorStart('wp:', '', { anchor, box: { x, y, ...size }, height });
  return `<${w}drawing${own} ${names}>${start}${extent}${wrapElement('wp:', anchor)}${inner}</wp:anchor></${w}drawing>`;
}

/** A number that no drawing of the document has (§20.4.2.5, docPr): those of headers, footers and notes count, too. */
export function freeDrawingId(pack: Package, main: string): number {
  const parts = pack
    .relationships(main)
    .filter((r) => /^(header|footer|footnotes|endnotes|comments)$/.test(r.kind) && !r.external && pack.entry(r.target))
    .map((r) => r.target);
  return Math.max(...[main, ...parts].map((name) => freeId(pack.part(name).root, 'docPr')));
}
