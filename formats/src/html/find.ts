import type { Size } from '@gable/core';
import { shorten } from '../codec/contract';
import type { Around } from './box';
import { type Cascade } from './cascade';
import { MARK } from './page-source';
import { imageAttributes, isVideo } from './video';
import type { Image } from './read-image';
import { type Tag, parentTag, attributesOf, type Node } from './tree';

/** An image with what is said of it and of the elements round it; what we put round it counts as not there. */
export function standing(image: Tag, cascade: Cascade): Image {
  const outer = imageOrPicture(image);
  const around: Around[] = [];
  for (let e = parentTag(outer); e && around.length < 50; e = parentTag(e))
    if (!(MARK in attributesOf(e))) around.push({ style: cascade.styleOf(e), ...placeAmong(e) });
  const said = cascade.styleOf(image);
  // Browsers show all of a video where nothing is said (HTML §15.4.1, video).
  const style = isVideo(image) && !said.has('object-fit') ? new Map([...said, ['object-fit', 'contain']]) : said;
  return { attributes: imageAttributes(image), style, ...placeAmong(outer), around };
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
export function near(image: Tag): string {
  for (let e = parentTag(image); e && e.tagName !== 'body'; e = parentTag(e)) {
    const text = wordsOf(e);
    if (text !== '') return shorten(text);
  }
  return '';
}

/** A relative address as the name of an entry beside the page; null for one that leads elsewhere. */
export function entryName(page: string, address: string): string | null {
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

export function tagAbove(e: Tag, name: string): boolean {
  for (let p = parentTag(e); p; p = parentTag(p)) if (p.tagName === name) return true;
  return false;
}

export const wordsOfStyle = (e: Tag): string => e.childNodes.map((c) => ('value' in c ? c.value : '')).join('');

export function sized(a: Readonly<Record<string, string>>): Size | null {
  const [width, height] = [Number(a['width']), Number(a['height'])];
  return width > 0 && height > 0 ? { width, height } : null;
}

export const imageOrPicture = (image: Tag): Tag =>
  parentTag(image)?.tagName === 'picture' ? parentTag(image)! : image;
