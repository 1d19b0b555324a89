import { strToU8, unzipSync, zipSync } from 'fflate';
import { crc32, readArchive, readEntry, spliceArchive } from '../src/index';

const code = (f: () => unknown): string => {
  try {
    f();
  } catch (error) {
    return (error as { code: string }).code;
  }
  return 'no error';
};
const files = { 'a.txt': strToU8('alpha '.repeat(40)), 'b/c.txt': strToU8('beta'), 'd.bin': new Uint8Array([1, 2, 3]) };
const zip = (): Uint8Array => zipSync(files, { mtime: new Date(2026, 0, 1) });
/** Positions of a signature. */
const find = (bytes: Uint8Array, signature: number): number[] => {
  const v = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  return Array.from({ length: bytes.length - 3 }, (_, i) => i).filter((i) => v.getUint32(i, true) === signature);
};

describe('zip packages', () => {
  test('what fflate writes is read, entry by entry', () => {
    const archive = readArchive(zip());
    expect(archive.entries.map((e) => e.name)).toEqual(Object.keys(files));
    for (const e of archive.entries) expect(readEntry(archive, e)).toEqual(files[e.name as keyof typeof files]);
  });

  test('the CRC is that of ISO/IEC 15948 (check value of “123456789”: CBF43926)', () => {
    expect(crc32(strToU8('123456789'))).toBe(0xcbf43926);
  });

  test('nothing to replace gives the very same bytes', () => {
    const bytes = zip();
    expect(spliceArchive(readArchive(bytes), new Map())).toEqual(bytes);
  });

  test('a replaced entry is read by others; the rest is the same, compressed bytes and order included', () => {
    const before = readArchive(zip());
    const bytes = spliceArchive(before, new Map([['b/c.txt', strToU8('gamma '.repeat(99))]]));
    const other = unzipSync(bytes);
    expect(Object.keys(other)).toEqual(Object.keys(files));
    expect(new TextDecoder().decode(other['b/c.txt'])).toBe('gamma '.repeat(99));
    const after = readArchive(bytes);
    for (const name of ['a.txt', 'd.bin']) {
      const raw = (a: typeof before): Uint8Array => {
        const e = a.entries.find((x) => x.name === name)!;
        return a.bytes.slice(e.offset, e.end);
      };
      expect(raw(after)).toEqual(raw(before));
    }
  });

  test('a Buffer works like plain bytes', () => {
    const bytes = spliceArchive(readArchive(Buffer.from(zip())), new Map([['a.txt', strToU8('x')]]));
    expect(new TextDecoder().decode(unzipSync(bytes)['a.txt'])).toBe('x');
  });

  test('data descriptors and zip64 sizes of streaming writers are understood', () => {
    // One stored entry with flag bit 3, sizes only in the zip64 field of the directory (APPNOTE 6.3.10 §4.4.4, §4.5.3).
    const data = strToU8('streamed');
    const name = strToU8('s.txt');
    const local = new DataView(new ArrayBuffer(30));
    local.setUint32(0, 0x04034b50, true);
    local.setUint16(6, 8, true);
    local.setUint16(26, name.length, true);
    const descriptor = new DataView(new ArrayBuffer(16));
    descriptor.setUint32(0, 0x08074b50, true);
    descriptor.setUint32(4, crc32(data), true);
    descriptor.setUint32(8, data.length, true);
    descriptor.setUint32(12, data.length, true);
    const central = new DataView(new ArrayBuffer(46));
    central.setUint32(0, 0x02014b50, true);
    central.setUint16(8, 8, true);
    central.setUint32(16, crc32(data), true);
    central.setUint32(20, 0xffffffff, true);
    central.setUint32(24, 0xffffffff, true);
    central.setUint16(28, name.length, true);
    central.setUint16(30, 20, true);
    const extra = new DataView(new ArrayBuffer(20));
    extra.setUint16(0, 1, true);
    extra.setUint16(2, 16, true);
    extra.setBigUint64(4, BigInt(data.length), true);
    extra.setBigUint64(12, BigInt(data.length), true);
    const at = 30 + name.length + data.length + 16;
    const size = 46 + name.length + 20;
    const end = new DataView(new ArrayBuffer(22));
    end.setUint32(0, 0x06054b50, true);
    end.setUint16(8, 1, true);
    end.setUint16(10, 1, true);
    end.setUint32(12, size, true);
    end.setUint32(16, at, true);
    const u8 = (v: DataView): Uint8Array => new Uint8Array(v.buffer);
    const bytes = Buffer.concat([u8(local), name, data, u8(descriptor), u8(central), name, u8(extra), u8(end)]);
    const archive = readArchive(bytes);
    expect(readEntry(archive, archive.entries[0]!)).toEqual(data);
    const changed = spliceArchive(archive, new Map([['s.txt', strToU8('changed')]]));
    expect(new TextDecoder().decode(unzipSync(changed)['s.txt'])).toBe('changed');
  });
});

describe('zip packages that are refused', () => {
  test('no bytes, no zip, half a zip', () => {
    expect(code(() => readArchive(new Uint8Array()))).toBe('empty-file');
    expect(code(() => readArchive(strToU8('hello, this is not a zip file at all')))).toBe('not-a-zip');
    const bytes = zip();
    for (const cut of [5, bytes.length >> 1, bytes.length - 1])
      expect(code(() => readArchive(bytes.subarray(0, cut)))).toBe('truncated');
  });

  test.each(['../evil.txt', 'a/../../b', '/etc/passwd', 'C:/x', 'a\\..\\b'])('the name %s', (name) => {
    expect(code(() => readArchive(zipSync({ [name]: new Uint8Array(1) })))).toBe('bad-part-name');
  });

  test('a name twice, also in other case', () => {
    expect(code(() => readArchive(zipSync({ 'a.xml': new Uint8Array(1), 'A.xml': new Uint8Array(1) })))).toBe(
      'duplicate-part',
    );
  });

  test('entries that overlap', () => {
    const bytes = zip();
    const [first, second] = find(bytes, 0x02014b50);
    const v = new DataView(bytes.buffer);
    v.setUint32(second! + 42, v.getUint32(first! + 42, true), true);
    expect(code(() => readArchive(bytes))).toBe('overlapping-parts');
  });

  test('a bomb: 100 : 1 overall', () => {
    const bytes = zipSync({ 'z.bin': new Uint8Array(30_000_000) }, { level: 9 });
    expect(bytes.length).toBeLessThan(100_000);
    expect(code(() => readArchive(bytes))).toBe('inflates-too-much');
  });

  test('an entry that grows beyond what it says', () => {
    const bytes = zipSync({ 'z.bin': new Uint8Array(500_000) }, { level: 9 });
    const [central] = find(bytes, 0x02014b50);
    new DataView(bytes.buffer).setUint32(central! + 24, 1000, true);
    const archive = readArchive(bytes);
    expect(code(() => readEntry(archive, archive.entries[0]!))).toBe('damaged-part');
  });

  test('data that does not match its CRC', () => {
    const bytes = zipSync({ 's.txt': [strToU8('stored as it is'), { level: 0 }] });
    bytes[40]! ^= 1;
    const archive = readArchive(bytes);
    expect(code(() => readEntry(archive, archive.entries[0]!))).toBe('damaged-part');
  });

  test('every single-byte change gives a clear error or the same data', () => {
    const original = zip();
    for (let i = 0; i < original.length; i++) {
      const bytes = original.slice();
      bytes[i]! ^= 0x55;
      try {
        const archive = readArchive(bytes);
        for (const e of archive.entries) readEntry(archive, e);
      } catch (error) {
        expect((error as Error).name).toBe('GableError');
      }
    }
  });
});
