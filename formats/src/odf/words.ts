import { clamp, cut, type Text } from '@gable/core';
import { MAX_ITEM_CHARS } from '../codec/contract';
import { plainSymbols } from '../flow/numeral';
import { lettersIn, stretchesOf } from '../xml/letters';
import type { Element } from '../xml/located';
import { levelsOf, nextLabel, type ListLevel, type ListStyles } from './layout/lists';
import { is, lengthOf, Names } from './names';
import type { Family, TextStyles } from './text-styles';

/** What the words of a part are set by, and the part as it is written. */
export interface WordStyles {
  source: string;
  text: TextStyles;
  lists: ListStyles;
}

/** The style of the shape that words stand in. */
interface Held {
  family: Family;
  style: string | undefined;
  /** Is it a box of text, which begins at its top? */
  boxed: boolean;
}

type Paragraph = Text['paragraphs'][number];
type Run = Paragraph['runs'][number];

/** Where the letters of a run stand in their part. */
export interface RunPlace {
  start: number;
  end: number;
  /** The span that holds them and nothing else. */
  span: Element | null;
}
/** A paragraph of words, and where its runs stand. */
export interface ParagraphPlace {
  element: Element;
  runs: RunPlace[];
}

/** Where nothing is said: 18 points, and insets of 2.5 and 1.25 mm (common practice). */
const USUAL_SIZE = 18;
const INSET = { across: 7.1, down: 3.5 };
const ALIGN: Readonly<Record<string, Paragraph['align']>> = {
  center: 'centre',
  end: 'end',
  right: 'end',
  justify: 'justify',
};

/**
 * The words of a shape (ODF 1.2 Part 1 §10.3) by the styles of their runs, their paragraphs and the shape, the nearest first
 * (§16.2); the deeper levels of an outline have styles of their own (§16.37, presentation styles). Null where there are none.
 * @param places is told where they stand
 */
export function readWords(
  e: Element,
  held: Held,
  { source, text: styles, lists }: WordStyles,
  places: ParagraphPlace[] = [],
): Text | null {
  const counts: number[] = [];
  const paragraphs: Paragraph[] = [];
  let left = MAX_ITEM_CHARS;
  const outline = styles.namesAbove(held.family, held.style).find((name) => /-outline1$/.test(name));
  const listIn = styles.held(held.family, held.style, 'graphic-properties', 'list-style');
  const own = listIn ? levelsOf(listIn) : [];

  /** A property of the shape's own style; of what stands deeper in an outline, of the style of that level. */
  const ofShape = (level: number, kind: string, name: string): string | undefined =>
    (outline !== undefined && level > 1
      ? styles.said('presentation', outline.replace(/1$/, String(Math.min(9, level))), kind, name)
      : undefined) ?? styles.property(held.family, held.style, kind, name);

  const paragraph = (p: Element, level: number, list: string | undefined, label: boolean): void => {
    const style = new Names(p).get(p, 'text:style-name');
    const spans: (string | undefined)[] = [];
    const of = (name: string): string | undefined => {
      for (const span of spans) {
        const value = styles.said('text', span, 'text-properties', name);
        if (value !== undefined) return value;
      }
      return (
        styles.said('paragraph', style, 'text-properties', name) ??
        ofShape(level, 'text-properties', name) ??
        styles.property('paragraph', undefined, 'text-properties', name)
      );
    };
    const said = (name: string): string | undefined =>
      styles.said('paragraph', style, 'paragraph-properties', name) ?? ofShape(level, 'paragraph-properties', name);
    const sizeNow = (): number => {
      const text = of('fo:font-size') ?? '';
      const size = lengthOf(text);
      if (size !== null) return size;
      // A share is of what the shape says (§20.191, fo:font-size).
      const base = lengthOf(ofShape(level, 'text-properties', 'fo:font-size')) ?? USUAL_SIZE;
      return text.endsWith('%') ? (parseFloat(text) / 100) * base : base;
    };
    const runs: Run[] = [];
    const place: ParagraphPlace = { element: p, runs: [] };
    places.push(place);
    const add = (words: string, at: RunPlace): void => {
      const plain = cut(words, left);
      if (plain === '') return;
      place.runs.push(at);
      left -= plain.length;
      const weight = of('fo:font-weight') ?? '';
      const colour = /^#[0-9a-f]{6}$/i.exec(of('fo:color') ?? '')?.[0].toLowerCase() ?? '#000000';
      const font = styles.fontNamed(of('style:font-name')) ?? of('fo:font-family') ?? '';
      runs.push({
        text: plain,
        font: font.replace(/["']/g, ''),
        size: clamp(sizeNow(), 1, 4000),
        weight: weight === 'bold' ? 700 : clamp(Number(weight) || 400, 1, 1000),
        italic: /^(italic|oblique)$/.test(of('fo:font-style') ?? ''),
        underline: (of('style:text-underline-style') ?? 'none') !== 'none',
        paint: { kind: 'solid', colour, opacity: 1 },
      });
    };
    inline(p, { source, spans, add });
    const levels = (at: number): ListLevel | undefined => lists.level(list, at) ?? own[at];
    const bullet = label && level > 0 && runs.length > 0 ? plainSymbols(nextLabel(levels, level - 1, counts)) : '';
    const { left: margin, indent } = (level > 0 ? levels(level - 1) : undefined) ?? {
      left: lengthOf(said('fo:margin-left')) ?? 0,
      indent: lengthOf(said('fo:text-indent')) ?? 0,
    };
    const before = lengthOf(said('fo:margin-top')) ?? 0;
    const lines = said('fo:line-height') ?? '';
    const apart = lines.endsWith('%') ? clamp(parseFloat(lines) / 100, 0.1, 20) : 1;
    paragraphs.push({
      align: ALIGN[said('fo:text-align') ?? ''] ?? 'start',
      runs,
      ...(bullet && { bullet: bullet.slice(0, 20) }),
      ...((margin !== 0 || indent !== 0) && { indent: { left: margin, first: indent } }),
      ...((before > 0 || apart !== 1) && { spacing: { before: Math.max(0, before), lines: apart } }),
    });
  };
  const visit = (at: Element, level: number, list: string | undefined, label: boolean): void => {
    if (is(at, 'text', 'p', 'h')) paragraph(at, level, list, label);
    else if (is(at, 'text', 'list')) {
      const named = new Names(at).get(at, 'text:style-name') ?? list;
      for (const item of at.children)
        for (const [i, c] of item.children.entries())
          visit(c, level + 1, named, i === 0 && !is(item, 'text', 'list-header'));
    } else if (is(at, 'draw', 'text-box')) at.children.forEach((c) => visit(c, level, list, label));
  };
  e.children.forEach((c) => visit(c, 0, undefined, false));
  if (paragraphs.every((p) => p.runs.every((r) => r.text.trim() === ''))) return null;

  const graphic = (name: string): string | undefined =>
    styles.property(held.family, held.style, 'graphic-properties', name);
  const inset = (side: string, usual: number): number =>
    lengthOf(graphic(`fo:padding-${side}`)) ?? lengthOf(graphic('fo:padding')) ?? usual;
  const down = graphic('draw:textarea-vertical-align');
  return {
    paragraphs: paragraphs.slice(0, 2000),
    anchor:
      down === 'middle' ? 'middle' : down === 'bottom' ? 'bottom' : down === 'top' || held.boxed ? 'top' : 'middle',
    inset: {
      top: inset('top', INSET.down),
      right: inset('right', INSET.across),
      bottom: inset('bottom', INSET.down),
      left: inset('left', INSET.across),
    },
  };
}

interface Inline {
  source: string;
  /** The styles of the spans that it is in, the innermost first. */
  spans: (string | undefined)[];
  add: (words: string, at: RunPlace) => void;
}

/** The words of a paragraph in their order. */
function inline(at: Element, told: Inline): void {
  const { source, spans, add } = told;
  const span = is(at, 'text', 'span') && at.children.length === 0 ? at : null;
  for (const [i, stretch] of stretchesOf(at).entries()) {
    add(lettersIn(source, [stretch]).replace(/\s+/g, ' '), { ...stretch, span });
    const node = at.children[i];
    if (!node) continue;
    const style = new Names(node);
    const place = { start: node.start, end: node.end, span: null };
    if (is(node, 'text', 's')) add(' '.repeat(Math.min(200, Number(style.get(node, 'text:c') ?? 1) || 1)), place);
    else if (is(node, 'text', 'tab')) add('\t', place);
    else if (is(node, 'text', 'line-break')) add('\n', place);
    else if (is(node, 'text', 'span')) {
      spans.unshift(style.get(node, 'text:style-name'));
      inline(node, told);
      spans.shift();
    } else if (!is(node, 'text', 'note') && !is(node, 'office', 'annotation')) inline(node, told);
  }
}
