import { uprightBounds, type Box, type FramedItem } from '@gable/core';
import type { PageSpot } from '../../../page/told';
import { PX, scaledBy } from './place';
import type { Chosen } from './chosen';

/** What lies beside the words of a text, with the pages that they are laid out on; in points from the corner of all pages. */
export interface BesideText {
  all: readonly Chosen[];
  /** Each with the box that its text takes. */
  pages: readonly { box: Box; margins: Box }[];
}

/** Something beside a text, where it is laid out. */
export interface Lying {
  item: FramedItem;
  box: Box;
  turn: number;
}

/** @param lying from the back @param spots the pages as they are laid out, in CSS pixels */
export function besideText(lying: readonly Lying[], spots: readonly PageSpot[]): BesideText {
  const pages = spots.map((spot) => {
    const box = scaledBy(spot, 1 / PX);
    const [first, last] = [spot.columns?.[0], spot.columns?.at(-1)];
    if (!first || !last) return { box, margins: box };
    const text = { ...first, width: last.x + last.width - first.x };
    return { box, margins: scaledBy({ ...text, x: spot.x + text.x, y: spot.y + text.y }, 1 / PX) };
  });
  const on = (middle: number): number => pages.findIndex(({ box }) => middle >= box.y && middle <= box.y + box.height);
  const all = lying.flatMap((one): Chosen[] => {
    const page = on(one.box.y + one.box.height / 2);
    if (page < 0 || one.item.locked) return [];
    return [{ ...one, page, bounds: uprightBounds({ ...one, flip: one.item.flip }) }];
  });
  return { all, pages };
}
