import { equal, type KeptVideo, type Video } from '@gable/core';
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

/** The video of an element. */
export function videoOf(e: Tag): Video | undefined {
  if (!isVideo(e)) return undefined;
  const a = attributesOf(e);
  const source = e.childNodes.find((c): c is Tag => 'tagName' in c && c.tagName === 'source');
  const { src = '', type = '' } = source ? attributesOf(source) : {};
  return playedVideo(a, a['src'] ?? src, type);
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
  /** Keeps a video's data, and gives its address. */
  keep: (video: KeptVideo) => string;
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
  const address = video.source.from === 'kept' && isNew ? keep(video.source) : (a['src'] ?? null);
  const moved = was?.start !== video.start || was?.end !== video.end;
  const src = address === null ? null : isNew || moved ? addressAt(address, video) : address;
  const flags = flagsOf(video).map((name) => ` ${name}`);
  const rest = video.play.automatic ? '' : ' preload="none"';
  const start = place.startTag ? place.startTag.endOffset - base : text.length;
  const end = place.endTag ? place.endTag.startOffset - base : text.length;
  const inside = isVideo(e) ? text.slice(start, end) : '';
  // Other data come in the place of those that are named within.
  const within = isNew ? inside.replace(/<source\b[^>]*>/gi, '') : inside;
  const told = `${src === null ? '' : quoted('src', src)}${quoted('poster', poster)}${quoted('aria-label', alt)}`;
  return `<video${told}${flags.join('')}${rest}${kept.join('')}>${within}</video>`;
}

/** A video's data: in a site a file beside the page, in a single page in its address. @throws GableError `cannot-write` */
export function storeVideo(
  video: KeptVideo,
  page: Page,
  entries: ReadonlyMap<string, Entry>,
  added: Map<string, Uint8Array>,
  format: 'html' | 'site',
): string {
  if (format === 'html') return withinText(video, 'a page', 'Use a shorter video, or zip the page and open that.');
  const folder = page.name.slice(0, page.name.lastIndexOf('/') + 1);
  const data = standInBytes(video);
  for (const [name, bytes] of added)
    if (equal([...bytes], [...data]) && name.startsWith(folder)) return encodeURI(name.slice(folder.length));
  let i = 1;
  const name = (): string => `${folder}gable${i}.${video.type}`;
  while (entries.has(name()) || added.has(name())) i++;
  added.set(name(), data);
  return `gable${i}.${video.type}`;
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
