import {
  diff,
  documentOfPictures,
  frameOfItem,
  GableError,
  isPictureItem,
  itemsOf,
  slotOf,
  type Document,
  type Frame,
  type Item,
  type ItemId,
  type Operation,
  type PictureItem,
} from '@gable/core';
import { CAN_INSERT, type Format } from './capabilities';
import type { NewPlace, OpenedFile, ReplacementImage } from './contract';
import { openFile } from './registry';

/** A file as a document. Its pictures are items `p1`, `p2`, … in the order of the file, and keep these names. */
export interface Source {
  format: Format;
  document: Document;
  /**
   * The file as another document of the same pages: frames that changed, pictures that went or came. What did not change is
   * not written; with no difference the very same bytes come back.
   * @param images data of pictures that the file does not hold yet, by item
   * @throws GableError `cannot-write` for a change that this format cannot take
   */
  write(next: Document, images?: ReadonlyMap<ItemId, ReplacementImage>): Uint8Array;
}

/** Opens any file that Gable knows as a document. @throws GableError as `openFile` does */
export function openSource(bytes: Uint8Array): Source {
  const file = openFile(bytes);
  const document = documentOfPictures(file.pictures, file.sheets, file.layers);
  return {
    format: file.format,
    document,
    write: (next, images = new Map()) => write(bytes, file, { from: document, to: next, images }),
  };
}

/** Changes between two documents, with the data that new pictures need. */
interface Change {
  from: Document;
  to: Document;
  images: ReadonlyMap<ItemId, ReplacementImage>;
}

const refused = (format: Format, what: string): GableError =>
  new GableError('cannot-write', `${what} cannot be written into this kind of file (${format}).`, 'Take it back.');

function write(bytes: Uint8Array, opened: OpenedFile, { from, to, images }: Change): Uint8Array {
  const operations = diff(from, to);
  if (operations.length === 0) return bytes;
  const { format } = opened;
  refuseUnknown(format, from, operations);
  const numbers = new Map(opened.pictures.map(({ n }) => [`p${n}`, n]));
  let file = opened;
  for (const operation of operations)
    if (operation.op === 'remove') {
      const n = numbers.get(operation.id);
      if (n === undefined || !file.remove) throw refused(format, 'A removed picture');
      file = openFile(file.remove(n));
      numbers.delete(operation.id);
      for (const [id, other] of numbers) if (other > n) numbers.set(id, other - 1);
    }
  // From the back to the front, so that what lies in front of a new picture is there.
  for (const { item, slot } of addedIn(operations, to)) {
    const image = images.get(item.id);
    if (!image || !file.insert) throw refused(format, 'A new picture');
    const list = itemsOf(to, slot.in);
    const next = list.slice(slot.index + 1).find((id) => numbers.has(id));
    const place = placeOf(to, item, slot.in, next === undefined ? null : numbers.get(next)!);
    const { bytes: more, n } = file.insert({ place, image, alt: item.alt });
    file = openFile(more);
    for (const [id, other] of numbers) if (other >= n) numbers.set(id, other + 1);
    numbers.set(item.id, n);
  }
  const frames: Frame[] = [];
  const replaced = new Map<number, ReplacementImage>();
  for (const [id, n] of numbers) {
    const item = to.items[id] as PictureItem;
    const frame = frameOfItem(item, n);
    const image = images.get(id);
    // A new picture's data are in the file by now.
    if (image && from.items[id]) replaced.set(n, image);
    else if (!from.items[id]) delete frame.source;
    frames.push(frame);
  }
  return file.save(frames, replaced);
}

/** New pictures, those of a holder from the front to the back. */
function addedIn(
  operations: readonly Operation[],
  to: Document,
): { item: PictureItem; slot: ReturnType<typeof slotOf> }[] {
  return operations
    .flatMap((o) => (o.op === 'add' ? to.items[o.item.id]! : []))
    .map((item) => ({ item: item as PictureItem, slot: slotOf(to, item.id) }))
    .sort((a, b) => b.slot.index - a.slot.index);
}

function placeOf(to: Document, item: Item, holder: ReturnType<typeof slotOf>['in'], behind: number | null): NewPlace {
  const { box } = item.at;
  if ('page' in holder) {
    const page = to.pages.findIndex((p) => p.id === holder.page) + 1;
    return { on: 'page', page, box, behind };
  }
  if (item.at.on !== 'line' && item.at.on !== 'anchor') throw refused('docx', 'A picture without a place in the text');
  return { on: 'text', after: item.at.after ?? 0, size: { width: box.width, height: box.height } };
}

/** Says what cannot be written before anything is. */
function refuseUnknown(format: Format, from: Document, operations: readonly Operation[]): void {
  for (const operation of operations)
    if (operation.op === 'add') {
      if (!isPictureItem(operation.item)) throw refused(format, 'A new item that is no picture');
      if (!CAN_INSERT.has(format)) throw refused(format, 'A new picture');
    } else if (operation.op !== 'remove' && operation.op !== 'set') throw refused(format, 'Another order');
    else if (from.items[operation.id] && !isPictureItem(from.items[operation.id]!))
      throw refused(format, 'A change of something that is no picture');
}
