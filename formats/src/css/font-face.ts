import { writeDataUrl } from '../codec/data-url';
import type { FontFile } from '../codec/contract';

/** Marks an element with rules for fonts that came with words. */
export const FONTS_ATTRIBUTE = 'data-gable-fonts';

const headOf = ({ family, weight, italic }: FontFile): string =>
  `@font-face{font-family:'${family.replace(/['\\<>&]/g, '')}';font-weight:${weight};font-style:${italic ? 'italic' : 'normal'};`;

/**
 * Rules by which a page has fonts with it (CSS Fonts 4 §4.1), a line each.
 * @param before those that it has already, as they were written: they stay, in the look of another font
 */
export function fontFaces(fonts: readonly FontFile[], before = ''): string {
  const rules = fonts.map((font) => {
    const head = headOf(font);
    const { packed, bytes } = font;
    const url = packed ? writeDataUrl(packed, 'font/woff2') : writeDataUrl(bytes, 'font/sfnt');
    return { head, rule: `${head}src:url(${url})${packed ? " format('woff2')" : ''}}` };
  });
  const stay = before.split('\n').filter((line) => line !== '' && !rules.some(({ head }) => line.startsWith(head)));
  return [...stay, ...rules.map((r) => r.rule)].join('\n');
}
