import { z } from 'zod';
import { emptyDocument, ItemSchema, plainGround, type Document, type ItemId, type Page, type Paper } from './document';
import type { Frame, Size } from './frame';
import { itemOfFrame, type Standing } from './frame-item';

/** What is known of a picture of an opened file. */
export interface PlacedPicture {
  /** What it is called: its place in the file, from 1, when that was opened first. */
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

function positionOf({ where, frame }: PlacedPicture): Standing {
  if (where.part !== '' && IN_TEXT.has(where.place)) return frame.flow === 'inline' ? 'line' : 'anchor';
  if (where.place === 'page') return 'element';
  return where.place === 'sheet' ? 'cells' : 'page';
}

/**
 * What lies on a page or a layer, from the back to the front: a picture by its number, or something else. What is in a group
 * stands behind it in the same list, and the group names it.
 */
export const PageItemSchema = z.union([z.object({ picture: z.number().int().positive() }), ItemSchema]);
export type PageItem = z.infer<typeof PageItemSchema>;

/** A page of a fixed size as a file has it; in points. */
export interface PageContent extends Size {
  /** What it is called, where that is not its place. */
  id?: string | undefined;
  /** `#rrggbb` */
  background?: string | undefined;
  /** Layers under it by their names, from the back. */
  layers?: readonly string[] | undefined;
  items?: readonly PageItem[] | undefined;
  /** Those that are locked. */
  locked?: readonly ItemId[] | undefined;
}
/** What pages share: a master, a layout. */
export interface LayerContent {
  id: string;
  name: string;
  items: readonly PageItem[];
}

/** A text that flows, with what stands in it or beside it, in its order. */
export interface StoryContent {
  /** As `where.place` has it. */
  place: string;
  part: string;
  items: readonly PageItem[];
  /** The paper that it is set on. */
  page?: Paper | undefined;
}
/** What lies where in a file; nothing where it is not read, or is not there. */
export interface FileContent {
  /** Pages where they are fixed; none where text flows. */
  sheets?: readonly PageContent[] | undefined;
  layers?: readonly LayerContent[] | undefined;
  stories?: readonly StoryContent[] | undefined;
}

/**
 * An opened file as a document: items in the order of the file, on its pages, in its layers or in its stories.
 */
export function documentOfPictures(
  pictures: readonly PlacedPicture[],
  { sheets = [], layers = [], stories = [] }: FileContent = {},
): Document {
  const fixed = sheets.length > 0;
  const document = emptyDocument(!fixed);
  const byNumber = new Map(pictures.map((p) => [p.n, p]));
  const placed = new Set<number>();
  /** Items that a group holds. What counts from cells does so in a group, too. */
  const grouped = new Set<ItemId>();
  const taken = (items: readonly PageItem[]): ItemId[] =>
    items.flatMap((item) => {
      if (!('picture' in item)) {
        const inGroup = grouped.has(item.id);
        document.items[item.id] = inGroup ? { ...item, at: { on: 'group', box: item.at.box } } : item;
        if (item.kind === 'group') for (const child of item.children) grouped.add(child);
        return inGroup ? [] : item.id;
      }
      const picture = byNumber.get(item.picture);
      if (!picture || placed.has(item.picture)) return [];
      placed.add(item.picture);
      const id = itemIdOf(picture);
      return grouped.has(id) ? [] : id;
    });
  document.layers = layers.map(({ id, name, items }) => ({ id, name, items: taken(items) }));
  document.pages = sheets.map((page, i): Page => ({
    id: page.id ?? `page${i + 1}`,
    size: { width: page.width, height: page.height },
    ground: page.background ? plainGround(page.background) : null,
    margins: { top: 0, right: 0, bottom: 0, left: 0 },
    layers: [...(page.layers ?? [])],
    items: taken(page.items ?? []),
  }));
  const holders = new Map<string, { items: ItemId[] }>();
  const papers = new Map<string, Paper | undefined>();
  for (const { place, part, items, page } of stories) {
    papers.set(`${place} ${part}`, page);
    // A text can get pictures where it has none.
    if (items.length === 0 && place !== 'body' && place !== 'page') continue;
    const holder = newHolder(document, place, fixed, page);
    holders.set(`${place} ${part}`, holder);
    holder.items.push(...taken(items));
  }
  for (const picture of pictures) {
    const { n, where, frame, size } = picture;
    const id = itemIdOf(picture);
    const on = positionOf(picture);
    document.items[id] = itemOfFrame(id, frame, size, grouped.has(id) && on !== 'cells' ? 'group' : on);
    if (placed.has(n)) continue;
    const page = fixed && where.page !== null ? document.pages[where.page - 1] : undefined;
    const key = `${where.place} ${where.part}`;
    const holder = page ?? holders.get(key) ?? newHolder(document, where.place, fixed, papers.get(key));
    if (!page) holders.set(key, holder);
    holder.items.push(id);
  }
  for (const id of sheets.flatMap((s) => s.locked ?? [])) {
    const item = document.items[id];
    if (item) document.items[id] = { ...item, locked: true };
  }
  return document;
}

/** A new story, or a new layer under the pages. */
function newHolder(document: Document, place: string, fixed: boolean, page?: Paper): { items: ItemId[] } {
  const items: ItemId[] = [];
  if (fixed) document.layers.push({ id: `layer${document.layers.length + 1}`, name: place, items });
  else {
    const kind = STORIES.find((k) => k === place) ?? 'body';
    document.stories.push({ id: `story${document.stories.length + 1}`, kind, items, ...(page && { page }) });
  }
  return { items };
}
