import {
  BOUNDS,
  deriveView,
  equal,
  flatten,
  framePath,
  readFrame,
  shapeOf,
  SHAPES,
  type Shape,
  turnOf,
  viewCrop,
  type Frame,
  type Size,
} from '@gable/core';
import { foldInnerTransform } from '../equivalents/inner-transform';
import { escapeText } from '../xml/splice';
import { METADATA_NAMESPACE } from './digest';
import { plainOutline, toNative } from '../equivalents/offset-outline';

/**
 * What only we know of a frame (keep mark, aim, a shape's name and knobs, a picture turned inside its shape) travels in an
 * office file beside the native terms, in the place that its standard has for such things: an `a:ext` of the drawing's
 * properties (ISO/IEC 29500-1 §20.1.2.2.14), an attribute of another namespace (ODF 1.2 Part 1 §3.17, from memory). The
 * native terms win: what we know counts only while it comes to the same frame.
 */
export const METADATA_EXTENSION = '{6B0C1F3E-52A7-4D0B-9A41-7E5D2C8F1B60}';

/** The extension as XML. @param name of the drawing namespace as written here */
export const metadataExtension = (text: string, name: (local: string) => string): string =>
  `<${name('ext')} uri="${METADATA_EXTENSION}"><frame xmlns="${METADATA_NAMESPACE}">${escapeText(text)}</frame></${name('ext')}>`;

/** An outline that is longer than this as text is not carried twice; that of a subject stands nowhere else. */
const MAX_TEXT_CHARS = 20_000;
const MAX_SUBJECT_CHARS = BOUNDS.path.subject;

/** Within what two frames are the same: an EMU and a half, a fiftieth of a thousandth of the picture, a hundredth of a degree. */
const TOLERANCE = { length: 1.5 / 12_700 + 2e-5, share: 2e-5, turn: 0.01, path: 3e-3 };

/**
 * The text to carry, or null where the native terms say all.
 * @param frame as it should be
 * @param size of its picture, stored pixels
 * @param named is a shape read back under its name?
 */
export function encodeMetadata(frame: Frame, size: Size, named: (shape: Shape) => boolean = readsBack): string | null {
  if (!isBeyondNative(frame, size, named)) return null;
  const { n, alt, source, video, flow, anchor, paragraph, ...known } = frame;
  void [n, alt, source, video, flow, anchor, paragraph];
  const text = JSON.stringify(known);
  return text.length > MAX_TEXT_CHARS + (frame.overstep ? MAX_SUBJECT_CHARS : 0) ? null : text;
}

function isBeyondNative(frame: Frame, size: Size, named: (shape: Shape) => boolean): boolean {
  if (frame.keep || frame.overstep || frame.finish || foldInnerTransform(frame, size) !== frame) return true;
  const shape = shapeOf(frame.shape);
  if (shape && frame.shape.name !== 'custom' && !named(shape)) return true;
  if ((frame.outline?.opacity ?? 1) !== 1) return true;
  if (frame.placement.fit === 'tile') return false;
  const shown = deriveView(frame.placement, frame.box, size).placement;
  const { fit, aim, zoom, distortion } = frame.placement;
  const off = (a: number, b: number): boolean => Math.abs(a - b) > 1e-4 * Math.max(1, Math.abs(b));
  const gap = Math.min(...Object.values(viewCrop(deriveView(frame.placement, frame.box, size)))) < -1e-9;
  return (
    (fit === 'contain') !== gap ||
    fit === 'stretch' ||
    off(aim.u, shown.aim.u) ||
    off(aim.v, shown.aim.v) ||
    off(zoom, shown.zoom) ||
    off(distortion, shown.distortion)
  );
}

/** Is a shape read back by its name? Boxes and ellipses are, by their sides; other presets by the first name that has them. */
function readsBack({ name, preset }: Shape): boolean {
  if (preset?.name === 'rect') return name === 'rectangle';
  return !!preset && (preset.name === 'ellipse' || SHAPES.find((s) => s.preset?.name === preset.name)?.name === name);
}

/**
 * The frame as it was known when the file was written; null where the file has been changed since.
 * @param native the frame by the file's own terms
 */
export function decodeMetadata(text: string | undefined, native: Frame, size: Size): Frame | null {
  const known = parse(text, native);
  if (!known) return null;
  let filed: Frame;
  try {
    filed = known.overstep ? toNative(known, size).frame : foldInnerTransform(known, size);
  } catch {
    return null;
  }
  if (!matches(filed, native, size)) return null;
  if (known.flow === 'inline') return { ...known, box: { ...known.box, x: native.box.x, y: native.box.y } };
  // The position may have been edited elsewhere; accept and translate it.
  const by = { x: native.box.x - filed.box.x, y: native.box.y - filed.box.y };
  const near = Math.hypot(by.x, by.y) < TOLERANCE.length * 2;
  return near ? known : { ...known, box: { ...known.box, x: known.box.x + by.x, y: known.box.y + by.y } };
}

function parse(text: string | undefined, native: Frame): Frame | null {
  if (!text || text.length > 2 * MAX_TEXT_CHARS + MAX_SUBJECT_CHARS) return null;
  try {
    const known = JSON.parse(text) as object;
    const read = readFrame({ ...known, n: native.n, alt: native.alt, flow: native.flow });
    if (!read) return null;
    const { tone, source, video, anchor, paragraph, ...frame } = read;
    void [tone, source, video, anchor, paragraph];
    return { ...frame, ...(native.anchor && { anchor: native.anchor }) };
  } catch {
    return null;
  }
}

function matches(a: Frame, b: Frame, size: Size): boolean {
  if (Math.abs(a.box.width - b.box.width) > TOLERANCE.length * 2) return false;
  if (Math.abs(a.box.height - b.box.height) > TOLERANCE.length * 2) return false;
  const turn = turnOf(a.turn - b.turn);
  if (Math.min(turn, 360 - turn) > TOLERANCE.turn) return false;
  if (a.flip.horizontal !== b.flip.horizontal || a.flip.vertical !== b.flip.vertical) return false;
  if ((a.placement.fit === 'tile') !== (b.placement.fit === 'tile')) return false;
  const [p, q] = [a, b].map((f) => viewCrop(deriveView(f.placement, f.box, size))) as [
    ReturnType<typeof viewCrop>,
    ReturnType<typeof viewCrop>,
  ];
  if ((['left', 'top', 'right', 'bottom'] as const).some((s) => Math.abs(p[s] - q[s]) > TOLERANCE.share)) return false;
  const line = (f: Frame): unknown => f.outline && { gap: 0, lines: 'single', ...plainOutline(f.outline) };
  return equal(line(a), line(b), 2e-3) && equal(a.shadow, b.shadow, 2e-3) && samePath(a, b);
}

function samePath(a: Frame, b: Frame): boolean {
  const [p, q] = [a, b].map((f) => flatten(framePath(f), 0.05).filter((r) => r.length > 2)) as [
    ReturnType<typeof flatten>,
    ReturnType<typeof flatten>,
  ];
  if (p.length !== q.length) return false;
  const reach = Math.max(a.box.width, a.box.height) * TOLERANCE.path;
  const [mine, theirs] = [p.flat(), q.flat()];
  // Curves are flattened by their own making: each point must lie near an edge of the other, not on a point of it.
  return mine.every((at) => nearRings(at, q, reach)) && theirs.every((at) => nearRings(at, p, reach));
}

interface At {
  x: number;
  y: number;
}

const nearRings = (at: At, rings: readonly (readonly At[])[], reach: number): boolean =>
  rings.some((ring) => ring.some((p, i) => distance(at, p, ring[(i + 1) % ring.length]!) <= reach));

/** From a point to a stretch between two others. */
function distance(at: At, from: At, to: At): number {
  const [dx, dy] = [to.x - from.x, to.y - from.y];
  const length = dx * dx + dy * dy;
  const t = length === 0 ? 0 : Math.min(1, Math.max(0, ((at.x - from.x) * dx + (at.y - from.y) * dy) / length));
  return Math.hypot(at.x - from.x - t * dx, at.y - from.y - t * dy);
}
