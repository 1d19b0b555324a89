import { cssColour } from '../colour';
import { setIn } from '../flow/fonts';
import type { Box, Paint } from '../model/frame';
import type { Text } from '../model/document';
import type { Context } from './context';

type Run = Text['paragraphs'][number]['runs'][number];

/** A canvas that sets type (HTML, CanvasText). */
export interface TypeContext extends Context {
  font: string;
  textBaseline: string;
  fillText(text: string, x: number, y: number): void;
  measureText(text: string): { width: number };
}

/** The distance of two baselines where no font is named, in ems: common practice for plain text. */
const LINE_HEIGHT = 1.2;
/** The share of a line that lies above its baseline: common practice. */
const ASCENT = 0.79;

/** The distance of two baselines in a font, in ems. */
export const lineIn = (font: string): number => (font ? setIn(font).line : LINE_HEIGHT);

/** A piece of a line with one look. */
interface Piece {
  run: Run;
  text: string;
  width: number;
}
/** A line of words, as it is set. In points. */
export interface Line {
  pieces: readonly Piece[];
  width: number;
  height: number;
  align: Text['paragraphs'][number]['align'];
  /** Does its paragraph go on? */
  broken: boolean;
  /** From the edge of the text to where it begins, and the space above it. */
  left: number;
  above: number;
  /** What stands before it, in the look of its first run, and how far before it that begins. */
  bullet?: { text: string; hang: number };
}

/** The look of a run as CSS says it. */
const fontOf = ({ font, size, weight, italic }: Run): string =>
  `${italic ? 'italic ' : ''}${weight} ${size}px ${setIn(font).css}`;

/**
 * Breaks words into lines at spaces and hard breaks. A word that is longer than a line stands on a line of its own.
 * @param width of a line, in points
 */
export function linesOf(
  context: Pick<TypeContext, 'font' | 'measureText'>,
  { paragraphs }: Pick<Text, 'paragraphs'>,
  width: number,
): Line[] {
  const out: Line[] = [];
  const measure = (run: Run, text: string): number => {
    context.font = fontOf(run);
    return context.measureText(text).width;
  };
  for (const { align, runs, bullet, indent, spacing } of paragraphs) {
    const { left = 0, first = 0 } = indent ?? {};
    const high = ({ size, font }: Pick<Run, 'size' | 'font'>): number => size * lineIn(font) * (spacing?.lines ?? 1);
    // What stands before the first line hangs out of it.
    let start = left + (bullet !== undefined && first < 0 ? 0 : first);
    let isFirst = true;
    let pieces: Piece[] = [];
    let used = 0;
    let height = high(runs[0] ?? { size: 12, font: '' });
    const end = (broken: boolean): void => {
      const before = isFirst && bullet !== undefined ? { bullet: { text: bullet, hang: -first } } : {};
      // The first of all stands at the edge.
      const above = isFirst && out.length > 0 ? (spacing?.before ?? 0) : 0;
      out.push({ pieces, width: used, height, align, broken, left: start, above, ...before });
      [pieces, used, start, isFirst] = [[], 0, left, false];
    };
    for (const run of runs)
      for (const [i, part] of run.text.split('\n').entries()) {
        if (i > 0) {
          end(false);
          height = high(run);
        }
        for (const word of part.match(/\s+|\S+/g) ?? []) {
          const wide = measure(run, word);
          if (used > 0 && used + wide > width - start && word.trim() !== '') {
            end(true);
            height = high(run);
          }
          height = Math.max(height, high(run));
          const last = pieces.at(-1);
          if (last?.run === run) {
            last.text += word;
            last.width += wide;
          } else pieces.push({ run, text: word, width: wide });
          used += wide;
        }
      }
    end(false);
  }
  return out;
}

/** How wide a line is without the spaces at its end. */
export function inkWidth(context: Pick<TypeContext, 'font' | 'measureText'>, { pieces, width }: Line): number {
  const last = pieces.at(-1);
  const spaces = last && /\s+$/.exec(last.text)?.[0];
  if (!spaces) return width;
  context.font = fontOf(last.run);
  return width - context.measureText(spaces).width;
}

/** Of a gradient its middle: letters have one colour. */
function inkOf(paint: Paint): string {
  const { colour, opacity } = paint.kind === 'solid' ? paint : paint.stops[Math.floor((paint.stops.length - 1) / 2)]!;
  return cssColour(colour, opacity);
}

/** A line where it stands in its box: from the corner of that to its beginning, and down to its baseline. */
export interface PlacedLine {
  line: Line;
  x: number;
  baseline: number;
}

/** The lines of words where they stand in a box. In points. @param options.wrap break lines at the box's width */
export function placedLines(
  context: Pick<TypeContext, 'font' | 'measureText'>,
  text: Text,
  { width, height }: Pick<Box, 'width' | 'height'>,
  { wrap = true }: { wrap?: boolean } = {},
): PlacedLine[] {
  const { inset, anchor } = text;
  const room = Math.max(1, width - inset.left - inset.right);
  const lines = linesOf(context, text, wrap ? room : Infinity);
  const tall = lines.reduce((sum, l) => sum + l.height + l.above, 0);
  const spare = height - inset.top - inset.bottom - tall;
  let y = inset.top + (anchor === 'middle' ? spare / 2 : anchor === 'bottom' ? spare : 0);
  return lines.map((line) => {
    const top = y + line.above;
    y = top + line.height;
    const free = room - line.left - line.width;
    const x = inset.left + line.left + (line.align === 'end' ? free : line.align === 'centre' ? free / 2 : 0);
    return { line, x, baseline: top + line.height * ASCENT };
  });
}

/** Where each letter of a run begins on its line, kerned as the context does. In points. */
export function letterPlaces(context: Pick<TypeContext, 'font' | 'measureText'>, run: Run, text: string): number[] {
  context.font = fontOf(run);
  let so = '';
  return [...text].map((letter) => {
    so += letter;
    return context.measureText(so).width - context.measureText(letter).width;
  });
}

/** Paints words into a box from its own corner; the context counts in points. @param options as in `placedLines` */
export function paintWords(
  context: TypeContext,
  text: Text,
  box: Pick<Box, 'width' | 'height'>,
  options: { wrap?: boolean } = {},
): void {
  const lines = placedLines(context, text, box, options);
  context.save();
  context.textBaseline = 'alphabetic';
  for (const { line, x: left, baseline } of lines) {
    let x = left;
    const [look] = line.pieces;
    if (line.bullet && look) {
      context.font = fontOf(look.run);
      context.fillStyle = inkOf(look.run.paint);
      context.fillText(line.bullet.text, x - line.bullet.hang, baseline);
    }
    for (const { run, text: words, width: wide } of line.pieces) {
      context.font = fontOf(run);
      context.fillStyle = inkOf(run.paint);
      context.fillText(words, x, baseline);
      if (run.underline) context.fillRect(x, baseline + run.size * 0.1, wide, run.size * 0.06);
      x += wide;
    }
  }
  context.restore();
}
