import {
  type Size,
  type Crop,
  withinBounds,
  turnOf,
  FULL_SEAT,
  type Tone,
  type Given,
  clamp,
  type Frame,
} from '@gable/core';
import { normaliseBox, placementFromFileCrop } from '../codec/normalise';
import type { ReadPicture } from '../drawingml/site';
import { integer } from '../drawingml/values';
import type { Element } from '../xml/located';
import { type Legacy, styleOf, boxIn, lengthOf } from './find';

/** A share: in 65,536ths with an `f`, or as a plain number (§14.1.2.11, cropleft). */
function fraction(text: string | undefined): number {
  const m = /^(-?\d*\.?\d+)(f|%)?$/.exec(text ?? '');
  return m ? Number(m[1]) / (m[2] === 'f' ? 65_536 : m[2] === '%' ? 100 : 1) : 0;
}

/** @param pixels stored size; null when unknown */
export function readLegacy({ shape, image, group }: Legacy, n: number, pixels: Size | null): ReadPicture {
  const style = styleOf(shape);
  const { x, y, width, height } = normaliseBox(boxIn(shape, group));
  const box = { width, height };
  const crop: Crop = {
    left: fraction(image.attributes['cropleft']),
    top: fraction(image.attributes['croptop']),
    right: fraction(image.attributes['cropright']),
    bottom: fraction(image.attributes['cropbottom']),
  };
  const size = pixels ?? box;
  const floating = !!group || style.get('position') === 'absolute';
  const flip = style.get('flip') ?? '';
  const frame = withinBounds({
    n,
    flow: floating ? 'floating' : 'inline',
    box: { x, y, ...box },
    turn: turnOf(integer(style.get('rotation'))),
    flip: { horizontal: flip.includes('x'), vertical: flip.includes('y') },
    seat: FULL_SEAT,
    shape: shapeOf(shape, box),
    placement: placementFromFileCrop(crop, box, size),
    backing: null,
    outline: outlineOf(shape),
    shadow: null,
    alt: shape.attributes['alt'] ?? '',
  });
  const tone = toneOf(image);
  if (tone) frame.tone = tone;
  return { frame, native: frame, crop, size };
}

/** How an image is recoloured (ISO/IEC 29500-4 §14.1.2.11: gain, blacklevel, grayscale, bilevel, chromakey; from memory). */
function toneOf({ attributes: a }: Element): Tone | undefined {
  const is = (name: string): boolean => /^(t|true|1)$/.test(a[name] ?? '');
  const given: Given = {};
  const key = /^#[0-9a-f]{6}$/i.exec(a['chromakey'] ?? '')?.[0].toLowerCase();
  if (key) given.swap = { from: key, to: key, opacity: 0 };
  const gain = a['gain'] === undefined ? 1 : Math.max(0, fraction(a['gain']));
  if (gain !== 1) given.contrast = gain < 1 ? gain - 1 : 1 - 1 / gain;
  const level = clamp(fraction(a['blacklevel']), -1, 1);
  if (level !== 0) given.lift = level;
  if (is('bilevel')) given.threshold = 0.5;
  const tone: Tone = {};
  if (is('grayscale')) tone.colour = { amount: 0, warmth: 0, tint: 0, only: null };
  if (Object.keys(given).length > 0) tone.given = given;
  return Object.keys(tone).length > 0 ? tone : undefined;
}

function shapeOf(shape: Element, { width, height }: Size): Frame['shape'] {
  if (shape.local === 'oval') return { name: Math.abs(width - height) < 0.01 ? 'circle' : 'ellipse', knobs: {} };
  if (shape.local === 'roundrect')
    return { name: 'rounded', knobs: { radius: clamp(fraction(shape.attributes['arcsize'] ?? '0.2'), 0, 0.5) } };
  return { name: 'rectangle', knobs: {} };
}

/** A line that the shape says it has; one that only its type may have is left out of account. */
function outlineOf({ attributes: a }: Element): Frame['outline'] {
  if (!/^(t|true|1)$/.test(a['stroked'] ?? '')) return null;
  const colour = /#[0-9a-f]{6}/i.exec(a['strokecolor'] ?? '')?.[0].toLowerCase() ?? '#000000';
  const weight = clamp(lengthOf(a['strokeweight']) || 0.75, 0.1, 1584);
  return {
    paint: { kind: 'solid', colour, opacity: 1 },
    weight,
    side: 'on',
    dash: 'solid',
    join: 'mitre',
    cap: 'butt',
  };
}
