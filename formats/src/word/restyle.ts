import { equal, GableError, trimNumber, type FramedItem, type ItemId, type Text } from '@gable/core';
import { liesInText, otherWords, type Restyling } from '../codec/contract';
import type { Theme } from '../drawingml/colour';
import type { Additions } from '../ooxml/additions';
import { NS } from '../ooxml/names';
import { restyleItems } from '../ooxml/restyle-items';
import { ancestor, child, descend, type Element } from '../xml/located';
import type { Splice } from '../xml/splice';
import type { Splices } from '../xml/splices';
import { frameInText } from '../codec/beside-text';
import { siteOf } from '../drawingml/read-picture';
import { writeLying } from '../drawingml/write-picture';
import { styleOf } from '../vml/find';
import { fontText } from './around';
import { wordsOfRun } from './read-items';

type Run = Text['paragraphs'][number]['runs'][number];

/** In the order in which a run says how it looks (ISO/IEC 29500-1 §17.3.2.28, rPr). */
const OF_RUN = [
  ...['rStyle', 'rFonts', 'b', 'bCs', 'i', 'iCs', 'caps', 'smallCaps', 'strike', 'dstrike', 'outline', 'shadow'],
  ...['emboss', 'imprint', 'noProof', 'snapToGrid', 'vanish', 'webHidden', 'color', 'spacing', 'w', 'kern', 'position'],
  ...['sz', 'szCs', 'highlight', 'u', 'effect', 'bdr', 'shd', 'fitText', 'vertAlign', 'rtl', 'cs', 'em', 'lang'],
  ...['eastAsianLayout', 'specVanish', 'oMath', 'rPrChange'],
];
/** What stands behind the alignment of a paragraph (§17.3.1.26, pPr). */
const BEHIND_ALIGN = [
  ...['textDirection', 'textAlignment', 'textboxTightWrap', 'outlineLvl', 'divId', 'cnfStyle', 'rPr', 'sectPr'],
  'pPrChange',
];
const ALIGN = { start: 'left', centre: 'center', end: 'right', justify: 'both' } as const;

/**
 * Shapes and text boxes of a text that look or stand otherwise: their fill, their line, the looks of their words, their size, and
 * beside the text their place. What older readers have instead (ISO/IEC 29500-3 §7.5, Fallback) says the same.
 * @throws GableError `cannot-write` for the place of one in a line, for parts of groups, and for other words
 */
export function restyleInText(
  {
    elements,
    partOf,
    theme,
  }: {
    elements: ReadonlyMap<ItemId, Element>;
    partOf: (e: Element) => string | undefined;
    theme: () => Theme;
  },
  { splices, additions }: { splices: Splices; additions: Additions },
  change: Pick<Restyling, 'items' | 'veils'>,
): void {
  for (const item of change.items.values()) liesInText(item);
  const { fonts } = theme();
  restyleItems(
    {
      ...{ elements, partOf, fontsOf: () => fonts, splices, additions },
      words: (splice, shape, { was, now }) => {
        const content = descend(shape, 'txbx', 'txbxContent');
        if (!content) throw otherWords(now.id);
        restyleWords(splice, content, { was, now, fonts });
      },
      place(splice, shape, { was, now }) {
        const site = siteOf(shape, partOf(shape) ?? '');
        if (site) writeLying(splice, site, frameInText(was), frameInText(now));
      },
      elsewhere(e, part, { was, now }) {
        const fallback = child(
          ancestor(e, (a) => a.local === 'AlternateContent' && NS.compatibility.has(a.uri)),
          'Fallback',
        );
        if (fallback) restyleOlder(splices.of(part), fallback, { was, now, fonts });
      },
    },
    change,
  );
}

interface Change {
  was: FramedItem;
  now: FramedItem;
  fonts: Theme['fonts'];
}

function restyleWords(splice: Splice, content: Element, { was, now, fonts }: Change): void {
  const [old, next] = [was.text?.paragraphs ?? [], now.text?.paragraphs ?? []];
  const paragraphs = content.children.filter((p) => p.local === 'p');
  const runsOf = (p: Element): Element[] => p.children.filter((r) => r.local === 'r' && wordsOfRun(r) !== '');
  const isSame =
    old.length === next.length &&
    paragraphs.length === next.length &&
    equal([was.text?.anchor, was.text?.inset], [now.text?.anchor, now.text?.inset]) &&
    paragraphs.every((p, i) => {
      const said = next[i]!.runs.map((r) => r.text);
      return (
        equal(
          old[i]!.runs.map((r) => r.text),
          said,
        ) && runsOf(p).length === said.length
      );
    });
  if (!isSame) throw otherWords(now.id);
  const w = content.name.slice(0, content.name.length - content.local.length);
  for (const [i, p] of paragraphs.entries()) {
    const { align, runs } = next[i]!;
    if (old[i]!.align !== align) {
      const jc = `<${w}jc ${w}val="${ALIGN[align]}"/>`;
      const pPr = child(p, 'pPr');
      if (pPr) splice.slot(pPr, ['jc'], BEHIND_ALIGN, jc);
      else if (p.children[0]) splice.before(p.children[0], `<${w}pPr>${jc}</${w}pPr>`);
    }
    const elements = runsOf(p);
    for (const [j, run] of runs.entries())
      if (!equal(old[i]!.runs[j], run)) restyleRun(splice, elements[j]!, { w, was: old[i]!.runs[j]!, now: run, fonts });
  }
}

/** What of a run looks otherwise, by the names of what says it, in their order. */
function looksOf(was: Run, now: Run, w: string, fonts: Theme['fonts']): [name: string, xml: string][] {
  if (now.paint.kind !== 'solid' && !equal(was.paint, now.paint))
    throw new GableError('cannot-write', 'Words of a text box have one colour, no gradient.', 'Choose one colour.', {});
  const isOn = (name: string, on: boolean): string => `<${w}${name}${on ? '' : ` ${w}val="0"`}/>`;
  const half = String(Math.round(now.size * 2));
  const all: [string, boolean, string][] = [
    ['rFonts', was.font !== now.font, fontText(w, now.font, fonts)],
    ['b', was.weight !== now.weight, isOn('b', now.weight >= 600)],
    ['i', was.italic !== now.italic, isOn('i', now.italic)],
    [
      'color',
      !equal(was.paint, now.paint),
      now.paint.kind === 'solid' ? `<${w}color ${w}val="${now.paint.colour.slice(1).toUpperCase()}"/>` : '',
    ],
    ['sz', was.size !== now.size, `<${w}sz ${w}val="${half}"/>`],
    ['szCs', was.size !== now.size, `<${w}szCs ${w}val="${half}"/>`],
    ['u', was.underline !== now.underline, `<${w}u ${w}val="${now.underline ? 'single' : 'none'}"/>`],
  ];
  return all.flatMap(([name, isOther, xml]) => (isOther && xml !== '' ? [[name, xml] as [string, string]] : []));
}

function restyleRun(
  splice: Splice,
  r: Element,
  { w, was, now, fonts }: { w: string; was: Run; now: Run; fonts: Theme['fonts'] },
): void {
  const looks = looksOf(was, now, w, fonts);
  const rPr = child(r, 'rPr');
  if (!rPr) splice.before(r.children[0]!, `<${w}rPr>${looks.map(([, xml]) => xml).join('')}</${w}rPr>`);
  else for (const [name, xml] of looks) splice.slot(rPr, [name], OF_RUN.slice(OF_RUN.indexOf(name) + 1), xml);
}

/** The same for readers of the older markup, VML (ISO/IEC 29500-4 §14.1.2): its own colours, and the words that stand there again. */
function restyleOlder(splice: Splice, fallback: Element, change: Change): void {
  const { was, now } = change;
  const shape = shapeIn(fallback);
  if (!shape) return;
  if (!equal(was.fill, now.fill)) {
    const paint = now.fill?.kind === 'paint' && now.fill.paint.kind === 'solid' ? now.fill.paint : null;
    splice.attribute(shape, 'filled', paint ? null : 'f');
    if (paint) splice.attribute(shape, 'fillcolor', paint.colour);
    const own = child(shape, 'fill');
    if (own) splice.replace(own, '');
  }
  if (!equal(was.outline, now.outline)) {
    const { outline } = now;
    splice.attribute(shape, 'stroked', outline ? null : 'f');
    if (outline?.paint.kind === 'solid') splice.attribute(shape, 'strokecolor', outline.paint.colour);
    if (outline) splice.attribute(shape, 'strokeweight', `${outline.weight}pt`);
    const own = child(shape, 'stroke');
    if (own) splice.replace(own, '');
  }
  if (!equal(was.at, now.at)) placeOlder(splice, shape, change);
  const content = descend(shape, 'textbox', 'txbxContent');
  if (content && !equal(was.text, now.text)) restyleWords(splice, content, change);
}

/** Its `style` (ISO/IEC 29500-4 §14.1.2.19, shape) as far as it says sides, and how far they are from what they count from. */
function placeOlder(splice: Splice, shape: Element, { was, now }: Change): void {
  const style = styleOf(shape);
  const [from, to] = [was.at.box, now.at.box];
  const set = (name: string, before: number, value: number): void => {
    if (before === value) return;
    if (style.has(name)) style.set(name, `${trimNumber(value, 3)}pt`);
    // A share of the page would come before it.
    style.delete(`mso-${name}-percent`);
  };
  set('width', from.width, to.width);
  set('height', from.height, to.height);
  set('margin-left', from.x, to.x);
  set('margin-top', from.y, to.y);
  const align = now.at.on === 'anchor' ? now.at.anchor?.align : undefined;
  // What is aligned comes before it.
  if (!align?.x && from.x !== to.x) style.delete('mso-position-horizontal');
  if (!align?.y && from.y !== to.y) style.delete('mso-position-vertical');
  splice.attribute(shape, 'style', [...style].map(([k, v]) => `${k}:${v}`).join(';'));
}

const shapeIn = (e: Element): Element | undefined => {
  for (const c of e.children) {
    if (/^(shape|rect|roundrect|oval)$/.test(c.local) && c.uri === 'urn:schemas-microsoft-com:vml') return c;
    const within = shapeIn(c);
    if (within) return within;
  }
  return undefined;
};
