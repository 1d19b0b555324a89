import {
  documentOfPictures,
  equal,
  itemIdOf,
  type FileContent,
  type ItemId,
  type PageItem,
  type PlacedPicture,
} from '@gable/core';
import { decodeTie, loosened, type TieRule } from '../metadata/ties';
import type { Element } from '../xml/located';
import type { PageTies } from './contract';

/** How a format tells what its shapes follow. */
export interface TieTelling {
  /** What an element is called by those that follow it. */
  nameOf(e: Element): string | undefined;
  /** How an element follows another, and what that is called; undefined where it follows none. */
  tieOf(e: Element): { rule: TieRule; to: string } | undefined;
}

/** Ties that are told by three texts beside an element. @param said one of them */
export const tellingBy = (said: (e: Element, what: 'name' | 'rule' | 'to') => string | undefined): TieTelling => ({
  nameOf: (e) => said(e, 'name'),
  tieOf(e) {
    const rule = decodeTie(said(e, 'rule') ?? '');
    const to = said(e, 'to');
    return rule && to !== undefined ? { rule, to } : undefined;
  },
});

/** Items of a page, each with what it follows there. @param numbers of pictures, by their elements */
export function withTiesTold(
  items: readonly PageItem[],
  { numbers, elements }: { numbers: ReadonlyMap<Element, number>; elements: ReadonlyMap<ItemId, Element> },
  { nameOf, tieOf }: TieTelling,
): PageItem[] {
  const ties = new Map(
    items.flatMap((item) => {
      const element = 'picture' in item || item.kind !== 'framed' ? undefined : elements.get(item.id);
      const tie = element && tieOf(element);
      return tie && 'id' in item ? [[item.id, tie] as const] : [];
    }),
  );
  if (ties.size === 0) return [...items];
  const ids = new Map<string, ItemId>();
  const tell = (e: Element | undefined, id: ItemId): void => {
    const name = e && nameOf(e);
    if (name !== undefined) ids.set(name, id);
  };
  const here = new Set(items.map((item) => ('picture' in item ? item.picture : 0)));
  for (const [e, n] of numbers) if (here.has(n)) tell(e, itemIdOf({ n }));
  for (const item of items) if (!('picture' in item)) tell(elements.get(item.id), item.id);
  return items.map((item) => {
    const tie = 'picture' in item ? undefined : ties.get(item.id);
    const to = tie && ids.get(tie.to);
    return to === undefined || 'picture' in item || to === item.id ? item : { ...item, tie: { ...tie!.rule, to } };
  });
}

/** Pages without ties of what was moved since these were written. */
export function withTiesThatHold<T extends NonNullable<FileContent['sheets']>[number]>(
  sheets: readonly T[],
  pictures: readonly PlacedPicture[],
): T[] {
  const isTied = (item: PageItem): boolean => !('picture' in item) && item.tie !== undefined;
  if (!sheets.some((s) => s.items?.some(isTied))) return [...sheets];
  const loose = loosened(documentOfPictures(pictures, { sheets }));
  return sheets.map((sheet) => ({
    ...sheet,
    items: sheet.items?.map((item) => {
      if ('picture' in item || !loose.has(item.id)) return item;
      const { tie, ...free } = item;
      void tie;
      return free as PageItem;
    }),
  }));
}

/** All that is on pages, groups before what is in them, and where it stands; pages count from 1. */
export interface ItemsOnPages {
  itemsOn(page: number): readonly ItemId[];
  elementOf(id: ItemId): Element | undefined;
}

/**
 * Tells beside the shapes of pages what they follow, and gives what is followed a name.
 * @param ties of each page, by the places of its items
 * @param tell writes beside an element what it is called, the rule that it follows, and the name of what it follows; null for nothing
 */
export function tellTies(
  ties: PageTies,
  { itemsOn, elementOf }: ItemsOnPages,
  {
    nameOf: named,
    tieOf,
    takes,
    tell,
  }: TieTelling & {
    takes(e: Element): boolean;
    tell(e: Element, what: 'name' | 'rule' | 'to', value: string | null): void;
  },
): void {
  for (const [i, own] of ties.entries()) {
    const all = itemsOn(i + 1).map(elementOf);
    // Counted otherwise than it was written: its ties are left as they are.
    if (all.length !== own.length || own.every((t) => t === null)) continue;
    const names = new Map(all.flatMap((e) => (e && named(e) !== undefined ? [[e, named(e)!]] : [])));
    const taken = new Set(names.values());
    const nameOf = (e: Element): string => {
      const known = names.get(e);
      if (known !== undefined) return known;
      let count = 1;
      while (taken.has(String(count))) count++;
      const name = String(count);
      names.set(e, name);
      taken.add(name);
      tell(e, 'name', name);
      return name;
    };
    for (const [at, tie] of own.entries()) {
      const element = all[at];
      if (!tie || !element || !takes(element)) continue;
      const target = tie === 'gone' ? undefined : all[tie.to];
      if (tie === 'gone' || !target) {
        tell(element, 'rule', null);
        tell(element, 'to', null);
        continue;
      }
      const to = nameOf(target);
      const now = tieOf(element);
      // Told already: not a letter is written anew.
      if (now?.to === to && equal(now.rule, decodeTie(tie.rule))) continue;
      tell(element, 'rule', tie.rule);
      tell(element, 'to', to);
    }
  }
}
