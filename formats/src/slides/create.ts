import { toEmu, type Box, type GroupItem } from '@gable/core';
import { transformText } from '../drawingml/look-text';
import { relationshipBase } from '../ooxml/additions';
import { namespaceOf } from '../ooxml/names';
import type { Element } from '../xml/located';
import { escapeXml } from '../xml/splice';

/** A group with what is in it (§19.3.1.22, grpSp). */
export function newGroup(
  tree: Element,
  { id, item, inner }: { id: number; item: GroupItem; inner: string },
  strict: boolean,
): string {
  const p = tree.name.slice(0, tree.name.length - tree.local.length);
  const { space, alt, name = `Group ${id}` } = item;
  const [x, y, cx, cy] = [space.x, space.y, space.width, space.height].map(toEmu);
  const within = `<a:chOff x="${x}" y="${y}"/><a:chExt cx="${cx}" cy="${cy}"/>`;
  const words = alt ? ` descr="${escapeXml(alt)}"` : '';
  return (
    `<${p}grpSp xmlns:a="${namespaceOf('drawing', strict)}"><${p}nvGrpSpPr><${p}cNvPr id="${id}" name="${escapeXml(name)}"${words}/>` +
    `<${p}cNvGrpSpPr/><${p}nvPr/></${p}nvGrpSpPr><${p}grpSpPr>${transformText('a:', { ...item, box: item.at.box }, within)}</${p}grpSpPr>` +
    `${inner}</${p}grpSp>`
  );
}

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
