import { GableError } from '@gable/core';
import { Inflate, inflateSync } from 'fflate';
import { LIMITS, refuseTooLarge } from '../codec/limits';
import { crc32 } from './crc32';

/** One entry of the central directory (APPNOTE 6.3.10 §4.3.12). Offsets count from the start of the file. */
export interface Entry {
  name: string;
  flags: number;
  method: number;
  crc: number;
  compressedSize: number;
  size: number;
  /** Start of the local header. */
  offset: number;
  /** Start of the compressed data. */
  dataOffset: number;
  /** End of everything that belongs to the entry: start of the next entry or of the directory. */
  end: number;
  /** The raw directory record. */
  record: Uint8Array;
}

export interface Archive {
  bytes: Uint8Array;
  entries: readonly Entry[];
  /** The archive's comment, kept on writing. */
  comment: Uint8Array;
}

const LOCAL = 0x04034b50;
const CENTRAL = 0x02014b50;
const END = 0x06054b50;
const END64 = 0x06064b50;
const LOCATOR64 = 0x07064b50;

const notZip = (): GableError =>
  new GableError(
    'not-a-zip',
    'This is not an office document, drawing or web page.',
    'Choose a file of a kind that Gable opens.',
  );
const damaged = (what: string): GableError =>
  new GableError(
    'damaged-zip',
    `The file is damaged: ${what}.`,
    'Open it in the program it was made with and save it again, or use an earlier copy.',
  );

/**
 * Reads the directory of a zip package; no entry is inflated.
 * @throws GableError `empty-file`, `too-large`, `not-a-zip`, `truncated`, `damaged-zip`, `bad-part-name`, `duplicate-part`,
 * `overlapping-parts`, `too-many-parts`, `inflates-too-much`
 */
export function readArchive(source: Uint8Array): Archive {
  // A plain view: subclasses (Node's Buffer) mean something else by `slice`.
  const bytes = new Uint8Array(source.buffer, source.byteOffset, source.byteLength);
  if (bytes.length === 0)
    throw new GableError(
      'empty-file',
      'The file is empty.',
      'Choose the file again; perhaps it was still being copied.',
    );
  refuseTooLarge(bytes);
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  const starts = bytes.length >= 4 && view.getUint32(0, true) === LOCAL;
  const end = findEnd(view);
  if (end < 0) {
    if (!starts) throw notZip();
    throw new GableError(
      'truncated',
      'The file is cut off: the end of the package is missing.',
      'Copy or download it again; this copy is not complete.',
    );
  }
  let count = view.getUint16(end + 10, true);
  let directory = view.getUint32(end + 16, true);
  if ((count === 0xffff || directory === 0xffffffff) && end >= 20 && view.getUint32(end - 20, true) === LOCATOR64) {
    const at = Number(view.getBigUint64(end - 12, true));
    if (at + 56 > bytes.length || view.getUint32(at, true) !== END64) throw damaged('its directory cannot be found');
    count = Number(view.getBigUint64(at + 32, true));
    directory = Number(view.getBigUint64(at + 48, true));
  }
  if (count > LIMITS.parts)
    throw new GableError(
      'too-many-parts',
      `The package has ${count} parts; Gable takes ${LIMITS.parts}.`,
      'Split the document.',
      { parts: count },
    );
  const comment = bytes.subarray(end + 22, end + 22 + view.getUint16(end + 20, true));
  const entries = readDirectory(view, bytes, directory, count, end);
  checkInflation(entries, bytes.length);
  return { bytes, entries, comment };
}

/** The end record: the last one whose comment reaches exactly to the end of the file. */
function findEnd(view: DataView): number {
  for (let i = view.byteLength - 22; i >= Math.max(0, view.byteLength - 22 - 0xffff); i--)
    if (view.getUint32(i, true) === END && i + 22 + view.getUint16(i + 20, true) === view.byteLength) return i;
  return -1;
}

function readDirectory(view: DataView, bytes: Uint8Array, directory: number, count: number, end: number): Entry[] {
  const entries: Entry[] = [];
  const names = new Set<string>();
  let at = directory;
  for (let i = 0; i < count; i++) {
    if (at + 46 > end || view.getUint32(at, true) !== CENTRAL) throw damaged('its directory breaks off');
    const flags = view.getUint16(at + 8, true);
    const nameLength = view.getUint16(at + 28, true);
    const extraLength = view.getUint16(at + 30, true);
    const next = at + 46 + nameLength + extraLength + view.getUint16(at + 32, true);
    if (next > end) throw damaged('its directory breaks off');
    // Some programs part folders by a backslash, which the format does not know (APPNOTE §4.4.17.1).
    const name = new TextDecoder(flags & 0x800 ? 'utf-8' : 'latin1')
      .decode(bytes.subarray(at + 46, at + 46 + nameLength))
      .replaceAll('\\', '/');
    checkName(name);
    const key = name.toLowerCase();
    if (names.has(key))
      throw new GableError(
        'duplicate-part',
        `The package holds the part “${name}” twice.`,
        'Save it again with the program it was made with.',
        { part: name },
      );
    names.add(key);
    if (flags & 1)
      throw new GableError('encrypted', `The part “${name}” is encrypted.`, 'Remove the password and open it again.', {
        part: name,
      });
    const entry: Entry = {
      name,
      flags,
      method: view.getUint16(at + 10, true),
      crc: view.getUint32(at + 16, true),
      compressedSize: view.getUint32(at + 20, true),
      size: view.getUint32(at + 24, true),
      offset: view.getUint32(at + 42, true),
      dataOffset: 0,
      end: 0,
      record: bytes.subarray(at, next),
    };
    readZip64(view, entry, at + 46 + nameLength, extraLength);
    entries.push(entry);
    at = next;
  }
  const inOrder = [...entries].sort((a, b) => a.offset - b.offset);
  inOrder.forEach((entry, i) => {
    entry.end = inOrder[i + 1]?.offset ?? directory;
    if (entry.offset + 30 > Math.min(entry.end, bytes.length)) throw overlapping(entry.name);
    if (view.getUint32(entry.offset, true) !== LOCAL)
      throw damaged(`the part “${entry.name}” is not where the directory says`);
    entry.dataOffset =
      entry.offset + 30 + view.getUint16(entry.offset + 26, true) + view.getUint16(entry.offset + 28, true);
    if (entry.dataOffset + entry.compressedSize > entry.end) throw overlapping(entry.name);
  });
  return entries;
}

const overlapping = (name: string): GableError =>
  new GableError(
    'overlapping-parts',
    `The part “${name}” overlaps another one.`,
    'The file is damaged or was made to mislead. Use another copy.',
    { part: name },
  );

/** Sizes and offsets beyond 32 bits stand in extra field 1 (APPNOTE §4.5.3), each only where the short field is full. */
function readZip64(view: DataView, entry: Entry, extra: number, length: number): void {
  let at = extra;
  while (at + 4 <= extra + length) {
    const size = view.getUint16(at + 2, true);
    if (view.getUint16(at, true) === 1) {
      let p = at + 4;
      const take = (): number => {
        if (p + 8 > at + 4 + size) throw damaged(`the sizes of “${entry.name}” are missing`);
        p += 8;
        return Number(view.getBigUint64(p - 8, true));
      };
      if (entry.size === 0xffffffff) entry.size = take();
      if (entry.compressedSize === 0xffffffff) entry.compressedSize = take();
      if (entry.offset === 0xffffffff) entry.offset = take();
      return;
    }
    at += 4 + size;
  }
}

/** Names that would leave the package are refused, whatever they point at. */
function checkName(name: string): void {
  const bad =
    name.includes('\0') ||
    name.startsWith('/') ||
    /^[a-z]:/i.test(name) ||
    name.split('/').some((s) => s === '..' || s === '.');
  if (bad)
    throw new GableError(
      'bad-part-name',
      `The package holds a part named “${name}”, which points outside of it.`,
      'Do not trust this file; ask its author for another copy.',
      { part: name },
    );
}

function checkInflation(entries: readonly Entry[], fileBytes: number): void {
  const total = entries.reduce((sum, e) => sum + e.size, 0);
  const times = total / fileBytes;
  if (total > LIMITS.inflatedBytes || (total > LIMITS.inflationFloor && times > LIMITS.inflation))
    throw new GableError(
      'inflates-too-much',
      `The package would grow to ${Math.round(total / 1048576)} MB, ${Math.round(times)} times its size.`,
      `Gable takes up to ${LIMITS.inflation} times and ${LIMITS.inflatedBytes / 1048576} MB. Do not trust this file; ask its author for another copy.`,
      { inflatedBytes: total, times },
    );
}

/**
 * The data of an entry, checked against its size and CRC.
 * @throws GableError `damaged-part`, `unsupported-compression`
 */
export function readEntry(archive: Archive, entry: Entry): Uint8Array {
  const data = inflateUpTo(
    archive.bytes.subarray(entry.dataOffset, entry.dataOffset + entry.compressedSize),
    entry,
    entry.size,
  );
  if (data.length !== entry.size || crc32(data) !== entry.crc) throw damagedPart(entry.name);
  return data;
}

const damagedPart = (name: string, cause?: unknown): GableError =>
  new GableError(
    'damaged-part',
    `The part “${name}” is damaged.`,
    'Open the file in the program it was made with and save it again.',
    { part: name },
    { cause },
  );

/** The first bytes of an entry, without inflating the rest. */
export function readHead(archive: Archive, entry: Entry, bytes: number): Uint8Array {
  return inflateUpTo(
    archive.bytes.subarray(entry.dataOffset, entry.dataOffset + entry.compressedSize),
    entry,
    Math.min(bytes, entry.size),
  );
}

/** Compressed data up to this size cannot grow so large that it must be watched while it grows (RFC 1951: 1,032 times). */
const AT_ONCE = 65_536;

/** A small entry in one go; one byte more than it says shows that it says too little. */
function inflateWhole(source: Uint8Array, { name, size }: Pick<Entry, 'name' | 'size'>): Uint8Array {
  let out: Uint8Array;
  try {
    out = inflateSync(source, { out: new Uint8Array(size + 1) });
  } catch (cause) {
    throw damagedPart(name, cause);
  }
  if (out.length > size) throw damagedPart(name);
  return out;
}

/**
 * Inflates compressed data until `limit` bytes are there; never holds more than the entry says it has.
 * @param source the entry's compressed data
 */
export function inflateUpTo(
  source: Uint8Array,
  entry: Pick<Entry, 'name' | 'method' | 'size'>,
  limit: number,
): Uint8Array {
  if (entry.method === 0) return source.subarray(0, limit);
  if (entry.method !== 8)
    throw new GableError(
      'unsupported-compression',
      `The part “${entry.name}” is compressed in a way Gable does not know (method ${entry.method}).`,
      'Save the file again with the program it was made with.',
      { part: entry.name, method: entry.method },
    );
  if (limit === entry.size && source.length <= AT_ONCE) return inflateWhole(source, entry);
  const out = new Uint8Array(limit);
  let have = 0;
  const inflate = new Inflate((chunk) => {
    if (have + chunk.length > entry.size) throw damagedPart(entry.name);
    const take = Math.min(chunk.length, limit - have);
    out.set(take < chunk.length ? chunk.subarray(0, take) : chunk, have);
    have += take;
  });
  try {
    // For the beginning of a picture no more is inflated than of its beginning.
    const step = Math.min(65_536, Math.max(2048, limit));
    for (let at = 0; at < source.length && have < limit; at += step)
      inflate.push(source.subarray(at, at + step), at + step >= source.length);
  } catch (cause) {
    throw cause instanceof GableError ? cause : damagedPart(entry.name, cause);
  }
  return have < limit ? out.subarray(0, have) : out;
}
