import {
  documentOfPictures,
  itemIdOf,
  type FileContent,
  type ItemId,
  type PageItem,
  type PlacedPicture,
} from '@gable/core';
import type { PageTies } from '../codec/contract';
import { namingAt } from '../drawingml/look-text';
import { drawingOf, tieIn, writeTie } from '../drawingml/tie-text';
import { loosened } from '../metadata/ties';
import { Additions } from '../ooxml/additions';
import { isStrict } from '../ooxml/names';
import type { Element } from '../xml/located';
import { Splices } from '../xml/splices';
import type { DeckParts } from './arrange';

const numberOf = (e: Element | undefined): string | undefined => e && drawingOf(e)?.attributes['id'];

/** Items of a part, each with what it follows there. @param numbers of pictures, by their elements */
export function tiedItems(
  items: readonly PageItem[],
  { numbers, elements }: { numbers: ReadonlyMap<Element, number>; elements: ReadonlyMap<ItemId, Element> },
): PageItem[] {
  const ties = new Map(
    items.flatMap((item) => {
      const element = 'picture' in item || item.kind !== 'framed' ? undefined : elements.get(item.id);
      const tie = element && tieIn(element);
      return tie && 'id' in item ? [[item.id, tie] as const] : [];
    }),
  );
  if (ties.size === 0) return [...items];
  const ids = new Map<string, ItemId>();
  const tell = (e: Element | undefined, id: ItemId): void => {
    const number = numberOf(e);
    if (number !== undefined) ids.set(number, id);
  };
  for (const [e, n] of numbers) tell(e, itemIdOf({ n }));
  for (const item of items) if (!('picture' in item)) tell(elements.get(item.id), item.id);
  return items.map((item) => {
    const tie = 'picture' in item ? undefined : ties.get(item.id);
    const to = tie && ids.get(tie.to);
    return to === undefined || 'picture' in item || to === item.id ? item : { ...item, tie: { ...tie!.rule, to } };
  });
}

/** Slides without ties of what was moved since these were written. */
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
