import {
  bounds,
  FULL_SEAT,
  GableError,
  IDENTITY,
  invert,
  multiply,
  svgParts,
  transform,
  trimNumber,
  turnOf,
  type Frame,
  type Matrix,
  type Path,
  type Rect,
  type Size,
} from '@gable/core';
import { NOT_DRAWN, outlineOf, readTransform, svgLength } from '@gable/core/silhouette';
import { readDataUrl, writeDataUrl } from '../data-url';
import { readTone } from '../filters';
import { EXTRAS, readExtras, writeExtras } from '../extras';
import { describeAddress } from '../media';
import { refuseTooLarge, refuseTooMany } from '../limits';
import { misfitsOf, refuseMisfits, same, type Misfit } from '../misfits';
import { noData, noPicture, shorten, swapOf, type OpenedFile, type OpenedPicture, type Sheet } from '../opened';
import { readHeader } from '../raster/header';
import { shapeOfPath } from '../named-shape';
import { boxOf, placementOf } from '../sane';
import { attributeOf, child, decodeXml, encodeXml, parseXml, type Element } from '../xml/located';
import { escapeText, escapeXml, Splice } from '../xml/splice';

const SVG = 'http://www.w3.org/2000/svg';
/** Points in a CSS pixel (CSS Values 4 §6.2). */
const PIXEL = 0.75;
const BEYOND: ReadonlySet<Misfit> = new Set(['shape']);

interface Found {
  /** What is replaced: the image, the group that clips it, or a group of ours. */
  element: Element;
  image: Element;
  frame: Frame;
  size: Size;
  href: string;
  bytes: Uint8Array | null;
  /** From the place's own units to pixels of the page. */
  outer: Matrix;
  /** Which of its `filter` and `opacity` its tone says. */
  recoloured: readonly string[];
}

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
  const root = parseXml(text, 'drawing', true);
  if (root.local !== 'svg') throw new GableError('bad-svg', 'This is no SVG drawing.', 'Save it again as plain SVG.');
  const ids = new Map<string, Element>();
  const images: Element[] = [];
  const visit = (e: Element, drawn: boolean): void => {
    const id = e.attributes['id'];
    if (id !== undefined && !ids.has(id)) ids.set(id, e);
    const shown = drawn && !NOT_DRAWN.has(e.local);
    if (shown && e.local === 'image' && (e.uri === SVG || e.uri === '')) images.push(e);
    e.children.forEach((c) => visit(c, shown));
  };
  visit(root, true);
  refuseTooMany(images.length);
  const page = pageOf(root);
  const found = images.map((image, i) => read(image, i + 1, text, ids, page));
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

  return {
    format: 'svg',
    signed: false,
    pages: 1,
    sheets: [sheetOf(root, page)],
    pictures,
    misfits(frame) {
      const f = found[frame.n - 1] ?? noPicture(frame.n, found.length);
      return misfitsOf(f.frame, frame, BEYOND);
    },
    save(frames, swaps = new Map()) {
      const splice = new Splice(text);
      const written = new Set<Element>();
      const reserved = new Set(ids.keys());
      for (const next of frames) {
        const f = found[next.n - 1] ?? noPicture(next.n, found.length);
        const swap = swapOf(next, swaps);
        if (!swap && same(f.frame, next)) continue;
        refuseMisfits(next.n, misfitsOf(f.frame, next, BEYOND));
        if (written.has(f.element)) throw new Error(`Two pictures share one place.`);
        written.add(f.element);
        const href = swap ? writeDataUrl(swap.bytes, swap.type) : f.href;
        splice.replace(f.element, groupOf(f, next, href, swap?.size ?? f.size, fresh(reserved)));
      }
      if (splice.empty) return bytes;
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
  return { width: width * PIXEL, height: height * PIXEL, background: '#ffffff', pieces: [] };
}

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
    if (p.local === 'svg' && p.parent)
      chain.unshift([1, 0, 0, 1, svgLength(p.attributes['x']), svgLength(p.attributes['y'])]);
  }
  return chain.reduce(multiply, page);
}

function read(image: Element, n: number, text: string, ids: ReadonlyMap<string, Element>, page: Matrix): Found {
  const href = image.attributes['href'] ?? attributeOf(image, 'href') ?? '';
  const bytes = readDataUrl(href);
  const pixels = (bytes && readHeader(bytes)?.pixels) ?? null;
  const ours = ownGroup(image);
  if (ours) {
    const outer = outerOf(ours.group, page);
    const frame = readExtras(ours.metadata.text, inner(ours.group, text), n);
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
        recoloured: [],
      };
    }
  }
  return readPlain(image, n, ids, page, { href, bytes, pixels });
}

/** A group that we wrote, by its metadata (SVG 2 §5.12): what only we know of the frame. */
function ownGroup(image: Element): { group: Element; metadata: Element } | null {
  for (let e = image.parent; e; e = e.parent)
    for (const m of e.children.filter((c) => c.local === 'metadata')) {
      const metadata = m.children.find((c) => c.uri === EXTRAS);
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
function readPlain(
  image: Element,
  n: number,
  ids: ReadonlyMap<string, Element>,
  page: Matrix,
  data: { href: string; bytes: Uint8Array | null; pixels: Size | null },
): Found {
  const { attributes: a } = image;
  const port = {
    x: svgLength(a['x']),
    y: svgLength(a['y']),
    width: svgLength(a['width']),
    height: svgLength(a['height']),
  };
  const own = readTransform(a['transform']);
  const size = data.pixels ?? (port.width > 0 && port.height > 0 ? port : { width: 96, height: 96 });
  // Without a side the picture's own counts (SVG 2 §12.3, auto sizing).
  if (!(port.width > 0) && !(port.height > 0)) Object.assign(port, { width: size.width, height: size.height });
  else if (!(port.width > 0)) port.width = (port.height * size.width) / size.height;
  else if (!(port.height > 0)) port.height = (port.width * size.height) / size.width;
  const picture = fitted(a['preserveAspectRatio'], port, size);
  const clip = clipOf(image, ids, port);
  const group = image.parent;
  const holds = group?.local === 'g' && group.children.filter((c) => c.local !== 'title').length === 1 ? group : null;
  const around = !clip && holds ? clipOf(holds, ids, port) : null;
  const element = around ? holds! : image;
  const path = clip ?? (around && holds ? transform(around, invert(own)) : null);
  const inside = path ? bounds(path) : null;
  const shown = inside && inside.width > 0 && inside.height > 0 ? inside : intersect(picture, port);
  const outer = outerOf(element, page);
  const to = multiply(
    multiply(outer, element === image ? IDENTITY : readTransform(element.attributes['transform'])),
    own,
  );
  const [sx, sy] = [Math.hypot(to[0], to[1]) || 1, Math.hypot(to[2], to[3]) || 1];
  const box = boxOf({ x: 0, y: 0, width: shown.width * sx * PIXEL, height: shown.height * sy * PIXEL });
  const crop = {
    left: (shown.x - picture.x) / picture.width,
    top: (shown.y - picture.y) / picture.height,
    right: (picture.x + picture.width - shown.x - shown.width) / picture.width,
    bottom: (picture.y + picture.height - shown.y - shown.height) / picture.height,
  };
  const middle = multiply(to, [1, 0, 0, 1, shown.x + shown.width / 2, shown.y + shown.height / 2]);
  const mirrored = to[0] * to[3] - to[1] * to[2] < 0;
  const turn = turnOf((Math.atan2(mirrored ? -to[1] : to[1], mirrored ? -to[0] : to[0]) * 180) / Math.PI);
  const alt =
    child(image, 'title')?.text ??
    child(image, 'desc')?.text ??
    (element === image ? undefined : child(element, 'title')?.text);
  const { tone, read: recoloured } = readTone(presentationOf(image));
  const frame: Frame = {
    n,
    flow: 'floating',
    box: boxOf({ ...box, x: middle[4] * PIXEL - box.width / 2, y: middle[5] * PIXEL - box.height / 2 }),
    turn: Number.isFinite(turn) ? turn : 0,
    flip: { horizontal: mirrored, vertical: false },
    seat: FULL_SEAT,
    shape: path && inside ? shapeFrom(path, inside, box) : { name: 'rectangle', knobs: {} },
    placement: placementOf(crop, box, size),
    backing: null,
    outline: null,
    shadow: null,
    ...(tone && { tone }),
    alt: (alt ?? a['aria-label'] ?? '').trim().slice(0, 10_000),
  };
  return { element, image, frame, size, href: data.href, bytes: data.bytes, outer, recoloured };
}

/** Presentation attributes, and the `style` that wins over them (SVG 2 §6.6). */
function presentationOf({ attributes: a }: Element): Map<string, string> {
  const out = new Map(Object.entries(a));
  for (const m of (a['style'] ?? '').matchAll(/(?:^|;)\s*([\w-]+)\s*:\s*([^;]*)/g)) out.set(m[1]!, m[2]!);
  return out;
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
function clipOf(e: Element, ids: ReadonlyMap<string, Element>, port: Rect): Path | null {
  const style = e.attributes['style'] ?? '';
  const value =
    /(?:^|;)\s*clip-path\s*:\s*([^;]+)/.exec(style)?.[1] ?? e.attributes['clip-path'] ?? e.attributes['mask'] ?? '';
  const clip = ids.get(/url\(\s*["']?#([^"')]+)["']?\s*\)/.exec(value)?.[1] ?? '');
  const [shape, ...more] = clip?.children.filter((c) => c.local !== 'title' && c.local !== 'desc') ?? [];
  if (!clip || !shape || more.length > 0) return null;
  const outline = outlineOf(shape.local, shape.attributes);
  if (!outline || outline.length === 0) return null;
  const placed = transform(
    outline,
    multiply(readTransform(clip.attributes['transform']), readTransform(shape.attributes['transform'])),
  );
  const unit = clip.attributes['clipPathUnits'] === 'objectBoundingBox';
  return unit ? transform(placed, [port.width, 0, 0, port.height, port.x, port.y]) : placed;
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
function groupOf(f: Found, next: Frame, href: string, size: Size, id: string): string {
  const { defs, shadow, content, outline } = svgParts(next, { href, size, transparent: true }, id);
  const prefix = f.image.name.slice(0, f.image.name.length - f.image.local.length);
  const body = `<defs>${defs}</defs>${shadow}${content}${outline}`;
  const markup = prefix === '' ? body : body.replace(/<(\/?)(?=[A-Za-z])/g, `<$1${prefix}`);
  const { box, turn, flip } = next;
  const [c, s] = [Math.cos((turn * Math.PI) / 180), Math.sin((turn * Math.PI) / 180)];
  const [fx, fy] = [flip.horizontal ? -1 : 1, flip.vertical ? -1 : 1];
  const [w, h] = [box.width / 2, box.height / 2];
  const onPage: Matrix = multiply(
    [1 / PIXEL, 0, 0, 1 / PIXEL, 0, 0],
    [c * fx, s * fx, -s * fy, c * fy, box.x + w - (c * fx * w - s * fy * h), box.y + h - (s * fx * w + c * fy * h)],
  );
  const m = multiply(invert(f.outer), onPage);
  const own = f.element === f.image ? f.image : f.element;
  // What the frame says by now goes: a clip, and what its tone has taken over.
  const said = own === f.image ? ['clip-path', ...f.recoloured] : ['clip-path'];
  const restyled = (style: string): string =>
    style.replace(/(^|;)\s*([\w-]+)\s*:[^;]*/g, (all, before: string, name: string) =>
      said.includes(name) ? before : all,
    );
  const keep = Object.entries(own.attributes)
    .filter(([name]) => /^(id|class|style|opacity|display|visibility|filter|data-[\w-]+|xmlns(:\w+)?)$/.test(name))
    .filter(([name]) => !said.includes(name))
    .map(([name, value]) => ` ${name}="${escapeXml(name === 'style' ? restyled(value) : value)}"`)
    .join('');
  const g = `${prefix}g`;
  const title = next.alt ? `<${prefix}title>${escapeXml(next.alt)}</${prefix}title>` : '';
  const inside = title + markup;
  const metadata = `<${prefix}metadata><frame xmlns="${EXTRAS}">${escapeText(writeExtras(next, inside))}</frame></${prefix}metadata>`;
  return `<${g}${keep} transform="matrix(${m.map((v) => trimNumber(v, 8)).join(' ')})">${metadata}${inside}</${g}>`;
}
