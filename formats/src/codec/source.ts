import {
  BESIDE_TEXT,
  apply,
  applyAll,
  diff,
  documentOfPictures,
  equal,
  frameOfItem,
  groupsRound,
  GableError,
  isAdded,
  isPictureItem,
  itemIdOf,
  isPlain,
  LOOKS,
  slotOf,
  slotsOf,
  targetOf,
  tiedGrouped,
  allOn,
  boundsOfBoxes,
  isPlainGroup,
  uprightBounds,
  grouping,
  inFileOrder,
  withoutEmpty,
  withoutMade,
  type MadeGroup,
  withChildren,
  withFrame,
  type Box,
  type Document,
  type Frame,
  type FramedItem,
  type GroupItem,
  type Item,
  type ItemId,
  type Operation,
  type Paint,
  type Paragraph,
  type PictureItem,
  type Position,
  type Size,
  restylesGround,
  restylesShapes,
  papersOf,
} from '@gable/core';
import { encodeTie } from '../metadata/ties';
import { CAPABILITIES, type Format } from './capabilities';
import {
  type AroundPicture,
  type AroundOnPage,
  noPageLeft,
  noPicture,
  noSuchPage,
  type Floating,
  type ItemFidelity,
  type Known,
  type NewPlace,
  type Opened,
  type OpenedPicture,
  type PagePlan,
  type Restyling,
  type PageTies,
  type ReplacementImage,
  type Source,
  type FontFile,
  type Veils,
} from './contract';
import { named } from './known';
import { withPageNames } from './page-names';
import { openByContent } from './registry';

/** How much of a file its document holds. */
export interface OpenOptions {
  /**
   * `pictures` leaves out pages and what lies on them beside pictures, which takes long to read where there are thousands:
   * enough for changing pictures that are there. Where something follows a picture, all is read.
   */
  read?: 'all' | 'pictures';
  /** What its pictures are called, where that is not their order in the file. */
  known?: readonly Known[] | undefined;
  /** What its pages are called, where that is not their order. */
  pages?: readonly string[] | undefined;
}

/**
 * Opens any file that Gable knows, by its content and not by its name.
 * @throws GableError with what is wrong and what to do
 */
export function openFile(bytes: Uint8Array, { read = 'all', known, pages }: OpenOptions = {}): Source {
  const opened = openByContent(bytes);
  const much = opened.hasTies || opened.hasLocks ? 'all' : read;
  const source = sourceOf(bytes, opened, much);
  const called = known ? named(source, known, much) : source;
  return pages && much === 'all' ? withPageNames(called, pages) : called;
}

/** The document of a file with frames in the place of its own. @throws GableError `no-such-picture` */
export function withFrames({ document, pictures }: Source, frames: Iterable<Frame>): Document {
  const items = { ...document.items };
  const byNumber = new Map(pictures.map((p) => [p.n, p]));
  for (const frame of frames) {
    const picture = byNumber.get(frame.n) ?? noPicture(frame.n, pictures.length);
    const id = itemIdOf(picture);
    items[id] = withFrame(document.items[id] as PictureItem, frame, picture.size);
  }
  return { ...document, items };
}

/** What a source tells beside what is asked of it. */
interface Own extends Source {
  /** The file as it is written, but for what its shapes follow. */
  written(next: Document, images: ReadonlyMap<ItemId, ReplacementImage>): Written;
}

function sourceOf(bytes: Uint8Array, opened: Opened, read: 'all' | 'pictures'): Own {
  const {
    format,
    signed,
    pages,
    pictures,
    leftOut,
    markup,
    snippet,
    besidePage,
    withCopies,
    backdrop,
    likeness,
    putInMargin,
    blocks,
    pictureBytes,
  } = opened;
  let document: Document | null = null;
  let plain: Document | null = null;
  const plainDocument = (): Document => (plain ??= untied(source.document));
  /** The file without the groups that a document has taken apart, where its format does that by itself, and that document of it. */
  const withoutApart = (wished: Document, flat: Document): { base: Own; next: Document } | null => {
    const apart = opened.ungroup ? takenApart(source.document, flat) : [];
    if (apart.length === 0) return null;
    const now = opened.ungroup!(apart);
    const base = sourceOf(now, openByContent(now), read);
    return { base, next: asApart(wished, { from: source.document, to: base.document }) };
  };
  const writtenWith = (wished: Document, images: ReadonlyMap<ItemId, ReplacementImage>): Written => {
    const { document: flat, made } = withoutMade(wished);
    refuseApart(opened, takenApart(source.document, flat), source.document);
    const without = withoutApart(wished, flat);
    if (without) return without.base.written(without.next, images);
    const lies = opened.arrange ? flat : madeInOrder(flat, made, source.document);
    const plain = untied(lies);
    const roomy = withRooms(source.document, plain);
    const written = opened.arrange
      ? writtenFlat(roomy, images)
      : withRoomsSet(writtenFlat(plain, images), { from: plain, to: roomy });
    return made.length > 0 ? withMade(written, { flat: lies, made }, read) : written;
  };
  const writtenFlat = (next: Document, images: ReadonlyMap<ItemId, ReplacementImage>): Written => {
    const restyled = restylingOf(opened, { from: source.document, to: next }, images);
    if (restyled) {
      const now = opened.restyle!(restyled);
      const base = sourceOf(now, openByContent(now), read);
      const others = new Map([...images].filter(([id]) => !restyled.veils.has(id)));
      return base.written(lookingLike(next, base.document, restyled), others);
    }
    const { document: to, added } = withoutAdded(next);
    const change = changeOf(opened, { from: plainDocument(), to }, images.keys());
    const same = { bytes, numbers: numbersOf(pictures), count: pictures.length };
    return withAround(change ? writeChange(bytes, opened, change, images) : same, added, images);
  };
  const source: Own = {
    written: writtenWith,
    format,
    signed,
    pages,
    pictures,
    ...(leftOut && { leftOut }),
    get sheets() {
      return opened.sheets;
    },
    get layers() {
      return opened.layers ?? [];
    },
    get stories() {
      return opened.stories ?? [];
    },
    get document() {
      return (document ??= read === 'all' ? documentOfPictures(pictures, opened) : documentOfPictures(pictures));
    },
    ...(markup && { markup }),
    ...(snippet && { snippet }),
    ...(besidePage && { besidePage }),
    ...(withCopies && { withCopies }),
    ...(backdrop && {
      backdrop(page: number, as?: Document) {
        const own = as && opened.sheets[page - 1]?.drawn ? withOwnOf(source.document, as) : null;
        return own ? openByContent(writtenWith(own, new Map()).bytes).backdrop!(page) : backdrop(page);
      },
    }),
    ...(likeness && { likeness }),
    ...(putInMargin && { putInMargin }),
    ...(blocks && { blocks }),
    pictureBytes,
    write(next, images = new Map()) {
      const [from, to] = [source.document, withoutEmpty(next)];
      return withLocks(withTies(writtenWith(to, images).bytes, from, to), from, to);
    },
    arranged(next, images) {
      const { bytes: now, numbers, count } = writtenWith(next, images);
      const order = Array.from({ length: count }, (): ItemId | null => null);
      for (const [id, n] of numbers) order[n - 1] = id;
      return { bytes: now, order };
    },
    ...(opened.arrangePages && {
      withPages(plan: readonly PagePlan[]) {
        if (plan.length === 0) throw noPageLeft();
        const wrong = plan.find(({ page }) => page < 1 || page > pages);
        if (wrong) throw noSuchPage(wrong.page, pages);
        return { bytes: opened.arrangePages!(plan), order: picturesOn(pictures, plan) };
      },
    }),
    fidelity(wished) {
      const { document: flat, made } = withoutMade(wished);
      const without = withoutApart(wished, flat);
      if (without) return without.base.fidelity(without.next);
      const next = untied(opened.arrange ? flat : madeInOrder(flat, made, source.document));
      const restyled = restylingOf(opened, { from: source.document, to: next });
      const to = restyled ? lookingLike(next, plainDocument(), restyled) : next;
      const change = changeOf(opened, { from: plainDocument(), to: withoutAdded(to).document });
      return change ? fidelityOf(opened, change) : new Map<ItemId, ItemFidelity>();
    },
  };
  return source;
}

/** A file with fonts in it, where its standard says how; the very same bytes elsewhere. @param fonts those that its words are set in */
export function withFonts(bytes: Uint8Array, fonts: readonly FontFile[]): Uint8Array {
  // Of two that say the same of themselves the later one.
  const each = new Map(fonts.map((f) => [`${f.family}/${f.weight}/${f.italic}`, f]));
  return each.size > 0 ? (openByContent(bytes).embedFonts?.([...each.values()]) ?? bytes) : bytes;
}

/**
 * A file with each of its pictures in a group of its own with what follows it, where its format has groups: other programs move them
 * together then. What an animation moves, and what fills a placeholder, stays by itself.
 * @returns the very same bytes where there is nothing to group
 */
export function withTiedGrouped(bytes: Uint8Array): Uint8Array {
  const opened = openByContent(bytes);
  if (!CAPABILITIES[opened.format].arrange || !opened.hasTies) return bytes;
  const source = sourceOf(bytes, opened, 'all');
  const to = tiedGrouped(source.document, (id) => !opened.standsAlone?.(id));
  return source.written(to, new Map()).bytes;
}

/** A file's document with its shapes and words as another one has them, and nothing else of that; null where they are the same. */
function withOwnOf(file: Document, as: Document): Document | null {
  const { document } = withoutMade(as);
  const items = { ...file.items };
  for (const [id, item] of Object.entries(file.items)) {
    const now = document.items[id];
    if (!now) delete items[id];
    else if (!isPictureItem(item)) items[id] = now;
    else if (now.at.on !== item.at.on) items[id] = { ...item, at: { ...item.at, on: now.at.on } } as Item;
  }
  const pages = file.pages.map((page) => {
    const order = document.pages.find((p) => p.id === page.id)?.items ?? page.items;
    return { ...page, items: order.filter((id) => file.items[id]) };
  });
  const own = { ...file, items, pages };
  return equal([own.items, own.pages], [file.items, file.pages]) ? null : own;
}

/** Groups of a file have the room that what is in them takes, where something of that lies elsewhere. */
function withRooms(from: Document, to: Document): Document {
  const items = { ...to.items };
  for (const group of Object.values(from.items)) {
    const now = items[group.id];
    if (group.kind !== 'group' || now?.kind !== 'group' || !isPlainGroup(group) || !equal(group.at, now.at)) continue;
    const lies = (d: Document): unknown => now.children.map((id) => [d.items[id]?.at, d.items[id]?.turn]);
    if (equal(lies(from), lies(to))) continue;
    const box = boundsOfBoxes(
      now.children.map((id) => {
        const { at, turn, flip } = to.items[id]!;
        return uprightBounds({ box: at.box, turn, flip });
      }),
    );
    items[group.id] = { ...now, at: { ...now.at, box }, space: box };
  }
  return { ...to, items };
}

/** The groups of a file that another document of it has taken apart. */
const takenApart = (from: Document, to: Document): ItemId[] =>
  Object.values(from.items).flatMap((i) =>
    i.kind === 'group' && !isLeft(to, i.id) && i.children.some((id) => to.items[id]) ? i.id : [],
  );
/** Is a group there still, with something in it? */
const isLeft = ({ items }: Document, id: ItemId): boolean => {
  const item = items[id];
  return item?.kind === 'group' && item.children.length > 0;
};

/** A file that was written with the room that groups of it take now, where its format tells that. */
function withRoomsSet(written: Written, { from, to }: { from: Document; to: Document }): Written {
  const rooms = new Map(
    Object.values(to.items).flatMap(({ id, kind, at }) =>
      kind === 'group' && !equal(from.items[id]?.at, at) ? [[id, at.box] as const] : [],
    ),
  );
  const bytes = rooms.size > 0 ? openByContent(written.bytes).setRooms?.(rooms) : undefined;
  return bytes ? { ...written, bytes } : written;
}

/** @throws GableError `cannot-write` for a group that is to be taken apart and must stay one */
function refuseApart({ sheets, format, ungroup }: Opened, apart: readonly ItemId[], { items }: Document): void {
  if (apart.length === 0) return;
  const stays = new Set(sheets.flatMap((s) => s.stays ?? []));
  // Some formats take apart only what counts as the page does.
  const counts = (id: ItemId): boolean => ungroup !== undefined && !isPlainGroup(items[id] as GroupItem);
  if (apart.some((id) => stays.has(id) || counts(id)))
    throw refused(format, 'A group that is taken apart and looks as one');
}

/** A document of a file as it is of that file without some groups: what was not moved lies where it lies there. */
function asApart(wished: Document, { from, to }: { from: Document; to: Document }): Document {
  const items = { ...wished.items };
  // The groups that stay may be counted otherwise there: they are known by what they hold.
  const holding = new Map(Object.values(to.items).flatMap((i) => (i.kind === 'group' ? [[i.children[0], i.id]] : [])));
  const names = new Map<ItemId, ItemId>();
  for (const { id, ...group } of Object.values(from.items)) {
    if (group.kind !== 'group' || !items[id]) continue;
    delete items[id];
    const now = holding.get(group.children[0]);
    if (now !== undefined) names.set(id, now);
  }
  for (const [was, now] of names) {
    const group = wished.items[was] as GroupItem;
    items[now] = { ...group, id: now, children: group.children.map((id) => names.get(id) ?? id) };
  }
  for (const [id, item] of Object.entries(wished.items)) {
    const [was, now] = [from.items[id], to.items[id]];
    if (!was || !now || was.at.on !== 'group' || now.at.on === 'group') continue;
    const at = equal(was.at.box, item.at.box) ? now.at : { ...now.at, box: item.at.box };
    items[id] = { ...item, at } as Item;
  }
  const pages = wished.pages.map((page) => {
    const order = page.items.flatMap((id) => (from.items[id]?.kind === 'group' ? (names.get(id) ?? []) : id));
    return { ...page, items: order };
  });
  return { ...wished, items, pages };
}

/** A document whose pages have what groups were made of in the order of their file. */
function madeInOrder(document: Document, made: readonly MadeGroup[], file: Document): Document {
  const pages = document.pages.map((page) => {
    const loose = made.flatMap((g) => (g.page === page.id ? g.children : []));
    const items = page.items.filter((id) => !loose.includes(id));
    for (const { id, index } of inFileOrder(document, { page: page.id, items, loose }, file))
      items.splice(index, 0, id);
    return { ...page, items };
  });
  return { ...document, pages };
}

/**
 * A file that was written with groups made of what lies on its pages: of all but what must stay by itself.
 * @param flat as it was written, with what was put round pictures
 */
function withMade(
  written: Written,
  { flat, made }: { flat: Document; made: readonly MadeGroup[] },
  read: 'all' | 'pictures',
): Written {
  const opened = openByContent(written.bytes);
  const source = sourceOf(written.bytes, opened, read);
  let to = source.document;
  const sets: ItemId[][] = [];
  for (const { page, id, children } of made) {
    const at = flat.pages.findIndex((p) => p.id === page);
    const [before, after] = [allOn(flat, page), allOn(source.document, source.document.pages[at]!.id)];
    // Counted otherwise than it was written: what lies on this page stays by itself.
    if (before.length !== after.length) continue;
    const set = children.map((child) => after[before.indexOf(child)]!).filter((child) => !opened.standsAlone?.(child));
    if (set.length < 2) continue;
    sets.push(set);
    to = applyAll(to, grouping(to, source.document.pages[at]!.id, set, id.replace(/^add-/, 'made-'))).document;
  }
  const { bytes, numbers, count } = opened.arrange
    ? source.written(to, new Map())
    : { bytes: opened.group!(sets), numbers: numbersIn(opened, to), count: written.count };
  const now = ([id, n]: [ItemId, number]): [ItemId, number] => [id, numbers.get(itemIdOf({ n })) ?? n];
  return { bytes, count, numbers: new Map([...written.numbers].map(now)) };
}

/** A file with what its shapes follow told beside them, where its format has a place for that. */
function withTies(bytes: Uint8Array, from: Document, to: Document): Uint8Array {
  const isTied = ({ items }: Document): boolean => Object.values(items).some((i) => i.tie);
  if (!isTied(to) && !isTied(from)) return bytes;
  const { items } = to;
  const ties: PageTies = to.pages.map((page) => {
    const all = page.items.flatMap((id) => withChildren(to, id));
    return all.map((id) => {
      const tie = items[id]?.tie;
      const at = tie ? all.indexOf(tie.to) : -1;
      if (tie && at >= 0) return { to: at, rule: encodeTie(tie) };
      return from.items[id]?.tie ? 'gone' : null;
    });
  });
  return openByContent(bytes).putTies?.(ties) ?? bytes;
}

/** A file with what is locked told beside it, where its format has a place for that. */
function withLocks(bytes: Uint8Array, from: Document, to: Document): Uint8Array {
  const isLocked = ({ items }: Document): boolean => Object.values(items).some((i) => i.locked);
  if (!isLocked(to) && !isLocked(from)) return bytes;
  const locks = to.pages.map(({ id }) => allOn(to, id).map((item) => to.items[item]!.locked === true));
  return openByContent(bytes).putLocks?.(locks) ?? bytes;
}

/** Without locks, and without the ties of what the file has: they are told beside it, and all stands where they have it. */
function untied(document: Document): Document {
  const told = Object.values(document.items).filter(({ id, tie, locked }) => locked || (tie && !isAdded(id)));
  if (told.length === 0) return document;
  const items = { ...document.items };
  for (const { tie, locked, ...item } of told) {
    void locked;
    items[item.id] = { ...item, ...(tie && isAdded(item.id) && { tie }) } as Item;
  }
  return { ...document, items };
}

/** Does an item look otherwise? */
const looksOtherwise = (was: FramedItem, now: FramedItem): boolean =>
  LOOKS.some((look) => !equal(was[look], now[look]));

/** What of the file's own looks otherwise; null where nothing does. @throws GableError `cannot-write` for what cannot */
function restylingOf(
  opened: Opened,
  { from, to }: { from: Document; to: Document },
  images: Veils = new Map(),
): Restyling | null {
  const { format } = opened;
  const { restyles } = CAPABILITIES[format];
  const veils = new Map([...images].filter(([id]) => from.items[id] && !isPictureItem(from.items[id])));
  const items = new Map<ItemId, { was: FramedItem; now: FramedItem }>();
  for (const [id, was] of restylesShapes(restyles) ? Object.entries(from.items) : []) {
    const now = to.items[id];
    if (was === now || was.kind !== 'framed' || now?.kind !== 'framed' || isPictureItem(was)) continue;
    // With a picture in it, it is arranged anew; out of a group that is taken apart, its place counts as it did.
    const own = { ...now, at: { ...now.at, on: was.at.on } } as FramedItem;
    const isAlike = was.at.on === now.at.on || (was.at.on === 'group' && now.at.on === 'page');
    if (isAlike && (veils.has(id) || looksOtherwise(was, own))) items.set(id, { was, now: own });
  }
  const grounds = new Map<number, Paint>();
  const grounded = new Map(papersOf(to).map((p) => [p.id, p.ground]));
  for (const [i, { id, ground }] of papersOf(from).entries()) {
    const now = grounded.get(id);
    if (!now || equal(ground, now)) continue;
    if (!restylesGround(restyles) || now.kind !== 'paint') throw refused(format, 'Another ground of a page');
    grounds.set(i + 1, now.paint);
  }
  return items.size + grounds.size > 0 ? { items, grounds, veils } : null;
}

/** A document whose items and grounds are those of a file that they have been written into. */
function lookingLike(next: Document, base: Document, { items: own, grounds }: Restyling): Document {
  const items = { ...next.items };
  for (const id of own.keys()) {
    const [item, { at }] = [base.items[id], next.items[id]!];
    if (item) items[id] = { ...item, at: { ...item.at, on: at.on } } as Item;
  }
  const names = new Map(papersOf(base).map((p, i) => [p.id, { number: i + 1, ground: p.ground }]));
  const grounded = (id: string): boolean => grounds.has(names.get(id)?.number ?? 0);
  const pages = next.pages.map((page) => (grounded(page.id) ? { ...page, ground: names.get(page.id)!.ground } : page));
  const stories = next.stories.map((story) => {
    if (!story.page || !grounded(story.id)) return story;
    const { ground: other, ...page } = story.page;
    void other;
    const ground = names.get(story.id)?.ground;
    return { ...story, page: { ...page, ...(ground && { ground }) } };
  });
  return { ...next, items, pages, stories };
}

/** The pictures of planned pages in their order, then those that pages share; null for those of copies. */
function picturesOn(pictures: readonly OpenedPicture[], plan: readonly PagePlan[]): (ItemId | null)[] {
  const on = (page: number | null): OpenedPicture[] => pictures.filter((p) => p.where.page === page);
  const planned = plan.flatMap(({ page, as }) =>
    as === 'blank' ? [] : on(page).map((p) => (as === 'copy' ? null : itemIdOf(p))),
  );
  return [...planned, ...on(null).map(itemIdOf)];
}

const numbersOf = (pictures: readonly OpenedPicture[]): Map<ItemId, number> =>
  new Map(pictures.map((p) => [itemIdOf(p), p.n]));

/** What was added round pictures, and where it goes: on pages, or where its picture stands. */
interface Added {
  onPages: AroundOnPage[];
  beside: (Omit<AroundPicture, 'n'> & { picture: ItemId })[];
}

/** A document without what was added round its pictures, and where that goes. */
function withoutAdded(document: Document): { document: Document; added: Added | null } {
  const { pages, stories } = document;
  if (![...pages, ...stories].some((p) => p.items.some(isAdded))) return { document, added: null };
  const added: Added = { onPages: [], beside: [] };
  const items = { ...document.items };
  /** Without what was added, which is told with how many others lie before it. */
  const parted = <T extends { items: ItemId[] }>(holder: T, tell: (item: FramedItem, before: number) => void): T => {
    const left: ItemId[] = [];
    for (const id of holder.items) {
      const item = items[id];
      if (!isAdded(id) || item?.kind !== 'framed') {
        left.push(id);
        continue;
      }
      delete items[id];
      tell(item, left.length);
    }
    return { ...holder, items: left };
  };
  const tellBeside = (all: readonly ItemId[], item: FramedItem, index: number): void => {
    const picture = ('beside' in item.at && item.at.beside) || '';
    // What stood beside a picture that is gone, goes.
    if (!document.items[picture]) return;
    let own = added.beside.find((a) => a.picture === picture);
    if (!own) added.beside.push((own = { picture, before: [], behind: [] }));
    const side = all.filter((id) => !isAdded(id)).indexOf(picture) < index ? 'behind' : 'before';
    own[side] = [...own[side], item];
  };
  const left = pages.map((page, i) =>
    parted(page, (item, index) => {
      if (item.at.on !== 'page') return tellBeside(page.items, item, index);
      const last = added.onPages.at(-1);
      if (last?.page === i + 1 && last.index === index) last.items = [...last.items, item];
      else added.onPages.push({ page: i + 1, index, items: [item] });
    }),
  );
  const texts = stories.map((story) => parted(story, (item, index) => tellBeside(story.items, item, index)));
  return { document: { ...document, items, pages: left, stories: texts }, added };
}

function withAround(written: Written, added: Added | null, veils: Veils): Written {
  if (!added) return written;
  const { onPages } = added;
  const beside = added.beside.flatMap(({ picture, ...own }): AroundPicture[] => {
    const n = written.numbers.get(picture);
    return n === undefined ? [] : [{ n, ...own }];
  });
  let { bytes } = written;
  if (onPages.length > 0) bytes = openByContent(bytes).putAround!(onPages, veils);
  if (beside.length > 0) bytes = openByContent(bytes).putBeside!(beside, veils);
  return { ...written, bytes };
}

/** What two documents differ in, as far as it can be written. */
interface Change {
  from: Document;
  /** New pictures that fill shapes stand in their places. */
  to: Document;
  /** What new pictures fill. */
  fills: ReadonlyMap<ItemId, ItemId>;
  removed: readonly ItemId[];
  /** New pictures. */
  added: readonly PictureItem[];
  /** Is anything to be arranged: pictures that come or go, groups, another order? */
  arranged: boolean;
  /** Pictures of the file that differ, or get other data. */
  changed: readonly PictureItem[];
}

const refused = (format: Format, what: string): GableError =>
  new GableError('cannot-write', `${what} cannot be written into this kind of file (${format}).`, 'Undo it.');

/** @returns null where nothing differs @throws GableError `cannot-write`, before anything is written */
function changeOf(
  { format, remove }: Opened,
  { from, to: asked }: { from: Document; to: Document },
  replaced: Iterable<ItemId> = [],
): Change | null {
  const filled = withTargets({ from, to: asked }, format);
  const { to, fills } = filled;
  const operations = diff(from, to);
  const targets = new Set(fills.values());
  const removed: ItemId[] = [];
  const added: PictureItem[] = [];
  let arranged = false;
  const changed = new Map<ItemId, PictureItem>();
  for (const operation of operations) {
    if (operation.op === 'remove' && targets.has(operation.id)) continue;
    const what = unwritable(operation, { format, remove }, from);
    if (what) throw refused(format, what);
    if (operation.op === 'remove') removed.push(operation.id);
    if (operation.op === 'add' && isPictureItem(operation.item)) added.push(to.items[operation.item.id] as PictureItem);
    const item = operation.op === 'set' ? from.items[operation.id] : undefined;
    if (operation.op !== 'set' || item?.kind === 'group') arranged = true;
    else if (item && isPictureItem(item)) changed.set(operation.id, to.items[operation.id] as PictureItem);
  }
  for (const id of replaced)
    if (from.items[id] && to.items[id] && isPictureItem(to.items[id])) changed.set(id, to.items[id] as PictureItem);
  if (operations.length + changed.size === 0) return null;
  // What goes into a group or out of it, or is in one that is changed, counts anew.
  if (arranged) {
    const [was, is] = [from, to].map((d) => groupsRound(d)) as [GroupsRound, GroupsRound];
    for (const item of Object.values(to.items))
      if (isPictureItem(item) && from.items[item.id] && !equal(spacesOf(was, item.id), spacesOf(is, item.id)))
        changed.set(item.id, item);
  }
  return { from, to, fills, removed, added, arranged, changed: [...changed.values()] };
}

type GroupsRound = ReturnType<typeof groupsRound>;
const spacesOf = (groups: GroupsRound, id: ItemId): unknown =>
  groups.get(id)?.map(({ at, space, turn, flip }) => [at.box, space, turn, flip]) ?? [];

/**
 * New pictures that fill shapes in the places of these.
 * @throws GableError `cannot-write` for a shape that is not there
 */
function withTargets({ from, to }: { from: Document; to: Document }, format: Format): Pick<Change, 'to' | 'fills'> {
  const fills = new Map<ItemId, ItemId>();
  let document = to;
  for (const page of to.pages)
    for (const id of page.items) {
      const item = to.items[id]!;
      if (from.items[id] || item.at.on !== 'page' || !item.at.fills) continue;
      const target = targetOf(
        document,
        document.pages.find((p) => p.id === page.id)!,
        item.at.box,
      );
      if (target === null || !from.items[target]) throw refused(format, 'A picture into a shape that is not there');
      fills.set(id, target);
      document = inPlaceOf(document, id, target);
    }
  return { to: document, fills };
}

/** An item in the place of another, which is gone. */
function inPlaceOf(document: Document, id: ItemId, target: ItemId): Document {
  const item = { ...document.items[id]!, at: document.items[target]!.at };
  const without = apply(document, { op: 'remove', id }).document;
  const slot = slotOf(without, target);
  return applyAll(without, [
    { op: 'remove', id: target },
    { op: 'add', item, slot },
  ]).document;
}

const boxIn = (at: unknown): unknown => (at as Position | undefined)?.box;

/** What of an operation no file of this format can take, in words; null where it can. */
function unwritable(
  operation: Operation,
  { format, remove }: Pick<Opened, 'format' | 'remove'>,
  { items }: Document,
): string | null {
  const { insert, arrange, margin } = CAPABILITIES[format];
  switch (operation.op) {
    case 'add':
      if (arrange && operation.item.kind === 'group') return null;
      if (!isPictureItem(operation.item)) return 'A new item that is no picture';
      if (operation.item.at.on === 'margin') return margin ? null : 'A picture in the margins of pages';
      return insert ? null : 'A new picture';
    case 'remove':
      if (arrange) return null;
      if (!isPictureItem(items[operation.id]!)) return 'A removed item that is no picture';
      return remove ? null : 'A removed picture';
    case 'set': {
      const item = items[operation.id];
      if (!item || isPictureItem(item) || (arrange && item.kind === 'group')) return null;
      // In another group, at the same place: nothing of its own changes.
      if (arrange && operation.path === 'at' && equal(boxIn(operation.value), item.at.box)) return null;
      return 'A change of something that is no picture';
    }
    case 'move':
      return arrange ? null : 'Another order';
    default:
      return 'A page that comes, goes or changes';
  }
}

/** A file with the pictures of a document, and what each is called and numbered there. */
interface Structured {
  file: Opened;
  bytes: Uint8Array | null;
  numbers: ReadonlyMap<ItemId, number>;
  /** The numbers of further copies of new ones. */
  copies: ReadonlyMap<ItemId, readonly number[]>;
}

/** A file that was written, what its pictures are called and numbered there, and how many it has. */
interface Written {
  bytes: Uint8Array;
  numbers: ReadonlyMap<ItemId, number>;
  count: number;
}

/** Arranges the items of a file as another document has them; new pictures come plain. @param imageOf the data of a new one */
function structured(opened: Opened, change: Change, imageOf: (item: PictureItem) => ReplacementImage): Structured {
  const { from, to, fills, arranged } = change;
  if (!arranged || !opened.arrange) return oneByOne(opened, change, imageOf);
  const bytes = opened.arrange({ from, to, fills, imageOf: (id) => imageOf(to.items[id] as PictureItem) });
  const file = openByContent(bytes);
  const numbers = numbersIn(opened, to);
  if (file.pictures.length !== numbers.size) throw new Error('The pictures of a file were counted in two ways.');
  return { file, bytes, numbers, copies: new Map() };
}

/** The numbers of pictures on pages: page by page in their order, then those that pages share, as they were. */
function numbersIn(opened: Opened, to: Document): ReadonlyMap<ItemId, number> {
  const isPicture = (id: ItemId): boolean => isPictureItem(to.items[id]!);
  const onPages = to.pages.flatMap((p) => p.items.flatMap((id) => withChildren(to, id))).filter(isPicture);
  const known = new Set(onPages);
  const shared = opened.pictures.map(itemIdOf).filter((id) => to.items[id] && !known.has(id));
  return new Map([...onPages, ...shared].map((id, i) => [id, i + 1]));
}

/** Takes pictures out and puts new ones in, one after the other. */
function oneByOne(
  opened: Opened,
  { to, fills, removed, added }: Change,
  imageOf: (item: PictureItem) => ReplacementImage,
): Structured {
  const numbers = new Map(opened.pictures.map((p) => [itemIdOf(p), p.n]));
  const copies = new Map<ItemId, number[]>();
  let file = opened;
  let bytes: Uint8Array | null = null;
  for (const id of removed) {
    const n = numbers.get(id)!;
    bytes = file.remove!(n);
    file = openByContent(bytes);
    numbers.delete(id);
    for (const [other, at] of numbers) if (at > n) numbers.set(other, at - 1);
  }
  // From the last to the first, so that a place counts what the file had; what comes to lie in front of all, and what floats
  // beside a text, in its order.
  const slots = slotsOf(to);
  const behind = ({ at }: Item): number => ('after' in at ? (at.after ?? 0) : 0);
  const floats = ({ at }: Item): boolean => at.on === 'anchor' && at.beside === undefined;
  const inOrder = added.toSorted(
    (a, b) =>
      behind(b) - behind(a) ||
      Number(floats(b)) - Number(floats(a)) ||
      (floats(a) ? 1 : -1) * (slots.get(a.id)!.index - slots.get(b.id)!.index),
  );
  for (const item of inOrder) {
    const place = (): NewPlace =>
      fills.has(item.id) ? filledPlace(file, item, to) : placeOf(file.format, item, { to, numbers });
    const put = putInto(file, item, { place, image: imageOf(item) });
    ({ bytes, file } = put);
    for (const n of put.numbers) {
      for (const [other, at] of numbers) if (at >= n) numbers.set(other, at + 1);
      for (const [other, all] of copies)
        copies.set(
          other,
          all.map((at) => (at >= n ? at + 1 : at)),
        );
    }
    const [first, ...more] = put.numbers;
    numbers.set(item.id, first!);
    copies.set(item.id, more);
  }
  return { file, bytes, numbers, copies };
}

/** @returns the file, and the numbers of the picture in it, one after another: a margin may be several parts of a file */
function putInto(
  file: Opened,
  { at, alt }: PictureItem,
  { place, image }: { place: () => NewPlace; image: ReplacementImage },
): { bytes: Uint8Array; file: Opened; numbers: number[] } {
  if (at.on !== 'margin') {
    const { bytes, n } = file.insert!({ place: place(), image, alt });
    return { bytes, file: openByContent(bytes), numbers: [n] };
  }
  const { on, box, anchor, ...wish } = at;
  void on;
  const floats = anchor ? { x: box.x, y: box.y, ...anchor } : null;
  const size = { width: box.width, height: box.height };
  const { bytes, placed } = file.putInMargin!({ ...wish, ...size, floats, alt, picture: image });
  const next = openByContent(bytes);
  const numberOf = ({ part, index }: (typeof placed)[number]): number =>
    next.pictures.filter((p) => p.where.part === part)[index]!.n;
  return { bytes, file: next, numbers: placed.map(numberOf).sort((a, b) => a - b) };
}

const floatingOf = ({ box: { x, y }, anchor = BESIDE_TEXT }: Extract<Position, { on: 'anchor' }>): Floating => ({
  x,
  y,
  ...anchor,
});

/** The shape of a file that a new picture fills. @throws GableError `cannot-write` for one that is not there any more */
function filledPlace(file: Opened, { id, at: { box } }: Item, to: Document): NewPlace {
  const page = to.pages.findIndex((p) => p.items.some((item) => withChildren(to, item).includes(id)));
  const document = documentOfPictures(file.pictures, file);
  const target = targetOf(document, document.pages[page]!, box);
  if (target === null) throw refused(file.format, 'A picture into a shape that is not there');
  return { in: 'shape', page: page + 1, fills: target };
}

/** Where a new item of a document goes in its file. @throws GableError `cannot-write` for a place that there is not */
function placeOf(
  format: Format,
  { id, at }: Item,
  { to, numbers }: { to: Document; numbers: ReadonlyMap<ItemId, number> },
): NewPlace {
  const size = { width: at.box.width, height: at.box.height };
  if ('beside' in at && at.beside !== undefined) {
    const n = numbers.get(at.beside);
    if (n === undefined) throw refused(format, 'A picture beside one that is not there');
    return { in: 'beside', n, size, floats: at.on === 'anchor' ? floatingOf(at) : null };
  }
  const slot = slotsOf(to).get(id)!;
  const { in: holder } = slot;
  const page = 'page' in holder ? 1 + to.pages.findIndex((p) => p.id === holder.page) : 1;
  switch (CAPABILITIES[format].insert) {
    case 'text':
      if (at.on !== 'line' && at.on !== 'anchor') break;
      return {
        ...{ in: 'text', after: at.after ?? 0, within: at.within ?? null, size },
        letters: (at.on === 'line' ? at.letters : undefined) ?? null,
        floats: at.on === 'anchor' ? floatingOf(at) : null,
      };
    case 'web':
      if (at.on !== 'element' || !('story' in holder)) break;
      return {
        in: 'web',
        page: 1 + to.stories.findIndex((s) => s.id === holder.story),
        after: at.after ?? 0,
        inside: at.inside === true,
        size,
      };
    case 'cell': {
      if (at.on !== 'cells' || !at.cells || !('page' in holder)) break;
      const { start, moves, sizes } = at.cells;
      return { in: 'cell', page, ...start, size, follows: sizes ? 'place and size' : moves ? 'place' : 'nothing' };
    }
  }
  throw refused(format, 'A picture without a place in it');
}

function writeChange(
  bytes: Uint8Array,
  opened: Opened,
  change: Change,
  images: ReadonlyMap<ItemId, ReplacementImage>,
): Written {
  const {
    file,
    bytes: now,
    numbers,
    copies,
  } = structured(opened, change, (item) => {
    const image = images.get(item.id);
    if (!image) throw refused(opened.format, 'A new picture without its data');
    return image;
  });
  const frames: Frame[] = [];
  const replaced = new Map<number, ReplacementImage>();
  const frameOf = framesIn(change.to, numbers);
  for (const item of change.changed) {
    const image = images.get(item.id);
    if (image) replaced.set(numbers.get(item.id)!, image);
    frames.push(frameOf(item));
  }
  for (const item of change.added) {
    // Its data are in the file already, and so is its place among cells and in a text.
    const { source, ...frame } = frameOf(item);
    void source;
    const own = file.pictures[frame.n - 1]!.frame;
    const target = change.from.items[change.fills.get(item.id) ?? ''];
    if (target?.kind === 'framed' && isPlain(item)) {
      // The look of the shape stays; the picture fills it at its ratio.
      const { shape, outline, shadow, turn, flip } = target;
      const { placement } = frame;
      frames.push({ ...own, shape, outline, shadow, turn, flip, placement, alt: frame.alt });
      continue;
    }
    // A plain one is there already, as finely as its file can say it; one stored on its side lies there so.
    if (isPlain(item) && item.fill.source.from === 'kept' && item.fill.source.orientation === 1) continue;
    const placed = item.at.on === 'page' || item.at.on === 'anchor' || item.at.on === 'group';
    for (const n of [frame.n, ...(copies.get(item.id) ?? [])]) {
      const { x, y } = file.pictures[n - 1]!.frame.box;
      frames.push(placed ? frame : { ...frame, n, box: { ...frame.box, x, y } });
    }
  }
  const told = { numbers, count: file.pictures.length };
  try {
    const changed = frames.length === 0 ? (now ?? bytes) : file.change(frames, replaced);
    return reanchored({ bytes: changed, ...told }, change.changed);
  } catch (error) {
    throw withItem(error, numbers);
  }
}

/** Frames of items as their file has them: what is in groups counts on the page there, but for the groups' turns. */
function framesIn(document: Document, numbers: ReadonlyMap<ItemId, number>): (item: PictureItem) => Frame {
  const groups = groupsRound(document);
  return (item) => {
    const frame = frameOfItem(item, numbers.get(item.id)!);
    const box = (groups.get(item.id) ?? []).reduce((b, { at, space }): Box => {
      const [kx, ky] = [at.box.width / space.width, at.box.height / space.height];
      const [x, y] = [at.box.x + (b.x - space.x) * kx, at.box.y + (b.y - space.y) * ky];
      return { x, y, width: b.width * kx, height: b.height * ky };
    }, frame.box);
    const { paragraph, ...own } = frame;
    void paragraph;
    return { ...own, box };
  };
}

/** The file with pictures beside its text tied to the paragraphs that their items name. */
function reanchored(written: Written, items: readonly Item[]): Written {
  const wished = items.flatMap(({ id, at }): [number, Paragraph][] =>
    at.on === 'anchor' && at.paragraph ? [[written.numbers.get(id)!, at.paragraph]] : [],
  );
  if (wished.length === 0) return written;
  const tied = openByContent(written.bytes).reanchor?.(new Map(wished));
  if (!tied) return written;
  const places = new Map(tied.order.map((n, i) => [n, i + 1]));
  const numbers = new Map([...written.numbers].map(([id, n]) => [id, places.get(n)!]));
  return { ...written, bytes: tied.bytes, numbers };
}

/** An error about a picture by its number names its item, too. */
function withItem(error: unknown, numbers: ReadonlyMap<ItemId, number>): unknown {
  if (!(error instanceof GableError) || typeof error.facts['n'] !== 'number') return error;
  const id = [...numbers].find(([, n]) => n === error.facts['n'])?.[0];
  return new GableError(error.code, error.message, error.remedy, { ...error.facts, id: id ?? null }, { cause: error });
}

function fidelityOf(opened: Opened, change: Change): ReadonlyMap<ItemId, ItemFidelity> {
  const { file, numbers } = structured(opened, change, (item) => standIn(item.fill.source.size));
  const frameOf = framesIn(change.to, numbers);
  return new Map(
    [...change.changed, ...change.added].map((item) => {
      const frame = frameOf(item);
      return [
        item.id,
        { unsupported: file.unsupported(frame), becomesShape: file.becomesShape?.(frame) ?? false },
      ] as const;
    }),
  );
}

/** A picture of this size without pixels: a header of GIF (89a §18), as far as readers of headers go. */
function standIn({ width, height }: Size): ReplacementImage {
  const bytes = new Uint8Array(14);
  bytes.set(new TextEncoder().encode('GIF89a'));
  const view = new DataView(bytes.buffer);
  view.setUint16(6, width, true);
  view.setUint16(8, height, true);
  bytes[13] = 0x3b;
  return { bytes, type: 'gif', size: { width, height } };
}
