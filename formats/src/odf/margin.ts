import { GableError } from '@gable/core';
import type { MarginPicture } from '../codec/contract';
import { child, type Element } from '../xml/located';
import type { Splice } from '../xml/splice';
import { beginWith, floatingStyle, frameText, type Coming } from './insert';
import { is, Names, writeLength } from './names';

/** Children of a master page behind its header (ODF 1.2 Part 1 §16.9; `header-first` is of ODF 1.3). */
const BEHIND = ['header-left', 'header-first', 'footer', 'footer-left', 'footer-first'] as const;
const isMargin = (e: Element, into: MarginPicture['into']): boolean =>
  is(e, 'style', into, `${into}-left`, `${into}-first`);

type Added = Omit<Coming, 'place'>;

/** What a text is written with. */
interface MarginWriting {
  splice: Splice;
  /** The root of `styles.xml`. */
  common: Element | undefined;
  coming: Added;
}

/**
 * Puts a picture into the headers or footers of a text: in a paragraph of its own before what is there already, or, floating,
 * tied to the first paragraph there. A header takes its room from the text by itself (§16.6, style:header-style).
 * @returns the places in `styles.xml` where it comes to stand
 * @throws GableError `cannot-write` for a text without master pages
 */
export function putInMargin({ splice, common, coming }: MarginWriting, wish: MarginPicture): number[] {
  const masters = (child(common, 'master-styles')?.children ?? []).filter((m) => is(m, 'style', 'master-page'));
  if (!common || masters.length === 0)
    throw new GableError(
      'cannot-write',
      'The text has no page that could have a header.',
      'Open it in the program it was made with and save it again.',
    );
  const first = masters.find((m) => new Names(m).get(m, 'style:name') === 'Standard') ?? masters[0]!;
  const own = { splice, coming, wish, style: styleFor(coming, wish) };
  const places: number[] = [];
  for (const master of wish.pages === 'first' ? [first] : masters) {
    const there = master.children.filter((e) => isMargin(e, wish.into));
    const usual = there.find((e) => e.local === wish.into);
    const onFirst = there.find((e) => e.local === `${wish.into}-first`);
    if (wish.pages === 'first') {
      if (onFirst) places.push(intoMargin(onFirst, own));
      else places.push(newMargin(master, `${wish.into}-first`, own, usual));
    } else {
      if (!usual) places.push(newMargin(master, wish.into, own));
      for (const e of there) places.push(intoMargin(e, own));
    }
    if (wish.gap !== null) keepApart(common, master, own);
  }
  return places;
}

interface Own {
  splice: Splice;
  coming: Added;
  wish: MarginPicture;
  /** Of its paragraph, or of the frame where that floats. */
  style: string;
}

/** A style for the paragraph that the picture stands in, or for the frame that floats. */
const styleFor = (coming: Added, { floats, align }: MarginPicture): string =>
  coming.style((name, n) =>
    floats
      ? floatingStyle(name, n, floats)
      : `<${n.of('style:style')}${n.declare('style', 'fo')} ${n.of('style:name')}="${name}" ${n.of('style:family')}="paragraph"><${n.of('style:paragraph-properties')} ${n.of('fo:text-align')}="${{ left: 'start', center: 'center', right: 'end' }[align]}" ${n.of('fo:margin-top')}="0pt" ${n.of('fo:margin-bottom')}="0pt"/></${n.of('style:style')}>`,
  );

/** The picture as a frame, in a paragraph where it is no frame of one that is there. */
function frameIn(n: Names, { coming, wish: { floats, width, height }, style }: Own): string {
  const at = floats
    ? ` ${n.of('draw:style-name')}="${style}" ${n.of('text:anchor-type')}="paragraph" ${n.of('svg:x')}="${writeLength(floats.x)}" ${n.of('svg:y')}="${writeLength(floats.y)}"`
    : ` ${n.of('text:anchor-type')}="as-char"`;
  return frameText(n, coming, { width, height }, at);
}

const paragraphOf = (n: Names, own: Own): string =>
  `<${n.of('text:p')}${n.declare('text')}${own.wish.floats ? '' : ` ${n.of('text:style-name')}="${own.style}"`}>${frameIn(n, own)}</${n.of('text:p')}>`;

/** @returns where in the part the picture stands */
function intoMargin(margin: Element, own: Own): number {
  const n = new Names(margin);
  const [first] = margin.children;
  if (own.wish.floats && first && is(first, 'text', 'p', 'h')) return beginWith(own.splice, first, frameIn(n, own));
  if (first) own.splice.before(first, paragraphOf(n, own));
  else own.splice.append(margin, paragraphOf(n, own));
  return first?.start ?? margin.closeStart;
}

/** @param like one whose content stands behind the picture: the first page no longer shows that */
function newMargin(master: Element, local: string, own: Own, like?: Element): number {
  const n = new Names(master);
  const copied = like ? own.splice.source(like).slice(like.openEnd - like.start, like.closeStart - like.start) : '';
  const tag = n.of(`style:${local}`);
  const later = local === 'header' ? BEHIND : BEHIND.slice(BEHIND.indexOf(local as (typeof BEHIND)[number]) + 1);
  const next =
    master.children.find((e) => (later as readonly string[]).includes(e.local)) ??
    master.children.find((e) => !/^(header|footer)/.test(e.local));
  // One for the first page comes only with one for the others (ODF 1.3 Part 3 §16.11 and on, from memory).
  const others = n.of(`style:${own.wish.into}`);
  const usual =
    like || local === own.wish.into
      ? ''
      : `<${others}${n.declare('style')}><${n.of('text:p')}${n.declare('text')}/></${others}>`;
  const xml = `${usual}<${tag}${n.declare('style')}>${paragraphOf(n, own)}${copied}</${tag}>`;
  if (next) own.splice.before(next, xml);
  else own.splice.append(master, xml);
  return next?.start ?? master.closeStart;
}

/** From the header to the text: a margin of the header, in the layout of its page (§17.2, style:header-footer-properties). */
function keepApart(common: Element, master: Element, { splice, wish }: Own): void {
  const name = new Names(master).get(master, 'style:page-layout-name');
  const layout = child(common, 'automatic-styles')?.children.find(
    (e) => is(e, 'style', 'page-layout') && new Names(e).get(e, 'style:name') === name,
  );
  if (!layout) return;
  const n = new Names(layout);
  const side = n.of(wish.into === 'header' ? 'fo:margin-bottom' : 'fo:margin-top');
  const gap = writeLength(wish.gap ?? 0);
  const style = child(layout, `${wish.into}-style`);
  const properties = child(style, 'header-footer-properties');
  const fresh = `<${n.of('style:header-footer-properties')}${n.declare('fo')} ${n.of('fo:min-height')}="0pt" ${side}="${gap}"/>`;
  const tag = n.of(`style:${wish.into}-style`);
  if (properties) splice.attribute(properties, side, gap);
  else if (style) splice.append(style, fresh);
  else
    splice.slot(
      layout,
      [`${wish.into}-style`],
      wish.into === 'header' ? ['footer-style'] : [],
      `<${tag}>${fresh}</${tag}>`,
    );
}
