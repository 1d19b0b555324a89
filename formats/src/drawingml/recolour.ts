import { clamp, equal, type Given, type Tone } from '@gable/core';
import { child, type Element } from '../xml/located';
import type { Splice } from '../xml/splice';
import { readColour, type Theme } from './colour';
import type { Site } from './site';
import { formatShare, share } from './values';

/** Effects on a picture's colours that have an equal among tones (ISO/IEC 29500-1 §20.1.8.13, CT_Blip). */
const KNOWN = ['grayscl', 'duotone', 'alphaModFix'];
/** Those that are shown, kept, and taken away as a whole. */
const GIVEN = ['lum', 'biLevel', 'clrChange'];
/**
 * Full brightness adds half of the way from black to white: the older markup, which says the same pictures by a black level,
 * gives that −½ to ½ for −100 % to 100 % (from memory).
 */
const BRIGHT = 2;
const NO_COLOUR_TONE = { amount: 1, warmth: 0, tint: 0, only: null };

/**
 * What the file does to the picture's colours, as a tone: grey (§20.1.8.34), two colours for dark and light (§20.1.8.23),
 * opacity (§20.1.8.4), and as given by the file: brightness and contrast (§20.1.8.42), black and white only (§20.1.8.11),
 * one colour that becomes another (§20.1.8.16). Other effects are kept and not shown. Undefined where there are none.
 */
export function readTone(site: Site, theme: () => Theme): Tone | undefined {
  const blip = child(site.blipFill, 'blip');
  if (!blip) return undefined;
  const tone: Tone = {};
  const duotone = child(blip, 'duotone');
  const ends = (duotone?.children ?? []).flatMap(
    (c) => readColour({ ...duotone!, children: [c] }, theme)?.colour ?? [],
  );
  if (ends.length === 2) tone.colour = { ...NO_COLOUR_TONE, only: ends };
  else if (child(blip, 'grayscl')) tone.colour = { ...NO_COLOUR_TONE, amount: 0 };
  const opacity = share(child(blip, 'alphaModFix')?.attributes['amt']);
  if (opacity !== null && opacity >= 0 && opacity < 1) tone.fading = { opacity, multiply: false };
  const given = readGiven(blip, theme);
  if (Object.keys(given).length > 0) tone.given = given;
  return Object.keys(tone).length > 0 ? tone : undefined;
}

function readGiven(blip: Element, theme: () => Theme): Given {
  const given: Given = {};
  const lum = child(blip, 'lum')?.attributes;
  const signed = (text: string | undefined): number => clamp(share(text) ?? 0, -1, 1);
  const [lift, contrast] = [signed(lum?.['bright']), signed(lum?.['contrast'])];
  if (contrast !== 0) given.contrast = contrast;
  if (lift !== 0) given.lift = lift / BRIGHT;
  const threshold = share(child(blip, 'biLevel')?.attributes['thresh']);
  if (threshold !== null && threshold >= 0 && threshold <= 1) given.threshold = threshold;
  const change = child(blip, 'clrChange');
  const [from, to] = [child(change, 'clrFrom'), child(change, 'clrTo')].map((c) => c && readColour(c, theme));
  if (from && to) {
    // Without it the colour that is looked for has no part in how clear it is (§20.1.8.16, useA).
    const clear = !/^(0|false|off)$/.test(change!.attributes['useA'] ?? '1');
    given.swap = { from: from.colour, to: to.colour, opacity: clear ? to.opacity : 1 };
  }
  return given;
}

/** Can a tone be said by those effects alone? */
export function canRecolour({ light, colour, softness, fading, given }: Tone): boolean {
  if (light && Object.values(light).some((v) => v !== 0)) return false;
  if (given && (given.channels || given.gamma !== undefined || given.inverted)) return false;
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
  { was, next }: { was: Tone | undefined; next: Tone | undefined },
  a: { name: (local: string) => string; declare: string; strict: boolean },
): void {
  const blip = child(site.blipFill, 'blip');
  if (!blip) return;
  const given = equal(was?.given, next?.given) ? null : (next?.given ?? {});
  const gone = given ? [...KNOWN, ...GIVEN] : KNOWN;
  for (const c of blip.children) if (gone.includes(c.local)) splice.replace(c, '');
  const effect = (name: string, attributes: string, inner = ''): string =>
    `<${a.name(name)}${a.declare}${attributes}${inner ? `>${inner}</${a.name(name)}>` : '/>'}`;
  const part = (v: number): string => formatShare(v, a.strict);
  const rgb = (colour: string, opacity = 1): string => {
    const name = a.name('srgbClr');
    const head = `<${name} val="${colour.slice(1).toUpperCase()}"`;
    return opacity === 1 ? `${head}/>` : `${head}><${a.name('alpha')} val="${part(opacity)}"/></${name}>`;
  };
  const { colour, fading } = next ?? {};
  const { swap, contrast = 0, lift = 0, threshold } = given ?? {};
  let xml = '';
  if (swap) {
    const [from, to] = [a.name('clrFrom'), a.name('clrTo')];
    xml += effect('clrChange', '', `<${from}>${rgb(swap.from)}</${from}><${to}>${rgb(swap.to, swap.opacity)}</${to}>`);
  }
  if (contrast !== 0 || lift !== 0)
    xml += effect('lum', ` bright="${part(clamp(lift * BRIGHT, -1, 1))}" contrast="${part(contrast)}"`);
  if (threshold !== undefined) xml += effect('biLevel', ` thresh="${part(threshold)}"`);
  if (fading && fading.opacity < 1) xml += effect('alphaModFix', ` amt="${part(fading.opacity)}"`);
  if (colour?.only?.length === 2) xml += effect('duotone', '', colour.only.map((c) => rgb(c)).join(''));
  else if (colour?.amount === 0) xml += effect('grayscl', '');
  if (xml) splice.slot(blip, [], ['extLst'], xml);
}
