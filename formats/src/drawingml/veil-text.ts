import type { VeilFill } from '@gable/core';
import { decodeVeil, encodeVeil, VEIL_NAMESPACE } from '../metadata/veils';
import { relationshipBase } from '../ooxml/additions';
import { child, type Element } from '../xml/located';
import { escapeText, escapeXml } from '../xml/splice';
import type { Naming } from './look-text';

/** Among the extensions of a fill's picture (ISO/IEC 29500-1 §20.1.8.13, blip). */
const VEIL_EXTENSION = '{8E2B7A54-63D1-4C0E-A9F7-0B5C1D4E9A26}';

/** A veil as the picture that it comes to (§20.1.8.14, blipFill). @param rid the relationship of that */
export function veilFill(a: Naming, fill: VeilFill, rid: string): string {
  const told = `<veil xmlns="${VEIL_NAMESPACE}">${escapeText(encodeVeil(fill))}</veil>`;
  const extension = `<${a.name('extLst')}><${a.name('ext')} uri="${VEIL_EXTENSION}">${told}</${a.name('ext')}></${a.name('extLst')}>`;
  return (
    `<${a.name('blipFill')} xmlns:r="${relationshipBase(a.strict)}" rotWithShape="1">` +
    `<${a.name('blip')} r:embed="${escapeXml(rid)}">${extension}</${a.name('blip')}>` +
    `<${a.name('stretch')}><${a.name('fillRect')}/></${a.name('stretch')}></${a.name('blipFill')}>`
  );
}

/** The veil that a fill's picture was painted of; null where it is a picture of its own. */
export function veilIn(fill: Element): VeilFill | null {
  const extensions = child(child(fill, 'blip'), 'extLst')?.children ?? [];
  return decodeVeil(extensions.flatMap((x) => x.children).find((c) => c.uri === VEIL_NAMESPACE)?.text);
}
