import { boundsOfBoxes, windingNumber } from '../geometry/measure';
import { flatten, type Rect } from '../geometry/path';
import type { FramedItem, Text } from '../model/document';
import type { Box } from '../model/frame';
import { framePath } from '../shapes/index';
import { wordsIn } from '../shapes/text-box';
import { inkWidth, linesOf, placedLines, type TypeContext } from './words';

type Measure = Pick<TypeContext, 'font' | 'measureText'>;
type Sides = Pick<Box, 'width' | 'height'>;

/** Room between the letters and the edge of their line, which measuring in another font may need. */
const SLACK = 0.5;

/** Do words fit between their insets? */
function fits(context: Measure, text: Text, { width, height }: Sides): boolean {
  const { inset } = text;
  const room = Math.max(1, width - inset.left - inset.right);
  const lines = linesOf(context, text, room);
  const tall = lines.reduce((sum, l) => sum + l.height + l.above, 0);
  return tall <= height - inset.top - inset.bottom && lines.every((l) => l.left + inkWidth(context, l) <= room + SLACK);
}

const scaled = (text: Text, k: number): Text => ({
  ...text,
  paragraphs: text.paragraphs.map((p) => ({
    ...p,
    runs: p.runs.map((r) => ({ ...r, size: Math.max(1, Math.floor(r.size * k * 10) / 10) })),
  })),
});

/**
 * Words as large as they fit their box, all in the same relation; in tenths of a point, one point at least.
 * @param box in points, with the insets that the words say
 */
export function fittedWords(context: Measure, text: Text, box: Sides): Text {
  let [small, large] = [0.02, 1];
  while (large < 512 && fits(context, scaled(text, large), box)) [small, large] = [large, large * 2];
  for (let i = 0; i < 24; i++) {
    const k = (small + large) / 2;
    if (fits(context, scaled(text, k), box)) small = k;
    else large = k;
  }
  return scaled(text, small);
}

/** Letters reach so far above and below their baseline, in ems: common practice. */
const ABOVE = 0.7;
const BELOW = 0.2;
/** Points that are looked at along a line. */
const ALONG = 24;

/** The lines of words where they stand in their item, about as high as their letters. From the corner of its box. */
export function lettersOf(context: Measure, item: FramedItem): Rect[] {
  if (!item.text) return [];
  const { box } = item.at;
  return placedLines(context, wordsIn(box, item, item.text), box).flatMap(({ line, x, baseline }) => {
    const size = Math.max(0, ...line.pieces.map((p) => p.run.size));
    const height = (ABOVE + BELOW) * size;
    return size > 0 ? [{ x, y: baseline - ABOVE * size, width: inkWidth(context, line), height }] : [];
  });
}

/** Where the letters of an item lie on its page, all of them: the upright box round its lines. */
export function lettersIn(context: Measure, item: FramedItem): Rect {
  const { box } = item.at;
  const lines = lettersOf(context, item);
  if (lines.length === 0) return { ...box, width: 0, height: 0 };
  const b = boundsOfBoxes(lines);
  return { ...b, x: box.x + b.x, y: box.y + b.y };
}

/** The share of its letters that stick out of the shape they stand in; none where no shape is seen. */
export function wordsOutside(context: Measure, item: FramedItem): number {
  if (item.fill === null && item.outline === null) return 0;
  const { box } = item.at;
  const rings = flatten(framePath({ box, shape: item.shape, seat: item.seat }), 0.05);
  let [all, out] = [0, 0];
  for (const line of lettersOf(context, item))
    for (let i = 0; i < ALONG; i++)
      for (const share of [0, 0.5, 1]) {
        const at = { x: line.x + (line.width * (i + 0.5)) / ALONG, y: line.y + line.height * share };
        all++;
        if (windingNumber(rings, at) === 0) out++;
      }
  return all === 0 ? 0 : out / all;
}
