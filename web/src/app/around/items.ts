import {
  heightOfWords,
  isAdded,
  movedTo,
  restylesShapes,
  type FramedItem,
  type Item,
  type ItemId,
  type Text,
} from '@gable/core';
import type { WorkModel } from '../work/work-model';

/** What something that was added is called. */
export function nameOf(item: FramedItem): string {
  const words = item.text?.paragraphs
    .flatMap((p) => p.runs.map((r) => r.text))
    .join(' ')
    .trim();
  if (item.text) return `“${words ? words.slice(0, 24) : 'Words'}”`;
  if (item.shape.name === 'outlines') return `“${item.shape.drawn!.label.slice(0, 24)}”`;
  const as = item.tie?.as;
  if (item.shape.drawn && (as === 'inside' || as === 'along')) {
    // Of a file that was read again their shape does not tell what they say.
    const said = item.shape.name === 'letter' ? item.shape.drawn.label : item.alt;
    const what = as === 'inside' ? 'Letters' : 'Words';
    return said ? `${what} “${said}”` : what;
  }
  return item.name ? item.name : item.fill ? 'Block' : 'Ring';
}

/** The words with all their runs otherwise. */
export const withRuns = (
  text: Text,
  change: (run: Text['paragraphs'][number]['runs'][number]) => Text['paragraphs'][number]['runs'][number],
): Text => ({ ...text, paragraphs: text.paragraphs.map((p) => ({ ...p, runs: p.runs.map(change) })) });

export const linesIn = (text: Text): string[] => text.paragraphs.map((p) => p.runs.map((r) => r.text).join(''));

/** An item that was moved by hand: along its tie the gap is another, across it lies otherwise. Untied, its box moves. */
export function movedItem(item: FramedItem, dx: number, dy: number): FramedItem {
  const { tie } = item;
  if (!tie) {
    const { x, y } = item.at.box;
    const at = movedTo(item.at, { ...(dx !== 0 && { x: x + dx }), ...(dy !== 0 && { y: y + dy }) });
    return { ...item, at } as FramedItem;
  }
  const along = tie.along ?? 0;
  if (tie.as === 'beside') {
    const side = tie.side ?? 'bottom';
    const upright = side === 'left' || side === 'right';
    const away = upright ? dx * (side === 'right' ? 1 : -1) : dy * (side === 'bottom' ? 1 : -1);
    return { ...item, tie: { ...tie, gap: tie.gap + away, along: along + (upright ? dy : dx) } };
  }
  if (tie.as === 'over') {
    const down = tie.side === 'bottom' ? -dy : dy;
    return { ...item, tie: { ...tie, gap: tie.gap + down, along: along + dx } };
  }
  return item;
}

/**
 * Can it be moved by hand? What is behind, around or inside has its place by its rule, a shape in a line of text by that; what is
 * locked stays.
 */
export const canMove = (item: Item): boolean => !item.locked && (!standsInText(item) || isFree(item)) && movesBy(item);
const movesBy = ({ tie }: Item): boolean => !tie || tie.as === 'beside' || tie.as === 'over';

/** Is it a shape of a text itself, or words of a web page, which have their place there? */
export const standsInText = ({ id, at }: Item): boolean =>
  !isAdded(id) && (at.on === 'line' || at.on === 'anchor' || at.on === 'element');

/** Is it words that a web page has itself? They look otherwise, and stay where they are. */
export const isWordsOfPage = ({ id, at }: Item): boolean => !isAdded(id) && at.on === 'element';

/** Does a shape of a text lie beside that, and in no group? */
const isFree = ({ at }: Item): boolean => at.on === 'anchor' && at.anchor !== undefined;

/** Is it a part of a group of a text? That says its size. */
export const isPartInText = (item: Item): boolean => standsInText(item) && item.at.on === 'anchor' && !isFree(item);

/** An item that is as high as its words need in a box so wide, at least; a web page makes room for its own words. */
export function withRoom(item: FramedItem, width: number): FramedItem {
  if (isWordsOfPage(item)) return item;
  const { box } = item.at;
  const height = item.text ? heightOfWords(item.text, width) : 0;
  return height <= box.height ? item : ({ ...item, at: { ...item.at, box: { ...box, height } } } as FramedItem);
}

/** Shapes and words that a file itself has on its pages and that can look otherwise. */
export function restylable({ work, file }: WorkModel): ReadonlySet<ItemId> {
  if (!restylesShapes(work.can.restyles)) return NONE;
  // In a group that is turned nothing lies as the page counts.
  const within = (id: ItemId): ItemId[] => {
    const item = file.items[id];
    if (item?.kind !== 'group') return [id];
    return item.turn === 0 && !item.flip.horizontal && !item.flip.vertical ? item.children.flatMap(within) : [];
  };
  const inTexts = file.stories.flatMap((s) => s.items.filter((id) => file.items[id]!.kind === 'framed'));
  return new Set([...file.pages.flatMap((p) => p.items.flatMap(within)), ...inTexts]);
}
const NONE: ReadonlySet<ItemId> = new Set();
