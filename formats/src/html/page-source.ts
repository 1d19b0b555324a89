import type { Frame, Size } from '@gable/core';
import type { DefaultTreeAdapterTypes } from 'parse5';
import { binaryText } from '../codec/data-url';
import type { Entry } from '../zip/reader';
import type { DeclaredSizing } from './declared';
import type { Place } from './place';
import { type siblingRules } from './siblings';
import { type Tag, parsePage, attributesOf, type Node } from './tree';

/** A page, and what stands beside it. */
export interface Page {
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
  /** How it sizes an image, as it says that; null where a frame says it as well. */
  declared(image: Tag): DeclaredSizing | null;
}

export interface Found {
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

export const MARK = 'data-gable';
/** Marks what stands in the place of a picture with all that stands around it. */
export const SET = 'data-gable-set';

export function pageFrom(name: string, bytes: Uint8Array): Page {
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
  return { name, text, encode, tree, rules, headEnd, siblings: () => [], declared: () => null };
}

/** Elements of a name in document order; templates and what stands in for scripts are not on the page. */
export const elements = (node: Node, name: string): Tag[] => elementsThat(node, (e) => e.tagName === name);

export function elementsThat(node: Node, passes: (e: Tag) => boolean): Tag[] {
  const out: Tag[] = [];
  const stack: Node[] = [node];
  while (stack.length > 0) {
    const at = stack.pop()!;
    if ('tagName' in at) {
      if (passes(at)) out.push(at);
      if (at.tagName === 'noscript' || at.tagName === 'template') continue;
    }
    if ('childNodes' in at) for (let i = at.childNodes.length - 1; i >= 0; i--) stack.push(at.childNodes[i]!);
  }
  return out;
}
