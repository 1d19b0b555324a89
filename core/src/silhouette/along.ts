import type { Font } from 'opentype.js';
import { GableError } from '../errors';
import { area, bounds } from '../geometry/measure';
import { mergedPath } from '../geometry/polygons';
import { multiply, rotation, transform, type Matrix } from '../geometry/transform';
import type { ShapeChoice } from '../model/frame';
import { reachOf } from '../ties/along';
import { EM, glyphsOf, refuseMissing } from './letters';
import { inUnitBox, refuseSpecks } from './silhouette';

/** How words stand along a circle. */
export interface Along {
  /** Their em, as a share of the diameter of the circle. */
  share: number;
  /** About the top of it, or about its foot, where they read from left to right, too. */
  side: 'top' | 'bottom';
}

const MOST_LETTERS = 80;
/** Words leave a part of the circle free, so that their end is told from their beginning. */
const MOST_ANGLE = 1.9 * Math.PI;
/** The height of capitals where a font does not tell it, in ems (common practice). */
const CAPITAL = 0.7;

/**
 * Words along a circle as a shape, in the box of the whole circle (`reachOf`): at the top their baseline is the circle, at its foot the
 * height of their capitals. What would go round further than once is set smaller.
 * @throws GableError `bad-letters` for none, for too many, or for what the font does not have
 */
export function alongShape(font: Font, text: string, { share, side }: Along): ShapeChoice {
  const words = text.trim().replace(/\s+/g, ' ');
  const letters = [...words];
  if (letters.length < 1 || letters.length > MOST_LETTERS)
    throw new GableError('bad-letters', 'Along a circle there is room for 1 to 80 letters.', 'Write fewer.', { text });
  refuseMissing(font, letters);
  const glyphs = glyphsOf(font, letters);
  const last = glyphs.at(-1)!;
  const length = (last.x + last.advance) / EM;
  const capital =
    side === 'bottom' ? ((font.tables['os2'] as OS2 | undefined)?.sCapHeight ?? 0) / font.unitsPerEm || CAPITAL : 0;
  // In radii of the circle; along the foot of larger letters there is more room.
  const em = Math.min(2 * share, MOST_ANGLE / Math.max(1e-6, length - capital * MOST_ANGLE));
  const baseline = EM / em + capital * EM;
  const path = glyphs.flatMap(({ path, x, advance }) => {
    const angle = ((x + advance / 2 - (length * EM) / 2) / baseline / Math.PI) * 180;
    const upright: Matrix = [1, 0, 0, 1, -advance / 2, side === 'top' ? -baseline : baseline];
    return transform(path, multiply(rotation(side === 'top' ? angle : -angle), upright));
  });
  const b = bounds(path);
  refuseSpecks(area(path), (b.width * b.height) / 10, 'letter');
  const half = (reachOf(share) * EM) / em;
  const box = { x: -half, y: -half, width: 2 * half, height: 2 * half };
  return inUnitBox(mergedPath(path, 'nonzero', 0.5), box, { name: 'letter', label: words });
}

/** OpenType OS/2 (version 2 and on), sCapHeight. */
interface OS2 {
  sCapHeight?: number;
}
