import { GableError } from '@gable/core';
import { imageSize } from 'image-size';

/** What the first bytes of a picture tell. */
export interface PictureHeader {
  /** `jpeg`, `png`, … or `unknown`. */
  type: string;
  /** Stored pixels; null when the format has none or they cannot be read. */
  pixels: { width: number; height: number } | null;
  /** EXIF orientation, 1 when there is none (Exif 2.32, TIFF 6.0 tag 274). */
  orientation: number;
  /** Can it be decoded for showing? EMF, WMF, BMP and HEIC cannot, and are not broken for that. */
  drawable: boolean;
}

const DRAWABLE = new Set(['jpeg', 'png', 'gif', 'webp', 'tiff', 'svg', 'avif']);

/**
 * Reads type, size and orientation from the first bytes of a picture.
 * @returns null when this is no picture, or its header is cut off in these bytes
 */
export function readHeader(head: Uint8Array): PictureHeader | null {
  const metafile = readMetafile(head);
  if (metafile) return metafile;
  try {
    const { width, height, type, orientation } = imageSize(head);
    const name = type === 'jpg' ? 'jpeg' : (type ?? 'unknown');
    if (!(width > 0) || !(height > 0)) return null;
    return { type: name, pixels: { width, height }, orientation: orientation ?? 1, drawable: DRAWABLE.has(name) };
  } catch {
    return null;
  }
}

/** The header of a picture that can be shown. @param name of it, for the error @throws GableError `not-a-picture` */
export function readDrawable(
  head: Uint8Array,
  name: string,
): PictureHeader & { pixels: NonNullable<PictureHeader['pixels']> } {
  const header = readHeader(head);
  if (header?.pixels && header.drawable) return { ...header, pixels: header.pixels };
  throw new GableError(
    'not-a-picture',
    header ? `Gable cannot show ${header.type.toUpperCase()} pictures.` : `“${name}” is not a picture.`,
    'Choose a JPEG, PNG, WebP, AVIF, GIF, TIFF or SVG.',
  );
}

/** Windows metafiles: drawings without pixels. Signatures: [MS-EMF] §2.3.4.2, [MS-WMF] §2.3.2.3 (from memory). */
function readMetafile(head: Uint8Array): PictureHeader | null {
  if (head.length < 44) return null;
  const v = new DataView(head.buffer, head.byteOffset, head.byteLength);
  if (v.getUint32(0, true) === 1 && v.getUint32(40, true) === 0x464d4520)
    return { type: 'emf', pixels: null, orientation: 1, drawable: false };
  if (v.getUint32(0, true) === 0x9ac6cdd7 || (v.getUint16(0, true) === 1 && v.getUint16(2, true) === 9))
    return { type: 'wmf', pixels: null, orientation: 1, drawable: false };
  return null;
}
