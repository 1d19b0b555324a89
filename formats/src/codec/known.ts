import {
  documentOfPictures,
  GableError,
  isPictureItem,
  itemIdOf,
  type Document,
  type Item,
  type ItemId,
  type PageItem,
  type PictureItem,
} from '@gable/core';
import { stayingAs } from './staying';
import type { Known, OpenedPicture, PagePlan, SitePicture, Source } from './contract';

/**
 * A file whose pictures are called as `known` says, in the order of the file.
 * @param read as in `openFile`
 * @throws Error for another number of them
 */
export function named(file: Source, known: readonly Known[], read: 'all' | 'pictures'): Source {
  if (known.length !== file.pictures.length) throw new Error('The pictures of a file were counted in two ways.');
  const names = new Map(file.pictures.map((p, i) => [itemIdOf(p), itemIdOf(known[i]!)]));
  const places = new Map(known.map(({ n }, i) => [itemIdOf({ n }), i]));
  const nameOf = (id: ItemId): ItemId => names.get(id) ?? id;
  /** What an item is called in the file; a new one must not be taken for another that is there. */
  const inFile = (id: ItemId): ItemId => {
    const at = places.get(id);
    if (at !== undefined) return itemIdOf(file.pictures[at]!);
    return names.has(id) ? `new.${id}` : id;
  };
  const pictures = file.pictures.map((p, i): OpenedPicture => {
    const { n, source } = known[i]!;
    return { ...p, n, frame: { ...p.frame, n, ...(source && { source }) } };
  });
  const itemNamed = (item: PageItem): PageItem => {
    if ('picture' in item) return { picture: known[item.picture - 1]!.n };
    const tied = item.tie ? { ...item, tie: { ...item.tie, to: nameOf(item.tie.to) } } : item;
    return tied.kind === 'group' ? { ...tied, children: tied.children.map(nameOf) } : tied;
  };
  const withNames = <T extends { items: readonly PageItem[] }>(holder: T): T => ({
    ...holder,
    items: holder.items.map(itemNamed),
  });
  /** A picture of the file by the name it has there; one that shows what it was put in with shows the file's own. */
  const ownPicture = (item: Item): Item => {
    if (!isPictureItem(item)) return item;
    const { source } = item.fill;
    const at = places.get(item.id);
    const put = at === undefined ? undefined : known[at]!.source;
    const own = source.from === 'kept' && source.sha256 === put?.sha256;
    if (source.from === 'kept' && !own) return item;
    const now =
      source.from === 'file'
        ? { ...source, key: inFile(source.key) }
        : (file.document.items[inFile(item.id)] as PictureItem).fill.source;
    return { ...item, fill: { ...item.fill, source: now } };
  };
  const toFile = (document: Document): Document => renamed(document, inFile, ownPicture);
  const told = <T>(write: () => T): T => {
    try {
      return write();
    } catch (error) {
      throw withName(error, known, nameOf);
    }
  };
  const numberInFile = (n: number): number => 1 + (places.get(itemIdOf({ n })) ?? n - 1);
  let document: Document | null = null;
  const source: Source = {
    ...file,
    known,
    pictures,
    get sheets() {
      return file.sheets.map((s) => ({ ...withNames(s), ...stayingAs(s, nameOf) }));
    },
    get layers() {
      return (file.layers ?? []).map(withNames);
    },
    get stories() {
      return (file.stories ?? []).map(withNames);
    },
    get document() {
      return (document ??= documentOfPictures(pictures, read === 'all' ? source : {}));
    },
    ...(file.markup && {
      markup: (page: number, painted?: ReadonlySet<number>) => {
        const ours = new Set([...(painted ?? [])].map(numberInFile));
        return withNumbers(file.markup!(page, ours), known);
      },
    }),
    ...(file.backdrop && {
      backdrop: (page: number, as?: Document) => file.backdrop!(page, as && toFile(as)),
    }),
    ...(file.likeness && { likeness: (id: ItemId) => file.likeness!(inFile(id)) }),
    ...(file.besidePage && { besidePage: (n: number) => file.besidePage!(numberInFile(n)) }),
    ...(file.withCopies && {
      withCopies: (list: readonly SitePicture[]) => file.withCopies!(list.map((p) => ({ ...p, n: numberInFile(p.n) }))),
    }),
    ...(file.snippet && { snippet: (n: number) => file.snippet!(numberInFile(n)) }),
    pictureBytes: (n) => told(() => file.pictureBytes(numberInFile(n))),
    write: (next, images = new Map()) =>
      told(() => file.write(toFile(next), new Map([...images].map(([id, image]) => [inFile(id), image])))),
    arranged: (next, images) =>
      told(() => {
        const back = new Map(Object.keys(next.items).map((id) => [inFile(id), id]));
        const put = file.arranged(toFile(next), new Map([...images].map(([id, image]) => [inFile(id), image])));
        return { ...put, order: put.order.map((id) => (id === null ? null : back.get(id)!)) };
      }),
    ...(file.withPages && {
      withPages(plan: readonly PagePlan[]) {
        const put = told(() => file.withPages!(plan));
        return { ...put, order: put.order.map((id) => (id === null ? null : nameOf(id))) };
      },
    }),
    fidelity(next) {
      const back = new Map(Object.keys(next.items).map((id) => [inFile(id), id]));
      return told(() => new Map([...file.fidelity(toFile(next))].map(([id, fate]) => [back.get(id)!, fate])));
    },
  };
  return source;
}

/** A document with other names for its items. */
export function renamed(document: Document, name: (id: ItemId) => ItemId, change: (item: Item) => Item): Document {
  const list = <T extends { items: ItemId[] }>(holder: T): T => ({ ...holder, items: holder.items.map(name) });
  const items: Record<ItemId, Item> = {};
  for (const item of Object.values(document.items)) {
    const id = name(item.id);
    const changed = change(item);
    const tie = changed.tie && { tie: { ...changed.tie, to: name(changed.tie.to) } };
    const at =
      'beside' in changed.at && changed.at.beside !== undefined
        ? { ...changed.at, beside: name(changed.at.beside) }
        : changed.at;
    items[id] =
      changed.kind === 'group'
        ? { ...changed, id, at, ...tie, children: changed.children.map(name) }
        : { ...changed, id, at, ...tie };
  }
  const { pages, layers, stories } = document;
  return { ...document, pages: pages.map(list), layers: layers.map(list), stories: stories.map(list), items };
}

/** Markup whose hidden boxes bear the pictures' names. */
const withNumbers = (markup: string | null, known: readonly Known[]): string | null =>
  markup?.replace(/ data-picture="(\d+)"/g, (as, n: string) => {
    const called = known[Number(n) - 1];
    return called ? ` data-picture="${called.n}"` : as;
  }) ?? null;

/** An error that names a picture by its place in the file names it as it is called. */
function withName(error: unknown, known: readonly Known[], nameOf: (id: ItemId) => ItemId): unknown {
  if (!(error instanceof GableError)) return error;
  const { n, id } = error.facts;
  const called = typeof n === 'number' ? known[n - 1]?.n : undefined;
  if (called === undefined && typeof id !== 'string') return error;
  const facts = {
    ...error.facts,
    ...(called !== undefined && { n: called }),
    ...(typeof id === 'string' && { id: nameOf(id) }),
  };
  return new GableError(error.code, error.message, error.remedy, facts, { cause: error });
}
