import { colord, extend } from 'colord';
import hwbPlugin from 'colord/plugins/hwb';
import labPlugin from 'colord/plugins/lab';
import lchPlugin from 'colord/plugins/lch';
import namesPlugin from 'colord/plugins/names';
import oklabPlugin from 'colord/plugins/oklab';
import oklchPlugin from 'colord/plugins/oklch';
import { GableError } from './errors';

extend([namesPlugin, hwbPlugin, labPlugin, lchPlugin, oklabPlugin, oklchPlugin]);

/**
 * Reads a colour in any notation of CSS Color 4: `#rgb`, `#rrggbb`, a name (its words apart, too: `light gray`), `rgb()`,
 * `hsl()`, `hwb()`, `lab()`, `lch()`, `oklab()`, `oklch()`; and six digits without their `#`.
 * @returns `#rrggbb` in lower case, the nearest that sRGB has
 * @throws GableError `bad-colour`
 */
export function parseColour(text: string): string {
  const t = text.trim().toLowerCase();
  const written = /^([0-9a-f]{3}|[0-9a-f]{6})$/.test(t)
    ? `#${t}`
    : /^[a-z]+(\s+[a-z]+)+$/.test(t)
      ? t.replace(/\s+/g, '')
      : t;
  const colour = colord(written);
  if (!colour.isValid())
    throw new GableError(
      'bad-colour',
      `“${text}” is not a colour.`,
      'Type a name such as light gray, or a value such as #b5482a or rgb(181 72 42).',
      { text },
    );
  if (colour.alpha() < 1)
    throw new GableError(
      'bad-colour',
      `“${text}” is transparent.`,
      `Type ${colour.alpha(1).toHex()}, and set the opacity in its own field.`,
      { text },
    );
  return colour.toHex();
}

/** Red, green and blue of `#rrggbb`, 0..255. */
export function channels(hex: string): [number, number, number] {
  const v = parseInt(hex.slice(1), 16);
  return [(v >> 16) & 255, (v >> 8) & 255, v & 255];
}

/** A colour with so much of another in it, in sRGB. */
export const mixed = (from: string, to: string, share: number): string => {
  const [a, b] = [channels(from), channels(to)];
  return `#${a
    .map((v, i) =>
      Math.round(v + (b[i]! - v) * share)
        .toString(16)
        .padStart(2, '0'),
    )
    .join('')}`;
};

/** sRGB channel (0..1) to linear light: IEC 61966-2-1. */
export const toLinear = (c: number): number => (c <= 0.04045 ? c / 12.92 : ((c + 0.055) / 1.055) ** 2.4);

/** `toLinear` of each byte of a channel: pixels are asked by the ten thousand. */
export const LINEAR_OF_BYTE: Float64Array = Float64Array.from({ length: 256 }, (_, byte) => toLinear(byte / 255));

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
