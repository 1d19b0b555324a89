import { strFromU8, strToU8, unzipSync, zipSync } from 'fflate';
import { FrameSchema, GableError, withShape } from '@gable/core';
import { openFile } from './frames';

/** Structure-aware damage: elements, attributes and parts are broken, doubled, taken away and filled with extremes. */

export type Random = () => number;

/** Numbers from a seed (Numerical Recipes' linear congruential generator). */
export function seeded(seed: number): Random {
  let s = seed >>> 0;
  return () => (s = (Math.imul(s, 1_664_525) + 1_013_904_223) >>> 0) / 2 ** 32;
}

const EXTREMES = [
  '',
  '0',
  '-1',
  '99999999999999',
  '1e309',
  'NaN',
  '-0.0001',
  '100000',
  'none',
  '../../x',
  '#',
  'rect(',
  '?f0',
  '%',
  '\u{1F600}',
];
const pick = <T>(list: readonly T[], random: Random): T => list[Math.floor(random() * list.length)]!;

/** Markup with one thing wrong in it. */
function damaged(text: string, random: Random): string {
  const tags = [...text.matchAll(/<[A-Za-z][^<>]*>/g)];
  const tag = pick(tags, random);
  if (!tag) return text;
  const [at, open] = [tag.index, tag[0]];
  const name = /^<([\w:.-]+)/.exec(open)![1]!;
  const close = text.indexOf(`</${name}>`, at);
  const end = open.endsWith('/>') || close < 0 ? at + open.length : close + name.length + 3;
  const element = text.slice(at, end);
  switch (Math.floor(random() * 9)) {
    case 0:
      return text.slice(0, at) + text.slice(end);
    case 1:
      return text.slice(0, end) + element + text.slice(end);
    case 2:
      return text.slice(0, at) + element.repeat(3) + text.slice(end);
    case 3:
    case 4:
    case 5: {
      const values = [...open.matchAll(/="[^"]*"/g)];
      const value = pick(values, random);
      if (!value) return text;
      const from = at + value.index;
      return `${text.slice(0, from)}="${pick(EXTREMES, random)}"${text.slice(from + value[0].length)}`;
    }
    case 6:
      return text.slice(0, at) + `<${name}>`.repeat(300) + text.slice(at);
    case 7: {
      const other = pick(tags, random)[0];
      return text.slice(0, at) + other + text.slice(end);
    }
    default: {
      const cut = Math.floor(random() * text.length);
      return (
        text.slice(0, cut) +
        pick(['<', '"', '&x;', '\u0000', '', ']]>'], random) +
        text.slice(cut + Math.floor(random() * 40))
      );
    }
  }
}

/** A copy of a file with something wrong in it. */
export function damage(bytes: Uint8Array, random: Random): Uint8Array {
  const zipped = bytes[0] === 0x50;
  if (!zipped) return strToU8(damaged(strFromU8(bytes), random));
  if (random() < 0.2) {
    const out = bytes.slice();
    // Most of a package is pictures: its directory at the end is what is worth breaking.
    const from = random() < 0.5 ? Math.max(0, out.length - 4000) : 0;
    for (let k = 0; k < 4; k++) out[from + Math.floor(random() * (out.length - from))] = Math.floor(random() * 256);
    return out;
  }
  const parts = unzipSync(bytes);
  const names = Object.keys(parts);
  const markup = names.filter((n) => /\.(xml|rels|html|css)$/.test(n));
  const name = pick(markup, random);
  if (random() < 0.08) delete parts[pick(names, random)];
  else parts[name] = strToU8(damaged(strFromU8(parts[name]!), random));
  return zipSync(parts, { level: 0 });
}

export interface Outcome {
  opened: boolean;
  /** Milliseconds. */
  took: number;
}

/** Opens, frames everything, saves and opens again. @throws whatever is no clear error */
export function attempt(bytes: Uint8Array): Outcome {
  const start = performance.now();
  let opened = false;
  try {
    const file = openFile(bytes);
    opened = true;
    for (const { frame } of file.pictures) FrameSchema.parse(frame);
    const saved = file.save(
      file.pictures.map((p) => withShape(p.frame, { name: p.n % 2 ? 'circle' : 'heart', knobs: {} }, p.size)),
    );
    openFile(saved);
    // What is shown of it round the frames.
    JSON.stringify(file.sheets);
    file.markup?.(1);
    file.backdrop?.(1);
  } catch (error) {
    if (!(error instanceof GableError)) throw error;
    if (error.message.length < 10 || error.remedy.length < 5)
      throw new Error(`An unclear error: ${error.message}`, { cause: error });
  }
  return { opened, took: performance.now() - start };
}
