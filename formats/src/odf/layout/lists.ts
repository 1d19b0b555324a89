import { numeral } from '../../flow/numeral';
import { child, type Element } from '../../xml/located';
import { is, lengthOf, Names } from '../names';

/** A level of a list: what stands before its paragraphs, and where. Points. */
export interface ListLevel {
  bullet: string | null;
  format: string;
  prefix: string;
  suffix: string;
  start: number;
  /** So many levels are told in its numbers. */
  levels: number;
  left: number;
  indent: number;
}

const FORMATS: Readonly<Record<string, string>> = {
  '1': 'decimal',
  a: 'lowerLetter',
  A: 'upperLetter',
  i: 'lowerRoman',
  I: 'upperRoman',
};

/** The levels of lists and headings by the name of their style (ODF 1.2 Part 1 §16.30, text:list-style; §16.34, text:outline-style). */
export class ListStyles {
  private readonly known = new Map<string, readonly ListLevel[]>();
  /** Of headings; none where they are not numbered. */
  readonly outline: readonly ListLevel[];

  constructor(roots: readonly (Element | undefined)[]) {
    let outline: readonly ListLevel[] = [];
    for (const root of roots)
      for (const list of [child(root, 'styles'), child(root, 'automatic-styles')])
        for (const e of list?.children ?? []) {
          if (is(e, 'text', 'list-style')) this.known.set(new Names(e).get(e, 'style:name') ?? '', levelsOf(e));
          if (is(e, 'text', 'outline-style')) outline = levelsOf(e);
        }
    this.outline = outline;
  }

  /** @param at from 0 */
  level(name: string | undefined, at: number): ListLevel | undefined {
    return this.known.get(name ?? '')?.[at];
  }
}

/** The levels of a list's style. */
export function levelsOf(style: Element): ListLevel[] {
  const out: ListLevel[] = [];
  for (const e of style.children) {
    const n = new Names(e);
    const at = Number(n.get(e, 'text:level') ?? 1) - 1;
    const properties = child(e, 'list-level-properties');
    const label = child(properties, 'list-level-label-alignment');
    const of = (held: Element | undefined, name: string): number =>
      lengthOf(held && new Names(held).get(held, name)) ?? 0;
    const width = of(properties, 'text:min-label-width');
    out[at] = {
      bullet: /bullet/.test(e.local) ? (n.get(e, 'text:bullet-char') ?? '•') : null,
      format: FORMATS[n.get(e, 'style:num-format') ?? ''] ?? 'none',
      prefix: n.get(e, 'style:num-prefix') ?? '',
      suffix: n.get(e, 'style:num-suffix') ?? '',
      start: Number(n.get(e, 'text:start-value') ?? 1) || 1,
      levels: Number(n.get(e, 'text:display-levels') ?? 1) || 1,
      left: label ? of(label, 'fo:margin-left') : of(properties, 'text:space-before') + width,
      indent: label ? of(label, 'fo:text-indent') : -width,
    };
  }
  return out;
}

/** What stands before the next paragraph of a list, and counts it. @param counts of its levels so far */
export function nextLabel(levels: (at: number) => ListLevel | undefined, at: number, counts: number[]): string {
  const level = levels(at);
  if (!level) return '';
  counts[at] = counts[at] === undefined ? level.start : counts[at] + 1;
  counts.length = at + 1;
  if (level.bullet !== null) return level.bullet;
  if (level.format === 'none') return '';
  const numbers = Array.from({ length: Math.min(level.levels, at + 1) }, (_, i) => {
    const of = at - Math.min(level.levels, at + 1) + 1 + i;
    return numeral(counts[of] ?? levels(of)?.start ?? 1, levels(of)?.format ?? 'decimal');
  });
  return `${level.prefix}${numbers.filter(Boolean).join('.')}${level.suffix}`;
}
