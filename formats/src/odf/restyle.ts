import {
  equal,
  frameOfBlock,
  GableError,
  isVeil,
  type FramedItem,
  type Outline,
  type Paint,
  type Point,
  type Text,
} from '@gable/core';
import { frameInText } from '../codec/beside-text';
import { otherWords } from '../codec/contract';
import { encodeVeil, VEIL_NAMESPACE } from '../metadata/veils';
import { child, type Element } from '../xml/located';
import type { Splice } from '../xml/splice';
import { ALIGN, fillProperties, oneColour, paragraphText, RUN_LOOKS, styleOf, type VeilHref } from './around';
import { newLying, replacedBy } from './anchor';
import { is, Names, writeLength } from './names';
import { setOwn } from './own-attributes';
import { hasBorder } from './read-frame';
import type { Site } from './site';
import { readWords, type ParagraphPlace, type WordStyles } from './words';
import { basedStyle, boxAttributes, derivedStyle, dropEnds, strokeProperties, type StyleWriter } from './write-frame';

const PART = 'content.xml';

type Run = Text['paragraphs'][number]['runs'][number];

interface Change {
  was: FramedItem;
  now: FramedItem;
}

/** What shapes of pages are written with. */
interface Restyled {
  splice: Splice;
  /** `office:document-content` */
  content: Element;
  styles: StyleWriter;
  hrefOf: VeilHref;
  words: WordStyles;
}

/**
 * Writes what of a shape looks otherwise: its place, its fill, its line, and how its words look. Of a shape that Gable has tied the
 * words can be others, too.
 * @param origin what its place counts from, where that is not the corner of its page; in points
 * @throws GableError `cannot-write` where words of another shape are not those that were read
 */
export function restyleShape(into: Restyled, site: Site, { was, now }: Change, origin: Point = { x: 0, y: 0 }): void {
  const { splice, styles, hrefOf } = into;
  const { element, names: n } = site;
  if (!equal([was.at, was.turn], [now.at, now.turn])) {
    if (site.inText) placeInText(into, site, { was, now });
    else placeOnPage(into, site, { was, now }, origin);
  }
  const href = hrefOf(now.id);
  const [filled, lined] = [href !== undefined || !equal(was.fill, now.fill), !equal(was.outline, now.outline)];
  // What it counts from may be said anew, as for pictures.
  const lying = site.inText ? newLying(site, frameInText(was), frameInText(now)) : null;
  if (filled || lined || lying) {
    const bordered = hasBorder(site);
    const set = [
      ...(filled ? fillProperties(oneColour(now), href === undefined ? null : styles.fillImage(href)) : []),
      ...(filled && bordered ? [['fo:background-color', oneColour(now)?.colour ?? 'transparent'] as const] : []),
      ...(lying ?? []),
      ...(lined ? (bordered ? borderProperties(now.outline) : strokeProperties(now.outline, styles)) : []),
    ].map(([name, value]): [string, string] => [name, value]);
    const anew = replacedBy(lying, n);
    const drops = (name: string): boolean =>
      anew(name) ||
      (filled && /:(fill.*|repeat|opacity|opacity-name)$/.test(name)) ||
      (lined && (bordered ? /:border/ : /:stroke/).test(name));
    const style = styles.style(PART, (name) => basedStyle(splice, site, name, set, drops));
    splice.attribute(element, n.of(styleAttribute(site)), style);
    const veil = href !== undefined && isVeil(now.fill) ? encodeVeil(now.fill) : null;
    if (filled) setOwn(splice, element, VEIL_NAMESPACE, 'gable-veil:veil', veil);
  }
  if (!equal(was.text, now.text)) restyleWords(into, site, { was, now });
}

function placeOnPage({ splice }: Restyled, site: Site, { was, now }: Change, origin: Point): void {
  const box = { ...now.at.box, x: now.at.box.x - origin.x, y: now.at.box.y - origin.y };
  const frame = frameOfBlock(now, { box, turn: now.turn, flip: now.flip });
  for (const [name, value] of boxAttributes({ names: site.names, frameFlow: 'floating' }, frame))
    splice.attribute(site.element, name, value);
  if (isSized(was, now)) dropEnds(splice, site);
}

/** In its line only its size; beside the text its place and its turn, too. */
function placeInText({ splice }: Restyled, site: Site, { was, now }: Change): void {
  const { element, names } = site;
  const frame = frameInText(now);
  const [width, height, ...place] = boxAttributes({ names, frameFlow: frame.flow }, frame);
  const words = child(element, 'text-box');
  const grows = words && names.get(element, 'svg:height') === undefined;
  if (isSized(was, now)) {
    splice.attribute(element, ...width!);
    // One that grows with its words says how high it is at least.
    if (grows) splice.attribute(words, names.of('fo:min-height'), height![1]);
    else splice.attribute(element, ...height!);
    dropEnds(splice, site);
  }
  if (frame.flow === 'floating') for (const [name, value] of place) splice.attribute(element, name, value);
}

// What a cell, or a share of the page, says of the size would win.
const isSized = (was: FramedItem, now: FramedItem): boolean =>
  !equal([was.at.box.width, was.at.box.height], [now.at.box.width, now.at.box.height]);

/** The border of a text box in a text. @throws GableError `cannot-write` for a line that it cannot be */
function borderProperties(outline: Outline | null): [string, string][] {
  if (!outline) return [['fo:border', 'none']];
  const { paint, weight, side, dash, lines = 'single' } = outline;
  const way = dash === 'dash' ? 'dashed' : dash === 'dot' ? 'dotted' : dash === 'solid' ? 'solid' : null;
  const isPlain = lines === 'single' || (lines === 'double' && dash === 'solid');
  if (paint.kind !== 'solid' || paint.opacity < 1 || side !== 'on' || !way || !isPlain)
    throw new GableError(
      'cannot-write',
      'A text box of this kind of file has a line on its edge: solid, dashed, dotted or double, in one colour.',
      'Choose one of these.',
    );
  return [['fo:border', `${writeLength(weight)} ${lines === 'double' ? 'double' : way} ${paint.colour}`]];
}

/** How an element names its style. */
export const styleAttribute = ({ element, names: n }: Site): string =>
  n.get(element, 'draw:style-name') === undefined && n.get(element, 'presentation:style-name') !== undefined
    ? 'presentation:style-name'
    : 'draw:style-name';

function restyleWords(into: Restyled, site: Site, { was, now }: Change): void {
  const { splice, styles, hrefOf, words } = into;
  const { element, names: n } = site;
  const [old, next] = [was.text, now.text];
  const places: ParagraphPlace[] = [];
  const family = styleAttribute(site) === 'draw:style-name' ? 'graphic' : 'presentation';
  const boxed = is(element, 'draw', 'frame');
  readWords(element, { family, style: site.style, boxed }, words, places);
  if (!old || !next || !equal([old.anchor, old.inset], [next.anchor, next.inset])) throw otherWords(now.id);
  const said = ({ paragraphs }: Text): string[][] => paragraphs.map((p) => p.runs.map((r) => r.text));
  if (!equal(said(old), said(next))) {
    const [first, ...others] = places;
    if (!was.tie || !first) throw otherWords(now.id);
    // They are written like those of a new shape.
    const anew = next.paragraphs.map((p) => paragraphText(n, p, { styles, hrefOf, part: PART })).join('');
    splice.replace(first.element, anew);
    for (const p of others) splice.replace(p.element, '');
    return;
  }
  for (const [i, { align, runs }] of next.paragraphs.entries()) {
    const before = old.paragraphs[i]!;
    const place = places[i];
    if (place?.runs.length !== before.runs.length) throw otherWords(now.id);
    if (before.align !== align)
      splice.attribute(
        place.element,
        n.of('text:style-name'),
        otherStyle(into, { element: place.element, kind: 'paragraph' }, [['fo:text-align', ALIGN[align]]]),
      );
    for (const [j, run] of runs.entries()) {
      const set = lookProperties(before.runs[j]!, run);
      if (set.length === 0) continue;
      const { start, end, span } = place.runs[j]!;
      const style = otherStyle(into, { element: span, kind: 'text' }, set);
      if (span) {
        splice.attribute(span, n.of('text:style-name'), style);
        continue;
      }
      const tag = n.of('text:span');
      splice.at(start, `<${tag} ${n.of('text:style-name')}="${style}">`);
      splice.at(end, `</${tag}>`);
    }
  }
}

/** What of a run looks otherwise. */
function lookProperties(was: Run, now: Run): [string, string][] {
  const looks = Object.keys(RUN_LOOKS) as (keyof typeof RUN_LOOKS)[];
  const line = ['style:text-underline-style', now.underline ? 'solid' : 'none'] as const;
  const set = looks.filter((look) => !equal(was[look], now[look])).map((look) => RUN_LOOKS[look](now));
  return [...set, ...(was.underline === now.underline ? [] : [line])].map(([name, value]) => [name, value]);
}

/** What says the same of a font, or of a colour, in another way: it would come before what is set. */
const RIVALS: Readonly<Record<string, RegExp>> = {
  'fo:font-family': /:font-name$/,
  'fo:color': /:use-window-font-color$/,
};

/** A style as that of an element, with other properties. @param element null where there is none yet */
function otherStyle(
  { splice, styles, content }: Restyled,
  { element, kind }: { element: Element | null; kind: 'text' | 'paragraph' },
  set: readonly [string, string][],
): string {
  const named = element ? new Names(element).get(element, 'text:style-name') : undefined;
  const old = child(content, 'automatic-styles')?.children.find((s) => {
    const n = new Names(s);
    return is(s, 'style', 'style') && n.get(s, 'style:name') === named && n.get(s, 'style:family') === kind;
  });
  const drops = (name: string): boolean => set.some(([key]) => RIVALS[key]?.test(name));
  return old && named !== undefined
    ? styles.style(PART, (name, n) => derivedStyle(splice, { element: old, kind, n }, { name, set, drops }))
    : styleOf({ styles, part: PART }, kind, set, named);
}

/**
 * Gives pages another colour behind them: a new style of each page, with all that its old one says of anything else
 * (ODF 1.2 Part 1 §16.7, style family drawing-page; §20.119, draw:fill; numbers from memory).
 * @param body `office:presentation` or `office:drawing`
 */
export function writeGrounds(
  splice: Splice,
  { content, body, styles }: { content: Element; body: Element; styles: StyleWriter },
  grounds: ReadonlyMap<number, Paint>,
): void {
  const pages = body.children.filter((e) => is(e, 'draw', 'page'));
  const automatic = child(content, 'automatic-styles')?.children ?? [];
  for (const [number, paint] of grounds) {
    const page = pages[number - 1]!;
    const names = new Names(page);
    if (paint.kind !== 'solid')
      throw new GableError(
        'cannot-write',
        'A gradient cannot be written behind a page of this kind of file.',
        'Choose one colour.',
        {},
      );
    const named = names.get(page, 'draw:style-name');
    const old = automatic.find((s) => is(s, 'style', 'style') && new Names(s).get(s, 'style:name') === named);
    const set: [string, string][] = [
      ['draw:fill', 'solid'],
      ['draw:fill-color', paint.colour],
    ];
    const drops = (key: string): boolean => /(^|:)(fill|fill-.*|opacity|opacity-name)$/.test(key);
    const name = old
      ? styles.style(PART, (fresh, n) =>
          derivedStyle(splice, { element: old, kind: 'drawing-page', n }, { name: fresh, set, drops }),
        )
      : styleOf({ styles, part: PART }, 'drawing-page', set);
    splice.attribute(page, names.of('draw:style-name'), name);
  }
}
