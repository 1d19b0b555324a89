import {
  cssClip,
  DASH_PATTERN,
  framePath,
  isVeil,
  toSvgPath,
  trimNumber,
  type FramedItem,
  type Paint,
  type Path,
} from '@gable/core';

import { escapeXml } from '../xml/splice';

const n = (v: number): string => trimNumber(v, 3);
let count = 0;

/** A paint of SVG, and what must be defined for it (SVG 2 §13.2, §14.2). */
function inkOf(paint: Paint): { fill: string; defined: string } {
  if (paint.kind === 'solid') return { fill: `fill="${paint.colour}" fill-opacity="${n(paint.opacity)}"`, defined: '' };
  const id = `paint${++count}`;
  const stops = paint.stops
    .map((s) => `<stop offset="${n(s.at)}" stop-color="${s.colour}" stop-opacity="${n(s.opacity)}"/>`)
    .join('');
  const angle = paint.kind === 'linear' ? (paint.angle / 180) * Math.PI : 0;
  const [x, y] = [Math.cos(angle) / 2, Math.sin(angle) / 2];
  const defined =
    paint.kind === 'linear'
      ? `<linearGradient id="${id}" x1="${n(0.5 - x)}" y1="${n(0.5 - y)}" x2="${n(0.5 + x)}" y2="${n(0.5 + y)}">${stops}</linearGradient>`
      : `<radialGradient id="${id}">${stops}</radialGradient>`;
  return { fill: `fill="url(#${id})"`, defined };
}

/** What is drawn of a shape. */
type Drawn = Pick<FramedItem, 'shape' | 'seat' | 'fill' | 'outline'> & { at: Pick<FramedItem['at'], 'box'> };

/** The form of a shape with its fill and its line, as large as its box; empty where it has neither. In points. */
export function shapeMarkup({ at, shape, seat, fill, outline }: Drawn): string {
  const paint = fill?.kind === 'paint' ? fill.paint : null;
  if (!paint && !outline) return '';
  const { width, height } = at.box;
  let path: Path;
  try {
    path = framePath({ box: at.box, shape, seat });
  } catch {
    return '';
  }
  const d = toSvgPath(path);
  const ink = paint ? inkOf(paint) : { fill: 'fill="none"', defined: '' };
  const line = outline?.paint;
  const colour = line && (line.kind === 'solid' ? line : line.stops[0]!);
  const stroke = colour
    ? ` stroke="${colour.colour}" stroke-opacity="${n(colour.opacity)}" stroke-width="${n(outline.weight)}"${dashes(outline)}`
    : '';
  const clip = isVeil(fill) ? cssClip({ box: at.box, shape, seat }, path, `veil${++count}`) : null;
  const veil = isVeil(fill)
    ? ` style="backdrop-filter:blur(${n(fill.blur)}pt);clip-path:${escapeXml(clip?.value ?? 'inset(0)')}"`
    : '';
  const defined = ink.defined + (clip?.defs ?? '');
  return (
    `<svg class="shape"${veil} viewBox="0 0 ${n(width)} ${n(height)}" preserveAspectRatio="none">` +
    `${defined && `<defs>${defined}</defs>`}<path d="${escapeXml(d)}" fill-rule="evenodd" ${ink.fill}${stroke}/></svg>`
  );
}

const dashes = ({ dash, weight }: NonNullable<FramedItem['outline']>): string => {
  const pattern = DASH_PATTERN[dash];
  return pattern.length > 0 ? ` stroke-dasharray="${pattern.map((v) => n(v * weight)).join(' ')}"` : '';
};

/** What cannot be shown, as what it is. Lengths in points. */
export const plateMarkup = (label: string, width: number, height: number): string =>
  `<span class="plate" style="width:${n(width)}pt;height:${n(height)}pt" data-plate="${escapeXml(label)}">${escapeXml(label)}</span>`;
