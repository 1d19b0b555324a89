import type { DefaultTreeAdapterTypes } from 'parse5';
import type { Size } from '@gable/core';
import { writeDataUrl } from '../codec/data-url';
import { applyEdits, type Edit } from '../xml/splice';
import { attributesOf, type Node, type Tag } from './tree';

/** A picture of the page: the image itself, and what goes round it, if anything. */
export interface OnPage {
  n: number;
  image: Tag;
  outer: Tag;
  size: Size;
}

/** What the page links to: bytes that lie beside it; null for what does not. */
export type Beside = (address: string) => Uint8Array | null;

/** Attribute that bears a picture's number. */
export const PICTURE = 'data-picture';

/** What could run, lead elsewhere or bring in other pages; and what is not on the page where scripts run. */
const DROPPED = /^(script|base|iframe|object|embed|frame|frameset|noscript|template)$/;
/** A picture behind a page is put in up to this size, in bytes. */
const MAX_EMBEDDED_BYTES = 1024 * 1024;
const MEDIA_TYPES: Readonly<Record<string, string>> = {
  png: 'png',
  jpg: 'jpeg',
  jpeg: 'jpeg',
  gif: 'gif',
  webp: 'webp',
  avif: 'avif',
  svg: 'svg+xml',
};

/**
 * A page that needs nothing else to be laid out: its style sheets are in it, nothing in it runs or is fetched, and its
 * pictures are hidden boxes of their sizes that bear their numbers.
 */
export function pageMarkup(
  text: string,
  tree: DefaultTreeAdapterTypes.Document,
  pictures: readonly OnPage[],
  beside: Beside,
): string {
  const dropped: Edit[] = [];
  const edits: Edit[] = [];
  const drop = (e: Tag): void => {
    const at = e.sourceCodeLocation;
    if (at) dropped.push({ start: at.startOffset, end: at.endOffset, text: '' });
  };
  const visit = (node: Node): void => {
    if ('tagName' in node) {
      const a = attributesOf(node);
      if (DROPPED.test(node.tagName) || (node.tagName === 'meta' && a['http-equiv'] !== undefined)) {
        drop(node);
        return;
      }
      if (node.tagName === 'source' && node.parentNode && 'tagName' in node.parentNode) drop(node);
      const at = node.sourceCodeLocation;
      if (node.tagName === 'link' && at) {
        const sheet = /\bstylesheet\b/i.test(a['rel'] ?? '') ? beside(a['href'] ?? '') : null;
        const media = a['media'] ? ` media="${a['media'].replace(/["&<]/g, '')}"` : '';
        const rules = sheet ? `<style${media}>${styled(new TextDecoder().decode(sheet), beside)}</style>` : '';
        edits.push({ start: at.startOffset, end: at.endOffset, text: rules });
      }
      if (node.tagName === 'style' && at?.startTag && at.endTag) {
        const [start, end] = [at.startTag.endOffset, at.endTag.startOffset];
        edits.push({ start, end, text: styled(text.slice(start, end), beside) });
        return;
      }
    }
    if ('childNodes' in node) node.childNodes.forEach(visit);
  };
  visit(tree);
  for (const { n, image, outer, size } of pictures) {
    const at = outer.sourceCodeLocation;
    const own = image.sourceCodeLocation;
    if (!at || !own) continue;
    const mark = ` ${PICTURE}="${n}"`;
    if (outer !== image) edits.push(after(at.startOffset, outer.tagName, mark));
    for (const name of ['src', 'srcset', 'sizes']) {
      const where = own.attrs?.[name];
      if (where) edits.push({ start: where.startOffset, end: where.endOffset, text: '' });
    }
    edits.push(after(own.startOffset, 'img', `${outer === image ? mark : ''} src="${standIn(size)}"`));
  }
  const kept = edits.filter((e) => !dropped.some((d) => e.start >= d.start && e.end <= d.end));
  const outermost = dropped.filter((d) => !dropped.some((o) => o !== d && d.start >= o.start && d.end <= o.end));
  return `${applyEdits(text, [...kept, ...outermost])}<style>[${PICTURE}]{visibility:hidden!important}</style>`;
}

const after = (start: number, tag: string, text: string): Edit => {
  const at = start + 1 + tag.length;
  return { start: at, end: at, text };
};

/** A clear drawing of the picture's own size, so that the page makes the same room for it. */
const standIn = ({ width, height }: Size): string =>
  `data:image/svg+xml,%3Csvg xmlns='http://www.w3.org/2000/svg' width='${width}' height='${height}'/%3E`;

/** A style sheet with the pictures beside it in it (CSS Values 4 §4.5, url); it cannot end its own element. */
function styled(css: string, beside: Beside): string {
  return css
    .replace(/<\/(?=style)/gi, '<\\/')
    .replace(/url\(\s*(["']?)([^"')]+)\1\s*\)/gi, (whole, _quote: string, address: string) => {
      const type = MEDIA_TYPES[/\.(\w+)(?:[?#].*)?$/.exec(address)?.[1]?.toLowerCase() ?? ''];
      const bytes = type ? beside(address) : null;
      return bytes && bytes.length <= MAX_EMBEDDED_BYTES ? `url("${writeDataUrl(bytes, type!)}")` : whole;
    });
}
