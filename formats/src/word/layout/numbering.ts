import type { Package } from '../../ooxml/package';
import { attributeOf, child, type Element } from '../../xml/located';

/** A level of a list (ISO/IEC 29500-1 §17.9.6, lvl). */
export interface Level {
  format: string;
  text: string;
  start: number;
  suffix: string;
  element: Element;
}

/** Letters of symbol fonts as plain ones (their code charts, from memory). */
const SYMBOLS: Readonly<Record<string, string>> = {
  '\uf0b7': '•',
  '\uf0a7': '▪',
  '\uf0d8': '➢',
  '\uf0fc': '✓',
  '\uf076': '❖',
  '\uf071': '❑',
  '\uf0a8': '◻',
  '\uf06c': '●',
  '\uf06e': '■',
  '\uf0e0': '→',
  '\uf02d': '-',
};
export const plainSymbols = (text: string): string => text.replace(/[\uf000-\uf0ff]/g, (c) => SYMBOLS[c] ?? '•');

/** Numbers and bullets of a document's lists (§17.9): counts go on from paragraph to paragraph. */
export class Numbering {
  private readonly abstracts = new Map<string, Element>();
  private readonly nums = new Map<string, Element>();
  private readonly counts = new Map<string, number[]>();

  constructor(pack: Package, main: string) {
    const part = pack.partFor(main, 'numbering');
    for (const e of part ? pack.part(part).root.children : []) {
      if (e.local === 'abstractNum') this.abstracts.set(attributeOf(e, 'abstractNumId') ?? '', e);
      if (e.local === 'num') this.nums.set(attributeOf(e, 'numId') ?? '', e);
    }
  }

  private abstractOf(numId: string): string {
    return attributeOf(child(this.nums.get(numId), 'abstractNumId'), 'val') ?? '';
  }

  /** A level of a list; undefined for one that is not there, such as list 0, which stands for none. */
  level(numId: string, at: number): Level | undefined {
    const num = this.nums.get(numId);
    if (!num) return undefined;
    const own = num.children.find((c) => c.local === 'lvlOverride' && Number(attributeOf(c, 'ilvl')) === at);
    const levels = this.abstracts.get(this.abstractOf(numId))?.children ?? [];
    const element =
      child(own, 'lvl') ?? levels.find((c) => c.local === 'lvl' && Number(attributeOf(c, 'ilvl') ?? 0) === at);
    if (!element) return undefined;
    const said = (local: string): string | undefined => attributeOf(child(element, local), 'val');
    const start = attributeOf(child(own, 'startOverride'), 'val') ?? said('start') ?? '1';
    return {
      format: said('numFmt') ?? 'decimal',
      text: said('lvlText') ?? '',
      start: Number(start) || 0,
      suffix: said('suff') ?? 'tab',
      element,
    };
  }

  /** What stands before the next paragraph of a list, and counts it. */
  next(numId: string, at: number): string {
    const level = this.level(numId, at);
    if (!level) return '';
    const key = this.abstractOf(numId);
    const counts = this.counts.get(key) ?? [];
    this.counts.set(key, counts);
    counts[at] = counts[at] === undefined ? level.start : counts[at] + 1;
    counts.length = at + 1;
    if (level.format === 'bullet') return plainSymbols(level.text);
    return level.text.replace(/%(\d)/g, (_, digit: string) => {
      const i = Number(digit) - 1;
      const of = this.level(numId, i);
      counts[i] ??= of?.start ?? 1;
      return numeral(counts[i], of?.format ?? 'decimal');
    });
  }
}

/** A number as it is written (§17.18.59, ST_NumberFormat). */
export function numeral(n: number, format: string): string {
  switch (format) {
    case 'none':
      return '';
    case 'decimalZero':
      return n < 10 ? `0${n}` : String(n);
    case 'lowerLetter':
      return letters(n);
    case 'upperLetter':
      return letters(n).toUpperCase();
    case 'lowerRoman':
      return roman(n).toLowerCase();
    case 'upperRoman':
      return roman(n);
    case 'ordinal':
      return `${n}${ordinal(n)}`;
    default:
      return String(n);
  }
}

/** a … z, aa … zz (§17.18.59). */
const letters = (n: number): string =>
  n < 1 ? '' : String.fromCharCode(97 + ((n - 1) % 26)).repeat(1 + Math.floor((n - 1) / 26));

const ROMAN = [
  ['M', 1000],
  ['CM', 900],
  ['D', 500],
  ['CD', 400],
  ['C', 100],
  ['XC', 90],
  ['L', 50],
  ['XL', 40],
  ['X', 10],
  ['IX', 9],
  ['V', 5],
  ['IV', 4],
  ['I', 1],
] as const;
function roman(n: number): string {
  let [left, out] = [Math.min(n, 9999), ''];
  for (const [sign, value] of ROMAN)
    while (left >= value) {
      out += sign;
      left -= value;
    }
  return out;
}

function ordinal(n: number): string {
  const [tens, ones] = [n % 100, n % 10];
  if (tens >= 11 && tens <= 13) return 'th';
  return ones === 1 ? 'st' : ones === 2 ? 'nd' : ones === 3 ? 'rd' : 'th';
}
