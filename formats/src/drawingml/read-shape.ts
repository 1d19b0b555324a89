import { cut, type Fill, type ForeignItem, type FramedItem, type Paint, type Text } from '@gable/core';
import { MAX_ITEM_CHARS } from '../codec/contract';
import { framedItem } from '../codec/page-items';
import { numeral, plainSymbols } from '../flow/numeral';
import { child, type Element } from '../xml/located';
import { readColour, type Theme } from './colour';
import { readLook, readRun, readStops } from './read-picture';
import type { Site } from './site';
import { integer, measure, share } from './values';
import { veilIn } from './veil-text';

const INK = '#22302f';
/** A run says its size in hundredths of a point (§21.1.2.3.9); one that says none takes what is usual (common practice). */
const USUAL_SIZE = 18;
const TITLE_SIZE = 36;
/** `lIns`, `tIns`, `rIns` and `bIns` where nothing is said: 0.1 and 0.05 inches (§21.1.2.1.1, bodyPr). */
const INSET = { across: 7.2, down: 3.6 };

/**
 * A shape that no picture fills, with its words: a coloured block, a text box, or both.
 * @param title is it a title, whose letters are larger where their size is not said?
 */
export function readShapeItem(
  site: Site,
  id: string,
  { theme, title, lists }: { theme: () => Theme; title: boolean; lists?: readonly Element[] | undefined },
): FramedItem | ForeignItem {
  const bodies = (site.inherited ?? []).flatMap((spPr) => child(spPr.parent, 'txBody') ?? []);
  const colour = child(site.style, 'fontRef');
  const text = readText(child(site.pic, 'txBody'), { theme, title, sources: { bodies, lists: lists ?? [], colour } });
  return blockItem(site, id, { theme, text });
}

/** A shape with words that were read before. */
export const blockItem = (
  site: Site,
  id: string,
  { theme, text }: { theme: () => Theme; text: Text | null },
): FramedItem | ForeignItem => framedItem(id, readLook(site, theme), readFill(site, theme), text);

/** The colour of words that say none themselves, where the style of their shape has one (§20.1.4.1.17, fontRef). */
export function wordColour(site: Site, theme: () => Theme): string | undefined {
  const ref = child(site.style, 'fontRef');
  return ref && readColour(ref, theme)?.colour;
}

/** The fill of a shape, its placeholder's, or what its style refers to (§20.1.4.2.10, fillRef). */
function readFill(site: Site, theme: () => Theme): Fill | null {
  for (const spPr of [site.spPr, ...(site.inherited ?? [])]) {
    const said = spPr?.children.find((c) => /^(no|solid|grad|blip|patt|grp)Fill$/.test(c.local));
    if (said) return said.local === 'blipFill' ? veilIn(said) : paintFill(paintOf(said, theme));
  }
  const ref = child(site.style, 'fillRef');
  const colour = ref && integer(ref.attributes['idx']) > 0 ? readColour(ref, theme) : null;
  return paintFill(colour && { kind: 'solid', ...colour });
}

const paintFill = (paint: Paint | null): Fill | null => paint && { kind: 'paint', paint };

function paintOf(fill: Element, theme: () => Theme): Paint | null {
  const of = fill.local === 'pattFill' ? child(fill, 'fgClr') : fill.local === 'solidFill' ? fill : undefined;
  const colour = of && readColour(of, theme);
  if (colour) return { kind: 'solid', ...colour };
  if (fill.local !== 'gradFill') return null;
  const stops = readStops(fill, theme);
  if (stops.length < 2) return null;
  return readRun(fill, stops);
}

const ALIGN: Readonly<Record<string, Text['paragraphs'][number]['align']>> = {
  l: 'start',
  ctr: 'centre',
  r: 'end',
  just: 'justify',
};

export type Run = Text['paragraphs'][number]['runs'][number];

/** What the words of a shape take from elsewhere. */
export interface TextSources {
  /** Bodies of the placeholders that it takes after, nearest first. */
  bodies: readonly Element[];
  /** Styles by levels beneath those: the master's for its kind, those of the whole deck. */
  lists: readonly Element[];
  /** The colour that its style gives to words (§20.1.4.1.17, fontRef). */
  colour: Element | undefined;
  /** Does its style make words bold that do not say it themselves? */
  bold?: boolean;
}
const NOWHERE: TextSources = { bodies: [], lists: [], colour: undefined };

/**
 * The words of a shape (§21.1.2.1, txBody) with what they take from the placeholders and the styles above them (§21.1.2.4.12,
 * lstStyle; §19.3.1.52, txStyles); null for none.
 */
export function readText(
  body: Element | undefined,
  { theme, title = false, sources = NOWHERE }: { theme: () => Theme; title?: boolean; sources?: TextSources },
): Text | null {
  const bodyPrs = [body, ...sources.bodies].flatMap((b) => child(b, 'bodyPr') ?? []);
  const fit = child(bodyPrs[0], 'normAutofit');
  const scale = share(fit?.attributes['fontScale']) ?? 1;
  const closer = share(fit?.attributes['lnSpcReduction']) ?? 0;
  const lists = [...[body, ...sources.bodies].flatMap((b) => child(b, 'lstStyle') ?? []), ...sources.lists];
  const numbers: number[] = [];
  let left = MAX_ITEM_CHARS;

  const paragraphOf = (p: Element): Text['paragraphs'][number] => {
    const own = child(p, 'pPr');
    const level = Math.min(8, integer(own?.attributes['lvl']));
    const styles = [...(own ? [own] : []), ...lists.flatMap((l) => child(l, `lvl${level + 1}pPr`) ?? [])];
    const attribute = (name: string): string | undefined =>
      styles.find((s) => s.attributes[name] !== undefined)?.attributes[name];
    const held = (...locals: string[]): Element | undefined => firstHeld(styles, locals);
    const usual = styles.flatMap((s) => child(s, 'defRPr') ?? []);
    const run = (r: Element, words: string): Run => {
      const looks = [...[child(r, 'rPr')].flatMap((e) => e ?? []), ...usual];
      const said = (name: string): string | undefined =>
        looks.find((l) => l.attributes[name] !== undefined)?.attributes[name];
      const [direct] = looks.length > usual.length ? looks : [];
      const fill =
        child(direct, 'solidFill') ??
        (sources.bodies.length === 0 ? sources.colour : undefined) ??
        firstHeld(usual, ['solidFill']);
      const colour = fill && readColour(fill, theme);
      const text = cut(words, left);
      left -= text.length;
      return {
        text,
        font: fontNamed(firstHeld(looks, ['latin'])?.attributes['typeface'], theme, title),
        size: Math.max(1, (integer(said('sz'), (title ? TITLE_SIZE : USUAL_SIZE) * 100) / 100) * scale),
        weight: (said('b') === undefined ? sources.bold : isSet(said('b'))) ? 700 : 400,
        italic: isSet(said('i')),
        underline: (said('u') ?? 'none') !== 'none',
        paint: { kind: 'solid', ...(colour ?? { colour: theme().colours.get('tx1') ?? INK, opacity: 1 }) },
      };
    };
    const runs = p.children.flatMap((r): Run[] =>
      left <= 0
        ? []
        : r.local === 'br'
          ? [run(r, '\n')]
          : r.local === 'r' || r.local === 'fld'
            ? [run(r, child(r, 't')?.text ?? '')]
            : [],
    );
    const bullet = runs.length > 0 ? bulletOf(held('buNone', 'buChar', 'buAutoNum', 'buBlip'), level, numbers) : '';
    const [margin, indent] = [measure(attribute('marL')) ?? 0, measure(attribute('indent')) ?? 0];
    const lines = share(child(held('lnSpc'), 'spcPct')?.attributes['val']);
    const before = held('spcBef');
    const size = runs[0]?.size ?? USUAL_SIZE;
    const above =
      integer(child(before, 'spcPts')?.attributes['val']) / 100 ||
      (share(child(before, 'spcPct')?.attributes['val']) ?? 0) * size;
    const apart = Math.max(0.1, (lines ?? 1) - closer);
    return {
      align: ALIGN[attribute('algn') ?? 'l'] ?? 'start',
      runs,
      ...(bullet && { bullet }),
      ...((margin !== 0 || (bullet && indent !== 0)) && { indent: { left: margin, first: indent } }),
      ...((above > 0 || apart !== 1) && { spacing: { before: above * scale, lines: apart } }),
    };
  };
  return textIn(bodyPrs, (body?.children ?? []).filter((p) => p.local === 'p').map(paragraphOf));
}

const isSet = (text: string | undefined): boolean => text === '1' || text === 'true';

/** The first of some properties that the nearest of several elements holds. */
function firstHeld(elements: readonly Element[], locals: readonly string[]): Element | undefined {
  for (const e of elements) {
    const found = e.children.find((c) => locals.includes(c.local));
    if (found) return found;
  }
  return undefined;
}

/** A font by its name; `+mj-lt` and `+mn-lt` are those of the theme (§20.1.10.81, ST_TextTypeface). */
function fontNamed(name: string | undefined, theme: () => Theme, title: boolean): string {
  const { major, minor } = theme().fonts;
  if (name === undefined || name === '') return title ? major : minor;
  if (!name.startsWith('+')) return name;
  return name.startsWith('+mj') ? major : minor;
}

/** Kinds of automatic numbers (§20.1.10.61, ST_TextAutonumberScheme) by what they begin with. */
const NUMBERED: readonly (readonly [string, string])[] = [
  ['alphaLc', 'lowerLetter'],
  ['alphaUc', 'upperLetter'],
  ['romanLc', 'lowerRoman'],
  ['romanUc', 'upperRoman'],
];

/** What stands before a paragraph, and counts it. @param numbers of the levels so far */
function bulletOf(e: Element | undefined, level: number, numbers: number[]): string {
  numbers.length = Math.min(numbers.length, level + 1);
  if (e?.local !== 'buAutoNum') numbers.length = Math.min(numbers.length, level);
  if (e?.local === 'buChar') return plainSymbols(e.attributes['char'] ?? '•');
  if (e?.local === 'buBlip') return '•';
  if (e?.local !== 'buAutoNum') return '';
  const type = e.attributes['type'] ?? 'arabicPeriod';
  numbers[level] = (numbers[level] ?? integer(e.attributes['startAt'], 1) - 1) + 1;
  const text = numeral(numbers[level], NUMBERED.find(([begin]) => type.startsWith(begin))?.[1] ?? 'decimal');
  return /ParenBoth$/.test(type)
    ? `(${text})`
    : /ParenR$/.test(type)
      ? `${text})`
      : /Period$/.test(type)
        ? `${text}.`
        : text;
}

/**
 * Words with what their bodies say of anchor and insets (§21.1.2.1.1, bodyPr), the nearest first; null where there are none.
 */
export function textIn(bodyPrs: readonly Element[], paragraphs: Text['paragraphs']): Text | null {
  if (paragraphs.every((p) => p.runs.every((r) => r.text.trim() === ''))) return null;
  const said = (name: string): string | undefined =>
    bodyPrs.find((b) => b.attributes[name] !== undefined)?.attributes[name];
  const inset = (name: string, usually: number): number => measure(said(name)) ?? usually;
  const anchor = said('anchor');
  return {
    paragraphs,
    anchor: anchor === 'ctr' ? 'middle' : anchor === 'b' ? 'bottom' : 'top',
    inset: {
      top: inset('tIns', INSET.down),
      right: inset('rIns', INSET.across),
      bottom: inset('bIns', INSET.down),
      left: inset('lIns', INSET.across),
    },
  };
}
