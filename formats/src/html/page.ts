import type { Size } from '@gable/core';
import { applyEdits, type Edit } from '../xml/splice';
import type { Page } from './page-source';
import { dataUrlOf, linkedSheet, selfContained, withImports, type Folder } from './sheets';
import { attributesOf, escapeHtml, type Node, type Tag } from './tree';
import { isVideo } from './video';
import type { OwnWords } from './words';

/** A picture of the page: the image itself, and what goes round it, if anything. */
export interface OnPage {
  n: number;
  image: Tag;
  outer: Tag;
  size: Size;
  /** Does the page show it by itself, once its data are there? */
  shown: boolean;
}

/** Attributes that bear a picture's number, say that the page shows it itself, and what a thing is that is not shown. */
export const PICTURE = 'data-picture';
const SHOWN = 'data-shown';
const PLATE = 'data-plate';

/** What could run, lead elsewhere or stands for scripts. */
const DROPPED = /^(script|base|frame|frameset|noscript|template)$/;
/** What brings in pages and programs, plays or is drawn by scripts: it keeps its room, with a plate that says what it is. */
const PLATES: Readonly<Record<string, string>> = {
  iframe: 'Another page',
  embed: 'Embedded object',
  object: 'Embedded object',
  video: 'Video',
  canvas: 'Drawing made by a script',
};
/**
 * A page that needs nothing else to be laid out: its style sheets are in it, nothing in it runs or is fetched, and its
 * pictures are hidden boxes of their sizes that bear their numbers. Its own words bear their names.
 */
export function pageMarkup(
  page: Page,
  { pictures, words }: { pictures: readonly OnPage[]; words: readonly OwnWords[] },
  folder: Folder,
): string {
  const { name, text, tree } = page;
  const dropped: Edit[] = [];
  const edits: Edit[] = [];
  const shownOf = new Map(pictures.map((p) => [p.image, p]));
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
      const at = node.sourceCodeLocation;
      if (at && shownOf.has(node) && isVideo(node)) {
        dropped.push({ ...spanOf(at), text: posterOf(node, text, shownOf.get(node)!) });
        return;
      }
      if (at && node.tagName in PLATES) {
        dropped.push({ ...spanOf(at), text: plateOf(node, name, folder) });
        return;
      }
      if (node.tagName === 'source') drop(node);
      if (node.tagName === 'link' && at) {
        const media = a['media'] ? ` media="${a['media'].replace(/["&<]/g, '')}"` : '';
        const rules = linkedSheet(node, page, folder).map(({ css, from }) => selfContained(css, from, folder));
        const sheets = rules.map((css) => `<style${media}>${css}</style>`);
        edits.push({ start: at.startOffset, end: at.endOffset, text: sheets.join('') });
      }
      if (node.tagName === 'style' && at?.startTag && at.endTag) {
        const [start, end] = [at.startTag.endOffset, at.endTag.startOffset];
        const parts = withImports(text.slice(start, end), name, folder);
        edits.push({ start, end, text: parts.map(({ css, from }) => selfContained(css, from, folder)).join('\n') });
        return;
      }
      const style = at?.attrs?.['style'];
      if (style && a['style']) {
        const own = escapeHtml(selfContained(a['style'], name, folder));
        if (own !== escapeHtml(a['style'])) edits.push({ ...spanOf(style), text: `style="${own}"` });
      }
      edits.push(...broughtIn(node, name, folder));
    }
    if ('childNodes' in node) node.childNodes.forEach(visit);
  };
  visit(tree);
  for (const { n, image, outer, size, shown } of pictures) {
    const at = outer.sourceCodeLocation;
    const own = image.sourceCodeLocation;
    if (!at || !own) continue;
    const mark = markOf(n, shown);
    if (outer !== image) edits.push(after(at.startOffset, outer.tagName, mark));
    if (isVideo(image)) continue;
    for (const attribute of ['src', 'srcset', 'sizes']) {
      const where = own.attrs?.[attribute];
      if (where) edits.push({ ...spanOf(where), text: '' });
    }
    edits.push(after(own.startOffset, 'img', `${outer === image ? mark : ''} src="${standIn(size)}"`));
  }
  for (const { id, element } of words) {
    const { startOffset } = element.sourceCodeLocation!;
    edits.push(after(startOffset, element.tagName, ` data-own="${id}"`));
  }
  const kept = edits.filter((e) => !dropped.some((d) => e.start >= d.start && e.end <= d.end));
  const outermost = dropped.filter((d) => !dropped.some((o) => o !== d && d.start >= o.start && d.end <= o.end));
  return `${applyEdits(text, [...kept, ...outermost])}<style>[${PICTURE}]:not([data-seen]){visibility:hidden!important}</style>`;
}

/** A video with its picture's room, which it takes before it plays; it plays nowhere here. */
function posterOf(e: Tag, text: string, { n, outer, size, shown }: OnPage): string {
  const kept = Object.entries(e.sourceCodeLocation?.attrs ?? {}).flatMap(([name, at]) =>
    /^(class|id|style|width|height|align|hspace|vspace|border|title|lang|dir|data-)/.test(name)
      ? [` ${text.slice(at.startOffset, at.endOffset)}`]
      : [],
  );
  const mark = outer === e ? markOf(n, shown) : '';
  return `<video${mark} poster="${standIn(size)}"${kept.join('')}></video>`;
}

const markOf = (n: number, shown: boolean): string => ` ${PICTURE}="${n}"${shown ? ` ${SHOWN}` : ''}`;

/** The room of something that is not shown, marked with what it is; an inner page keeps it without what it shows. */
function plateOf(e: Tag, page: string, folder: Folder): string {
  const tag = e.tagName === 'video' || e.tagName === 'canvas' ? e.tagName : 'iframe';
  const attributes = Object.entries(attributesOf(e)).flatMap(([name, value]) => {
    if (name === 'poster') return [[name, value.startsWith('data:image/') ? value : dataUrlOf(value, page, folder)]];
    if (name === 'style') return [[name, selfContained(value, page, folder)]];
    return /^(src|srcdoc|data|type|name|autoplay|sandbox|allow.*|on.*)$/.test(name) ? [] : [[name, value]];
  });
  const written = attributes.flatMap(([name, value]) => (value === null ? [] : [` ${name}="${escapeHtml(value!)}"`]));
  return `<${tag}${written.join('')} ${PLATE}="${PLATES[e.tagName]}"></${tag}>`;
}

/** What other elements bring in: put in from the folder, else left out. */
function broughtIn(e: Tag, page: string, folder: Folder): Edit[] {
  const name = ({ input: 'src', audio: 'src', image: 'href' } as Record<string, string>)[e.tagName];
  const where = name === undefined ? undefined : e.sourceCodeLocation?.attrs?.[name];
  const value = name === undefined ? undefined : attributesOf(e)[name];
  if (!where || value === undefined || value.startsWith('data:')) return [];
  const url = dataUrlOf(value, page, folder);
  return [{ ...spanOf(where), text: url ? `${name}="${url}"` : '' }];
}

const spanOf = ({
  startOffset,
  endOffset,
}: {
  startOffset: number;
  endOffset: number;
}): Pick<Edit, 'start' | 'end'> => ({
  start: startOffset,
  end: endOffset,
});

const after = (start: number, tag: string, text: string): Edit => {
  const at = start + 1 + tag.length;
  return { start: at, end: at, text };
};

/** A clear drawing of the picture's own size, so that the page makes the same room for it. */
const standIn = ({ width, height }: Size): string =>
  `data:image/svg+xml,%3Csvg xmlns='http://www.w3.org/2000/svg' width='${width}' height='${height}'/%3E`;
