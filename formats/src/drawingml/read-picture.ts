import {
  boundedPixels,
  CENTRED,
  type Crop,
  findShape,
  type Frame,
  fromEmu,
  FULL_SEAT,
  type Outline,
  type Paint,
  placementFromCrop,
  PRESET_PREFIX,
  type Shadow,
  SHAPES,
  type Size,
  solidOutline,
  turnOf,
  withinBounds,
} from '@gable/core';
import { ancestor, child, descend, type Element } from '../xml/located';
import { readColour, referredWith, type Theme } from './colour';
import { readCustomGeometry, readOffsetOutline } from './geometry';
import { alignedBox } from '../codec/beside-text';
import { normaliseBox } from '../codec/normalise';
import type { Look } from '../codec/page-items';
import { isStrict, NS } from '../ooxml/names';
import { METADATA_NAMESPACE } from '../metadata/digest';
import { METADATA_EXTENSION, decodeMetadata } from '../metadata/metadata';
import { fromNative } from '../equivalents/offset-outline';
import { readTone } from './recolour';
import type { ReadPicture, Site } from './site';
import { readAnchor, readOffset } from './text-anchor';
import { densityOf, readTile } from './tile';
import { veilIn } from './veil-text';
import { integer, measure, share } from './values';

/** `wps:wsp`, a shape of a text document ([MS-ODRAWXML] §2.19). */
export const WORD_SHAPE = 'http://schemas.microsoft.com/office/word/2010/wordprocessingShape';

/** A picture, or a shape that is filled with one. */
export const isPicture = (e: Element): boolean =>
  (e.local === 'pic' && (NS.picture.has(e.uri) || NS.presentation.has(e.uri) || NS.sheetDrawing.has(e.uri))) ||
  (((e.local === 'sp' && (NS.presentation.has(e.uri) || NS.sheetDrawing.has(e.uri))) ||
    (e.local === 'wsp' && e.uri === WORD_SHAPE)) &&
    fillsIn(child(e, 'spPr')).some((fill) => child(fill, 'blip') && !veilIn(fill)));

/** The first picture inside an element. */
export function firstPicture(e: Element): Element | undefined {
  for (const c of e.children) {
    const found = isPicture(c) ? c : firstPicture(c);
    if (found) return found;
  }
  return undefined;
}

/** The groups round an element: their common scale, and where their coordinates begin (§20.1.7.5, CT_GroupTransform2D). */
function groupsOf(pic: Element): Pick<Site, 'group' | 'origin'> {
  let grouped = false;
  const k = { x: 1, y: 1 };
  const origin = { x: 0, y: 0 };
  for (let e = pic.parent; e; e = e.parent) {
    if (e.local !== 'wgp' && e.local !== 'grpSp') continue;
    grouped = true;
    const xfrm = child(child(e, 'grpSpPr'), 'xfrm');
    for (const [axis, size] of [
      ['x', 'cx'],
      ['y', 'cy'],
    ] as const) {
      const at = (name: string, key: string): number => integer(child(xfrm, name)?.attributes[key]);
      const [outer, inner] = [at('ext', size), at('chExt', size)];
      const ratio = outer > 0 && inner > 0 ? outer / inner : 1;
      origin[axis] = at('off', axis) + (origin[axis] - at('chOff', axis)) * ratio;
      k[axis] *= ratio;
    }
  }
  return { group: grouped ? k : null, ...(grouped ? { origin } : {}) };
}

/**
 * The picture fills of an element: its own, or those in the branches of alternate content (ISO/IEC 29500-3 §7.6), of which
 * the last, the fallback, is what every reader can show; it comes first here.
 */
function fillsIn(e: Element | undefined): Element[] {
  const own = child(e, 'blipFill');
  if (own || !e) return own ? [own] : [];
  return e.children
    .filter((c) => c.local === 'AlternateContent' && NS.compatibility.has(c.uri))
    .flatMap((c) => c.children.flatMap((branch) => child(branch, 'blipFill') ?? []))
    .reverse();
}

function parts(pic: Element, part: string): Omit<Site, 'holder' | 'group'> {
  const spPr = child(pic, 'spPr');
  const [blipFill, ...otherFills] = [...fillsIn(pic), ...fillsIn(spPr)];
  const style = child(pic, 'style');
  return { part, pic, spPr, blipFill, otherFills, style, strict: isStrict(child(blipFill, 'blip')?.uri ?? pic.uri) };
}

/** @returns the site of a picture in a text document, or null when it stands outside of any drawing */
export function siteOf(pic: Element, part: string): (Site & { holder: Element }) | null {
  const holder = ancestor(pic, (e) => (e.local === 'inline' || e.local === 'anchor') && NS.wordDrawing.has(e.uri));
  if (!holder) return null;
  return { ...parts(pic, part), holder, group: groupsOf(pic).group };
}

/** The site of a picture on a slide or a sheet. */
export const freeSiteOf = (pic: Element, part: string, more: Pick<Site, 'inherited' | 'anchor'> = {}): Site => ({
  ...parts(pic, part),
  ...groupsOf(pic),
  holder: null,
  ...more,
});

/** A site with each of its fills in turn. */
export const eachFill = (site: Site): Site[] => [
  site,
  ...(site.otherFills ?? []).map((blipFill) => ({ ...site, blipFill, otherFills: [] })),
];

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

/** Box, shape, line, shadow and text: what pictures and other shapes say alike. */
export function readLook(site: Site, theme: () => Theme): Look {
  const { width, height } = normaliseBox({ x: 0, y: 0, ...readSize(site) });
  const xfrm = transformOf(site);
  return {
    box: normaliseBox({ ...readPlace(site), width, height }),
    turn: turnOf(integer(xfrm?.attributes['rot']) / 60_000),
    flip: { horizontal: isOn(xfrm?.attributes['flipH']), vertical: isOn(xfrm?.attributes['flipV']) },
    shape: readShape(site, { width, height }),
    outline: readLine(site, theme),
    shadow: readEffects(site, theme),
    alt: alternativeText(site),
  };
}

/**
 * The frame of a picture.
 * @param pixels stored size; null when unknown, then a size is assumed that makes the crop true
 * @param density pixels to the inch that the picture names; asked only for tiles without one of their own
 */
export function readPicture(
  site: Site,
  n: number,
  pixels: Size | null,
  theme: () => Theme,
  density: () => { x: number } | null = () => null,
): ReadPicture {
  const look = readLook(site, theme);
  const size = { width: look.box.width, height: look.box.height };
  const crop = readCrop(site);
  const assumed = boundedPixels(
    pixels ?? {
      width: size.width / (1 - crop.left - crop.right),
      height: size.height / (1 - crop.top - crop.bottom),
    },
  );
  const tone = readTone(site, theme);
  const placement =
    readTile(site.blipFill, size, assumed, densityOf(site.blipFill, density)) ?? placementFromCrop(crop, size, assumed);
  const anchor = site.holder && !site.group ? readAnchor(site.holder) : undefined;
  const filed = withinBounds({
    n,
    flow: site.holder?.local === 'inline' ? 'inline' : 'floating',
    ...(anchor && { anchor }),
    ...look,
    box: alignedBox(look.box, anchor, site.room),
    seat: FULL_SEAT,
    placement: placement ?? CENTRED,
    backing: null,
    ...(tone && { tone }),
  });
  const custom = own(site, 'custGeom');
  const offset = custom && look.outline ? readOffsetOutline(custom, size) : null;
  const native = offset ? fromNative(filed, offset.ring, offset.shape, crop, assumed) : filed;
  const known = decodeMetadata(extensionOf(site)?.text, native, assumed);
  return {
    crop,
    size: assumed,
    frame: known ? { ...known, ...(tone && { tone }) } : native,
    native: offset ? { ...filed, shape: { name: 'custom', knobs: { ...offset.ring } } } : filed,
  };
}

/** What we know of a frame beside its native terms (§20.1.2.2.14, ext). */
export const extensionOf = (site: Site): Element | undefined =>
  child(namedOf(site), 'extLst')
    ?.children.find((e) => e.attributes['uri'] === METADATA_EXTENSION)
    ?.children.find((e) => e.uri === METADATA_NAMESPACE);

const isOn = (v: string | undefined): boolean => v === '1' || v === 'true' || v === 'on';

/** The text beside the drawing; the picture's own when that is empty. */
function alternativeText(site: Site): string {
  const outer = site.group ? undefined : child(site.holder, 'docPr')?.attributes['descr'];
  return (outer || namedOf(site)?.attributes['descr']) ?? '';
}

/** `cNvPr`, which names a drawing (§20.1.2.2.8); a text document's shape may hold it without a wrapper. */
export const namedOf = ({ pic }: Site): Element | undefined =>
  descend(pic, 'nvPicPr', 'cNvPr') ?? descend(pic, 'nvSpPr', 'cNvPr') ?? child(pic, 'cNvPr');

/** A property of its own, or of the nearest placeholder that has one. */
function own(site: Site, ...names: string[]): Element | undefined {
  for (const spPr of [site.spPr, ...(site.inherited ?? [])])
    for (const name of names) {
      const found = child(spPr, name);
      if (found) return found;
    }
  return undefined;
}

/** `a:xfrm`, with sides; without, the placeholder's. */
const transformOf = (site: Site): Element | undefined =>
  child(site.spPr, 'xfrm') ?? (site.inherited ?? []).map((i) => child(i, 'xfrm')).find((x) => x !== undefined);

/** The top left corner in points: from paragraph and column, from the slide's or the sheet's corner. */
function readPlace(site: Site): { x: number; y: number } {
  if (site.anchor && !site.group) return { x: site.anchor.box.x, y: site.anchor.box.y };
  if (site.holder) return { x: readOffset(site.holder, 'x'), y: readOffset(site.holder, 'y') };
  const off = child(transformOf(site), 'off');
  const { group, origin } = site;
  const at = (name: 'x' | 'y'): number => {
    const value = measure(off?.attributes[name]) ?? 0;
    return origin && group ? fromEmu(origin[name]) + value * group[name] : value;
  };
  return { x: at('x'), y: at('y') };
}

/**
 * The line of the shape itself, of its placeholder, and of the theme that it refers to (§20.1.4.2.19, lnRef): what the
 * nearer does not say is taken from the next.
 */
function readLine(site: Site, theme: () => Theme): Outline | null {
  const own = [site.spPr, ...(site.inherited ?? [])].flatMap((spPr) => child(spPr, 'ln') ?? []);
  const ref = child(site.style, 'lnRef');
  const number = integer(ref?.attributes['idx']);
  if (!ref || number < 1) return readOutline(own, theme);
  const colour = readColour(ref, theme);
  const themed = theme().lines[number - 1];
  if (themed) return readOutline([...own, themed], referredWith(colour?.colour, theme));
  if (own.length > 0) return readOutline(own, theme);
  // Widths of a theme's three lines, where there is no theme: 0.5, 1 and 1.5 pt (common practice).
  const weight = [0.5, 1, 1.5][Math.min(3, number) - 1]!;
  return colour ? solidOutline(weight, colour.colour, colour.opacity) : null;
}

/** The shadow of the shape itself, of its placeholder, or of the theme that it refers to (§20.1.4.2.8, effectRef). */
function readEffects(site: Site, theme: () => Theme): Shadow | null {
  const said = own(site, 'effectLst', 'effectDag');
  // A graph of effects (§20.1.8.27, effectDag) is kept and not read; it stands for all effects, too.
  if (said) return said.local === 'effectLst' ? readShadow(said, theme) : null;
  const ref = child(site.style, 'effectRef');
  const number = integer(ref?.attributes['idx']);
  if (!ref || number < 1) return null;
  return readShadow(theme().effects[number - 1], referredWith(readColour(ref, theme)?.colour, theme));
}

/** Box size in points. The drawing's extent is what a page reserves and shows; in groups and turned frames the shape's own. */
function readSize(site: Site): Size {
  const xfrm = transformOf(site);
  const own = child(xfrm, 'ext');
  if (site.anchor && !site.group) return { width: site.anchor.box.width, height: site.anchor.box.height };
  const outer = child(site.holder, 'extent');
  const turned = integer(xfrm?.attributes['rot']) !== 0;
  const from = (e: Element | undefined, k = { x: 1, y: 1 }): Size | null => {
    const width = (measure(e?.attributes['cx']) ?? 0) * k.x;
    const height = (measure(e?.attributes['cy']) ?? 0) * k.y;
    return width > 0 && height > 0 ? { width, height } : null;
  };
  if (site.group) return from(own, site.group) ?? from(outer) ?? { width: 72, height: 72 };
  return (turned ? from(own) : null) ?? from(outer) ?? from(own) ?? { width: 72, height: 72 };
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
  const leavesSome = 1 - crop.left - crop.right > 1e-4 && 1 - crop.top - crop.bottom > 1e-4;
  return leavesSome ? crop : { left: 0, top: 0, right: 0, bottom: 0 };
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
  const geometry = own(site, 'custGeom', 'prstGeom');
  if (geometry?.local === 'custGeom') return readCustomGeometry(geometry, size);
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

/** Fills of a line (§20.1.2.2.24, CT_LineProperties). */
export const FILLS = ['noFill', 'solidFill', 'gradFill', 'pattFill'];

/**
 * `a:ln` (§20.1.2.2.24), the nearest first. A line without a width is a hairline of 9,525 EMU, as the programs draw it
 * (common practice).
 */
function readOutline(lines: readonly Element[], theme: () => Theme): Outline | null {
  const nearest = (...names: string[]): Element | undefined =>
    lines.flatMap((ln) => ln.children.find((c) => names.includes(c.local)) ?? [])[0];
  const attribute = (name: string): string | undefined =>
    lines.map((ln) => ln.attributes[name]).find((v) => v !== undefined);
  const fill = nearest(...FILLS);
  const solid = fill?.local === 'solidFill' ? fill : undefined;
  const gradient = fill?.local === 'gradFill' ? fill : undefined;
  const weight = measure(attribute('w')) ?? 0.75;
  if ((!solid && !gradient) || weight <= 0) return null;
  const join = nearest('round', 'bevel', 'miter')?.local;
  const cap = attribute('cap');
  const paint = solid ? readColour(solid, theme) : null;
  const stops = gradient ? readStops(gradient, theme) : [];
  return {
    paint:
      stops.length >= 2
        ? readRun(gradient!, stops)
        : { kind: 'solid', ...(paint ?? { colour: stops[0]?.colour ?? '#000000', opacity: 1 }) },
    weight: Math.min(weight, 1584),
    side: attribute('algn') === 'in' ? 'inside' : 'on',
    ...(COMPOUND[attribute('cmpd') ?? 'sng'] ?? {}),
    dash: DASH[nearest('prstDash', 'custDash')?.attributes['val'] ?? 'solid'] ?? 'solid',
    join: join === 'round' || join === 'bevel' ? join : 'mitre',
    cap: cap === 'rnd' ? 'round' : cap === 'sq' ? 'square' : 'butt',
  };
}

/**
 * How the stops of a gradient run (§20.1.8.33 to 47): along a line, in circles, or to the four sides. A path along the shape
 * itself is read as one to the sides, which it is in a rectangle.
 */
export function readRun(gradient: Element, stops: ReturnType<typeof readStops>): Exclude<Paint, { kind: 'solid' }> {
  const path = child(gradient, 'path');
  if (path)
    return { kind: ['rect', 'shape'].includes(path.attributes['path'] ?? '') ? 'rectangular' : 'radial', stops };
  return { kind: 'linear', angle: integer(child(gradient, 'lin')?.attributes['ang']) / 60_000, stops };
}

export function readStops(gradient: Element, theme: () => Theme): { at: number; colour: string; opacity: number }[] {
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
