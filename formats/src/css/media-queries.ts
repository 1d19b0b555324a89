import { parse, type CssNode } from 'css-tree';
import { PIXEL, pointsOf } from './lengths';
import { WINDOW as WINDOW_PX } from './values';

/** What pages are taken to be seen on: a usual screen, by mouse, and this window, in points. */
const WINDOW = { width: WINDOW_PX.width * PIXEL, height: WINDOW_PX.height * PIXEL };
const SCREEN: Readonly<Record<string, string>> = {
  orientation: 'landscape',
  hover: 'hover',
  'any-hover': 'hover',
  pointer: 'fine',
  'any-pointer': 'fine',
  'prefers-color-scheme': 'light',
  'prefers-reduced-motion': 'no-preference',
  'prefers-contrast': 'no-preference',
  scripting: 'none',
};

/** True, false, or null for what cannot be told (Media Queries 4 §3.1: such a query matches nothing, nor does its opposite). */
type Verdict = boolean | null;

/** Does a list of media queries, the value of a `media` attribute, hold on a usual screen? An empty one does. */
export function holds(text: string | undefined): boolean {
  if (!text?.trim()) return true;
  let known = true;
  const list = parse(text, { context: 'mediaQueryList', onParseError: () => (known = false) });
  return known && matches(list);
}

/** Does the condition of an at-rule hold: `@media` on a usual screen, `@supports` in a browser of today? */
export function isOn(name: string, prelude: CssNode | null): boolean {
  if (name === 'layer') return true;
  const [condition] = prelude?.type === 'AtrulePrelude' ? prelude.children.toArray() : [];
  if (!condition) return false;
  return name === 'media' ? matches(condition) : name === 'supports' && verdictOn(condition) === true;
}

function matches(list: CssNode): boolean {
  if (list.type !== 'MediaQueryList') return false;
  return list.children.toArray().some((query) => {
    // Type and condition of a query; the types of css-tree lag behind its parser.
    const { mediaType, modifier, condition } = query as unknown as {
      mediaType?: string | null;
      modifier?: string | null;
      condition?: CssNode | null;
    };
    const type = !mediaType || /^(all|screen)$/i.test(mediaType);
    const verdict = condition ? (type ? verdictOn(condition) : false) : type;
    return modifier?.toLowerCase() === 'not' ? verdict === false : verdict === true;
  });
}

/** Kleene's logic: what is unknown stays so unless the rest decides. */
function verdictOn(node: CssNode): Verdict {
  const e = node as unknown as { type: string; name: string; kind?: string; value?: CssNode | null } & Range;
  switch (e.type) {
    case 'SupportsDeclaration':
      return true;
    case 'Feature':
      return feature(e.name.toLowerCase(), e.value ?? null);
    case 'FeatureRange':
      return range(e);
    case 'Condition': {
      let result: Verdict | undefined;
      let how = 'and';
      let negated = false;
      for (const part of (node as unknown as { children: { toArray(): CssNode[] } }).children.toArray()) {
        if (part.type === 'Identifier') {
          if (part.name.toLowerCase() === 'not') negated = true;
          else how = part.name.toLowerCase();
          continue;
        }
        const told = verdictOn(part);
        const one = negated && told !== null ? !told : told;
        negated = false;
        result = result === undefined ? one : how === 'or' ? or(result, one) : and(result, one);
      }
      return result ?? null;
    }
    default:
      return null;
  }
}

const and = (a: Verdict, b: Verdict): Verdict => (a === false || b === false ? false : a && b);
const or = (a: Verdict, b: Verdict): Verdict =>
  a === true || b === true ? true : a === null || b === null ? null : false;

function feature(name: string, value: CssNode | null): Verdict {
  const [, bound, plain] = /^(min-|max-)?(.*)$/.exec(name) as unknown as [string, string | undefined, string];
  if (plain === 'width' || plain === 'height') {
    if (!value) return true;
    const length = lengthOf(value);
    const has = WINDOW[plain];
    if (length === null) return null;
    return bound === 'min-' ? has >= length : bound === 'max-' ? has <= length : Math.abs(has - length) < 1e-6;
  }
  if (plain === 'color') return value ? null : true;
  const has = SCREEN[name];
  if (has === undefined) return null;
  return value ? value.type === 'Identifier' && value.name.toLowerCase() === has : !/^(no|none)/.test(has);
}

interface Range {
  left?: CssNode | null;
  leftComparison?: string | null;
  middle?: CssNode | null;
  rightComparison?: string | null;
  right?: CssNode | null;
}

/** `400px <= width < 60em` (Media Queries 4 §2.4.3). */
function range({ left, leftComparison, middle, rightComparison, right }: Range): Verdict {
  const first = compare(left, leftComparison, middle);
  return right ? and(first, compare(middle, rightComparison, right)) : first;
}

function compare(
  a: CssNode | null | undefined,
  how: string | null | undefined,
  b: CssNode | null | undefined,
): Verdict {
  const [x, y] = [a && lengthOf(a), b && lengthOf(b)];
  if (typeof x !== 'number' || typeof y !== 'number') return null;
  const near = Math.abs(x - y) < 1e-6;
  switch (how) {
    case '<':
      return x < y && !near;
    case '<=':
      return x < y || near;
    case '>':
      return x > y && !near;
    case '>=':
      return x > y || near;
    default:
      return near;
  }
}

/** Points; of the window where its width or height is named. */
function lengthOf(node: CssNode): number | null {
  if (node.type === 'Identifier') return node.name === 'width' || node.name === 'height' ? WINDOW[node.name] : null;
  if (node.type === 'Number') return Number(node.value) === 0 ? 0 : null;
  return node.type === 'Dimension' ? pointsOf(`${node.value}${node.unit}`) : null;
}
