import { setIn } from '@gable/core';
import type { WordStyles } from './styles';
import { isOn, twips, valueOf, type Attributes, type Properties } from './properties';

/** Letters of a text that says no size (ISO/IEC 29500-1 §17.3.2.38, sz: 10 points). */
const USUAL_SIZE = 10;
const HIGHLIGHTS: Readonly<Record<string, string>> = {
  darkBlue: '#000080',
  darkCyan: '#008080',
  darkGreen: '#008000',
  darkMagenta: '#800080',
  darkRed: '#800000',
  darkYellow: '#808000',
  darkGray: '#808080',
  lightGray: '#c0c0c0',
};

/** A colour of the text's own markup; the theme's is told beside it as its programs have worked it out. */
export const colourOf = (value: string | undefined): string | null =>
  value !== undefined && /^[0-9a-f]{6}$/i.test(value) ? `#${value.toLowerCase()}` : null;

/** The fill of a paragraph, a run or a cell (§17.3.5, shd). */
export function shadeOf(shade: Attributes | undefined): string | null {
  if (!shade) return null;
  if (shade['val'] === 'solid') return colourOf(shade['color']) ?? '#000000';
  return colourOf(shade['fill']);
}

/** How lines of a paragraph are spaced (§17.3.1.33, spacing). Points, or a multiple of the line's own height. */
export type LineRule = { exactly: number } | { least: number } | { times: number };

export function lineRuleOf({ said }: Properties): LineRule {
  const { line, lineRule } = said['spacing'] ?? {};
  if (line === undefined) return { times: 1 };
  if (lineRule === 'exact') return { exactly: twips(line) ?? 12 };
  if (lineRule === 'atLeast') return { least: twips(line) ?? 0 };
  return { times: (Number(line) || 240) / 240 };
}

/** A line of letters of a size in a font, in points. */
export const lineHeight = (rule: LineRule, size: number, line: number): number =>
  'exactly' in rule ? rule.exactly : 'least' in rule ? Math.max(rule.least, size * line) : rule.times * size * line;

export const sizeOf = (properties: Properties): number =>
  Math.min(1638, Math.max(1, Number(valueOf(properties, 'sz') ?? 2 * USUAL_SIZE) / 2 || USUAL_SIZE));

/** A run as declarations of CSS; null for hidden text. @param rule of its paragraph */
export function runCss(properties: Properties, styles: WordStyles, rule: LineRule): string | null {
  if (isOn(properties, 'vanish')) return null;
  const { said } = properties;
  const { css, line } = setIn(styles.fontOf(properties));
  const size = sizeOf(properties);
  const small = valueOf(properties, 'vertAlign');
  const raised = small === 'superscript' || small === 'subscript';
  const out = [
    `font-family:${css}`,
    // Raised letters are two thirds as large (common practice).
    `font-size:${raised ? size * 0.65 : size}pt`,
    // Raised letters do not part the lines.
    `line-height:${raised ? 0 : Number(lineHeight(rule, size, line).toFixed(3))}pt`,
  ];
  out.push(
    `font-weight:${isOn(properties, 'b') ? 700 : 400}`,
    `font-style:${isOn(properties, 'i') ? 'italic' : 'normal'}`,
  );
  const colour = colourOf(valueOf(properties, 'color'));
  if (colour) out.push(`color:${colour}`);
  const under = valueOf(properties, 'u');
  const lines = [
    under !== undefined && under !== 'none' && 'underline',
    (isOn(properties, 'strike') || isOn(properties, 'dstrike')) && 'line-through',
  ].filter(Boolean);
  if (lines.length > 0) out.push(`text-decoration:${lines.join(' ')}`);
  if (raised) out.push(`vertical-align:${small === 'superscript' ? 'super' : 'sub'}`);
  const up = Number(valueOf(properties, 'position')) / 2;
  if (up) out.push(`position:relative;top:${-up}pt`);
  if (isOn(properties, 'caps')) out.push('text-transform:uppercase');
  if (isOn(properties, 'smallCaps')) out.push('font-variant:small-caps');
  const apart = twips(said['spacing']?.['val']);
  if (apart) out.push(`letter-spacing:${apart}pt`);
  const highlight = valueOf(properties, 'highlight');
  const ground =
    highlight !== undefined && highlight !== 'none' ? (HIGHLIGHTS[highlight] ?? highlight) : shadeOf(said['shd']);
  if (ground && /^#?[a-z0-9]+$/i.test(ground)) out.push(`background:${ground}`);
  return out.join(';');
}
