/** Halves of surrogate pairs that stand alone, which no encoding can carry. */
const LONE = /[\ud800-\udbff](?![\udc00-\udfff])|(?<![\ud800-\udbff])[\udc00-\udfff]/g;
// eslint-disable-next-line no-control-regex -- they are what is looked for
const CONTROLS = /[\u0000-\u0008\u000b\u000c\u000e-\u001f\ufffe\uffff]/g;

/** Text that every encoding, XML (1.0 §2.2, Char) and the database can hold: lone surrogates and control characters go. */
export const wellFormed = (text: string): string => text.replace(LONE, '\ufffd').replace(CONTROLS, '');

/** The same for every text in plain data. */
export function wellFormedIn<T>(data: T): T {
  if (typeof data === 'string') return wellFormed(data) as T;
  if (Array.isArray(data)) return data.map((value: unknown) => wellFormedIn(value)) as T;
  if (typeof data !== 'object' || data === null) return data;
  return Object.fromEntries(Object.entries(data).map(([key, value]) => [wellFormed(key), wellFormedIn(value)])) as T;
}

const graphemes = new Intl.Segmenter(undefined, { granularity: 'grapheme' });

/**
 * The beginning of a text, never ended inside of what a reader sees as one character (Unicode UAX #29).
 * @param most UTF-16 code units
 * @param mark put at the end of what was cut; it counts
 */
export function cut(text: string, most: number, mark = ''): string {
  if (text.length <= most) return wellFormed(text);
  const room = most - mark.length;
  return wellFormed(text.slice(0, boundaryBefore(text, room))).trimEnd() + mark;
}

/** Where the character begins that a cut after so many code units would go through; there, if it goes through none. */
function boundaryBefore(text: string, at: number): number {
  // Letters below the combining marks stand alone (UAX #29, GB999); only CR and LF belong together (GB3).
  if (text.charCodeAt(at - 1) < 0x300 && text.charCodeAt(at) < 0x300 && text[at] !== '\n') return at;
  // A character of more than a hundred code units is no character: it is cut all the same.
  return graphemes.segment(text.slice(0, at + 100)).containing(at)?.index ?? at;
}
