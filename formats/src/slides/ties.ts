import type { ItemId, PageItem } from '@gable/core';
import type { PageTies } from '../codec/contract';
import { withTiesTold } from '../codec/tied';
import { namingAt } from '../drawingml/look-text';
import { drawingOf, tieIn, writeTie } from '../drawingml/tie-text';
import { Additions } from '../ooxml/additions';
import { isStrict } from '../ooxml/names';
import type { Element } from '../xml/located';
import { Splices } from '../xml/splices';
import type { DeckParts } from './arrange';

const numberOf = (e: Element | undefined): string | undefined => e && drawingOf(e)?.attributes['id'];

/** What a shape of a slide follows, by the numbers of drawings. */
export const tiedItems = (items: readonly PageItem[], where: Parameters<typeof withTiesTold>[1]): PageItem[] =>
  withTiesTold(items, where, { nameOf: numberOf, tieOf: tieIn });

/**
 * Writes beside the shapes of slides what they follow.
 * @param ties of each slide, by the places of its items
 */
export function putTies(
  { pack, main, slides, elements }: DeckParts,
  ties: PageTies,
  itemsOn: (page: number) => readonly ItemId[],
): Uint8Array {
  const splices = new Splices((name) => pack.part(name));
  for (const [i, own] of ties.entries()) {
    const part = slides[i]!;
    const all = itemsOn(i + 1).map((id) => elements.get(id));
    // Counted otherwise than it was written: its ties are left as they are.
    if (all.length !== own.length) continue;
    for (const [at, tie] of own.entries()) {
      const element = all[at];
      if (!tie || element?.local !== 'sp') continue;
      const to = tie === 'gone' ? undefined : numberOf(all[tie.to]);
      const next = tie !== 'gone' && to !== undefined ? { rule: tie.rule, to } : null;
      const a = namingAt(drawingOf(element) ?? element, isStrict(element.uri));
      writeTie(splices.of(part), element, { tie: next, a });
    }
  }
  return new Additions(pack, main, splices).write(splices.changed());
}
