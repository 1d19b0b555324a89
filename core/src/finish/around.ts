import { z } from 'zod';
import { FramedSchema, type Document, type FramedItem, type ItemId, type Text } from '../model/document';
import { equal } from '../model/equal';
import type { Operation } from '../model/operations';
import { pieceContext, piecesAround, puttingPiece, renamedPieces } from '../pieces/context';
import { heightOfWords, withLines, WAITING, type PieceContext, type PieceItem } from '../pieces/piece';
import { isDecoration } from '../pieces/quote';

/** More than this stands around no picture. */
const MOST = 24;
/** An alt text is a name as far as this, in letters. */
const LONGEST = 40;
/** What the picture is called in the ties of a finish. */
const PICTURE = 'picture';

/** One item of what a finish puts around a picture: tied to `picture`, or to another of them. */
export const AroundPartSchema = z.strictObject({
  item: FramedSchema,
  layer: z.enum(['behind', 'front']),
  /** Says the name of its picture, which is taken from the alt text. */
  says: z.literal('name').optional(),
});
export const AroundSchema = z.array(AroundPartSchema).min(1).max(MOST);
export type AroundPart = z.infer<typeof AroundPartSchema>;

const isWords = ({ item }: PieceItem): boolean => item.text !== null && !isDecoration(item);
const lineOf = (text: Text, i = 0): string => (text.paragraphs[i]?.runs ?? []).map((r) => r.text).join('');

/** The words that say the name of a picture: those that begin with it, or the only ones that are tied to it. */
function nameAmong(made: readonly PieceItem[], id: ItemId, alt: string): PieceItem | undefined {
  const words = made.filter(isWords);
  const says = ({ item }: PieceItem): boolean =>
    [alt, WAITING.name].some((name) => name !== '' && lineOf(item.text!).trim() === name);
  return words.find(says) ?? (words.length === 1 && words[0]!.item.tie?.to === id ? words[0] : undefined);
}

/** Letters are those of one name; a picture is that of one file; what is not tied has a place of its own. */
const isOwn = ({ item }: PieceItem): boolean =>
  item.tie === undefined ||
  ((item.tie.as === 'inside' || item.tie.as === 'along') && item.shape.drawn !== undefined) ||
  item.fill?.kind === 'picture';

/**
 * What stands around a picture, to lay on others; nothing where nothing does that others could have.
 * @param document with all that is tied where its rule has it
 */
export function aroundOf(document: Document, id: ItemId): AroundPart[] {
  let made = piecesAround(document, id).filter((p) => !isOwn(p));
  // What follows something that is left out is left out, too.
  for (let count = -1; count !== made.length;) {
    count = made.length;
    const ids = new Set([id, ...made.map((p) => p.item.id)]);
    made = made.filter(({ item }) => ids.has(item.tie!.to));
  }
  const name = nameAmong(made, id, document.items[id]?.alt.trim() ?? '');
  const ids = new Map([[id, PICTURE], ...made.map((p, i) => [p.item.id, `part-${i + 1}`] as const)]);
  return made.slice(0, MOST).map((p): AroundPart => {
    const { width, height } = p.item.at.box;
    const item: FramedItem = {
      ...p.item,
      id: ids.get(p.item.id)!,
      tie: { ...p.item.tie!, to: ids.get(p.item.tie!.to)! },
      at: { on: 'page', box: { x: 0, y: 0, width, height } },
    };
    return { item, layer: p.layer, ...(p === name && { says: 'name' }) };
  });
}

/** Without what belongs to one picture: words, and the sizes that come of them or of their rule. */
function styleOf({ item, layer, says }: AroundPart): unknown {
  const { text, tie } = item;
  const [first] = text?.paragraphs ?? [];
  const run = first?.runs[0];
  const own = says ?? (text && lineOf(text));
  return {
    ...{ layer, own, tie, shape: item.shape, fill: item.fill, outline: item.outline, shadow: item.shadow },
    ...{ opacity: item.opacity, name: item.name ?? null, anchor: text?.anchor, inset: text?.inset },
    look: run && { ...run, text: '', align: first?.align },
    // Others are as large as their rule has them.
    size: !text && tie?.share === undefined && (tie?.as === 'beside' || tie?.as === 'over') ? item.at.box : null,
  };
}

/** Has a picture around it what a finish puts there? Its names are its own. */
export function wearsAround(document: Document, id: ItemId, around: readonly AroundPart[] | null | undefined): boolean {
  if (around === undefined) return true;
  const own = aroundOf(document, id);
  return equal(own.map(styleOf), (around ?? []).map(styleOf), 1e-3);
}

/** The words of a part for a picture: what that has been called already, else its alt text. */
function saying({ item, says }: AroundPart, { drawn, words }: PieceContext, had: readonly string[]): FramedItem {
  const { text, tie } = item;
  if (!text || !says) return item;
  const lines = text.paragraphs.map((_, i) => (i === 0 ? words.name : WAITING.more));
  const said = withLines(text, had.length > 0 ? had : lines);
  const width = tie?.share === undefined ? item.at.box.width : drawn.width * tie.share;
  const height = heightOfWords(said, width);
  return { ...item, text: said, at: { ...item.at, box: { ...item.at.box, height } } as FramedItem['at'] };
}

/**
 * What a finish puts around a picture: its parts under names of their own, with the name of that picture. Null where nothing can
 * stand around it.
 * @param document with all that is tied where its rule has it
 */
export function partsAround(
  document: Document,
  id: ItemId,
  around: readonly AroundPart[],
  newId: () => ItemId,
): { made: PieceItem[]; context: PieceContext } | null {
  const alt = document.items[id]?.alt.trim() ?? '';
  const words = { ...WAITING, ...(alt !== '' && alt.length <= LONGEST && { name: alt }) };
  const context = pieceContext(document, id, { words, newId });
  if (!context) return null;
  const called = nameAmong(piecesAround(document, id), id, alt)?.item.text;
  const had = called ? called.paragraphs.map((_, i) => lineOf(called, i)) : [];
  const parts = around.map((p) => ({ layer: p.layer, item: saying(p, context, had) }));
  const made = renamedPieces(parts, newId).map(({ item, layer }) => ({
    layer,
    item: item.tie?.to === PICTURE ? { ...item, tie: { ...item.tie, to: id } } : item,
  }));
  return { made, context };
}

/**
 * What gives a picture what a finish puts around it, in the place of what stands there; names that were typed stay.
 * @param document with all that is tied where its rule has it
 * @param around null for nothing around it
 * @returns nothing where it has that already, or where nothing can stand around it
 */
export function layAround(
  document: Document,
  id: ItemId,
  around: readonly AroundPart[] | null | undefined,
  newId: () => ItemId,
): Operation[] {
  if (around === undefined || wearsAround(document, id, around)) return [];
  const parts = partsAround(document, id, around ?? [], newId);
  if (!parts) return [];
  const { made, context } = parts;
  const own = piecesAround(document, id);
  // What follows others goes before those.
  const gone = own.map(({ item }) => item).sort((a, b) => depthOf(own, b) - depthOf(own, a));
  const removed = new Set(gone.map((item) => item.id));
  const without = <H extends { items: ItemId[] }>(h: H): H => ({ ...h, items: h.items.filter((i) => !removed.has(i)) });
  const bare = { ...document, pages: document.pages.map(without), stories: document.stories.map(without) };
  const page = bare.pages.find((p) => p.id === context.page.id) ?? context.page;
  return [
    ...gone.map((item): Operation => ({ op: 'remove', id: item.id })),
    ...puttingPiece(bare, { ...context, page }, made),
  ];
}

const depthOf = (own: readonly PieceItem[], item: FramedItem): number => {
  const leader = own.find((p) => p.item.id === item.tie?.to)?.item;
  return leader ? 1 + depthOf(own, leader) : 0;
};
