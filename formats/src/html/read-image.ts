import {
  clamp,
  FULL_SEAT,
  toSvgPath,
  polygon,
  turnOf,
  type Frame,
  type Outline,
  type Shadow,
  type Size,
} from '@gable/core';
import { boxOf, placementOf } from '../sane';
import { readTone } from '../filters';
import { percentOf, pointsOf } from './lengths';

/** Points in a CSS pixel (CSS Values 4 §6.2). */
const PIXEL = 0.75;
/** A column that fluid pictures are taken to stand in. */
const COLUMN = 540;

export interface Image {
  attributes: Readonly<Record<string, string>>;
  style: ReadonlyMap<string, string>;
}

/** The frame of an `<img>` as its page shows it, as far as attributes and plain rules tell. @param size shown pixels */
export function readImage({ attributes: a, style }: Image, n: number, size: Size): Frame {
  const box = boxOf({ x: 0, y: 0, ...readBox(a, style, size) });
  const { tone } = readTone(style);
  return {
    n,
    flow: 'inline',
    box,
    turn: readTurn(style),
    flip: { horizontal: false, vertical: false },
    seat: FULL_SEAT,
    shape: readShape(style, box),
    placement: readFit(style, box, size),
    backing: null,
    outline: readBorder(style),
    shadow: readShadow(style.get('box-shadow')),
    ...(tone && { tone }),
    alt: (a['alt'] ?? '').slice(0, 10_000),
  };
}

/** Width and height: rules before attributes (HTML §15.4.3), a missing one by ratio; fluid ones in a usual column. */
function readBox(a: Readonly<Record<string, string>>, style: ReadonlyMap<string, string>, size: Size): Size {
  const side = (name: 'width' | 'height'): number | null => {
    const ruled = style.get(name);
    if (ruled !== undefined && ruled !== 'auto') {
      const share = percentOf(ruled);
      const v = share !== null && name === 'width' ? share * COLUMN : pointsOf(ruled);
      if (v !== null && v > 0) return v;
      return null;
    }
    if (ruled === 'auto') return null;
    const share = percentOf(a[name]);
    const v = share !== null && name === 'width' ? share * COLUMN : pointsOf(a[name], PIXEL);
    return v !== null && v > 0 ? v : null;
  };
  const [, across, down = '1'] = /(\d*\.?\d+)(?:\s*\/\s*(\d*\.?\d+))?/.exec(style.get('aspect-ratio') ?? '') ?? [];
  const ratio =
    across && Number(across) > 0 && Number(down) > 0 ? Number(across) / Number(down) : size.width / size.height;
  let width = side('width');
  let height = side('height');
  if (width === null && height === null) width = size.width * PIXEL;
  const most = pointsOf(style.get('max-width')) ?? (percentOf(style.get('max-width')) ?? Infinity) * COLUMN;
  if (width !== null && width > most) width = most;
  width ??= height! * ratio;
  height ??= width / ratio;
  return { width: Math.max(width, 0.75), height: Math.max(height, 0.75) };
}

function readTurn(style: ReadonlyMap<string, string>): number {
  const turn = /rotate\(\s*(-?[\d.]+)(deg|turn|rad)/.exec(
    `${style.get('transform') ?? ''} rotate(${style.get('rotate') ?? ''}`,
  );
  if (!turn) return 0;
  const k = { deg: 1, turn: 360, rad: 180 / Math.PI }[turn[2] as 'deg']!;
  return turnOf(Number(turn[1]) * k);
}

/** `object-fit` and `object-position` (CSS Images 3 §5): where all of the picture lies in the box. */
function readFit(style: ReadonlyMap<string, string>, box: Size, size: Size): Frame['placement'] {
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
  const [x, y] = position(style.get('object-position'), box.width - w, box.height - h);
  const crop = {
    left: -x / w,
    top: -y / h,
    right: (x + w - box.width) / w,
    bottom: (y + h - box.height) / h,
  };
  return placementOf(crop, box, size);
}

/** Percentages are of the difference of box and picture (CSS Backgrounds 3, background-position). */
function position(text: string | undefined, freeX: number, freeY: number): [number, number] {
  const words = (text ?? '50% 50%').trim().split(/\s+/);
  if (words.length === 1) words.push('center');
  if (/^(top|bottom)$/.test(words[0]!) || /^(left|right)$/.test(words[1]!)) words.reverse();
  const at = (word: string, free: number): number => {
    const named = { left: 0, top: 0, center: 0.5, right: 1, bottom: 1 }[word];
    const share = named ?? percentOf(word);
    return share !== null && share !== undefined ? share * free : (pointsOf(word) ?? free / 2);
  };
  return [at(words[0]!, freeX), at(words[1]!, freeY)];
}

function readShape(style: ReadonlyMap<string, string>, box: Size): Frame['shape'] {
  const square = Math.abs(box.width - box.height) < 0.01;
  const round = { name: square ? 'circle' : 'ellipse', knobs: {} };
  const clip = style.get('clip-path') ?? '';
  if (/^(circle|ellipse)\(\s*(50%\s*(50%)?|closest-side)?\s*(at\s+(50%|center)(\s+(50%|center))?)?\s*\)/.test(clip))
    return clip.startsWith('circle') && !square ? { name: 'circle', knobs: {} } : round;
  const points = /^polygon\(([^)]*)\)/.exec(clip)?.[1];
  if (points) {
    const list = points
      .split(',')
      .filter((p) => !/^\s*(nonzero|evenodd)/.test(p))
      .map((p) => p.trim().split(/\s+/));
    const at = (text: string | undefined, whole: number): number => percentOf(text) ?? (pointsOf(text) ?? NaN) / whole;
    const xy = list.map(([x, y]) => [at(x, box.width), at(y, box.height)] as const);
    if (xy.length >= 3 && xy.every(([x, y]) => Number.isFinite(x) && Number.isFinite(y)))
      return {
        name: 'custom',
        knobs: {},
        drawn: { path: toSvgPath(polygon(xy), 6), ratio: null, label: 'Shape of the page' },
      };
  }
  const radius = (style.get('border-radius') ?? '').split(/[\s/]+/)[0];
  const shortest = Math.min(box.width, box.height);
  const share = percentOf(radius);
  if (share !== null && share >= 0.5) return round;
  const length = share !== null ? share * shortest : pointsOf(radius);
  if (length && length > 0)
    return square && length >= shortest / 2
      ? round
      : { name: 'rounded', knobs: { radius: clamp(length / shortest, 0, 0.5) } };
  return { name: 'rectangle', knobs: {} };
}

const NAMED: Record<string, string> = {
  white: '#ffffff',
  black: '#000000',
  red: '#ff0000',
  gray: '#808080',
  grey: '#808080',
  silver: '#c0c0c0',
};

/** A colour written in the ways pages use most; null for others. */
export function colourOf(text: string): { colour: string; opacity: number } | null {
  const hex = /#([0-9a-f]{3,8})\b/i.exec(text)?.[1];
  if (hex) {
    const full = hex.length <= 4 ? [...hex].map((c) => c + c).join('') : hex;
    if (full.length === 6 || full.length === 8)
      return {
        colour: `#${full.slice(0, 6).toLowerCase()}`,
        opacity: full.length === 8 ? parseInt(full.slice(6), 16) / 255 : 1,
      };
  }
  const rgb = /rgba?\(\s*([\d.]+)[\s,]+([\d.]+)[\s,]+([\d.]+)(?:[\s,/]+([\d.]+)(%)?)?\s*\)/i.exec(text);
  if (rgb) {
    const channel = (v: string): string =>
      Math.round(clamp(Number(v), 0, 255))
        .toString(16)
        .padStart(2, '0');
    const opacity = rgb[4] === undefined ? 1 : Number(rgb[4]) / (rgb[5] ? 100 : 1);
    return { colour: `#${channel(rgb[1]!)}${channel(rgb[2]!)}${channel(rgb[3]!)}`, opacity: clamp(opacity, 0, 1) };
  }
  const word = text
    .toLowerCase()
    .split(/\s+/)
    .find((w) => w in NAMED);
  return word ? { colour: NAMED[word]!, opacity: 1 } : null;
}

/** `border` (CSS Backgrounds 3 §3): it lies outside of the picture's box. */
function readBorder(style: ReadonlyMap<string, string>): Outline | null {
  const text = [style.get('border'), style.get('border-width'), style.get('border-style'), style.get('border-color')]
    .filter((v) => v !== undefined)
    .join(' ');
  const kind = /\b(solid|dashed|dotted|double)\b/.exec(text)?.[1];
  const weight = text
    .split(/\s+/)
    .map((w) => pointsOf(w))
    .filter((v) => v !== null)
    .pop();
  if (!kind || !weight || weight <= 0) return null;
  return {
    paint: { kind: 'solid', ...(colourOf(text) ?? { colour: '#000000', opacity: 1 }) },
    weight: Math.min(weight, 1584),
    side: 'outside',
    dash: kind === 'dashed' ? 'dash' : kind === 'dotted' ? 'dot' : 'solid',
    ...(kind === 'double' ? { lines: 'double' as const } : {}),
    join: 'mitre',
    cap: 'butt',
  };
}

/** The first `box-shadow` (CSS Backgrounds 3 §4.6): its blur radius is twice the standard deviation. */
function readShadow(text: string | undefined): Shadow | null {
  if (!text || text === 'none') return null;
  const first = text.split(/,(?![^(]*\))/)[0]!;
  const lengths = first
    .replace(/rgba?\([^)]*\)|#\w+/g, ' ')
    .split(/\s+/)
    .map((w) => pointsOf(w))
    .filter((v) => v !== null);
  if (lengths.length < 2) return null;
  const [dx = 0, dy = 0, blur = 0, spread = 0] = lengths;
  return {
    kind: /\binset\b/.test(first) ? 'inner' : 'outer',
    dx,
    dy,
    blur,
    spread,
    ...(colourOf(first) ?? { colour: '#000000', opacity: 1 }),
  };
}
