import { equal, frameToCss, shapeOf, trimNumber, type Frame, type Size, type Within } from '@gable/core';
import type { DefaultTreeAdapterTypes } from 'parse5';
import { binaryText, readDataUrl, writeDataUrl } from '../codec/data-url';
import { decodeWithDigest, encodeWithDigest } from '../metadata/digest';
import { describeAddress, MediaParts } from '../codec/media';
import { refuseBeyond, refuseTooLarge, refuseTooMany } from '../codec/limits';
import { unsupportedIn, onlyAlt, refuseUnsupported } from '../codec/capabilities';
import {
  noData,
  noPicture,
  shorten,
  replacementOf,
  type OpenedFile,
  type OpenedPicture,
  type ReplacementImage,
} from '../codec/contract';
import { applyEdits, type Edit } from '../xml/splice';
import { readEntry, type Archive, type Entry } from '../zip/reader';
import { spliceArchive } from '../zip/writer';
import { pageMarkup } from './page';
import { holds } from '../css/media-queries';
import type { Around } from './box';
import { writtenFluid, writtenPlace, type Place } from './place';
import { altOf, looksOf, readImage, type Image } from './read-image';
import { siblingRules } from './siblings';
import { rulesOf } from '../css/rules';
import { Cascade, HTML_ADAPTER } from './cascade';
import { attributesOf, parentTag, parsePage, type Node, type Tag } from './tree';

/** A page, and what stands beside it. */
interface Page {
  name: string;
  text: string;
  /** Bytes of the page's text: what was not UTF-8 is kept byte by byte. */
  encode(text: string): Uint8Array;
  tree: DefaultTreeAdapterTypes.Document;
  /** Rules that we wrote, by the name of their frame. */
  rules: ReadonlyMap<string, Tag>;
  /** Where its head ends; null without one that is written out. */
  headEnd: number | null;
  /** Rules of its style sheets that look from one element to another behind it. */
  siblings(): readonly ReturnType<typeof siblingRules>[number][];
}

interface Found {
  page: Page;
  image: Tag;
  attributes: Readonly<Record<string, string>>;
  /** Are its pixels known? */
  known: boolean;
  /** What the frame goes round: the image, or the `<picture>` it stands in; or what we put round it before. */
  outer: Tag;
  ours: { name: string; style: Tag | null } | null;
  frame: Frame;
  size: Size;
  src: string;
  entry: Entry | undefined;
  data: Uint8Array | null;
  /** Which of the page's `filter` and `opacity` its tone says. */
  recoloured: readonly string[];
  /** Where it stands among what is round it. */
  place: Place;
}

const MARK = 'data-gable';
/** What lies beside a page is read up to this size, in bytes. */
const MOST_BESIDE = 4 * 1024 * 1024;

/** Is this a web page? It begins like one. */
export function isHtml(bytes: Uint8Array): boolean {
  const head = new TextDecoder().decode(bytes.subarray(0, 2048)).replace(/^\uFEFF/, '');
  return /^\s*(<\?xml[^>]*>\s*)?(<!--[\s\S]*?-->\s*)*<(!doctype\s+html|html|head|body|meta|title)\b/i.test(head);
}

/** The pages of a zipped site, by name; empty when there is none. */
export const pagesOf = (archive: Archive): Entry[] =>
  archive.entries.filter((e) => /\.(html?|xhtml)$/i.test(e.name) && !/(^|\/)(__MACOSX|\.)/.test(e.name));

/** Opens one page. What it links to is never fetched. @throws GableError `too-large`, `too-many-pictures` */
export function openHtml(file: Uint8Array): OpenedFile {
  refuseTooLarge(file);
  const bytes = new Uint8Array(file.buffer, file.byteOffset, file.byteLength);
  return opened('html', [pageFrom('page', bytes)], null, (changed) => changed.get('page') ?? bytes);
}

/** Opens all pages of a zipped folder, with the pictures and style sheets in it. @throws GableError `no-pages`, … */
export function openSite(archive: Archive): OpenedFile {
  const pages = pagesOf(archive).map((e) => pageFrom(e.name, readEntry(archive, e)));
  return opened('site', pages, archive, (changed, added) => spliceArchive(archive, changed, added));
}

function pageFrom(name: string, bytes: Uint8Array): Page {
  let text: string;
  let encode = (t: string): Uint8Array => new TextEncoder().encode(t);
  try {
    text = new TextDecoder('utf-8', { ignoreBOM: true, fatal: true }).decode(bytes);
  } catch {
    // Some older encoding: a character for each byte, so that every byte comes back. What we add is plain ASCII.
    text = binaryText(bytes);
    encode = (t) => Uint8Array.from(t, (c) => c.charCodeAt(0));
  }
  const tree = parsePage(text);
  const rules = new Map<string, Tag>();
  for (const e of elements(tree, 'style')) {
    const mark = attributesOf(e)[MARK];
    if (mark !== undefined && !rules.has(mark)) rules.set(mark, e);
  }
  const headEnd = elements(tree, 'head')[0]?.sourceCodeLocation?.endTag?.startOffset ?? null;
  return { name, text, encode, tree, rules, headEnd, siblings: () => [] };
}

/** An image with what is said of it and of the elements round it; what we put round it counts as not there. */
function standing(image: Tag, cascade: Cascade): Image {
  const outer = imageOrPicture(image);
  const around: Around[] = [];
  for (let e = parentTag(outer); e && around.length < 50; e = parentTag(e))
    if (!(MARK in attributesOf(e))) around.push({ style: cascade.styleOf(e), ...placeAmong(e) });
  return { attributes: attributesOf(image), style: cascade.styleOf(image), ...placeAmong(outer), around };
}

/** Elements in each parent that was asked for. */
const places = new WeakMap<object, ReadonlyMap<Node, number>>();

/** Which of its parent's elements an element is, and how many there are. */
function placeAmong(e: Tag): { index: number; count: number } {
  const parent = e.parentNode;
  if (!parent) return { index: 0, count: 1 };
  const known =
    places.get(parent) ??
    new Map(
      parent.childNodes
        .filter((c) => 'tagName' in c && !/^(script|style|template)$/.test(c.tagName))
        .map((c, i) => [c, i]),
    );
  places.set(parent, known);
  return { index: known.get(e) ?? 0, count: Math.max(1, known.size) };
}

/** Elements of a name in document order; templates and what stands in for scripts are not on the page. */
function elements(node: Node, name: string): Tag[] {
  const out: Tag[] = [];
  const stack: Node[] = [node];
  while (stack.length > 0) {
    const at = stack.pop()!;
    if ('tagName' in at) {
      if (at.tagName === name) out.push(at);
      if (at.tagName === 'noscript' || at.tagName === 'template') continue;
    }
    if ('childNodes' in at) for (let i = at.childNodes.length - 1; i >= 0; i--) stack.push(at.childNodes[i]!);
  }
  return out;
}

/** Words of elements that were asked for: many images may stand in one. */
const words = new WeakMap<Tag, string>();

function wordsOf(e: Tag): string {
  const known = words.get(e);
  if (known !== undefined) return known;
  const text = /^(script|style|svg)$/.test(e.tagName)
    ? ''
    : e.childNodes.map((c) => ('value' in c ? c.value : 'tagName' in c ? wordsOf(c) : '')).join(' ');
  const own = text.replace(/\s+/g, ' ').trim();
  words.set(e, own);
  return own;
}

/** Words beside an image: of the nearest element round it that has any. */
function near(image: Tag): string {
  for (let e = parentTag(image); e && e.tagName !== 'body'; e = parentTag(e)) {
    const text = wordsOf(e);
    if (text !== '') return shorten(text);
  }
  return '';
}

/** A relative address as the name of an entry beside the page; null for one that leads elsewhere. */
function entryName(page: string, address: string): string | null {
  if (/^[a-z][a-z0-9+.-]*:|^\/\//i.test(address)) return null;
  const path = address.replace(/[?#].*$/, '');
  const folder = path.startsWith('/') ? '' : page.slice(0, page.lastIndexOf('/') + 1);
  const out: string[] = [];
  let decoded = path;
  try {
    decoded = decodeURIComponent(path);
  } catch {
    // Not an encoded name: taken as it is.
  }
  for (const part of `${folder}${decoded}`.split('/')) {
    if (part === '..') {
      if (out.pop() === undefined) return null;
    } else if (part !== '' && part !== '.') out.push(part);
  }
  return out.join('/');
}

function opened(
  format: 'html' | 'site',
  pages: readonly Page[],
  archive: Archive | null,
  write: (changed: Map<string, Uint8Array>, added: Map<string, Uint8Array>) => Uint8Array,
): OpenedFile {
  const entries = new Map((archive?.entries ?? []).map((e) => [e.name, e]));
  const media = archive && new MediaParts(archive);
  const images = pages.flatMap((page) => elements(page.tree, 'img').map((image) => ({ page, image })));
  refuseTooMany(images.length);
  const cascades = new Map(
    pages.map((p) => {
      const sheets = sheetsOf(p, archive, entries);
      const rules = sheets.flatMap((sheet) => rulesOf(sheet, HTML_ADAPTER));
      refuseBeyond('rules', rules.length);
      let siblings: ReturnType<typeof siblingRules> | null = null;
      p.siblings = () => (siblings ??= siblingRules(sheets));
      return [p, new Cascade(rules)];
    }),
  );
  const found: Found[] = [];
  const pictures = images.map(({ page, image }, i): OpenedPicture => {
    const n = i + 1;
    const attributes = attributesOf(image);
    const src = attributes['src'] ?? '';
    const data = readDataUrl(src);
    const name = data ? null : entryName(page.name, src);
    const entry = name === null ? undefined : entries.get(name);
    const { media: about, problem } = entry && media ? media.describe(entry) : describeAddress(src, data);
    const known = about?.pixels ?? null;
    const stored = known ?? sized(attributes) ?? { width: 300, height: 150 };
    const frameOurs = ownWrap(page, image);
    const read = frameOurs && decodeWithDigest(frameOurs.extras, frameOurs.markup, n);
    const cascade = cascades.get(page)!;
    const style = cascade.styleOf(image);
    const outer = frameOurs ? frameOurs.outer : imageOrPicture(image);
    const ours = frameOurs ? { name: frameOurs.name, style: frameOurs.style } : null;
    // Selectors that led to the image may lead past it since: where it stood is what was written then.
    const written = ours?.style ? writtenPlace(wordsOfStyle(ours.style), ours.name) : null;
    const said = read && written ? null : readImage(standing(image, cascade), n, stored);
    const frame = read ? { ...read, alt: altOf(attributes) } : said!.frame;
    const place = written ?? said!.place;
    const recoloured = said?.recoloured ?? looksOf(style).read;
    found.push({
      ...{ page, image, attributes, outer, ours, frame, size: stored, known: known !== null, src, entry, data },
      ...{ recoloured, place },
    });
    return {
      n,
      where: {
        part: archive ? page.name : '',
        place: 'page',
        table: tagAbove(image, 'td') || tagAbove(image, 'th'),
        textBox: false,
        group: false,
        page: pages.indexOf(page) + 1,
        near: near(image),
      },
      freeable: false,
      frame,
      size: stored,
      media: about,
      problem,
    };
  });

  return {
    format,
    signed: false,
    pages: Math.max(1, pages.length),
    sheets: [],
    pictures,
    unsupported(frame) {
      const f = found[frame.n - 1] ?? noPicture(frame.n, found.length);
      return unsupportedIn(format, f.frame, frame);
    },
    save(frames, swaps = new Map()) {
      const added = new Map<string, Uint8Array>();
      const edits = new Map<Page, Edit[]>();
      const taken = new Map(pages.map((p) => [p, new Set<string>()]));
      for (const next of frames) {
        const f = found[next.n - 1] ?? noPicture(next.n, found.length);
        const swap = replacementOf(next, swaps);
        if (!swap && equal(f.frame, next)) continue;
        refuseUnsupported(next.n, unsupportedIn(format, f.frame, next));
        const list = edits.get(f.page) ?? [];
        edits.set(f.page, list);
        list.push(...framed(f, next, swap, taken.get(f.page)!, (s) => store(s, f.page, entries, added, format)));
      }
      const changed = new Map<string, Uint8Array>();
      for (const [page, list] of edits) changed.set(page.name, page.encode(applyEdits(page.text, list)));
      return write(changed, added);
    },
    markup(number) {
      const page = pages[number - 1];
      if (!page) return null;
      const on = found.flatMap((f, i) =>
        f.page === page ? [{ n: i + 1, image: f.image, outer: f.ours ? f.outer : f.image, size: f.size }] : [],
      );
      return pageMarkup(page.text, page.tree, on, (address) => besideOf(page, address, archive, entries));
    },
    pictureBytes(n) {
      const f = found[n - 1] ?? noPicture(n, found.length);
      if (f.data) return f.data;
      return f.entry && archive ? readEntry(archive, f.entry) : noData(pictures[n - 1]!);
    },
  };
}

function tagAbove(e: Tag, name: string): boolean {
  for (let p = parentTag(e); p; p = parentTag(p)) if (p.tagName === name) return true;
  return false;
}

/** What lies beside a page in its folder; null for what does not, is too large or damaged. */
function besideOf(
  page: Page,
  address: string,
  archive: Archive | null,
  entries: ReadonlyMap<string, Entry>,
): Uint8Array | null {
  const entry = entries.get(entryName(page.name, address) ?? '');
  if (!archive || !entry || entry.size > MOST_BESIDE) return null;
  try {
    return readEntry(archive, entry);
  } catch {
    return null;
  }
}

/** Style sheets in the page, and those beside it in the folder, in their order. */
function sheetsOf(page: Page, archive: Archive | null, entries: ReadonlyMap<string, Entry>): string[] {
  const place = (e: Tag): number => e.sourceCodeLocation?.startOffset ?? 0;
  const all = [...elements(page.tree, 'link'), ...elements(page.tree, 'style')].sort((a, b) => place(a) - place(b));
  return all.flatMap((e) => {
    const a = attributesOf(e);
    if (MARK in a || !holds(a['media'])) return [];
    if (e.tagName === 'style') return [wordsOfStyle(e)];
    const rel = (a['rel'] ?? '').toLowerCase().split(/\s+/);
    if (!rel.includes('stylesheet') || rel.includes('alternate') || 'disabled' in a) return [];
    // A damaged style sheet leaves its page without those rules.
    const bytes = besideOf(page, a['href'] ?? '', archive, entries);
    return bytes ? [new TextDecoder().decode(bytes)] : [];
  });
}

const wordsOfStyle = (e: Tag): string => e.childNodes.map((c) => ('value' in c ? c.value : '')).join('');

function sized(a: Readonly<Record<string, string>>): Size | null {
  const [width, height] = [Number(a['width']), Number(a['height'])];
  return width > 0 && height > 0 ? { width, height } : null;
}

/** What we put round an image before: its `data-` attribute (HTML §3.2.6.6) says what only we know. */
function ownWrap(
  page: Page,
  image: Tag,
): { outer: Tag; name: string; style: Tag | null; extras: string; markup: string } | null {
  for (let e = parentTag(image); e; e = parentTag(e)) {
    const a = attributesOf(e);
    const extras = a[MARK];
    if (extras === undefined || e.tagName !== 'span') continue;
    const name = a['class'] ?? '';
    const style = page.rules.get(name) ?? null;
    const at = e.sourceCodeLocation;
    if (!at?.startTag || !at.endTag) return null;
    const markup =
      frameMarkup(page.text, at.startTag.endOffset, at.endTag.startOffset, image) + (style ? wordsOfStyle(style) : '');
    return { outer: e, name, style, extras, markup };
  }
  return null;
}

/** What we wrote round the image, without the image itself, which its page may change at will. */
function frameMarkup(text: string, start: number, end: number, image: Tag): string {
  const at = image.sourceCodeLocation;
  return at ? text.slice(start, at.startOffset) + text.slice(at.endOffset, end) : text.slice(start, end);
}

/** Everything beyond ASCII as a reference, so that it means the same in every encoding. */
const ascii = (text: string): string => text.replace(/[\u0080-\u{10ffff}]/gu, (c) => `&#${c.codePointAt(0)};`);
const escapeHtml = (text: string): string =>
  ascii(text.replace(/[&<>"]/g, (c) => `&${{ '&': 'amp', '<': 'lt', '>': 'gt', '"': 'quot' }[c]};`));

/** The changes to a page that frame one image: the rules in its head, and what goes round the image. */
function framed(
  f: Found,
  next: Frame,
  swap: ReplacementImage | undefined,
  taken: Set<string>,
  keep: (s: ReplacementImage) => string,
): Edit[] {
  const { page } = f;
  const at = f.outer.sourceCodeLocation!;
  const own = f.image.sourceCodeLocation!;
  if (!swap && onlyAlt(f.frame, next)) {
    const text = imageTag(page.text.slice(own.startOffset, own.endOffset), f, next, null);
    return [{ start: own.startOffset, end: own.endOffset, text }];
  }
  const inside = f.ours ? imageOrPicture(f.image) : f.outer;
  const from = inside.sourceCodeLocation!;
  let name = f.ours?.name ?? '';
  for (let i = next.n; name === ''; i++)
    if (!page.text.includes(`gable-${i}"`) && !taken.has(`gable-${i}`)) name = `gable-${i}`;
  taken.add(name);
  const src = swap ? keep(swap) : f.src;
  const tag = imageTag(page.text.slice(own.startOffset, own.endOffset), f, next, swap ? src : null);
  const img = page.text.slice(from.startOffset, own.startOffset) + tag + page.text.slice(own.endOffset, from.endOffset);
  const size = swap?.size ?? f.size;
  const mark = '\ue000';
  const { html, css } = frameToCss(next, { src, size }, name, {
    img: mark,
    attributes: ` ${MARK}="${mark}"`,
    recoloured: f.recoloured,
    place: {
      ...f.place.style,
      ...(f.place.item &&
        f.place.sizing.fluid?.most !== null && { 'min-width': `min(${trimNumber(next.box.width, 4)}pt, 100%)` }),
    },
    ownFit: f.place.ownFit && equal(f.frame.placement, next.placement) && equal(f.frame.box, next.box),
    ...sizingOf(f, next),
  });
  const [, , start, end] = /^([\s\S]*?)\ue000([\s\S]*?)\ue000([\s\S]*)$/.exec(html)!.map(ascii) as [
    string,
    string,
    string,
    string,
  ];
  const open = `<span class="${name}" ${MARK}="`;
  // The digest is of what stands round the image, and of the rules.
  const [before, after] = [
    start.slice(2) + page.text.slice(from.startOffset, own.startOffset),
    page.text.slice(own.endOffset, from.endOffset) + end.slice(0, -'</span>'.length),
  ];
  const rules = `\n${[css, ...restated(f, name)].join('\n')}\n`;
  const extras = escapeHtml(encodeWithDigest(next, before + after + rules));
  const edits: Edit[] = [
    { start: at.startOffset, end: at.endOffset, text: `${open}${extras}">${start.slice(2)}${img}${end}` },
  ];
  const sheet = `<style ${MARK}="${name}">${rules}</style>`;
  const old = f.ours?.style?.sourceCodeLocation;
  if (old) edits.push({ start: old.startOffset, end: old.endOffset, text: sheet });
  else edits.push({ ...headOf(page, at.startOffset), text: sheet });
  return edits;
}

/** Rules that look from the image to what stands behind it, for the box that is there now. */
const restated = ({ page, image }: Found, name: string): string[] =>
  page
    .siblings()
    .flatMap((rule) => (rule.from(image) ? ascii(rule.restated(`.${name}`)).replaceAll('<', '\\3c ') : []));

/** How the image sizes its frame: in the page's own terms as far as they still hold for the new box. */
function sizingOf(
  { place, frame, known, attributes }: Found,
  next: Frame,
): Pick<Within, 'fluid' | 'height' | 'natural'> {
  const { fluid, said } = place.sizing;
  const [across, down] = [next.box.width / frame.box.width, next.box.height / frame.box.height];
  const same = Math.abs(across - 1) < 1e-6 && Math.abs(down - 1) < 1e-6;
  // How large a picture is that lies elsewhere only the browser knows.
  if (same && (place.natural || (!known && !('width' in attributes) && !('height' in attributes) && !fluid && !said)))
    return { natural: true };
  const width = fluid && writtenFluid(fluid, across);
  if (said === null) return { fluid: width };
  // A height that was said stays said. A shape with a ratio of its own keeps that, as far as its column lets it.
  const locked = shapeOf(next.shape)?.locked ?? null;
  if (locked !== null && !same) return { fluid: null };
  return { fluid: width, height: Math.abs(down - 1) < 1e-6 ? said : `${trimNumber(next.box.height, 4)}pt` };
}

const imageOrPicture = (image: Tag): Tag => (parentTag(image)?.tagName === 'picture' ? parentTag(image)! : image);

/** Where rules belong: at the end of the page's head; before the image in a page that has none. */
function headOf({ headEnd }: Page, otherwise: number): Pick<Edit, 'start' | 'end'> {
  const at = headEnd ?? otherwise;
  return { start: at, end: at };
}

/** The `<img>` as the page has it, with another text or another address where they changed. */
function imageTag(text: string, f: Found, next: Frame, src: string | null): string {
  const locations = f.image.sourceCodeLocation?.attrs ?? {};
  const base = f.image.sourceCodeLocation!.startOffset;
  const edits: Edit[] = [];
  const put = (name: string, value: string | null): void => {
    const at = locations[name];
    const written = value === null ? '' : `${name}="${escapeHtml(value)}"`;
    if (at) edits.push({ start: at.startOffset - base, end: at.endOffset - base, text: written });
    else if (value !== null) edits.push({ start: 4, end: 4, text: ` ${written}` });
  };
  if (f.frame.alt !== next.alt) put('alt', next.alt);
  if (src !== null) {
    put('src', src);
    put('srcset', null);
  }
  return edits.length === 0 ? text : applyEdits(text, edits);
}

/** Another picture: in a site a file beside the page, in a single page its data. */
function store(
  swap: ReplacementImage,
  page: Page,
  entries: ReadonlyMap<string, Entry>,
  added: Map<string, Uint8Array>,
  format: 'html' | 'site',
): string {
  if (format === 'html') return writeDataUrl(swap.bytes, swap.type);
  const folder = page.name.slice(0, page.name.lastIndexOf('/') + 1);
  for (const [name, bytes] of added)
    if (bytes === swap.bytes && name.startsWith(folder)) return encodeURI(name.slice(folder.length));
  let i = 1;
  while (entries.has(`${folder}gable${i}.${swap.type}`) || added.has(`${folder}gable${i}.${swap.type}`)) i++;
  added.set(`${folder}gable${i}.${swap.type}`, swap.bytes);
  return `gable${i}.${swap.type}`;
}
