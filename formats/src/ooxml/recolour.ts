import type { Tone } from '@gable/core';
import { child } from '../xml/located';
import type { Splice } from '../xml/splice';
import { readColour, type Theme } from './colour';
import type { Site } from './read-picture';
import { formatShare, share } from './values';

/** Effects on a picture's colours that have an equal among tones (ISO/IEC 29500-1 §20.1.8.13, CT_Blip). */
const KNOWN = ['grayscl', 'duotone', 'alphaModFix'];
const PLAIN = { amount: 1, warmth: 0, tint: 0, only: null };

/**
 * What the file does to the picture's colours, as a tone: grey (§20.1.8.34), two colours for dark and light (§20.1.8.23),
 * opacity (§20.1.8.4). Other effects are kept and not shown. Undefined where there are none.
 */
export function readTone(site: Site, theme: () => Theme): Tone | undefined {
  const blip = child(site.blipFill, 'blip');
  if (!blip) return undefined;
  const tone: Tone = {};
  const duotone = child(blip, 'duotone');
  const ends = (duotone?.children ?? []).flatMap(
    (c) => readColour({ ...duotone!, children: [c] }, theme)?.colour ?? [],
  );
  if (ends.length === 2) tone.colour = { ...PLAIN, only: ends };
  else if (child(blip, 'grayscl')) tone.colour = { ...PLAIN, amount: 0 };
  const opacity = share(child(blip, 'alphaModFix')?.attributes['amt']);
  if (opacity !== null && opacity >= 0 && opacity < 1) tone.fading = { opacity, multiply: false };
  return Object.keys(tone).length > 0 ? tone : undefined;
}

/** Can a tone be said by those effects alone? */
export function canRecolour({ light, colour, softness, fading }: Tone): boolean {
  if (light && Object.values(light).some((v) => v !== 0)) return false;
  if ((softness && softness.blur > 0) || fading?.multiply) return false;
  if (!colour) return true;
  if (colour.warmth !== 0 || colour.tint !== 0) return false;
  // Grey in two colours is those two colours.
  return colour.only ? colour.only.length === 2 : colour.amount === 0 || colour.amount === 1;
}

/** The effects of a tone in the place of those that were read; others stay. @param a names of the drawing namespace */
export function writeTone(
  splice: Splice,
  site: Site,
  tone: Tone | undefined,
  a: { name: (local: string) => string; declare: string; strict: boolean },
): void {
  const blip = child(site.blipFill, 'blip');
  if (!blip) return;
  for (const c of blip.children) if (KNOWN.includes(c.local)) splice.replace(c, '');
  const rgb = (colour: string): string => `<${a.name('srgbClr')} val="${colour.slice(1).toUpperCase()}"/>`;
  const { colour, fading } = tone ?? {};
  let xml = '';
  if (fading && fading.opacity < 1)
    xml += `<${a.name('alphaModFix')}${a.declare} amt="${formatShare(fading.opacity, a.strict)}"/>`;
  if (colour?.only?.length === 2)
    xml += `<${a.name('duotone')}${a.declare}>${colour.only.map(rgb).join('')}</${a.name('duotone')}>`;
  else if (colour?.amount === 0) xml += `<${a.name('grayscl')}${a.declare}/>`;
  if (xml) splice.slot(blip, [], ['extLst'], xml);
}
