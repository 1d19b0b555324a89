import { channels, clamp } from '@gable/core';
import { child, type Element } from '../xml/located';
import { share } from './values';

/** Colours of the theme by name (`accent1`, `dk1`, …), `#rrggbb`. */
export type Theme = ReadonlyMap<string, string>;

/** Preset colours that office programs write (ISO/IEC 29500-1 §20.1.10.47); values from CSS Color 4 §6.1. */
const PRESET: Record<string, string> = {
  white: '#ffffff',
  black: '#000000',
  gray: '#808080',
  grey: '#808080',
  ltGray: '#d3d3d3',
  dkGray: '#a9a9a9',
  silver: '#c0c0c0',
  red: '#ff0000',
  green: '#008000',
  blue: '#0000ff',
  yellow: '#ffff00',
  orange: '#ffa500',
  purple: '#800080',
  navy: '#000080',
  teal: '#008080',
  maroon: '#800000',
  lime: '#00ff00',
  cyan: '#00ffff',
  magenta: '#ff00ff',
};

/** The usual mapping of document to theme names (ISO/IEC 29500-1 §20.1.6.2, clrMap). */
const MAPPED: Record<string, string> = { tx1: 'dk1', bg1: 'lt1', tx2: 'dk2', bg2: 'lt2' };

export function readTheme(root: Element): Theme {
  const out = new Map<string, string>();
  const scheme = child(child(root, 'themeElements'), 'clrScheme');
  for (const slot of scheme?.children ?? []) {
    const c = slot.children[0];
    const value = c?.attributes['val'];
    const hex = c?.local === 'sysClr' ? c.attributes['lastClr'] : value;
    if (hex && /^[0-9a-f]{6}$/i.test(hex)) out.set(slot.local, `#${hex.toLowerCase()}`);
  }
  return out;
}

/**
 * The colour inside a fill, with the transforms that programs use most: alpha, lumMod, lumOff, tint, shade
 * (ISO/IEC 29500-1 §20.1.2.3).
 * @returns null for a colour Gable cannot resolve
 */
export function readColour(fill: Element, theme: () => Theme): { colour: string; opacity: number } | null {
  const c = fill.children.find((e) => e.local.endsWith('Clr'));
  if (!c) return null;
  const value = c.attributes['val'] ?? '';
  let colour: string | undefined;
  if (c.local === 'srgbClr') colour = /^[0-9a-f]{6}$/i.test(value) ? `#${value.toLowerCase()}` : undefined;
  else if (c.local === 'sysClr') colour = `#${(c.attributes['lastClr'] ?? '000000').toLowerCase()}`;
  else if (c.local === 'prstClr') colour = PRESET[value];
  else if (c.local === 'schemeClr') colour = theme().get(MAPPED[value] ?? value);
  if (!colour) return null;
  let opacity = 1;
  for (const t of c.children) {
    const k = share(t.attributes['val']);
    if (k === null) continue;
    if (t.local === 'alpha') opacity = clamp(k, 0, 1);
    else if (t.local === 'lumMod') colour = luminance(colour, (l) => l * k);
    else if (t.local === 'lumOff') colour = luminance(colour, (l) => l + k);
    else if (t.local === 'tint') colour = each(colour, (v) => v * k + 255 * (1 - k));
    else if (t.local === 'shade') colour = each(colour, (v) => v * k);
  }
  return { colour, opacity };
}

function each(colour: string, f: (v: number) => number): string {
  return `#${channels(colour)
    .map((v) =>
      Math.round(clamp(f(v), 0, 255))
        .toString(16)
        .padStart(2, '0'),
    )
    .join('')}`;
}

/** Changes the lightness of a colour as HSL has it. */
function luminance(colour: string, f: (l: number) => number): string {
  const rgb = channels(colour).map((v) => v / 255) as [number, number, number];
  const hi = Math.max(...rgb);
  const lo = Math.min(...rgb);
  const l = (hi + lo) / 2;
  const next = clamp(f(l), 0, 1);
  if (hi === lo) return each(colour, () => next * 255);
  // At the same hue and saturation, every channel keeps its place within the chroma.
  const s = (hi - lo) / (1 - Math.abs(2 * l - 1));
  const chroma = (1 - Math.abs(2 * next - 1)) * s;
  const [r, g, b] = rgb.map((v) => next + ((v - l) / (hi - lo)) * chroma) as [number, number, number];
  return `#${[r, g, b]
    .map((v) =>
      Math.round(clamp(v, 0, 1) * 255)
        .toString(16)
        .padStart(2, '0'),
    )
    .join('')}`;
}
