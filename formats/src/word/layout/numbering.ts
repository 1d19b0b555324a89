import type { Package } from '../../ooxml/package';
import { numeral, plainSymbols } from '../../flow/numeral';
import { attributeOf, child, type Element } from '../../xml/located';

/** A level of a list (ISO/IEC 29500-1 §17.9.6, lvl). */
export interface Level {
  format: string;
  text: string;
  start: number;
  suffix: string;
  element: Element;
}

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
