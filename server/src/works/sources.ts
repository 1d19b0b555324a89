import { GableError, type Item, type NewEntry } from '@gable/core';
import type { Transaction } from 'sequelize';
import type { AppContext } from '../context';

/** Kept pictures that items show, and videos that play in them, by their digests. */
export const shownBy = (items: Iterable<Item>): string[] =>
  [...items].flatMap((i) => ('fill' in i ? digestsIn(i.fill) : []));

/** Kept pictures that entries name. */
export const sourcesIn = (entries: readonly NewEntry[]): string[] =>
  entries.flatMap((e) =>
    e.operations.flatMap((o) => {
      if (o.op === 'add') return shownBy([o.item]);
      return o.op === 'set' && o.path.split('.')[0] === 'fill' ? digestsIn(o.value) : [];
    }),
  );

/** Digests in a fill, in its video, or in the source of one of these. */
function digestsIn(value: unknown): string[] {
  if (typeof value !== 'object' || value === null) return [];
  const { from, sha256, source, video } = value as Partial<Record<string, unknown>>;
  if (from === 'kept' && typeof sha256 === 'string') return [sha256];
  return [source, video].flatMap(digestsIn);
}

/**
 * A work needs every kept picture that it shows, or showed: what is undone can be redone.
 * @throws GableError `missing-picture` for one that nobody has
 */
export async function keepSources(
  context: AppContext,
  id: string,
  digests: readonly string[],
  transaction: Transaction,
): Promise<void> {
  await context.blobs.keep([...digests], { kind: 'work', id }, transaction).catch((cause: unknown) => {
    if (!(cause instanceof GableError)) throw cause;
    throw new GableError(
      'missing-picture',
      'A frame shows a picture that is not kept here.',
      'Add the picture again, then choose it.',
      {},
      { cause },
    );
  });
}
