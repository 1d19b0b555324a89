import {
  apply,
  GableError,
  isPictureItem,
  itemIdOf,
  newPicture,
  type ItemId,
  type Slot,
  type Structural,
} from '@gable/core';
import { CAPABILITIES, openFile, type Known, type ReplacementImage, type Source } from '@gable/formats';
import { storable } from '@gable/render';
import type { Opened } from '../db/models';
import { openedOf } from './open';
import { task, type FileRef, type Made, type TaskContext } from './task';

/**
 * Puts pictures into a file, plain, and takes them out, one after another: each place counts on what was done before.
 * @param next the lowest number that no picture of the work has had
 * @returns the file, and what opening it finds
 * @throws GableError `cannot-write`, `missing-picture`
 */
export const arrange = task({
  lane: 'quick',
  seconds: 120,
  weigh: ({ file }: { file: FileRef; operations: readonly Structural[]; next: number }) => file.size * 4,
  async run({ file, operations, next }, context): Promise<{ made: Made; opened: Opened }> {
    let bytes = await context.read(file);
    let source = openFile(bytes, { known: file.known });
    for (const operation of operations) {
      const put = await done(source, operation, context);
      bytes = put.bytes;
      // A copy that came beside a picture is one more.
      const known = put.order.map((id): Known => (id === null ? { n: next++ } : put.calls(id)));
      source = openFile(bytes, { known });
    }
    return { made: await context.made(bytes), opened: { ...openedOf(source), known: [...(source.known ?? [])] } };
  },
});

interface Put {
  bytes: Uint8Array;
  order: readonly (ItemId | null)[];
  calls: (id: ItemId) => Known;
}

async function done(source: Source, operation: Structural, context: TaskContext): Promise<Put> {
  const known = new Map(
    source.pictures.map(({ n, frame }) => [itemIdOf({ n }), { n, ...(frame.source && { source: frame.source }) }]),
  );
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
      ? await storable({ bytes: await context.blob(data.sha256), size: data.size }, data.type)
      : imageIn(source, data.key);
  const plain = newPicture(
    item.id,
    item.at,
    { sha256: '', name: '', type: image.type, size: image.size, orientation: 1 },
    item.alt,
  );
  const { document } = apply(source.document, { op: 'add', item: plain, slot: slotIn(source, slot) });
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
  if (n === undefined || size === undefined || (type !== 'png' && type !== 'jpeg' && type !== 'gif'))
    throw new GableError(
      'missing-picture',
      'This picture cannot be copied.',
      'Copy it as a picture, then put that in.',
    );
  return { bytes: source.pictureBytes(n), type, size };
}

/** Texts have one story for what is new; where a new one lies is told in what is there then. */
function slotIn({ format, document }: Source, { in: holder, index }: Slot): Slot {
  const missing = 'story' in holder && !document.stories.some((s) => s.id === holder.story);
  const at = missing ? { story: document.stories.find((s) => s.kind === 'body')!.id } : holder;
  const list = 'page' in at ? document.pages.find((p) => p.id === at.page)?.items : undefined;
  const inFront = CAPABILITIES[format].insert === 'front' || index > (list?.length ?? Infinity);
  return { in: at, index: list && inFront ? list.length : index };
}
