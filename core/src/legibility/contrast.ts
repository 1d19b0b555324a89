import { channels, luminance, mixed, toLinear } from '../colour';

/** WCAG 2.2 SC 1.4.3: words are legible from 4.5 : 1, large ones from 3 : 1. */
export const LEGIBLE = 4.5;
export const LEGIBLE_LARGE = 3;
/** Large is 18 pt and more, or 14 pt and more where it is bold (WCAG 2.2, "large scale"). */
export const isLarge = (size: number, weight: number): boolean => size >= 18 || (size >= 14 && weight >= 700);
export const leastContrast = (size: number, weight: number): number =>
  isLarge(size, weight) ? LEGIBLE_LARGE : LEGIBLE;

/** Pixels are judged at this share of them, the worst first: single ones do not decide. */
export const WORST_SHARE = 0.05;

/** Pixels as bytes of red, green, blue and opacity; what is clear shows the ground. */
export interface Ground {
  data: Uint8ClampedArray;
  /** `#rrggbb` behind them. */
  behind: string;
}

const ratio = (a: number, b: number): number => (Math.max(a, b) + 0.05) / (Math.min(a, b) + 0.05);

/** Relative luminances of pixels, sorted. @param veil a colour over them, and how opaque it is */
export function luminances(
  { data, behind }: Ground,
  veil: { colour: string; opacity: number } | null = null,
): Float64Array {
  const back = channels(behind);
  const over = channels(veil?.colour ?? '#000000');
  const share = veil?.opacity ?? 0;
  const out = new Float64Array(data.length / 4);
  for (let i = 0; i < out.length; i++) {
    const opacity = data[4 * i + 3]! / 255;
    const of = (c: 0 | 1 | 2): number => {
      const own = data[4 * i + c]! * opacity + back[c] * (1 - opacity);
      return toLinear((own * (1 - share) + over[c] * share) / 255);
    };
    out[i] = 0.2126 * of(0) + 0.7152 * of(1) + 0.0722 * of(2);
  }
  return out.sort();
}

/** The contrast of an ink with what it lies on: all but the worst twentieth have that much or more. */
export function contrastOn(ink: string, sorted: Float64Array): number {
  const own = luminance(ink);
  if (sorted.length === 0) return ratio(own, 1);
  const ratios = Float64Array.from(sorted, (l) => ratio(own, l)).sort();
  return ratios[Math.floor(WORST_SHARE * (ratios.length - 1))]!;
}

/** So finely the strength of a veil is told. */
export const VEIL_STEP = 0.01;

/**
 * The least opaque veil of a colour beneath words that makes them legible, in whole hundredths; null where none does.
 * @param least the contrast that is to be reached
 */
export function leastVeil(ink: string, ground: Ground, colour: string, least: number): number | null {
  const reaches = (steps: number): boolean =>
    contrastOn(ink, luminances(ground, { colour, opacity: steps * VEIL_STEP })) >= least;
  const all = Math.round(1 / VEIL_STEP);
  if (reaches(0)) return 0;
  if (!reaches(all)) return null;
  let [no, yes] = [0, all];
  while (yes - no > 1) {
    const middle = (no + yes) >> 1;
    if (reaches(middle)) yes = middle;
    else no = middle;
  }
  return yes * VEIL_STEP;
}

/** Of the colours of a page, the one nearest to black or white that is legible there; black or white where none is. */
export function legibleInk(ground: Ground, palette: readonly string[], least: number): string | null {
  const sorted = luminances(ground);
  const reads = [...palette, '#ffffff', '#000000'].filter((ink) => contrastOn(ink, sorted) >= least);
  return reads[0] ?? null;
}

/** Words on a page of one colour are harsh beyond this contrast (black on white has 21 : 1); softened, they have so much. Our own choice. */
const HARSH = 15;
const SOFT = 12;

/** An ink mixed with what it lies on until that is restful; null where it is so already. */
export function softened(ink: string, ground: Ground): string | null {
  const sorted = luminances(ground);
  if (contrastOn(ink, sorted) <= HARSH) return null;
  const middle = sorted[sorted.length >> 1] ?? 1;
  const towards = middle > 0.5 ? '#ffffff' : '#000000';
  let [no, yes] = [0, 1];
  for (let i = 0; i < 12; i++) {
    const share = (no + yes) / 2;
    if (contrastOn(mixed(ink, towards, share), sorted) <= SOFT) yes = share;
    else no = share;
  }
  return mixed(ink, towards, yes);
}
