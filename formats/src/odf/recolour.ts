import { clamp, equal, trimNumber, type Given, type Tone } from '@gable/core';
import { percentOf } from './names';
import type { Site } from './site';

/** Properties of a picture's colours, and what they say at rest (ODF 1.2 Part 1 §20, draw:color-mode and the like). */
const REST = {
  'draw:color-mode': 'standard',
  'draw:color-inversion': 'false',
  'draw:luminance': '0%',
  'draw:contrast': '0%',
  'draw:gamma': '100%',
  'draw:red': '0%',
  'draw:green': '0%',
  'draw:blue': '0%',
  'draw:image-opacity': '100%',
} as const;
type Property = keyof typeof REST;

/** A picture that is meant to lie behind text: lighter and with little contrast. No standard says how much; common practice. */
const WATERMARK = { lift: 0.5, contrast: -0.7 };

/**
 * What the file does to the picture's colours, as a tone: grey and opacity; as given by the file: the other colour modes,
 * brightness, contrast, gamma, parts of red, green and blue, inversion. The fill of a shape has opacity alone.
 */
export function readTone(site: Site): Tone | undefined {
  const get = (name: string): string | undefined => site.styles.property(site.style, name);
  const tone: Tone = {};
  const opacity = percentOf(get(site.image ? 'draw:image-opacity' : 'draw:opacity'));
  if (opacity !== null && opacity >= 0 && opacity < 1) tone.fading = { opacity, multiply: false };
  if (!site.image) return tone.fading && tone;
  const signed = (name: Property): number => clamp(percentOf(get(name)) ?? 0, -1, 1);
  const mode = get('draw:color-mode');
  if (mode === 'greyscale') tone.colour = { amount: 0, warmth: 0, tint: 0, only: null };
  const given: Given = {};
  const more = mode === 'watermark' ? WATERMARK : { lift: 0, contrast: 0 };
  const contrast = clamp(signed('draw:contrast') + more.contrast, -1, 1);
  const lift = clamp(signed('draw:luminance') + more.lift, -1, 1);
  if (contrast !== 0) given.contrast = contrast;
  if (lift !== 0) given.lift = lift;
  const channels: [number, number, number] = [signed('draw:red'), signed('draw:green'), signed('draw:blue')];
  if (channels.some((c) => c !== 0)) given.channels = channels;
  const gamma = percentOf(get('draw:gamma')) ?? 1;
  if (gamma !== 1 && gamma > 0) given.gamma = clamp(gamma, 0.1, 10);
  if (get('draw:color-inversion') === 'true') given.inverted = true;
  if (mode === 'mono') given.threshold = 0.5;
  if (Object.keys(given).length > 0) tone.given = given;
  return Object.keys(tone).length > 0 ? tone : undefined;
}

/** Can these properties say a tone? @param asFill is the picture a shape's fill, which has opacity alone? */
export function canRecolour(was: Tone | undefined, next: Tone, asFill: boolean): boolean {
  const { light, colour, softness, fading, given } = next;
  if (light && Object.values(light).some((v) => v !== 0)) return false;
  if ((softness && softness.blur > 0) || fading?.multiply) return false;
  const plain = !colour || (colour.warmth === 0 && colour.tint === 0 && !colour.only);
  if (asFill) return !given && plain && (!colour || colour.amount === 1);
  if (equal(was?.colour, colour) && equal(was?.given, given)) return true;
  // One mode says grey and the others.
  const grey = colour?.amount === 0;
  return plain && (grey || !colour || colour.amount === 1) && (!given || (equal(was?.given, given) && !grey));
}

/** The properties that a changed tone has, at rest where the old style or one above it says something else. */
export function toneProperties(site: Site, was: Tone | undefined, next: Tone | undefined): [Property, string][] {
  const out = new Map<Property, string>();
  const keepsGiven = equal(was?.given, next?.given);
  for (const name of Object.keys(REST) as Property[]) {
    const has = site.styles.property(site.style, name);
    if (has === undefined) continue;
    const kept = keepsGiven && name !== 'draw:image-opacity' && (name !== 'draw:color-mode' || has !== 'greyscale');
    out.set(name, kept ? has : REST[name]);
  }
  if (next?.colour?.amount === 0) out.set('draw:color-mode', 'greyscale');
  const opacity = next?.fading?.opacity ?? 1;
  if (opacity < 1) out.set('draw:image-opacity', `${trimNumber(opacity * 100, 3)}%`);
  return [...out];
}

/** Is an attribute one of those properties, whatever its prefix? */
export const isToneProperty = (attribute: string): boolean =>
  Object.hasOwn(REST, `draw:${attribute.slice(attribute.indexOf(':') + 1)}`);
