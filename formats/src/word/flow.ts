import { attributeOf as attribute, child, descend, type Element } from '../xml/located';
import { NS } from '../ooxml/names';
import type { Room } from '../codec/beside-text';
import { integer, measure } from '../drawingml/values';

/**
 * How high things stand in a text that was never laid out: rough sums, from which a picture's page is guessed. Letters of
 * 11 pt are half as wide as high on average, and a line has a third more than its letters (common practice).
 */
const LETTER = 5.5;
const LINE = 14.5;
/** Between paragraphs, points (common practice: 8 pt behind each). */
const BETWEEN = 8;
/** What sections say nothing of: A4 with margins of an inch (common practice), twips. */
const PAGE = { width: 11_906, height: 16_838, margin: 1440 };

/** The page of a section (ISO/IEC 29500-1 §17.6.13, pgSz; §17.6.11, pgMar; §17.6.4, cols). Points. */
export function roomOf(section: Element | undefined): Room {
  const size = child(section, 'pgSz');
  const margins = child(section, 'pgMar');
  const of = (e: Element | undefined, name: string, rest: number): number => integer(e && attribute(e, name), rest);
  const margin = (name: string): number => Math.abs(of(margins, name, PAGE.margin)) / 20;
  return {
    width: of(size, 'w', PAGE.width) / 20,
    height: of(size, 'h', PAGE.height) / 20,
    margins: { top: margin('top'), right: margin('right'), bottom: margin('bottom'), left: margin('left') },
    columns: Math.max(1, of(child(section, 'cols'), 'num', 1)),
  };
}

/** The room for text on a page of a section. Points. */
export function textRoom(section: Element | undefined): { width: number; height: number } {
  const { width, height, margins } = roomOf(section);
  return {
    width: Math.max(72, width - margins.left - margins.right),
    height: Math.max(72, height - margins.top - margins.bottom),
  };
}

/** The section that something in a body belongs to: its properties stand in the last paragraph of it, or end the body (§17.6.18). */
export function sectionOf(e: Element): Element | undefined {
  let block = e;
  while (block.parent && block.parent.local !== 'body') block = block.parent;
  const blocks = block.parent?.children ?? [];
  for (const b of blocks.slice(blocks.indexOf(block))) {
    const section = b.local === 'sectPr' ? b : descend(b, 'pPr', 'sectPr');
    if (section) return section;
  }
  return undefined;
}

/** The lines that a paragraph takes: one at least, more where its text is longer, or broken. */
export function linesOf(paragraph: Element, width: number): number {
  let [lines, letters] = [1, 0];
  const end = (): void => {
    lines += Math.max(0, Math.ceil((letters * LETTER) / width) - 1);
    letters = 0;
  };
  const visit = (e: Element): void => {
    if (e.local === 't') letters += e.text.length;
    else if (e.local === 'br' && (attribute(e, 'type') ?? 'textWrapping') === 'textWrapping') {
      end();
      lines++;
    } else if (e.local !== 'drawing' && e.local !== 'pict' && e.local !== 'AlternateContent') e.children.forEach(visit);
  };
  visit(paragraph);
  end();
  return lines;
}

/** The highest picture that sits in a line of something; those that float take no room of their own. */
function pictureIn(e: Element): number {
  if (e.local === 'inline') return measure(child(e, 'extent')?.attributes['cy']) ?? 0;
  if (e.local === 'anchor' || e.local === 'txbxContent') return 0;
  return e.children.reduce((most, c) => Math.max(most, pictureIn(c)), 0);
}

/** How high a paragraph or a table stands, and how much of that is one picture, which no page break goes through. */
export function heightOf(block: Element, width: number): { whole: number; picture: number } {
  if (!NS.word.has(block.uri)) return { whole: 0, picture: 0 };
  if (block.local === 'p') {
    const picture = pictureIn(block);
    return { whole: Math.max(picture, linesOf(block, width) * LINE) + BETWEEN, picture };
  }
  if (block.local === 'tr') {
    const cells = block.children.filter((c) => c.local === 'tc');
    const each = cells.map((c) => heightOf(c, width / Math.max(1, cells.length)));
    return {
      whole: Math.max(0, ...each.map((h) => h.whole)),
      picture: Math.max(0, ...each.map((h) => h.picture)),
    };
  }
  const inside = block.children.map((c) => heightOf(c, width));
  return { whole: inside.reduce((sum, h) => sum + h.whole, 0), picture: Math.max(0, ...inside.map((h) => h.picture)) };
}
