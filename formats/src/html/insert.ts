import { GableError } from '@gable/core';
import { noPicture, noSuchBlock, noSuchPage, noSuchPlace, type Block, type NewPicture } from '../codec/contract';
import { PIXEL } from '../css/lengths';
import type { Edit } from '../xml/splice';
import { type Page, MARK } from './page-source';
import { attributesOf, escapeHtml, parentTag, type Node, type Tag } from './tree';

/** Elements that stand on lines of their own, and that words stand in (HTML §4.3, §4.4, §4.9). */
const BLOCKS: ReadonlySet<string> = new Set(
  'p h1 h2 h3 h4 h5 h6 ul ol dl table pre blockquote figure address hr div section article header footer main aside nav form fieldset details'.split(
    ' ',
  ),
);
/** Those that only hold others: their blocks count, not they. */
const HOLDERS: ReadonlySet<string> = new Set(
  'div section article header footer main aside nav form details body'.split(' '),
);

const isTag = (node: Node): node is Tag => 'tagName' in node;
const isBlock = (node: Node): node is Tag => isTag(node) && BLOCKS.has(node.tagName);

/** The blocks of a page in their order: what holds others is looked into. */
function blockTags(page: Page): Tag[] {
  const out: Tag[] = [];
  const visit = (node: Node): void => {
    if (isBlock(node) && !(HOLDERS.has(node.tagName) && node.childNodes.some(isBlock))) {
      if (node.sourceCodeLocation) out.push(node);
      return;
    }
    if (isTag(node) && (/^(script|style|template|noscript|head)$/.test(node.tagName) || MARK in attributesOf(node)))
      return;
    if ('childNodes' in node) node.childNodes.forEach(visit);
  };
  visit(page.tree);
  return out;
}

const wordsIn = (node: Node): string =>
  'value' in node
    ? node.value
    : isTag(node) && /^(script|style)$/.test(node.tagName)
      ? ''
      : 'childNodes' in node
        ? node.childNodes.map(wordsIn).join('')
        : '';

/** The words of each block of a page, which places are counted by. */
export const blocksOf = (page: Page): Block[] =>
  blockTags(page).map((e) => ({ words: wordsIn(e).replace(/\s+/g, ' ').trim(), in: 'text', within: null }));

/**
 * Puts a plain `<img>` into a page: in a paragraph of its own, into an element behind all that is in it, or right behind an
 * image that is there.
 * @param found images of the pages, in their order
 * @param src its address
 * @returns the change, which begins where the image does
 * @throws GableError `no-such-page`, `no-such-picture`
 */
export function insertImage(
  pages: readonly Page[],
  found: readonly { page: Page; outer: Tag }[],
  { alt, place }: Pick<NewPicture, 'alt' | 'place'>,
  src: (page: Page) => string,
): { page: Page; edit: Edit } {
  if (place.in !== 'web' && place.in !== 'beside') throw noSuchPlace();
  // Whole numbers (HTML §4.8.17), and as near to its ratio as these come.
  const width = Math.max(1, Math.round(place.size.width / PIXEL));
  const height = Math.max(1, Math.round((width * place.size.height) / place.size.width));
  const size = `width="${width}" height="${height}"`;
  const image = (on: Page): string =>
    `<img src="${escapeHtml(src(on))}" alt="${escapeHtml(alt)}" ${size}${/^\s*<\?xml/.test(on.text) ? ' /' : ''}>`;
  if (place.in === 'beside') {
    const { page, outer } = found[place.n - 1] ?? noPicture(place.n, found.length);
    const at = outer.sourceCodeLocation!.endOffset;
    return { page, edit: { start: at, end: at, text: image(page) } };
  }
  const page = pages[place.page - 1];
  if (!page) throw noSuchPage(place.page, pages.length);
  const blocks = blockTags(page);
  if (place.after > blocks.length) throw noSuchBlock(place.after, blocks.length);
  const [before, behind] = [blocks[place.after - 1], blocks[place.after]];
  if (place.inside) {
    const end = endInside(before, place.after);
    return { page, edit: { start: end, end, text: image(page) } };
  }
  const at = before?.sourceCodeLocation!.endOffset ?? behind?.sourceCodeLocation!.startOffset ?? endOf(page);
  return { page, edit: { start: at, end: at, text: `<p>${image(page)}</p>` } };
}

/** Where what is in an element ends; lists and tables hold nothing but their own parts (HTML §4.4, §4.9). */
function endInside(tag: Tag | undefined, after: number): number {
  const at = tag?.sourceCodeLocation;
  if (!tag || !at || /^(hr|table|ul|ol|dl|pre)$/.test(tag.tagName))
    throw new GableError('cannot-write', 'No picture can be put into this element.', 'Put it before or behind that.', {
      after,
    });
  // Its end may be left out (HTML §13.1.2.4): then it ends where the next one begins.
  return at.endTag?.startOffset ?? at.endOffset;
}

/** Where the body of a page without blocks ends. */
function endOf(page: Page): number {
  let end = page.text.length;
  const visit = (node: Node): void => {
    if (isTag(node) && node.tagName === 'body') end = node.sourceCodeLocation?.endTag?.startOffset ?? end;
    if ('childNodes' in node) node.childNodes.forEach(visit);
  };
  visit(page.tree);
  return end;
}

/** All of an image that is removed: its paragraph or figure, where nothing else is in it. */
export function imageAlone(outer: Tag): Tag {
  const parent = parentTag(outer);
  const alone = parent?.childNodes.every((c) => c === outer || ('value' in c && c.value.trim() === ''));
  return parent && alone && /^(p|figure)$/.test(parent.tagName) && parent.sourceCodeLocation ? parent : outer;
}
