import { isAdded, type ItemId, type Position } from './document';
import type { Operation } from './operations';

/** What changes the structure of a file: an item or a page that comes, goes, or moves among the others. */
export type Structural = Extract<Operation, { op: 'add' | 'remove' | 'page-add' | 'page-remove' | 'page-move' }>;

export const isStructural = (operation: Operation): operation is Structural =>
  isOfPages(operation) ||
  // What is added round pictures comes into the file when that is written.
  (operation.op === 'add' && !isAdded(operation.item.id)) ||
  (operation.op === 'remove' && !isAdded(operation.id));

/** Is it about something that was added round pictures? */
export const isOfAdded = (operation: Operation): boolean =>
  operation.op === 'add'
    ? isAdded(operation.item.id)
    : 'id' in operation && !operation.op.startsWith('page-') && isAdded(operation.id);

const isOfPages = (operation: Operation): operation is Structural & { op: `page-${string}` } =>
  operation.op === 'page-add' || operation.op === 'page-remove' || operation.op === 'page-move';

type Add = Extract<Operation, { op: 'add' }>;
type PageAdd = Extract<Operation, { op: 'page-add' }>;
/** What is done to a file, one after another: each place counts on what was done before. */
export type Done = (Add | Extract<Operation, { op: 'remove' }> | PageAdd) & {
  /** The numbers of pictures that came with it beside the one that it names: they keep them when it is done again. */
  copies?: readonly number[];
  /** Of an item that goes: the page that it was on. */
  on?: string;
};
type DoneAdd = Extract<Done, { op: 'add' }>;

/** What came into a file and went out of it. */
export interface Structure {
  /** In its order; new pages come behind all others. */
  done: readonly Done[];
  /** Where items went in that are out again, as a place in what there is now. */
  places: Readonly<Record<ItemId, DoneAdd>>;
  /** What made a page that came and is gone again, and was done on it. */
  gone?: Readonly<Record<string, readonly Done[]>>;
  /** The pages that are left at last, in their order; null where these are all, as they come. */
  order?: readonly string[] | null;
}
export const NO_STRUCTURE: Structure = { done: [], places: {}, gone: {}, order: null };

/** What a file has before anything more is done to it. */
export interface BeforeDone {
  /** The pages of the file as it came. */
  first: readonly string[];
  /** The pages as they are now. */
  now: readonly string[];
  /** The page of an item that goes. */
  pageOf: (id: ItemId) => string | undefined;
}

/** How many blocks a new item stands behind, where it makes a block of its own. */
const blocksBefore = ({ item: { at } }: Add): number | null =>
  ((at.on === 'line' && at.letters === undefined) || (at.on === 'element' && !at.inside)) && at.beside === undefined
    ? (at.after ?? 0)
    : null;

/** The cell or text box that it stands in. */
const holderOf = ({ item: { at } }: Add): number | undefined => ('within' in at ? at.within : undefined);

const behind = <T extends Add>(operation: T, after: number): T => ({
  ...operation,
  item: { ...operation.item, at: { ...operation.item.at, after } as Position },
});

/** Did it go into a shape, which stands there again once it is out? */
const intoShape = (at: Position): boolean => at.on === 'page' && at.fills === true;

/** Is it said of a place where it is in a file? What has been read from one does not say it. */
export const saysWhere = (at: Position): boolean =>
  at.on === 'cells'
    ? at.cells !== undefined
    : at.on === 'line' || at.on === 'anchor' || at.on === 'element'
      ? at.after !== undefined || at.beside !== undefined
      : true;

/** The place that something had, for what it has become since: as large, and in its line or beside the text. */
function placeAgain(was: Position, now: Position): Position {
  const inText = (at: Position): at is Extract<Position, { on: 'line' | 'anchor' }> =>
    at.on === 'line' || at.on === 'anchor';
  if (inText(was) && inText(now)) {
    const { after, within, beside } = was;
    const place = {
      ...(after !== undefined && { after }),
      ...(within !== undefined && { within }),
      ...(beside !== undefined && { beside }),
    };
    if (now.on === 'anchor') return { ...now, ...place };
    const letters = was.on === 'line' ? was.letters : undefined;
    return { ...now, ...place, ...(letters !== undefined && { letters }) };
  }
  if (was.on === 'page') return was;
  const { width, height } = now.box;
  return { ...was, box: { ...was.box, width, height } };
}

const pageOfSlot = ({ slot }: Add): string | undefined => ('page' in slot.in ? slot.in.page : undefined);

/**
 * Structure with more done. What came and goes again was never there, and what went and comes again never went, so that a
 * file from which all is taken that was put in is the very same file.
 * @returns it, and whether all of it has to be done anew from the file, and not only what is new
 */
export function withStructure(
  structure: Structure,
  operations: readonly Structural[],
  file: BeforeDone = { first: [], now: [], pageOf: () => undefined },
): { structure: Structure; anew: boolean } {
  let { done, places, gone: lost } = { gone: {}, ...structure };
  let pages = [...file.now];
  let anew = false;
  /** Pages that come again with all that was on them, and the groups among that. */
  const again = new Set<string>();
  for (const operation of operations) {
    if (isOfPages(operation)) {
      const id = operation.op === 'page-add' ? operation.page.id : operation.id;
      const others = pages.filter((p) => p !== id);
      if (operation.op === 'page-remove') {
        pages = others;
        const left = withoutPages(done, lost, (page) => pages.includes(page));
        anew ||= left.done !== done;
        ({ done, lost } = left);
        continue;
      }
      pages = [...others.slice(0, operation.index), id, ...others.slice(operation.index)];
      if (operation.op === 'page-move') continue;
      if (lost[id]) ({ done, lost } = withPage(done, lost, id));
      else if (!file.first.includes(id) && !done.some((d) => makes(d, id))) {
        done = [...done, operation];
        continue;
      }
      again.add(id);
      anew = true;
      continue;
    }
    const id = operation.op === 'add' ? operation.item.id : operation.id;
    if (operation.op === 'add') {
      const holder = Object.values(operation.slot.in)[0] as string;
      if (again.has(holder)) {
        again.add(id);
        continue;
      }
    }
    const at = done.findIndex((d) =>
      operation.op === 'add' ? d.op === 'remove' && d.id === id : d.op === 'add' && d.item.id === id,
    );
    if (at >= 0) {
      const gone = done[at]!;
      const without = takenOut(done, at);
      if (gone.op === 'add') places = { ...places, [id]: without.gone as DoneAdd };
      done = without.done;
      anew = true;
      continue;
    }
    const was = places[id];
    const place = operation.op === 'add' && was && (intoShape(was.item.at) || !saysWhere(operation.item.at));
    const on = operation.op === 'remove' ? file.pageOf(id) : undefined;
    if (operation.op === 'add' && place)
      done = [
        ...done,
        { ...was, ...operation, item: { ...operation.item, at: placeAgain(was.item.at, operation.item.at) } },
      ];
    else done = [...done, { ...operation, ...(on !== undefined && { on }) }];
  }
  const all = [...file.first, ...done.flatMap((d) => (d.op === 'page-add' ? [d.page.id] : []))];
  const order = pages.length === all.length && pages.every((p, i) => p === all[i]) ? null : pages;
  return { structure: { done, places, gone: lost, order }, anew };
}

const makes = (d: Done, page: string): d is Extract<Done, { op: 'page-add' }> =>
  d.op === 'page-add' && d.page.id === page;

/** Is it about this page: makes it, or was done on it? @param put items that were put on it */
const isAbout = (d: Done, page: string, put: ReadonlySet<ItemId>): boolean =>
  d.op === 'remove' ? d.on === page || put.has(d.id) : d.op === 'add' ? pageOfSlot(d) === page : d.page.id === page;

type Parted = { done: readonly Done[]; lost: Readonly<Record<string, readonly Done[]>> };

/** Without pages that came and are gone, and that no other is made like; what made them is kept. */
function withoutPages(done: Parted['done'], lost: Parted['lost'], isThere: (page: string) => boolean): Parted {
  const needless = done.findLast(
    (d) =>
      d.op === 'page-add' &&
      !isThere(d.page.id) &&
      !done.some((o) => o.op === 'page-add' && o.like?.page === d.page.id),
  );
  if (needless?.op !== 'page-add') return { done, lost };
  const { id } = needless.page;
  const put = new Set(done.flatMap((d) => (d.op === 'add' && pageOfSlot(d) === id ? [d.item.id] : [])));
  const left = done.filter((d) => !isAbout(d, id, put));
  return withoutPages(left, { ...lost, [id]: done.filter((d) => isAbout(d, id, put)) }, isThere);
}

/** With a page that came before and comes again, as it was made; one that it is made like is made first. */
function withPage(done: Parted['done'], lost: Parted['lost'], id: string): Parted {
  const { [id]: own = [], ...others } = lost;
  const like = own.find((d) => makes(d, id))?.like?.page;
  const before = like !== undefined && others[like] ? withPage(done, others, like) : { done, lost: others };
  return { ...before, done: [...before.done, ...own] };
}

/** What was put beside something that is gone stands where that did. */
function alone(operation: Done, { item }: DoneAdd): Done {
  if (operation.op !== 'add') return operation;
  const { at } = operation.item;
  if (!('beside' in at) || at.beside !== item.id) return operation;
  const { beside, ...own } = at;
  void beside;
  return { ...operation, item: { ...operation.item, at: placeAgain(item.at, own) } };
}

/** Without one of them; blocks of text are counted as they are then. */
function takenOut(all: readonly Done[], at: number): { done: Done[]; gone: Done } {
  const gone = all[at]!;
  const done = gone.op === 'add' ? all.map((d, i) => (i > at ? alone(d, gone) : d)) : all;
  let before = gone.op === 'add' ? blocksBefore(gone) : null;
  if (gone.op !== 'add' || before === null) return { done: done.filter((_, i) => i !== at), gone };
  const later = done.slice(at + 1).map((operation) => {
    if (operation.op !== 'add' || before === null) return operation;
    const own = 'after' in operation.item.at ? operation.item.at.after : undefined;
    if (own === undefined || holderOf(operation) !== holderOf(gone)) return operation;
    if (own > before) return behind(operation, own - 1);
    if (blocksBefore(operation) !== null) before += 1;
    return operation;
  });
  return { done: [...done.slice(0, at), ...later], gone: behind(gone, before) };
}
