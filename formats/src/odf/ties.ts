import { equal, type ItemId, type PageItem } from '@gable/core';
import type { PageTies } from '../codec/contract';
import { withTiesTold, type TieTelling } from '../codec/tied';
import { decodeTie, TIE_NAMESPACE } from '../metadata/ties';
import type { Element } from '../xml/located';
import type { Splice } from '../xml/splice';
import { is } from './names';
import { ownValue, setOwn } from './own-attributes';

const attribute = (e: Element, local: string): string | undefined => ownValue(e, TIE_NAMESPACE, local);

const TELLING: TieTelling = {
  nameOf: (e) => attribute(e, 'name'),
  tieOf(e) {
    const rule = decodeTie(attribute(e, 'rule') ?? '');
    const to = attribute(e, 'to');
    return rule && to !== undefined ? { rule, to } : undefined;
  },
};

/** Items of a page, each with what it follows there: names count on their page alone, so that it can be copied. */
export const tiedItems = (items: readonly PageItem[], where: Parameters<typeof withTiesTold>[1]): PageItem[] =>
  withTiesTold(items, where, TELLING);

/**
 * Writes beside the shapes of pages what they follow, and what is followed gets a name.
 * @param ties of each page, by the places of its items
 */
export function putTies(
  splice: Splice,
  ties: PageTies,
  {
    itemsOn,
    elementOf,
  }: { itemsOn: (page: number) => readonly ItemId[]; elementOf: (id: ItemId) => Element | undefined },
): void {
  for (const [i, own] of ties.entries()) {
    const all = itemsOn(i + 1).map(elementOf);
    // Counted otherwise than it was written: its ties are left as they are.
    if (all.length !== own.length || own.every((t) => t === null)) continue;
    const names = new Map(all.flatMap((e) => (e && TELLING.nameOf(e) !== undefined ? [[e, TELLING.nameOf(e)!]] : [])));
    const taken = new Set(names.values());
    const nameOf = (e: Element): string => {
      const known = names.get(e);
      if (known !== undefined) return known;
      let count = 1;
      while (taken.has(String(count))) count++;
      const name = String(count);
      names.set(e, name);
      taken.add(name);
      tell(splice, e, 'name', name);
      return name;
    };
    for (const [at, tie] of own.entries()) {
      const element = all[at];
      if (!tie || !element || is(element, 'draw', 'g')) continue;
      const target = tie === 'gone' ? undefined : all[tie.to];
      if (tie === 'gone' || !target) {
        tell(splice, element, 'rule', null);
        tell(splice, element, 'to', null);
        continue;
      }
      const to = nameOf(target);
      const now = TELLING.tieOf(element);
      // Told already: not a letter is written anew.
      if (now?.to === to && equal(now.rule, decodeTie(tie.rule))) continue;
      tell(splice, element, 'rule', tie.rule);
      tell(splice, element, 'to', to);
    }
  }
}

const tell = (splice: Splice, e: Element, local: string, value: string | null): void =>
  setOwn(splice, e, TIE_NAMESPACE, `gable-tie:${local}`, value);
