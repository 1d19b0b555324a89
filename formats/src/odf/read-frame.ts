import {
  boundedPixels,
  clamp,
  FULL_SEAT,
  placementOfTiling,
  POINTS,
  turnOf,
  withinBounds,
  type Crop,
  type Frame,
  type Outline,
  type Placement,
  type Shadow,
  type Size,
  type VeilFill,
} from '@gable/core';
import { alignedBox } from '../codec/beside-text';
import { normaliseBox, placementFromFileCrop } from '../codec/normalise';
import type { Look } from '../codec/page-items';
import { child, type Element } from '../xml/located';
import { METADATA_NAMESPACE } from '../metadata/digest';
import { decodeVeil, VEIL_NAMESPACE } from '../metadata/veils';
import { decodeMetadata } from '../metadata/metadata';
import { fromNative, expandCrop } from '../equivalents/offset-outline';
import { readAnchor } from './anchor';
import { readGeometry, readOffsetOutline } from './enhanced-geometry';
import { is, lengthOf, percentOf, type Names } from './names';
import { ownName, ownValue } from './own-attributes';
import { readTone } from './recolour';
import type { ReadFrame, Site } from './site';

/** The address of a picture's data. @param fills pictures for fills, by name */
export function hrefOf(site: Site, fills: ReadonlyMap<string, { href: string }>): string | undefined {
  if (site.image) return site.names.get(site.image, 'xlink:href');
  return fills.get(site.styles.property(site.style, 'draw:fill-image-name') ?? '')?.href;
}

/** A picture's own size in points; 96 pixels to the inch where it names no density (CSS Values 4 §6.2). */
export const physicalSize = (pixels: Size, density: { x: number; y: number } | null): Size => ({
  width: (pixels.width / (density?.x ?? 96)) * 72,
  height: (pixels.height / (density?.y ?? 96)) * 72,
});

/** Shape, line, shadow and text: what pictures and other shapes say alike. @param size of its box, in points */
export const readLook = (site: Site, size: Size): Omit<Look, 'box' | 'turn'> => ({
  flip: readFlip(site),
  shape: readShape(site, size),
  outline: readOutline(site),
  shadow: readShadow(site),
  alt: child(site.element, 'desc')?.text || child(site.element, 'title')?.text || '',
});

/**
 * @param pixels stored size; null when unknown
 * @param density pixels to the inch that the picture names; null for none, then 96 (CSS Values 4 §6.2)
 */
export function readFrame(
  site: Site,
  n: number,
  pixels: Size | null,
  density: { x: number; y: number } | null,
): ReadFrame {
  const { names, element } = site;
  const width = lengthOf(names.get(element, 'svg:width')) ?? 0;
  const height = lengthOf(names.get(element, 'svg:height')) ?? 0;
  const held = normaliseBox({ x: 0, y: 0, width, height });
  const size = { width: held.width, height: held.height };
  const known = boundedPixels(pixels ?? { width: size.width / POINTS.px, height: size.height / POINTS.px });
  const physical = physicalSize(known, density);
  const { x, y, turn } = placeOf(element, names, size);
  const offset = site.image ? null : readOffsetOutline(child(element, 'enhanced-geometry'), names, size);
  const margin = offset?.ring.margin ?? 0;
  const { placement, crop } = site.image
    ? clipped(site, size, known, physical)
    : filled(site, size, known, physical, margin);
  const tone = readTone(site);
  const anchor = readAnchor(site);
  const filed = withinBounds({
    n,
    flow: site.frameFlow,
    ...(anchor && { anchor }),
    box: alignedBox(normaliseBox({ x, y, ...size }), anchor, site.room),
    turn: Number.isFinite(turn) ? turn : 0,
    ...readLook(site, size),
    seat: FULL_SEAT,
    placement,
    backing: null,
    ...(tone && { tone }),
  });
  const read = { crop, size: known, physical };
  const ring = filed.outline && offset;
  const native = ring ? fromNative(filed, ring.ring, ring.shape, crop, known) : filed;
  const name = knownName(element);
  const recognised = decodeMetadata(name && element.attributes[name], native, known);
  return {
    ...read,
    frame: recognised ? { ...recognised, ...(tone && { tone }) } : native,
    native: ring ? { ...filed, shape: { name: 'custom', knobs: { ...ring.ring } } } : filed,
  };
}

/** The attribute with what we know of a frame beside its native terms, as it is named here. */
export const knownName = (element: Element): string | undefined => ownName(element, METADATA_NAMESPACE, 'frame');

/** The veil that the picture in a shape was painted of; null where it is a picture of its own. */
export const veilOf = (element: Element): VeilFill | null => decodeVeil(ownValue(element, VEIL_NAMESPACE, 'veil'));

/** `draw:transform` (§19.228): a rotation counter-clockwise in radians about the origin, and where that is put. */
export function placeOf(element: Element, names: Names, size: Size): { x: number; y: number; turn: number } {
  const plain = {
    x: lengthOf(names.get(element, 'svg:x')) ?? 0,
    y: lengthOf(names.get(element, 'svg:y')) ?? 0,
    turn: 0,
  };
  const transform = names.get(element, 'draw:transform');
  const rotate = /rotate\s*\(\s*(-?[\d.eE+-]+)\s*\)/.exec(transform ?? '');
  const translate = /translate\s*\(\s*(\S+?)(?:[\s,]+(\S+?))?\s*\)/.exec(transform ?? '');
  if (!transform || (!rotate && !translate)) return plain;
  const angle = Number(rotate?.[1] ?? 0);
  const [c, s] = [Math.cos(angle), Math.sin(angle)];
  const [w, h] = [size.width / 2, size.height / 2];
  return {
    x: plain.x + (lengthOf(translate?.[1]) ?? 0) + c * w + s * h - w,
    y: plain.y + (lengthOf(translate?.[2]) ?? 0) - s * w + c * h - h,
    turn: turnOf((-angle * 180) / Math.PI),
  };
}

function readFlip(site: Site): Frame['flip'] {
  const geometry = child(site.element, 'enhanced-geometry');
  if (geometry)
    return {
      horizontal: site.names.get(geometry, 'draw:mirror-horizontal') === 'true',
      vertical: site.names.get(geometry, 'draw:mirror-vertical') === 'true',
    };
  const mirror = site.image ? (site.styles.property(site.style, 'style:mirror') ?? 'none') : 'none';
  return { horizontal: /horizontal/.test(mirror), vertical: /vertical/.test(mirror) };
}

/** `fo:clip` (§20.179): lengths from each edge of the picture at its own size; with commas or with spaces. */
function clipped(site: Site, size: Size, pixels: Size, physical: Size): { placement: Placement; crop: Crop } {
  const clip = /rect\s*\(([^)]*)\)/.exec(site.styles.property(site.style, 'fo:clip') ?? '')?.[1];
  const [t = 0, r = 0, b = 0, l = 0] = (clip ?? '')
    .trim()
    .split(/[\s,]+/)
    .map((v) => lengthOf(v) ?? 0);
  const crop = {
    left: l / physical.width,
    top: t / physical.height,
    right: r / physical.width,
    bottom: b / physical.height,
  };
  const leavesSome = 1 - crop.left - crop.right > 1e-4 && 1 - crop.top - crop.bottom > 1e-4;
  const held = leavesSome ? crop : { left: 0, top: 0, right: 0, bottom: 0 };
  return { crop: held, placement: placementFromFileCrop(held, size, pixels) };
}

const ANCHOR: Record<string, [number, number]> = {
  'top-left': [0, 0],
  top: [0.5, 0],
  'top-right': [1, 0],
  left: [0, 0.5],
  center: [0.5, 0.5],
  right: [1, 0.5],
  'bottom-left': [0, 1],
  bottom: [0.5, 1],
  'bottom-right': [1, 1],
};

/**
 * A bitmap fill (§20.113 and on): stretched, once, or repeated. Offsets of the reference point count in shares of a tile.
 * Readers take whole tiles: one that covers the box shows as a crop, smaller ones as tiles.
 */
function filled(
  site: Site,
  outer: Size,
  pixels: Size,
  physical: Size,
  margin: number,
): { placement: Placement; crop: Crop } {
  // Round the shape itself there may be room for a line: nothing is filled there.
  const size = { width: outer.width - 2 * margin, height: outer.height - 2 * margin };
  const get = (name: string): string | undefined => site.styles.property(site.style, name);
  const nothing = { left: 0, top: 0, right: 0, bottom: 0 };
  const repeat = get('style:repeat') ?? 'repeat';
  if (repeat === 'stretch') return { crop: nothing, placement: placementFromFileCrop(nothing, size, pixels) };
  const extent = (name: string, whole: number, own: number): number => {
    const length = lengthOf(get(name));
    const share = percentOf(get(name));
    return length && length > 0 ? length : share && share > 0 ? share * whole : own;
  };
  const w = extent('draw:fill-image-width', outer.width, physical.width);
  const h = extent('draw:fill-image-height', outer.height, physical.height);
  const [ax, ay] = ANCHOR[get('draw:fill-image-ref-point') ?? 'top-left'] ?? [0, 0];
  const x = (outer.width - w) * ax + (percentOf(get('draw:fill-image-ref-point-x')) ?? 0) * w - margin;
  const y = (outer.height - h) * ay + (percentOf(get('draw:fill-image-ref-point-y')) ?? 0) * h - margin;
  // The tile that lies over the box's top left corner.
  const ox = mod(-x, w);
  const oy = mod(-y, h);
  const slack = 1e-3;
  const covers = ox + size.width <= w + slack && oy + size.height <= h + slack;
  if (repeat === 'no-repeat' || covers) {
    const [l, t] = repeat === 'no-repeat' ? [-x, -y] : [ox, oy];
    const crop = {
      left: l / w,
      top: t / h,
      right: 1 - (l + size.width) / w,
      bottom: 1 - (t + size.height) / h,
    };
    const whole = expandCrop(crop, size, margin);
    return { crop: whole, placement: placementFromFileCrop(whole, outer, pixels) };
  }
  const tiling = { scale: h / pixels.height / POINTS.px, origin: { x: -ox, y: -oy } };
  const distortion = w / pixels.width / (h / pixels.height);
  const placement = placementOfTiling(tiling, size, pixels);
  const aimed = Math.abs(distortion - 1) < 1e-3 ? placement : { ...placement, distortion };
  return { crop: nothing, placement: aimed };
}

const mod = (a: number, b: number): number => {
  const m = ((a % b) + b) % b;
  // Written shares are rounded: a whole tile less a hair is none.
  return b - m < 1e-3 ? 0 : m;
};

function readShape(site: Site, size: Size): Frame['shape'] {
  const { element, names } = site;
  if (is(element, 'draw', 'custom-shape')) return readGeometry(child(element, 'enhanced-geometry'), names, size);
  if (is(element, 'draw', 'circle', 'ellipse'))
    return { name: Math.abs(size.width - size.height) < 1e-3 ? 'circle' : 'ellipse', knobs: {} };
  const radius = lengthOf(names.get(element, 'draw:corner-radius')) ?? 0;
  if (is(element, 'draw', 'rect') && radius > 0)
    return { name: 'rounded', knobs: { radius: clamp(radius / Math.min(size.width, size.height), 0, 0.5) } };
  if (is(element, 'draw', 'frame', 'rect')) return { name: 'rectangle', knobs: {} };
  return { name: 'custom', knobs: {} };
}

const COLOUR = /#([0-9a-fA-F]{6})\b/;
const colourOf = (text: string | undefined): string | null => {
  const m = COLOUR.exec(text ?? '');
  return m ? m[0].toLowerCase() : null;
};

/** A line of a shape (§20.164 and on), or the border of a frame in a text (§20.183, fo:border). */
function readOutline(site: Site): Outline | null {
  const get = (name: string): string | undefined => site.styles.property(site.style, name);
  const common = { dash: 'solid', join: 'mitre', cap: 'butt', side: 'on' } as const;
  if (hasBorder(site)) {
    const border = get('fo:border') ?? '';
    const weight = lengthOf(border.split(/\s+/).find((w) => lengthOf(w) !== null));
    const colour = colourOf(border);
    if (!weight || !colour || /\b(none|hidden)\b/.test(border)) return null;
    const lines = /\bdouble\b/.test(border) ? { lines: 'double' as const } : {};
    const dash = /\bdotted\b/.test(border) ? 'dot' : /\bdashed\b/.test(border) ? 'dash' : 'solid';
    return { paint: { kind: 'solid', colour, opacity: 1 }, weight, ...common, dash, ...lines };
  }
  const stroke = get('draw:stroke') ?? (site.image ? 'none' : 'solid');
  if (stroke === 'none') return null;
  const weight = lengthOf(get('svg:stroke-width')) ?? 0;
  const join = get('draw:stroke-linejoin');
  const cap = get('svg:stroke-linecap');
  return {
    paint: {
      kind: 'solid',
      colour: colourOf(get('svg:stroke-color')) ?? '#000000',
      opacity: clamp(percentOf(get('svg:stroke-opacity')) ?? Number(get('svg:stroke-opacity') ?? 1), 0, 1),
    },
    // A line without a width is the thinnest that can be seen.
    weight: clamp(weight, 0.1, 1584),
    ...common,
    dash: stroke === 'dash' ? 'dash' : 'solid',
    join: join === 'round' ? 'round' : join === 'bevel' ? 'bevel' : 'mitre',
    cap: cap === 'round' ? 'round' : cap === 'square' ? 'square' : 'butt',
  };
}

/** Frames in a text have a border where shapes have a line (§20.176, fo:border; from memory). */
export const hasBorder = ({ inText, image, element }: Site): boolean =>
  inText && (image !== null || is(element, 'draw', 'frame'));

/** `draw:shadow` (§20.150 and on) of shapes; `style:shadow` (§20.359) of frames in a text. */
function readShadow(site: Site): Shadow | null {
  const get = (name: string): string | undefined => site.styles.property(site.style, name);
  const plain = { kind: 'outer', blur: 0, spread: 0 } as const;
  if (hasBorder(site)) {
    const text = get('style:shadow') ?? 'none';
    const [dx, dy] = text.split(/\s+/).flatMap((w) => lengthOf(w) ?? []);
    const colour = colourOf(text);
    return colour && dx !== undefined ? { ...plain, dx, dy: dy ?? dx, colour, opacity: 1 } : null;
  }
  if (get('draw:shadow') !== 'visible') return null;
  return {
    ...plain,
    dx: lengthOf(get('draw:shadow-offset-x')) ?? 0,
    dy: lengthOf(get('draw:shadow-offset-y')) ?? 0,
    colour: colourOf(get('draw:shadow-color')) ?? '#808080',
    opacity: clamp(percentOf(get('draw:shadow-opacity')) ?? 1, 0, 1),
  };
}
