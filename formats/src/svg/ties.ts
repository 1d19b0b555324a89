import type { PageItem } from '@gable/core';
import type { PageTies } from '../codec/contract';
import { tellingBy, tellTies, withTiesTold, type ItemsOnPages } from '../codec/tied';
import type { Splice } from '../xml/splice';

/** Beside elements of a drawing (HTML §3.2.6.6, data-*, which SVG 2 §5.10 takes over): their names, and the rules that they follow. */
const ATTRIBUTES = { name: 'data-gable-name', rule: 'data-gable-tie', to: 'data-gable-to' } as const;
export const TIE_ATTRIBUTE = ATTRIBUTES.rule;
/** What is locked bears this: SVG has no word for it. */
export const LOCK_ATTRIBUTE = 'data-gable-locked';
/** What is told beside an element, and is no look of it. */
export const TIE_ATTRIBUTES: ReadonlySet<string> = new Set([...Object.values(ATTRIBUTES), LOCK_ATTRIBUTE]);

const TELLING = tellingBy((e, what) => e.attributes[ATTRIBUTES[what]]);

/** Items of a drawing, each with what it follows there. */
export const tiedItems = (items: readonly PageItem[], where: Parameters<typeof withTiesTold>[1]): PageItem[] =>
  withTiesTold(items, where, TELLING);

/** Writes beside the elements of a drawing what they follow. @param ties by the places of its items */
export const putTies = (splice: Splice, ties: PageTies, items: ItemsOnPages): void =>
  tellTies(ties, items, {
    ...TELLING,
    takes: () => true,
    tell: (e, what, value) => splice.attribute(e, ATTRIBUTES[what], value),
  });
