/**
 * What a picture tells beyond what it shows: where and when it was taken, with what and by whom. It is taken out of the
 * file's own structure; no pixel is touched.
 */
export interface Bared {
  bytes: Uint8Array;
  /** Did it tell a place? */
  placed: boolean;
}

/** @returns the picture without private data; null where it has none, or is of a kind that is left alone */
export function withoutPrivate(bytes: Uint8Array): Bared | null {
  const v = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  try {
    if (v.getUint16(0) === 0xffd8) return bareJpeg(bytes, v);
    if (v.getUint32(0) === 0x89504e47) return barePng(bytes, v);
    if (v.getUint32(0) === 0x52494646 && v.getUint32(8) === 0x57454250) return bareWebp(bytes, v);
  } catch (error) {
    // Cut off: a broken picture is left as it is.
    if (!(error instanceof RangeError)) throw error;
  }
  return null;
}

const joined = (pieces: readonly Uint8Array[]): Uint8Array => {
  const out = new Uint8Array(pieces.reduce((sum, p) => sum + p.length, 0));
  let at = 0;
  for (const p of pieces) {
    out.set(p, at);
    at += p.length;
  }
  return out;
};

const startsWith = (bytes: Uint8Array, at: number, text: string): boolean =>
  [...text].every((c, i) => bytes[at + i] === c.charCodeAt(0));

/**
 * JPEG (ITU-T T.81, Annex B.1.1.4): markers up to the scan. APP1 holds Exif (Exif 2.32 §4.7.2) or XMP (ISO 16684-3 §1.1.3),
 * APP13 IPTC, COM words. What the picture is shown by stays: JFIF, ICC profiles (APP2), the colour transform (APP14), and of Exif
 * the orientation.
 */
function bareJpeg(bytes: Uint8Array, v: DataView): Bared | null {
  const pieces = [bytes.subarray(0, 2)];
  let dropped = false;
  let placed = false;
  let at = 2;
  while (v.getUint8(at) === 0xff) {
    const marker = v.getUint8(at + 1);
    if (marker === 0xff) {
      at++;
      continue;
    }
    if (marker === 0xda) break;
    const end = at + 2 + v.getUint16(at + 2);
    if (end > bytes.length) return null;
    const isExif = marker === 0xe1 && startsWith(bytes, at + 4, 'Exif\0');
    if (isExif) {
      const { orientation, gps } = readExif(new DataView(bytes.buffer, bytes.byteOffset + at + 10, end - at - 10));
      placed ||= gps;
      const kept = orientation > 1 ? orientationSegment(orientation) : new Uint8Array(0);
      // One that says no more than that has nothing private.
      if (kept.length >= end - at) pieces.push(bytes.subarray(at, end));
      else {
        dropped = true;
        pieces.push(kept);
      }
    } else if (marker === 0xe1 || marker === 0xed || marker === 0xfe) {
      dropped = true;
      placed ||= has(bytes.subarray(at, end), 'GPSLatitude');
    } else pieces.push(bytes.subarray(at, end));
    at = end;
  }
  if (!dropped) return null;
  pieces.push(bytes.subarray(at));
  return { bytes: joined(pieces), placed };
}

const has = (bytes: Uint8Array, words: string): boolean => new TextDecoder('latin1').decode(bytes).includes(words);

/** Orientation (tag 274) and whether there is a GPS directory (tag 34853) in the first directory (TIFF 6.0 §2, Exif 2.32 §4.6.3). */
function readExif(v: DataView): { orientation: number; gps: boolean } {
  let orientation = 1;
  let gps = false;
  try {
    const little = v.getUint16(0) === 0x4949;
    const at = v.getUint32(4, little);
    const count = v.getUint16(at, little);
    for (let i = 0; i < count; i++) {
      const entry = at + 2 + 12 * i;
      const tag = v.getUint16(entry, little);
      if (tag === 274) orientation = v.getUint16(entry + 8, little);
      if (tag === 34853) gps = true;
    }
  } catch {
    // Damaged: it is taken out all the same.
  }
  return { orientation, gps };
}

/** An Exif segment that names the orientation and nothing else. */
function orientationSegment(orientation: number): Uint8Array {
  const out = new Uint8Array(36);
  const v = new DataView(out.buffer);
  v.setUint16(0, 0xffe1);
  v.setUint16(2, 34);
  out.set(new TextEncoder().encode('Exif'), 4);
  v.setUint16(10, 0x4d4d);
  v.setUint16(12, 42);
  v.setUint32(14, 8);
  v.setUint16(18, 1);
  v.setUint16(20, 274);
  v.setUint16(22, 3);
  v.setUint32(24, 1);
  v.setUint16(28, orientation);
  return out;
}

/** PNG (ISO/IEC 15948 §11.3.4, §11.3.6; eXIf of the 2017 extensions): words, times and Exif. */
const PNG_PRIVATE = new Set(['tEXt', 'zTXt', 'iTXt', 'eXIf', 'tIME']);

function barePng(bytes: Uint8Array, v: DataView): Bared | null {
  const pieces = [bytes.subarray(0, 8)];
  let placed = false;
  let dropped = false;
  for (let at = 8; at + 12 <= bytes.length;) {
    const end = at + 12 + v.getUint32(at);
    if (end > bytes.length) return null;
    const kind = String.fromCharCode(...bytes.subarray(at + 4, at + 8));
    if (PNG_PRIVATE.has(kind)) {
      dropped = true;
      if (kind === 'eXIf')
        placed ||= readExif(new DataView(bytes.buffer, bytes.byteOffset + at + 8, end - at - 12)).gps;
      else placed ||= has(bytes.subarray(at, end), 'GPSLatitude');
    } else pieces.push(bytes.subarray(at, end));
    at = end;
  }
  return dropped ? { bytes: joined(pieces), placed } : null;
}

/** WebP (RFC 9649 §2.7): the chunks EXIF and XMP, and the flags that announce them. */
function bareWebp(bytes: Uint8Array, v: DataView): Bared | null {
  const pieces = [bytes.slice(0, 12)];
  let placed = false;
  let dropped = false;
  for (let at = 12; at + 8 <= bytes.length;) {
    const end = at + 8 + v.getUint32(at + 4, true) + (v.getUint32(at + 4, true) % 2);
    const kind = String.fromCharCode(...bytes.subarray(at, at + 4));
    if (kind === 'EXIF' || kind === 'XMP ') {
      dropped = true;
      const from = at + 8 + (startsWith(bytes, at + 8, 'Exif\0\0') ? 6 : 0);
      if (kind === 'EXIF') placed ||= readExif(new DataView(bytes.buffer, bytes.byteOffset + from, end - from)).gps;
      else placed ||= has(bytes.subarray(at, end), 'GPSLatitude');
    } else {
      const chunk = bytes.slice(at, end);
      if (kind === 'VP8X') chunk[8]! &= ~0x0c;
      pieces.push(chunk);
    }
    at = end;
  }
  if (!dropped) return null;
  const out = joined(pieces);
  new DataView(out.buffer).setUint32(4, out.length - 8, true);
  return { bytes: out, placed };
}
