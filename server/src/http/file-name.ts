import { cut, wellFormed } from '@gable/core';

/** Names that some systems keep for devices, whatever their ending (common practice). */
const RESERVED = /^(con|prn|aux|nul|com\d|lpt\d)$/i;
/** Characters that cannot stand in a name somewhere, that nobody sees, or that turn the direction of reading (UAX #9). */
// eslint-disable-next-line no-control-regex -- they are what is looked for
const UNFIT = /[<>:"|?*\u0000-\u001f\u007f-\u009f\u061c\u200b-\u200f\u2028-\u202e\u2060-\u2069\ufeff]/g;
/** Of a name without its ending: characters, and bytes, of which file systems take 255 (common practice). */
const MAX_NAME_CHARS = 200;
const MAX_NAME_BYTES = 230;

/**
 * The name of a file that leaves the server: a base name without folders, never empty, never reserved, never one that is
 * taken. This is the only place where such names are made.
 * @param taken names that there are already, in small letters; the new one is added
 */
export function fileName(name: string, taken = new Set<string>()): string {
  const base = wellFormed(name)
    .normalize('NFC')
    .split(/[\\/]/)
    .at(-1)!
    .replace(UNFIT, '')
    .trim()
    .replace(/[. ]+$/, '');
  const dot = base.lastIndexOf('.');
  const [stem, kind] = dot > 0 && base.length - dot <= 10 ? [base.slice(0, dot), base.slice(dot)] : [base, ''];
  let plain = cut(stem.replace(/^\.+/, '').trim(), MAX_NAME_CHARS);
  while (Buffer.byteLength(plain) > MAX_NAME_BYTES) plain = cut(plain, Math.floor(plain.length * 0.9));
  plain ||= 'File';
  const safe = RESERVED.test(plain.split('.')[0]!) ? `${plain}_` : plain;
  for (let i = 1; ; i++) {
    const next = `${safe}${i === 1 ? '' : ` ${i}`}${kind}`;
    if (taken.has(next.toLowerCase())) continue;
    taken.add(next.toLowerCase());
    return next;
  }
}
