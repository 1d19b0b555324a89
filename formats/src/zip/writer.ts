import { deflateSync } from 'fflate';
import type { Archive } from './reader';
import { crc32 } from './crc32';

/**
 * A new package in which some entries have other data. All other entries are copied as byte ranges, in the same order;
 * with nothing to replace, the very same bytes come back.
 * @param replaced data by part name; every name must be in the archive
 * @param added data of new entries, which come last; no name may be in the archive
 * @param removed entries that the new package is without
 */
export function spliceArchive(
  archive: Archive,
  replaced: ReadonlyMap<string, Uint8Array>,
  added: ReadonlyMap<string, Uint8Array> = new Map(),
  removed: ReadonlySet<string> = new Set(),
): Uint8Array {
  if (replaced.size === 0 && added.size === 0 && removed.size === 0) return archive.bytes;
  const entries = archive.entries.filter((e) => !removed.has(e.name));
  const pieces: Uint8Array[] = [];
  const offsets = new Map<string, number>();
  const records = new Map<string, Uint8Array>();
  const inOrder = [...archive.entries].sort((a, b) => a.offset - b.offset);
  let at = 0;
  const put = (piece: Uint8Array): void => {
    pieces.push(piece);
    at += piece.length;
  };
  // Whatever stands before the first entry (a self-extractor's stub, say) stays.
  put(archive.bytes.subarray(0, inOrder[0]?.offset ?? 0));
  for (const entry of inOrder) {
    if (removed.has(entry.name)) continue;
    offsets.set(entry.name, at);
    const data = replaced.get(entry.name);
    if (!data) {
      put(archive.bytes.subarray(entry.offset, entry.end));
      continue;
    }
    const packed = deflateSync(data, { level: 6 });
    const crc = crc32(data);
    // The old header, but with sizes known beforehand: no data descriptor (flag bit 3) and no zip64 field.
    const nameLength = archive.bytes[entry.offset + 26]! | (archive.bytes[entry.offset + 27]! << 8);
    const header = archive.bytes.slice(entry.offset, entry.offset + 30 + nameLength);
    const h = new DataView(header.buffer);
    h.setUint16(6, entry.flags & ~8, true);
    h.setUint16(8, 8, true);
    h.setUint32(14, crc, true);
    h.setUint32(18, packed.length, true);
    h.setUint32(22, data.length, true);
    h.setUint16(28, 0, true);
    put(header);
    put(packed);
    records.set(entry.name, changedRecord(entry.record, entry.flags & ~8, crc, packed.length, data.length));
  }
  const fresh: Uint8Array[] = [];
  for (const [name, data] of added) {
    const { header, record } = freshEntry(name, data, at);
    put(header);
    put(data);
    fresh.push(record);
  }
  const directory = at;
  for (const entry of entries) {
    const record = (records.get(entry.name) ?? entry.record).slice();
    new DataView(record.buffer).setUint32(42, offsets.get(entry.name)!, true);
    put(dropZip64(record));
  }
  for (const record of fresh) put(record);
  const size = at - directory;
  put(endOf(archive, { count: entries.length + fresh.length, size, directory }));
  const out = new Uint8Array(at);
  let to = 0;
  for (const piece of pieces) {
    out.set(piece, to);
    to += piece.length;
  }
  return out;
}

/** The record that ends a package (APPNOTE §4.3.16). @param at how many entries its directory has, its size, and where it begins */
export function endOf(
  { comment }: Pick<Archive, 'comment'>,
  { count, size, directory }: { count: number; size: number; directory: number },
): Uint8Array {
  const end = new Uint8Array(22 + comment.length);
  const e = new DataView(end.buffer);
  e.setUint32(0, 0x06054b50, true);
  e.setUint16(8, count, true);
  e.setUint16(10, count, true);
  e.setUint32(12, size, true);
  e.setUint32(16, directory, true);
  e.setUint16(20, comment.length, true);
  end.set(comment, 22);
  return end;
}

/** Header and directory record of an entry that is stored as it is: pictures are packed already (APPNOTE 4.3.7, 4.3.12). */
function freshEntry(name: string, data: Uint8Array, offset: number): { header: Uint8Array; record: Uint8Array } {
  const text = new TextEncoder().encode(name);
  const header = new Uint8Array(30 + text.length);
  const record = new Uint8Array(46 + text.length);
  const h = new DataView(header.buffer);
  const r = new DataView(record.buffer);
  h.setUint32(0, 0x04034b50, true);
  r.setUint32(0, 0x02014b50, true);
  r.setUint16(4, 20, true);
  const crc = crc32(data);
  // From the version needed to the length of the name, header and record say the same.
  for (const [v, at] of [
    [h, 4],
    [r, 6],
  ] as const) {
    v.setUint16(at, 20, true);
    v.setUint16(at + 2, 0x0800, true);
    // 1 January 1980, the first day there is: the same work gives the same file.
    v.setUint16(at + 8, 0x21, true);
    v.setUint32(at + 10, crc, true);
    v.setUint32(at + 14, data.length, true);
    v.setUint32(at + 18, data.length, true);
    v.setUint16(at + 22, text.length, true);
  }
  header.set(text, 30);
  r.setUint32(42, offset, true);
  record.set(text, 46);
  return { header, record };
}

function changedRecord(record: Uint8Array, flags: number, crc: number, packed: number, size: number): Uint8Array {
  const out = record.slice();
  const v = new DataView(out.buffer);
  v.setUint16(8, flags, true);
  v.setUint16(10, 8, true);
  v.setUint32(16, crc, true);
  v.setUint32(20, packed, true);
  v.setUint32(24, size, true);
  return out;
}

/**
 * Takes the zip64 field out of a directory record. Files up to 300 MB never need it, and after a change it would be
 * read in the place of the short fields that were just written.
 */
function dropZip64(record: Uint8Array): Uint8Array {
  const v = new DataView(record.buffer, record.byteOffset, record.byteLength);
  const nameLength = v.getUint16(28, true);
  const extraLength = v.getUint16(30, true);
  let at = 46 + nameLength;
  const end = at + extraLength;
  while (at + 4 <= end) {
    const size = 4 + v.getUint16(at + 2, true);
    if (v.getUint16(at, true) === 1) {
      const field = new DataView(record.buffer, record.byteOffset + at + 4, size - 4);
      let p = 0;
      for (const short of [24, 20])
        if (v.getUint32(short, true) === 0xffffffff) {
          v.setUint32(short, Number(field.getBigUint64(p, true)), true);
          p += 8;
        }
      const out = new Uint8Array(record.length - size);
      out.set(record.subarray(0, at));
      out.set(record.subarray(at + size), at);
      new DataView(out.buffer).setUint16(30, extraLength - size, true);
      return out;
    }
    at += size;
  }
  return record;
}
