import { readChanges } from '@gable/core';
import { randomUUID } from 'node:crypto';
import type { AppContext } from '../context';
import { Work } from '../db/models';
import { notFound } from '../http/problems';
import { isFolder } from './folders';
import { keepSources, shownBy } from './sources';

/** @throws GableError `not-found` */
export async function renameWork(id: string, name: string): Promise<Work> {
  const work = await Work.findByPk(id);
  if (!work) throw notFound('work');
  return work.update({ name }, { silent: true });
}

/** “Handbook.docx” is “Handbook copy.docx”, and that “Handbook copy 2.docx”. */
export function copyName(name: string): string {
  const [, stem = name, count, kind = ''] = /^(.*?)(?: copy(?: (\d+))?)?(\.\w+)?$/s.exec(name) ?? [];
  const next = name === `${stem}${kind}` ? '' : ` ${Number(count ?? 1) + 1}`;
  return `${stem} copy${next}${kind}`;
}

/**
 * The same file with the same changes as a work of its own. Its history begins anew; the picture data are shared.
 * @throws GableError `not-found`, of a folder too
 */
export async function duplicateWork(context: AppContext, id: string): Promise<Work> {
  const work = await Work.findByPk(id);
  if (!work || isFolder(work)) throw notFound('work');
  return context.sequelize.transaction(async (transaction) => {
    const copy = randomUUID();
    const { sha256, opened, origin, changes, marks, begun } = work;
    const files = [sha256, origin?.sha256].filter((f) => typeof f === 'string');
    await context.blobs.keep(files, { kind: 'work', id: copy }, transaction);
    await keepSources(context, copy, shownBy(Object.values(readChanges(changes).items ?? {})), transaction);
    return Work.create(
      { id: copy, name: copyName(work.name), sha256, opened, origin, changes, marks, begun },
      { transaction },
    );
  });
}
