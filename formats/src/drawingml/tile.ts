import { placementOfTiling, tilingOf, toEmu, turnOf, type Frame, type Placement, type Size } from '@gable/core';
import { child, type Element } from '../xml/located';
import { bindingsOf, escapeXml, type Splice } from '../xml/splice';
import type { Site } from './site';
import { formatShare, measure, share } from './values';

/**
 * Tiles: `a:tile` (ISO/IEC 29500-1 §20.1.8.58), the fill of a shape. Scales are shares of the picture at its own size, by
 * the fill's `dpi` (§20.1.8.14) or the picture's own density; flips take every second tile.
 */
const FLIPS = { none: 'none', across: 'x', down: 'y', both: 'xy' } as const;
/** The density that is written, so that no reader has to guess: a pixel is 0.75 pt. */
const DENSITY = 96;
/** Offsets of the nine places, in shares of the free space. */
const ALIGNED: Record<string, [number, number]> = {
  tl: [0, 0],
  t: [0.5, 0],
  tr: [1, 0],
  l: [0, 0.5],
  ctr: [0.5, 0.5],
  r: [1, 0.5],
  bl: [0, 1],
  b: [0.5, 1],
  br: [1, 1],
};

/** A fill that repeats the whole picture; null for every other one. */
export function readTile(blipFill: Element | undefined, box: Size, picture: Size, density: number): Placement | null {
  const tile = child(blipFill, 'tile');
  const src = child(blipFill, 'srcRect');
  if (!tile || ['l', 't', 'r', 'b'].some((k) => (share(src?.attributes[k]) ?? 0) !== 0)) return null;
  const at = tile.attributes;
  const own = Number(blipFill?.attributes['dpi']);
  const dpi = own > 0 ? own : density;
  const [sx, sy] = [share(at['sx']) ?? 1, share(at['sy']) ?? 1];
  if (!(sx > 1e-4) || !(sy > 1e-4)) return null;
  const [ax, ay] = ALIGNED[at['algn'] ?? 'tl'] ?? [0, 0];
  const width = (picture.width * sx * 72) / dpi;
  const height = (picture.height * sy * 72) / dpi;
  const origin = {
    x: (box.width - width) * ax + (measure(at['tx']) ?? 0),
    y: (box.height - height) * ay + (measure(at['ty']) ?? 0),
  };
  // More tiles than a page has points are no picture any more.
  if ((box.width / width) * (box.height / height) > 1e5) return null;
  const plain = placementOfTiling({ scale: sy, origin }, box, picture, dpi);
  const distorted =
    Math.abs(sx / sy - 1) < 1e-6 ? plain : withDistortion(plain, sx / sy, origin, box, picture, dpi, sy);
  const mirrored = (Object.keys(FLIPS) as (keyof typeof FLIPS)[]).find((k) => FLIPS[k] === at['flip']);
  return mirrored && mirrored !== 'none' ? { ...distorted, mirrored } : distorted;
}

function withDistortion(
  plain: Placement,
  distortion: number,
  origin: { x: number; y: number },
  box: Size,
  picture: Size,
  dpi: number,
  scale: number,
): Placement {
  const asked = { ...plain, distortion, zoom: 1 };
  // Zoom counts from covering, which depends on the distortion.
  const zoom = scale / tilingOf(asked, box, picture, dpi).scale;
  const across = ((picture.width * scale * 72) / dpi) * distortion;
  return { ...asked, zoom, aim: { u: (box.width / 2 - origin.x) / across, v: plain.aim.v } };
}

/** Can the frame's tiles be said here? Only a shape has a fill that repeats; a text document's picture is none. */
export function canTile({ pic, blipFill, otherFills }: Site, next: Frame): boolean {
  const { placement: p, seat, outline } = next;
  if (otherFills?.length) return false;
  if (turnOf(p.turn) !== 0 || p.mirror || seat.fit !== 'fill') return false;
  if (outline && (outline.side !== 'on' || outline.gap)) return false;
  if (pic.local !== 'pic') return true;
  return !next.source && !!blipFill && pic.name.indexOf(':') > 0 && !/picture$/.test(pic.uri);
}

/** Makes the picture a shape where it is none, and repeats its fill. @param a names of the drawing namespace */
export function writeTile(
  splice: Splice,
  site: Site,
  next: Frame,
  size: Size,
  a: { name: (local: string) => string; declare: string; strict: boolean },
  afterFill: readonly string[],
): void {
  const { scale, origin } = tilingOf(next.placement, next.box, size, DENSITY);
  const across = scale * next.placement.distortion;
  const flip = FLIPS[next.placement.mirrored ?? 'none'];
  const tile = (declare: string): string =>
    `<${a.name('tile')}${declare} tx="${toEmu(origin.x)}" ty="${toEmu(origin.y)}" sx="${formatShare(across, a.strict)}" sy="${formatShare(scale, a.strict)}" flip="${flip}" algn="tl"/>`;
  const { pic, blipFill, spPr } = site;
  if (!blipFill || !spPr) return;
  if (pic.local !== 'pic') {
    splice.attribute(blipFill, 'dpi', String(DENSITY));
    splice.slot(blipFill, ['srcRect'], ['tile', 'stretch'], null);
    splice.slot(blipFill, ['tile', 'stretch'], [], tile(a.declare));
    return;
  }
  const prefix = pic.name.slice(0, pic.name.length - pic.local.length);
  const macro = Object.entries(pic.attributes)
    .filter(([name]) => name === 'macro' || name === 'fPublished')
    .map(([name, value]) => ` ${name}="${escapeXml(value)}"`)
    .join('');
  splice.retag(pic, `<${prefix}sp${bindingsOf(pic)}${macro}>`, `</${prefix}sp>`);
  const holder = child(pic, 'nvPicPr');
  const locks = child(holder, 'cNvPicPr');
  if (holder) splice.retag(holder, `<${prefix}nvSpPr${bindingsOf(holder)}>`, `</${prefix}nvSpPr>`);
  if (locks) splice.replace(locks, `<${prefix}cNvSpPr/>`);
  const blip = child(blipFill, 'blip');
  splice.replace(blipFill, '');
  const fill = `<${a.name('blipFill')}${bindingsOf(blipFill)}${a.declare} dpi="${DENSITY}" rotWithShape="1">${blip ? splice.source(blip) : ''}${tile('')}</${a.name('blipFill')}>`;
  splice.slot(spPr, ['noFill', 'solidFill', 'gradFill', 'blipFill', 'pattFill', 'grpFill'], afterFill, fill);
}

/** The density of a fill without one of its own. */
export const densityOf = (blipFill: Element | undefined, own: () => { x: number } | null): number =>
  child(blipFill, 'tile') && !(Number(blipFill?.attributes['dpi']) > 0) ? (own()?.x ?? DENSITY) : DENSITY;
