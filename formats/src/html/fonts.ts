import type { FontFile } from '../codec/contract';
import { fontFaces, FONTS_ATTRIBUTE } from '../css/font-face';
import type { Edit } from '../xml/splice';
import { wordsOfStyle } from './find';
import { elements, SET, type Page } from './page-source';
import { attributesOf } from './tree';

const NAMED = /style="[^"]*?font-family:\s*(&#39;|')([^'"&;]+)\1/g;
const SETS = new RegExp(`<span class="[\\w-]+" ${SET}`);

/**
 * Puts fonts into a page, as rules at the end of its head; without one, before the first picture that has something around it, or at the end.
 * @returns what changes in its text; nothing where no words of it are set in them
 */
export function embedFonts(page: Page, fonts: readonly FontFile[]): Edit[] {
  // Where it is said of elements: what only its sheets name is the page's own.
  const named = new Set([...page.text.matchAll(NAMED)].map(([, , family]) => family));
  const isIn = (family: string): boolean => named.has(family);
  const used = fonts.filter(({ family }) => isIn(family));
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
  const set = page.text.search(SETS);
  const at = head?.endTag?.startOffset ?? (set < 0 ? page.text.length : set);
  return [{ start: at, end: at, text }];
}
