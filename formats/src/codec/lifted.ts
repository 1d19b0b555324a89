import {
  applyAll,
  changesFrom,
  equal,
  itemIdOf,
  slotOf,
  withChanges,
  type Changes,
  type Document,
  type FramedItem,
  type Operation,
} from '@gable/core';
import { readArchive } from '../zip/reader';
import type { AroundPicture } from './contract';
import { openByContent } from './registry';
import { openFile } from './source';

/**
 * A text or a workbook without what Gable put beside its pictures, and that as changes of it: it is edited and follows its picture like
 * what is put there now. Only where writing these gives the very same file.
 * @returns null where nothing was put there, or where the file was changed since
 */
export function lifted(bytes: Uint8Array): { bytes: Uint8Array; changes: Changes } | null {
  const own = openByContent(bytes).takeBeside?.();
  if (!own) return null;
  const file = openFile(own.bytes);
  const document = withAround(file.document, own.around);
  const changes = changesFrom(file.document, document, false);
  const again = file.write(withChanges(file.document, changes), new Map());
  return sameParts(again, bytes) ? { bytes: own.bytes, changes } : null;
}

function withAround(document: Document, around: readonly AroundPicture[]): Document {
  let now = document;
  for (const { n, before, behind } of around) {
    const id = itemIdOf({ n });
    const add = (item: FramedItem, by: number): void => {
      const { in: holder, index } = slotOf(now, id);
      const { tie, ...free } = item;
      void tie;
      now = applyAll(now, [{ op: 'add', item: free, slot: { in: holder, index: index + by } }]).document;
    };
    for (const item of before) add(item, 0);
    for (const [i, item] of behind.entries()) add(item, i + 1);
    // What they follow is there by now.
    const ties = [...before, ...behind].flatMap(({ id: own, tie }): Operation[] =>
      tie ? [{ op: 'set', id: own, path: 'tie', value: tie }] : [],
    );
    now = applyAll(now, ties).document;
  }
  return now;
}

/** Do two archives hold the same? By the sums of their parts (APPNOTE 4.4.7). */
function sameParts(a: Uint8Array, b: Uint8Array): boolean {
  const sums = (bytes: Uint8Array): string[] =>
    readArchive(bytes)
      .entries.map(({ name, crc, size }) => `${name} ${crc} ${size}`)
      .sort();
  return equal(sums(a), sums(b));
}
