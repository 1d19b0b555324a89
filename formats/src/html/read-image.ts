import {
  BOUNDS,
  cut,
  FULL_SEAT,
  turnOf,
  type Frame,
  type Outline,
  type Rect,
  type Shadow,
  type Size,
  withinBounds,
} from '@gable/core';
import { cssColour } from '../css/colour';
import { normaliseBox, placementFromFileCrop } from '../codec/normalise';
import { readTone } from '../css/filters';
import { isDrawn, lineWidth, readBox, roomOf, surrounding, type Around, type Style } from './box';
import { isClipped, positionIn, readShape } from './clip';
import { PIXEL, pointsOf } from '../css/lengths';
import { placeOf, type Place } from './place';
import { SIDES } from '../css/shorthands';
import { lengthIn, split } from '../css/values';

export interface Image extends Around {
  attributes: Readonly<Record<string, string>>;
  /** The elements that it stands in, the nearest first. */
  around: readonly Around[];
}

/** Its words for those who do not see it. */
export const altOf = (attributes: Image['attributes']): string => cut(attributes['alt'] ?? '', BOUNDS.alt);

/** What a page says of an `<img>`. */
export interface Read {
  frame: Frame;
  /** Which of `filter` and `opacity` the frame says from now on. */
  recoloured: readonly string[];
  /** The layout declarations of the image, for the wrapper that replaces it. */
  place: Place;
}

/**
 * The frame of an `<img>` as its page shows it, as far as attributes and rules tell.
 * @param size shown pixels
 */
export function readImage(image: Image, n: number, size: Size): Read {
  const { attributes: a, around } = image;
  const style = withHints(a, image.style);
  const room = roomOf([image, ...around]);
  const round = surrounding(style, room.column);
  const { fluid, said, ...sides } = readBox(a, style, size, room, round);
  const box = normaliseBox({ x: 0, y: 0, ...sides });
  const outer: Rect = {
    x: -round.left,
    y: -round.top,
    width: box.width + round.left + round.right,
    height: box.height + round.top + round.bottom,
  };
  const clipped = isClipped(style);
  const { tone, shadow, read } = looksOf(style);
  const turned = readTransform(style);
  const frame = withinBounds({
    n,
    flow: 'inline',
    box,
    turn: turned?.turn ?? 0,
    flip: { horizontal: turned?.flip ?? false, vertical: false },
    seat: FULL_SEAT,
    shape: readShape(style, box, outer),
    placement: readFit(style, box, size),
    backing: null,
    // What lies outside of the box is cut off with it (CSS Masking 1 §1, order of effects).
    outline: clipped ? null : readOutline(style, room.column),
    shadow: clipped ? null : (readShadow(style) ?? shadow),
    ...(tone && { tone }),
    alt: altOf(a),
  });
  const place = placeOf(style, round, { moves: turned === null, inside: around[0]?.style });
  const inside = around[0]?.style;
  const item = /flex$/.test(inside?.get('display') ?? '') && !/^column/.test(inside?.get('flex-direction') ?? '');
  return {
    frame,
    recoloured: read,
    place: {
      style: place,
      sizing: { fluid, said },
      natural: false,
      item: item && !style.has('min-width'),
      ownFit: true,
    },
  };
}

/**
 * What attributes of older pages say of how an image looks, below all rules (HTML §15.4.3, attributes for embedded content
 * and images).
 */
function withHints(a: Image['attributes'], style: Style): Style {
  const hints = new Map<string, string>();
  const pixels = (text: string | undefined): string | null => {
    const m = /^\s*(\d{1,5})(%?)/.exec(text ?? '');
    return m ? `${m[1]}${m[2] || 'px'}` : null;
  };
  const [across, down, border] = [pixels(a['hspace']), pixels(a['vspace']), pixels(a['border'])];
  if (across) for (const side of ['left', 'right']) hints.set(`margin-${side}`, across);
  if (down) for (const side of ['top', 'bottom']) hints.set(`margin-${side}`, down);
  if (border && !/^0(px|%)$/.test(border))
    for (const side of SIDES) {
      hints.set(`border-${side}-width`, border);
      hints.set(`border-${side}-style`, 'solid');
      hints.set(`border-${side}-color`, 'currentcolor');
    }
  const align = (a['align'] ?? '').toLowerCase();
  if (align === 'left' || align === 'right') hints.set('float', align);
  else if (ALIGNED[align]) hints.set('vertical-align', ALIGNED[align]);
  return hints.size === 0 ? style : new Map([...hints, ...style]);
}

/** `align=middle` takes the middle of an image to the line that its neighbours' letters stand on; browsers have a word of their own for it. */
const ALIGNED: Readonly<Record<string, string>> = {
  top: 'top',
  texttop: 'text-top',
  middle: '-webkit-baseline-middle',
  center: '-webkit-baseline-middle',
  absmiddle: 'middle',
  abscenter: 'middle',
  bottom: 'baseline',
  baseline: 'baseline',
  absbottom: 'bottom',
};

/** Turn and flip of a `transform` and `rotate`; null for one that does more (CSS Transforms 1 §12 and 2 §5). */
function readTransform(style: Style): { turn: number; flip: boolean } | null {
  const degrees = (text: string): number | null => {
    const [, value, unit] = /^([-+]?\d*\.?\d+)(deg|turn|rad|grad)?$/.exec(text.trim()) ?? [];
    if (value === undefined || (!unit && Number(value) !== 0)) return null;
    return Number(value) * { deg: 1, turn: 360, rad: 180 / Math.PI, grad: 0.9 }[(unit ?? 'deg') as 'deg'];
  };
  const given = (name: string): string => (style.get(name) ?? 'none').trim();
  if (given('scale') !== 'none' || given('translate') !== 'none') return null;
  const rotate = given('rotate');
  let turn = rotate === 'none' ? 0 : degrees(rotate);
  let flip = false;
  const list = given('transform');
  for (const part of list === 'none' ? [] : split(list.replace(/\)\s*(?=[a-z])/gi, ') '))) {
    const [, name, text = ''] = /^(rotateZ?|scaleX|scaleY|scale)\(([^()]*)\)$/i.exec(part) ?? [];
    const [x, y = name === 'scale' ? x : '1'] = split(text, /,/);
    const angle: number | null = name?.startsWith('rotate') ? degrees(text) : 0;
    const [sx, sy] = name === 'scaleY' ? [1, Number(x)] : name?.startsWith('scale') ? [Number(x), Number(y)] : [1, 1];
    if (!name || turn === null || angle === null || Math.abs(sx) !== 1 || Math.abs(sy) !== 1) return null;
    // What is flipped turns the other way round; both flips are half a turn.
    turn += (flip ? -1 : 1) * angle;
    if (sy < 0) turn += 180;
    if (sx * sy < 0) flip = !flip;
  }
  return turn === null ? null : { turn: turnOf(turn), flip };
}

/** `object-fit` and `object-position` (CSS Images 3 §5): where all of the picture lies in the box. */
function readFit(style: Style, box: Size, size: Size): Frame['placement'] {
  const fit = style.get('object-fit') ?? 'fill';
  let [w, h] = [box.width, box.height];
  if (fit !== 'fill') {
    const natural = PIXEL;
    const contain = Math.min(box.width / size.width, box.height / size.height);
    const k =
      fit === 'cover'
        ? Math.max(box.width / size.width, box.height / size.height)
        : fit === 'none'
          ? natural
          : fit === 'scale-down'
            ? Math.min(natural, contain)
            : contain;
    [w, h] = [size.width * k, size.height * k];
  }
  const [x, y] = positionIn(style.get('object-position') ?? '50% 50%', box.width - w, box.height - h);
  const crop = {
    left: -x / w,
    top: -y / h,
    right: (x + w - box.width) / w,
    bottom: (y + h - box.height) / h,
  };
  return placementFromFileCrop(crop, box, size);
}

const BLACK = { colour: '#000000', opacity: 1 };

function colourOf(text: string | undefined, style: Style): { colour: string; opacity: number } {
  const own = text && !/^currentcolor$/i.test(text) ? cssColour(text) : null;
  return own ?? cssColour(style.get('color') ?? '') ?? BLACK;
}

const lineOf = (kind: string): Pick<Outline, 'dash' | 'lines' | 'join' | 'cap'> => ({
  dash: kind === 'dashed' ? 'dash' : kind === 'dotted' ? 'dot' : 'solid',
  ...(kind === 'double' ? { lines: 'double' as const } : {}),
  join: 'mitre',
  cap: 'butt',
});

/**
 * The line round an image. A `border` (CSS Backgrounds 3 §3) that is the same on all sides, over an even `padding` as its
 * gap; without one an even padding in a colour; else an `outline` (CSS UI 4 §3). All lie outside of the picture.
 */
function readOutline(style: Style, column: number): Outline | null {
  const even = (part: string): string | null => {
    const values = SIDES.map((side) => style.get(part.replace('*', side)) ?? '');
    return values.every((v) => v === values[0]) ? values[0]! : null;
  };
  const kind = even('border-*-style');
  const padding = Math.max(0, lengthIn(even('padding-*') ?? undefined, column) ?? 0);
  const outlined = (
    line: string,
    weight: number,
    paint: { colour: string; opacity: number },
    gap: number,
  ): Outline | null =>
    weight <= 0
      ? null
      : {
          paint: { kind: 'solid', ...paint },
          weight: Math.min(weight, 1584),
          side: 'outside',
          ...(gap > 0 ? { gap: Math.min(gap, 1584) } : {}),
          ...lineOf(line),
        };
  if (kind !== null && isDrawn(kind)) {
    const [width, colour] = [even('border-*-width'), even('border-*-color')];
    return width === null || colour === null
      ? null
      : outlined(kind, lineWidth(width), colourOf(colour, style), padding);
  }
  const ground = split(style.get('background-color') ?? style.get('background') ?? '').flatMap(
    (w) => cssColour(w) ?? [],
  );
  if (padding > 0 && ground[0] && ground[0].opacity > 0) return outlined('solid', padding, ground[0], 0);
  const beyond = style.get('outline-style') ?? 'none';
  if (!isDrawn(beyond) || beyond === 'auto') return null;
  const gap = (pointsOf(style.get('outline-offset')) ?? 0) + padding;
  return outlined(beyond, lineWidth(style.get('outline-width')), colourOf(style.get('outline-color'), style), gap);
}

/** Colour and lengths of a shadow, in any order. */
function shadowOf(text: string, style: Style): { lengths: number[]; paint: { colour: string; opacity: number } } {
  const words = split(text).filter((w) => !/^inset$/i.test(w));
  const lengths = words.flatMap((w) => pointsOf(w) ?? []);
  return {
    lengths,
    paint: colourOf(
      words.find((w) => pointsOf(w) === null),
      style,
    ),
  };
}

/** The first `box-shadow` (CSS Backgrounds 3 §6.1); null for none. */
function boxShadowOf(style: Style): string | null {
  const [first = 'none'] = split(style.get('box-shadow') ?? '', /,/);
  return first === 'none' ? null : first;
}

/** What it looks like: its blur radius is twice the standard deviation. */
function readShadow(style: Style): Shadow | null {
  const first = boxShadowOf(style);
  if (first === null) return null;
  const { lengths, paint } = shadowOf(first, style);
  if (lengths.length < 2) return null;
  const [dx = 0, dy = 0, blur = 0, spread = 0] = lengths;
  return {
    kind: /(^|\s)inset(\s|$)/i.test(first) ? 'inner' : 'outer',
    dx,
    dy,
    blur: Math.max(0, blur),
    spread,
    ...paint,
  };
}

/**
 * What `filter` and `opacity` do, and the shadow that the last of the filter's functions throws: its third length is a
 * standard deviation, half of the blur radius (Filter Effects 1 §13.1).
 */
export function looksOf(style: Style): ReturnType<typeof readTone> & { shadow: Shadow | null } {
  const list = style.get('filter')?.trim() ?? '';
  const [, before = '', inside = ''] = /^([\s\S]*?)drop-shadow\(((?:[^()]|\([^()]*\))*)\)$/i.exec(list) ?? [];
  if (inside && !/drop-shadow/i.test(before) && boxShadowOf(style) === null) {
    const { lengths, paint } = shadowOf(inside, style);
    const [dx = 0, dy = 0, deviation = 0] = lengths;
    const told = readTone(new Map([...style, ['filter', before.trim() || 'none']]));
    if (lengths.length >= 2 && told.read.includes('filter'))
      return { ...told, shadow: { kind: 'outer', dx, dy, blur: Math.max(0, 2 * deviation), spread: 0, ...paint } };
  }
  return { ...readTone(style), shadow: null };
}
