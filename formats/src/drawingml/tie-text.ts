import { equal } from '@gable/core';
import { decodeTie, TIE_NAMESPACE, type TieRule } from '../metadata/ties';
import { child, type Element } from '../xml/located';
import { escapeText, escapeXml, type Splice } from '../xml/splice';
import type { Naming } from './look-text';

/** Among the extensions of a drawing's properties (ISO/IEC 29500-1 §20.1.2.2.14, ext). */
const TIE_EXTENSION = '{1D9F4C62-8A0B-4E57-B3C5-2F6E7A90D418}';

/** The properties of a drawing: its number, its name (§20.1.2.2.8, cNvPr). */
export const drawingOf = (e: Element): Element | undefined =>
  [e, ...e.children.filter((c) => /^nv.*Pr$/.test(c.local))].map((h) => child(h, 'cNvPr')).find((c) => c !== undefined);

/** How a shape follows another, and the number of that; undefined where it follows none. */
export function tieIn(e: Element): { rule: TieRule; to: string } | undefined {
  const tie = extensionIn(e)?.children.find((t) => t.uri === TIE_NAMESPACE);
  const rule = tie && decodeTie(tie.text);
  const to = tie?.attributes['to'];
  return rule && to !== undefined ? { rule, to } : undefined;
}

const extensionIn = (e: Element): Element | undefined =>
  child(drawingOf(e), 'extLst')?.children.find((x) => x.attributes['uri'] === TIE_EXTENSION);

/** Writes how a shape follows another, or that it follows none. @param tie the rule as text, and the number of what is followed */
export function writeTie(
  splice: Splice,
  e: Element,
  { tie, a }: { tie: { rule: string; to: string } | null; a: Naming },
): void {
  const named = drawingOf(e);
  if (!named) return;
  const old = extensionIn(e);
  if (!tie) {
    if (old) splice.replace(old.parent!.children.length > 1 ? old : old.parent!, '');
    return;
  }
  const inner = `<tie xmlns="${TIE_NAMESPACE}" to="${escapeXml(tie.to)}">${escapeText(tie.rule)}</tie>`;
  const extension = (declare: string): string =>
    `<${a.name('ext')}${declare} uri="${TIE_EXTENSION}">${inner}</${a.name('ext')}>`;
  const list = child(named, 'extLst');
  const now = tieIn(e);
  // Told already: not a letter is written anew.
  if (now?.to === tie.to && equal(now.rule, decodeTie(tie.rule))) return;
  if (old) splice.replace(old, extension(a.declare));
  else if (list) splice.append(list, extension(a.declare));
  else splice.append(named, `<${a.name('extLst')}${a.declare}>${extension('')}</${a.name('extLst')}>`);
}
