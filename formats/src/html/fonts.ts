import type { FontFile } from '../codec/contract';
import { fontFaces, FONTS_ATTRIBUTE } from '../css/font-face';
import type { Edit } from '../xml/splice';
import { wordsOfStyle } from './find';
import { elements, type Page } from './page-source';
import { attributesOf } from './tree';

/**
 * Puts fonts into a page, as rules at the end of its head; without one, before the first picture that has something around it.
 * @returns what changes in its text; nothing where no words of it are set in them
 */
export function embedFonts(page: Page, fonts: readonly FontFile[]): Edit[] {
  const isIn = (family: string): boolean =>
    page.text.includes(`&#39;${family}&#39;`) || page.text.includes(`'${family}'`);
  const used = page.text.includes('data-gable-set') ? fonts.filter(({ family }) => isIn(family)) : [];
  if (used.length === 0) return [];
  const old = elements(page.tree, 'style').find((e) => FONTS_ATTRIBUTE in attributesOf(e));
  const before = old && wordsOfStyle(old);
  const rules = fontFaces(used, before);
  const text = `<style ${FONTS_ATTRIBUTE}>${rules}</style>`;
  if (old) {
    const { startOffset: start, endOffset: end } = old.sourceCodeLocation!;
    return before === rules ? [] : [{ start, end, text }];
  }
  const head = elements(page.tree, 'head')[0]?.sourceCodeLocation;
  const set = /<span class="[\w-]+" data-gable-set/.exec(page.text)?.index ?? 0;
  const at = head?.endTag?.startOffset ?? set;
  return [{ start: at, end: at, text }];
}
