import {
  frameMatrix,
  boundedPixels,
  bounds,
  type Box,
  clamp,
  type Crop,
  equal,
  type Frame,
  FULL_SEAT,
  GableError,
  IDENTITY,
  invert,
  type Matrix,
  multiply,
  type Outline,
  type Path,
  type Placement,
  placementOfTiling,
  type Rect,
  type Size,
  soundMatrix,
  svgParts,
  type Tone,
  transform,
  trimNumber,
  turnOf,
  withinBounds,
} from '@gable/core';
import { NOT_DRAWN, outlineOf, readTransform, svgLength } from '@gable/core/silhouette';
import { readDataUrl, writeDataUrl } from '../codec/data-url';
import { readTone } from '../css/filters';
import { cssColour } from '../css/colour';
import { PIXEL } from '../css/lengths';
import { METADATA_NAMESPACE, decodeWithDigest, encodeWithDigest } from '../metadata/digest';
import { describeAddress } from '../codec/media';
import { refuseBeyond, refuseTooLarge } from '../codec/limits';
import { unsupportedIn, onlyAlt, refuseUnsupported } from '../codec/capabilities';
import {
  noSuchPlace,
  noData,
  noPicture,
  shorten,
  replacementOf,
  type OpenedFile,
  type OpenedPicture,
  type Sheet,
} from '../codec/contract';
import { readHeader } from '../raster/header';
import { shapeOfPath } from '../codec/named-shape';
import { normaliseBox, placementFromFileCrop } from '../codec/normalise';
import { child, decodeXml, encodeXml, parseXml, type Element } from '../xml/located';
import { escapeText, escapeXml, Splice } from '../xml/splice';
import { plainImage } from './create';
import { FILL_AND_STROKE, Presentation, USUAL } from './presentation';
import { fillingOf, hrefOf, imagesIn, patternOf, usedImage, type Filling } from './fills';

const SVG = 'http://www.w3.org/2000/svg';

interface Found {
  /** What is replaced: the image, the group that clips it, the shape that is filled with it, or a group of ours. */
  element: Element;
  image: Element;
  frame: Frame;
  size: Size;
  href: string;
  bytes: Uint8Array | null;
  /** From the place's own units to pixels of the page. */
  outer: Matrix;
  /** Properties of the element that the frame says by now. */
  said: readonly string[];
  /** What is defined for its sake, if nothing else shows it. */
  definitions: readonly Element[];
  /** Where its alternative text stands; null where that is part of a whole that is written anew. */
  alt: AltPlace | null;
}

/** The element that holds the words, if there is one, and the one that bears a label. */
interface AltPlace {
  text: Element | undefined;
  labelled: Element;
}

/** What the whole drawing says. */
interface Drawing {
  text: string;
  ids: ReadonlyMap<string, Element>;
  page: Matrix;
  looks: Presentation;
  /** Is anything in it filled with a pattern? */
  patterned: boolean;
  /** Clips as plain shapes, as far as they were asked for; null for those that are none. */
  clips: Map<Element, Path | null>;
}

/** Where a drawing shows a picture. */
type Place =
  | { image: Element; definitions: readonly Element[]; filled?: undefined }
  | { image: Element; filled: Filling; shape: Element };

/** Is this a drawing? Its root element must be `svg`, behind at most a declaration, comments and a document type. */
export function isSvg(bytes: Uint8Array): boolean {
  const head = new TextDecoder().decode(bytes.subarray(0, 4096)).replace(/^\uFEFF/, '');
  return /^\s*(<\?xml[\s\S]*?\?>\s*)?(<!--[\s\S]*?-->\s*)*(<!DOCTYPE\s+svg[\s\S]*?>\s*)?(<!--[\s\S]*?-->\s*)*<(\w+:)?svg[\s>]/i.test(
    head,
  );
}

/**
 * Opens an SVG drawing (SVG 2) and finds its `image` elements. Nothing it links to is fetched, and nothing in it is run.
 * @throws GableError `xml-…`, `too-large`, `bad-svg`, `too-many-pictures`
 */
export function openSvg(file: Uint8Array): OpenedFile {
  refuseTooLarge(file);
  const bytes = new Uint8Array(file.buffer, file.byteOffset, file.byteLength);
  const decoded = decodeXml(bytes, 'drawing');
  const { text } = decoded;
  const root = parseXml(text, 'drawing', 'entities');
  if (root.local !== 'svg') throw new GableError('bad-svg', 'This is no SVG drawing.', 'Save it again as plain SVG.');
  const ids = new Map<string, Element>();
  const shown = new Set<Element>();
  const visit = (e: Element, drawn: boolean): void => {
    const id = e.attributes['id'];
    if (id !== undefined && !ids.has(id)) ids.set(id, e);
    const here = drawn && !NOT_DRAWN.has(e.local);
    if (here && (e.uri === SVG || e.uri === '')) shown.add(e);
    e.children.forEach((c) => visit(c, here));
  };
  visit(root, true);
  const page = pageOf(root);
  const patterned = [...ids.values()].some((e) => e.local === 'pattern');
  const drawing: Drawing = { text, ids, page, looks: new Presentation(root), patterned, clips: new Map() };
  const places: Place[] = [];
  for (const e of shown) {
    const at = placeOf(e, drawing);
    if (at) refuseBeyond('uses', places.push(at));
  }
  const found = places.map((at, i) => read(at, i + 1, drawing));
  const near = shorten(textIn(root));
  const pictures = found.map((f): OpenedPicture => {
    const { media, problem } = describeAddress(f.href, f.bytes);
    const where = {
      part: '',
      place: 'drawing' as const,
      table: false,
      textBox: false,
      group: inGroup(f.element),
      page: 1,
      near,
    };
    return { n: f.frame.n, where, freeable: false, frame: f.frame, size: f.size, media, problem };
  });

  /** Takes out what was defined for a picture's sake alone. */
  const removeDefinitions = (splice: Splice, { definitions }: Found): void => {
    for (const e of definitions) {
      // What one that stays refers to stays, too.
      if (shown.has(e) || namings(text, e.attributes['id']) !== 1) break;
      splice.replace(e, '');
    }
  };

  return {
    format: 'svg',
    signed: false,
    pages: 1,
    sheets: [{ ...sheetOf(root, page), items: pictures.map(({ n }) => ({ picture: n })) }],
    pictures,
    unsupported(frame) {
      const f = found[frame.n - 1] ?? noPicture(frame.n, found.length);
      return unsupportedIn('svg', f.frame, frame);
    },
    save(frames, swaps = new Map()) {
      const splice = new Splice(text);
      const written = new Set<Element>();
      const reserved = new Set(ids.keys());
      for (const next of frames) {
        const f = found[next.n - 1] ?? noPicture(next.n, found.length);
        const swap = replacementOf(next, swaps);
        if (!swap && equal(f.frame, next)) continue;
        refuseUnsupported(next.n, unsupportedIn('svg', f.frame, next));
        if (written.has(f.element)) throw new Error(`Two pictures share one place.`);
        written.add(f.element);
        if (!swap && f.alt && onlyAlt(f.frame, next)) {
          writeAlt(splice, f.alt, next.alt);
          continue;
        }
        const href = swap ? writeDataUrl(swap.bytes, swap.type) : f.href;
        splice.replace(
          f.element,
          groupOf(f, next, { href, size: swap?.size ?? f.size }, fresh(reserved), drawing.looks),
        );
        removeDefinitions(splice, f);
      }
      if (splice.empty) return bytes;
      return encodeXml({ text: splice.apply(), encoding: decoded.encoding });
    },
    insert(picture) {
      const { place } = picture;
      if (place.on !== 'page' || place.page !== 1) throw noSuchPlace('the drawing');
      const splice = new Splice(text);
      const markup = plainImage(root, page, picture, place.box);
      let front =
        place.behind === null ? null : (found[place.behind - 1] ?? noPicture(place.behind, found.length)).element;
      while (front?.parent && front.parent !== root) front = front.parent;
      if (front) splice.before(front, markup);
      else splice.append(root, markup);
      const at = front?.start ?? root.closeStart;
      const n = 1 + found.filter((f) => f.element.start < at).length;
      return { bytes: encodeXml({ text: splice.apply(), encoding: decoded.encoding }), n };
    },
    remove(n) {
      const splice = new Splice(text);
      const f = found[n - 1] ?? noPicture(n, found.length);
      splice.replace(f.element, '');
      removeDefinitions(splice, f);
      return encodeXml({ text: splice.apply(), encoding: decoded.encoding });
    },
    bare() {
      const splice = new Splice(text);
      for (const element of new Set(found.map((f) => f.element))) splice.replace(element, '');
      return encodeXml({ text: splice.apply(), encoding: decoded.encoding });
    },
    pictureBytes(n) {
      const f = found[n - 1] ?? noPicture(n, found.length);
      return f.bytes ?? noData(pictures[n - 1]!);
    },
  };
}

const viewBoxOf = (root: Element): number[] =>
  (root.attributes['viewBox'] ?? '')
    .trim()
    .split(/[\s,]+/)
    .map(Number);

/** From user units of the outermost element to CSS pixels (SVG 2 §8.2; the ratio of a `viewBox` is taken as it is). */
function pageOf(root: Element): Matrix {
  const [x = 0, y = 0, w = 0, h = 0] = viewBoxOf(root);
  if (!(w > 0) || !(h > 0)) return IDENTITY;
  const width = svgLength(root.attributes['width']);
  const height = svgLength(root.attributes['height']);
  const k =
    width > 0 && height > 0 ? Math.min(width / w, height / h) : width > 0 ? width / w : height > 0 ? height / h : 1;
  return [k, 0, 0, k, -x * k, -y * k];
}

/** The page in points: as large as it says, or as its `viewBox`; the usual size of a drawing that says nothing (CSS 2.2 §10.3.2). */
function sheetOf(root: Element, [k]: Matrix): Sheet {
  const [, , w = 0, h = 0] = viewBoxOf(root);
  const width = svgLength(root.attributes['width']) || w * k || 300;
  const height = svgLength(root.attributes['height']) || h * k || 150;
  return { width: width * PIXEL, height: height * PIXEL, background: '#ffffff', items: [] };
}

/** What percentages of an element are of: the nearest viewport round it (SVG 2 §8.9), in its own units. */
function viewportOf(e: Element): Size {
  let at = e.parent;
  while (at && at.local !== 'svg') at = at.parent;
  if (!at) return { width: 300, height: 150 };
  const [, , w = 0, h = 0] = viewBoxOf(at);
  if (w > 0 && h > 0) return { width: w, height: h };
  const outer = at.parent ? viewportOf(at) : { width: 300, height: 150 };
  return {
    width: svgLength(at.attributes['width'] ?? '100%', outer.width) || outer.width,
    height: svgLength(at.attributes['height'] ?? '100%', outer.height) || outer.height,
  };
}

/** A length of a style sheet; null for `auto` and what is none. */
const plainLength = (text: string | undefined): string | null => (/^\s*[-+]?[\d.]+/.test(text ?? '') ? text! : null);

const inGroup = (e: Element): boolean => e.parent?.local === 'g';

function textIn(e: Element): string {
  const out: string[] = [];
  const visit = (at: Element): void => {
    if (at.local === 'text' || at.local === 'tspan' || (at.local === 'title' && at.parent === e)) out.push(at.text);
    at.children.forEach(visit);
  };
  visit(e);
  return out.join(' ').replace(/\s+/g, ' ').trim();
}

/** The matrix from an element's place (its own `transform` not included) to pixels of the page. */
function outerOf(e: Element, page: Matrix): Matrix {
  const chain: Matrix[] = [];
  for (let p = e.parent; p; p = p.parent) {
    chain.unshift(readTransform(p.attributes['transform']));
    // A drawing inside the drawing moves its content (SVG 2 §8.2); its own `viewBox` is left out of account.
    if (p.local === 'svg' && p.parent) {
      const view = viewportOf(p);
      chain.unshift([
        ...[1, 0, 0, 1],
        svgLength(p.attributes['x'], view.width),
        svgLength(p.attributes['y'], view.height),
      ] as unknown as Matrix);
    }
  }
  return soundMatrix(chain.reduce(multiply, page));
}

/** An image, a use of one, or a shape that is filled with one. */
function placeOf(e: Element, { ids, looks, patterned }: Drawing): Place | null {
  if (e.local === 'image') return { image: e, definitions: [] };
  if (e.local === 'use') return inPlace(e, ids, looks);
  if (!patterned || !DRAWN.test(e.local)) return null;
  const pattern = patternOf(looks.of(e).get('fill'), ids);
  if (!pattern) return null;
  const [first] = imagesIn(pattern);
  // The tiles of a frame of ours.
  if (first && ownGroup(first)) return { image: first, definitions: [] };
  const filled = fillingOf(e, pattern, ids);
  return filled && strokeOf(looks.of(e)) !== undefined ? { image: filled.image, filled, shape: e } : null;
}

/** What has a fill of its own (SVG 2 §10, basic shapes and paths). */
const DRAWN = /^(path|rect|circle|ellipse|line|polyline|polygon)$/;

/** A used image as one that stands where it is used. */
function inPlace(use: Element, ids: ReadonlyMap<string, Element>, looks: Presentation): Place | null {
  const used = usedImage(use, ids);
  if (!used || ['clip-path', 'mask'].some((name) => (looks.of(use).get(name) ?? 'none') !== 'none')) return null;
  const transform = `${use.attributes['transform'] ?? ''} matrix(${used.matrix.join(' ')})`;
  const { x, y, width, height, ...more } = use.attributes;
  const { id, ...own } = used.image.attributes;
  void [x, y, width, height, id];
  const attributes = { ...own, ...more, href: hrefOf(used.image) ?? '', transform };
  const name = `${use.name.slice(0, -use.local.length)}image`;
  const image = { ...use, name, local: 'image', children: used.image.children, attributes };
  return { image, definitions: [used.image] };
}

/** How often a text names an element. */
const namings = (text: string, id: string | undefined): number =>
  id === undefined ? 1 : text.split(new RegExp(`#${id.replace(/[.*+?^${}()|[\]\\]/g, '\\$&')}(?=["')\\s])`)).length - 1;

function read(at: Place, n: number, drawing: Drawing): Found {
  const { text, page } = drawing;
  const { image } = at;
  const href = hrefOf(image) ?? '';
  const bytes = readDataUrl(href);
  const pixels = (bytes && readHeader(bytes)?.pixels) ?? null;
  const ours = ownGroup(image);
  if (ours) {
    const outer = outerOf(ours.group, page);
    const frame = decodeWithDigest(ours.metadata.text, inner(ours.group, text), n);
    if (frame) {
      const placed = place(multiply(outer, readTransform(ours.group.attributes['transform'])), frame);
      return {
        element: ours.group,
        image,
        frame: { ...frame, ...placed },
        size: pixels ?? frame.box,
        href,
        bytes,
        outer,
        said: [],
        definitions: [],
        alt: null,
      };
    }
  }
  const data = { href, bytes, pixels };
  if (at.filled) return readFilled(at, n, drawing, data);
  const plain = readPlain(image, n, drawing, data);
  // The words of a used image are those of all its uses.
  const shared = at.definitions.length > 0 && plain.alt?.text;
  return { ...plain, definitions: at.definitions, alt: shared ? null : plain.alt };
}

/** A group that we wrote, by its metadata (SVG 2 §5.12): what only we know of the frame. */
function ownGroup(image: Element): { group: Element; metadata: Element } | null {
  for (let e = image.parent; e; e = e.parent)
    for (const m of e.children.filter((c) => c.local === 'metadata')) {
      const metadata = m.children.find((c) => c.uri === METADATA_NAMESPACE);
      if (metadata) return { group: e, metadata };
    }
  return null;
}

/** The markup of a group but for its metadata, which the digest is taken of. */
function inner(group: Element, text: string): string {
  const metadata = child(group, 'metadata');
  const end = metadata?.end ?? group.openEnd;
  return text.slice(end, group.closeStart);
}

/** Where a matrix from points of the frame's box to pixels of the page puts it. */
function place(m: Matrix, frame: Frame): Pick<Frame, 'box' | 'turn' | 'flip'> {
  const [a, b, c, d, e, f] = m.map((v) => v * PIXEL) as [...Matrix];
  const { flip } = frame;
  const mirrored = a * d - b * c < 0;
  const across = (flip.horizontal !== flip.vertical) === mirrored ? flip.horizontal : !flip.horizontal;
  const sx = (across ? -1 : 1) * Math.hypot(a, b);
  const width = frame.box.width * Math.hypot(a, b);
  const height = frame.box.height * Math.hypot(c, d);
  const x = a * (frame.box.width / 2) + c * (frame.box.height / 2) + e;
  const y = b * (frame.box.width / 2) + d * (frame.box.height / 2) + f;
  const near = (v: number, w: number): number => (Math.abs(v - w) < 1e-4 ? w : v);
  const turn = turnOf((Math.atan2(b / sx, a / sx) * 180) / Math.PI);
  return {
    box: {
      x: near(x - width / 2, frame.box.x),
      y: near(y - height / 2, frame.box.y),
      width: near(width, frame.box.width),
      height: near(height, frame.box.height),
    },
    turn: near(turn, frame.turn),
    flip: { horizontal: across, vertical: flip.vertical },
  };
}

/** An image as others write it: its viewport, how the picture fits into that, and a clip of one plain shape. */
function readPlain(image: Element, n: number, drawing: Drawing, data: Data): Found {
  const { page, looks } = drawing;
  const { attributes: a } = image;
  const style = looks.of(image);
  const view = viewportOf(image);
  // Sizes and places are properties, too: style sheets come before attributes (SVG 2 §7.2).
  const side = (name: 'x' | 'y' | 'width' | 'height'): number =>
    svgLength(plainLength(style.get(name)) ?? a[name], name === 'x' || name === 'width' ? view.width : view.height);
  const port = { x: side('x'), y: side('y'), width: side('width'), height: side('height') };
  const own = readTransform(a['transform']);
  const size = data.pixels ?? boundedPixels(port.width > 0 && port.height > 0 ? port : { width: 96, height: 96 });
  // Without a side the picture's own counts (SVG 2 §12.3, auto sizing).
  if (!(port.width > 0) && !(port.height > 0)) Object.assign(port, { width: size.width, height: size.height });
  else if (!(port.width > 0)) port.width = (port.height * size.width) / size.height;
  else if (!(port.height > 0)) port.height = (port.width * size.height) / size.width;
  const picture = fitted(a['preserveAspectRatio'], port, size);
  const clip = clipOf(image, drawing, port);
  const { tone, read: recoloured } = readTone(style);
  // A filter that its tone does not say stays with the image, which must then stay in its group.
  const group = !style.get('filter') || recoloured.includes('filter') ? image.parent : null;
  const holds = group?.local === 'g' && group.children.filter((c) => c.local !== 'title').length === 1 ? group : null;
  const around = !clip && holds ? clipOf(holds, drawing, port) : null;
  const element = around ? holds! : image;
  const path = clip ?? (around && holds ? transform(around, invert(own)) : null);
  const inside = path ? bounds(path) : null;
  const shown = inside && inside.width > 0 && inside.height > 0 ? inside : intersect(picture, port);
  const outer = outerOf(element, page);
  const to = multiply(
    multiply(outer, element === image ? IDENTITY : readTransform(element.attributes['transform'])),
    own,
  );
  const words = wordsOf(image) ?? (element === image ? undefined : child(element, 'title'));
  const said = element === image ? ['clip-path', ...recoloured] : ['clip-path'];
  const seen = { to, shown, path: inside && path, words: words?.text ?? a['aria-label'] ?? '', tone };
  const frame = frameOf(n, seen, (box) => placementFromFileCrop(cropOf(shown, picture), box, size));
  return {
    element,
    image,
    frame,
    size,
    href: data.href,
    bytes: data.bytes,
    outer,
    said,
    definitions: [],
    alt: { text: words, labelled: image },
  };
}

/** The element with the words for those who do not see it. */
const wordsOf = (e: Element): Element | undefined => child(e, 'title') ?? child(e, 'desc');

/** Another alternative text where it stands: in a `title` or `desc` (SVG 2 §5.7), else as `aria-label`. */
function writeAlt(splice: Splice, { text, labelled }: AltPlace, alt: string): void {
  if (text) splice.content(text, escapeText(alt));
  else splice.attribute(labelled, 'aria-label', alt);
}

interface Data {
  href: string;
  bytes: Uint8Array | null;
  pixels: Size | null;
}

/** A shape that is filled with a picture: once, or with tiles of it. */
function readFilled(
  { image, filled, shape }: Place & { filled: Filling },
  n: number,
  { page, looks }: Drawing,
  data: Data,
): Found {
  const { path, port, tile, definitions } = filled;
  const size = data.pixels ?? boundedPixels(port);
  const picture = fitted(image.attributes['preserveAspectRatio'], port, size);
  const shown = bounds(path);
  const slack = Math.max(shown.width, shown.height) * 1e-4;
  const covers =
    tile.x <= shown.x + slack &&
    tile.y <= shown.y + slack &&
    tile.x + tile.width >= shown.x + shown.width - slack &&
    tile.y + tile.height >= shown.y + shown.height - slack;
  const outer = outerOf(shape, page);
  const to = multiply(outer, readTransform(shape.attributes['transform']));
  const style = looks.of(shape);
  const opacity = Number(style.get('fill-opacity') ?? 1);
  const tone = opacity >= 0 && opacity < 1 ? { fading: { opacity, multiply: false } } : undefined;
  const words = wordsOf(shape)?.text ?? shape.attributes['aria-label'] ?? '';
  const frame = frameOf(n, { to, shown, path, words, tone }, (box) => {
    if (covers) return placementFromFileCrop(cropOf(shown, picture), box, size);
    const [sx, sy] = [box.width / shown.width, box.height / shown.height];
    const scale = (tile.height * sy) / size.height;
    const origin = { x: (tile.x - shown.x) * sx, y: (tile.y - shown.y) * sy };
    const placement = placementOfTiling({ scale: scale / PIXEL, origin }, box, size);
    const distortion = (tile.width * sx) / size.width / scale;
    return Math.abs(distortion - 1) < 1e-3 ? placement : { ...placement, distortion };
  });
  // Corners in quarter circles have a name of their own.
  const rx = svgLength(shape.attributes['rx'] ?? shape.attributes['ry']);
  const round = shape.local === 'rect' && rx > 0 && rx === svgLength(shape.attributes['ry'] ?? shape.attributes['rx']);
  if (round && Math.abs(Math.hypot(to[0], to[1]) - Math.hypot(to[2], to[3])) < 1e-6 * scaleOf(to))
    frame.shape = { name: 'rounded', knobs: { radius: clamp(rx / Math.min(shown.width, shown.height), 0, 0.5) } };
  const stroke = strokeOf(style);
  if (stroke) frame.outline = { ...stroke, weight: clamp(stroke.weight * scaleOf(to) * PIXEL, 0.1, 1584) };
  return {
    element: shape,
    image,
    frame,
    size,
    href: data.href,
    bytes: data.bytes,
    outer,
    said: ['clip-path', ...Object.keys(FILL_AND_STROKE)],
    definitions,
    alt: { text: wordsOf(shape), labelled: shape },
  };
}

const scaleOf = (m: Matrix): number => Math.sqrt(Math.abs(m[0] * m[3] - m[1] * m[2])) || 1;

/** A plain line in one colour, in user units; null for none, undefined for one that an outline cannot say. */
function strokeOf(style: ReadonlyMap<string, string>): Outline | null | undefined {
  const paint = style.get('stroke') ?? 'none';
  const weight = svgLength(style.get('stroke-width') ?? '1');
  if (paint === 'none' || weight === 0) return null;
  const colour = cssColour(paint);
  const opacity = Number(style.get('stroke-opacity') ?? 1);
  if (!colour || /url|current/i.test(paint) || !(opacity >= 0 && opacity <= 1)) return undefined;
  const join = style.get('stroke-linejoin');
  const cap = style.get('stroke-linecap');
  return {
    paint: { kind: 'solid', colour: colour.colour, opacity: colour.opacity * opacity },
    weight,
    side: 'on',
    dash: /\d/.test(style.get('stroke-dasharray') ?? '') ? 'dash' : 'solid',
    join: join === 'round' || join === 'bevel' ? join : 'mitre',
    cap: cap === 'round' || cap === 'square' ? cap : 'butt',
  };
}

const cropOf = (shown: Rect, picture: Rect): Crop => ({
  left: (shown.x - picture.x) / picture.width,
  top: (shown.y - picture.y) / picture.height,
  right: (picture.x + picture.width - shown.x - shown.width) / picture.width,
  bottom: (picture.y + picture.height - shown.y - shown.height) / picture.height,
});

interface Seen {
  /** From its own units to pixels of the page. */
  to: Matrix;
  shown: Rect;
  path: Path | null;
  words: string;
  tone: Tone | undefined;
}

function frameOf(n: number, { to, shown, path, words, tone }: Seen, placement: (box: Box) => Placement): Frame {
  const [sx, sy] = [Math.hypot(to[0], to[1]) || 1, Math.hypot(to[2], to[3]) || 1];
  const box = normaliseBox({ x: 0, y: 0, width: shown.width * sx * PIXEL, height: shown.height * sy * PIXEL });
  const middle = multiply(to, [1, 0, 0, 1, shown.x + shown.width / 2, shown.y + shown.height / 2]);
  const mirrored = to[0] * to[3] - to[1] * to[2] < 0;
  const turn = turnOf((Math.atan2(mirrored ? -to[1] : to[1], mirrored ? -to[0] : to[0]) * 180) / Math.PI);
  return withinBounds({
    n,
    flow: 'floating',
    box: normaliseBox({ ...box, x: middle[4] * PIXEL - box.width / 2, y: middle[5] * PIXEL - box.height / 2 }),
    turn: Number.isFinite(turn) ? turn : 0,
    flip: { horizontal: mirrored, vertical: false },
    seat: FULL_SEAT,
    shape: path ? shapeFrom(path, shown, box) : { name: 'rectangle', knobs: {} },
    placement: placement(box),
    backing: null,
    outline: null,
    shadow: null,
    ...(tone && { tone }),
    alt: words.trim(),
  });
}

/** `preserveAspectRatio` (SVG 2 §8.10): where all of the picture lies. */
function fitted(text: string | undefined, port: Rect, size: Size): Rect {
  const [align = 'xMidYMid', how = 'meet'] = (text ?? '')
    .trim()
    .split(/\s+/)
    .filter((w) => w !== '' && w !== 'defer');
  if (align === 'none') return port;
  const k = (how === 'slice' ? Math.max : Math.min)(port.width / size.width, port.height / size.height);
  const share = (name: string): number => (name === 'Min' ? 0 : name === 'Max' ? 1 : 0.5);
  const m = /^x(Min|Mid|Max)Y(Min|Mid|Max)$/.exec(align);
  const [width, height] = [size.width * k, size.height * k];
  return {
    x: port.x + (port.width - width) * share(m?.[1] ?? 'Mid'),
    y: port.y + (port.height - height) * share(m?.[2] ?? 'Mid'),
    width,
    height,
  };
}

function intersect(a: Rect, b: Rect): Rect {
  const x = Math.max(a.x, b.x);
  const y = Math.max(a.y, b.y);
  return {
    x,
    y,
    width: Math.max(1e-6, Math.min(a.x + a.width, b.x + b.width) - x),
    height: Math.max(1e-6, Math.min(a.y + a.height, b.y + b.height) - y),
  };
}

/** A `clip-path` or `mask` that is one plain shape; null for none, or for one that is not. */
function clipOf(e: Element, { ids, looks, clips }: Drawing, port: Rect): Path | null {
  const style = looks.of(e);
  const value = ['clip-path', 'mask'].map((name) => style.get(name) ?? '').find((v) => !/^(none)?$/.test(v)) ?? '';
  const clip = ids.get(/url\(\s*["']?#([^"')]+)["']?\s*\)/.exec(value)?.[1] ?? '');
  if (!clip) return null;
  const known = clips.get(clip);
  const placed = known === undefined ? plainClip(clip) : known;
  clips.set(clip, placed);
  if (!placed) return null;
  const unit = clip.attributes['clipPathUnits'] === 'objectBoundingBox';
  return unit ? transform(placed, [port.width, 0, 0, port.height, port.x, port.y]) : placed;
}

/** So many steps has a plain shape at the most; a clip of more stays as it is, like one of several shapes. */
const MAX_STEPS = 5_000;

function plainClip(clip: Element): Path | null {
  const [shape, ...more] = clip.children.filter((c) => c.local !== 'title' && c.local !== 'desc');
  if (!shape || more.length > 0) return null;
  const outline = outlineOf(shape.local, shape.attributes);
  if (!outline || outline.length === 0 || outline.length > MAX_STEPS) return null;
  return transform(
    outline,
    multiply(readTransform(clip.attributes['transform']), readTransform(shape.attributes['transform'])),
  );
}

function shapeFrom(path: Path, b: Rect, box: Size): Frame['shape'] {
  const unit = transform(path, [1 / b.width, 0, 0, 1 / b.height, -b.x / b.width, -b.y / b.height]);
  return shapeOfPath(unit, box, 'Shape of the file');
}

/** A name that no element has yet. */
function fresh(taken: Set<string>): string {
  let i = 1;
  while (taken.has(`gable-${i}`)) i++;
  taken.add(`gable-${i}`);
  return `gable-${i}`;
}

/** The frame as a group: its matrix takes points of the box to the units of the place where the image stood. */
function groupOf(
  f: Found,
  next: Frame,
  picture: { href: string; size: Size },
  id: string,
  looks: Presentation,
): string {
  const { defs, shadow, content, outline } = svgParts(next, { ...picture, transparent: true }, id);
  const prefix = f.image.name.slice(0, f.image.name.length - f.image.local.length);
  const plain = `<defs>${defs}</defs>${shadow}${content}${outline}`;
  // Sizes and places of style sheets come before the attributes of our images, too.
  const sized = ['x', 'y', 'width', 'height'].some((name) => looks.bySheets(f.image).has(name));
  const body = !sized
    ? plain
    : plain.replace(
        /(<image href="[^"]*" x="([^"]*)" y="([^"]*)" width="([^"]*)" height="([^"]*)")/g,
        (all, _tag: string, x: string, y: string, width: string, height: string) =>
          `${all} style="x:${x}px;y:${y}px;width:${width}px;height:${height}px"`,
      );
  const markup = prefix === '' ? body : body.replace(/<(\/?)(?=[A-Za-z])/g, `<$1${prefix}`);
  const onPage = multiply([1 / PIXEL, 0, 0, 1 / PIXEL, 0, 0], frameMatrix(next));
  const m = multiply(invert(f.outer), onPage);
  const own = f.element;
  const restyled = (style: string): string =>
    style.replace(/(^|;)\s*([\w-]+)\s*:[^;]*/g, (all, before: string, name: string) =>
      f.said.includes(name) ? before : all,
    );
  // What comes from a style sheet or from round about is taken back where the frame says it, or must not have it.
  const [bySheets, above] = [looks.bySheets(own), looks.above(own)];
  const back = Object.entries(USUAL).filter(
    ([name]) => (f.said.includes(name) && bySheets.has(name)) || above.has(name),
  );
  const attributes = { ...own.attributes };
  if (attributes['style'] !== undefined) attributes['style'] = restyled(attributes['style']);
  if (back.length > 0)
    attributes['style'] = [
      (attributes['style'] ?? '').replace(/;?\s*$/, ''),
      ...back.map(([name, value]) => `${name}:${value}`),
    ]
      .filter(Boolean)
      .join(';');
  const keep = Object.entries(attributes)
    .filter(([name]) =>
      /^(id|class|style|opacity|display|visibility|filter|systemLanguage|data-[\w-]+|xmlns(:\w+)?)$/.test(name),
    )
    .filter(([name]) => !f.said.includes(name))
    .map(([name, value]) => ` ${name}="${escapeXml(value)}"`)
    .join('');
  const g = `${prefix}g`;
  const title = next.alt ? `<${prefix}title>${escapeXml(next.alt)}</${prefix}title>` : '';
  const inside = title + markup;
  const metadata = `<${prefix}metadata><frame xmlns="${METADATA_NAMESPACE}">${escapeText(encodeWithDigest(next, inside))}</frame></${prefix}metadata>`;
  return `<${g}${keep} transform="matrix(${m.map((v) => trimNumber(v, 8)).join(' ')})">${metadata}${inside}</${g}>`;
}
