import type { ItemId, Position } from './document';
import type { Operation } from './operations';

/** An item that comes or goes. */
export type Structural = Extract<Operation, { op: 'add' | 'remove' }>;

export const isStructural = (operation: Operation): operation is Structural =>
  operation.op === 'add' || operation.op === 'remove';

/** What came into a file and went out of it, in its order: each place counts on what was done before. */
export interface Structure {
  done: readonly Structural[];
  /** Where items went in that are out again, as a place in what there is now. */
  places: Readonly<Record<ItemId, Structural & { op: 'add' }>>;
}
export const NO_STRUCTURE: Structure = { done: [], places: {} };

/** How many blocks a new item stands behind, where it makes a block of its own. */
const blocksBefore = (operation: Structural): number | null =>
  operation.op === 'add' && (operation.item.at.on === 'line' || operation.item.at.on === 'element')
    ? (operation.item.at.after ?? 0)
    : null;

function behind<T extends Structural>(operation: T, after: number): T {
  return operation.op === 'add'
    ? { ...operation, item: { ...operation.item, at: { ...operation.item.at, after } as Position } }
    : operation;
}

/** Is it said of a place where it is in a file? What has been read from one does not say it. */
const saysWhere = (at: Position): boolean =>
  at.on === 'cells'
    ? at.cells !== undefined
    : at.on === 'line' || at.on === 'anchor' || at.on === 'element'
      ? at.after !== undefined
      : true;

/**
 * Structure with more done. What came and goes again was never there, and what went and comes again never went, so that a
 * file from which all is taken that was put in is the very same file.
 * @returns it, and whether all of it has to be done anew from the file, and not only what is new
 */
export function withStructure(
  structure: Structure,
  operations: readonly Structural[],
): { structure: Structure; anew: boolean } {
  let { done, places } = structure;
  let anew = false;
  for (const operation of operations) {
    const id = operation.op === 'add' ? operation.item.id : operation.id;
    const at = done.findIndex((d) =>
      operation.op === 'add' ? d.op === 'remove' && d.id === id : d.op === 'add' && d.item.id === id,
    );
    if (at >= 0) {
      const gone = done[at]!;
      const without = takenOut(done, at);
      if (gone.op === 'add') places = { ...places, [id]: without.gone as typeof gone };
      done = without.done;
      anew = true;
      continue;
    }
    const was = places[id];
    const place = operation.op === 'add' && was && !saysWhere(operation.item.at);
    done = [...done, place ? { ...operation, item: { ...operation.item, at: was.item.at } } : operation];
  }
  return { structure: { done, places }, anew };
}

/** Without one of them; blocks of text are counted as they are then. */
function takenOut(done: readonly Structural[], at: number): { done: Structural[]; gone: Structural } {
  const gone = done[at]!;
  let before = blocksBefore(gone);
  if (before === null) return { done: done.filter((_, i) => i !== at), gone };
  const later = done.slice(at + 1).map((operation) => {
    const own = operation.op === 'add' && 'after' in operation.item.at ? operation.item.at.after : undefined;
    if (own === undefined || before === null) return operation;
    if (own > before) return behind(operation, own - 1);
    if (blocksBefore(operation) !== null) before += 1;
    return operation;
  });
  return { done: [...done.slice(0, at), ...later], gone: behind(gone, before) };
}
