import { parseColour } from './colour';
import { GableError } from './errors';
import {
  DASHES,
  LINES,
  solidOutline,
  type KeepMark,
  type Outline,
  type Paint,
  type Shadow,
  type Size,
  type Tone,
} from './model/frame';
import { RATIOS } from './placement/adjust';
import { SIDES, type Side } from './placement/overstep';
import type { Subject } from './model/subject';
import { defaultKnobs, findShape, SHAPES } from './shapes/index';
import type { Shape } from './shapes/shape';
import { parseLength, POINTS } from './units';

/** Readers of what people type for framing: on the command line and in fields. Each throws a GableError that shows the form wanted. */

/** `6pt #ffffff`, `4px white 50% outside gap 2pt double dash round`, `6pt #c28a2c>#6d3b52@45`, or `none`. */
export function parseOutline(text: string): Outline | null {
  const bad = (): GableError =>
    new GableError(
      'bad-outline',
      `“${text}” is not an outline.`,
      'Write a weight and a colour, such as "6pt #ffffff" or "4px white 80% outside gap 2pt double dash", or none.',
      { text },
    );
  if (text.trim().toLowerCase() === 'none') return null;
  const m = /^\s*([\d.,]+\s*(?:pt|px|mm|cm|in)?)\s+(\S+)(?:\s+([\d.]+)\s*%)?((?:\s+\S+)*)\s*$/i.exec(text);
  if (!m) throw bad();
  const weight = parseLength(m[1]!);
  if (!(weight > 0) || weight > 1584) throw bad();
  const opacity = m[3] === undefined ? 1 : Number(m[3]) / 100;
  if (!(opacity >= 0 && opacity <= 1)) throw bad();
  const outline: Outline = { ...solidOutline(weight, '#000000'), paint: parsePaint(m[2]!, opacity) };
  const words = m[4]!.toLowerCase().split(/\s+/).filter(Boolean);
  for (let i = 0; i < words.length; i++) {
    const word = words[i]!;
    if (word === 'inside' || word === 'on' || word === 'outside') outline.side = word;
    else if (word === 'gap' && words[i + 1] !== undefined) outline.gap = parseLength(words[++i]!);
    else if (word === 'round' || word === 'bevel' || word === 'mitre') outline.join = word;
    else if ((LINES as readonly string[]).includes(word)) outline.lines = word as Outline['lines'];
    else if ((DASHES as readonly string[]).includes(word)) outline.dash = word as Outline['dash'];
    else throw bad();
  }
  if (outline.gap !== undefined && outline.side === 'on') outline.side = 'outside';
  return outline;
}

/** A colour, or colours with `>` between them for a gradient; `@45` is the angle of a straight one, `@centre` runs outwards, `@sides` to four sides. */
function parsePaint(text: string, opacity: number): Paint {
  const [run = '', way] = text.split('@');
  const colours = run.split('>').map(parseColour);
  if (colours.length === 1 && way === undefined) return { kind: 'solid', colour: colours[0]!, opacity };
  const angle = Number(way ?? 0);
  if (colours.length < 2 || colours.length > 10 || (way !== 'centre' && way !== 'sides' && !Number.isFinite(angle)))
    throw new GableError(
      'bad-outline',
      `“${text}” is not a gradient.`,
      'Write two to ten colours, such as #c28a2c>#6d3b52@45, @centre for one that runs outwards, or @sides.',
      { text },
    );
  const stops = colours.map((colour, i) => ({ at: i / (colours.length - 1), colour, opacity }));
  if (way === 'centre') return { kind: 'radial', stops };
  return way === 'sides' ? { kind: 'rectangular', stops } : { kind: 'linear', angle, stops };
}

/** Shadows by name. Common practice: below and soft, no darker than half. */
export const SHADOWS: Readonly<Record<string, Shadow>> = {
  soft: { kind: 'outer', dx: 0, dy: 3, blur: 9, spread: 0, colour: '#000000', opacity: 0.35 },
  close: { kind: 'outer', dx: 1, dy: 1.5, blur: 3, spread: 0, colour: '#000000', opacity: 0.4 },
  lifted: { kind: 'outer', dx: 0, dy: 9, blur: 24, spread: -2, colour: '#000000', opacity: 0.38 },
  glow: { kind: 'outer', dx: 0, dy: 0, blur: 12, spread: 2, colour: '#000000', opacity: 0.3 },
  hollow: { kind: 'inner', dx: 0, dy: 3, blur: 8, spread: 0, colour: '#000000', opacity: 0.45 },
};

/** `none`, a name such as `soft`, or `dx dy blur colour 35% [spread 2pt] [inner]`. */
export function parseShadow(text: string): Shadow | null {
  const word = text.trim().toLowerCase();
  if (word === 'none') return null;
  if (Object.hasOwn(SHADOWS, word)) return SHADOWS[word]!;
  const m = /^(\S+)\s+(\S+)\s+(\S+)\s+(#?\w+)(?:\s+([\d.]+)\s*%)?(?:\s+spread\s+(\S+))?(\s+inner)?$/.exec(word);
  const opacity = m?.[5] === undefined ? 0.4 : Number(m[5]) / 100;
  if (!m || !(opacity >= 0 && opacity <= 1))
    throw new GableError(
      'bad-shadow',
      `“${text}” is not a shadow.`,
      `Choose ${Object.keys(SHADOWS).join(', ')} or none, or write dx dy blur colour opacity, such as "2pt 3pt 8pt #000000 35%".`,
      { text },
    );
  const blur = parseLength(m[3]!);
  return {
    kind: m[7] ? 'inner' : 'outer',
    dx: parseLength(m[1]!),
    dy: parseLength(m[2]!),
    blur: Math.max(0, blur),
    spread: m[6] === undefined ? 0 : parseLength(m[6]),
    colour: parseColour(m[4]!),
    opacity,
  };
}

/** `brightness=0.2,contrast=-0.1,amount=0,warmth=0.3,only=#22302f/#f4f0e7,blur=2pt,opacity=50%,multiply`, or `none`. */
export function parseTone(text: string): Tone | undefined {
  if (text.trim().toLowerCase() === 'none') return undefined;
  const light = { brightness: 0, contrast: 0, bright: 0, dark: 0 };
  const colour: NonNullable<Tone['colour']> = { amount: 1, warmth: 0, tint: 0, only: null };
  const fading = { opacity: 1, multiply: false };
  let blur = 0;
  const used = new Set<string>();
  for (const part of text.split(',').map((p) => p.trim().toLowerCase())) {
    const [name = '', value = ''] = part.split('=').map((p) => p.trim());
    const number = value.endsWith('%') ? Number(value.slice(0, -1)) / 100 : value === '' ? NaN : Number(value);
    const within = (lo: number, hi: number): number => {
      if (!(number >= lo && number <= hi))
        throw new GableError('bad-tone', `“${part}” is out of range.`, `Give ${name} a number from ${lo} to ${hi}.`, {
          part,
        });
      return number;
    };
    if (name in light) {
      light[name as keyof typeof light] = within(-1, 1);
      used.add('light');
    } else if (name === 'amount') {
      colour.amount = within(0, 3);
      used.add('colour');
    } else if (name === 'warmth' || name === 'tint') {
      colour[name] = within(-1, 1);
      used.add('colour');
    } else if (name === 'only') {
      const [dark = '', light = dark] = value.split('/').slice(0, 2).map(parseColour);
      // One colour: the picture's shape in it.
      colour.only = [dark, light];
      used.add('colour');
    } else if (name === 'blur') {
      blur = parseLength(value);
      used.add('softness');
    } else if (name === 'opacity') {
      fading.opacity = within(0, 1);
      used.add('fading');
    } else if (name === 'multiply') {
      fading.multiply = true;
      used.add('fading');
    } else
      throw new GableError(
        'bad-tone',
        `“${part}” is not a part of a tone.`,
        'Use brightness, contrast, bright, dark, amount, warmth, tint, only, blur, opacity or multiply.',
        { part },
      );
  }
  return {
    ...(used.has('light') ? { light } : {}),
    ...(used.has('colour') ? { colour } : {}),
    ...(used.has('softness') ? { softness: { blur: Math.max(0, blur) } } : {}),
    ...(used.has('fading') ? { fading } : {}),
  };
}

/** `3:2`, `16/9`, `1.5`, or a name such as `golden` or `A-portrait`: width over height. */
export function parseRatio(text: string): number {
  const named = RATIOS.find((r) => r.name.toLowerCase() === text.trim().toLowerCase());
  if (named) return named.ratio;
  const m = /^\s*([\d.]+)(?:\s*[:/x×]\s*([\d.]+))?\s*$/i.exec(text);
  const ratio = m ? Number(m[1]) / Number(m[2] ?? 1) : NaN;
  if (!(ratio > 0.01 && ratio < 100))
    throw new GableError(
      'bad-ratio',
      `“${text}” is not a ratio.`,
      'Write width and height with a colon, such as 3:2, or golden, A-landscape or A-portrait.',
      { text },
    );
  return ratio;
}

/** `50mm x 40mm`, `50x40mm`, or one length for a square. Points. */
export function parseSize(text: string): Size {
  // The unit of pixels has an x of its own.
  const [, first, second] = /^(.+?)\s*[x×]\s*(\d.*)$/i.exec(text.trim()) ?? [];
  const parts = first !== undefined && second !== undefined ? [first, second] : [text];
  if (/[x×]\s*\d/i.test(second ?? '')) throw notASize(text);
  const last = /[a-z]+\s*$/i.exec(text)?.[0].trim();
  const lengths = parts.map((p) => parseLength(/[a-z]/i.test(p) || !last ? p : `${p}${last}`));
  const [width, height = width] = lengths;
  if (!(width! > 0) || !(height! > 0)) throw notASize(text);
  return { width: width!, height: height! };
}

const notASize = (text: string): GableError =>
  new GableError('bad-size', `“${text}” is not a size.`, 'Write width × height, such as 50mmx40mm.', { text });

/** `0.5,0.3` or `50%,30%`: a point of the picture. Or the words `subject` and `centre`. */
export function parseAim(text: string): Subject | 'subject' | 'centre' {
  const word = text.trim().toLowerCase();
  if (word === 'subject') return 'subject';
  if (word === 'centre' || word === 'center') return 'centre';
  const parts = text
    .split(/[,;]/)
    .map((p) => (p.trim().endsWith('%') ? parseFloat(p) / 100 : p.trim() === '' ? NaN : Number(p)));
  const [u, v] = parts;
  if (parts.length !== 2 || !(u! >= 0 && u! <= 1 && v! >= 0 && v! <= 1))
    throw new GableError(
      'bad-aim',
      `“${text}” is not a point of the picture.`,
      'Write two shares from 0 to 1 with a comma, such as 0.5,0.3, or subject, or centre.',
      { text },
    );
  return { u: u!, v: v! };
}

/** The shape of this name. */
export function parseShape(text: string): Shape {
  const shape = findShape(text.trim().toLowerCase());
  if (!shape)
    throw new GableError(
      'unknown-shape',
      `There is no shape called “${text}”.`,
      `Choose one of: ${suggestions(text).join(', ')}. All ${SHAPES.length} are listed by: gable shapes`,
      { text },
    );
  return shape;
}

/** Names that are near to what was typed, else those asked for most. */
function suggestions(text: string): string[] {
  const start = text.trim().toLowerCase().slice(0, 3);
  const near = SHAPES.map((s) => s.name).filter((n) => start.length > 1 && n.includes(start));
  return (near.length > 0 ? near : SHAPES.slice(0, 8).map((s) => s.name)).slice(0, 12);
}

/** `radius=0.2,…` for a shape; names and ranges are checked. */
export function parseKnobs(text: string, shape: Shape): Record<string, number> {
  const knobs: Record<string, number> = { ...defaultKnobs(shape) };
  for (const pair of text.split(',').filter((p) => p.trim() !== '')) {
    const [name = '', value = ''] = pair.split('=').map((p) => p.trim());
    const knob = shape.knobs.find((k) => k.name === name);
    const number = value === '' ? NaN : Number(value);
    if (!knob)
      throw new GableError(
        'unknown-knob',
        `The shape ${shape.name} has no knob “${name}”.`,
        shape.knobs.length
          ? `It has: ${shape.knobs.map((k) => k.name).join(', ')}.`
          : 'It has none; leave the knobs out.',
        { name },
      );
    if (!(number >= knob.min && number <= knob.max))
      throw new GableError(
        'bad-knob',
        `“${value}” is out of range for ${name}.`,
        `Give a number from ${knob.min} to ${knob.max}.`,
        { name, value },
      );
    knobs[name] = number;
  }
  return knobs;
}

/** `all`, `2`, or `1,3-5`: picture numbers out of those there are. */
export function parsePick(text: string, numbers: readonly number[]): number[] {
  if (text.trim().toLowerCase() === 'all') return [...numbers];
  const picked = new Set<number>();
  for (const part of text.split(',')) {
    const m = /^\s*(\d+)(?:\s*-\s*(\d+))?\s*$/.exec(part);
    const from = Number(m?.[1]);
    const to = Number(m?.[2] ?? from);
    if (!m || from > to)
      throw new GableError('bad-pick', `“${text}” is not a list of pictures.`, 'Write all, or numbers such as 1,3-5.', {
        text,
      });
    if (to - from > 10_000)
      throw new GableError(
        'bad-pick',
        `“${part.trim()}” is too long a range.`,
        `There are ${numbers.length} pictures.`,
        { text },
      );
    for (let n = from; n <= to; n++) {
      if (!numbers.includes(n))
        throw new GableError(
          'no-such-picture',
          `There is no picture ${n}.`,
          numbers.length
            ? `The file has ${numbers.length}: ${numbers[0]} to ${numbers[numbers.length - 1]}.`
            : 'The file has no pictures.',
          { n },
        );
      picked.add(n);
    }
  }
  return [...picked].sort((a, b) => a - b);
}

/** What an author may name to keep, where it is found in each picture. */
export const KEEP_WORDS = ['faces', 'words'] as const;
/** A region, or what is found in each picture. */
export type KeepWish = KeepMark | (typeof KEEP_WORDS)[number];

/** `0.2,0.1,0.5,0.4`: left, top, width and height of a region, in shares of the picture (or with %); `faces`, `words`; several with `+`. */
export const parseKeep = (text: string): KeepWish[] => text.split('+').map(parseKeepOne);

function parseKeepOne(text: string): KeepWish {
  const word = KEEP_WORDS.find((w) => w === text.trim().toLowerCase());
  if (word) return word;
  const [u = NaN, v = NaN, width = NaN, height = NaN, ...more] = text
    .split(/[,;]/)
    .map((p) => (p.trim().endsWith('%') ? parseFloat(p) / 100 : p.trim() === '' ? NaN : Number(p)));
  const inside = u >= 0 && v >= 0 && width > 0 && height > 0 && u + width <= 1 + 1e-9 && v + height <= 1 + 1e-9;
  if (!inside || more.length > 0)
    throw new GableError(
      'bad-keep',
      `“${text}” is not a region of the picture.`,
      'Write left, top, width and height as shares from 0 to 1, such as 0.2,0.1,0.5,0.4, or faces, or words.',
      { text },
    );
  return { u, v, width: Math.min(width, 1 - u), height: Math.min(height, 1 - v) };
}

/** Sides that a subject reaches over, each from a line on or from where it fits best (null). */
export type OverstepWish = { side: Side; line: number | null }[];

/** `top`, `top+left`, `bottom@60%` (from a line, in shares of the box from its top or left), `all`; `none` takes it away. */
export function parseOverstep(text: string): OverstepWish {
  const word = text.trim().toLowerCase();
  if (word === 'none') return [];
  if (word === 'all') return SIDES.map((side) => ({ side, line: null }));
  const wishes = word.split('+').map((part) => {
    const [name, at, ...more] = part.trim().split('@');
    const side = SIDES.find((s) => s === name);
    const line = at === undefined ? null : at.endsWith('%') ? parseFloat(at) / 100 : at === '' ? NaN : Number(at);
    return side && more.length === 0 && (line === null || (line >= 0 && line <= 1)) ? { side, line } : null;
  });
  const sides = wishes.filter((w) => w !== null);
  if (sides.length < wishes.length || new Set(sides.map((w) => w.side)).size < sides.length)
    throw new GableError(
      'bad-overstep',
      `“${text}” does not say which sides the subject reaches over.`,
      'Write top, right, bottom, left (several with +, each with a line such as top@40%), all or none.',
      { text },
    );
  return sides;
}

/** Sheets by name, upright, in millimetres: ISO 216, and letter (ANSI/ASME Y14.1). */
const SHEETS: Readonly<Record<string, readonly [number, number]>> = {
  a3: [297, 420],
  a4: [210, 297],
  a5: [148, 210],
  a6: [105, 148],
  letter: [215.9, 279.4],
};
/** Slides by their ratio, in inches (common practice). */
const SLIDES: Readonly<Record<string, readonly [number, number]>> = { '16:9': [40 / 3, 7.5], '4:3': [10, 7.5] };

/** `A4`, `A4 landscape`, `letter`, `16:9`, `1080x1080px`, `200mmx100mm`: the size of a page, in points. */
export function parsePage(text: string): Size {
  const [, name = '', turned] = /^([a-z0-9:]+)(?:\s+(landscape|portrait))?$/.exec(text.trim().toLowerCase()) ?? [];
  const sheet = SHEETS[name];
  const slide = SLIDES[name];
  if ((!sheet && turned !== undefined) || (!sheet && !slide && !/\d\s*\D*[x×]/i.test(text)))
    throw new GableError(
      'bad-size',
      `“${text}” is not a page.`,
      'Write A4, A4 landscape, letter, 16:9, 4:3, or a size such as 1080x1080px.',
      { text },
    );
  if (slide) return { width: slide[0] * POINTS.in, height: slide[1] * POINTS.in };
  if (!sheet) return parseSize(text);
  const [short, long] = sheet.map((mm) => mm * POINTS.mm) as [number, number];
  return turned === 'landscape' ? { width: long, height: short } : { width: short, height: long };
}
