import { equal, GableError, type KeptVideo, type Play, trimNumber, type Video } from '@gable/core';
import { standInOf, videoTypeOf } from '../codec/videos';
import type { Entry } from '../zip/reader';
import { standInBytes } from '../zip/fill';
import type { Page } from './page-source';
import { attributesOf, escapeHtml, type Node, type Tag } from './tree';

/** A video with a picture that is seen before it plays counts as that picture (HTML §4.8.8, `poster`). */
export const isVideo = (e: Tag): boolean => e.tagName === 'video';

/** The attributes of an image, or those of a video as an image would have them. */
export function imageAttributes(e: Tag): Readonly<Record<string, string>> {
  const { poster, 'aria-label': label, ...own } = attributesOf(e);
  if (!isVideo(e)) return attributesOf(e);
  return { ...own, src: poster ?? '', ...(label !== undefined && { alt: label }) };
}

/** So much of a video that a page of one file can hold in itself. */
const MOST_WITHIN = 50 * 1024 * 1024;

/** How the video of an element plays (HTML §4.8.8, §4.8.11); where it begins and ends, its address says (Media Fragments 1.0 §4.2.1). */
export function videoOf(e: Tag): Video | undefined {
  if (!isVideo(e)) return undefined;
  const a = attributesOf(e);
  const source = e.childNodes.find((c): c is Tag => 'tagName' in c && c.tagName === 'source');
  const from = source ? attributesOf(source) : {};
  const [, key = '', time = ''] = /^([^#]*)(?:#(.*))?$/s.exec((a['src'] ?? from['src'] ?? '').trim())!;
  const [, start, end] = /(?:^|&)t=(?:npt:)?(\d+(?:\.\d+)?)?(?:,(\d+(?:\.\d+)?))?(?:&|$)/.exec(time) ?? [];
  const play: Play = {
    automatic: 'autoplay' in a,
    loop: 'loop' in a,
    muted: 'muted' in a,
    controls: 'controls' in a,
  };
  return {
    // The data of one that is in its page name it as well as all of them.
    source: { from: 'file', key: key.slice(0, 200) || '-', type: (from['type'] ?? '').slice(0, 80) },
    play,
    ...(Number(start) > 0 && { start: Number(start) }),
    ...(Number(end) > 0 && { end: Number(end) }),
  };
}

/** What only images have, and what only videos have: it goes when one becomes the other. */
const OF_IMAGES = /^(src|srcset|sizes|alt|loading|decoding|fetchpriority|usemap|ismap|referrerpolicy|crossorigin)$/;
const OF_VIDEOS =
  /^(src|poster|aria-label|autoplay|loop|muted|controls|controlslist|playsinline|preload|crossorigin|disable\w+)$/;

const FLAGS: readonly (readonly [string, (video: Video) => boolean])[] = [
  ['autoplay', ({ play }) => play.automatic],
  ['loop', ({ play }) => play.loop],
  ['muted', ({ play }) => play.muted],
  ['controls', ({ play }) => play.controls],
  // Otherwise telephones show a video that begins by itself over all of the page.
  ['playsinline', ({ play }) => play.automatic],
];

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
  const src =
    address === null ? null : isNew || moved ? `${address.replace(/#.*$/s, '')}${fragmentOf(video)}` : address;
  const flags = FLAGS.flatMap(([name, is]) => (is(video) ? [` ${name}`] : []));
  // Its picture is there: nothing of it is fetched before it plays.
  const rest = video.play.automatic ? '' : ' preload="none"';
  const start = place.startTag ? place.startTag.endOffset - base : text.length;
  const end = place.endTag ? place.endTag.startOffset - base : text.length;
  const inside = isVideo(e) ? text.slice(start, end) : '';
  // Other data come in the place of those that are named within.
  const within = isNew ? inside.replace(/<source\b[^>]*>/gi, '') : inside;
  const told = `${src === null ? '' : quoted('src', src)}${quoted('poster', poster)}${quoted('aria-label', alt)}`;
  return `<video${told}${flags.join('')}${rest}${kept.join('')}>${within}</video>`;
}

const fragmentOf = ({ start, end }: Video): string => {
  if (start === undefined && end === undefined) return '';
  const seconds = (s: number): string => trimNumber(s, 3);
  return `#t=${start === undefined ? '' : seconds(start)}${end === undefined ? '' : `,${seconds(end)}`}`;
};

/** A video's data: in a site a file beside the page, in a single page in its address. @throws GableError `cannot-write` */
export function storeVideo(
  video: KeptVideo,
  page: Page,
  entries: ReadonlyMap<string, Entry>,
  added: Map<string, Uint8Array>,
  format: 'html' | 'site',
): string {
  if (format === 'html') {
    if (video.bytes > MOST_WITHIN)
      throw new GableError(
        'cannot-write',
        `“${video.name}” has ${Math.round(video.bytes / 1048576)} MB; a page of one file holds videos of up to ${MOST_WITHIN / 1048576} MB.`,
        'Use a shorter video, or zip the page and open that.',
      );
    return `data:${videoTypeOf(video.type)};base64,${standInOf(video)}`;
  }
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

/** Images, and videos with a picture, in document order. */
export const isPictured = (node: Node): node is Tag =>
  'tagName' in node && (node.tagName === 'img' || (isVideo(node) && (attributesOf(node)['poster'] ?? '') !== ''));
