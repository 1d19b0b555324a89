import { equal, type FramedItem, type Text } from '@gable/core';
import { otherWords } from '../codec/contract';
import { child, type Element } from '../xml/located';
import { escapeText, escapeXml, type Splice } from '../xml/splice';
import { boxWithin } from './group-space';
import { lineText, paintFill, transformText, type Naming } from './look-text';
import { fillText } from './shape-text';
import { share } from './values';
import { ALIGN, paragraphsText, typefaceOf } from './words-text';

const FILLS = ['noFill', 'solidFill', 'gradFill', 'blipFill', 'pattFill', 'grpFill'];
/** What stands behind the place of a shape, its fill and its line (ISO/IEC 29500-1 §20.1.2.2.35, spPr). */
const BEHIND_PLACE = ['custGeom', 'prstGeom', ...FILLS, 'ln', 'effectLst', 'effectDag', 'scene3d', 'sp3d', 'extLst'];
const BEHIND_FILL = BEHIND_PLACE.slice(BEHIND_PLACE.indexOf('ln'));
const BEHIND_LINE = BEHIND_FILL.slice(1);
/** What stands behind the fill of a run (§21.1.2.3.9, rPr). */
const BEHIND_INK = [
  ...['effectLst', 'effectDag', 'highlight', 'uLnTx', 'uLn', 'uFillTx', 'uFill'],
  ...['latin', 'ea', 'cs', 'sym', 'hlinkClick', 'hlinkMouseOver', 'rtl', 'extLst'],
];
const BEHIND_FACE = BEHIND_INK.slice(BEHIND_INK.indexOf('ea'));

type Write = (splice: Splice, shape: Element, change: { was: FramedItem; now: FramedItem }) => void;

/** What is written in other terms than those of shapes on slides. */
export interface Ways {
  /** The looks of its words. */
  words?: Write;
  /** Its place, its size and its turn. */
  place?: Write;
}

type Run = Text['paragraphs'][number]['runs'][number];

/**
 * Writes what of a shape looks otherwise: its place, its fill, its line, and the colours, sizes, weights and slants of its words. Of
 * a shape that Gable has tied the words can be others, too.
 * @param rid the relationship of the picture that a veil comes to, where that is another
 * @throws GableError `cannot-write` where words of another shape are not those that were read
 */
export function restyleShape(
  splice: Splice,
  shape: Element,
  { was, now, a, rid }: { was: FramedItem; now: FramedItem; a: Naming; rid: string | undefined },
  {
    words = (_, e, change) => restyleWords(splice, child(e, 'txBody'), { ...change, a }),
    place = (_, e, change) => placeShape(splice, e, { ...change, a }),
  }: Ways = {},
): void {
  const spPr = child(shape, 'spPr');
  if (spPr) {
    if (!equal([was.at, was.turn], [now.at, now.turn])) place(splice, shape, { was, now });
    if (rid !== undefined || !equal(was.fill, now.fill)) splice.slot(spPr, FILLS, BEHIND_FILL, fillText(a, now, rid));
    if (!equal(was.outline, now.outline)) {
      const none = `<${a.name('ln')}><${a.name('noFill')}/></${a.name('ln')}>`;
      splice.slot(spPr, ['ln'], BEHIND_LINE, now.outline ? lineText(a, now.outline, true) : none);
    }
  }
  if (!equal(was.text, now.text)) words(splice, shape, { was, now });
}

function placeShape(splice: Splice, shape: Element, { now, a }: { now: FramedItem; a: Naming }): void {
  const text = transformText(a.name(''), { box: boxWithin(shape, now.at.box), turn: now.turn, flip: now.flip });
  splice.slot(child(shape, 'spPr')!, ['xfrm'], BEHIND_PLACE, text);
}

function restyleWords(
  splice: Splice,
  body: Element | undefined,
  { was, now, a }: { was: FramedItem; now: FramedItem; a: Naming },
): void {
  const refuse = (): never => {
    throw otherWords(now.id);
  };
  const paragraphs = (body?.children ?? []).filter((p) => p.local === 'p');
  const [old, next] = [was.text?.paragraphs ?? [], now.text?.paragraphs ?? []];
  const tied = was.tie !== undefined;
  const [first, ...others] = paragraphs;
  // More or fewer lines: they are written like those of a new shape.
  const counts = (all: Text['paragraphs']): number[] => all.map((p) => p.runs.length);
  if (tied && now.text && first && !equal(counts(old), counts(next))) {
    splice.replace(first, paragraphsText(a, now.text));
    for (const p of others) splice.replace(p, '');
    return;
  }
  if (old.length !== next.length || paragraphs.length !== next.length) refuse();
  if (was.text?.anchor !== now.text?.anchor || !equal(was.text?.inset, now.text?.inset)) refuse();
  // Sizes are told as they are shown, where the shape shrinks its words (§21.1.2.1.3, normAutofit).
  const scale = share(child(child(body, 'bodyPr'), 'normAutofit')?.attributes['fontScale']) ?? 1;
  for (const [i, p] of paragraphs.entries()) {
    const elements = p.children.filter((r) => /^(r|fld|br)$/.test(r.local));
    const [before, after] = [old[i]!.runs, next[i]!.runs];
    const align = next[i]!.align;
    if (old[i]!.align !== align) {
      const pPr = child(p, 'pPr');
      if (pPr) splice.attribute(pPr, 'algn', ALIGN[align]);
      else splice.before(elements[0]!, `<${a.name('pPr')} algn="${ALIGN[align]}"/>`);
    }
    if (before.length !== after.length) refuse();
    for (const [j, run] of after.entries()) {
      const [element, was] = [elements[j]!, before[j]!];
      if (was.text !== run.text) {
        const words = child(element, 't');
        if (!tied || element.local !== 'r' || !words) refuse();
        else splice.content(words, escapeText(run.text));
      }
      if (!equal({ ...was, text: run.text }, run)) restyleRun(splice, element, { was, now: run, scale, a });
    }
  }
}

function restyleRun(
  splice: Splice,
  element: Element,
  { was, now, scale, a }: { was: Run; now: Run; scale: number; a: Naming },
): void {
  const said: [string, string][] = [
    ...(was.size === now.size ? [] : ([['sz', String(Math.round((now.size / scale) * 100))]] as [string, string][])),
    ...(was.weight === now.weight ? [] : ([['b', now.weight >= 600 ? '1' : '0']] as [string, string][])),
    ...(was.underline === now.underline ? [] : ([['u', now.underline ? 'sng' : 'none']] as [string, string][])),
    ...(was.italic === now.italic ? [] : ([['i', now.italic ? '1' : '0']] as [string, string][])),
  ];
  const ink = equal(was.paint, now.paint) ? null : paintFill(a, now.paint);
  const face = was.font === now.font ? '' : `<${a.name('latin')} typeface="${escapeXml(typefaceOf(a, now.font))}"/>`;
  const rPr = child(element, 'rPr');
  if (!rPr) {
    const xml = `<${a.name('rPr')}${said.map(([k, v]) => ` ${k}="${v}"`).join('')}>${ink ?? ''}${face}</${a.name('rPr')}>`;
    const [first] = element.children;
    if (first) splice.before(first, xml);
    else splice.append(element, xml);
    return;
  }
  for (const [name, value] of said) splice.attribute(rPr, name, value);
  if (ink !== null) splice.slot(rPr, FILLS, BEHIND_INK, ink);
  if (face) splice.slot(rPr, ['latin'], BEHIND_FACE, face);
}
