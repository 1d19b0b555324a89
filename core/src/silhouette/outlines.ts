import type { Font } from 'opentype.js';
import { GableError } from '../errors';
import type { Path } from '../geometry/path';
import { mergedPath } from '../geometry/polygons';
import { transform } from '../geometry/transform';
import type { FramedItem, Text } from '../model/document';
import { equal } from '../model/equal';
import type { ShapeChoice } from '../model/frame';
import { letterPlaces, placedLines } from '../paint/words';
import { boxPath } from '../shapes/boxes';
import { wordsIn } from '../shapes/text-box';
import { EM, glyphsOf, refuseMissing } from './letters';
import { inUnitBox } from './silhouette';

type Run = Text['paragraphs'][number]['runs'][number];

/** So exact outlines are, in ems. */
const FINE = 5e-4;

/** The runs of words, as `outlinedWords` takes them. */
export const runsIn = ({ text }: FramedItem): Run[] => text?.paragraphs.flatMap((p) => p.runs) ?? [];

/** What words are measured with. */
type Measure = Parameters<typeof placedLines>[0];

/**
 * Words as a shape, in the box that they stand in: the ink of their letters where the context sets them.
 * @param fontOf the font of a run
 * @throws GableError `bad-letters` for what a font does not have, or for words of several colours
 */
export function outlinedWords(context: Measure, item: FramedItem, fontOf: (run: Run) => Font): ShapeChoice {
  const runs = runsIn(item);
  if (!item.text || runs.some((r) => !equal(r.paint, runs[0]!.paint)))
    throw new GableError('bad-letters', 'Words of several colours cannot be one outline.', 'Give them one colour.', {});
  const { box } = item.at;
  const inked = (run: Run, text: string, x: number, baseline: number): Path =>
    lettersAt(fontOf(run), run, { text, x: letterPlaces(context, run, text).map((at) => x + at), baseline });
  const lines = placedLines(context, wordsIn(box, item, item.text), box);
  const path = lines.flatMap(({ line, x, baseline }): Path => {
    let at = x;
    const [first] = line.pieces;
    const bullet = line.bullet && first ? inked(first.run, line.bullet.text, x - line.bullet.hang, baseline) : [];
    const pieces = line.pieces.flatMap(({ run, text, width }): Path => {
      const from = at;
      at += width;
      const beneath = boxPath(width, run.size * 0.06);
      const rule = run.underline ? transform(beneath, [1, 0, 0, 1, from, baseline + run.size * 0.1]) : [];
      return [...inked(run, text, from, baseline), ...rule];
    });
    return [...bullet, ...pieces];
  });
  const least = Math.min(...runs.map((r) => r.size));
  const label = runs
    .map((r) => r.text)
    .join(' ')
    .trim();
  const whole = { x: 0, y: 0, width: box.width, height: box.height };
  return inUnitBox(mergedPath(path, 'nonzero', FINE * least), whole, { name: 'outlines', label });
}

/** The ink of some letters, each at its own place on their baseline. */
function lettersAt(
  font: Font,
  { size }: Run,
  { text, x, baseline }: { text: string; x: readonly number[]; baseline: number },
): Path {
  const letters = [...text.replace(/\s/gu, ' ')];
  refuseMissing(font, letters);
  const k = size / EM;
  return glyphsOf(font, letters).flatMap(({ path }, i) => transform(path, [k, 0, 0, k, x[i]!, baseline]));
}
