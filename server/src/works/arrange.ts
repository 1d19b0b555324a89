import { NO_STRUCTURE, withStructure, type Structural } from '@gable/core';
import type { Transaction } from 'sequelize';
import type { AppContext } from '../context';
import type { Opened, Origin, Work } from '../db/models';
import { fileOf } from './find';
import { spooled } from './open';

/** The file of a work with what came and went, and what it finds when it is opened. */
export type ArrangedFile = Pick<Work, 'sha256' | 'opened' | 'origin'>;

/** The lowest number that no picture of a work has had. */
export function nextNumber({ opened, origin }: { opened: Opened; origin: Origin | null }): number {
  const ids = origin
    ? [
        ...origin.structure.done.flatMap((o) => (o.op === 'add' ? o.item.id : [])),
        ...Object.keys(origin.structure.places),
      ]
    : [];
  const numbers = ids.map((id) => Number(id.slice(1))).filter(Number.isInteger);
  return (
    1 +
    Math.max(0, ...[opened, ...(origin ? [origin.opened] : [])].flatMap((o) => o.pictures.map((p) => p.n)), ...numbers)
  );
}

/**
 * Puts pictures into the file of a work and takes them out. The file as it came is kept: once all is out again that was put
 * in, it is that very file.
 * @param work locked
 * @throws GableError `no-file`, `cannot-write`, `missing-picture`
 */
export async function arrangedFile(
  context: AppContext,
  work: Work,
  operations: readonly Structural[],
  transaction: Transaction,
): Promise<ArrangedFile> {
  const { known, ...opened } = work.opened;
  const origin = work.origin ?? { sha256: fileOf(work), opened, structure: NO_STRUCTURE };
  const { structure, anew } = withStructure(origin.structure, operations);
  const base = anew || !work.origin ? { sha256: origin.sha256 } : { sha256: fileOf(work), known };
  const todo = anew ? structure.done : structure.done.slice(origin.structure.done.length);
  if (todo.length === 0) return { sha256: origin.sha256, opened: origin.opened, origin: { ...origin, structure } };
  const file = { ...(await context.blobs.ref(base.sha256)), known: base.known };
  const { made, opened: now } = await context.tasks.run('arrange', { file, operations: todo, next: nextNumber(work) });
  try {
    const sha256 = await context.blobs.put(spooled(context, made), { kind: 'work', id: work.id }, transaction);
    return { sha256, opened: now, origin: { ...origin, structure } };
  } finally {
    await context.spool.remove(made);
  }
}
