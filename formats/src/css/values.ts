import { calc } from '@csstools/css-calc';
import { percentOf, PIXEL, pointsOf } from './lengths';

/** What relative lengths of an element are of, in CSS pixels (CSS Values 4 §6.1). */
export interface Fonts {
  em: number;
  rem: number;
}

/** The window that pages are taken to be seen in, in CSS pixels. */
export const WINDOW = { width: 1180, height: 800 };
/** No value of a page that a picture hangs on is longer; growth by variables ends here, too. */
const LONGEST = 20_000;
const DEEPEST = 30;

/** Parts of a value between spaces, commas or slashes that are not in brackets or quotes. */
export function split(text: string, by = /\s/): string[] {
  const out: string[] = [];
  let part = '';
  let depth = 0;
  let quote = '';
  for (const c of text) {
    if (quote) quote = c === quote ? '' : quote;
    else if (c === '"' || c === "'") quote = c;
    else if (c === '(') depth++;
    else if (c === ')') depth--;
    if (depth === 0 && !quote && by.test(c)) {
      if (part.trim()) out.push(part.trim());
      part = '';
    } else part += c;
  }
  if (part.trim()) out.push(part.trim());
  return out;
}

/**
 * A value with its variables put in (CSS Variables 1 §3).
 * @returns null when one is missing without a fallback, or leads to itself
 */
export function substitute(text: string, variables: ReadonlyMap<string, string>, depth = 0): string | null {
  let out = text;
  for (;;) {
    const at = /(?<![\w-])var\(/i.exec(out);
    if (!at) return out;
    if (depth > DEEPEST || out.length > LONGEST) return null;
    let end = at.index + 4;
    for (let open = 1; end < out.length && open > 0; end++) open += out[end] === '(' ? 1 : out[end] === ')' ? -1 : 0;
    const inside = out.slice(at.index + 4, end - 1);
    const comma = inside.indexOf(',');
    const name = (comma < 0 ? inside : inside.slice(0, comma)).trim();
    const own = variables.get(name);
    const said = own === undefined ? null : substitute(own, variables, depth + 1);
    const value = said ?? (comma < 0 ? null : substitute(inside.slice(comma + 1).trim(), variables, depth + 1));
    if (value === null) return null;
    out = `${out.slice(0, at.index)}${value}${out.slice(end)}`;
  }
}

/** CSS pixels in a unit. A ch and an ex are taken as half an em (CSS Values 4 §6.1.1 allows that). */
function pixelsIn(unit: string, { em, rem }: Fonts): number | null {
  const [, of] = /^[sld]?(v(?:w|h|i|b|min|max))$/.exec(unit) ?? [];
  if (of) {
    const { width, height } = WINDOW;
    const side = { vw: width, vi: width, vh: height, vb: height }[of];
    return (side ?? (of === 'vmin' ? Math.min(width, height) : Math.max(width, height))) / 100;
  }
  switch (unit) {
    case 'em':
      return em;
    case 'rem':
      return rem;
    case 'ch':
    case 'ex':
      return em / 2;
    case 'rch':
    case 'rex':
      return rem / 2;
    default:
      return null;
  }
}

const RELATIVE = /(?<![\w#.-])([-+]?(?:\d+\.?\d*|\.\d+)(?:e[-+]?\d+)?)([a-z]+)(?![\w-])/gi;
const SUMS = /(?<![\w-])(calc|min|max|clamp|round|abs|sign)\(/i;

/** A sum worked out; one that is nested deeper than any page needs stays as it is. */
function reckoned(text: string): string {
  let depth = 0;
  for (const c of text)
    if (c === '(' && ++depth > DEEPEST) return text;
    else if (c === ')') depth--;
  return calc(text);
}

/** A value with relative lengths in pixels, and sums worked out as far as they go (CSS Values 4 §10). */
export function computedValue(text: string, fonts: Fonts): string {
  if (text.length > LONGEST || text.includes('url(') || /["']/.test(text)) return text;
  const plain = text.replace(RELATIVE, (all, value: string, unit: string) => {
    const k = pixelsIn(unit.toLowerCase(), fonts);
    return k === null ? all : `${Number(value) * k}px`;
  });
  return SUMS.test(plain) ? reckoned(plain) : plain;
}

/** A length in points, percentages of a length in points. @returns null for words and what cannot be told */
export function lengthIn(text: string | undefined, of: number): number | null {
  const share = percentOf(text);
  if (share !== null) return share * of;
  const plain = pointsOf(text);
  if (plain !== null || text === undefined || !SUMS.test(text)) return plain;
  const whole = of / PIXEL;
  return pointsOf(
    reckoned(text.replace(/([-+]?(?:\d+\.?\d*|\.\d+))%/g, (_, v: string) => `${(Number(v) / 100) * whole}px`)),
  );
}
