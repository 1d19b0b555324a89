import { cssColour } from '../colour';
import { cosSin, radians } from '../geometry/numeric';
import { drawPath, type Path, type Rect } from '../geometry/path';
import type { Frame, Outline, Paint, Shadow, Size } from '../model/frame';
import { deriveView } from '../placement/view';
import { framePath } from '../shapes/index';
import type { Context, Surface } from './context';

/** A decoded picture: an image of that home's own kind, and the size of the stored picture it stands for, in pixels. */
export interface PaintPicture {
  image: unknown;
  size: Size;
}

/** Where to paint: the box's top left in device pixels, and device pixels per point. */
export interface PaintTarget {
  x: number;
  y: number;
  scale: number;
}

/** Lengths of dashes and gaps in line weights: ISO/IEC 29500-1 §20.1.10.49 (ST_PresetLineDashVal). */
const DASH: Record<Outline['dash'], number[]> = {
  solid: [],
  dot: [1, 3],
  dash: [4, 3],
  'long-dash': [8, 3],
  'dash-dot': [4, 3, 1, 3],
  'long-dash-dot': [8, 3, 1, 3],
  'long-dash-dot-dot': [8, 3, 1, 3, 1, 3],
};

/** How far paint can reach beyond the box on each side, in points, before the frame is turned. */
export function overflow(frame: Frame): { left: number; top: number; right: number; bottom: number } {
  const o = frame.outline;
  const line = o === null || o.side === 'inside' ? 0 : o.side === 'on' ? o.weight / 2 : o.weight;
  const s = frame.shadow;
  if (s === null || s.kind === 'inner') return { left: line, top: line, right: line, bottom: line };
  // A Gaussian of σ = blur / 2 has faded below one level of 255 at 2.9 σ.
  const soft = s.blur * 1.45 + s.spread + line;
  return {
    left: Math.max(line, soft - s.dx),
    top: Math.max(line, soft - s.dy),
    right: Math.max(line, soft + s.dx),
    bottom: Math.max(line, soft + s.dy),
  };
}

/** The upright rectangle round a frame turned about the middle of its box, with all it paints. Points, in the box's own space. */
export function paintedBounds(frame: Frame): Rect {
  const { width, height } = frame.box;
  const over = overflow(frame);
  const [c, s] = cosSin(frame.turn);
  const xs: number[] = [];
  const ys: number[] = [];
  for (const x of [-over.left, width + over.right])
    for (const y of [-over.top, height + over.bottom]) {
      const dx = (x - width / 2) * (frame.flip.horizontal ? -1 : 1);
      const dy = (y - height / 2) * (frame.flip.vertical ? -1 : 1);
      xs.push(width / 2 + dx * c - dy * s);
      ys.push(height / 2 + dx * s + dy * c);
    }
  const x = Math.min(...xs);
  const y = Math.min(...ys);
  return { x, y, width: Math.max(...xs) - x, height: Math.max(...ys) - y };
}

/**
 * Paints a frame: shadow, backing, picture, outline, in this order, turned and flipped about the middle of its box.
 * The state of the context is left as it was. Give both homes the same pre-scaled sRGB pixels and they agree.
 */
export function paintFrame(surface: Surface, frame: Frame, picture: PaintPicture | null, target: PaintTarget): void {
  const path = framePath(frame);
  const ctx = surface.context;
  ctx.save();
  enterFrame(ctx, frame, target);
  if (frame.shadow?.kind === 'outer') paintShadow(ctx, frame, path, frame.shadow, target.scale);
  const { backing, shadow, outline } = frame;
  const beyond = outline?.side === 'outside' ? outline : null;
  if (picture || backing || beyond)
    compose(surface, 0, frame, target, (layer) => {
      fillPath(layer, path, backing ? fillStyle(layer, backing, frame.box) : picture ? '#000' : 'transparent');
      layer.globalCompositeOperation = backing ? 'source-atop' : 'source-in';
      if (picture) paintPicture(layer, frame, picture);
      if (!beyond) return;
      // The two share their edge: adding the parts of each pixel they cover leaves no seam between them.
      const around = drawLayer(surface, 1, frame, target, (second) => {
        strokeOutline(second, frame, path, beyond, beyond.weight * 2);
        second.globalCompositeOperation = 'destination-out';
        fillPath(second, path, '#000');
      });
      layer.globalCompositeOperation = 'lighter';
      layDown(surface, layer, around);
    });
  if (shadow?.kind === 'inner')
    compose(surface, 0, frame, target, (layer) => {
      paintInnerShadow(layer, frame, path, shadow, target.scale);
      layer.globalCompositeOperation = 'destination-in';
      fillPath(layer, path, '#000');
    });
  if (outline?.side === 'on') strokeOutline(ctx, frame, path, outline, outline.weight);
  else if (outline?.side === 'inside')
    compose(surface, 0, frame, target, (layer) => {
      strokeOutline(layer, frame, path, outline, outline.weight * 2);
      layer.globalCompositeOperation = 'destination-in';
      fillPath(layer, path, '#000');
    });
  ctx.restore();
}

type Draw = (layer: Context) => void;

/** Draws on a clear surface of its own, then lays that over what is there. */
function compose(surface: Surface, depth: 0 | 1, frame: Frame, target: PaintTarget, draw: Draw): void {
  layDown(surface, surface.context, drawLayer(surface, depth, frame, target, draw));
}

function drawLayer(surface: Surface, depth: 0 | 1, frame: Frame, target: PaintTarget, draw: Draw): unknown {
  const layer = surface.layer(depth);
  layer.context.save();
  enterFrame(layer.context, frame, target);
  draw(layer.context);
  layer.context.restore();
  return layer.image;
}

function layDown(surface: Surface, onto: Context, image: unknown): void {
  onto.save();
  onto.setTransform(1, 0, 0, 1, 0, 0);
  onto.drawImage(image, 0, 0, surface.width, surface.height);
  onto.restore();
}

function fillPath(ctx: Context, path: Path, style: unknown): void {
  ctx.beginPath();
  drawPath(path, ctx);
  ctx.fillStyle = style;
  ctx.fill();
}

/** Paints all of the picture, beyond the shape too: the ghost that shows what is hidden. */
export function paintGhost(
  ctx: Context,
  frame: Frame,
  picture: PaintPicture,
  target: PaintTarget,
  opacity: number,
): void {
  ctx.save();
  enterFrame(ctx, frame, target);
  ctx.globalAlpha = opacity;
  paintPicture(ctx, frame, picture);
  ctx.restore();
}

function enterFrame(ctx: Context, frame: Frame, target: PaintTarget): void {
  const { width, height } = frame.box;
  ctx.translate(target.x, target.y);
  ctx.scale(target.scale, target.scale);
  ctx.translate(width / 2, height / 2);
  ctx.rotate(radians(frame.turn));
  ctx.scale(frame.flip.horizontal ? -1 : 1, frame.flip.vertical ? -1 : 1);
  ctx.translate(-width / 2, -height / 2);
}

function paintPicture(ctx: Context, frame: Frame, picture: PaintPicture): void {
  ctx.save();
  layPicture(ctx, frame, picture);
  ctx.restore();
}

function layPicture(ctx: Context, frame: Frame, picture: PaintPicture): void {
  const { size } = picture;
  const view = deriveView(frame.placement, frame.box, size);
  ctx.imageSmoothingEnabled = true;
  ctx.imageSmoothingQuality = 'high';
  ctx.transform(...view.matrix);
  if (frame.placement.fit !== 'tile') {
    ctx.drawImage(picture.image, 0, 0, size.width, size.height);
    return;
  }
  const us = view.corners.map((p) => p.x);
  const vs = view.corners.map((p) => p.y);
  for (let v = Math.floor(Math.min(...vs)); v < Math.max(...vs); v++)
    for (let u = Math.floor(Math.min(...us)); u < Math.max(...us); u++)
      ctx.drawImage(picture.image, u * size.width, v * size.height, size.width, size.height);
}

/** A far step aside, so that only the shadow of what is drawn falls into sight. */
const ASIDE = 20_000;

/** Canvas shadows ignore the transform: offsets and blur are given in device pixels, turned and flipped by hand. */
function setShadow(ctx: Context, frame: Frame, shadow: Shadow, scale: number, awayX: number): void {
  const [c, s] = cosSin(frame.turn);
  const fx = frame.flip.horizontal ? -1 : 1;
  const fy = frame.flip.vertical ? -1 : 1;
  const turn = (x: number, y: number): [number, number] => [
    (x * fx * c - y * fy * s) * scale,
    (x * fx * s + y * fy * c) * scale,
  ];
  const [x, y] = turn(shadow.dx + awayX, shadow.dy);
  ctx.shadowOffsetX = x;
  ctx.shadowOffsetY = y;
  ctx.shadowBlur = shadow.blur * scale;
  ctx.shadowColor = cssColour(shadow.colour, shadow.opacity);
}

function paintShadow(ctx: Context, frame: Frame, path: Path, shadow: Shadow, scale: number): void {
  ctx.save();
  setShadow(ctx, frame, shadow, scale, ASIDE);
  ctx.translate(-ASIDE, 0);
  ctx.beginPath();
  drawPath(path, ctx);
  ctx.fillStyle = '#000';
  ctx.fill();
  const o = frame.outline;
  const reach = shadow.spread * 2 + (o && o.side !== 'inside' ? (o.side === 'on' ? o.weight : o.weight * 2) : 0);
  if (reach > 0) {
    ctx.lineWidth = reach;
    ctx.lineJoin = 'round';
    ctx.strokeStyle = '#000';
    ctx.shadowColor = cssColour(shadow.colour, shadow.opacity);
    ctx.stroke();
  }
  ctx.restore();
}

/** The shadow that falls inwards from all that is not the shape; what lies outside is taken away afterwards. */
function paintInnerShadow(ctx: Context, frame: Frame, path: Path, shadow: Shadow, scale: number): void {
  ctx.save();
  setShadow(ctx, frame, shadow, scale, ASIDE);
  ctx.translate(-ASIDE, 0);
  ctx.beginPath();
  const far = Math.max(frame.box.width, frame.box.height) * 2 + shadow.blur * 2;
  ctx.rect(-far, -far, frame.box.width + 2 * far, frame.box.height + 2 * far);
  drawPath(path, ctx);
  ctx.fillStyle = '#000';
  ctx.fill('evenodd');
  ctx.restore();
}

function strokeOutline(ctx: Context, frame: Frame, path: Path, outline: Outline, width: number): void {
  ctx.save();
  ctx.beginPath();
  drawPath(path, ctx);
  ctx.lineWidth = width;
  ctx.lineJoin = outline.join === 'mitre' ? 'miter' : outline.join;
  // Mitres longer than this are cut off, so that sharp points do not grow thorns. ISO/IEC 29500 writers use 800,000 (8 : 1).
  ctx.miterLimit = 8;
  ctx.lineCap = outline.cap;
  ctx.setLineDash(DASH[outline.dash].map((d) => d * outline.weight));
  ctx.strokeStyle = fillStyle(ctx, outline.paint, frame.box);
  ctx.stroke();
  ctx.restore();
}

/** A paint for this box; gradients run across the box. */
function fillStyle(ctx: Context, paint: Paint, box: Size): unknown {
  if (paint.kind === 'solid') return cssColour(paint.colour, paint.opacity);
  const cx = box.width / 2;
  const cy = box.height / 2;
  let gradient;
  if (paint.kind === 'linear') {
    // As long as the box is in that direction, so that the ends lie on its corners (CSS Images 3 §3.1).
    const [c, s] = cosSin(paint.angle);
    const half = (Math.abs(box.width * c) + Math.abs(box.height * s)) / 2;
    gradient = ctx.createLinearGradient(cx - c * half, cy - s * half, cx + c * half, cy + s * half);
  } else gradient = ctx.createRadialGradient(cx, cy, 0, cx, cy, Math.hypot(cx, cy));
  for (const stop of paint.stops) gradient.addColorStop(stop.at, cssColour(stop.colour, stop.opacity));
  return gradient;
}
