import { parseColour } from './colour';
import { GableError } from './errors';
import { solidOutline, type Outline, type Size } from './model/frame';
import type { Subject } from './placement/reframe';
import { defaultKnobs, findShape, SHAPES } from './shapes/index';
import type { Shape } from './shapes/shape';
import { parseLength } from './units';

/** Readers of what people type for framing: on the command line and in fields. Each throws a GableError that shows the form wanted. */

/** `6pt #ffffff`, `4px white 50%`, or `none`. */
export function parseOutline(text: string): Outline | null {
  const bad = (): GableError =>
    new GableError(
      'bad-outline',
      `“${text}” is not an outline.`,
      'Write a weight and a colour, such as "6pt #ffffff" or "4px white 80%", or none.',
      { text },
    );
  if (text.trim().toLowerCase() === 'none') return null;
  const m = /^\s*([\d.,]+\s*[a-z]*)\s+(#?\w+)(?:\s+([\d.]+)\s*%)?\s*$/i.exec(text);
  if (!m) throw bad();
  const weight = parseLength(m[1]!);
  if (!(weight > 0) || weight > 1584) throw bad();
  const opacity = m[3] === undefined ? 1 : Number(m[3]) / 100;
  if (!(opacity >= 0 && opacity <= 1)) throw bad();
  return solidOutline(weight, parseColour(m[2]!), opacity);
}

/** `3:2`, `16/9` or `1.5`: width over height. */
export function parseRatio(text: string): number {
  const m = /^\s*([\d.]+)(?:\s*[:/x×]\s*([\d.]+))?\s*$/i.exec(text);
  const ratio = m ? Number(m[1]) / Number(m[2] ?? 1) : NaN;
  if (!(ratio > 0.01 && ratio < 100))
    throw new GableError(
      'bad-ratio',
      `“${text}” is not a ratio.`,
      'Write width and height with a colon, such as 3:2.',
      { text },
    );
  return ratio;
}

/** `50mm x 40mm`, `50x40mm`, or one length for a square. Points. */
export function parseSize(text: string): Size {
  const parts = text.split(/[x×]/i);
  const last = /[a-z]+\s*$/i.exec(text)?.[0].trim();
  const lengths = parts.map((p) => parseLength(/[a-z]/i.test(p) || !last ? p : `${p}${last}`));
  const [width, height = width] = lengths;
  if (parts.length > 2 || !(width! > 0) || !(height! > 0))
    throw new GableError('bad-size', `“${text}” is not a size.`, 'Write width × height, such as 50mmx40mm.', { text });
  return { width: width!, height: height! };
}

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
      `Choose one of: ${SHAPES.map((s) => s.name).join(', ')}.`,
      { text },
    );
  return shape;
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
      throw new GableError('bad-pick', `“${text}” does not pick pictures.`, 'Write all, or numbers such as 1,3-5.', {
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
