import {
  multiply,
  type Matrix,
  type Frame,
  turnOf,
  boundedPixels,
  transform,
  invert,
  bounds,
  IDENTITY,
  placementOfTiling,
  clamp,
  type Outline,
  type Rect,
  type Crop,
  type Path,
  type Tone,
  type Box,
  type Placement,
  withinBounds,
  FULL_SEAT,
  type Size,
} from '@gable/core';
import { readTransform, svgLength } from '@gable/core/silhouette';
import { readDataUrl } from '../codec/data-url';
import { placementFromFileCrop, normaliseBox } from '../codec/normalise';
import { cssColour } from '../css/colour';
import { readTone } from '../css/filters';
import { PIXEL } from '../css/lengths';
import { decodeWithDigest, METADATA_NAMESPACE } from '../metadata/digest';
import { readHeader } from '../raster/header';
import { type Element, child } from '../xml/located';
import { clipOf, shapeFrom } from './clip';
import type { Place, Drawing, Found, Data } from './drawing';
import { hrefOf, type Filling } from './fills';
import { FILL_AND_STROKE } from './presentation';
import { outerOf, viewportOf, plainLength } from './viewport';
import { withoutVideo } from './video-text';

export function read(at: Place, n: number, drawing: Drawing): Found {
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
export function ownGroup(image: Element): { group: Element; metadata: Element } | null {
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
  return withoutVideo(text.slice(end, group.closeStart));
}

/** Where a matrix from points of the frame's box to pixels of the page puts it. */
export function place(m: Matrix, frame: Frame): Pick<Frame, 'box' | 'turn' | 'flip'> {
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
export const wordsOf = (e: Element): Element | undefined => child(e, 'title') ?? child(e, 'desc');

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

export const scaleOf = (m: Matrix): number => Math.sqrt(Math.abs(m[0] * m[3] - m[1] * m[2])) || 1;

/** A plain line in one colour, in user units; null for none, undefined for one that an outline cannot say. */
export function strokeOf(style: ReadonlyMap<string, string>): Outline | null | undefined {
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

interface Drawn {
  /** From its own units to pixels of the page. */
  to: Matrix;
  shown: Rect;
  /** Null for the whole rectangle. */
  path: Path | null;
}
interface Seen extends Drawn {
  words: string;
  tone: Tone | undefined;
}

/** Box, turn, flip and shape of what is drawn. */
export function placeDrawn({ to, shown, path }: Drawn): Pick<Frame, 'box' | 'turn' | 'flip' | 'shape'> {
  const [sx, sy] = [Math.hypot(to[0], to[1]) || 1, Math.hypot(to[2], to[3]) || 1];
  const box = normaliseBox({ x: 0, y: 0, width: shown.width * sx * PIXEL, height: shown.height * sy * PIXEL });
  const middle = multiply(to, [1, 0, 0, 1, shown.x + shown.width / 2, shown.y + shown.height / 2]);
  const mirrored = to[0] * to[3] - to[1] * to[2] < 0;
  const turn = turnOf((Math.atan2(mirrored ? -to[1] : to[1], mirrored ? -to[0] : to[0]) * 180) / Math.PI);
  return {
    box: normaliseBox({ ...box, x: middle[4] * PIXEL - box.width / 2, y: middle[5] * PIXEL - box.height / 2 }),
    turn: Number.isFinite(turn) ? turn : 0,
    flip: { horizontal: mirrored, vertical: false },
    shape: path ? shapeFrom(path, shown, box) : { name: 'rectangle', knobs: {} },
  };
}

function frameOf(n: number, { words, tone, ...drawn }: Seen, placement: (box: Box) => Placement): Frame {
  const placed = placeDrawn(drawn);
  return withinBounds({
    n,
    flow: 'floating',
    ...placed,
    seat: FULL_SEAT,
    placement: placement(placed.box),
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
