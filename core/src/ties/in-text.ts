import { BESIDE_TEXT, type Anchor } from '../model/anchor';
import { isAdded, type FramedItem, type Item, type ItemId, type Paper, type Story, type Tie } from '../model/document';
import type { Box, Size } from '../model/frame';

/** A4 with an inch all round, where a text does not say its paper. In points. */
export const PAPER: Paper = {
  ...{ width: 595.3, height: 841.9 },
  margins: { top: 72, right: 72, bottom: 72, left: 72 },
};

/** Where places count from beside what stands in a text: from where that does itself, or from its letter. */
export const fromOf = ({ at }: Item): Anchor['from'] =>
  at.on === 'anchor' ? (at.anchor ?? BESIDE_TEXT).from : { x: 'character', y: 'line' };

/** The box of what stands in a text, from where places beside it count; on a web page that is its own corner. */
export const boxInText = ({ id, at }: Item): Box =>
  at.on === 'line' || (at.on === 'element' && !isAdded(id)) ? { ...at.box, x: 0, y: 0 } : at.box;

/** The picture of a text, or of a web page, that something stands beside. */
export const besideInText = ({ at }: Item): ItemId | undefined =>
  at.on === 'anchor' || at.on === 'element' ? at.beside : undefined;

/** How the text goes round what is tied to something in it. */
function wrapOf({ as, side }: Tie, { at }: Item): Anchor['wrap'] {
  const own = at.on === 'anchor' ? (at.anchor ?? BESIDE_TEXT).wrap : null;
  const upright = side === 'left' || side === 'right';
  if (as === 'beside') {
    if (own === null) return upright ? 'square' : 'top-bottom';
    return own === 'none' || own === 'top-bottom' ? own : 'square';
  }
  // The text keeps off what is larger than its picture, but for bands.
  const isRound = as === 'around' || as === 'along' || (as === 'behind' && side === undefined);
  return isRound && own !== null && own !== 'none' ? (own === 'top-bottom' ? own : 'square') : 'none';
}

const NONE = { top: 0, right: 0, bottom: 0, left: 0 };

/**
 * Where something tied stands in a text: right beside its picture there, its box counting from where that of what it follows does. A
 * band goes from edge to edge of the paper; as far as the edge beside it only where its place counts from the paper, too.
 * @param box by its rule, of a band as if it were a block
 */
export function placedInText(
  item: FramedItem,
  to: Item,
  { box, story }: { box: Box; story: Story },
): FramedItem['at'] | null {
  const { at, tie } = item;
  // A web page makes room for it by its rule.
  if (at.on === 'element' && tie) return { ...at, box };
  if (at.on !== 'anchor' || !tie) return null;
  const from = { ...fromOf(to) };
  const band = tie.as === 'behind' && tie.side ? banded(box, from, tie.side, story.page ?? PAPER) : { box, from };
  const wrap = wrapOf(tie, to);
  const own = to.at.on === 'anchor' ? (to.at.anchor ?? BESIDE_TEXT) : BESIDE_TEXT;
  const { items } = story;
  const picture = items.indexOf(at.beside ?? '');
  const anchor: Anchor = {
    ...{ from: band.from, wrap, distances: wrap === 'none' ? NONE : own.distances },
    behind: (to.at.on === 'anchor' && own.behind) || items.indexOf(item.id) < picture,
  };
  return { ...at, box: band.box, anchor };
}

function banded(
  box: Box,
  from: Anchor['from'],
  side: NonNullable<Tie['side']>,
  paper: Size,
): { box: Box; from: Anchor['from'] } {
  const upright = side === 'left' || side === 'right';
  const [start, long] = upright ? (['x', 'width'] as const) : (['y', 'height'] as const);
  const [across, wide] = upright ? (['y', 'height'] as const) : (['x', 'width'] as const);
  const out = { ...box, [across]: 0, [wide]: paper[wide] };
  if (from[start] === 'page') {
    const end = side === 'left' || side === 'top' ? box[start] + box[long] : paper[long];
    const begin = side === 'left' || side === 'top' ? 0 : box[start];
    Object.assign(out, { [start]: begin, [long]: Math.max(1, end - begin) });
  }
  return { box: out, from: { ...from, [across]: 'page' } };
}
