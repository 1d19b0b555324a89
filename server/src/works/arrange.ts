import {
  documentOfPictures,
  NO_STRUCTURE,
  withChildren,
  withStructure,
  type Structural,
  type Structure,
} from '@gable/core';
import type { Transaction } from 'sequelize';
import type { AppContext } from '../context';
import type { Opened, Origin, Work } from '../db/models';
import { fileOf } from './find';
import { spooled } from './open';

/** The file of a work with what came and went, and what it finds when it is opened. */
export type ArrangedFile = Pick<Work, 'sha256' | 'opened' | 'origin'>;

/** What the pages of a file are called, in their order. */
const pagesOf = ({ sheets = [] }: Opened): string[] => sheets.map((s, i) => s.id ?? `page${i + 1}`);

/** The pages that a file has at last, in their order. */
const orderOf = ({ order, done }: Structure, { opened }: Origin): readonly string[] =>
  order ?? [...pagesOf(opened), ...done.flatMap((d) => (d.op === 'page-add' ? [d.page.id] : []))];

/** The lowest number that no picture of a work has had. */
export function nextNumber({ opened, origin }: { opened: Opened; origin: Origin | null }): number {
  const { done = [], places = {}, gone = {} } = origin?.structure ?? {};
  const all = [...done, ...Object.values(places), ...Object.values(gone).flat()];
  const ids = all.flatMap((d) => (d.op === 'add' ? [Number(d.item.id.slice(1))] : []));
  const numbers = [...ids, ...all.flatMap((d) => d.copies ?? [])].filter(Number.isInteger);
  return (
    1 +
    Math.max(0, ...[opened, ...(origin ? [origin.opened] : [])].flatMap((o) => o.pictures.map((p) => p.n)), ...numbers)
  );
}

/**
 * Puts pictures into the file of a work and takes them out; its pages come, go and move. The file as it came is kept: once all
 * is out again that was put in, it is that very file.
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
  const now = pagesOf(work.opened);
  const { structure, anew } = withStructure(origin.structure, operations, {
    ...{ first: pagesOf(origin.opened), now },
    pageOf(id) {
      const document = documentOfPictures(work.opened.pictures, work.opened);
      return document.pages.find((p) => p.items.some((item) => withChildren(document, item).includes(id)))?.id;
    },
  });
  const fromFirst = anew || !work.origin;
  const base = fromFirst ? { sha256: origin.sha256 } : { sha256: fileOf(work), known };
  const todo = anew ? structure.done : structure.done.slice(origin.structure.done.length);
  const pages = fromFirst ? pagesOf(origin.opened) : now;
  const order = structure.order ?? null;
  const turned = order !== null || (origin.structure.order ?? null) !== null;
  if (structure.done.length === 0 && order === null)
    return { sha256: origin.sha256, opened: origin.opened, origin: { ...origin, structure } };
  const file = { ...(await context.blobs.ref(base.sha256)), known: base.known };
  const wish = {
    file,
    operations: todo,
    next: nextNumber(work),
    pages,
    order: turned ? orderOf(structure, origin) : null,
  };
  const { made, opened: arranged, copies } = await context.tasks.run('arrange', wish);
  // What came with it keeps its numbers when it is done again.
  const before = structure.done.slice(0, structure.done.length - todo.length);
  const done = [...before, ...todo.map((d, i) => (copies[i]!.length > 0 ? { ...d, copies: copies[i]! } : d))];
  try {
    const sha256 = await context.blobs.put(spooled(context, made), { kind: 'work', id: work.id }, transaction);
    return { sha256, opened: arranged, origin: { ...origin, structure: { ...structure, done } } };
  } finally {
    await context.spool.remove(made);
  }
}
