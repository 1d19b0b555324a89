import type { Theme } from './colour';
import {
  GableError,
  MITRE_LIMIT,
  shapeOf,
  solidOutline,
  stopsInOrder,
  toEmu,
  turnOf,
  type Box,
  type Frame,
  type GroupItem,
  type Outline,
  type Paint,
  type Shadow,
} from '@gable/core';
import { namespaceOf } from '../ooxml/names';
import { prefixFor, type Element } from '../xml/located';
import type { NativeFrame } from '../equivalents/offset-outline';
import { customGeometry } from './geometry';
import { formatShare } from './values';

/** How names of the drawing namespace are written where something goes, and how that is declared where it is not yet. */
export interface Naming {
  name: (local: string) => string;
  declare: string;
  strict: boolean;
  /** Fonts of the theme: words that are set in one of these follow it. */
  fonts?: Theme['fonts'];
}

/** Names of the drawing namespace as it is bound where an element stands; declared in place when it is bound nowhere. */
export function namingAt(at: Element, strict: boolean): Naming {
  const uri = namespaceOf('drawing', strict);
  const prefix = prefixFor(at, uri);
  const p = prefix ?? 'a';
  return {
    name: (local) => (p === '' ? local : `${p}:${local}`),
    declare: prefix === null ? ` xmlns:a="${uri}"` : '',
    strict,
  };
}

/** `cmpd` values (§20.1.10.15, ST_CompoundLine). */
export const COMPOUND_NAMES: Record<NonNullable<Outline['lines']>, string> = {
  single: 'sng',
  double: 'dbl',
  'thick-thin': 'thickThin',
  'thin-thick': 'thinThick',
  triple: 'tri',
};

/** `a:prstDash` values (§20.1.10.49). */
export const DASH_NAMES: Record<Outline['dash'], string> = {
  solid: 'solid',
  dot: 'dot',
  dash: 'dash',
  'long-dash': 'lgDash',
  'dash-dot': 'dashDot',
  'long-dash-dot': 'lgDashDot',
  'long-dash-dot-dot': 'lgDashDotDot',
};

/** A colour with its opacity (§20.1.2.3.32, srgbClr). */
export function colourText(a: Pick<Naming, 'name'>, { colour, opacity }: { colour: string; opacity: number }): string {
  const value = `val="${colour.slice(1).toUpperCase()}"`;
  const alpha = `<${a.name('alpha')} val="${Math.round(opacity * 100_000)}"/>`;
  return opacity < 1
    ? `<${a.name('srgbClr')} ${value}>${alpha}</${a.name('srgbClr')}>`
    : `<${a.name('srgbClr')} ${value}/>`;
}

/** A fill of one colour, or a gradient (§20.1.8.33): stops in 1/1000 %, the angle in 1/60,000°. */
export function paintFill(a: Pick<Naming, 'name'>, paint: Paint): string {
  if (paint.kind === 'solid') return `<${a.name('solidFill')}>${colourText(a, paint)}</${a.name('solidFill')}>`;
  const stops = stopsInOrder(paint)
    .map((s) => `<${a.name('gs')} pos="${Math.round(s.at * 100_000)}">${colourText(a, s)}</${a.name('gs')}>`)
    .join('');
  const run =
    paint.kind === 'linear'
      ? `<${a.name('lin')} ang="${Math.round(turnOf(paint.angle) * 60_000)}" scaled="0"/>`
      : `<${a.name('path')} path="${paint.kind === 'radial' ? 'circle' : 'rect'}"><${a.name('fillToRect')} l="50000" t="50000" r="50000" b="50000"/></${a.name('path')}>`;
  return `<${a.name('gradFill')} rotWithShape="1"><${a.name('gsLst')}>${stops}</${a.name('gsLst')}>${run}</${a.name('gradFill')}>`;
}

/** Where two stretches of a line meet (§20.1.8.43, miter). */
export const joinText = (a: Pick<Naming, 'name'>, { join }: Outline): string =>
  join === 'mitre' ? `<${a.name('miter')} lim="${MITRE_LIMIT * 100_000}"/>` : `<${a.name(join)}/>`;

/** A line (§20.1.2.2.24, ln). @param behind may something else say of it what is usual? Then it is said, too. */
export function lineText(a: Naming, outline: Outline, behind: boolean): string {
  const usual: Outline = { ...solidOutline(1, '#000000'), lines: 'single' };
  const plain = (key: 'side' | 'cap' | 'lines' | 'dash'): boolean =>
    !behind && (outline[key] ?? usual[key]) === usual[key];
  const cap = { butt: 'flat', round: 'rnd', square: 'sq' }[outline.cap];
  const side = plain('side') ? '' : ` algn="${outline.side === 'inside' ? 'in' : 'ctr'}"`;
  const ends = plain('cap') ? '' : ` cap="${cap}"`;
  const compound = plain('lines') ? '' : ` cmpd="${COMPOUND_NAMES[outline.lines ?? 'single']}"`;
  const dashed = plain('dash') ? '' : `<${a.name('prstDash')} val="${DASH_NAMES[outline.dash]}"/>`;
  return `<${a.name('ln')}${a.declare} w="${toEmu(outline.weight)}"${ends}${compound}${side}>${paintFill(a, outline.paint)}${dashed}${joinText(a, outline)}</${a.name('ln')}>`;
}

/** The figures of a shadow: distance and direction, 1/60,000° clockwise from the right. */
export function shadowTerms(
  a: Naming,
  shadow: Shadow,
): { alpha: string; colour: string; blurRad: string; dist: string; dir: string } {
  const alpha = formatShare(shadow.opacity, a.strict);
  const direction = Math.round(turnOf((Math.atan2(shadow.dy, shadow.dx) / Math.PI) * 180) * 60_000) % 21_600_000;
  return {
    alpha,
    colour: `<${a.name('srgbClr')} val="${shadow.colour.slice(1).toUpperCase()}"><${a.name('alpha')} val="${alpha}"/></${a.name('srgbClr')}>`,
    blurRad: String(toEmu(shadow.blur)),
    dist: String(toEmu(Math.hypot(shadow.dx, shadow.dy))),
    dir: String(direction),
  };
}

/** An outer (§20.1.8.45) or inner shadow (§20.1.8.40). */
export function shadowText(a: Naming, shadow: Shadow, declare: string): string {
  const { colour, blurRad, dist, dir } = shadowTerms(a, shadow);
  const name = a.name(shadow.kind === 'outer' ? 'outerShdw' : 'innerShdw');
  const outer = shadow.kind === 'outer' ? ' algn="ctr" rotWithShape="1"' : '';
  return `<${name}${declare} blurRad="${blurRad}" dist="${dist}" dir="${dir}"${outer}>${colour}</${name}>`;
}

/** The geometry of a shape: a preset (§20.1.9.18, prstGeom), or one of its own. @throws GableError `cannot-write` for none */
export function geometryText(a: Naming, frame: Frame, paths: NativeFrame['paths']): string {
  const shape = shapeOf(frame.shape);
  if (!shape)
    throw new GableError('cannot-write', `There is no shape “${frame.shape.name}”.`, 'Choose another shape.', {});
  if (paths || !shape.preset) return customGeometry(frame, paths, a.name, a.declare);
  const adjust = Object.entries(shape.preset.toAdjust(frame.shape.knobs, frame.box.width, frame.box.height));
  const list = adjust.length
    ? `<${a.name('avLst')}>${adjust.map(([name, value]) => `<${a.name('gd')} name="${name}" fmla="val ${value}"/>`).join('')}</${a.name('avLst')}>`
    : `<${a.name('avLst')}/>`;
  return `<${a.name('prstGeom')}${a.declare} prst="${shape.preset.name}">${list}</${a.name('prstGeom')}>`;
}

/** Place, turn and flip of a shape or group (ISO/IEC 29500-1 §20.1.7.6, xfrm). @param inner of a group, the space in it */
export function transformText(
  prefix: string,
  { box, turn, flip }: { box: Box } & Pick<GroupItem, 'turn' | 'flip'>,
  inner = '',
): string {
  const [x, y, cx, cy] = [box.x, box.y, box.width, box.height].map(toEmu);
  const rot = Math.round(turn * 60_000) % 21_600_000;
  const attributes =
    (rot === 0 ? '' : ` rot="${rot}"`) + (flip.horizontal ? ' flipH="1"' : '') + (flip.vertical ? ' flipV="1"' : '');
  return `<${prefix}xfrm${attributes}><${prefix}off x="${x}" y="${y}"/><${prefix}ext cx="${cx}" cy="${cy}"/>${inner}</${prefix}xfrm>`;
}
