import type { Size } from '@gable/core';
import { percentOf, pointsOf } from './lengths';
import { SIDES } from './shorthands';
import { lengthIn, WINDOW } from './values';

/** Points in a CSS pixel (CSS Values 4 §6.2). */
export const PIXEL = 0.75;
/** A column that fluid pictures are taken to stand in where no rule tells how wide it is, in points. */
const COLUMN = 540;

export type Style = ReadonlyMap<string, string>;
/** Points. */
export type Edges = Record<(typeof SIDES)[number], number>;

/** Where an image stands: how wide its column is, how tall what it stands in, null where that is not said; in points. */
export interface Room {
  column: number;
  height: number | null;
}

/** How wide an image is in its column, where it hangs on that. */
export interface Fluid {
  /** Of the column. */
  share: number;
  /** What of that share is border and padding, in points. */
  less: number;
  /** The most it may be, in pixels. */
  most: number | null;
}

const WIDTHS: Readonly<Record<string, string>> = { thin: '1px', medium: '3px', thick: '5px' };
/** Points. */
export const lineWidth = (text: string | undefined): number => {
  const word = text?.toLowerCase() ?? 'medium';
  return Math.max(0, pointsOf(WIDTHS[word] ?? word) ?? 0);
};
export const isDrawn = (kind: string | undefined): boolean => !/^(none|hidden)?$/.test(kind ?? '');

/** Border and padding on every side. @param column what percentages are of, in points */
export function surrounding(style: Style, column: number): Edges {
  const of = (side: string): number => {
    const border = isDrawn(style.get(`border-${side}-style`)) ? lineWidth(style.get(`border-${side}-width`)) : 0;
    return border + Math.max(0, lengthIn(style.get(`padding-${side}`), column) ?? 0);
  };
  return Object.fromEntries(SIDES.map((side) => [side, of(side)])) as Edges;
}

const countsBorder = (style: Style): boolean => /border-box/i.test(style.get('box-sizing') ?? '');

/**
 * The room that rules give an image, as far as they tell: the nearest element round it of a width that is said, less what
 * lies between. What shares a row or a grid with others, floats, or is as wide as its content is not reckoned with.
 * @param round styles of the elements round the image, the nearest first
 */
export function roomOf(round: readonly Style[]): Room {
  let [share, less] = [1, 0];
  let column: number | null = null;
  for (const [i, style] of round.entries()) {
    const { left, right } = surrounding(style, COLUMN);
    const margins = ['left', 'right'].reduce((sum, side) => sum + (pointsOf(style.get(`margin-${side}`)) ?? 0), 0);
    const text = style.get('width') ?? 'auto';
    const part = percentOf(text);
    const own = part === null ? pointsOf(text) : null;
    const bound = text === 'auto' || part !== null ? pointsOf(style.get('max-width')) : null;
    const said = own ?? bound;
    if (said !== null) {
      column = share * Math.min(said - (countsBorder(style) ? left + right : 0), WINDOW.width * PIXEL) - less;
      break;
    }
    const display = style.get('display') ?? '';
    const beside = /(flex|grid)$/.test(round[i + 1]?.get('display') ?? '');
    const loose = /^(inline-|table)/.test(display) || /^(left|right)$/.test(style.get('float') ?? '');
    if (beside || ((loose || /^(absolute|fixed)$/.test(style.get('position') ?? '')) && part === null)) break;
    const within = part !== null && !countsBorder(style) ? 0 : left + right;
    less += share * (within + (part === null ? margins : 0));
    share *= part ?? 1;
  }
  const known = column !== null && column > 0 ? column : COLUMN;
  const [parent] = round;
  const tall = pointsOf(parent?.get('height'));
  const { top = 0, bottom = 0 } = parent ? surrounding(parent, known) : {};
  const [, across, down = '1'] = RATIO.exec(parent?.get('aspect-ratio') ?? '') ?? [];
  const height =
    tall !== null
      ? tall - (countsBorder(parent!) ? top + bottom : 0)
      : across
        ? (known / Number(across)) * Number(down)
        : null;
  return { column: known, height: height !== null && height > 0 && Number.isFinite(height) ? height : null };
}

const RATIO = /(\d*\.?\d+)(?:\s*\/\s*(\d*\.?\d+))?/;

/**
 * Width and height of the picture's own box: rules before attributes (HTML §15.4.3), a missing one by ratio. Where
 * `box-sizing` says so, the rules' sides hold border and padding, too (CSS Sizing 3 §3.3).
 */
export function readBox(
  a: Readonly<Record<string, string>>,
  style: Style,
  size: Size,
  { column, height: tall }: Room,
): Size & { fluid: Fluid | null } {
  const round = surrounding(style, column);
  const less = countsBorder(style)
    ? { width: round.left + round.right, height: round.top + round.bottom }
    : { width: 0, height: 0 };
  const ruled = (name: string, side: 'width' | 'height'): number | null => {
    const text = style.get(name);
    const v = side === 'width' ? lengthIn(text, column) : tall === null ? pointsOf(text) : lengthIn(text, tall);
    return v === null ? null : v - less[side];
  };
  const side = (name: 'width' | 'height'): number | null => {
    const text = style.get(name);
    const positive = (v: number | null): number | null => (v !== null && v > 0 ? v : null);
    if (text !== undefined && /[\d(]/.test(text)) return positive(ruled(name, name));
    if (text !== undefined && text !== '') return null;
    const share = percentOf(a[name]);
    return positive(share !== null && name === 'width' ? share * column : pointsOf(a[name], PIXEL));
  };
  const [, across, down = '1'] = RATIO.exec(style.get('aspect-ratio') ?? '') ?? [];
  const ratio =
    across && Number(across) > 0 && Number(down) > 0 ? Number(across) / Number(down) : size.width / size.height;
  let width = side('width');
  let height = side('height');
  if (width === null && height === null) width = size.width * PIXEL;
  const natural = height === null ? width : null;
  const most = ruled('max-width', 'width') ?? Infinity;
  const least = ruled('min-width', 'width') ?? 0;
  if (width !== null) width = Math.max(Math.min(width, most), least);
  const tallest = ruled('max-height', 'height') ?? Infinity;
  if (height !== null) height = Math.max(Math.min(height, tallest), ruled('min-height', 'height') ?? 0);
  width ??= Math.min(height! * ratio, most);
  height ??= Math.min(width / ratio, tallest);
  // A picture that keeps its ratio is narrower when it may not be as tall (CSS 2.2 §10.4).
  if (natural !== null && tallest < width / ratio && !style.get('width')) width = height * ratio;
  const hangs = percentOf(style.get('width') ?? a['width']) !== null;
  const held = percentOf(style.get('max-width')) !== null && natural !== null && natural > 0;
  const bound = pointsOf(style.get('max-width'));
  const fluid = hangs
    ? {
        share: ((side('width') ?? width) + less.width) / column,
        less: less.width,
        most: bound === null ? null : (bound - less.width) / PIXEL,
      }
    : held
      ? { share: (most + less.width) / column, less: less.width, most: natural / PIXEL }
      : null;
  return { width: Math.max(width, 0.75), height: Math.max(height, 0.75), fluid };
}
