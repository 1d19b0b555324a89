import { clamp, type Tone } from '@gable/core';
import { percentOf, pointsOf } from './lengths';

const LIGHT = { brightness: 0, contrast: 0, bright: 0, dark: 0 };
const COLOUR = { amount: 1, warmth: 0, tint: 0, only: null };

/** A number, or a percentage of one; functions without an argument are done in full (Filter Effects 1 §13.1). */
const amountOf = (text: string): number | null =>
  text === '' ? 1 : (percentOf(text) ?? (/^\d*\.?\d+$/.test(text) ? Number(text) : null));

/** Filter functions (Filter Effects 1 §13.1) as parts of a tone, in the order in which a tone does them. */
const FUNCTIONS: Readonly<Record<string, { step: number; add: (tone: Tone, argument: string) => boolean }>> = {
  invert: {
    step: 0,
    add: (tone, text) => {
      if (amountOf(text) !== 1) return false;
      tone.given = { inverted: true };
      return true;
    },
  },
  brightness: { step: 1, add: (tone, text) => slope(tone, 'brightness', text) },
  contrast: { step: 2, add: (tone, text) => slope(tone, 'contrast', text) },
  saturate: { step: 3, add: (tone, text) => amount(tone, amountOf(text)) },
  grayscale: {
    step: 3,
    add: (tone, text) => {
      const v = amountOf(text);
      return amount(tone, v === null ? null : 1 - Math.min(1, v));
    },
  },
  blur: {
    step: 4,
    add: (tone, text) => {
      const blur = text === '' ? 0 : pointsOf(text);
      if (blur === null || blur < 0 || blur > 500) return false;
      tone.softness = { blur };
      return true;
    },
  },
  opacity: {
    step: 5,
    add: (tone, text) => {
      const opacity = amountOf(text);
      if (opacity === null) return false;
      fade(tone, opacity);
      return true;
    },
  },
};

function slope(tone: Tone, name: 'brightness' | 'contrast', text: string): boolean {
  const v = amountOf(text);
  if (v === null || v > 2) return false;
  tone.light = { ...LIGHT, ...tone.light, [name]: v - 1 };
  return true;
}

function amount(tone: Tone, v: number | null): boolean {
  if (v === null || v > 3) return false;
  tone.colour = { ...COLOUR, amount: v };
  return true;
}

function fade(tone: Tone, opacity: number): void {
  tone.fading = { opacity: clamp(opacity * (tone.fading?.opacity ?? 1), 0, 1), multiply: false };
}

/**
 * What `filter` and `opacity` do to an image, as a tone, and which of the two were understood. A list of functions that a
 * tone does not do, or does in another order, stays with the page and is not shown.
 */
export function readTone(style: ReadonlyMap<string, string>): { tone: Tone | undefined; read: readonly string[] } {
  const read: string[] = [];
  let tone: Tone = {};
  const list = style.get('filter')?.trim();
  const done = list ? filtered(list) : null;
  if (done) {
    tone = done;
    read.push('filter');
  }
  const faded = style.get('opacity')?.trim();
  const opacity = faded ? amountOf(faded) : null;
  if (opacity !== null) {
    if (opacity < 1) fade(tone, opacity);
    read.push('opacity');
  }
  return { tone: Object.keys(tone).length > 0 ? tone : undefined, read };
}

function filtered(list: string): Tone | null {
  const tone: Tone = {};
  let last = -1;
  const rest = list.replace(/([a-z-]+)\(\s*([^()]*?)\s*\)\s*/gi, (all, name: string, argument: string) => {
    const known = Object.hasOwn(FUNCTIONS, name.toLowerCase()) ? FUNCTIONS[name.toLowerCase()]! : null;
    if (!known || known.step <= last || !known.add(tone, argument)) return all;
    last = known.step;
    return '';
  });
  return rest === '' || rest === 'none' ? tone : null;
}
