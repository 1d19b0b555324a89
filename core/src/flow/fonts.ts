/** How a font is set: in itself where it is at hand, else in one that has its widths. */
export interface SetIn {
  /** A list of families for CSS. */
  css: string;
  /** How high its lines are where nothing else is said, in ems (ascent, descent and line gap of the font; from memory). */
  line: number;
  /** The one that stands in for it has other widths. */
  approximate: boolean;
}

interface Standing {
  font: string;
  line: number;
}

/** Fonts that ship with Gable, and lines of those that they have the widths of. */
const CALIBRI: Standing = { font: 'Carlito', line: 1.2207 };
const CAMBRIA: Standing = { font: 'Caladea', line: 1.1719 };
const ARIAL: Standing = { font: 'Arimo', line: 1.1499 };
const TIMES: Standing = { font: 'Tinos', line: 1.1499 };
const COURIER: Standing = { font: 'Cousine', line: 1.1328 };
const GEORGIA: Standing = { font: 'Gelasio', line: 1.1362 };

/** The fonts that ship with Gable for words of files. */
export const STANDING_FONTS = [CALIBRI, CAMBRIA, ARIAL, TIMES, COURIER, GEORGIA].map((s) => s.font);

/** Metric-compatible fonts, by the names of those that they stand in for (the projects' own statements). */
const SAME: Readonly<Record<string, Standing>> = {
  calibri: CALIBRI,
  carlito: CALIBRI,
  cambria: CAMBRIA,
  caladea: CAMBRIA,
  arial: ARIAL,
  arimo: ARIAL,
  helvetica: ARIAL,
  'liberation sans': ARIAL,
  'times new roman': TIMES,
  times: TIMES,
  tinos: TIMES,
  'liberation serif': TIMES,
  'courier new': COURIER,
  courier: COURIER,
  cousine: COURIER,
  'liberation mono': COURIER,
  georgia: GEORGIA,
  gelasio: GEORGIA,
};

const made = new Map<string, SetIn>();

/** A font of the author's own, which is at hand wherever words are set: its name, and how high its lines are, in ems. */
export interface OwnFont {
  family: string;
  line: number;
}
const own = new Map<string, OwnFont>();

/** Fonts of the author's own that are at hand from now on. */
export function knowFonts(fonts: readonly OwnFont[]): void {
  for (const font of fonts) own.set(font.family.toLowerCase(), font);
  made.clear();
}

/** Is it one of the author's own fonts? */
export const isOwnFont = (name: string): boolean => own.has(name.toLowerCase());

/** @param name as the file has it; empty where it says none */
export function setIn(name: string): SetIn {
  const known = made.get(name);
  if (known) return known;
  const plain = name
    .replace(/["']/g, '')
    .replace(/[^\p{L}\p{N} ._-]/gu, '')
    .trim();
  const same = SAME[plain.toLowerCase()];
  const brought = own.get(plain.toLowerCase());
  const like =
    same ??
    (/mono|courier|consol|typewriter/i.test(plain)
      ? COURIER
      : /serif|times|roman|garamond|book|minion|palatino|baskerville|caslon|didot|century/i.test(plain) &&
          !/sans/i.test(plain)
        ? TIMES
        : CALIBRI);
  const first = plain === '' || plain === like.font ? '' : `'${plain}',`;
  const set = {
    css: `${first}'${like.font}',${like === COURIER ? 'monospace' : like === TIMES || like === CAMBRIA || like === GEORGIA ? 'serif' : 'sans-serif'}`,
    line: brought?.line ?? like.line,
    approximate: !same && !brought && plain !== '',
  };
  made.set(name, set);
  return set;
}
