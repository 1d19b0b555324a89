import { wellFormed } from '../cut';
import { bounds, boundsOfPoints } from '../geometry/measure';
import { MITRE_LIMIT } from '../geometry/offset';
import type { Path, Rect } from '../geometry/path';
import { toSvgPath } from '../geometry/svg-path';
import { stopsInOrder, type Frame, type Gradation, type Paint, type Shadow, type Size } from '../model/frame';
import { casterPath, outlineStrokes, type Stroke } from '../outline/strokes';
import { mirroredStops, wedges } from '../paint/gradient';
import { BLUR_REACH, gradientLine, paintedBounds } from '../paint/painter';
import { overstepPath, silhouettePath, subjectPath } from '../placement/overstep';
import { deriveView } from '../placement/view';
import { framePath } from '../shapes/index';
import { toneSteps, type ToneStep } from '../tone/tone';
import { trimNumber } from '../units';

/** The picture of a frame, for a drawing. */
export interface SvgPicture {
  /** Address of the picture's data, as a rule a `data:` address. */
  href: string;
  /** Size of the stored picture, in pixels. */
  size: Size;
  /** Does it have transparent pixels? Then a line that touches the edge is cut there instead of running on beneath. */
  transparent?: boolean;
  /** Are light, colour and softness in its pixels already? */
  toned?: boolean;
}

/** A frame as parts of a drawing, in the box's own space (points, origin at its top left). */
export interface SvgParts {
  /** What the other parts refer to: filters, masks, gradients. */
  defs: string;
  shadow: string;
  content: string;
  outline: string;
}

const n = (x: number): string => trimNumber(x, 4);
/** Text as an attribute value; characters that XML does not allow are left out. */
export const escapeXml = (text: string): string => wellFormed(text).replace(/[&<>"']/g, (c) => `&#${c.charCodeAt(0)};`);

/** Addresses of data in base64 hold nothing to escape, and are long. */
const escapeHref = (href: string): string => (/^data:[\w/+.-]+;base64,/.test(href) ? href : escapeXml(href));

/**
 * A frame as SVG, with nothing baked: the whole picture stays, and so do shape, outline and shadow.
 * @param picture null leaves it out: only backing, shadow and outline
 * @param id begins the names of what is defined, so that several drawings can share a page
 */
export function frameToSvg(frame: Frame, picture: SvgPicture | null, id = 'frame'): string {
  const b = paintedBounds(frame);
  const { defs, shadow, content, outline } = svgParts(frame, picture, id);
  const { width, height } = frame.box;
  const flip = [frame.flip.horizontal ? -1 : 1, frame.flip.vertical ? -1 : 1];
  const place =
    frame.turn !== 0 || flip.includes(-1)
      ? ` transform="translate(${n(width / 2)} ${n(height / 2)}) rotate(${n(frame.turn)}) scale(${flip.join(' ')}) translate(${n(-width / 2)} ${n(-height / 2)})"`
      : '';
  const title = frame.alt.trim() === '' ? '' : `<title>${escapeXml(frame.alt)}</title>`;
  return (
    `<svg xmlns="http://www.w3.org/2000/svg" width="${n(b.width)}pt" height="${n(b.height)}pt" ` +
    `viewBox="${n(b.x)} ${n(b.y)} ${n(b.width)} ${n(b.height)}" role="img">${title}` +
    `<defs>${defs}</defs><g${place}>${shadow}${content}${outline}</g></svg>`
  );
}

/** The parts of a frame; see `frameToSvg`. */
export function svgParts(frame: Frame, picture: SvgPicture | null, id: string): SvgParts {
  const path = silhouettePath(frame);
  const over = overstepPath(frame);
  const d = toSvgPath(path);
  const strokes = outlineStrokes(frame);
  const defs: string[] = [];
  const { outline, backing, shadow, tone, box } = frame;
  const paint = (p: Paint, name: string): string => svgPaint(p, box, `${id}-${name}`, defs);

  const draw = (s: Stroke): string => {
    if (!outline) return '';
    const join = outline.join === 'mitre' ? 'miter' : outline.join;
    const look = `fill="none" ${paint(outline.paint, 'line').replace(/fill/g, 'stroke')} stroke-width="${n(s.width)}" stroke-linejoin="${join}" stroke-miterlimit="${MITRE_LIMIT}" stroke-linecap="${outline.cap}"`;
    return s.parts
      .map(
        ({ path: p, pattern }) =>
          `<path d="${toSvgPath(p)}" ${look}${pattern.length ? ` stroke-dasharray="${pattern.map(n).join(' ')}"` : ''}/>`,
      )
      .join('');
  };
  // A subject that reaches over the edge hides the line.
  const beneath = (parts: string): string => {
    if (parts === '' || !over) return parts;
    const area = maskArea(frame);
    const inside = `<path d="${rectPath(area)}" fill="#fff"/><path d="${toSvgPath(over)}" fill="#000"/>`;
    defs.push(`<mask id="${id}-under" maskUnits="userSpaceOnUse" ${rectAttributes(area)}>${inside}</mask>`);
    return `<g mask="url(#${id}-under)">${parts}</g>`;
  };
  const grouped = (parts: string): string =>
    beneath(
      parts === '' || (outline?.opacity ?? 1) === 1 ? parts : `<g opacity="${n(outline!.opacity!)}">${parts}</g>`,
    );
  const lines = (cut: Stroke['cut']): string =>
    grouped(
      strokes
        .filter((s) => s.cut === cut)
        .map(draw)
        .join(''),
    );

  /** What a subject outside of the shape would show, too. */
  const withinShape = (parts: string): string => {
    if (parts === '' || !over) return parts;
    const inside = `<path d="${toSvgPath(framePath(frame))}" fill="#fff"/>`;
    defs.push(`<mask id="${id}-edge" maskUnits="userSpaceOnUse" ${rectAttributes(maskArea(frame))}>${inside}</mask>`);
    return `<g mask="url(#${id}-edge)">${parts}</g>`;
  };
  const around = lines('outside');
  const inner = shadow?.kind === 'inner' ? innerShadow(path, frame, shadow, id, defs) : '';
  const within =
    (backing ? `<path d="${rectPath(reachOf(frame))}" ${paint(backing, 'backing')}/>` : '') +
    (picture ? svgImage(frame, picture, id, defs) : '') +
    inner +
    (frame.overstep?.shadow && over ? subjectShadow(frame, frame.overstep.shadow, id, defs) : '') +
    withinShape(lines('inside'));
  let content = '';
  // A paint alone is the shape itself in that.
  const plain = !picture && inner === '' && !over && !strokes.some((s) => s.cut === 'inside');
  if (backing && plain) content = `<path d="${d}" ${paint(backing, 'backing')}/>`;
  else if (within !== '') {
    defs.push(
      `<mask id="${id}-shape" maskUnits="userSpaceOnUse" ${rectAttributes(maskArea(frame))}><path d="${d}" fill="#fff"/></mask>`,
    );
    content = `<g mask="url(#${id}-shape)">${within}</g>`;
  }
  if (around !== '') {
    // Beneath an opaque picture the line runs on, so that no seam opens where the two meet.
    const closed = picture !== null && !picture.transparent && coversShape(frame, picture.size) && fades(frame) === 1;
    if (closed || backing?.kind === 'solid') content = around + content;
    else {
      const area = maskArea(frame);
      defs.push(
        `<mask id="${id}-around" maskUnits="userSpaceOnUse" ${rectAttributes(area)}><path d="${rectPath(area)}" fill="#fff"/><path d="${d}" fill="#000"/></mask>`,
      );
      content = `<g mask="url(#${id}-around)">${around}</g>${content}`;
    }
  }
  if (tone?.fading?.multiply && content) content = `<g style="mix-blend-mode:multiply">${content}</g>`;
  return {
    shadow: shadow?.kind === 'outer' ? outerShadow(frame, shadow, id, defs) : '',
    content,
    outline: lines('plain'),
    defs: [...new Set(defs)].join(''),
  };
}

const fades = (frame: Frame): number => frame.tone?.fading?.opacity ?? 1;

/** Does the picture reach every corner of the box? */
function coversShape(frame: Frame, size: Size): boolean {
  if (frame.placement.fit === 'tile') return true;
  const b = boundsOfPoints(deriveView(frame.placement, frame.box, size).corners);
  return b.x > -1e-6 && b.y > -1e-6 && b.x + b.width < 1 + 1e-6 && b.y + b.height < 1 + 1e-6;
}

const around3 = (box: Size): Rect => ({
  x: -box.width,
  y: -box.height,
  width: box.width * 3,
  height: box.height * 3,
});
/** What the picture and what is behind it may have to fill. */
const reachOf = (frame: Frame): Rect => (frame.overstep ? maskArea(frame) : around3(frame.box));
const rectPath = (r: Rect): string => `M${n(r.x)} ${n(r.y)}H${n(r.x + r.width)}V${n(r.y + r.height)}H${n(r.x)}Z`;
const rectAttributes = (r: Rect): string => `x="${n(r.x)}" y="${n(r.y)}" width="${n(r.width)}" height="${n(r.height)}"`;

/** Where shape and outline lie, with a little room. */
function maskArea(frame: Frame): Rect {
  const room = 2 + (frame.outline ? frame.outline.weight * 4 + (frame.outline.gap ?? 0) : 0);
  const { width, height } = frame.box;
  const over = overstepPath(frame);
  const reach = over ? bounds(over) : { x: 0, y: 0, width, height };
  const [left, top] = [Math.min(-width, reach.x) - room, Math.min(-height, reach.y) - room];
  const [right, bottom] = [Math.max(2 * width, reach.x + reach.width), Math.max(2 * height, reach.y + reach.height)];
  return { x: left, y: top, width: right + room - left, height: bottom + room - top };
}

const svgOpacity = (opacity: number, name: string): string => (opacity === 1 ? '' : ` ${name}="${n(opacity)}"`);

const svgStops = (stops: Readonly<Gradation['stops']>): string =>
  stops
    .map((s) => `<stop offset="${n(s.at)}" stop-color="${s.colour}"${svgOpacity(s.opacity, 'stop-opacity')}/>`)
    .join('');

/** A paint as attributes for filling; a gradient is defined on the way and runs across the box. */
function svgPaint(paint: Paint, box: Size, id: string, defs: string[]): string {
  if (paint.kind === 'solid') return `fill="${paint.colour}"${svgOpacity(paint.opacity, 'fill-opacity')}`;
  const stops = svgStops(stopsInOrder(paint));
  if (paint.kind === 'linear') {
    const { x1, y1, x2, y2 } = gradientLine(paint.angle, box);
    defs.push(
      `<linearGradient id="${id}" gradientUnits="userSpaceOnUse" x1="${n(x1)}" y1="${n(y1)}" x2="${n(x2)}" y2="${n(y2)}">${stops}</linearGradient>`,
    );
  } else if (paint.kind === 'rectangular') {
    // A tile three times as large as the box, about it: outlines reach beyond the box.
    const { width, height } = box;
    defs.push(
      `<pattern id="${id}" patternUnits="userSpaceOnUse" width="${n(3 * width)}" height="${n(3 * height)}" patternTransform="translate(${n(-width)} ${n(-height)})"><g transform="translate(${n(width)} ${n(height)})">${rectangularGradient(paint, box, id)}</g></pattern>`,
    );
  } else {
    const [cx, cy] = [box.width / 2, box.height / 2];
    defs.push(
      `<radialGradient id="${id}" gradientUnits="userSpaceOnUse" cx="${n(cx)}" cy="${n(cy)}" r="${n(Math.hypot(cx, cy))}">${stops}</radialGradient>`,
    );
  }
  return `fill="url(#${id})"`;
}

/** What paints a box and all round it in a gradient from its middle to its four sides: SVG 2 has none of that kind (§14.2). */
export function rectangularGradient(paint: Extract<Paint, { kind: 'rectangular' }>, box: Size, id: string): string {
  const { width, height } = box;
  const stops = svgStops(mirroredStops(paint));
  const gradient = (name: string, end: string): string =>
    `<linearGradient id="${id}-${name}" gradientUnits="userSpaceOnUse" x1="0" y1="0" ${end}>${stops}</linearGradient>`;
  const d = wedges(box)
    .map(({ x, y }, i) => `${i % 3 === 0 ? 'M' : 'L'}${n(x)} ${n(y)}`)
    .join('');
  return (
    gradient('across', `x2="${n(width)}" y2="0"`) +
    gradient('down', `x2="0" y2="${n(height)}"`) +
    `<rect ${rectAttributes(around3(box))} fill="url(#${id}-across)"/><path d="${d}" fill="url(#${id}-down)"/>`
  );
}

function svgImage(frame: Frame, picture: SvgPicture, id: string, defs: string[]): string {
  const { size } = picture;
  const view = deriveView(frame.placement, frame.box, size);
  const matrix = (m: readonly number[]): string => `matrix(${m.map((v) => trimNumber(v, 7)).join(' ')})`;
  const image = (x = 0, y = 0, flip = ''): string =>
    `<image href="${escapeHref(picture.href)}" x="${n(x)}" y="${n(y)}" width="${n(size.width)}" height="${n(size.height)}" preserveAspectRatio="none"${flip}/>`;
  const steps = picture.toned ? [] : toneSteps(frame.tone);
  const blur = picture.toned ? 0 : (frame.tone?.softness?.blur ?? 0);
  let attributes = fades(frame) === 1 ? '' : ` opacity="${n(fades(frame))}"`;
  if (steps.length > 0 || blur > 0) {
    defs.push(
      `<filter id="${id}-tone" filterUnits="userSpaceOnUse" ${rectAttributes(reachOf(frame))} color-interpolation-filters="sRGB">` +
        steps.map(svgToneStep).join('') +
        (blur > 0 ? `<feGaussianBlur stdDeviation="${n(blur)}" edgeMode="duplicate"/>` : '') +
        `</filter>`,
    );
    attributes += ` filter="url(#${id}-tone)"`;
  }
  if (frame.placement.fit !== 'tile') {
    const one = image().replace('<image', `<image transform="${matrix(view.matrix)}"`);
    return attributes === '' ? one : `<g${attributes}>${one}</g>`;
  }
  const mirrored = frame.placement.mirrored ?? 'none';
  const across = mirrored === 'across' || mirrored === 'both';
  const down = mirrored === 'down' || mirrored === 'both';
  const cell = [across ? 2 : 1, down ? 2 : 1] as const;
  const tiles: string[] = [];
  for (let v = 0; v < cell[1]; v++)
    for (let u = 0; u < cell[0]; u++) {
      const [sx, sy] = [u === 1 ? -1 : 1, v === 1 ? -1 : 1];
      const move = `translate(${n(u === 1 ? 2 * size.width : 0)} ${n(v === 1 ? 2 * size.height : 0)}) scale(${sx} ${sy})`;
      tiles.push(image(0, 0, ` transform="${move}"`));
    }
  defs.push(
    `<pattern id="${id}-tiles" patternUnits="userSpaceOnUse" width="${n(size.width * cell[0])}" height="${n(size.height * cell[1])}" patternTransform="${matrix(view.matrix)}">${tiles.join('')}</pattern>`,
  );
  return `<path d="${rectPath(around3(frame.box))}" fill="url(#${id}-tiles)"${attributes}/>`;
}

/** A step of a tone as a filter primitive. */
export function svgToneStep(step: ToneStep): string {
  const v = (x: number): string => trimNumber(x, 5);
  if (step.kind === 'matrix')
    return `<feColorMatrix values="${step.rows.map((r) => `${r.map(v).join(' ')} 0 0`).join(' ')} 0 0 0 1 0"/>`;
  const { line } = step;
  const functions = step.tables.map((t, i) =>
    line
      ? `<feFunc${'RGB'[i]} type="linear" slope="${v(line.slope)}" intercept="${v(line.intercept)}"/>`
      : `<feFunc${'RGB'[i]} type="table" tableValues="${t.map(v).join(' ')}"/>`,
  );
  return `<feComponentTransfer>${functions.join('')}</feComponentTransfer>`;
}

function blurFilter(id: string, area: Rect, blur: number): string {
  return `<filter id="${id}" filterUnits="userSpaceOnUse" ${rectAttributes(area)} color-interpolation-filters="sRGB"><feGaussianBlur stdDeviation="${n(blur / 2)}"/></filter>`;
}

/** The shadow of the subject on the rest of the picture: within the shape, and not on the subject itself. */
function subjectShadow(frame: Frame, shadow: Shadow, id: string, defs: string[]): string {
  const subject = toSvgPath(subjectPath(frame)!);
  const area = maskArea(frame);
  const filter = shadow.blur > 0 ? ` filter="url(#${id}-cast)"` : '';
  if (filter) defs.push(blurFilter(`${id}-cast`, area, shadow.blur));
  defs.push(
    `<mask id="${id}-ground" maskUnits="userSpaceOnUse" ${rectAttributes(area)}><path d="${toSvgPath(framePath(frame))}" fill="#fff"/><path d="${subject}" fill="#000"/></mask>`,
  );
  return `<g mask="url(#${id}-ground)"><path d="${subject}" transform="translate(${n(shadow.dx)} ${n(shadow.dy)})" fill="${shadow.colour}" fill-opacity="${n(shadow.opacity)}"${filter}/></g>`;
}

function outerShadow(frame: Frame, shadow: Shadow, id: string, defs: string[]): string {
  const caster = casterPath(frame);
  const filter = shadow.blur > 0 ? ` filter="url(#${id}-shadow)"` : '';
  if (filter) {
    const reach = shadow.blur * BLUR_REACH + Math.abs(shadow.spread) + 2;
    const area = maskArea(frame);
    defs.push(
      blurFilter(
        `${id}-shadow`,
        { x: area.x - reach, y: area.y - reach, width: area.width + 2 * reach, height: area.height + 2 * reach },
        shadow.blur,
      ),
    );
  }
  return `<path d="${toSvgPath(caster)}" transform="translate(${n(shadow.dx)} ${n(shadow.dy)})" fill="${shadow.colour}" fill-opacity="${n(shadow.opacity)}"${filter}/>`;
}

/**
 * What the shape, blurred and moved, leaves uncovered; the mask of the shape takes away what falls outside. Made from the
 * shape and not from what surrounds it, since renderers crop the latter to the canvas.
 */
function innerShadow(path: Path, frame: Frame, shadow: Shadow, id: string, defs: string[]): string {
  defs.push(
    `<filter id="${id}-inner" filterUnits="userSpaceOnUse" ${rectAttributes(maskArea(frame))} color-interpolation-filters="sRGB">` +
      (shadow.blur > 0 ? `<feGaussianBlur in="SourceAlpha" stdDeviation="${n(shadow.blur / 2)}"/>` : '') +
      `<feOffset dx="${n(shadow.dx)}" dy="${n(shadow.dy)}"/>` +
      `<feComponentTransfer result="around"><feFuncA type="table" tableValues="1 0"/></feComponentTransfer>` +
      `<feFlood flood-color="${shadow.colour}" flood-opacity="${n(shadow.opacity)}"/><feComposite in2="around" operator="in"/></filter>`,
  );
  return `<path d="${toSvgPath(path)}" filter="url(#${id}-inner)"/>`;
}
