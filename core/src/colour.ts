import { GableError } from './errors';

/** Colour names an author may type; values from CSS Color 4 §6.1. */
const NAMED: Record<string, string> = {
  white: '#ffffff',
  black: '#000000',
  grey: '#808080',
  gray: '#808080',
  silver: '#c0c0c0',
  red: '#ff0000',
  green: '#008000',
  blue: '#0000ff',
  yellow: '#ffff00',
  orange: '#ffa500',
};

/**
 * Reads `#rgb`, `#rrggbb`, `rrggbb` or a common colour name.
 * @returns `#rrggbb` in lower case
 * @throws GableError `bad-colour`
 */
export function parseColour(text: string): string {
  const t = text.trim().toLowerCase();
  if (NAMED[t]) return NAMED[t];
  const m = /^#?([0-9a-f]{3}|[0-9a-f]{6})$/.exec(t);
  if (!m)
    throw new GableError(
      'bad-colour',
      `“${text}” is not a colour.`,
      'Write it as #rrggbb, such as #ffffff, or as a plain name such as white.',
      { text },
    );
  const hex = m[1]!;
  return `#${hex.length === 3 ? [...hex].map((c) => c + c).join('') : hex}`;
}

/** Red, green and blue of `#rrggbb`, 0..255. */
export function channels(hex: string): [number, number, number] {
  const v = parseInt(hex.slice(1), 16);
  return [(v >> 16) & 255, (v >> 8) & 255, v & 255];
}

/** sRGB channel (0..1) to linear light: IEC 61966-2-1. */
export const toLinear = (c: number): number => (c <= 0.04045 ? c / 12.92 : ((c + 0.055) / 1.055) ** 2.4);

/** Relative luminance, WCAG 2.2. */
export function luminance(hex: string): number {
  const [r, g, b] = channels(hex).map((c) => toLinear(c / 255)) as [number, number, number];
  return 0.2126 * r + 0.7152 * g + 0.0722 * b;
}

/** Contrast ratio of two colours, 1..21, WCAG 2.2. */
export function contrast(a: string, b: string): number {
  const [hi, lo] = [luminance(a), luminance(b)].sort((p, q) => q - p) as [number, number];
  return (hi + 0.05) / (lo + 0.05);
}

/** `rgba(…)` for a drawing context. */
export function cssColour(hex: string, opacity: number): string {
  return `rgba(${channels(hex).join(', ')}, ${opacity})`;
}
