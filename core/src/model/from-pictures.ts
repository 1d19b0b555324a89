import { emptyDocument, type Document, type ItemId, type Page, type Position } from './document';
import type { Frame, Size } from './frame';
import { itemOfFrame } from './frame-item';

/** What is known of a picture of an opened file. */
export interface PlacedPicture {
  /** Number in the file, from 1. */
  n: number;
  /** In a folder: its file, and its number there. */
  member?: { id: string; n: number } | undefined;
  where: { part: string; place: string; page: number | null };
  frame: Frame;
  /** Of the file's own picture, in pixels. */
  size: Size;
}

/** Names a picture for good: `p4` is what was the fourth of its file when that was opened. */
export const itemIdOf = ({ n, member }: Pick<PlacedPicture, 'n' | 'member'>): ItemId =>
  member ? `${member.id}.p${member.n}` : `p${n}`;

const STORIES = ['header', 'footer', 'footnote', 'endnote', 'comment'] as const;
/** Places in texts that flow; works that began with pictures have no part. */
const IN_TEXT: ReadonlySet<string> = new Set(['body', ...STORIES]);

function positionOf({ where, frame }: PlacedPicture): Position['on'] {
  if (where.part !== '' && IN_TEXT.has(where.place)) return frame.flow === 'inline' ? 'line' : 'anchor';
  if (where.place === 'page') return 'element';
  return where.place === 'sheet' ? 'cells' : 'page';
}

/**
 * The pictures of an opened file as a document: items in the order of the file, on its pages or in its stories.
 * @param sheets sizes of its pages where they are fixed, in points; none where text flows
 */
export function documentOfPictures(pictures: readonly PlacedPicture[], sheets: readonly Size[] = []): Document {
  const fixed = sheets.length > 0;
  const document = emptyDocument(!fixed);
  const pages = sheets.map(({ width, height }, i): Page => ({
    id: `page${i + 1}`,
    size: { width, height },
    ground: null,
    margins: { top: 0, right: 0, bottom: 0, left: 0 },
    layers: [],
    items: [],
  }));
  const holders = new Map<string, { items: ItemId[] }>();
  for (const picture of pictures) {
    const { where, frame, size } = picture;
    const id = itemIdOf(picture);
    document.items[id] = itemOfFrame(id, frame, size, positionOf(picture));
    const page = fixed && where.page !== null ? pages[where.page - 1] : undefined;
    const key = `${where.place} ${where.part}`;
    const holder = page ?? holders.get(key) ?? newHolder(document, where.place, fixed);
    if (!page) holders.set(key, holder);
    holder.items.push(id);
  }
  return { ...document, pages };
}

/** A new story, or a new layer under the pages. */
function newHolder(document: Document, place: string, fixed: boolean): { items: ItemId[] } {
  const items: ItemId[] = [];
  if (fixed) document.layers.push({ id: `layer${document.layers.length + 1}`, name: place, items });
  else {
    const kind = STORIES.find((k) => k === place) ?? 'body';
    document.stories.push({ id: `story${document.stories.length + 1}`, kind, items });
  }
  return { items };
}
