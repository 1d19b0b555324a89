import { toEmu, type Box, type GroupItem } from '@gable/core';
import { namespaceOf } from '../ooxml/names';
import type { Element } from '../xml/located';
import { escapeXml } from '../xml/splice';
import { transformText } from './look-text';

/** The space in a group (§20.1.7.2, chOff; §20.1.7.1, chExt). */
export function spaceText(a: string, { x, y, width, height }: Box): string {
  const [left, top, cx, cy] = [x, y, width, height].map(toEmu);
  return `<${a}chOff x="${left}" y="${top}"/><${a}chExt cx="${cx}" cy="${cy}"/>`;
}

/** A new group with what is in it (ISO/IEC 29500-1 §19.3.1.22 and §20.5.2.17, grpSp). @param beside an element whose prefix it gets */
export function groupText(
  beside: Element,
  { id, item, inner, nvPr }: { id: number; item: GroupItem; inner: string; nvPr: boolean },
  strict: boolean,
): string {
  const p = beside.name.slice(0, beside.name.length - beside.local.length);
  const { space, alt, name = `Group ${id}` } = item;
  const words = alt ? ` descr="${escapeXml(alt)}"` : '';
  return (
    `<${p}grpSp xmlns:a="${namespaceOf('drawing', strict)}"><${p}nvGrpSpPr><${p}cNvPr id="${id}" name="${escapeXml(name)}"${words}/>` +
    `<${p}cNvGrpSpPr/>${nvPr ? `<${p}nvPr/>` : ''}</${p}nvGrpSpPr><${p}grpSpPr>${transformText('a:', { ...item, box: item.at.box }, spaceText('a:', space))}</${p}grpSpPr>` +
    `${inner}</${p}grpSp>`
  );
}
