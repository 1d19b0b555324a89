import type { Font, Glyph, PathCommand } from 'opentype.js';
import { GableError } from '../errors';
import { area, bounds } from '../geometry/measure';
import type { Path, Segment } from '../geometry/path';
import { mergedPath } from '../geometry/polygons';
import { transform } from '../geometry/transform';
import type { ShapeChoice } from '../model/frame';
import { choiceOf, refuseSpecks } from './silhouette';

/**
 * One to three letters or digits as a shape: the ink of their glyphs, side by side as the font sets them.
 * @throws GableError `bad-letters` for more, or for what the font does not have
 */
export function letterShape(font: Font, text: string): ShapeChoice {
  const letters = [...text.trim()];
  if (letters.length < 1 || letters.length > 3)
    throw new GableError('bad-letters', `“${text}” is not one to three letters.`, 'Give one, two or three.', { text });
  refuseMissing(font, letters);
  const path = glyphsOf(font, letters).flatMap(({ path, x }) => transform(path, [1, 0, 0, 1, x, 0]));
  const b = bounds(path);
  refuseSpecks(area(path), b.width * b.height, 'letter');
  // Overlapping parts of one glyph become one, so that every fill rule fills the same.
  return choiceOf(mergedPath(path, 'nonzero', 0.5), 'letter', letters.join(''));
}

/** @throws GableError `bad-letters` for what the font does not have */
export function refuseMissing(font: Font, letters: readonly string[]): void {
  const missing = letters.find((l) => font.charToGlyphIndex(l) === 0);
  if (missing !== undefined)
    throw new GableError('bad-letters', `The font has no “${missing}”.`, 'Choose another letter or font.', { missing });
}

/** So many units of glyphs are one em. */
export const EM = 1000;

/** The ink of a letter from where it begins on its line, and where that is. */
interface Inked {
  path: Path;
  x: number;
  advance: number;
}

/** Glyphs side by side with their kerning. Letter by letter: of ligatures and other substitutions a shape has no use. */
export function glyphsOf(font: Font, letters: readonly string[]): Inked[] {
  const scale = EM / font.unitsPerEm;
  let x = 0;
  let before: Glyph | null = null;
  return letters.map((letter) => {
    const glyph = font.charToGlyph(letter);
    if (before) x += font.getKerningValue(before, glyph) * scale;
    const inked = { path: pathOf(glyph.getPath(0, 0, EM).commands), x, advance: (glyph.advanceWidth ?? 0) * scale };
    x += inked.advance;
    before = glyph;
    return inked;
  });
}

function pathOf(commands: readonly PathCommand[]): Path {
  const path: Segment[] = [];
  let pen = { x: 0, y: 0 };
  for (const c of commands) {
    if (c.type === 'Z') path.push({ op: 'Z' });
    else if (c.type === 'Q') {
      const third = (p: number, q: number): number => p + (2 * (q - p)) / 3;
      path.push({
        op: 'C',
        x1: third(pen.x, c.x1),
        y1: third(pen.y, c.y1),
        x2: third(c.x, c.x1),
        y2: third(c.y, c.y1),
        x: c.x,
        y: c.y,
      });
    } else if (c.type === 'C') path.push({ op: 'C', x1: c.x1, y1: c.y1, x2: c.x2, y2: c.y2, x: c.x, y: c.y });
    else path.push({ op: c.type, x: c.x, y: c.y });
    if (c.type !== 'Z') pen = { x: c.x, y: c.y };
  }
  return path;
}
