import { frameOfItem, isPictureItem, itemIdOf, itemOfFrame, readChanges, type Changes } from '@gable/core';
import type { MarginSchema } from '@gable/contract';
import type { z } from 'zod';
import type { AppContext } from '../context';
import type { Work } from '../db/models';
import { fileOf } from './find';
import { keepUpload, openUpload, spooled } from './open';
import { keptPictures } from './picture-work';

/** “Handbook.docx” with a picture in its header is “Handbook, with a header.docx”. */
const withMargin = (name: string, into: string): string =>
  name.replace(
    /(, with a (header|footer))?(\.\w+)?$/,
    (_all, _more, _into, kind?: string) => `, with a ${into}${kind ?? ''}`,
  );

/** Changes under the names their pictures have now: the new picture stands first in each of its parts. */
function renumbered(
  work: Work,
  now: readonly { n: number; where: { part: string } }[],
  begun: readonly string[],
): Changes {
  const { items } = readChanges(work.changes);
  const seen = new Map<string, number>();
  const next: Changes['items'] = {};
  for (const p of work.opened.pictures) {
    const { part } = p.where;
    const index = seen.get(part) ?? 0;
    seen.set(part, index + 1);
    const item = items[itemIdOf(p)];
    const at = now.filter((q) => q.where.part === part)[index + (begun.includes(part) ? 1 : 0)];
    if (!item || !isPictureItem(item) || !at) continue;
    const moved = itemOfFrame(itemIdOf(at), frameOfItem(item, at.n), p.size, item.at.on);
    next[moved.id] = { ...item, id: moved.id, fill: { ...item.fill, source: moved.fill.source } };
  }
  return { ...work.changes, items: next };
}

/**
 * A new work with a kept picture in its pages' margins.
 * @returns it, and the number of the picture there
 * @throws GableError `no-file`, `no-margin`, `not-found` for the picture
 */
export async function putInMargin(
  context: AppContext,
  work: Work,
  { sha256, width, alt, ...wish }: z.output<typeof MarginSchema>,
): Promise<{ work: Work; placed: number }> {
  const [kept] = await keptPictures([sha256]);
  const { type, width: across, height: down } = kept!;
  const { made, parts } = await context.tasks.run('margin', {
    file: await context.blobs.ref(fileOf(work)),
    wish: {
      ...wish,
      alt,
      width,
      height: (width * down) / across,
      picture: { bytes: await context.blobs.ref(sha256), type, size: { width: across, height: down } },
    },
  });
  try {
    const name = withMargin(work.name, wish.into);
    const opened = await openUpload(context, made, name);
    const changes = renumbered(work, opened.pictures, parts);
    const next = await keepUpload(context, spooled(context, made), name, opened, { changes });
    return { work: next, placed: opened.pictures.find((p) => p.where.part === parts[0])!.n };
  } finally {
    await context.spool.remove(made);
  }
}
