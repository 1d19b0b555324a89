/**
 * The page of a document, laid out inside a frame that has no rights at all: no origin, no network, no storage. It gets
 * the document's bytes, lays it out, and tells where its pictures lie. In a document (a zip file) each picture is a clear
 * stand-in as many pixels wide as its number says; in HTML it is a hidden box that bears its number.
 */
import { parseAsync, renderDocument, type WordDocument } from 'docx-preview';
import { toPng } from 'html-to-image';
import type { Asked, Caret, Laid, PictureOnPage, Shown, Spot } from './told';

const host = document.getElementById('host')!;
const tell = (message: object): void => window.parent.postMessage({ page: true, ...message }, '*');

const absolute = (e: Element): Spot => {
  const b = e.getBoundingClientRect();
  return { x: b.left + window.scrollX, y: b.top + window.scrollY, width: b.width, height: b.height };
};

const DOCUMENT_OPTIONS = {
  inWrapper: true,
  breakPages: true,
  ignoreLastRenderedPageBreak: false,
  useBase64URL: true,
  renderHeaders: true,
  renderFooters: true,
  renderFootnotes: true,
  experimental: true,
};

/** A picture without pixels, where a document names one that it does not hold: nothing is asked of the server for it. */
const CLEAR = 'data:image/gif;base64,R0lGODlhAQABAIAAAAAAAP///yH5BAEAAAAALAAAAAABAAEAAAIBRAA7';

/** Something in a document as docx-preview reads it. */
interface Parsed {
  src?: string;
  children?: readonly Parsed[];
}

/** docx-preview looks for the pictures of notes among those of the text (0.4.1): here they are found in the notes' part. */
function findNotePictures(document: WordDocument): void {
  const find = document.loadDocumentImage.bind(document);
  const parts = new Map<string, object>();
  for (const part of [document.footnotesPart, document.endnotesPart]) {
    const mark = (e: Parsed): void => {
      if (e.src) parts.set((e.src = `note ${parts.size} ${e.src}`), part);
      e.children?.forEach(mark);
    };
    part?.notes?.forEach(mark);
  }
  document.loadDocumentImage = async (id: string, part: object): Promise<string> => {
    const notes = parts.get(id);
    return (await (notes ? find(id.split(' ')[2], notes) : find(id, part))) ?? CLEAR;
  };
}

async function layOut(bytes: ArrayBuffer, id: number): Promise<void> {
  const document = await parseAsync(bytes, DOCUMENT_OPTIONS);
  findNotePictures(document);
  host.replaceChildren(...(await renderDocument(document, DOCUMENT_OPTIONS)));
  const images = [...host.querySelectorAll('img')];
  await Promise.all(images.map((i) => i.decode().catch(() => undefined)));
  const pictures: PictureOnPage[] = [];
  for (const image of images.filter(({ src }) => src !== CLEAR)) {
    const box = absolute(image);
    // What is in a text box is not laid out (docx-preview 0.4.1): it has no place.
    if (box.width === 0) continue;
    const paragraph = image.closest('p');
    const p = paragraph ? absolute(paragraph) : box;
    pictures.push({ n: image.naturalWidth, ...box, inParagraph: { x: box.x - p.x, y: box.y - p.y } });
  }
  pages = [...host.querySelectorAll('section')];
  report(id, pictures, [...host.querySelectorAll('section > article > *')], true);
}

/** Enough of the words of a block to tell it by. */
const MOST_CHARS = 400;

/** What stands on lines of its own in a web page; what only holds such things is none itself. */
const BLOCKS =
  'p,h1,h2,h3,h4,h5,h6,ul,ol,dl,table,pre,blockquote,figure,address,hr,div,section,article,header,footer,main,aside,nav,form,fieldset,details';
const HOLDERS = 'div,section,article,header,footer,main,aside,nav,form,details';

function blocksIn(root: Element): Element[] {
  return [...root.children].flatMap((e) => {
    const holds = e.matches(HOLDERS) && [...e.children].some((c) => c.matches(BLOCKS));
    if (e.matches(BLOCKS) && !holds) return e;
    return e.matches('script,style,template,noscript,[data-picture]') ? [] : blocksIn(e);
  });
}

/** The pages as they are laid out; a web page is one. */
let pages: HTMLElement[] = [];

/** As they are laid out: items of a list are words of their own. */
const wordsOf = (e: Element): string => (e as HTMLElement).innerText ?? e.textContent ?? '';

/** The blocks that were reported last, by their numbers. */
let reported: Element[] = [];

/** With those in cells behind their tables. */
const withCells = (elements: readonly Element[]): Element[] =>
  elements.flatMap((e) => [e, ...e.querySelectorAll('td > p, td > ul, td > ol, td > table, th > p')]);

/** They hold no pictures but in their parts (HTML §4.4, §4.9). */
const CLOSED = 'hr, table, ul, ol, dl, pre';

function report(id: number, pictures: PictureOnPage[], elements: readonly Element[], cells: boolean): void {
  const { scrollWidth: width, scrollHeight: height } = document.documentElement;
  reported = cells ? withCells(elements) : [...elements];
  const blocks = reported.map((e) => {
    const cell = cells ? e.parentElement!.closest('td, th') : null;
    const words = wordsOf(e).slice(0, MOST_CHARS);
    return { ...absolute(e), words, cell: cell && absolute(cell), ...(e.matches(CLOSED) && { closed: true as const }) };
  });
  tell({ id, pictures, pages: pages.map(absolute), blocks, width, height } satisfies Laid);
}

/** Letters without spaces, as the places among them are counted. */
const lettersIn = (text: string): number => [...text.replace(/\s/g, '')].length;

/** The place between letters at a point; null where there is no paragraph. */
function caretAt(at: { x: number; y: number }): Caret | null {
  const range = document.caretRangeFromPoint(at.x - window.scrollX, at.y - window.scrollY);
  if (!range) return null;
  const block = reported.findLastIndex((e) => e.contains(range.startContainer));
  const element = reported[block];
  if (!element?.matches('p, h1, h2, h3, h4, h5, h6')) return null;
  const before = document.createRange();
  before.selectNodeContents(element);
  before.setEnd(range.startContainer, range.startOffset);
  const behind = document.createRange();
  behind.selectNodeContents(element);
  behind.setStart(range.startContainer, range.startOffset);
  const seen = range.getClientRects()[0] ?? element.getBoundingClientRect();
  const [left, right] = [before, behind].map((r) => r.toString().replace(/\s+/g, ' ').trim()) as [string, string];
  return {
    ...{ x: seen.left + window.scrollX, y: seen.top + window.scrollY, width: 2, height: seen.height },
    ...{ block, letters: lettersIn(left), words: `${lastWords(left)}|${firstWords(right)}` },
  };
}
/** So many letters on both sides tell a place, in whole words. */
const NEAR = 18;
const firstWords = (text: string): string => (text.length <= NEAR ? text : text.slice(0, NEAR).replace(/ [^ ]*$/, ''));
const lastWords = (text: string): string => (text.length <= NEAR ? text : text.slice(-NEAR).replace(/^[^ ]* /, ''));

/** A web page, or a text made into one, in the place of all that is here; nothing in it runs. */
async function show(bytes: ArrayBuffer, id: number): Promise<void> {
  const next = new DOMParser().parseFromString(new TextDecoder().decode(bytes), 'text/html');
  const root = document.documentElement;
  for (const { name } of [...root.attributes]) root.removeAttribute(name);
  for (const { name, value } of [...next.documentElement.attributes]) root.setAttribute(name, value);
  root.replaceChildren(...[...next.documentElement.childNodes].map((n) => document.adoptNode(n)));
  await Promise.all([...document.images].map((i) => i.decode().catch(() => undefined)));
  const sections = [...document.querySelectorAll<HTMLElement>('body > section[data-page]')];
  pages = sections.length > 0 ? sections : [document.body];
  measure(id);
  // What is as high as the window grows with it, once.
  window.addEventListener('resize', () => measure(id), { once: true });
}

/** The box of a picture without border and padding, before it is turned: turning leaves its middle where it is. */
function ownBox(e: HTMLElement): Spot {
  const seen = absolute(e);
  const style = getComputedStyle(e);
  const of = (name: string): number => parseFloat(style.getPropertyValue(name)) || 0;
  const [left, right, top, bottom] = ['left', 'right', 'top', 'bottom'].map(
    (side) => of(`border-${side}-width`) + of(`padding-${side}`),
  ) as [number, number, number, number];
  const turned = style.transform !== 'none' || style.rotate !== 'none';
  const [outerWidth, outerHeight] = turned ? [e.offsetWidth, e.offsetHeight] : [seen.width, seen.height];
  return {
    x: seen.x + (seen.width - outerWidth) / 2 + left,
    y: seen.y + (seen.height - outerHeight) / 2 + top,
    width: outerWidth - left - right,
    height: outerHeight - top - bottom,
  };
}

function measure(id: number): void {
  const pictures = [...document.querySelectorAll('[data-picture]')].map((e): PictureOnPage => {
    const box = ownBox(e as HTMLElement);
    const around = e.parentElement?.closest('p, [data-paragraph]') ?? null;
    const p = around ? absolute(around) : box;
    return { n: Number(e.getAttribute('data-picture')), ...box, inParagraph: { x: box.x - p.x, y: box.y - p.y } };
  });
  const texts = [...document.querySelectorAll('section[data-page] > main > *')];
  const isWeb = pages[0] === document.body;
  report(id, pictures, isWeb ? blocksIn(document.body) : texts, !isWeb);
}

/** Parts of pages as pictures; what is hidden in them stays hidden, and nothing is fetched for them. */
async function shoot({ id, shoot: parts, ratio }: Extract<Asked, { shoot: unknown }>): Promise<void> {
  const shots: string[] = [];
  for (const { page, top, height } of parts) {
    const node = pages[page];
    if (!node) throw new Error(`no page ${page}`);
    const width = node.getBoundingClientRect().width;
    shots.push(
      await toPng(node, {
        width,
        height,
        pixelRatio: ratio,
        skipFonts: true,
        backgroundColor: ground(node),
        style: { margin: '0', boxShadow: 'none', transform: `translateY(${-top}px)` },
      }),
    );
  }
  tell({ id, shots } satisfies Shown);
}

/** The colour behind a page: its own, or that of what it stands in (CSS Backgrounds 3 §2.11.2). */
function ground(node: HTMLElement): string {
  for (let e: Element | null = node; e; e = e.parentElement) {
    const { backgroundColor } = getComputedStyle(e);
    if (!/^(transparent|rgba\(.*, 0\))$/.test(backgroundColor)) return backgroundColor;
  }
  return '#ffffff';
}

const isZip = (bytes: ArrayBuffer): boolean => new DataView(bytes).getUint16(0) === 0x504b;

let busy: Promise<void> = Promise.resolve();
window.addEventListener('message', ({ data, source }: MessageEvent<Asked>) => {
  if (source !== window.parent) return;
  const todo = (): Promise<void> => {
    if ('shoot' in data) return shoot(data);
    if ('caret' in data) return Promise.resolve(tell({ id: data.id, caret: caretAt(data.caret) }));
    return (data.bytes.byteLength > 2 && isZip(data.bytes) ? layOut : show)(data.bytes, data.id);
  };
  // One at a time: two layouts would be put into the same page.
  busy = busy.then(todo).catch((error: unknown) => tell({ id: data.id, failed: String(error) }));
});
tell({ ready: true });
