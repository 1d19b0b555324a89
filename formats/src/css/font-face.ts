import { writeDataUrl } from '../codec/data-url';
import type { FontFile } from '../codec/contract';

/** Marks an element with rules for fonts that came with words. */
export const FONTS_ATTRIBUTE = 'data-gable-fonts';

/** Rules by which a page has fonts with it (CSS Fonts 4 §4.1). */
export const fontFaces = (fonts: readonly FontFile[]): string =>
  fonts
    .map(
      ({ family, weight, italic, packed }) =>
        `@font-face{font-family:'${family.replace(/['\\<>&]/g, '')}';font-weight:${weight};font-style:${italic ? 'italic' : 'normal'};` +
        `src:url(${writeDataUrl(packed, 'font/woff2')}) format('woff2')}`,
    )
    .join('\n');
