import { escapeXml } from '../xml/splice';
import { readHeader } from '../raster/header';
import { mediaTypeOf, writeDataUrl } from './data-url';
import { readEntry, type Archive, type Entry } from '../zip/reader';

/** The bytes of a picture in the file that browsers and painters can show; null for any other, or none. */
export function showable(archive: Archive, entry: Entry | undefined): Uint8Array | null {
  try {
    const bytes = entry ? readEntry(archive, entry) : null;
    return bytes && readHeader(bytes)?.drawable ? bytes : null;
  } catch {
    return null;
  }
}

/** A picture of something in a text that is not shown is put into the markup up to this size, in bytes. */
const MAX_BYTES = 1024 * 1024;

/** It as large as its room, with what it is said for readers; null for none that can be. */
export function likenessMarkup(bytes: Uint8Array | null, label: string): string | null {
  const type = bytes && bytes.length <= MAX_BYTES ? readHeader(bytes)?.type : undefined;
  if (!bytes || type === undefined) return null;
  const url = writeDataUrl(bytes, mediaTypeOf(type));
  return `<img class="shape" data-plate="${escapeXml(label)}" alt="${escapeXml(label)}" src="${url}">`;
}
