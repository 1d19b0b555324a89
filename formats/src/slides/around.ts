import type { FramedItem } from '@gable/core';
import type { AroundOnPage, Veils } from '../codec/contract';
import { memberOf } from '../codec/arrange';
import type { Theme } from '../drawingml/colour';
import { namingAt } from '../drawingml/look-text';
import { shapeText } from '../drawingml/shape-text';
import { Additions } from '../ooxml/additions';
import { freeId } from '../ooxml/ids';
import { isStrict } from '../ooxml/names';
import { descend, type Element } from '../xml/located';
import { Splices } from '../xml/splices';
import type { DeckParts } from './arrange';

/**
 * Puts words and blocks on slides, among what lies there.
 * @param itemsOn what lies on a slide by itself, from the back to the front; slides count from 1
 */
export function putAround(
  { pack, main, slides, elements, theme }: DeckParts,
  { around, veils }: { around: readonly AroundOnPage[]; veils: Veils },
  itemsOn: (page: number) => readonly string[],
): Uint8Array {
  const splices = new Splices((name) => pack.part(name));
  const additions = new Additions(pack, main, splices);
  const free = new Map<string, number>();
  for (const { page, index, items } of around) {
    const part = slides[page - 1]!;
    const { root } = pack.part(part);
    const tree = descend(root, 'cSld', 'spTree')!;
    const strict = isStrict(tree.uri);
    const first = free.get(part) ?? freeId(root, 'cNvPr');
    free.set(part, first + items.length);
    const xml = items
      .map((item, i) => {
        const veil = veils.get(item.id);
        const rid = veil && additions.relateTo({ part, strict }, veil);
        return newShape(tree, item, { id: first + i, strict, rid, fonts: theme(part).fonts });
      })
      .join('');
    const next = itemsOn(page)[index];
    const at = next === undefined ? tree.children.find((c) => c.local === 'extLst') : elements.get(next);
    if (at) splices.of(part).before(memberOf(tree, at), xml);
    else splices.of(part).append(tree, xml);
  }
  return additions.write(splices.changed());
}

/** A shape with its words, or a text box (ISO/IEC 29500-1 §19.3.1.43, sp). */
function newShape(
  tree: Element,
  item: FramedItem,
  { id, strict, rid, fonts }: { id: number; strict: boolean; rid: string | undefined; fonts: Theme['fonts'] },
): string {
  const p = tree.name.slice(0, tree.name.length - tree.local.length);
  const { declare, ...naming } = namingAt(tree, strict);
  const { named, isBox, look, words } = shapeText(item, { id, rid, a: { ...naming, declare: '', fonts } });
  return (
    `<${p}sp${declare}><${p}nvSpPr><${p}cNvPr ${named}/><${p}cNvSpPr${isBox}/><${p}nvPr/></${p}nvSpPr>` +
    `<${p}spPr>${look}</${p}spPr>${words === '' ? '' : `<${p}txBody>${words}</${p}txBody>`}</${p}sp>`
  );
}
