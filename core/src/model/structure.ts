import type { ItemId, Position } from './document';
import type { Operation } from './operations';

/** What changes the structure of a file: an item or a page that comes, goes, or moves among the others. */
export type Structural = Extract<Operation, { op: 'add' | 'remove' | 'page-add' | 'page-remove' | 'page-move' }>;

export const isStructural = (operation: Operation): operation is Structural =>
  operation.op === 'add' || operation.op === 'remove' || isOfPages(operation);

const isOfPages = (operation: Operation): operation is Structural & { op: `page-${string}` } =>
  operation.op === 'page-add' || operation.op === 'page-remove' || operation.op === 'page-move';

type Add = Extract<Operation, { op: 'add' }>;
type PageAdd = Extract<Operation, { op: 'page-add' }>;
/** What is done to a file, one after another: each place counts on what was done before. */
export type Done = Add | Extract<Operation, { op: 'remove' }> | PageAdd;

/** What came into a file and went out of it. */
export interface Structure {
  /** In its order; new pages come behind all others. */
  done: readonly Done[];
  /** Where items went in that are out again, as a place in what there is now. */
  places: Readonly<Record<ItemId, Add>>;
  /** The pages that are left at last, in their order; null where these are all, as they come. */
  order?: readonly string[] | null;
}
export const NO_STRUCTURE: Structure = { done: [], places: {}, order: null };

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
  (at.on === 'line' && at.letters === undefined) || at.on === 'element' ? (at.after ?? 0) : null;

/** The cell or text box that it stands in. */
const holderOf = ({ item: { at } }: Add): number | undefined => ('within' in at ? at.within : undefined);

const behind = <T extends Add>(operation: T, after: number): T => ({
  ...operation,
  item: { ...operation.item, at: { ...operation.item.at, after } as Position },
});

/** Did it go into a shape, which stands there again once it is out? */
const intoShape = (at: Position): boolean => at.on === 'page' && at.fills === true;

/** Is it said of a place where it is in a file? What has been read from one does not say it. */
const saysWhere = (at: Position): boolean =>
  at.on === 'cells'
    ? at.cells !== undefined
    : at.on === 'line' || at.on === 'anchor' || at.on === 'element'
      ? at.after !== undefined
      : true;

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
  let { done, places } = structure;
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
        const without = withoutPage(done, id, file.pageOf);
        anew ||= without !== done;
        done = without;
        continue;
      }
      pages = [...others.slice(0, operation.index), id, ...others.slice(operation.index)];
      if (operation.op === 'page-move') continue;
      if (file.first.includes(id) || done.some((d) => d.op === 'page-add' && d.page.id === id)) {
        again.add(id);
        anew = true;
      } else done = [...done, operation];
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
      if (gone.op === 'add') places = { ...places, [id]: without.gone as Add };
      done = without.done;
      anew = true;
      continue;
    }
    const was = places[id];
    const place = operation.op === 'add' && was && (intoShape(was.item.at) || !saysWhere(operation.item.at));
    done = [...done, place ? { ...operation, item: { ...operation.item, at: was.item.at } } : operation];
  }
  const all = [...file.first, ...done.flatMap((d) => (d.op === 'page-add' ? [d.page.id] : []))];
  const order = pages.length === all.length && pages.every((p, i) => p === all[i]) ? null : pages;
  return { structure: { done, places, order }, anew };
}

/** Without a page that came and all that was done on it; as it is where others are copies of that page, or it was there before. */
function withoutPage(done: readonly Done[], id: string, pageOf: BeforeDone['pageOf']): readonly Done[] {
  const came = done.some((d) => d.op === 'page-add' && d.page.id === id);
  if (!came || done.some((d) => d.op === 'page-add' && d.like?.page === id)) return done;
  const put = new Set(done.flatMap((d) => (d.op === 'add' && pageOfSlot(d) === id ? [d.item.id] : [])));
  return done.filter((d) =>
    d.op === 'page-add'
      ? d.page.id !== id
      : d.op === 'add'
        ? pageOfSlot(d) !== id
        : !put.has(d.id) && pageOf(d.id) !== id,
  );
}

/** Without one of them; blocks of text are counted as they are then. */
function takenOut(done: readonly Done[], at: number): { done: Done[]; gone: Done } {
  const gone = done[at]!;
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
