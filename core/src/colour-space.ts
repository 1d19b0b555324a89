import { channels, LINEAR_OF_BYTE, toLinear } from './colour';
import { clamp } from './geometry/numeric';
import type { Pixels } from './model/pixels';

/** OKLab (B. Ottosson, 2020): L 0..1, a and b about −0.4..0.4. */
export interface Oklab {
  l: number;
  a: number;
  b: number;
}

/** Linear light to an sRGB channel (0..1): IEC 61966-2-1. */
export const fromLinear = (c: number): number => (c <= 0.0031308 ? c * 12.92 : 1.055 * c ** (1 / 2.4) - 0.055);

/** `#rrggbb` to OKLab; matrices of Ottosson's “A perceptual color space for image processing”. */
export function toOklab(hex: string): Oklab {
  const [r, g, b] = channels(hex).map((c) => toLinear(c / 255)) as [number, number, number];
  return linearToOklab(r, g, b);
}

/** Linear sRGB (0..1) to OKLab. */
export function linearToOklab(r: number, g: number, b: number): Oklab {
  const l = Math.cbrt(0.4122214708 * r + 0.5363325363 * g + 0.0514459929 * b);
  const m = Math.cbrt(0.2119034982 * r + 0.6806995451 * g + 0.1073969566 * b);
  const s = Math.cbrt(0.0883024619 * r + 0.2817188376 * g + 0.6299787005 * b);
  return {
    l: 0.2104542553 * l + 0.793617785 * m - 0.0040720468 * s,
    a: 1.9779984951 * l - 2.428592205 * m + 0.4505937099 * s,
    b: 0.0259040371 * l + 0.7827717662 * m - 0.808675766 * s,
  };
}

/** The OKLab of a pixel. @param at where its four bytes (sRGB and alpha) begin */
export const pixelToOklab = (data: Pixels['data'], at: number): Oklab =>
  linearToOklab(LINEAR_OF_BYTE[data[at]!]!, LINEAR_OF_BYTE[data[at + 1]!]!, LINEAR_OF_BYTE[data[at + 2]!]!);

/** OKLab to the nearest `#rrggbb`, each channel held to its range. */
export function fromOklab({ l, a, b }: Oklab): string {
  const l3 = (l + 0.3963377774 * a + 0.2158037573 * b) ** 3;
  const m3 = (l - 0.1055613458 * a - 0.0638541728 * b) ** 3;
  const s3 = (l - 0.0894841775 * a - 1.291485548 * b) ** 3;
  return toHex([
    4.0767416621 * l3 - 3.3077115913 * m3 + 0.2309699292 * s3,
    -1.2684380046 * l3 + 2.6097574011 * m3 - 0.3413193965 * s3,
    -0.0041960863 * l3 - 0.7034186147 * m3 + 1.707614701 * s3,
  ]);
}

const toHex = (linear: readonly number[]): string =>
  `#${linear
    .map((c) =>
      Math.round(clamp(fromLinear(Math.max(0, c)), 0, 1) * 255)
        .toString(16)
        .padStart(2, '0'),
    )
    .join('')}`;

/** Distance of two colours in OKLab; about 0.02 is just seen side by side. */
export function colourDistance(a: string, b: string): number {
  const p = toOklab(a);
  const q = toOklab(b);
  return Math.hypot(p.l - q.l, p.a - q.a, p.b - q.b);
}

/** CIE 1976 L*a*b* of a colour under D65 (ISO/CIE 11664-4), by the matrix of IEC 61966-2-1. */
export function toLab(hex: string): { l: number; a: number; b: number } {
  const [r, g, b] = channels(hex).map((v) => toLinear(v / 255)) as [number, number, number];
  const f = (t: number): number => (t > (6 / 29) ** 3 ? Math.cbrt(t) : t / (3 * (6 / 29) ** 2) + 4 / 29);
  const x = f((0.4124 * r + 0.3576 * g + 0.1805 * b) / 0.9505);
  const y = f(0.2126 * r + 0.7152 * g + 0.0722 * b);
  const z = f((0.0193 * r + 0.1192 * g + 0.9505 * b) / 1.089);
  return { l: 116 * y - 16, a: 500 * (x - y), b: 200 * (y - z) };
}

/** ΔE*ab, CIE 1976: about 2.3 is just noticeable. */
export function deltaE(a: string, b: string): number {
  const [p, q] = [toLab(a), toLab(b)];
  return Math.hypot(p.l - q.l, p.a - q.a, p.b - q.b);
}
