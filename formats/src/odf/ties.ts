import type { PageItem } from '@gable/core';
import type { PageTies } from '../codec/contract';
import { tellingBy, tellTies, withTiesTold, type ItemsOnPages } from '../codec/tied';
import { TIE_NAMESPACE } from '../metadata/ties';
import type { Splice } from '../xml/splice';
import { is } from './names';
import { ownValue, setOwn } from './own-attributes';

const TELLING = tellingBy((e, what) => ownValue(e, TIE_NAMESPACE, what));

/** Items of a page, each with what it follows there: names count on their page alone, so that it can be copied. */
export const tiedItems = (items: readonly PageItem[], where: Parameters<typeof withTiesTold>[1]): PageItem[] =>
  withTiesTold(items, where, TELLING);

/** Writes beside the shapes of pages what they follow, and what is followed gets a name. @param ties of each page, by the places of its items */
export const putTies = (splice: Splice, ties: PageTies, pages: ItemsOnPages): void =>
  tellTies(ties, pages, {
    ...TELLING,
    takes: (e) => !is(e, 'draw', 'g'),
    tell: (e, what, value) => setOwn(splice, e, TIE_NAMESPACE, `gable-tie:${what}`, value),
  });
