import { trimNumber, type Size } from '@gable/core';
import { percentOf, PIXEL, pointsOf } from '../css/lengths';
import { SIDES } from '../css/shorthands';
import { WRITTEN_HEIGHT } from './cascade';
import { lengthIn, split, WINDOW } from '../css/values';

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

/** How an image comes by its size, as far as a frame has to keep that up. */
export interface Sizing {
  /** Its width, where that hangs on its column. */
  fluid: Fluid | null;
  /** Its height as the page says it, where that is not its ratio's: then the picture covers or fills whatever box there is. */
  said: string | null;
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

/** An element round an image. */
export interface Around {
  /** By longhand, lengths in pixels where they hang on letters or on the window. */
  style: Style;
  /** Which of its parent's elements it is, from 0 on, and how many there are. */
  index: number;
  count: number;
}

/**
 * The room that rules give an image, as far as they tell: the nearest element round it of a width that is said, and what
 * its columns, margins and padding leave of that. What floats or is as wide as its content is not reckoned with.
 * @param from the image and the elements round it, the nearest first
 */
export function roomOf(from: readonly [Around, ...Around[]]): Room {
  const column = shareOf(from, 0) ?? widthInside(from, 1);
  const known = column !== null && column > 0 ? column : COLUMN;
  const parent = from[1]?.style;
  const tall = pointsOf(parent?.get('height'));
  const { top = 0, bottom = 0 } = parent ? surrounding(parent, known) : {};
  const ratio = parent ? ratioOf(parent) : null;
  const said = tall !== null && countsBorder(parent!) ? tall - top - bottom : tall;
  const height = said ?? (ratio === null ? null : known / ratio);
  return { column: known, height: height !== null && height > 0 && Number.isFinite(height) ? height : null };
}

/** How wide the content of an element is, in points; null where no rule tells. */
function widthInside(round: readonly Around[], i: number): number | null {
  const e = round[i];
  // Nothing bounds what fills the window (CSS Display 3 §2.7: the initial containing block).
  if (!e) return i > 0 ? WINDOW.width * PIXEL : null;
  const { style } = e;
  const { left, right } = surrounding(style, COLUMN);
  const counted = countsBorder(style) ? left + right : 0;
  const text = style.get('width') ?? 'auto';
  const part = percentOf(text);
  const own = part === null ? pointsOf(text) : null;
  if (own !== null) return Math.min(own, WINDOW.width * PIXEL) - counted;
  const share = shareOf(round, i);
  const worked = share === null || part !== null ? null : lengthIn(text, share);
  if (worked !== null) return worked - counted;
  const display = style.get('display') ?? '';
  const loose =
    /^(inline-|table)/.test(display) ||
    /^(left|right)$/.test(style.get('float') ?? '') ||
    /^(absolute|fixed)$/.test(style.get('position') ?? '');
  const margins = ['left', 'right'].reduce((sum, side) => sum + (pointsOf(style.get(`margin-${side}`)) ?? 0), 0);
  const inside =
    share === null ? null : part !== null ? part * share - counted : loose ? null : share - margins - left - right;
  const bound = pointsOf(style.get('max-width'));
  return bound === null ? inside : Math.min(bound - counted, inside ?? Infinity, WINDOW.width * PIXEL);
}

/** The width that what an element stands in leaves to it: of a grid its track, of an even row its share, else all. */
function shareOf(round: readonly Around[], i: number): number | null {
  const e = round[i]!;
  const whole = widthInside(round, i + 1);
  const parent = round[i + 1]?.style;
  if (whole === null || !parent) return whole;
  const display = parent.get('display') ?? '';
  const gap = lengthIn(parent.get('column-gap'), whole) ?? 0;
  if (/grid$/.test(display)) return trackOf(parent.get('grid-template-columns') ?? '', whole, gap, e);
  if (!/flex$/.test(display) || /^column/.test(parent.get('flex-direction') ?? '')) return whole;
  if (percentOf(e.style.get('width')) !== null) return whole;
  return /^1( 1( 0(px|%)?)?)?$/.test(e.style.get('flex') ?? '') ? (whole - gap * (e.count - 1)) / e.count : null;
}

/** The width of the tracks of a grid that an element lies in (CSS Grid 1 §7.2); null where they hang on their content. */
function trackOf(template: string, whole: number, gap: number, { style, index, count }: Around): number | null {
  const [, times = '', list = ''] = /^repeat\(\s*([^,]+?)\s*,([\s\S]*)\)$/i.exec(template.trim()) ?? [];
  const once = (list ? split(list) : split(template)).map((track) => {
    const [, least = '', most = track] = /^minmax\(([\s\S]*),([^,]*)\)$/i.exec(track) ?? [];
    const fraction = /^\s*([\d.]+)fr\s*$/i.exec(most)?.[1];
    return {
      least: lengthIn(least.trim(), whole),
      fraction: Number(fraction ?? 0),
      length: lengthIn(most.trim(), whole),
    };
  });
  const [first] = once;
  if (!first || once.some((t) => t.fraction === 0 && t.length === null)) return null;
  let n = list ? Number(times) : 1;
  if (/^auto-(fill|fit)$/i.test(times)) {
    const least = first.least ?? first.length;
    if (once.length > 1 || least === null) return null;
    n = Math.max(1, Math.floor((whole + gap + 1e-6) / (least + gap)));
    if (/fit$/i.test(times)) n = Math.min(n, count);
  }
  if (!(n >= 1 && n * once.length <= 100)) return null;
  const tracks = Array.from({ length: n }, () => once).flat();
  const fixed = tracks.reduce((sum, t) => sum + (t.fraction > 0 ? 0 : t.length!), 0);
  const parts = tracks.reduce((sum, t) => sum + t.fraction, 0);
  const free = whole - gap * (tracks.length - 1) - fixed;
  const widths = tracks.map((t) => (t.fraction > 0 ? (free * t.fraction) / Math.max(1, parts) : t.length!));
  const [from = 'auto', to = 'auto'] = split(style.get('grid-column') ?? style.get('grid-column-start') ?? '', /\//);
  const line = (text: string): number => (Number(text) < 0 ? tracks.length + 2 + Number(text) : Number(text)) - 1;
  const span = Number(/span\s+(\d+)/.exec(`${from} ${to}`)?.[1] ?? 1);
  const start = /^-?\d+$/.test(from) ? line(from) : index % tracks.length;
  const end = /^-?\d+$/.test(to) ? line(to) : start + span;
  const taken = widths.slice(start, end);
  return taken.length > 0 ? taken.reduce((sum, w) => sum + w, gap * (taken.length - 1)) : null;
}

/** Width to height as `aspect-ratio` says it (CSS Sizing 4 §5.1); null where it says nothing. */
function ratioOf(style: Style): number | null {
  const [, across, down = '1'] = /(\d*\.?\d+)(?:\s*\/\s*(\d*\.?\d+))?/.exec(style.get('aspect-ratio') ?? '') ?? [];
  return Number(across) > 0 && Number(down) > 0 ? Number(across) / Number(down) : null;
}

/** What a height leaves to the picture when it holds border and padding, too. */
const picturePart = (said: string, less: number): string =>
  less === 0 ? said : `calc(${said} - ${trimNumber(less, 4)}pt)`;

/**
 * Width and height of the picture's own box: rules before attributes (HTML §15.4.3), a missing one by ratio. Where
 * `box-sizing` says so, the rules' sides hold border and padding, too (CSS Sizing 3 §3.3).
 * @param round border and padding
 */
export function readBox(
  a: Readonly<Record<string, string>>,
  style: Style,
  size: Size,
  { column, height: tall }: Room,
  round: Edges,
): Size & Sizing {
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
  const ratio = ratioOf(style) ?? size.width / size.height;
  const asked = side('width');
  let width = asked;
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
        share: ((asked ?? width) + less.width) / column,
        less: less.width,
        most: bound === null ? null : (bound - less.width) / PIXEL,
      }
    : held
      ? { share: (most + less.width) / column, less: less.width, most: natural / PIXEL }
      : null;
  // A length of its own, which the ratio does not make: with a fluid width, or where the picture fills any box.
  const said = style.get('height') ?? '';
  const fills = /^(cover|contain|none|scale-down)$/.test(style.get('object-fit') ?? '');
  const own = /\d/.test(said) && (percentOf(said) === null || tall !== null) && (hangs || fills) && natural === null;
  return {
    width: Math.max(width, 0.75),
    height: Math.max(height, 0.75),
    fluid,
    said: own ? picturePart(style.get(WRITTEN_HEIGHT) ?? said, less.height) : null,
  };
}
