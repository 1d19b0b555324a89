import { cssColour } from '../colour';
import { axesMatrix, boxMatrix } from '../geometry/frame-matrix';
import { cosSin } from '../geometry/numeric';
import { drawPath, type Path, type Point, type Rect } from '../geometry/path';
import type { Frame, Gradation, Outline, Paint, Shadow, Size } from '../model/frame';
import { bounds } from '../geometry/measure';
import { MITRE_LIMIT } from '../geometry/offset';
import { applyTo } from '../geometry/transform';
import { casterPath, edgeBounds, outlineStrokes, type Stroke } from '../outline/strokes';
import { overstepPath, silhouettePath, subjectPath } from '../placement/overstep';
import { tilesOf } from '../placement/tile';
import { deriveView } from '../placement/view';
import { framePath } from '../shapes/index';
import type { Context, Surface } from './context';
import { FAR, mirroredStops, wedges, withoutOpacity } from './gradient';

/** A decoded picture: an image of that home's own kind, and the size of the stored picture it stands for, in pixels. */
export interface PaintPicture {
  image: unknown;
  size: Size;
  /** Scaled quickly rather than finely: for what is being moved. */
  draft?: boolean;
  /** What of the stored picture the image holds, in shares of it; all of it where nothing is said. Not for tiles. */
  part?: Rect | undefined;
}

const WHOLE: Rect = { x: 0, y: 0, width: 1, height: 1 };

/** Where to paint: the box's top left in device pixels, and device pixels per point. */
export interface PaintTarget {
  x: number;
  y: number;
  scale: number;
}

/** A Gaussian of σ = blur / 2 has faded below one level of 255 at 2.9 σ. */
export const BLUR_REACH = 1.45;

/** How far paint can reach beyond the box on each side, in points, before the frame is turned. */
export function overflow(frame: Frame): { left: number; top: number; right: number; bottom: number } {
  const { width, height } = frame.box;
  const over = overstepPath(frame);
  const rects = [edgeBounds(frame), ...(over ? [bounds(over)] : [])];
  const s = frame.shadow;
  if (s?.kind === 'outer') {
    const b = bounds(casterPath(frame));
    const soft = s.blur * BLUR_REACH;
    rects.push({
      x: b.x + s.dx - soft,
      y: b.y + s.dy - soft,
      width: b.width + 2 * soft,
      height: b.height + 2 * soft,
    });
  }
  return {
    left: Math.max(0, ...rects.map((r) => -r.x)),
    top: Math.max(0, ...rects.map((r) => -r.y)),
    right: Math.max(0, ...rects.map((r) => r.x + r.width - width)),
    bottom: Math.max(0, ...rects.map((r) => r.y + r.height - height)),
  };
}

/**
 * The box that a frame takes in an office file, whose text makes room for it: a line outside and a subject that reaches
 * over the edge are part of the shape there. The middle of the frame's own box lies where `middle` says in it. Points.
 */
export function fileRoom(frame: Frame): { box: Frame['box']; middle: Point } {
  const { box, outline } = frame;
  const over = overstepPath(frame);
  const beside = over || outline?.side === 'outside' ? edgeBounds(frame) : { x: 0, y: 0, ...sizeOf(box) };
  const rects = [{ x: 0, y: 0, ...sizeOf(box) }, beside, ...(over ? [bounds(over)] : [])];
  const left = Math.min(...rects.map((r) => r.x));
  const top = Math.min(...rects.map((r) => r.y));
  const width = Math.max(...rects.map((r) => r.x + r.width)) - left;
  const height = Math.max(...rects.map((r) => r.y + r.height)) - top;
  const step = applyTo(axesMatrix(frame), {
    x: left + width / 2 - box.width / 2,
    y: top + height / 2 - box.height / 2,
  });
  const [x, y] = [box.x + box.width / 2 + step.x - width / 2, box.y + box.height / 2 + step.y - height / 2];
  return { box: { x, y, width, height }, middle: { x: width / 2 - step.x, y: height / 2 - step.y } };
}

const sizeOf = ({ width, height }: Size): Size => ({ width, height });

/** The upright rectangle round a frame turned about the middle of its box, with all it paints. Points, in the box's own space. */
export function paintedBounds(frame: Frame): Rect {
  const { width, height } = frame.box;
  const over = overflow(frame);
  const matrix = boxMatrix(frame);
  const corners = [-over.left, width + over.right].flatMap((x) =>
    [-over.top, height + over.bottom].map((y) => applyTo(matrix, { x, y })),
  );
  const [xs, ys] = [corners.map((p) => p.x), corners.map((p) => p.y)];
  const x = Math.min(...xs);
  const y = Math.min(...ys);
  return { x, y, width: Math.max(...xs) - x, height: Math.max(...ys) - y };
}

/**
 * Paints a frame: shadow, backing, picture, inner shadow, outline, in this order, turned and flipped about the middle of
 * its box. A subject that reaches over the edge is part of the picture's shape, and hides the outline; its own shadow falls
 * on the rest of the picture. Light, colour and softness of the tone are in the pixels already (`tonePixels`); fading is done here.
 * The state of the context is left as it was. Give both homes the same pre-scaled sRGB pixels and they agree.
 */
export function paintFrame(surface: Surface, frame: Frame, picture: PaintPicture | null, target: PaintTarget): void {
  const shape = framePath(frame);
  const over = overstepPath(frame);
  const path = silhouettePath(frame);
  const ctx = surface.context;
  const { backing, shadow, outline, box } = frame;
  const strokes = outlineStrokes(frame);
  const inside = strokes.filter((s) => s.cut === 'inside');
  const outside = strokes.filter((s) => s.cut === 'outside');
  const multiply = frame.tone?.fading?.multiply === true && !backing;
  ctx.save();
  enterFrame(ctx, frame, target);
  if (shadow?.kind === 'outer') castShadow(ctx, frame, casterPath(frame), shadow, target.scale);
  const filled = picture !== null || backing !== null;
  const area = areaOf(surface, frame, target);
  /** Draws in a paint. One that runs to four sides is laid into what was drawn in black on a layer of its own. */
  const fillWith = (onto: Context, paint: Paint, opacity: number, draw: Draw): void => {
    onto.save();
    if (paint.kind !== 'rectangular') {
      onto.globalAlpha *= opacity;
      draw(onto, fillStyle(onto, paint, box));
    } else if (area) {
      const bare = withoutOpacity(paint);
      const image = drawLayer(surface, 2, frame, target, area, (layer) => {
        draw(layer, '#000');
        fillRectangular(layer, bare.paint, box);
      });
      onto.globalAlpha *= opacity * bare.opacity;
      layDown(onto, image, onto === ctx ? area : { x: 0, y: 0 }, area);
    }
    onto.restore();
  };
  const line = (onto: Context, stroke: Stroke): void =>
    fillWith(onto, outline!.paint, outline!.opacity ?? 1, (context, style) =>
      strokeLine(context, outline!, stroke, style),
    );
  /** Lines as far as the subject does not hide them. @param within what they are cut to, if anything */
  const beneath = (lines: readonly Stroke[], area: Rect, depth: 0 | 1, within?: Path): unknown =>
    drawLayer(surface, depth, frame, target, area, (layer) => {
      for (const s of lines) line(layer, s);
      if (within) {
        layer.globalCompositeOperation = 'destination-in';
        fillPath(layer, within, '#000');
      }
      layer.globalCompositeOperation = 'destination-out';
      fillPath(layer, over!, '#000');
    });
  if (area && (filled || outside.length > 0 || inside.length > 0 || shadow?.kind === 'inner')) {
    const within = (layer: Context): void => {
      if (shadow?.kind === 'inner') paintInnerShadow(layer, frame, path, shadow, target.scale);
      if (!over) for (const s of inside) line(layer, s);
      if (!over || !area) return;
      const cast = frame.overstep?.shadow;
      if (cast) {
        const subject = subjectPath(frame)!;
        const fallen = drawLayer(surface, 1, frame, target, area, (second) => {
          castShadow(second, frame, subject, cast, target.scale);
          second.globalCompositeOperation = 'destination-in';
          fillPath(second, shape, '#000');
          second.globalCompositeOperation = 'destination-out';
          fillPath(second, subject, '#000');
        });
        layDown(layer, fallen, { x: 0, y: 0 }, area);
      }
      if (inside.length > 0) layDown(layer, beneath(inside, area, 1, shape), { x: 0, y: 0 }, area);
    };
    const cut = (layer: Context): void => {
      layer.globalCompositeOperation = 'destination-in';
      fillPath(layer, path, '#000');
    };
    if (multiply && picture) {
      const image = drawLayer(surface, 0, frame, target, area, (layer) => {
        paintPicture(layer, frame, picture);
        cut(layer);
      });
      layDown(ctx, image, area, area, 'multiply');
    }
    // All that lies in the shape is cut at once, at the end: each pixel on the edge is covered in the same measure.
    const whole = drawLayer(surface, 0, frame, target, area, (layer) => {
      if (backing) {
        fillWith(layer, backing, 1, (onto, style) => {
          onto.fillStyle = style;
          onto.fillRect(-box.width, -box.height, box.width * 3, box.height * 3);
        });
      }
      if (picture && !multiply) paintPicture(layer, frame, picture);
      if (picture && outside.length > 0 && !backing) paintRim(layer, frame, picture, 1 / target.scale);
      within(layer);
      cut(layer);
      if (outside.length === 0) return;
      // The two share their edge: adding the parts of each pixel they cover leaves no seam between them.
      const around = drawLayer(surface, 1, frame, target, area, (second) => {
        for (const s of outside) line(second, s);
        second.globalCompositeOperation = 'destination-out';
        fillPath(second, path, '#000');
      });
      layDown(layer, around, { x: 0, y: 0 }, area, 'lighter');
    });
    layDown(ctx, whole, area, area);
  }
  const plain = strokes.filter((s) => s.cut === 'plain');
  if (!over) for (const s of plain) line(ctx, s);
  else if (area && plain.length > 0) layDown(ctx, beneath(plain, area, 0), area, area);
  ctx.restore();
}

/** The device pixels that a frame paints without its shadow, as far as they lie on the surface; null where none does. */
function areaOf(surface: Surface, frame: Frame, target: PaintTarget): Rect | null {
  const b = paintedBounds({ ...frame, shadow: null });
  const x = Math.max(0, Math.floor(target.x + b.x * target.scale) - 1);
  const y = Math.max(0, Math.floor(target.y + b.y * target.scale) - 1);
  const width = Math.min(surface.width, Math.ceil(target.x + (b.x + b.width) * target.scale) + 1) - x;
  const height = Math.min(surface.height, Math.ceil(target.y + (b.y + b.height) * target.scale) + 1) - y;
  return width > 0 && height > 0 ? { x, y, width, height } : null;
}

/** Draws what falls into an area on a clear surface of its own. */
function drawLayer(
  surface: Surface,
  depth: 0 | 1 | 2,
  frame: Frame,
  target: PaintTarget,
  area: Rect,
  draw: (layer: Context) => void,
): unknown {
  const layer = surface.layer(depth, area.width, area.height);
  layer.context.save();
  enterFrame(layer.context, frame, { ...target, x: target.x - area.x, y: target.y - area.y });
  draw(layer.context);
  layer.context.restore();
  return layer.image;
}

/** Lays the top left of a layer over what is there, pixel on pixel. */
function layDown(onto: Context, image: unknown, at: Point, { width, height }: Size, how = 'source-over'): void {
  onto.save();
  onto.globalCompositeOperation = how;
  onto.setTransform(1, 0, 0, 1, 0, 0);
  onto.drawImage(image, 0, 0, width, height, at.x, at.y, width, height);
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
  paintPicture(ctx, { ...frame, backing: null }, picture);
  ctx.restore();
}

function enterFrame(ctx: Context, frame: Frame, target: PaintTarget): void {
  ctx.translate(target.x, target.y);
  ctx.scale(target.scale, target.scale);
  ctx.transform(...boxMatrix(frame));
}

/** Tiles reach this much into each other, in device pixels, so that no page shows between them. */
const OVERLAP = 0.5;

function paintPicture(ctx: Context, frame: Frame, picture: PaintPicture): void {
  const { size } = picture;
  const { placement, tone } = frame;
  const view = deriveView(placement, frame.box, size);
  ctx.save();
  ctx.globalAlpha *= tone?.fading?.opacity ?? 1;
  if (tone?.fading?.multiply && frame.backing) ctx.globalCompositeOperation = 'multiply';
  ctx.imageSmoothingEnabled = true;
  ctx.imageSmoothingQuality = picture.draft ? 'low' : 'high';
  ctx.transform(...view.matrix);
  if (placement.fit !== 'tile') {
    const { x, y, width, height } = picture.part ?? WHOLE;
    if (width > 0)
      ctx.drawImage(picture.image, x * size.width, y * size.height, width * size.width, height * size.height);
  } else
    for (const { u, v, across, down } of tilesOf(placement, view)) {
      ctx.save();
      ctx.translate((u + (across ? 1 : 0)) * size.width, (v + (down ? 1 : 0)) * size.height);
      ctx.scale(across ? -1 : 1, down ? -1 : 1);
      const ox = OVERLAP / view.scale.x;
      const oy = OVERLAP / view.scale.y;
      ctx.drawImage(picture.image, -ox / 2, -oy / 2, size.width + ox, size.height + oy);
      ctx.restore();
    }
  ctx.restore();
}

/**
 * Where the picture ends exactly on the box, its last row of device pixels is only partly covered, and a line outside
 * would leave a seam there: the picture's outermost pixels are drawn on beyond its end, and the parts add up.
 * @param pixel length of a device pixel in points
 */
function paintRim(ctx: Context, frame: Frame, picture: PaintPicture, pixel: number): void {
  const { width, height } = picture.image as { width: number; height: number };
  const { size, part = WHOLE } = picture;
  if (frame.placement.fit === 'tile' || !(width > 0) || !(height > 0) || part.width === 0) return;
  const view = deriveView(frame.placement, frame.box, size);
  const us = view.corners.map((p) => p.x);
  const vs = view.corners.map((p) => p.y);
  const ends = (v: number, at: number): boolean => Math.abs(v - at) < 1e-4;
  const x = (2 * pixel) / view.scale.x;
  const y = (2 * pixel) / view.scale.y;
  ctx.save();
  ctx.globalAlpha *= frame.tone?.fading?.opacity ?? 1;
  ctx.globalCompositeOperation = 'lighter';
  ctx.transform(...view.matrix);
  const { image } = picture;
  const [left, top] = [part.x * size.width, part.y * size.height];
  const [across, down] = [part.width * size.width, part.height * size.height];
  // Of a part only those sides count that are the picture's own.
  const right = ends(part.x + part.width, 1) && ends(Math.max(...us), 1);
  const bottom = ends(part.y + part.height, 1) && ends(Math.max(...vs), 1);
  if (part.x === 0 && ends(Math.min(...us), 0)) ctx.drawImage(image, 0, 0, 1, height, -x, top, x, down);
  if (right) ctx.drawImage(image, width - 1, 0, 1, height, size.width, top, x, down);
  if (part.y === 0 && ends(Math.min(...vs), 0)) ctx.drawImage(image, 0, 0, width, 1, left, -y, across, y);
  if (bottom) ctx.drawImage(image, 0, height - 1, width, 1, left, size.height, across, y);
  ctx.restore();
}

/** A far step aside, so that only the shadow of what is drawn falls into sight. */
const ASIDE = 20_000;

/** Canvas shadows ignore the transform: offsets and blur are given in device pixels, turned and flipped by hand. */
function setShadow(ctx: Context, frame: Frame, shadow: Shadow, scale: number, awayX: number): void {
  const { x, y } = applyTo(axesMatrix(frame), { x: (shadow.dx + awayX) * scale, y: shadow.dy * scale });
  ctx.shadowOffsetX = x;
  ctx.shadowOffsetY = y;
  ctx.shadowBlur = shadow.blur * scale;
  ctx.shadowColor = cssColour(shadow.colour, shadow.opacity);
}

function castShadow(ctx: Context, frame: Frame, caster: Path, shadow: Shadow, scale: number): void {
  ctx.save();
  setShadow(ctx, frame, shadow, scale, ASIDE);
  ctx.translate(-ASIDE, 0);
  fillPath(ctx, caster, '#000');
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

/** Draws something in a style of the canvas. */
type Draw = (ctx: Context, style: unknown) => void;

function strokeLine(ctx: Context, outline: Outline, stroke: Stroke, style: unknown): void {
  ctx.save();
  ctx.lineWidth = stroke.width;
  ctx.lineJoin = outline.join === 'mitre' ? 'miter' : outline.join;
  ctx.miterLimit = MITRE_LIMIT;
  ctx.lineCap = outline.cap;
  ctx.strokeStyle = style;
  for (const { path, pattern } of stroke.parts) {
    ctx.beginPath();
    drawPath(path, ctx);
    ctx.setLineDash([...pattern]);
    ctx.stroke();
  }
  ctx.restore();
}

/** Fills what is drawn there with a gradient from the middle of a box to its four sides. */
function fillRectangular(ctx: Context, paint: Gradation, { width, height }: Size): void {
  const stops = mirroredStops(paint);
  const [across, down] = [ctx.createLinearGradient(0, 0, width, 0), ctx.createLinearGradient(0, 0, 0, height)];
  for (const s of stops) for (const g of [across, down]) g.addColorStop(s.at, cssColour(s.colour, s.opacity));
  ctx.globalCompositeOperation = 'source-in';
  ctx.fillStyle = across;
  ctx.fillRect(-FAR * width, -FAR * height, 2 * FAR * width, 2 * FAR * height);
  ctx.globalCompositeOperation = 'source-atop';
  ctx.fillStyle = down;
  ctx.beginPath();
  wedges({ width, height }).forEach(({ x, y }, i) => (i % 3 === 0 ? ctx.moveTo(x, y) : ctx.lineTo(x, y)));
  ctx.fill();
}

/** A paint for this box; gradients run across the box. */
function fillStyle(ctx: Context, paint: Exclude<Paint, { kind: 'rectangular' }>, box: Size): unknown {
  if (paint.kind === 'solid') return cssColour(paint.colour, paint.opacity);
  const cx = box.width / 2;
  const cy = box.height / 2;
  let gradient;
  if (paint.kind === 'linear') {
    const { x1, y1, x2, y2 } = gradientLine(paint.angle, box);
    gradient = ctx.createLinearGradient(x1, y1, x2, y2);
  } else gradient = ctx.createRadialGradient(cx, cy, 0, cx, cy, Math.hypot(cx, cy));
  for (const stop of paint.stops) gradient.addColorStop(stop.at, cssColour(stop.colour, stop.opacity));
  return gradient;
}

/**
 * The line of a linear gradient across a box: as long as the box is in that direction, so that the ends lie on its corners
 * (CSS Images 3 §3.1). @param angle degrees clockwise, 0 runs to the right
 */
export function gradientLine(angle: number, box: Size): { x1: number; y1: number; x2: number; y2: number } {
  const [c, s] = cosSin(angle);
  const half = (Math.abs(box.width * c) + Math.abs(box.height * s)) / 2;
  const cx = box.width / 2;
  const cy = box.height / 2;
  return { x1: cx - c * half, y1: cy - s * half, x2: cx + c * half, y2: cy + s * half };
}
