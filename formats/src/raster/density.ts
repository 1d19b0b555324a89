/** Pixels to the inch that a picture's own header names, across and down; null where it names none. */
export function readDensity(head: Uint8Array): { x: number; y: number } | null {
  const v = new DataView(head.buffer, head.byteOffset, head.byteLength);
  try {
    if (v.getUint32(0) === 0x89504e47) return pngDensity(v);
    if (v.getUint16(0) === 0xffd8) return jpegDensity(v);
  } catch {
    // The header is cut off in these bytes.
  }
  return null;
}

const CM_PER_INCH = 2.54;
const positive = (x: number, y: number): { x: number; y: number } | null => (x > 0 && y > 0 ? { x, y } : null);

/** `pHYs`, pixels to the metre (ISO/IEC 15948, PNG §11.3.5.3); it stands before the pixels. */
function pngDensity(v: DataView): { x: number; y: number } | null {
  for (let at = 8; at + 12 <= v.byteLength; at += 12 + v.getUint32(at)) {
    const kind = v.getUint32(at + 4);
    if (kind === 0x49444154) return null;
    if (kind === 0x70485973 && v.getUint8(at + 16) === 1)
      return positive(v.getUint32(at + 8) * 0.0254, v.getUint32(at + 12) * 0.0254);
  }
  return null;
}

/** The density of the JFIF header (ISO/IEC 10918-5 §10.1): to the inch, or to the centimetre. */
function jpegDensity(v: DataView): { x: number; y: number } | null {
  for (let at = 2; v.getUint8(at) === 0xff && v.getUint8(at + 1) !== 0xda; at += 2 + v.getUint16(at + 2)) {
    if (v.getUint8(at + 1) !== 0xe0 || v.getUint32(at + 4) !== 0x4a464946) continue;
    const unit = v.getUint8(at + 11);
    const k = unit === 1 ? 1 : unit === 2 ? CM_PER_INCH : 0;
    return positive(v.getUint16(at + 12) * k, v.getUint16(at + 14) * k);
  }
  return null;
}
