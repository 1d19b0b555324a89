import { cut, type Fill, type ForeignItem, type FramedItem, type Paint, type Text } from '@gable/core';
import { MAX_ITEM_CHARS } from '../codec/contract';
import { framedItem } from '../codec/page-items';
import { child, descend, type Element } from '../xml/located';
import { readColour, type Theme } from './colour';
import { readLook, readRun, readStops } from './read-picture';
import type { Site } from './site';
import { integer, measure, share } from './values';

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
  { theme, title }: { theme: () => Theme; title: boolean },
): FramedItem | ForeignItem {
  return blockItem(site, id, { theme, text: readText(child(site.pic, 'txBody'), { theme, title }) });
}

/** A shape with words that were read before. */
export const blockItem = (
  site: Site,
  id: string,
  { theme, text }: { theme: () => Theme; text: Text | null },
): FramedItem | ForeignItem => framedItem(id, readLook(site, theme), readFill(site, theme), text);

/** The fill of a shape, its placeholder's, or what its style refers to (§20.1.4.2.10, fillRef). */
function readFill(site: Site, theme: () => Theme): Fill | null {
  for (const spPr of [site.spPr, ...(site.inherited ?? [])]) {
    const said = spPr?.children.find((c) => /^(no|solid|grad|blip|patt|grp)Fill$/.test(c.local));
    if (said) return paintFill(paintOf(said, theme));
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

/** The words of a shape (§21.1.2.1, txBody); null for none. */
export function readText(
  body: Element | undefined,
  { theme, title = false }: { theme: () => Theme; title?: boolean },
): Text | null {
  const bodyPr = child(body, 'bodyPr');
  const scale = share(child(bodyPr, 'normAutofit')?.attributes['fontScale']) ?? 1;
  const usual = descend(body, 'lstStyle', 'lvl1pPr', 'defRPr');
  let left = MAX_ITEM_CHARS;
  const run = (r: Element, words: string): Run => {
    const rPr = child(r, 'rPr');
    const attribute = (name: string): string | undefined => rPr?.attributes[name] ?? usual?.attributes[name];
    const fill = child(rPr, 'solidFill') ?? child(usual, 'solidFill');
    const colour = fill && readColour(fill, theme);
    const text = cut(words, left);
    left -= text.length;
    return {
      text,
      font: child(rPr, 'latin')?.attributes['typeface'] ?? '',
      size: Math.max(1, (integer(attribute('sz'), (title ? TITLE_SIZE : USUAL_SIZE) * 100) / 100) * scale),
      weight: attribute('b') === '1' || attribute('b') === 'true' ? 700 : 400,
      italic: attribute('i') === '1' || attribute('i') === 'true',
      underline: (attribute('u') ?? 'none') !== 'none',
      paint: { kind: 'solid', ...(colour ?? { colour: INK, opacity: 1 }) },
    };
  };
  const paragraphs = (body?.children ?? [])
    .filter((p) => p.local === 'p')
    .map((p) => ({
      align: ALIGN[child(p, 'pPr')?.attributes['algn'] ?? 'l'] ?? ('start' as const),
      runs: p.children.flatMap((r): Run[] =>
        left <= 0
          ? []
          : r.local === 'br'
            ? [run(r, '\n')]
            : r.local === 'r' || r.local === 'fld'
              ? [run(r, child(r, 't')?.text ?? '')]
              : [],
      ),
    }));
  return textIn(bodyPr, paragraphs);
}

/** Words with what their body says of anchor and insets (§21.1.2.1.1, bodyPr); null where there are none. */
export function textIn(bodyPr: Element | undefined, paragraphs: Text['paragraphs']): Text | null {
  if (paragraphs.every((p) => p.runs.every((r) => r.text.trim() === ''))) return null;
  const inset = (name: string, usually: number): number => measure(bodyPr?.attributes[name]) ?? usually;
  const anchor = bodyPr?.attributes['anchor'];
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
