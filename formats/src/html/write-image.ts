import { type Frame, frameToCss, positionsThatHold, trimNumber, equal, type Within, shapeOf } from '@gable/core';
import { onlyAlt } from '../codec/capabilities';
import type { AroundPicture, ReplacementImage } from '../codec/contract';
import { writeDataUrl } from '../codec/data-url';
import { encodeWithDigest } from '../metadata/digest';
import { type Edit, applyEdits } from '../xml/splice';
import type { Entry } from '../zip/reader';
import { AS_DECLARED, writtenDeclared } from './declared';
import { wordsOfStyle, imageOrPicture } from './find';
import { type Page, MARK, type Found } from './page-source';
import { standingRound } from './around';
import { imageAlone } from './insert';
import { standsWith, writtenFluid } from './place';
import { GROUND_SIZE, sectionEdits, sectionRound } from './section';
import { elementText, isVideo, type KeepVideo } from './video';
import { ascii, attributesOf, escapeHtml, parentTag, type Tag } from './tree';

/** What we put round an image before: its `data-` attribute (HTML §3.2.6.6) says what only we know. */
export function ownWrap(
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

/** What else comes with a frame. */
interface Framing {
  /** Another picture, and how it is kept. */
  image?: ReplacementImage | undefined;
  keep?: (s: ReplacementImage) => string;
  /** How a video and its captions are kept, and their addresses. */
  keepVideo?: KeepVideo;
  /** Names that are taken on the page. */
  taken: Set<string>;
  /** What stands around it. */
  around?: AroundPicture;
}

/** The changes to a page that frame one image: the rules in its head, and what goes round the image. */
export function framed(f: Found, next: Frame, { image, keep, keepVideo, taken, around }: Framing): Edit[] {
  const { page } = f;
  const at = f.outer.sourceCodeLocation!;
  const own = f.image.sourceCodeLocation!;
  if (!image && !around && onlyAlt(f.frame, next)) {
    const text = imageTag(page.text.slice(own.startOffset, own.endOffset), f, next, { src: null });
    return [{ start: own.startOffset, end: own.endOffset, text }];
  }
  // A video is none of the images that a `<picture>` chooses from.
  const inside = next.video ? f.image : f.ours ? imageOrPicture(f.image) : f.outer;
  const from = inside.sourceCodeLocation!;
  const name = f.ours?.name ?? freeName(page, taken, (i) => `gable-${next.n + i}`);
  taken.add(name);
  const stands = sectionRound(f.outer) !== null;
  const inSection = next.section !== undefined || stands;
  const set =
    around && !inSection
      ? standingRound(
          f,
          next,
          around,
          freeName(page, taken, (i) => `${name}-set${i === 0 ? '' : i}`),
        )
      : null;
  const src = image && keep ? keep(image) : f.src;
  const wish = { src: image ? src : null, keepVideo };
  const tag = imageTag(page.text.slice(own.startOffset, own.endOffset), f, next, wish);
  const img = page.text.slice(from.startOffset, own.startOffset) + tag + page.text.slice(own.endOffset, from.endOffset);
  const size = image?.size ?? f.size;
  const mark = '\ue000';
  const { rules: declared, ...sizing } = inSection
    ? { rules: null, ...GROUND_SIZE }
    : set
      ? { rules: null }
      : (declaredFor(f, next, name) ?? { rules: null, ...sizingOf(f, next) });
  const { html, css } = frameToCss(next, { src, size }, name, {
    img: mark,
    tag: next.video ? 'video' : 'img',
    attributes: ` ${MARK}="${mark}"`,
    recoloured: f.recoloured,
    place: set || inSection ? {} : standsWith(f.place, next, declared !== null),
    ownFit:
      f.place.ownFit &&
      // Where nothing is said, videos lie otherwise in their boxes than the images that they were.
      !f.frame.video &&
      !next.video &&
      !positionsThatHold(next) &&
      equal(f.frame.placement, next.placement) &&
      equal(f.frame.box, next.box),
    ...(set ? withinSet(sizingOf(f, next)) : sizing),
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
  const sized = declared === null ? [] : [AS_DECLARED, ascii(declared)];
  const rules = `\n${[css, ...(set ? [] : restated(f, name)), ...sized].join('\n')}\n`;
  const extras = escapeHtml(encodeWithDigest(next, before + after + rules));
  const markup = `${open}${extras}">${start.slice(2)}${img}${end}`;
  const whole = inSection && !stands ? imageAlone(f.outer) : f.outer;
  const edits: Edit[] = inSection
    ? sectionEdits(f, next, { frame: markup, name, around })
    : [{ start: at.startOffset, end: at.endOffset, text: set ? set.wrap(markup) : markup }];
  const setSheet = set ? `<style>\n${[set.rule, ...restated(f, set.name)].join('\n')}\n</style>` : '';
  const sheet = `<style ${MARK}="${name}">${rules}</style>${setSheet}`;
  const old = f.ours?.style?.sourceCodeLocation;
  if (old) edits.push({ start: old.startOffset, end: old.endOffset, text: sheet });
  else edits.push({ ...headOf(page, whole.sourceCodeLocation!.startOffset), text: sheet });
  return edits;
}

/** A name that is not taken on the page. */
function freeName(page: Page, taken: ReadonlySet<string>, of: (i: number) => string): string {
  let i = 0;
  while (page.text.includes(`${of(i)}"`) || taken.has(of(i))) i++;
  return of(i);
}

/** The same size in what takes its place on the page: all of its width. */
const withinSet = (sizing: ReturnType<typeof sizingOf>): ReturnType<typeof sizingOf> =>
  sizing.fluid ? { ...sizing, fluid: { width: '100%', most: '100%' } } : sizing;

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
  // What covers its own box would be cut there, where a subject reaches over it.
  if (next.overstep) return { fluid: fluid && writtenFluid(fluid, across) };
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

/** The same size in the page's own words, where only these hold in every window; null where a frame has words of its own. */
function declaredFor(
  { page, image, ours, frame, size, known }: Found,
  next: Frame,
  name: string,
): (Pick<Within, 'natural' | 'declared'> & { rules: string | null }) | null {
  const isAsLarge = equal([next.box.width, next.box.height], [frame.box.width, frame.box.height], 1e-6);
  if (!isAsLarge || next.overstep) return null;
  // Where only its width is said, an image has the ratio of its picture; another picture in its place has that, too.
  const asItCame = { ratio: known && next.source ? size : null };
  if (ours) {
    const rules = ours.style ? writtenDeclared(wordsOfStyle(ours.style)) : null;
    return rules === null ? null : { declared: asItCame, rules };
  }
  const declared = page.declared(image);
  if (!declared) return null;
  return declared.hasSides ? { declared: asItCame, rules: declared.rulesFor(name) } : { natural: true, rules: null };
}

/** Where rules belong: at the end of the page's head; before the image in a page that has none. */
function headOf({ headEnd }: Page, otherwise: number): Pick<Edit, 'start' | 'end'> {
  const at = headEnd ?? otherwise;
  return { start: at, end: at };
}

/** The `<img>`, or the video, as the page has it, with another text or another address where they changed. */
function imageTag(
  text: string,
  f: Found,
  next: Frame,
  { src, keepVideo = noVideo }: { src: string | null; keepVideo?: Framing['keepVideo'] },
): string {
  if (isVideo(f.image) || next.video) {
    const { frame, image } = f;
    if (isVideo(image) && src === null && frame.alt === next.alt && equal(frame.video, next.video)) return text;
    const wish = { poster: src ?? f.src, alt: next.alt, was: frame.video, video: next.video, keep: keepVideo };
    return elementText(text, image, wish);
  }
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

const none = (): never => {
  throw new Error('A video came where none can.');
};
const noVideo: KeepVideo = { data: none, captions: none };

/** Another picture: in a site a file beside the page, in a single page its data. */
export function store(
  image: ReplacementImage,
  page: Page,
  entries: ReadonlyMap<string, Entry>,
  added: Map<string, Uint8Array>,
  format: 'html' | 'site',
): string {
  if (format === 'html') return writeDataUrl(image.bytes, `image/${image.type}`);
  const folder = page.name.slice(0, page.name.lastIndexOf('/') + 1);
  for (const [name, bytes] of added)
    if (bytes === image.bytes && name.startsWith(folder)) return encodeURI(name.slice(folder.length));
  let i = 1;
  while (entries.has(`${folder}gable${i}.${image.type}`) || added.has(`${folder}gable${i}.${image.type}`)) i++;
  added.set(`${folder}gable${i}.${image.type}`, image.bytes);
  return `gable${i}.${image.type}`;
}
