import {
  BESIDE_TEXT,
  type Crop,
  deriveView,
  EMU_PER_POINT,
  equal,
  type Frame,
  GableError,
  type Outline,
  paintedBounds,
  type Shadow,
  shapeOf,
  toEmu,
  turnOf,
  viewCrop,
} from '@gable/core';
import { child, descend, type Element } from '../xml/located';
import { bindingsOf, escapeText, type Splice } from '../xml/splice';
import { encodeMetadata, metadataExtension } from '../metadata/metadata';
import { eachFill, extensionOf, FILLS, namedOf } from './read-picture';
import type { ReadPicture, Site } from './site';
import { nextNative, type NativeFrame } from '../equivalents/offset-outline';
import { anchorStart, leaveAnchor, wrapElement, writeAnchor, writePolygon } from './text-anchor';
import {
  COMPOUND_NAMES,
  DASH_NAMES,
  geometryText,
  joinText,
  lineText,
  namingAt,
  paintFill,
  shadowTerms,
  shadowText,
  type Naming,
} from './look-text';
import { writeTile } from './tile';
import { writeTone } from './recolour';
import { frontHeight } from '../ooxml/ids';
import { formatShare, integer, measure } from './values';

/** Children of CT_ShapeProperties in the order of the standard (§20.1.2.2.35). */
const SHAPE_PROPERTIES =
  'xfrm custGeom prstGeom noFill solidFill gradFill blipFill pattFill grpFill ln effectLst effectDag scene3d sp3d extLst'.split(
    ' ',
  );
const afterProperty = (name: string): string[] => SHAPE_PROPERTIES.slice(SHAPE_PROPERTIES.indexOf(name) + 1);

/** What must come after each child, by the content models of ISO/IEC 29500-1 (also §20.1.8.14 CT_BlipFillProperties, §20.4.2 drawings). */
const AFTER = {
  geometry: afterProperty('prstGeom'),
  line: afterProperty('ln'),
  transform: afterProperty('xfrm'),
  fill: afterProperty('grpFill'),
  effects: afterProperty('effectLst'),
  /** Children of CT_EffectList, §20.1.8.25. */
  innerShadow: ['outerShdw', 'prstShdw', 'reflection', 'softEdge'],
  outerShadow: ['prstShdw', 'reflection', 'softEdge'],
  fills: FILLS,
  dashes: ['prstDash', 'custDash'],
  joins: ['round', 'bevel', 'miter'],
  ends: ['headEnd', 'tailEnd', 'extLst'],
  crop: ['tile', 'stretch'],
  effectExtent: [
    'wrapNone',
    'wrapSquare',
    'wrapTight',
    'wrapThrough',
    'wrapTopAndBottom',
    'docPr',
    'cNvGraphicFramePr',
    'graphic',
  ],
} as const;

/** A hundred-thousandth: the step of a crop in the file. */
const CROP_STEP = 1e-5;

const moved = (a: number, b: number, step = 0.5 / EMU_PER_POINT): boolean => Math.abs(a - b) > step;

/** Can this picture leave the text and come back? Not in groups, text boxes, notes and comments. */
export const canMoveFreely = (site: Site, where: { place: string; textBox: boolean }): boolean =>
  !site.group && !where.textBox && ['body', 'header', 'footer'].includes(where.place);

/** Splices the difference between a frame as read and as it should be into one site. Nothing else is touched. */
export function writePicture(splice: Splice, site: Site, read: ReadPicture, asked: Frame): void {
  const was = read.native;
  const { frame: next, paths } = nextNative(read, asked);
  const flows = was.flow !== next.flow;
  const sized = moved(was.box.width, next.box.width) || moved(was.box.height, next.box.height);
  const shaped = !equal(was.shape, next.shape);
  const lined = !equal(was.outline, next.outline);
  const turned = was.turn !== next.turn || !equal(was.flip, next.flip);
  const placed = sized || turned;
  if (placed) writeSize(splice, site, was, next);
  if (site.anchor && !site.group) {
    if (sized || moved(was.box.x, next.box.x) || moved(was.box.y, next.box.y)) site.anchor.write(splice, next.box);
  } else if (!site.holder) writePlace(splice, site, was, next, placed);
  else if (!site.group && !flows && site.holder.local === 'anchor') writeAnchor(splice, site.holder, was, next);
  for (const each of eachFill(site)) {
    writeCrop(splice, each, read, next);
    if (each.blipFill && !equal(was.tone, next.tone))
      writeTone(splice, each, { was: was.tone, next: next.tone }, drawing(each, each.blipFill));
  }
  // A custom geometry is in lengths of its own: it is written anew when the box changes.
  if (shaped || (sized && isCustom(next))) writeGeometry(splice, site, was, next, paths);
  if (lined) writeOutline(splice, site, was.outline, next.outline, next.n);
  if (!equal(was.shadow, next.shadow)) writeShadow(splice, site, was.shadow, next);
  const painted = paths ? { ...next, outline: null } : next;
  if (site.holder && !site.group && (sized || !equal(paintedBounds(was), paintedBounds(painted))))
    writeOverflow(splice, site, painted);
  const rewrapped = (next.anchor ?? was.anchor)?.wrap !== was.anchor?.wrap;
  if (site.holder && !site.group && (sized || shaped) && !flows && !rewrapped) writePolygon(splice, site.holder, next);
  if (flows) writeFlow(splice, site, next);
  if (was.alt !== next.alt) writeAlternative(splice, site, next.alt);
  writeMetadata(splice, site, asked, read);
}

/** Writes the place, the size and the turn of a shape that stands in a text, or beside it. */
export function writeLying(splice: Splice, site: Site & { holder: Element }, was: Frame, next: Frame): void {
  const sized = moved(was.box.width, next.box.width) || moved(was.box.height, next.box.height);
  if (sized || was.turn !== next.turn) writeSize(splice, site, was, next);
  if (site.holder.local === 'anchor') writeAnchor(splice, site.holder, was, next);
  if (sized || !equal(paintedBounds(was), paintedBounds(next))) writeOverflow(splice, site, next);
  if (sized) writePolygon(splice, site.holder, next);
}

/**
 * Takes a picture out of the text, `wp:inline` (§20.4.2.8) to `wp:anchor` (§20.4.2.3), or puts it back. Free, it is placed
 * from its column and its paragraph, so that it stays with its words, and the text runs round its box.
 */
function writeFlow(splice: Splice, site: Site, next: Frame): void {
  const { holder } = site;
  if (site.group || !holder)
    throw new GableError(
      'cannot-write',
      holder ? `Picture ${next.n} is part of a group and moves with it.` : `Picture ${next.n} is not in a text.`,
      holder ? 'Ungroup it in the program the document was made with.' : 'Leave it where it is.',
      { n: next.n },
    );
  if (next.flow === 'inline') {
    leaveAnchor(splice, holder);
    return;
  }
  const prefix = holder.name.slice(0, holder.name.length - holder.local.length);
  const { anchor = BESIDE_TEXT, box } = next;
  splice.retag(
    holder,
    anchorStart(prefix, bindingsOf(holder), { anchor, box, height: frontHeight(holder, next.n) }),
    `</${prefix}anchor>`,
  );
  const after = ['docPr', 'cNvGraphicFramePr', 'graphic'];
  splice.slot(holder, ['wrapSquare'], after, wrapElement(prefix, anchor, next));
}

const drawing = ({ strict }: Site, at: Element): Naming => namingAt(at, strict);

/** `pic:spPr` is required by the schema (§20.2.2.6); a picture without one is not for us to repair. */
function properties(site: Site, n: number): Element {
  if (!site.spPr)
    throw new GableError(
      'cannot-write',
      `Picture ${n} lacks its shape properties.`,
      'Open the file in the program it was made with and save it again.',
      { n },
    );
  return site.spPr;
}

/** The flips of a transform (§20.1.7.6). */
const FLIPS = [
  ['flipH', 'horizontal'],
  ['flipV', 'vertical'],
] as const;

function writeSize(splice: Splice, site: Site, was: Frame, next: Frame): void {
  const k = site.group ?? { x: 1, y: 1 };
  const start = site.origin ?? { x: 0, y: 0 };
  const cx = Math.round(toEmu(next.box.width) / k.x);
  const cy = Math.round(toEmu(next.box.height) / k.y);
  const spPr = properties(site, next.n);
  const xfrm = child(spPr, 'xfrm');
  if (xfrm) {
    const ext = child(xfrm, 'ext');
    const off = child(xfrm, 'off');
    if (was.turn !== next.turn)
      splice.attribute(xfrm, 'rot', next.turn === 0 ? null : String(Math.round(turnOf(next.turn) * 60_000)));
    for (const [name, axis] of FLIPS)
      if (was.flip[axis] !== next.flip[axis]) splice.attribute(xfrm, name, next.flip[axis] ? '1' : null);
    if (ext) {
      // In a group the frame keeps its middle; elsewhere the drawing's own offset does that.
      if (site.group && site.holder && off) {
        splice.attribute(
          off,
          'x',
          String(integer(off.attributes['x']) + Math.round((integer(ext.attributes['cx']) - cx) / 2)),
        );
        splice.attribute(
          off,
          'y',
          String(integer(off.attributes['y']) + Math.round((integer(ext.attributes['cy']) - cy) / 2)),
        );
      }
      splice.attribute(ext, 'cx', String(cx));
      splice.attribute(ext, 'cy', String(cy));
    }
  } else {
    const a = drawing(site, spPr);
    const flips = FLIPS.map(([name, axis]) => (next.flip[axis] ? ` ${name}="1"` : '')).join('');
    const own = (axis: 'x' | 'y'): number =>
      site.holder ? 0 : Math.round((toEmu(next.box[axis]) - start[axis]) / k[axis]);
    const rot = (next.turn === 0 ? '' : ` rot="${Math.round(turnOf(next.turn) * 60_000)}"`) + flips;
    splice.slot(
      spPr,
      ['xfrm'],
      AFTER.transform,
      `<${a.name('xfrm')}${a.declare}${rot}><${a.name('off')} x="${own('x')}" y="${own('y')}"/><${a.name('ext')} cx="${cx}" cy="${cy}"/></${a.name('xfrm')}>`,
    );
  }
  if (site.group || !site.holder) return;
  const extent = child(site.holder, 'extent');
  if (extent) {
    splice.attribute(extent, 'cx', String(cx));
    splice.attribute(extent, 'cy', String(cy));
  }
  if (was.flow === 'floating' && next.flow === 'inline') return;
  // A relative size would win over the extent: 0 switches it off ([MS-ODRAWXML] §2.15, sizeRelH and sizeRelV).
  for (const [name, inner] of [
    ['sizeRelH', 'pctWidth'],
    ['sizeRelV', 'pctHeight'],
  ] as const) {
    const percent = descend(site.holder, name, inner);
    if (percent && percent.text.trim() !== '0') splice.content(percent, '0');
  }
}

/**
 * On slides, and in the groups of sheets, the transform says where the picture lies (§20.1.7.6).
 * @param placed has a missing transform been written with the size already?
 */
function writePlace(splice: Splice, site: Site, was: Frame, next: Frame, placed: boolean): void {
  const off = descend(site.spPr, 'xfrm', 'off');
  if (!off) {
    if (placed) return;
    if (moved(was.box.x, next.box.x) || moved(was.box.y, next.box.y)) writeSize(splice, site, was, next);
    return;
  }
  const k = site.group ?? { x: 1, y: 1 };
  for (const axis of ['x', 'y'] as const) {
    if (!moved(was.box[axis], next.box[axis])) continue;
    const by = (toEmu(next.box[axis]) - toEmu(was.box[axis])) / k[axis];
    splice.attribute(off, axis, String(Math.round(toEmu(measure(off.attributes[axis]) ?? 0) + by)));
  }
}

/** The crop in the file's own step, taken from what the frame really shows. */
export function nextCrop(read: ReadPicture, next: Frame): Crop {
  const crop = viewCrop(deriveView(next.placement, next.box, read.size));
  const step = (v: number): number => Math.round(v / CROP_STEP) * CROP_STEP;
  return { left: step(crop.left), top: step(crop.top), right: step(crop.right), bottom: step(crop.bottom) };
}

function writeCrop(splice: Splice, site: Site, read: ReadPicture, next: Frame): void {
  const tiled = read.native.placement.fit === 'tile';
  if (next.placement.fit === 'tile') {
    if (tiled && equal([read.native.placement, read.native.box], [next.placement, next.box])) return;
    writeTile(splice, site, next, read.size, drawing(site, properties(site, next.n)), AFTER.fill);
    return;
  }
  const crop = nextCrop(read, next);
  const sides = ['left', 'top', 'right', 'bottom'] as const;
  if (!tiled && sides.every((s) => !moved(crop[s], read.crop[s], CROP_STEP * 0.51))) return;
  const { blipFill } = site;
  if (!blipFill)
    throw new GableError('cannot-write', `Picture ${next.n} has no picture fill.`, 'Leave this picture as it is.', {
      n: next.n,
    });
  const a = drawing(site, blipFill);
  const tile = child(blipFill, 'tile');
  if (tile) splice.replace(tile, `<${a.name('stretch')}${a.declare}><${a.name('fillRect')}/></${a.name('stretch')}>`);
  const attributes = sides
    .filter((s) => Math.abs(crop[s]) >= CROP_STEP / 2)
    .map((s) => ` ${s[0]}="${formatShare(crop[s], a.strict)}"`)
    .join('');
  splice.slot(
    blipFill,
    ['srcRect'],
    AFTER.crop,
    attributes === '' ? null : `<${a.name('srcRect')}${a.declare}${attributes}/>`,
  );
  // An inset of the fill is now part of the crop.
  const fill = descend(blipFill, 'stretch', 'fillRect');
  if (fill)
    for (const side of ['l', 't', 'r', 'b'])
      if (fill.attributes[side] !== undefined) splice.attribute(fill, side, null);
}

const isCustom = (frame: Frame): boolean => {
  const shape = shapeOf(frame.shape);
  return shape !== undefined && shape.preset === null;
};

function writeGeometry(splice: Splice, site: Site, was: Frame, next: Frame, paths: NativeFrame['paths']): void {
  const shape = shapeOf(next.shape);
  if (!shape) return;
  const spPr = properties(site, next.n);
  const a = drawing(site, spPr);
  const put = (text: string): void => splice.slot(spPr, ['custGeom', 'prstGeom'], AFTER.geometry, text);
  const { preset } = shape;
  const adjusted = preset && Object.keys(preset.toAdjust(next.shape.knobs, next.box.width, next.box.height)).length > 0;
  if (!paths && preset && !adjusted && shapeOf(was.shape)?.preset?.name === preset.name) return;
  put(geometryText(a, next, paths));
}

/**
 * `a:effectLst` (§20.1.8.25) with an outer (§20.1.8.45) or inner shadow (§20.1.8.40): distance and direction, 1/60,000°
 * clockwise from the right. Other effects in the list stay; its children come in the order of the schema. Of a shadow that
 * is there only what differs is changed.
 */
function writeShadow(splice: Splice, site: Site, was: Shadow | null, next: Frame): void {
  const spPr = properties(site, next.n);
  const a = drawing(site, spPr);
  const list = child(spPr, 'effectLst');
  const { shadow } = next;
  let text = '';
  if (shadow) {
    const { alpha, colour, blurRad, dist, dir } = shadowTerms(a, shadow);
    const local = shadow.kind === 'outer' ? 'outerShdw' : 'innerShdw';
    const old = child(list, local);
    if (old && was?.kind === shadow.kind) {
      if (was.blur !== shadow.blur) splice.attribute(old, 'blurRad', blurRad);
      if (was.dx !== shadow.dx || was.dy !== shadow.dy) {
        splice.attribute(old, 'dist', dist);
        splice.attribute(old, 'dir', dir);
      }
      const [paint, ...others] = old.children;
      const [opacity, ...more] = paint?.children.filter((c) => c.local.startsWith('alpha')) ?? [];
      const own = opacity?.local === 'alpha' && more.length === 0;
      if (was.colour === shadow.colour && own) splice.attribute(opacity, 'val', alpha);
      else if (!equal([was.colour, was.opacity], [shadow.colour, shadow.opacity]))
        if (paint && others.length === 0) splice.replace(paint, colour);
        else splice.append(old, colour);
      return;
    }
    text = shadowText(a, shadow, list ? a.declare : '');
  }
  if (!list) {
    // An empty list, too, stands before the placeholder's and the theme's.
    const whole = `<${a.name('effectLst')}${a.declare}>${text}</${a.name('effectLst')}>`;
    splice.slot(spPr, ['effectDag'], AFTER.effects, whole);
    return;
  }
  splice.slot(
    list,
    ['innerShdw', 'outerShdw'],
    shadow?.kind === 'inner' ? AFTER.innerShadow : AFTER.outerShadow,
    text || null,
  );
}

/** Only what differs is changed in a line that is there: its heads, its compound kind and its extensions stay. */
function writeOutline(splice: Splice, site: Site, was: Outline | null, outline: Outline | null, n: number): void {
  const spPr = properties(site, n);
  const a = drawing(site, spPr);
  const ln = child(spPr, 'ln');
  if (outline === null) {
    splice.slot(spPr, ['ln'], AFTER.line, `<${a.name('ln')}${a.declare}><${a.name('noFill')}/></${a.name('ln')}>`);
    return;
  }
  const width = String(toEmu(outline.weight));
  const paint = paintFill(a, outline.paint);
  const dash = `<${a.name('prstDash')} val="${DASH_NAMES[outline.dash]}"/>`;
  const join = joinText(a, outline);
  const cap = { butt: 'flat', round: 'rnd', square: 'sq' }[outline.cap];
  if (ln && was) {
    splice.attribute(ln, 'w', width);
    if ((was.lines ?? 'single') !== (outline.lines ?? 'single'))
      splice.attribute(ln, 'cmpd', COMPOUND_NAMES[outline.lines ?? 'single']);
    if (was.side !== outline.side) splice.attribute(ln, 'algn', outline.side === 'inside' ? 'in' : 'ctr');
    if (was.cap !== outline.cap) splice.attribute(ln, 'cap', cap);
    if (!equal(was.paint, outline.paint))
      splice.slot(ln, AFTER.fills, [...AFTER.dashes, ...AFTER.joins, ...AFTER.ends], paint);
    if (was.dash !== outline.dash) splice.slot(ln, AFTER.dashes, [...AFTER.joins, ...AFTER.ends], dash);
    if (was.join !== outline.join) splice.slot(ln, AFTER.joins, AFTER.ends, join);
    return;
  }
  // What is usual is said only where a placeholder or a theme may say something else.
  const behind = (site.inherited?.length ?? 0) > 0 || child(site.style, 'lnRef') !== undefined;
  splice.slot(spPr, ['ln'], AFTER.line, lineText(a, outline, behind));
}

/** `wp:effectExtent` (§20.4.2.6): how far outline, shadow and turn reach beyond the extent. */
function writeOverflow(splice: Splice, site: Site, next: Frame): void {
  const b = paintedBounds(next);
  const sides = {
    l: -b.x,
    t: -b.y,
    r: b.x + b.width - next.box.width,
    b: b.y + b.height - next.box.height,
  };
  const emu = Object.entries(sides).map(([k, v]) => [k, String(Math.max(0, toEmu(v)))] as const);
  const holder = site.holder!;
  const element = child(holder, 'effectExtent');
  if (element) {
    for (const [k, v] of emu) splice.attribute(element, k, v);
    return;
  }
  const prefix = holder.name.slice(0, holder.name.length - holder.local.length);
  splice.slot(
    holder,
    ['effectExtent'],
    AFTER.effectExtent,
    `<${prefix}effectExtent ${emu.map(([k, v]) => `${k}="${v}"`).join(' ')}/>`,
  );
}

/** What only we know, or nothing, in the extensions of the drawing's properties: their last child (§20.1.2.2.8). */
function writeMetadata(splice: Splice, site: Site, asked: Frame, read: ReadPicture): void {
  if (equal(asked, read.frame)) return;
  const named = namedOf(site);
  if (!named) return;
  const text = encodeMetadata(asked, read.size);
  const old = extensionOf(site)?.parent;
  if (old) {
    if (text === null) splice.replace(old.parent!.children.length > 1 ? old : old.parent!, '');
    else splice.content(extensionOf(site)!, escapeText(text));
    return;
  }
  if (text === null) return;
  const a = drawing(site, named);
  const extension = metadataExtension(text, a.name);
  const list = child(named, 'extLst');
  if (list) splice.append(list, a.declare ? extension.replace('>', `${a.declare}>`) : extension);
  else splice.append(named, `<${a.name('extLst')}${a.declare}>${extension}</${a.name('extLst')}>`);
}

function writeAlternative(splice: Splice, site: Site, alt: string): void {
  const outer = site.group ? undefined : child(site.holder, 'docPr');
  const target = outer ?? namedOf(site);
  if (target) splice.attribute(target, 'descr', alt);
}
