import {
  applyTo,
  frameMatrix,
  clamp,
  DASH_PATTERN,
  deriveView,
  equal,
  type Frame,
  GableError,
  type Outline,
  type Shape,
  radians,
  trimNumber,
  turnOf,
  viewCrop,
} from '@gable/core';
import { child, type Element } from '../xml/located';
import { escapeText, escapeXml, type Splice } from '../xml/splice';
import { nextNative, toNative, type NativeFrame } from '../equivalents/offset-outline';
import { newLying, replacedBy } from './anchor';
import { writeGeometry } from './enhanced-geometry';
import { METADATA_NAMESPACE } from '../metadata/digest';
import { encodeMetadata } from '../metadata/metadata';
import { is, writeLength, type Names } from './names';
import { canRecolour, isToneProperty, toneProperties } from './recolour';
import { knownName } from './read-frame';
import type { ReadFrame, Site } from './site';

/** Families of styles, each with properties of its own (§16.2). */
export type StyleKind = 'graphic' | 'text' | 'paragraph' | 'drawing-page';

/** What the whole file gets: automatic styles of a part, and pictures and dashes with names in `office:styles`. */
export interface StyleWriter {
  /** A new automatic style in the part. @returns its name */
  style(part: string, write: (name: string, names: Names) => string): string;
  /** The name of a picture for fills with these data. */
  fillImage(href: string): string;
  /** The name of a dash. */
  dash(outline: Outline): string;
}

/** Lengths in a file are written to a hundred-thousandth of a point. */
const STEP = 2e-5;
const moved = (a: number, b: number): boolean => Math.abs(a - b) > STEP;

/** Does a frame look otherwise, by more than the file's own steps? */
const isRestyled = (was: Frame, next: Frame): boolean =>
  !equal([was.shape, was.outline, was.shadow], [next.shape, next.outline, next.shadow], STEP);

/** A plain box without line and shadow is a frame with a clip; everything else is a shape filled with the picture. */
export const isPlain = (f: Frame): boolean =>
  f.shape.name === 'rectangle' && !f.outline && !f.shadow && f.placement.fit !== 'tile';

/** Is a frame with an image one still, rather than a shape that is filled with it? @param replaced with other data */
export function staysImage(site: Site, read: ReadFrame, next: Frame, replaced: boolean): boolean {
  if (!site.image) return false;
  const { native: was } = read;
  const restyled = isRestyled(was, next);
  const tiled = next.placement.fit === 'tile' && (replaced || cropChanged(read, next));
  return isPlain(next) || !(restyled || tiled);
}

/** Does the way it is written lack words for its tone? A picture that becomes a fill has none for most. */
export function lacksTone(site: Site, read: ReadFrame, asked: Frame): boolean {
  if (!asked.tone || equal(read.frame, asked)) return false;
  const { frame: next } = toNative(asked, read.size, false);
  return !canRecolour(read.frame.tone, asked.tone, !staysImage(site, read, next, false));
}

/** What a frame is written with. */
interface FrameWriting {
  styleWriter: StyleWriter;
  /** The picture's data in the package. */
  href: string;
  /** Are these other data than before? */
  replaced: boolean;
}

/** Splices the difference between a frame as read and as it should be into the part. Nothing else is touched. */
export function writeFrame(
  splice: Splice,
  site: Site,
  read: ReadFrame,
  asked: Frame,
  { styleWriter, href, replaced }: FrameWriting,
): void {
  const was = read.native;
  const done = nextNative(read, asked, false);
  const next = done.frame;
  const known = equal(read.frame, asked) ? null : knownAttributes(site, encodeMetadata(asked, read.size, isNamed));
  const sized = moved(was.box.width, next.box.width) || moved(was.box.height, next.box.height);
  const placed = moved(was.box.x, next.box.x) || moved(was.box.y, next.box.y) || moved(was.turn, next.turn);
  const restyled = isRestyled(was, next);
  const cropped = cropChanged(read, next) || replaced;
  if (was.flow !== next.flow) refuseFlow(site, next);
  const flows = was.flow !== next.flow;
  const flipped = !equal(was.flip, next.flip);
  const toned = !equal(was.tone, next.tone);
  const lying = newLying(site, was, next);
  if (staysImage(site, read, next, replaced)) {
    const clip = cropped || (restyled && isPlain(next));
    if (clip || flipped || flows || toned || lying) {
      const style = styleWriter.style(site.part, (name, names) =>
        clipStyle(site, name, names, { was, next, clip: clip ? clipOf(read, next) : null, plain: restyled, lying }),
      );
      splice.attribute(site.element, site.names.of('draw:style-name'), style);
    }
    if (replaced && site.image) splice.attribute(site.image, site.names.of('xlink:href'), href);
    if (sized || placed || flows) writeBox(splice, site, next, sized);
    if (was.alt !== next.alt) writeAlternative(splice, site, next.alt);
    know(splice, site, known);
    return;
  }
  if (!site.image && !restyled && !cropped && !sized && !flipped && !toned) {
    if (lying) {
      const style = styleWriter.style(site.part, (name) =>
        basedStyle(splice, site, name, lying, replacedBy(lying, site.names)),
      );
      splice.attribute(site.element, site.names.of('draw:style-name'), style);
    }
    if (placed || flows) writeBox(splice, site, next, false);
    if (was.alt !== next.alt) writeAlternative(splice, site, next.alt);
    know(splice, site, known);
    return;
  }
  const style = styleWriter.style(site.part, (name, names) =>
    fillStyle(splice, site, name, names, { read, next, styleWriter, href, lying }),
  );
  if (site.image || !is(site.element, 'draw', 'custom-shape')) {
    splice.replace(site.element, customShape(site, done, style, known));
    return;
  }
  splice.attribute(site.element, site.names.of('draw:style-name'), style);
  if (sized || placed || flows) writeBox(splice, site, next, sized);
  const geometry = child(site.element, 'enhanced-geometry');
  if (!equal(was.shape, next.shape, STEP) && geometry) splice.replace(geometry, writeGeometry(done, site.names));
  if (was.alt !== next.alt) writeAlternative(splice, site, next.alt);
  know(splice, site, known);
}

/** Shapes that are read back under their names: others come back as drawn outlines (§10.3, basic shapes). */
const isNamed = ({ name }: Shape): boolean => name === 'rectangle' || name === 'circle' || name === 'ellipse';

/** Attributes to set or, with null, to take away; null when all stay. */
type Known = readonly [string, string | null][] | null;

/** What only we know beside the native terms: an attribute of another namespace, bound in place. */
function knownAttributes({ element }: Site, text: string | null): Known {
  const old = knownName(element);
  if (old) return [[old, text]];
  return text === null
    ? []
    : [
        ['xmlns:gable', METADATA_NAMESPACE],
        ['gable:frame', text],
      ];
}

function know(splice: Splice, { element }: Site, known: Known): void {
  for (const [name, value] of known ?? []) splice.attribute(element, name, value);
}

function refuseFlow(site: Site, next: Frame): void {
  if (site.inText) return;
  throw new GableError('cannot-write', `Picture ${next.n} is not in a text.`, 'Leave it where it is.', { n: next.n });
}

function cropChanged(read: ReadFrame, next: Frame): boolean {
  if (
    equal(read.native.placement, next.placement) &&
    read.native.box.width === next.box.width &&
    read.native.box.height === next.box.height
  )
    return false;
  if (next.placement.fit === 'tile' || read.native.placement.fit === 'tile') return true;
  const crop = viewCrop(deriveView(next.placement, next.box, read.size));
  return (['left', 'top', 'right', 'bottom'] as const).some((s) => Math.abs(crop[s] - read.crop[s]) > 5e-6);
}

/** `fo:clip` in lengths of the picture at its own size. */
function clipOf(read: ReadFrame, next: Frame): string {
  const crop = viewCrop(deriveView(next.placement, next.box, read.size));
  const { width, height } = read.physical;
  const sides = [crop.top * height, crop.right * width, crop.bottom * height, crop.left * width];
  return `rect(${sides.map((v) => writeLength(Math.abs(v) < 1e-5 ? 0 : v)).join(', ')})`;
}

/** Properties that say how a frame lies in the text; they decide for the shape in its place, too. */
const LYING =
  /:(wrap|wrap-.*|run-through|number-wrapped-paragraphs|flow-with-text|wrap-influence-on-position|protect|(vertical|horizontal)-(pos|rel))$|^fo:margin/;
/** Properties of a picture's dress that a new one takes the place of. */
const LOOK_ATTRIBUTES = /:(border.*|padding.*|shadow|stroke.*|fill.*|repeat|clip|mirror|shadow-.*)$/;

/** Attributes and children of the old style's graphic properties that stay. */
function kept(site: Site, passes: (name: string) => boolean): string {
  const properties = site.styles.find(site.style)?.properties;
  return Object.entries(properties?.attributes ?? {})
    .filter(([name]) => passes(name))
    .map(([name, value]) => ` ${name}="${escapeXml(value)}"`)
    .join('');
}

function styleOf(site: Site, name: string, n: Names, parent: string | undefined, properties: string): string {
  const family = site.styles.find(site.style)?.family ?? 'graphic';
  const above = parent === undefined ? '' : ` ${n.of('style:parent-style-name')}="${escapeXml(parent)}"`;
  return (
    `<${n.of('style:style')}${n.declare('style', 'draw', 'svg', 'fo')} ${n.of('style:name')}="${name}" ${n.of('style:family')}="${family}"${above}>` +
    `<${n.of('style:graphic-properties')}${properties}/></${n.of('style:style')}>`
  );
}

const rootOf = (e: Element): Element => (e.parent ? rootOf(e.parent) : e);

/**
 * The style of a shape with other graphic properties; all else of it stays, what it says of words, too.
 * @param set by their usual names; those that were there of the same names go
 * @param drops more that goes
 */
export function basedStyle(
  splice: Splice,
  site: Site,
  name: string,
  set: readonly [string, string][],
  drops: (name: string) => boolean = () => false,
): string {
  const { names: n } = site;
  const old = site.styles.find(site.style);
  // One that other shapes share by name is built upon.
  if (old && rootOf(old.element) === rootOf(site.element))
    return derivedStyle(splice, { element: old.element, kind: 'graphic', n }, { name, set, drops });
  const text = set.map(([key, value]) => ` ${n.of(key)}="${escapeXml(value)}"`).join('');
  return styleOf(site, name, n, site.style, text);
}

/**
 * An automatic style as another with other properties of one kind; all else of it stays.
 * @param n names as they are where it stands
 */
export function derivedStyle(
  splice: Splice,
  { element, kind, n }: { element: Element; kind: StyleKind; n: Names },
  { name, set, drops }: { name: string; set: readonly [string, string][]; drops: (name: string) => boolean },
): string {
  const named = set.map(([key, value]): [string, string] => [n.of(key), value]);
  const text = (list: readonly [string, string][]): string =>
    list.map(([key, value]) => ` ${key}="${escapeXml(value)}"`).join('');
  const properties = child(element, `${kind}-properties`);
  const fresh = new Set(named.map(([key]) => key));
  const stays = Object.entries(properties?.attributes ?? {}).filter(([key]) => !fresh.has(key) && !drops(key));
  const tag = n.of(`style:${kind}-properties`);
  const inner = (properties?.children ?? []).map((c) => splice.source(c)).join('');
  const changed = `<${tag}${text([...stays, ...named])}>${inner}</${tag}>`;
  const children = element.children.map((c) => (c === properties ? changed : splice.source(c)));
  const own = Object.entries(element.attributes).map(([key, value]): [string, string] => [
    key,
    key === n.of('style:name') ? name : value,
  ]);
  const bound = n.declare('draw', 'svg', 'style', 'fo').trim();
  return `<${element.name}${text(own)}${bound ? ` ${bound}` : ''}>${properties ? '' : changed}${children.join('')}</${element.name}>`;
}

interface Clipping {
  was: Frame;
  next: Frame;
  /** Null where it stays as it is. */
  clip: string | null;
  plain: boolean;
  /** How it lies beside its text from now on; null where that stays. */
  lying: [string, string][] | null;
}

/** The old style again, with another clip, or another place; a line and a shadow that were taken off are off. */
function clipStyle(site: Site, name: string, n: Names, { was, next, clip, plain, lying }: Clipping): string {
  const toned = !equal(was.tone, next.tone);
  const old = site.styles.find(site.style);
  const anew = replacedBy(lying, n);
  const changed = (a: string): boolean =>
    (clip !== null && /:clip$/.test(a)) ||
    /:mirror$/.test(a) ||
    (toned && isToneProperty(a)) ||
    anew(a) ||
    (plain && LOOK_ATTRIBUTES.test(a) && !LYING.test(a));
  const { horizontal, vertical } = next.flip;
  const mirror = [horizontal && 'horizontal', vertical && 'vertical'].filter(Boolean).join(' ') || 'none';
  const off = plain ? ` ${n.of('draw:stroke')}="none" ${n.of('draw:shadow')}="hidden" ${n.of('fo:border')}="none"` : '';
  const cut = clip === null ? '' : ` ${n.of('fo:clip')}="${clip}"`;
  const written = (list: readonly [string, string][]): string =>
    list.map(([key, value]) => ` ${n.of(key)}="${escapeXml(value)}"`).join('');
  const colours = written(toned ? toneProperties(site, was.tone, next.tone) : []);
  return styleOf(
    site,
    name,
    n,
    old?.parent ?? (old ? undefined : site.style),
    `${kept(site, (a) => !changed(a))}${off}${cut} ${n.of('style:mirror')}="${mirror}"${colours}${written(lying ?? [])}`,
  );
}

/** A line (ODF 1.2 Part 1 §20.159 and on, draw:stroke). */
export function strokeProperties(outline: Outline | null, styleWriter: StyleWriter): [string, string][] {
  if (outline?.paint.kind !== 'solid') return [['draw:stroke', 'none']];
  return [
    ['draw:stroke', outline.dash === 'solid' ? 'solid' : 'dash'],
    ['svg:stroke-width', writeLength(outline.weight)],
    ['svg:stroke-color', outline.paint.colour],
    ['svg:stroke-opacity', `${trimNumber(outline.paint.opacity * 100, 3)}%`],
    ['draw:stroke-linejoin', outline.join === 'mitre' ? 'miter' : outline.join],
    ['svg:stroke-linecap', outline.cap],
    ...(outline.dash === 'solid' ? [] : [['draw:stroke-dash', styleWriter.dash(outline)] as [string, string]]),
  ];
}

/** A shadow (§20.149 and on, draw:shadow). */
export const shadowProperties = (shadow: Frame['shadow']): [string, string][] =>
  shadow
    ? [
        ['draw:shadow', 'visible'],
        ['draw:shadow-offset-x', writeLength(shadow.dx)],
        ['draw:shadow-offset-y', writeLength(shadow.dy)],
        ['draw:shadow-color', shadow.colour],
        ['draw:shadow-opacity', `${trimNumber(shadow.opacity * 100, 3)}%`],
      ]
    : [['draw:shadow', 'hidden']];

interface Filling {
  read: ReadFrame;
  next: Frame;
  styleWriter: StyleWriter;
  href: string;
  lying: [string, string][] | null;
}

function fillStyle(
  splice: Splice,
  site: Site,
  name: string,
  n: Names,
  { read, next, styleWriter, href, lying }: Filling,
): string {
  const { native: was } = read;
  const opacity = next.tone?.fading?.opacity ?? 1;
  // A shape that was filled before keeps what is not changed of its style, and what that says of its words.
  const shape = !site.image && site.frameFlow === next.flow;
  const [lined, shaded] = [!shape || !equal(was.outline, next.outline), !shape || !equal(was.shadow, next.shadow)];
  const set: [string, string][] = [
    ['draw:fill', 'bitmap'],
    ['draw:fill-image-name', styleWriter.fillImage(href)],
    ...fillPlace(read, next),
    ...(opacity < 1 ? [['draw:opacity', `${trimNumber(opacity * 100, 3)}%`] as [string, string]] : []),
    ...(lined ? strokeProperties(next.outline, styleWriter) : []),
    ...(shaded ? shadowProperties(next.shadow) : []),
    ...(lying ?? []),
  ];
  const anew = replacedBy(lying, n);
  if (shape) {
    const drops = (key: string): boolean =>
      /:(fill.*|repeat|clip)$/.test(key) ||
      /^draw:opacity/.test(key) ||
      (lined && /:stroke/.test(key)) ||
      (shaded && /:shadow/.test(key)) ||
      anew(key) ||
      isToneProperty(key);
    return basedStyle(splice, site, name, set, drops);
  }
  const lies = site.inText ? kept(site, (a) => LYING.test(a) && !anew(a)) : '';
  const attributes = set.map(([key, value]) => ` ${n.of(key)}="${escapeXml(value)}"`).join('');
  return styleOf(site, name, n, undefined, `${attributes}${lies}`);
}

/** Where the picture lies behind the shape: a tile as large as all of it, moved so that the view lies in the box. */
function fillPlace(read: ReadFrame, next: Frame): [string, string][] {
  const view = deriveView(next.placement, next.box, read.size);
  const width = read.size.width * view.scale.x;
  const height = read.size.height * view.scale.y;
  const [, , , , x, y] = view.matrix;
  const share = (v: number, whole: number): string => {
    const s = (((v / whole) % 1) + 1) % 1;
    return `${trimNumber((s > 1 - 1e-7 ? 0 : clamp(s, 0, 1)) * 100, 4)}%`;
  };
  return [
    ['style:repeat', 'repeat'],
    ['draw:fill-image-width', writeLength(width)],
    ['draw:fill-image-height', writeLength(height)],
    ['draw:fill-image-ref-point', 'top-left'],
    ['draw:fill-image-ref-point-x', share(x, width)],
    ['draw:fill-image-ref-point-y', share(y, height)],
  ];
}

/** Attributes of size, place and turn of something new that stands on a page. */
export const placeAttributes = (names: Names, next: Frame): string =>
  boxAttributes({ names, frameFlow: 'floating' }, next)
    .flatMap(([name, value]) => (value === null ? [] : [` ${name}="${value}"`]))
    .join('');

/** Attributes of size, place and turn, as written. */
export function boxAttributes(site: Pick<Site, 'names' | 'frameFlow'>, next: Frame): [string, string | null][] {
  const { names } = site;
  const { box, turn } = next;
  const out: [string, string | null][] = [
    [names.of('svg:width'), writeLength(box.width)],
    [names.of('svg:height'), writeLength(box.height)],
  ];
  if (turnOf(turn) === 0) {
    out.push([names.of('draw:transform'), null]);
    const align = next.flow === 'floating' ? next.anchor?.align : undefined;
    if (next.flow === 'floating' || site.frameFlow === 'inline') {
      // What is aligned has no place of its own.
      if (!align?.x) out.push([names.of('svg:x'), next.flow === 'floating' ? writeLength(box.x) : null]);
      if (!align?.y) out.push([names.of('svg:y'), writeLength(box.y)]);
    }
    return out;
  }
  const angle = -radians(turnOf(turn));
  // Where the corner of the turned box lies; a mirror is said elsewhere.
  const { x, y } = applyTo(frameMatrix({ box, turn, flip: { horizontal: false, vertical: false } }), { x: 0, y: 0 });
  out.push(
    [names.of('svg:x'), null],
    [names.of('svg:y'), null],
    [names.of('draw:transform'), `rotate (${trimNumber(angle, 9)}) translate (${writeLength(x)} ${writeLength(y)})`],
  );
  return out;
}

/** What a cell of a sheet says of the size would win over the frame's own (§19.594, table:end-cell-address). */
const ENDS = ['table:end-cell-address', 'table:end-x', 'table:end-y', 'style:rel-width', 'style:rel-height'];

export function dropEnds(splice: Splice, { element, names }: Pick<Site, 'element' | 'names'>): void {
  for (const end of ENDS) {
    const name = names.find(end);
    if (name) splice.attribute(element, name, null);
  }
}

function writeBox(splice: Splice, site: Site, next: Frame, sized: boolean): void {
  const { names, element } = site;
  for (const [name, value] of boxAttributes(site, next)) splice.attribute(element, name, value);
  if (sized) dropEnds(splice, site);
  if (site.frameFlow !== next.flow)
    splice.attribute(element, names.of('text:anchor-type'), next.flow === 'inline' ? 'as-char' : 'paragraph');
}

/** The frame's own attributes on a shape of its size that is filled with its picture. */
function customShape(site: Site, done: NativeFrame, style: string, known: Known): string {
  const next = done.frame;
  const { element, names } = site;
  const set = new Map<string, string | null>(Object.entries(element.attributes));
  for (const name of [...set.keys()])
    if (/^(presentation:|xmlns:?)/.test(name) && !name.startsWith('xmlns')) set.set(name, null);
  for (const end of [...ENDS, 'draw:corner-radius', 'draw:copy-of']) {
    const name = names.find(end);
    if (name) set.set(name, null);
  }
  set.set(names.of('draw:style-name'), style);
  for (const [name, value] of boxAttributes(site, next)) set.set(name, value);
  if (site.frameFlow !== next.flow)
    set.set(names.of('text:anchor-type'), next.flow === 'inline' ? 'as-char' : 'paragraph');
  for (const [name, value] of known ?? []) set.set(name, value);
  const attributes = [...set].flatMap(([name, value]) => (value === null ? [] : [` ${name}="${escapeXml(value)}"`]));
  const title = child(element, 'title')?.text;
  const words =
    (title ? `<${names.of('svg:title')}>${escapeText(title)}</${names.of('svg:title')}>` : '') +
    (next.alt ? `<${names.of('svg:desc')}>${escapeText(next.alt)}</${names.of('svg:desc')}>` : '');
  const tag = names.of('draw:custom-shape');
  return `<${tag}${attributes.join('')}>${words}${writeGeometry(done, names)}</${tag}>`;
}

/** `svg:desc` (§10.3.18): behind the picture in a frame, before everything in a shape. */
function writeAlternative(splice: Splice, site: Site, alt: string): void {
  const { element, names } = site;
  const xml = `<${names.of('svg:desc')}>${escapeText(alt)}</${names.of('svg:desc')}>`;
  const desc = child(element, 'desc');
  if (desc) splice.replace(desc, xml);
  else if (site.image) splice.slot(element, ['desc'], ['contour-polygon', 'contour-path'], xml);
  else {
    const before = element.children.filter((c) => c.local !== 'title').map((c) => c.local);
    splice.slot(element, ['desc'], before, xml);
  }
}

/** A dash as ODF has it (§16.40.7, draw:stroke-dash): two kinds of marks, and the room between them. */
export function dashElement(n: Names, name: string, { dash, weight }: Outline): string {
  const pattern = DASH_PATTERN[dash];
  const marks = pattern.filter((_, i) => i % 2 === 0);
  const second = marks.length - 1;
  const w = (k: number): string => writeLength(k * weight);
  return (
    `<${n.of('draw:stroke-dash')}${n.declare('draw')} ${n.of('draw:name')}="${name}" ${n.of('draw:style')}="rect" ${n.of('draw:dots1')}="1" ${n.of('draw:dots1-length')}="${w(marks[0]!)}"` +
    (second > 0 ? ` ${n.of('draw:dots2')}="${second}" ${n.of('draw:dots2-length')}="${w(marks[1]!)}"` : '') +
    ` ${n.of('draw:distance')}="${w(pattern[1]!)}"/>`
  );
}
