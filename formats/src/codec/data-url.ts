/** `data:` addresses (RFC 2397), with what browsers and servers alike have: `atob` and `btoa`. */

/** The bytes of a `data:` address; null when it is none, or cannot be read. */
export function readDataUrl(address: string): Uint8Array | null {
  const m = /^\s*data:([^,]*),([\s\S]*)$/i.exec(address);
  if (!m) return null;
  try {
    const text = /;\s*base64\s*$/i.test(m[1]!) ? atob(m[2]!.replace(/\s+/g, '')) : decodeURIComponent(m[2]!);
    const out = new Uint8Array(text.length);
    for (let i = 0; i < text.length; i++) out[i] = text.charCodeAt(i);
    return out;
  } catch {
    return null;
  }
}

/** A character for each byte. */
export function binaryText(bytes: Uint8Array): string {
  const pieces: string[] = [];
  // A call takes only so many arguments.
  for (let i = 0; i < bytes.length; i += 0x2000) pieces.push(String.fromCharCode(...bytes.subarray(i, i + 0x2000)));
  return pieces.join('');
}

/** @param type a media type, such as `image/png` */
export const writeDataUrl = (bytes: Uint8Array, type: string): string =>
  `data:${type};base64,${btoa(binaryText(bytes))}`;

/** The media type of a kind of picture, such as `png`; only SVG is called otherwise (SVG 2, appendix on its media type). */
export const mediaTypeOf = (type: string): string => `image/${type === 'svg' ? 'svg+xml' : type}`;
