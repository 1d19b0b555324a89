import { toEmu, type Size } from '@gable/core';
import type { Floating } from '../codec/contract';
import { escapeXml } from '../xml/splice';
import { relationshipBase } from '../ooxml/additions';
import { isStrict } from '../ooxml/names';

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
}

/** Text round the box (ISO/IEC 29500-1 §20.4.2.15 to §20.4.2.20). */
const WRAPS: Readonly<Record<Floating['wrap'], string>> = {
  none: '<wp:wrapNone/>',
  square: '<wp:wrapSquare wrapText="bothSides"/>',
  tight: `<wp:wrapTight wrapText="bothSides">${boxPolygon()}</wp:wrapTight>`,
  through: `<wp:wrapThrough wrapText="bothSides">${boxPolygon()}</wp:wrapThrough>`,
  'top-bottom': '<wp:wrapTopAndBottom/>',
};

/** The box as a polygon, in 21,600ths of the extent (§20.4.2.16): its shape takes its place. */
function boxPolygon(): string {
  const to = (x: number, y: number): string => `<wp:lineTo x="${x}" y="${y}"/>`;
  return `<wp:wrapPolygon edited="0"><wp:start x="0" y="0"/>${to(0, 21_600)}${to(21_600, 21_600)}${to(21_600, 0)}${to(0, 0)}</wp:wrapPolygon>`;
}

/**
 * A plain picture as `w:drawing` (§20.4.2.8, inline; §20.4.2.3, anchor), all names of drawings bound in place.
 * @param w the prefix of the text's own names, with its colon
 * @param word the namespace of the text
 */
export function plainDrawing({ id, name, alt, rid, size, floats }: PlainPicture, w: string, word: string): string {
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
  const { x, y, from, wrap, behind, distances } = floats;
  const at = (axis: string, of: string, offset: number): string =>
    `<wp:${axis} relativeFrom="${of}"><wp:posOffset>${toEmu(offset)}</wp:posOffset></wp:${axis}>`;
  const far = (['top', 'bottom', 'left', 'right'] as const)
    .map((side) => `dist${side[0]!.toUpperCase()}="${toEmu(distances[side])}"`)
    .join(' ');
  const anchor = `<wp:anchor ${far} simplePos="0" relativeHeight="251658240" behindDoc="${behind ? 1 : 0}" locked="0" layoutInCell="1" allowOverlap="1">`;
  return `<${w}drawing${own} ${names}>${anchor}<wp:simplePos x="0" y="0"/>${at('positionH', from.x, x)}${at('positionV', from.y, y)}${extent}${WRAPS[wrap]}${inner}</wp:anchor></${w}drawing>`;
}
