import { toEmu, type Box } from '@gable/core';
import { relationshipBase } from '../ooxml/additions';
import { namespaceOf } from '../ooxml/names';
import type { Element } from '../xml/located';
import { escapeXml } from '../xml/splice';

/** A plain picture on a slide (§19.3.1.37, pic). */
export function plainPicture(
  tree: Element,
  { id, alt, rid, box }: { id: number; alt: string; rid: string; box: Box },
  strict: boolean,
): string {
  const p = tree.name.slice(0, tree.name.length - tree.local.length);
  const names = `xmlns:a="${namespaceOf('drawing', strict)}" xmlns:r="${relationshipBase(strict)}"`;
  const [x, y, cx, cy] = [box.x, box.y, box.width, box.height].map(toEmu);
  return (
    `<${p}pic ${names}><${p}nvPicPr><${p}cNvPr id="${id}" name="Picture ${id}" descr="${escapeXml(alt)}"/>` +
    `<${p}cNvPicPr><a:picLocks noChangeAspect="1"/></${p}cNvPicPr><${p}nvPr/></${p}nvPicPr>` +
    `<${p}blipFill><a:blip r:embed="${escapeXml(rid)}"/><a:stretch><a:fillRect/></a:stretch></${p}blipFill>` +
    `<${p}spPr><a:xfrm><a:off x="${x}" y="${y}"/><a:ext cx="${cx}" cy="${cy}"/></a:xfrm>` +
    `<a:prstGeom prst="rect"><a:avLst/></a:prstGeom></${p}spPr></${p}pic>`
  );
}
