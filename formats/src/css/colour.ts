import { clamp } from '@gable/core';
import { converter, formatHex, parse } from 'culori';

const rgb = converter('rgb');

/**
 * Any colour that CSS Color 4 §4 can write, in sRGB, `#rrggbb` and its opacity, 0..1. Null for what is no colour by itself:
 * `currentcolor`, colours of the system, variables.
 */
export function cssColour(text: string): { colour: string; opacity: number } | null {
  const c = parse(text.trim().toLowerCase());
  if (!c) return null;
  const { r, g, b, alpha = 1 } = rgb(c);
  const finite = (v: number): number => (Number.isFinite(v) ? v : 0);
  const colour = formatHex({ mode: 'rgb', r: finite(r), g: finite(g), b: finite(b) });
  return { colour, opacity: clamp(finite(alpha), 0, 1) };
}
