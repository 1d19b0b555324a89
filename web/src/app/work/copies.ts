import {
  addedId,
  allOn,
  applyAll,
  grouping,
  groupOf,
  isAdded,
  isPictureItem,
  itemIdOf,
  leadsTo,
  piecesAround,
  puttingPiece,
  renamedPieces,
  slotsOf,
  withTied,
  type Document,
  type FramedItem,
  type ItemId,
  type Operation,
  type PictureItem,
  type PieceItem,
  type Position,
  type Slot,
} from '@gable/core';
import { pictureIn, shownDocument, type WorkModel } from './work-model';

/** How far to the right and below a copy comes to stand, in points. */
export const BESIDE = 14;

/** The chosen picture as an item, and the list that it is in. */
function chosen(m: WorkModel): { item: PictureItem; slot: Slot } | null {
  const picture = pictureIn(m.work, m.selected);
  const item = picture && m.document.items[itemIdOf(picture)];
  const slot = item && slotsOf(m.document).get(item.id);
  return item && isPictureItem(item) && slot ? { item, slot } : null;
}

/** Where a copy of the chosen picture goes: beside it; null where it cannot have one. */
function placeBeside(m: WorkModel, { at, id }: PictureItem, slot: Slot): { at: Position; slot: Slot } | null {
  const { x, y, ...size } = at.box;
  const moved = { x: x + BESIDE, y: y + BESIDE, ...size };
  const { in: holder } = slot;
  const page = 'page' in holder ? m.document.pages.find((p) => p.id === holder.page) : undefined;
  const next = { in: holder, index: page ? page.items.length : slot.index + 1 };
  const { insert } = m.work.can;
  switch (at.on) {
    case 'page':
      return page && insert === 'page' ? { at: { on: 'page', box: moved }, slot: next } : null;
    case 'cells': {
      const origin = pictureIn(m.work, m.selected)?.origin ?? { x: 0, y: 0 };
      const lines = m.work.sheets?.[m.document.pages.findIndex((p) => p === page)]?.lines;
      if (!lines || insert !== 'cell') return null;
      const [column, row] = [cellAt(lines.x, moved.x + origin.x), cellAt(lines.y, moved.y + origin.y)];
      const start = { row: row.cell, column: column.cell, dx: column.offset, dy: row.offset };
      return { at: { on: 'cells', box: moved, cells: { start, end: null, moves: true, sizes: false } }, slot: next };
    }
    case 'line':
      return insert === 'text' ? { at: { on: 'line', box: at.box, beside: id }, slot: next } : null;
    case 'anchor': {
      if (insert !== 'text') return null;
      const { align, ...anchor } = at.anchor ?? {};
      void align;
      const { paragraph } = at;
      const tied = { ...(at.anchor && { anchor: anchor as typeof at.anchor }), ...(paragraph && { paragraph }) };
      return { at: { on: 'anchor', box: moved, beside: id, ...tied }, slot: next };
    }
    case 'element':
      return insert === 'web' ? { at: { on: 'element', box: at.box, beside: id }, slot: next } : null;
    default:
      return null;
  }
}

/** The cell at a place of a sheet, and how far into it that is. @param lines edges of cells */
function cellAt(lines: readonly number[], at: number): { cell: number; offset: number } {
  const cell = Math.max(
    0,
    lines.findLastIndex((l) => l <= at),
  );
  return { cell, offset: Math.max(0, at - (lines[cell] ?? 0)) };
}

/** Can the chosen picture have a copy beside it? */
export function canDuplicate(m: WorkModel): boolean {
  const it = chosen(m);
  return it !== null && placeBeside(m, it.item, it.slot) !== null;
}

/** Puts a copy of the chosen picture, framed like it, beside it, with what stands around it; null where it cannot have one. */
export function duplicating(m: WorkModel): Operation[] | null {
  const it = chosen(m);
  const to = it && placeBeside(m, it.item, it.slot);
  if (!to) return null;
  const picture = { ...it.item, id: `p${m.work.next}`, at: to.at };
  const add: Operation = { op: 'add', item: picture, slot: to.slot };
  const { document } = applyAll(m.document, [add]);
  return [add, ...puttingAround(document, picture, { of: it.item.id, pieces: piecesAround(m.document, it.item.id) })];
}

/** What puts pieces around a picture that is there, as they stand around another one; they get names of their own. */
export function puttingAround(
  document: Document,
  picture: PictureItem,
  { of, pieces }: { of: ItemId; pieces: readonly PieceItem[] },
): Operation[] {
  const page = document.pages.find((p) => p.items.includes(picture.id)) ?? document.pages[0]!;
  const made = renamedPieces(pieces, () => addedId(crypto.randomUUID())).map(({ item, layer }) => {
    const { tie } = item;
    return { layer, item: tie?.to === of ? { ...item, tie: { ...tie, to: picture.id } } : item };
  });
  return puttingPiece(document, { page, picture }, made);
}

/**
 * Puts copies of several items of a page of a fixed size a little off them, in front of all, with what stands around pictures of them;
 * null where there can be none.
 * @returns the copies, too, in the order of the page
 */
export function duplicatingAll(
  m: WorkModel,
  ids: readonly ItemId[],
): { operations: Operation[]; copies: ItemId[] } | null {
  const chosen = new Set(ids);
  const page = m.document.pages.find((p) => allOn(m.document, p.id).some((id) => chosen.has(id)));
  const { insert } = m.work.can;
  if (!page || insert !== 'page') return null;
  const shown = shownDocument(m).items;
  const own = allOn(m.document, page.id).filter((id) => chosen.has(id));
  const pictures = own.filter((id) => isPicture(m.document, id));
  const names = new Map(pictures.map((id, i) => [id, `p${m.work.next + i}`]));
  const operations: Operation[] = [];
  const copies: ItemId[] = [];
  let { document } = m;
  const put = (all: readonly Operation[]): void => {
    operations.push(...all);
    document = applyAll(document, all).document;
  };
  for (const id of own) {
    const item = shown[id];
    if (item?.kind !== 'framed' || (item.at.on !== 'page' && item.at.on !== 'group')) continue;
    const picture = names.get(id);
    // What was put around a picture of them comes with that.
    if (picture === undefined && isAdded(id) && pictures.some((p) => leadsTo(m.document, id, p))) continue;
    const { tie, ...bare } = item;
    const to = tie && names.get(tie.to);
    const { x, y, ...size } = item.at.box;
    const copy: FramedItem = {
      ...bare,
      id: picture ?? addedId(crypto.randomUUID()),
      at: { on: 'page', box: { x: x + BESIDE, y: y + BESIDE, ...size } },
      ...(to !== undefined && { tie: { ...tie!, to } }),
    };
    copies.push(copy.id);
    const { length } = document.pages.find((p) => p.id === page.id)!.items;
    put([{ op: 'add', item: copy, slot: { in: { page: page.id }, index: length } }]);
    if (picture !== undefined && isPictureItem(copy))
      put(puttingAround(document, copy, { of: id, pieces: piecesAround(m.document, id) }));
  }
  // Copies of a group are one.
  const groups = new Set(own.map((id) => groupOf(m.document, id)));
  const [group] = groups;
  if (groups.size === 1 && group && group.children.length === own.length) {
    const order = document.pages.find((p) => p.id === page.id)!.items;
    put(grouping(document, page.id, withTied(document, order, copies), addedId(crypto.randomUUID())));
  }
  return { operations, copies };
}

const isPicture = ({ items }: Document, id: ItemId): boolean => {
  const item = items[id];
  return item !== undefined && isPictureItem(item);
};

/**
 * Puts the chosen picture into the headers, where it is seen at the same place of every page; null where its place depends on
 * the words.
 */
export function repeating(m: WorkModel): Operation[] | null {
  const it = chosen(m);
  const body = m.document.stories.find((s) => s.kind === 'body');
  if (!it || !body || it.item.at.on !== 'anchor' || !m.work.can.margin) return null;
  const { anchor, box } = it.item.at;
  const inBody = 'story' in it.slot.in && it.slot.in.story === body.id;
  if (!anchor || !inBody || /character/.test(anchor.from.x) || /paragraph|line/.test(anchor.from.y)) return null;
  const at: Position = { on: 'margin', box, into: 'header', pages: 'all', align: 'left', gap: null, anchor };
  return [
    { op: 'add', item: { ...it.item, id: `p${m.work.next}`, at }, slot: { in: { story: body.id }, index: 0 } },
    { op: 'remove', id: it.item.id },
  ];
}
