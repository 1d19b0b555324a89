import { z } from 'zod';
import { wellFormed } from '../cut';
import { MAX_ITEMS } from './document';
import { OperationSchema, type Operation } from './operations';

const Name = z.string().min(1).max(200).overwrite(wellFormed);
const Key = z.string().regex(/^[\w.-]{1,100}$/);

/**
 * One thing that was done, as it is logged: entries are only ever added. One that takes a step back, or does it again, names
 * the step. Entries of one gesture are one step.
 */
export const EntrySchema = z.strictObject({
  id: Key,
  name: Name,
  operations: z
    .array(OperationSchema)
    .min(1)
    .max(10 * MAX_ITEMS),
  gesture: Key.optional(),
  undoes: Key.optional(),
  redoes: Key.optional(),
});
/** An entry before it is applied. */
export interface NewEntry {
  id: string;
  name: string;
  operations: readonly Operation[];
  gesture?: string;
  undoes?: string;
  redoes?: string;
}
/** An entry that has been applied, with what takes it back. */
export interface Entry extends NewEntry {
  inverse: readonly Operation[];
}

/** What one undo takes back. */
export interface UndoStep {
  /** The gesture, or the id of the only entry. */
  key: string;
  name: string;
  operations: readonly Operation[];
  inverse: readonly Operation[];
}

/** Steps that can be taken back, the latest last, and steps that can be done again, the next first. */
export interface History {
  past: readonly UndoStep[];
  future: readonly UndoStep[];
}
export const NO_HISTORY: History = { past: [], future: [] };

/** The history with one entry more. */
export function logged({ past, future }: History, entry: Entry): History {
  const { id, name, operations, inverse, gesture, undoes, redoes } = entry;
  if (undoes !== undefined) {
    const step: UndoStep = { key: undoes, name, operations: inverse, inverse: operations };
    const at = past.findLastIndex((s) => s.key === undoes);
    return { past: past.filter((_, i) => i !== at), future: [step, ...future] };
  }
  const key = redoes ?? gesture ?? id;
  const last = past.at(-1);
  const rest = future.filter((s) => s.key !== redoes);
  return last?.key === key
    ? { past: [...past.slice(0, -1), joined(last, { key, name, operations, inverse })], future: redoes ? rest : [] }
    : { past: [...past, { key, name, operations, inverse }], future: redoes ? rest : [] };
}

const joined = (a: UndoStep, b: UndoStep): UndoStep => ({
  ...b,
  operations: [...a.operations, ...b.operations],
  inverse: [...b.inverse, ...a.inverse],
});

/** The history that a log comes to. */
export const historyOf = (log: readonly Entry[]): History => log.reduce(logged, NO_HISTORY);

/** What takes a step back, as an entry. */
export const undoing = (step: UndoStep, id: string): Entry => ({
  id,
  name: step.name,
  operations: step.inverse,
  inverse: step.operations,
  undoes: step.key,
});

/** What does a step again, as an entry. */
export const redoing = (step: UndoStep, id: string): Entry => ({
  id,
  name: step.name,
  operations: step.operations,
  inverse: step.inverse,
  redoes: step.key,
});
