import { split } from './values';

const GENERIC =
  /^(serif|sans-serif|monospace|cursive|fantasy|system-ui|ui-[a-z-]+|math|emoji|fangsong|initial|inherit|unset|revert)$/i;

/** The first family of a list (CSS Fonts 4 §2.1); nothing where that is any font of a kind. */
export function firstFamily(list: string): string {
  const [first = ''] = split(list, /,/);
  const name = first.trim().replace(/^(["'])(.*)\1$/, '$2');
  return GENERIC.test(name) ? '' : name.slice(0, 200);
}

/** Heavier, or lighter, than letters round them (CSS Fonts 4 §2.2.1). */
const bolder = (from: number): number => (from < 350 ? 400 : from < 550 ? 700 : Math.max(900, from));
const lighter = (from: number): number => (from < 550 ? Math.min(100, from) : from < 750 ? 400 : 700);

/** How heavy letters are (CSS Fonts 4 §2.2). @param from those round them @returns null for what is no weight */
export function weightOf(word: string, from: number): number | null {
  if (word === 'bold') return 700;
  if (word === 'normal') return 400;
  if (word === 'bolder') return bolder(from);
  if (word === 'lighter') return lighter(from);
  const weight = Number(word);
  return weight >= 1 && weight <= 1000 ? Math.round(weight) : null;
}

const SIZE = /^(\d|\.\d|xx?-(small|large)|small|medium|large|smaller|larger|calc\(|clamp\(|min\(|max\()/i;

/** What `font` says of letters beside their size (CSS Fonts 4 §2.7). @param from how heavy those round them are @returns null where it names a font of the system. */
export function fontShorthand(text: string, from: number): { family: string; weight: number; italic: boolean } | null {
  const words = split(text);
  const size = words.findIndex((w) => SIZE.test(w) && !/^\d{3}$/.test(w));
  const family = words.slice(size + 1).filter((w) => w !== '/');
  if (size < 0 || family.length === 0) return null;
  const before = words.slice(0, size).map((w) => w.toLowerCase());
  return {
    family: firstFamily(family.join(' ')),
    weight: before.reduce((weight, w) => weightOf(w, from) ?? weight, 400),
    italic: before.some((w) => /^(italic|oblique)/.test(w)),
  };
}
