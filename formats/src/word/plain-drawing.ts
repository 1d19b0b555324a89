import { toEmu, type Frame } from '@gable/core';
import { escapeXml } from '../xml/splice';
import { relationshipBase } from '../ooxml/additions';
import { isStrict } from '../ooxml/names';

/** What a new drawing of a text document says before it is framed. */
export interface PlainPicture extends Pick<Frame, 'alt' | 'box' | 'flow'> {
  /** Of the drawing: no other has it. */
  id: number;
  name: string;
  /** Relationship of the picture's data. */
  rid: string;
}

/**
 * A plain picture as `w:drawing` (§20.4.2.8, inline; §20.4.2.3, anchor), all names of drawings bound in place.
 * @param w the prefix of the text's own names, with its colon
 * @param word the namespace of the text
 */
export function plainDrawing({ id, name, alt, rid, box, flow }: PlainPicture, w: string, word: string): string {
  const strict = isStrict(word);
  const base = strict ? 'http://purl.oclc.org/ooxml/drawingml' : 'http://schemas.openxmlformats.org/drawingml/2006';
  const [cx, cy] = [toEmu(box.width), toEmu(box.height)];
  const names = `xmlns:wp="${base}/wordprocessingDrawing" xmlns:a="${base}/main" xmlns:pic="${base}/picture" xmlns:r="${relationshipBase(strict)}"`;
  const own = w === '' ? ` xmlns="${word}"` : ` xmlns:${w.slice(0, -1)}="${word}"`;
  const inner =
    `<wp:docPr id="${id}" name="${name}" descr="${escapeXml(alt)}"/><wp:cNvGraphicFramePr/>` +
    `<a:graphic><a:graphicData uri="${base}/picture"><pic:pic><pic:nvPicPr><pic:cNvPr id="${id}" name="${name}"/><pic:cNvPicPr/></pic:nvPicPr>` +
    `<pic:blipFill><a:blip r:embed="${escapeXml(rid)}"/><a:stretch><a:fillRect/></a:stretch></pic:blipFill>` +
    `<pic:spPr><a:xfrm><a:off x="0" y="0"/><a:ext cx="${cx}" cy="${cy}"/></a:xfrm><a:prstGeom prst="rect"><a:avLst/></a:prstGeom></pic:spPr></pic:pic></a:graphicData></a:graphic>`;
  const extent = `<wp:extent cx="${cx}" cy="${cy}"/><wp:effectExtent l="0" t="0" r="0" b="0"/>`;
  const at = (axis: string, from: string, offset: number): string =>
    `<wp:${axis} relativeFrom="${from}"><wp:posOffset>${toEmu(offset)}</wp:posOffset></wp:${axis}>`;
  const holder =
    flow === 'inline'
      ? `<wp:inline distT="0" distB="0" distL="0" distR="0">${extent}${inner}</wp:inline>`
      : `<wp:anchor distT="0" distB="0" distL="114300" distR="114300" simplePos="0" relativeHeight="251658240" behindDoc="0" locked="0" layoutInCell="1" allowOverlap="1"><wp:simplePos x="0" y="0"/>` +
        `${at('positionH', 'column', box.x)}${at('positionV', 'paragraph', box.y)}${extent}<wp:wrapSquare wrapText="bothSides"/>${inner}</wp:anchor>`;
  return `<${w}drawing${own} ${names}>${holder}</${w}drawing>`;
}
