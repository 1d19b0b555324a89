import { apply, GableError, isPictureItem, itemIdOf, newPicture, type Done, type ItemId, type Slot } from '@gable/core';
import {
  CAPABILITIES,
  calledSheet,
  openFile,
  type Known,
  type PagePlan,
  type ReplacementImage,
  type Source,
} from '@gable/formats';
import { storable } from '@gable/render';
import type { Opened } from '../db/models';
import { openedOf } from './open';
import { task, type FileRef, type Made, type TaskContext } from './task';

interface Wish {
  file: FileRef;
  operations: readonly Done[];
  /** The lowest number that no picture of the work has had. */
  next: number;
  /** What the pages of the file are called. */
  pages: readonly string[];
  /** The pages that are left at last, in their order; null where these are all, as they come. */
  order: readonly string[] | null;
}

/**
 * Puts pictures into a file, plain, and takes them out, and makes pages, one after another: each place counts on what was done
 * before. Then its pages are brought into their order, without those that are gone.
 * @returns the file, what opening it finds, and the numbers of what came beside each of what was done
 * @throws GableError `cannot-write`, `missing-picture`, `no-such-page`
 */
export const arrange = task({
  lane: 'quick',
  seconds: 120,
  weigh: ({ file }) => file.size * 4,
  async run(
    { file, operations, next, pages, order }: Wish,
    context,
  ): Promise<{ made: Made; opened: Opened; copies: number[][] }> {
    let bytes = await context.read(file);
    let source = openFile(bytes, { known: file.known });
    let names = [...pages];
    const copies: number[][] = [];
    const reopened = (put: Put, numbers: readonly number[] = []): void => {
      bytes = put.bytes;
      // A copy that came beside a picture is one more.
      const fresh = put.order.filter((id) => id === null).map((_, i) => numbers[i] ?? next++);
      copies.push(fresh);
      let at = 0;
      const known = put.order.map((id): Known => (id === null ? { n: fresh[at++]! } : put.calls(id)));
      source = openFile(bytes, { known });
    };
    for (const operation of operations)
      if (operation.op === 'page-add') {
        reopened(withPage(source, operation, names), operation.copies);
        names.push(operation.page.id);
      } else reopened(await done(source, operation, names, context), operation.copies);
    if (order !== null && (order.length !== names.length || order.some((id, i) => id !== names[i]))) {
      reopened(
        planned(
          source,
          order.map((id): PagePlan => ({ page: 1 + names.indexOf(id), as: 'itself' })),
        ),
      );
      names = [...order];
    }
    const opened = openedOf(source);
    const sheets = opened.sheets?.map((s, i) => calledSheet(s, i + 1, names[i]!));
    return {
      made: await context.made(bytes),
      opened: { ...opened, ...(sheets && { sheets }), known: [...(source.known ?? [])] },
      copies,
    };
  },
});

/** What the pictures of a file are called, and with what data they were put in. */
const calledIn = (source: Source): Map<ItemId, Known> =>
  new Map(
    source.pictures.map(({ n, frame }) => [itemIdOf({ n }), { n, ...(frame.source && { source: frame.source }) }]),
  );

function planned(source: Source, plan: readonly PagePlan[]): Put {
  if (!source.withPages)
    throw new GableError(
      'cannot-write',
      `Pages of this kind of file (${source.format}) cannot come or go.`,
      'Undo it.',
    );
  const known = calledIn(source);
  return { ...source.withPages(plan), calls: (id) => known.get(id)! };
}

/** A new page behind all others. */
function withPage(source: Source, { page, like }: Done & { op: 'page-add' }, names: readonly string[]): Put {
  const at = names.indexOf(like?.page ?? '');
  if (!like || at < 0)
    throw new GableError('bad-operation', 'A new page is made like one that is there.', 'Undo it.', { id: page.id });
  const all = names.map((_, i): PagePlan => ({ page: i + 1, as: 'itself' }));
  return planned(source, [...all, { page: at + 1, as: like.copy ? 'copy' : 'blank' }]);
}

interface Put {
  bytes: Uint8Array;
  order: readonly (ItemId | null)[];
  calls: (id: ItemId) => Known;
}

async function done(
  source: Source,
  operation: Exclude<Done, { op: 'page-add' }>,
  names: readonly string[],
  context: TaskContext,
): Promise<Put> {
  const known = calledIn(source);
  if (operation.op === 'remove') {
    const { document } = apply(source.document, operation);
    return { ...source.arranged(document, new Map()), calls: (id) => known.get(id)! };
  }
  const { item, slot } = operation;
  if (!isPictureItem(item))
    throw new GableError('bad-operation', 'Only pictures can be put in.', 'Undo it.', { id: item.id });
  const { source: data } = item.fill;
  const image =
    data.from === 'kept'
      ? await storable({ bytes: await context.blob(data.sha256), size: data.size }, data, source.format)
      : imageIn(source, data.key);
  const plain = newPicture(
    item.id,
    item.at,
    { sha256: '', name: '', type: image.type, size: image.size, orientation: 1 },
    item.alt,
  );
  const { document } = apply(source.document, { op: 'add', item: plain, slot: slotIn(source, slot, names) });
  const n = numberOf(item.id);
  const { from, ...kept } = data.from === 'kept' ? data : { from: 'file' as const };
  known.set(item.id, { n, ...(from === 'kept' && { source: kept as Known['source'] & object }) });
  return { ...source.arranged(document, new Map([[item.id, image]])), calls: (id) => known.get(id)! };
}

/** The number in the name of a picture: `p18` is picture 18. @throws GableError `bad-operation` */
function numberOf(id: ItemId): number {
  const n = Number(/^p([1-9]\d{0,8})$/.exec(id)?.[1]);
  if (Number.isNaN(n))
    throw new GableError('bad-operation', 'A new picture is called p and a number.', 'Undo it.', { id });
  return n;
}

/** The data of one of the file's own pictures, for a copy of it. */
function imageIn(source: Source, key: string): ReplacementImage {
  const { n, media, size } = source.pictures.find((p) => itemIdOf(p) === key) ?? {};
  const type = media?.type;
  const held = [...CAPABILITIES[source.format].images].find((t) => t === type);
  if (n === undefined || size === undefined || held === undefined)
    throw new GableError(
      'missing-picture',
      'This picture cannot be copied.',
      'Copy it as a picture, then put that in.',
    );
  return { bytes: source.pictureBytes(n), type: held, size };
}

/** Texts have one story for what is new; where a new one lies is told in what is there then. */
function slotIn({ document }: Source, { in: named, index }: Slot, names: readonly string[]): Slot {
  // Pages are called otherwise in the file itself: by their places.
  const holder = 'page' in named ? { page: document.pages[names.indexOf(named.page)]?.id ?? named.page } : named;
  const missing = 'story' in holder && !document.stories.some((s) => s.id === holder.story);
  const at = missing ? { story: document.stories.find((s) => s.kind === 'body')!.id } : holder;
  const list = 'page' in at ? document.pages.find((p) => p.id === at.page)?.items : undefined;
  const inFront = index > (list?.length ?? Infinity);
  return { in: at, index: list && inFront ? list.length : index };
}
