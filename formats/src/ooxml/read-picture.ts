import {
  CENTRED,
  FULL_SEAT,
  findShape,
  placementFromCrop,
  PRESET_PREFIX,
  SHAPES,
  turnOf,
  type Crop,
  type Frame,
  type Outline,
  type Shadow,
  type Size,
} from '@gable/core';
import { child, descend, type Element } from '../xml/located';
import { readColour, type Theme } from './colour';
import { readCustomGeometry } from './geometry';
import { NS } from './names';
import { integer, measure, share } from './values';

/** The elements of one picture in a part, with the values as the file has them. */
export interface Site {
  /** Part that holds it. */
  part: string;
  pic: Element;
  /** `wp:inline` or `wp:anchor`. */
  holder: Element;
  spPr: Element | undefined;
  blipFill: Element | undefined;
  /** How much the groups round it scale it; 1 outside of groups. */
  group: { x: number; y: number } | null;
}

/** A frame as read, and the raw crop beside it, so that unchanged values are never rewritten. */
export interface ReadPicture {
  frame: Frame;
  crop: Crop;
  size: Size;
}

export const isPicture = (e: Element): boolean => e.local === 'pic' && NS.picture.has(e.uri);

/** @returns the site of a `pic:pic`, or null when it stands outside of any drawing */
export function siteOf(pic: Element, part: string): Site | null {
  let holder: Element | null = null;
  let grouped = false;
  const k = { x: 1, y: 1 };
  for (let e = pic.parent; e; e = e.parent) {
    if ((e.local === 'inline' || e.local === 'anchor') && NS.wordDrawing.has(e.uri)) {
      holder = e;
      break;
    }
    const frame = e.local === 'wgp' || e.local === 'grpSp' ? child(e, 'grpSpPr') : undefined;
    if (e.local === 'wgp' || e.local === 'grpSp') {
      const xfrm = child(frame, 'xfrm');
      const ratio = (name: 'cx' | 'cy'): number => {
        const outer = integer(child(xfrm, 'ext')?.attributes[name]);
        const inner = integer(child(xfrm, 'chExt')?.attributes[name]);
        return outer > 0 && inner > 0 ? outer / inner : 1;
      };
      grouped = true;
      k.x *= ratio('cx');
      k.y *= ratio('cy');
    }
  }
  return (
    holder && {
      part,
      pic,
      holder,
      spPr: child(pic, 'spPr'),
      blipFill: child(pic, 'blipFill'),
      group: grouped ? k : null,
    }
  );
}

/** The relationship ids of a picture's data: embedded, or linked from outside. */
export function blipIds(site: Site): { embed?: string; link?: string } {
  const blip = child(site.blipFill, 'blip');
  const out: { embed?: string; link?: string } = {};
  for (const [name, value] of Object.entries(blip?.attributes ?? {})) {
    if (name === 'embed' || name.endsWith(':embed')) out.embed = value;
    if (name === 'link' || name.endsWith(':link')) out.link = value;
  }
  return out;
}

/**
 * The frame of a picture.
 * @param pixels stored size; null when unknown, then a size is assumed that makes the crop true
 */
export function readPicture(site: Site, n: number, pixels: Size | null, theme: () => Theme): ReadPicture {
  const size = readSize(site);
  const xfrm = child(site.spPr, 'xfrm');
  const crop = readCrop(site);
  const shape = readShape(site, size);
  const outline = readOutline(child(site.spPr, 'ln'), theme);
  const assumed = pixels ?? {
    width: size.width / (1 - crop.left - crop.right),
    height: size.height / (1 - crop.top - crop.bottom),
  };
  const placement = placementFromCrop(crop, size, assumed);
  return {
    crop,
    size: assumed,
    frame: {
      n,
      flow: site.holder.local === 'anchor' ? 'floating' : 'inline',
      box: { x: readOffset(site, 'positionH'), y: readOffset(site, 'positionV'), ...size },
      turn: turnOf(integer(xfrm?.attributes['rot']) / 60_000),
      flip: { horizontal: isOn(xfrm?.attributes['flipH']), vertical: isOn(xfrm?.attributes['flipV']) },
      seat: FULL_SEAT,
      shape,
      placement: placement ?? CENTRED,
      backing: null,
      outline,
      shadow: readShadow(child(site.spPr, 'effectLst'), theme),
      alt: alternativeText(site),
    },
  };
}

const isOn = (v: string | undefined): boolean => v === '1' || v === 'true' || v === 'on';

/** The text beside the drawing; the picture's own when that is empty. */
function alternativeText(site: Site): string {
  const outer = site.group ? undefined : child(site.holder, 'docPr')?.attributes['descr'];
  return (outer || descend(site.pic, 'nvPicPr', 'cNvPr')?.attributes['descr']) ?? '';
}

/** Box size in points. The drawing's extent is what a page reserves and shows; in groups and turned frames the shape's own. */
function readSize(site: Site): Size {
  const own = descend(site.spPr, 'xfrm', 'ext');
  const outer = child(site.holder, 'extent');
  const turned = integer(child(site.spPr, 'xfrm')?.attributes['rot']) !== 0;
  const from = (e: Element | undefined, k = { x: 1, y: 1 }): Size | null => {
    const width = (measure(e?.attributes['cx']) ?? 0) * k.x;
    const height = (measure(e?.attributes['cy']) ?? 0) * k.y;
    return width > 0 && height > 0 ? { width, height } : null;
  };
  if (site.group) return from(own, site.group) ?? from(outer) ?? { width: 72, height: 72 };
  return (turned ? from(own) : null) ?? from(outer) ?? from(own) ?? { width: 72, height: 72 };
}

/** A freely placed drawing's offset in points; 0 where it is aligned instead. */
function readOffset(site: Site, axis: 'positionH' | 'positionV'): number {
  const text = descend(site.holder, axis, 'posOffset')?.text;
  return text === undefined ? 0 : (measure(text.trim()) ?? 0);
}

/** Hidden shares from `a:srcRect` (§20.1.8.55), with an inset of the fill (`a:fillRect`, §20.1.8.30) folded in. */
function readCrop(site: Site): Crop {
  const side = (e: Element | undefined, name: string): number => share(e?.attributes[name]) ?? 0;
  const src = child(site.blipFill, 'srcRect');
  const crop = { left: side(src, 'l'), top: side(src, 't'), right: side(src, 'r'), bottom: side(src, 'b') };
  const fill = descend(site.blipFill, 'stretch', 'fillRect');
  const fold = (near: number, far: number, a: number, b: number): [number, number] => {
    const seen = 1 - near - far;
    const part = 1 - a - b;
    return part > 0 ? [near - (a * seen) / part, far - (b * seen) / part] : [near, far];
  };
  if (fill && ['l', 't', 'r', 'b'].some((k) => side(fill, k) !== 0)) {
    [crop.left, crop.right] = fold(crop.left, crop.right, side(fill, 'l'), side(fill, 'r'));
    [crop.top, crop.bottom] = fold(crop.top, crop.bottom, side(fill, 't'), side(fill, 'b'));
  }
  // A crop that leaves nothing cannot be shown; the whole picture can.
  const sane = 1 - crop.left - crop.right > 1e-4 && 1 - crop.top - crop.bottom > 1e-4;
  return sane ? crop : { left: 0, top: 0, right: 0, bottom: 0 };
}

/** Adjust values of a preset geometry, as whole numbers. */
export function readAdjust(geometry: Element | undefined): Record<string, number> {
  const out: Record<string, number> = {};
  for (const gd of child(geometry, 'avLst')?.children ?? []) {
    const value = /^\s*val\s+(-?\d+)\s*$/.exec(gd.attributes['fmla'] ?? '')?.[1];
    if (value !== undefined && gd.attributes['name']) out[gd.attributes['name']] = Number(value);
  }
  return out;
}

/** A box is square for this purpose when its sides differ by no more than whole EMU can tell. */
const isSquare = (s: Size): boolean => Math.abs(s.width - s.height) <= 1.5 / 12_700;

function readShape(site: Site, size: Size): Frame['shape'] {
  const custom = child(site.spPr, 'custGeom');
  if (custom) return readCustomGeometry(custom, size);
  const geometry = child(site.spPr, 'prstGeom');
  const preset = geometry?.attributes['prst'] ?? 'rect';
  if (preset === 'ellipse') return { name: isSquare(size) ? 'circle' : 'ellipse', knobs: {} };
  if (preset === 'rect') return { name: 'rectangle', knobs: {} };
  const adjust = readAdjust(geometry);
  const shape = SHAPES.find((s) => s.preset?.name === preset);
  if (!shape || !findShape(shape.name)) return { name: `${PRESET_PREFIX}${preset}`, knobs: adjust };
  return { name: shape.name, knobs: { ...shape.preset!.fromAdjust(adjust, size.width, size.height) } };
}

const DASH: Record<string, Outline['dash']> = {
  solid: 'solid',
  sysDot: 'dot',
  dot: 'dot',
  sysDash: 'dash',
  dash: 'dash',
  lgDash: 'long-dash',
  sysDashDot: 'dash-dot',
  dashDot: 'dash-dot',
  lgDashDot: 'long-dash-dot',
  sysDashDotDot: 'long-dash-dot-dot',
  lgDashDotDot: 'long-dash-dot-dot',
};

/** `cmpd` values (§20.1.10.15, ST_CompoundLine). */
const COMPOUND: Record<string, Pick<Outline, 'lines'>> = {
  dbl: { lines: 'double' },
  thickThin: { lines: 'thick-thin' },
  thinThick: { lines: 'thin-thick' },
  tri: { lines: 'triple' },
};

/** `a:ln` (§20.1.2.2.24). A line without a width is a hairline of 9,525 EMU, as the programs draw it (common practice). */
function readOutline(ln: Element | undefined, theme: () => Theme): Outline | null {
  if (!ln || child(ln, 'noFill')) return null;
  const solid = child(ln, 'solidFill');
  const gradient = child(ln, 'gradFill');
  const weight = measure(ln.attributes['w']) ?? 0.75;
  if ((!solid && !gradient) || weight <= 0) return null;
  const paint = solid ? readColour(solid, theme) : null;
  const stops = gradient ? readStops(gradient, theme) : [];
  const angle = integer(child(gradient, 'lin')?.attributes['ang']) / 60_000;
  return {
    paint:
      stops.length >= 2
        ? child(gradient, 'path')
          ? { kind: 'radial', stops }
          : { kind: 'linear', angle, stops }
        : { kind: 'solid', ...(paint ?? { colour: stops[0]?.colour ?? '#000000', opacity: 1 }) },
    weight: Math.min(weight, 1584),
    side: ln.attributes['algn'] === 'in' ? 'inside' : 'on',
    ...(COMPOUND[ln.attributes['cmpd'] ?? 'sng'] ?? {}),
    dash: DASH[child(ln, 'prstDash')?.attributes['val'] ?? 'solid'] ?? 'solid',
    join: child(ln, 'round') ? 'round' : child(ln, 'bevel') ? 'bevel' : 'mitre',
    cap: ln.attributes['cap'] === 'rnd' ? 'round' : ln.attributes['cap'] === 'sq' ? 'square' : 'butt',
  };
}

function readStops(gradient: Element, theme: () => Theme): { at: number; colour: string; opacity: number }[] {
  const stops = (child(gradient, 'gsLst')?.children ?? []).flatMap((gs) => {
    const c = readColour(gs, theme);
    return c ? [{ at: Math.min(1, Math.max(0, share(gs.attributes['pos']) ?? 0)), ...c }] : [];
  });
  return stops.sort((a, b) => a.at - b.at).slice(0, 10);
}

/** `a:outerShdw` (§20.1.8.45) and `a:innerShdw` (§20.1.8.40): direction in 1/60,000°, clockwise from the right. */
function readShadow(effects: Element | undefined, theme: () => Theme): Shadow | null {
  const e = child(effects, 'outerShdw') ?? child(effects, 'innerShdw');
  if (!e) return null;
  const dist = measure(e.attributes['dist']) ?? 0;
  const angle = (integer(e.attributes['dir']) / 60_000 / 180) * Math.PI;
  return {
    kind: e.local === 'outerShdw' ? 'outer' : 'inner',
    dx: dist * Math.cos(angle),
    dy: dist * Math.sin(angle),
    blur: Math.max(0, measure(e.attributes['blurRad']) ?? 0),
    spread: 0,
    ...(readColour(e, theme) ?? { colour: '#000000', opacity: 0.4 }),
  };
}
