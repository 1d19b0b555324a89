/**
 * The pages of a text or of the web, laid out inside a frame that has no rights at all: no origin, no network, no storage. It gets
 * HTML, lays it out, and tells where its pictures lie: each is a hidden box that bears its number.
 */
import { toPng } from 'html-to-image';
import { forgetShown, lackingNumbers, leave, showGiven, shownNumbers } from './given';
import { forget, paginate, paragraphOf } from './paginate';
import { showPlates } from './plates';
import type {
  Asked,
  Boxes,
  Caret,
  FontData,
  Given,
  ItemOnPage,
  Laid,
  PageSpot,
  PictureOnPage,
  Shown,
  Spot,
} from './told';

/** The fonts that ship with Gable; they are there for every text. */
const fonts = document.getElementById('fonts')!;
const tell = (message: object): void => window.parent.postMessage({ page: true, ...message }, '*');

const absolute = (e: Element): Spot => {
  const b = e.getBoundingClientRect();
  return { x: b.left + window.scrollX, y: b.top + window.scrollY, width: b.width, height: b.height };
};

const pageSpot = (e: HTMLElement): PageSpot => {
  const { columns } = e.dataset;
  return { ...absolute(e), ...(columns && { columns: JSON.parse(columns) as Spot[] }) };
};

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
const wordsOf = (e: Element): string =>
  e.matches('[data-paragraph]')
    ? textAround(e, e, e.childNodes.length)[0]
    : ((e as HTMLElement).innerText ?? e.textContent ?? '');

/** The blocks that were reported last, by their numbers. */
let reported: Element[] = [];

/** They hold no pictures but in their parts (HTML §4.4, §4.9). */
const CLOSED = 'hr, table, ul, ol, dl, pre, [data-closed]';

/** What is told of a layout beside its pictures. */
interface Reported {
  elements: readonly Element[];
  /** Do places in cells count? */
  cells: boolean;
  /** There are more pages to come. */
  more?: boolean;
  /** What stands round pictures. */
  items?: ItemOnPage[];
}

function report(id: number, pictures: PictureOnPage[], reporting: Reported): void {
  const { elements, cells, more = false, items } = reporting;
  const { scrollWidth: width, scrollHeight: height } = document.documentElement;
  reported = [...elements];
  const blocks = reported.map((e) => {
    const cell = cells ? (e.parentElement?.closest('td, th, [data-box]') ?? null) : null;
    const words = wordsOf(e).slice(0, MOST_CHARS);
    return {
      ...absolute(e),
      words,
      cell: cell && absolute(cell),
      ...(e.matches(CLOSED) && { closed: true as const }),
      ...(e.matches('[data-goes-on]') && { goesOn: true as const }),
    };
  });
  const approximate = JSON.parse(document.body.dataset['approximate'] ?? '[]') as string[];
  tell({
    ...{ id, pictures, pages: pages.map(pageSpot), blocks, width, height, approximate, more },
    ...{ shown: shownNumbers(), lacking: lackingNumbers() },
    oneSided: 'oneSided' in document.body.dataset,
    ...(items && { items }),
  } satisfies Laid);
}

/** What the layout has said, and not the text: numbers of lists, signs of notes. */
const ADDED = '.marker, .reference, .sign';

/** The text of a block without what the layout has added, up to a place in it and behind that. */
function textAround(block: Element, node: Node, offset: number): [before: string, behind: string] {
  let [before, behind] = ['', ''];
  const range = document.createRange();
  range.setStart(node, offset);
  const walker = document.createTreeWalker(block, NodeFilter.SHOW_TEXT);
  for (let text = walker.nextNode(); text; text = walker.nextNode()) {
    const value = text.nodeValue ?? '';
    if (text.parentElement!.closest(ADDED)) continue;
    const at = text === node ? offset : range.comparePoint(text, 0) < 0 ? value.length : 0;
    before += value.slice(0, at);
    behind += value.slice(at);
  }
  return [before, behind];
}

/** Letters without spaces, as the places among them are counted. */
const lettersIn = (text: string): number => [...text.replace(/\s/g, '')].length;

/** A point in the window, in the nearest line of words where it lies beside all of them: browsers differ in what they find there. */
function amongWords(point: { x: number; y: number }): { x: number; y: number } {
  const hit = document.elementFromPoint(point.x, point.y);
  if (hit?.closest('[data-block], [data-paragraph]')) return point;
  const far = (b: DOMRect): number => {
    const [dx, dy] = [
      Math.max(b.left - point.x, 0, point.x - b.right),
      Math.max(b.top - point.y, 0, point.y - b.bottom),
    ];
    return Math.hypot(dx, dy);
  };
  const boxes = [...document.querySelectorAll('[data-paragraph]')]
    .map((e) => e.getBoundingClientRect())
    .filter((b) => b.width > 2 && b.height > 2);
  if (boxes.length === 0) return point;
  const near = boxes.reduce((a, b) => (far(b) < far(a) ? b : a));
  const within = (v: number, least: number, most: number): number => Math.min(most - 1, Math.max(least + 1, v));
  return { x: within(point.x, near.left, near.right), y: within(point.y, near.top, near.bottom) };
}

/** The place between letters at a point; null where there is no paragraph. */
function caretAt(at: { x: number; y: number }): Caret | null {
  const point = amongWords({ x: at.x - window.scrollX, y: at.y - window.scrollY });
  const range = document.caretRangeFromPoint(point.x, point.y);
  if (!range) return null;
  const { startContainer: node, startOffset: offset } = range;
  const holder = (node instanceof Element ? node : node.parentElement)?.closest<HTMLElement>('[data-block]');
  const block = holder ? Number(holder.dataset['block']) : reported.findLastIndex((e) => e.contains(node));
  const element = holder ?? reported[block];
  if (!element?.matches('p, h1, h2, h3, h4, h5, h6, [data-paragraph]:not([data-closed])')) return null;
  const [before, behind] = textAround(element, node, offset);
  // A paragraph may go on from other pages.
  const parts = holder ? [...document.querySelectorAll(`[data-block="${block}"]`)] : [];
  const earlier = parts
    .slice(0, parts.indexOf(element))
    .map((part) => textAround(part, part, part.childNodes.length)[0]);
  const seen = range.getClientRects()[0] ?? element.getBoundingClientRect();
  const [left, right] = [before, behind].map((text) => text.replace(/\s+/g, ' ').trim()) as [string, string];
  return {
    ...{ x: seen.left + window.scrollX, y: seen.top + window.scrollY, width: 2, height: seen.height },
    ...{ block, letters: lettersIn(earlier.join('') + before), words: `${lastWords(left)}|${firstWords(right)}` },
  };
}
/** So many letters on both sides tell a place, in whole words. */
const NEAR = 18;
const firstWords = (text: string): string => (text.length <= NEAR ? text : text.slice(0, NEAR).replace(/ [^ ]*$/, ''));
const lastWords = (text: string): string => (text.length <= NEAR ? text : text.slice(-NEAR).replace(/^[^ ]* /, ''));

/** A frame that was just put into its document may have no size yet: everything in it would be told at 0. */
async function isSeen(): Promise<void> {
  for (let i = 0; document.documentElement.getBoundingClientRect().width === 0 && i < 200; i++) await soon();
}
const soon = (): Promise<void> => new Promise((done) => setTimeout(done, 5));

/** HTML in the place of all that is here; nothing in it runs. */
async function show({ bytes, id, given = [] }: Extract<Asked, { bytes: unknown }>): Promise<void> {
  const text = new TextDecoder().decode(bytes);
  await isSeen();
  forgetShown();
  if (!/<body[^>]* data-flow/.test(text)) return showWeb(text, id, given);
  const next = new DOMParser().parseFromString(text, 'text/html');
  const flow = [...next.body.childNodes];
  for (const part of flow) part.remove();
  const root = document.documentElement;
  for (const { name } of [...root.attributes]) root.removeAttribute(name);
  for (const { name, value } of [...next.documentElement.attributes]) root.setAttribute(name, value);
  root.replaceChildren(...[...next.documentElement.childNodes].map((n) => document.adoptNode(n)));
  await layOut(flow, id, given);
}

/** A web page, written as browsers read it: whether it says what it is written in decides how it is laid out. */
async function showWeb(text: string, id: number, given: readonly Given[]): Promise<void> {
  document.open();
  document.write(text);
  document.close();
  // Written anew, nobody listens any more.
  listen();
  // What was seen before is seen again at once.
  const seen = showGiven(given);
  pages = [document.body];
  await Promise.all([
    seen,
    document.fonts.ready,
    ...[...document.images].map((i) => i.decode().catch(() => undefined)),
  ]);
  hideTyped();
  measure(id);
  // It is shown in a window as high as all of it.
  window.addEventListener('resize', () => measure(id), { once: true });
}

/** The colour behind the pages of a text. */
let paper = '#ffffff';
const showPaper = (): void => document.documentElement.style.setProperty('--paper', paper);

/** So long at a time, and then what is there is told, in milliseconds. */
const AT_ONCE = 400;

/** A text on its pages. */
async function layOut(flow: readonly Node[], id: number, given: readonly Given[]): Promise<void> {
  forget();
  showPaper();
  document.head.append(fonts);
  const source = document.createElement('div');
  source.append(...flow.map((part) => document.adoptNode(part)));
  await fontsFor(source);
  let begun = performance.now();
  const told = (made: readonly HTMLElement[], more: boolean): void => {
    pages = [...made];
    measure(id, more);
  };
  const { pages: made, oneSided } = await paginate(source, document.body, (ready) => {
    // The page that is being filled is not told yet.
    if (performance.now() - begun < AT_ONCE || ready.length < 2) return undefined;
    told(ready.slice(0, -1), true);
    return new Promise((resolve) =>
      setTimeout(() => {
        begun = performance.now();
        resolve();
      }),
    );
  });
  if (oneSided) document.body.dataset['oneSided'] = '';
  await showGiven(given);
  told(made, false);
}

/** The fonts that a text is set in are there before it is measured. */
async function fontsFor(source: HTMLElement): Promise<void> {
  const faces = new Set<string>();
  for (const e of [source, ...source.querySelectorAll<HTMLElement>('[style*="font-family"]')]) {
    const { fontFamily, fontWeight, fontStyle } = e.style;
    if (fontFamily) faces.add(`${fontStyle || 'normal'} ${fontWeight || '400'} 12px ${fontFamily}`);
  }
  const text = (source.textContent ?? '').slice(0, MOST_LETTERS);
  await Promise.all([...faces].map((face) => document.fonts.load(face, text || 'a').catch(() => [])));
}
/** Letters of a text that are looked at for the fonts they need. */
const MOST_LETTERS = 20_000;

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

/** How far the content of an element reaches from side to side: of words on a line, of what these stand in. */
function columnOf(e: HTMLElement): { left: number; right: number } {
  const style = getComputedStyle(e);
  if (e.parentElement && /^(inline|contents)/.test(style.display)) return columnOf(e.parentElement);
  const { left, right } = e.getBoundingClientRect();
  const of = (name: string): number => parseFloat(style.getPropertyValue(name)) || 0;
  return {
    left: left + window.scrollX + of('border-left-width') + of('padding-left'),
    right: right + window.scrollX - of('border-right-width') - of('padding-right'),
  };
}

/** What stands round pictures of a web page, or is a shape of a text, before it is turned; of one on several pages the first. */
const itemsNamed = (by: 'added' | 'own'): ItemOnPage[] => {
  const first = new Map<string, HTMLElement>();
  for (const e of document.querySelectorAll<HTMLElement>(`[data-${by}]`))
    if (!first.has(e.dataset[by]!)) first.set(e.dataset[by]!, e);
  return [...first].map(([id, e]) => {
    const { x, y, width, height } = absolute(e);
    const [own, tall] = [e.offsetWidth, e.offsetHeight];
    return { id, x: x + (width - own) / 2, y: y + (height - tall) / 2, width: own, height: tall };
  });
};

/** Words that a web page has itself, as far as they are seen. */
function ownOnWeb(): ItemOnPage[] {
  const pictures = [...document.querySelectorAll('[data-picture]')].map(absolute);
  return itemsNamed('own').flatMap((item) => {
    if (item.width <= 0 || item.height <= 0) return [];
    const overPicture = pictures.some(
      (p) =>
        p.x < item.x + item.width && item.x < p.x + p.width && p.y < item.y + item.height && item.y < p.y + p.height,
    );
    const e = document.querySelector<HTMLElement>(`[data-own="${item.id}"]`)!;
    const colour = overPicture ? null : plainGround(e);
    return { ...item, ...(colour !== null && { ground: colour }) };
  });
}

/** The colour behind an element; null where that is no one colour. */
function plainGround(e: HTMLElement): string | null {
  for (let p: Element | null = e.parentElement; p; p = p.parentElement) {
    const { backgroundColor, backgroundImage } = getComputedStyle(p);
    if (backgroundImage !== 'none') return null;
    if (/^rgb\(/.test(backgroundColor)) return backgroundColor;
    if (!SEEN_THROUGH.test(backgroundColor)) return null;
  }
  return '#ffffff';
}

/** What words are typed in a field over the page is not seen in it. */
let typed: string | null = null;
function hideTyped(): void {
  for (const e of document.querySelectorAll<HTMLElement>('[data-added]'))
    e.style.setProperty('filter', e.dataset['added'] === typed ? 'opacity(0)' : '');
}

/** Shapes of a text that were moved are seen where they will be, until the pages are laid out anew. */
function showMoved(moved: Readonly<Record<string, { x: number; y: number }>>): void {
  for (const e of document.querySelectorAll<HTMLElement>('[data-own]')) {
    const by = moved[e.dataset['own']!];
    (e.closest<HTMLElement>('[data-float]') ?? e).style.translate = by ? `${by.x}px ${by.y}px` : '';
  }
}

function measure(id: number, more = false): void {
  const isWeb = pages[0] === document.body;
  const pictures = [...document.querySelectorAll('[data-picture]')].map((e): PictureOnPage => {
    const box = ownBox(e as HTMLElement);
    const around = paragraphOf(e) ?? e.parentElement?.closest('p') ?? null;
    const p = around ? absolute(around) : box;
    const own = isWeb ? undefined : e.closest<HTMLElement>('[data-own]')?.dataset['own'];
    const on = isWeb ? (e.closest<HTMLElement>('[data-gable-section], [data-gable-set]') ?? e).parentElement : null;
    return {
      ...{ n: Number(e.getAttribute('data-picture')), ...box, inParagraph: { x: box.x - p.x, y: box.y - p.y } },
      ...(own !== undefined && { own }),
      ...(on && { ground: ground(on), font: getComputedStyle(on).fontFamily, column: columnOf(on) }),
    };
  });
  if (isWeb) {
    showPlates();
    const items = [...itemsNamed('added'), ...ownOnWeb()];
    return report(id, pictures, { elements: blocksIn(document.body), cells: false, items });
  }
  report(id, pictures, { elements: numberedBlocks(), cells: true, more, items: itemsNamed('own') });
}

/** Blocks that bear their numbers: of one that goes on on other pages its end. */
function numberedBlocks(): Element[] {
  const out: Element[] = [];
  for (const e of document.querySelectorAll<HTMLElement>('[data-block]')) out[Number(e.dataset['block'])] = e;
  // One that is not laid out stands where the one before it does.
  for (let i = 0; i < out.length; i++) out[i] ??= out[i - 1] ?? document.body;
  return out;
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

const SEEN_THROUGH = /^(transparent|rgba\(.*, 0\))$/;

/** The colour behind a page: its own, or that of what it stands in (CSS Backgrounds 3 §2.11.2). */
function ground(node: HTMLElement): string {
  for (let e: Element | null = node; e; e = e.parentElement) {
    const { backgroundColor } = getComputedStyle(e);
    if (!SEEN_THROUGH.test(backgroundColor)) return backgroundColor;
  }
  return '#ffffff';
}

/** Fonts that came as data; one that cannot be used is stood in for. */
async function bring(given: readonly FontData[]): Promise<void> {
  const faces = given.map(({ family, weight, italic, bytes }) => {
    const face = new FontFace(family, bytes, { weight: String(weight), style: italic ? 'italic' : 'normal' });
    document.fonts.add(face);
    return face;
  });
  await Promise.allSettled(faces.map((face) => face.load()));
}

/** Is given a width from outside, which comes when it comes. */
const widened = async (width: number): Promise<void> => {
  for (let i = 0; window.innerWidth !== width && i < 200; i++) await soon();
};

/** How large pictures are once the window is so wide; what is in them, their outlines do not count. */
async function tellBoxes({ id, window: width }: Extract<Asked, { window: unknown }>): Promise<void> {
  document.documentElement.style.overflow = 'hidden';
  await widened(width);
  const boxes = [...document.querySelectorAll<HTMLElement>('[data-picture]')].map((e) => {
    const own = ownBox(e);
    return { n: Number(e.dataset['picture']), top: own.y, width: own.width, height: own.height };
  });
  tell({ id, boxes } satisfies Boxes);
}

let busy: Promise<void> = Promise.resolve();
function hear({ data, source }: MessageEvent<Asked>): void {
  if (source !== window.parent) return;
  const todo = async (): Promise<void> => {
    if ('shoot' in data) return shoot(data);
    if ('window' in data) return tellBoxes(data);
    if ('measure' in data) {
      await widened(data.measure);
      return measure(data.id);
    }
    if ('caret' in data) return tell({ id: data.id, caret: caretAt(data.caret) });
    if ('left' in data) return leave(data.left);
    if ('fonts' in data) return bring(data.fonts);
    if ('typed' in data) {
      typed = data.typed;
      return hideTyped();
    }
    if ('moved' in data) return showMoved(data.moved);
    if ('paper' in data) {
      paper = data.paper;
      return showPaper();
    }
    if ('bytes' in data) return show(data);
    await showGiven(data.given);
    // The data of a web page's picture may give it another size; what is painted has its own.
    if (pages[0] === document.body) measure(data.id);
    else tell({ id: data.id, shown: shownNumbers() });
  };
  // One at a time: two layouts would be put into the same page.
  busy = busy.then(todo).catch((error: unknown) => tell({ id: data.id, failed: String(error) }));
}
const listen = (): void => window.addEventListener('message', hear);
listen();
tell({ ready: true });
