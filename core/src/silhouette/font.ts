import opentype, { type Font } from 'opentype.js';
import { GableError } from '../errors';
import type { OwnFont } from '../flow/fonts';

/** Reads a font: OpenType, TrueType or WOFF. @throws GableError `bad-font` */
export function readFont(bytes: Uint8Array): Font {
  try {
    return opentype.parse(bytes.buffer.slice(bytes.byteOffset, bytes.byteOffset + bytes.byteLength) as ArrayBuffer);
  } catch (cause) {
    throw new GableError(
      'bad-font',
      'The font cannot be read.',
      'Choose a font file that ends in .ttf, .otf or .woff2.',
      {},
      { cause },
    );
  }
}

/** What is known of a font file. */
export interface FontFacts extends OwnFont {
  /** Regular or bold, upright or italic, of its family. */
  weight: 400 | 700;
  italic: boolean;
  /** May it be put into files that are edited further? */
  embeds: boolean;
}

/** Bits of OS/2 (OpenType 1.9, OS/2: fsSelection, fsType). */
const ITALIC = 1 << 0;
const BOLD = 1 << 5;
const TYPO_METRICS = 1 << 7;
const USAGE = 0xf;
const EDITABLE = 8;
const BITMAPS_ONLY = 0x200;

/** What a font says of itself: the family that office programs know it by (name 1), its style there. @throws GableError `bad-font` */
export function fontFacts(bytes: Uint8Array): FontFacts {
  const font = readFont(bytes);
  const family = nameOf(font);
  const os2 = font.tables['os2'] as Partial<Record<string, number>> | undefined;
  const head = font.tables['hhea'] as Partial<Record<string, number>> | undefined;
  if (family === '' || font.glyphs.length === 0)
    throw new GableError('bad-font', 'The font has no name or no letters.', 'Choose another font file.');
  const style = os2?.['fsSelection'] ?? 0;
  const typo = (style & TYPO_METRICS) !== 0;
  const [up, down, gap] = typo
    ? [os2?.['sTypoAscender'], os2?.['sTypoDescender'], os2?.['sTypoLineGap']]
    : [head?.['ascender'], head?.['descender'], head?.['lineGap']];
  const line = ((up ?? font.ascender) - (down ?? font.descender) + Math.max(0, gap ?? 0)) / font.unitsPerEm;
  const usage = os2?.['fsType'] ?? 0;
  return {
    family,
    line: line > 0.3 && line < 5 ? line : 1.2,
    weight: (style & BOLD) !== 0 ? 700 : 400,
    italic: (style & ITALIC) !== 0,
    embeds: ((usage & USAGE) === 0 || (usage & EDITABLE) !== 0) && (usage & BITMAPS_ONLY) === 0,
  };
}

/** Names that CSS and XML take without quoting. */
function nameOf(font: Font): string {
  const names = font.names as unknown as Record<string, Record<string, Record<string, string>> | undefined>;
  const said =
    names['windows']?.['fontFamily'] ?? names['macintosh']?.['fontFamily'] ?? names['unicode']?.['fontFamily'];
  const plain =
    said?.['en'] ?? Object.values(said ?? {})[0] ?? (font.names as { fontFamily?: { en?: string } }).fontFamily?.en;
  return (plain ?? '')
    .replace(/[^\p{L}\p{N} ._-]/gu, '')
    .trim()
    .slice(0, 100);
}
