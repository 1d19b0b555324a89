import { CaptionsSchema, equal, type Captions, type KeptVideo, type Video } from '@gable/core';
import { writeDataUrl } from '../codec/data-url';
import { addressAt, flagsOf, playedVideo, withinText } from '../codec/videos';
import type { Entry } from '../zip/reader';
import { standInBytes } from '../zip/fill';
import { MARK, type Page } from './page-source';
import { attributesOf, escapeHtml, parentTag, type Tag } from './tree';

/** A video with a picture that is seen before it plays counts as that picture (HTML §4.8.8, `poster`). */
export const isVideo = (e: Tag): boolean => e.tagName === 'video';

/** The attributes of an image, or those of a video as an image would have them. */
export function imageAttributes(e: Tag): Readonly<Record<string, string>> {
  const { poster, 'aria-label': label, ...own } = attributesOf(e);
  if (!isVideo(e)) return attributesOf(e);
  return { ...own, src: poster ?? '', ...(label !== undefined && { alt: label }) };
}

/** @param textAt what stands at an address of its page, where that can be had */
export function videoOf(e: Tag, textAt: (address: string) => string | null): Video | undefined {
  if (!isVideo(e)) return undefined;
  const a = attributesOf(e);
  const source = childrenOf(e, 'source')[0];
  const { src = '', type = '' } = source ? attributesOf(source) : {};
  const captions = captionsOf(e, textAt);
  return { ...playedVideo(a, a['src'] ?? src, type), ...(captions && { captions }) };
}

const childrenOf = (e: Tag, name: string): Tag[] =>
  e.childNodes.filter((c): c is Tag => 'tagName' in c && c.tagName === name);

/** The track that its captions are: the first of that kind (HTML §4.8.11.1, `kind`; a track without one is of subtitles). */
const trackOf = (e: Tag): Tag | undefined => childrenOf(e, 'track').find((t) => attributesOf(t)['kind'] === 'captions');

/** Captions whose language is named, and whose text is in the file. */
function captionsOf(e: Tag, textAt: (address: string) => string | null): Captions | undefined {
  const track = trackOf(e);
  if (!track) return undefined;
  const { src = '', srclang: language = '' } = attributesOf(track);
  const read = CaptionsSchema.safeParse({ language, text: textAt(src) });
  return read.success ? read.data : undefined;
}

/** What only images have, and what only videos have: it goes when one becomes the other. */
const OF_IMAGES = /^(src|srcset|sizes|alt|loading|decoding|fetchpriority|usemap|ismap|referrerpolicy|crossorigin)$/;
const OF_VIDEOS =
  /^(src|poster|aria-label|autoplay|loop|muted|controls|controlslist|playsinline|preload|crossorigin|disable\w+)$/;

/** How an element is to be: the address of its picture, what it is called, and its video. */
interface Wish {
  poster: string;
  alt: string;
  was: Video | undefined;
  video: Video | undefined;
  keep: KeepVideo;
}

/** Keeps a video's data, or the text of its captions, and gives its address. */
export interface KeepVideo {
  data: (video: KeptVideo) => string;
  captions: (text: string) => string;
}

/** An image, or a video, as the other one, or as a video that plays otherwise; as the page has it as far as it stays. */
export function elementText(text: string, e: Tag, { poster, alt, was, video, keep }: Wish): string {
  const place = e.sourceCodeLocation!;
  const base = place.startOffset;
  const located = Object.entries(place.attrs ?? {});
  const gone = isVideo(e) ? OF_VIDEOS : OF_IMAGES;
  const kept = located.flatMap(([name, at]) =>
    gone.test(name) ? [] : [` ${text.slice(at.startOffset - base, at.endOffset - base)}`],
  );
  const quoted = (name: string, value: string): string => ` ${name}="${escapeHtml(value)}"`;
  if (!video) return `<img${quoted('src', poster)}${quoted('alt', alt)}${kept.join('')}>`;
  const a = attributesOf(e);
  const isNew = video.source.from === 'kept' && !equal(was?.source, video.source);
  const address = video.source.from === 'kept' && isNew ? keep.data(video.source) : (a['src'] ?? null);
  const moved = was?.start !== video.start || was?.end !== video.end;
  const src = address === null ? null : isNew || moved ? addressAt(address, video) : address;
  const flags = flagsOf(video).map((name) => ` ${name}`);
  const rest = video.play.automatic ? '' : ' preload="none"';
  const start = place.startTag ? place.startTag.endOffset - base : text.length;
  const end = place.endTag ? place.endTag.startOffset - base : text.length;
  const inside = isVideo(e) ? text.slice(start, end) : '';
  const captioned = equal(was?.captions, video.captions)
    ? inside
    : inside.slice(0, trackPlace(e, was).start - base - start) +
      trackText(video.captions, keep) +
      inside.slice(trackPlace(e, was).end - base - start);
  // Other data come in the place of those that are named within.
  const within = isNew ? captioned.replace(/<source\b[^>]*>/gi, '') : captioned;
  const told = `${src === null ? '' : quoted('src', src)}${quoted('poster', poster)}${quoted('aria-label', alt)}`;
  return `<video${told}${flags.join('')}${rest}${kept.join('')}>${within}</video>`;
}

/** Where the track of a video's captions is, or comes: behind its sources, before all else (HTML §4.8.9, content model). */
function trackPlace(e: Tag, was: Video | undefined): { start: number; end: number } {
  const old = was?.captions && trackOf(e)?.sourceCodeLocation;
  if (old) return { start: old.startOffset, end: old.endOffset };
  const source = childrenOf(e, 'source').at(-1)?.sourceCodeLocation;
  const at = source?.endOffset ?? e.sourceCodeLocation!.startTag?.endOffset ?? 0;
  return { start: at, end: at };
}

const trackText = (captions: Captions | undefined, keep: KeepVideo): string =>
  captions
    ? `<track kind="captions" src="${escapeHtml(keep.captions(captions.text))}" srclang="${captions.language}">`
    : '';

/** A text beside the page of a site; in a single page in its address. */
export function storeCaptions(text: string, site: Beside, format: 'html' | 'site'): string {
  const bytes = new TextEncoder().encode(text);
  return format === 'html' ? writeDataUrl(bytes, 'text/vtt') : besidePage(bytes, 'vtt', site);
}

/** The page of a site, and what is beside it. */
interface Beside {
  page: Page;
  entries: ReadonlyMap<string, Entry>;
  added: Map<string, Uint8Array>;
}

/** A file beside the page, the same one for the same bytes. @returns its address from there */
function besidePage(data: Uint8Array, ending: string, { page, entries, added }: Beside): string {
  const folder = page.name.slice(0, page.name.lastIndexOf('/') + 1);
  for (const [name, bytes] of added)
    if (name.startsWith(folder) && name.endsWith(`.${ending}`) && equal([...bytes], [...data]))
      return encodeURI(name.slice(folder.length));
  let i = 1;
  const name = (): string => `${folder}gable${i}.${ending}`;
  while (entries.has(name()) || added.has(name())) i++;
  added.set(name(), data);
  return `gable${i}.${ending}`;
}

/** A video's data: in a site a file beside the page, in a single page in its address. @throws GableError `cannot-write` */
export function storeVideo(video: KeptVideo, site: Beside, format: 'html' | 'site'): string {
  if (format === 'html') return withinText(video, 'a page', 'Use a shorter video, or zip the page and open that.');
  return besidePage(standInBytes(video), video.type, site);
}

/**
 * What counts as a picture of a page: its images, and videos that stand in the place of one in a frame of ours. A page's own videos stay
 * as they are: pictures are known by their order, in works that were opened before, too.
 */
export function isPictured(e: Tag): boolean {
  if (e.tagName === 'img') return true;
  if (!isVideo(e) || (attributesOf(e)['poster'] ?? '') === '') return false;
  for (let p = parentTag(e); p; p = parentTag(p)) if (MARK in attributesOf(p)) return true;
  return false;
}
