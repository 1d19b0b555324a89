import { cssColour } from './colour';
import { split } from './values';

export const SIDES = ['top', 'right', 'bottom', 'left'] as const;
export const CORNERS = ['top-left', 'top-right', 'bottom-right', 'bottom-left'] as const;

const STYLES = /^(none|hidden|dotted|dashed|solid|double|groove|ridge|inset|outset|auto)$/i;

/** Sides and sizes by the way of the text, in a page that is written from left to right and from top to bottom. */
const LOGICAL: readonly [RegExp, string][] = [
  [/(^|-)block-start(-|$)/, '$1top$2'],
  [/(^|-)block-end(-|$)/, '$1bottom$2'],
  [/(^|-)inline-start(-|$)/, '$1left$2'],
  [/(^|-)inline-end(-|$)/, '$1right$2'],
  [/(^|-)start-start-/, '$1top-left-'],
  [/(^|-)start-end-/, '$1top-right-'],
  [/(^|-)end-end-/, '$1bottom-right-'],
  [/(^|-)end-start-/, '$1bottom-left-'],
  [/^((?:min-|max-)?)inline-size$/, '$1width'],
  [/^((?:min-|max-)?)block-size$/, '$1height'],
];

/** The second, third and fourth of one to four values (CSS Backgrounds 3 §3.1); empty texts for none at all. */
export const four = ([a = '', b = a, c = a, d = b]: readonly string[]): [string, string, string, string] => [
  a,
  b,
  c,
  d,
];

function line(text: string): { width: string; style: string; color: string } {
  const out = { width: 'medium', style: 'none', color: 'currentcolor' };
  for (const word of split(text)) {
    if (STYLES.test(word)) out.style = word.toLowerCase();
    else if (/^currentcolor$/i.test(word) || cssColour(word)) out.color = word;
    else out.width = word;
  }
  return out;
}

/**
 * One declaration as those that stand for it, so that a later one overrides a part of an earlier (CSS Cascade 5 §3):
 * borders, outlines, corners, margins and padding; logical ones as physical. Others come back as they are.
 */
export function longhands(property: string, value: string): [string, string][] {
  const name = LOGICAL.reduce((p, [from, to]) => p.replace(from, to), property.replace(/^-webkit-/, ''));
  const lined = (prefix: string): [string, string][] =>
    Object.entries(line(value)).map(([key, v]) => [`${prefix}-${key}`, v]);
  if (name === 'border') return SIDES.flatMap((side) => lined(`border-${side}`));
  if (/^border-(top|right|bottom|left)$/.test(name) || name === 'outline') return lined(name);
  const ways = /^(margin|padding|border)-(block|inline)(-width|-style|-color)?$/.exec(name);
  if (ways) {
    const [, base, way, part = ''] = ways as unknown as [string, string, string, string?];
    const ends = way === 'block' ? ['top', 'bottom'] : ['left', 'right'];
    if (base === 'border' && !part) return ends.flatMap((side) => lined(`border-${side}`));
    const [first = '', second = first] = split(value);
    return [
      [`${base}-${ends[0]}${part}`, first],
      [`${base}-${ends[1]}${part}`, second],
    ];
  }
  if (name === 'gap' || name === 'grid-gap') {
    const [rows = '', columns = rows] = split(value);
    return [
      ['row-gap', rows],
      ['column-gap', columns],
    ];
  }
  const kind = /^border-(width|style|color)$/.exec(name)?.[1];
  if (kind || name === 'margin' || name === 'padding') {
    const values = four(split(value));
    return SIDES.map((side, i) => [kind ? `border-${side}-${kind}` : `${name}-${side}`, values[i]!]);
  }
  if (name === 'border-radius') {
    const [across = '', down = across] = split(value, /\//);
    const [h, v] = [four(split(across)), four(split(down))];
    return CORNERS.map((corner, i) => [`border-${corner}-radius`, `${h[i]} ${v[i]}`]);
  }
  return [[name, value]];
}
