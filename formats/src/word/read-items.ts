import { cut, type Box, type Item, type ItemId, type PageItem, type Text } from '@gable/core';
import { MAX_ITEM_CHARS } from '../codec/contract';
import { alignedBox, type Room } from '../codec/beside-text';
import { isLaid } from '../codec/laid';
import type { Theme } from '../drawingml/colour';
import { graphicItem, readItems, type ItemReader } from '../drawingml/read-items';
import { isPicture, readLook, siteOf, WORD_SHAPE } from '../drawingml/read-picture';
import { readAnchor } from '../drawingml/text-anchor';
import { blockItem, textIn, wordColour, type Run } from '../drawingml/read-shape';
import type { Site } from '../drawingml/site';
import { NS } from '../ooxml/names';
import { ancestor, child, descend, type Element } from '../xml/located';
import { isOn, valueOf, type Properties } from './layout/properties';
import { colourOf, sizeOf } from './layout/run-style';
import type { WordStyles } from './layout/styles';

/**
 * What stands in a text or beside it: text boxes and shapes with their words, pictures, charts and diagrams, in their order.
 * Groups are taken apart, as they are for pictures.
 */
export function itemsInText(
  root: Element,
  { part, theme, styles, roomAt, ...told }: Omit<ItemReader, 'itemOf' | 'groupSite'> & Telling,
): PageItem[] {
  return readItems([root], {
    ...told,
    theme,
    // Deleted and moved-away text is no longer in the document (ISO/IEC 29500-1 §17.13.5); what was put in to be laid out is known.
    skips: (e) =>
      ((e.local === 'del' || e.local === 'moveFrom') && NS.word.has(e.uri)) ||
      (e.local === 'anchor' && isLaid(child(e, 'docPr')?.attributes['name'])),
    // That of its drawing (§20.4.2.5, docPr).
    numberOf: (e) =>
      child(
        ancestor(e, (a) => a.local === 'inline' || a.local === 'anchor'),
        'docPr',
      )?.attributes['id'],
    itemOf: (e, id) => itemOf(e, id, { part, theme, styles, roomAt }),
    within: (e) => [child(e, 'txbx')].flatMap((t) => t?.children ?? []),
    groupSite: () => null,
  });
}

interface Telling {
  part: string;
  theme: () => Theme;
  styles: () => WordStyles;
  /** The page that a drawing stands on. */
  roomAt: (holder: Element) => Room;
}

function itemOf(e: Element, id: ItemId, { part, theme, styles, roomAt }: Telling): Item | null {
  const isShape = e.local === 'wsp' && e.uri === WORD_SHAPE && !isPicture(e);
  const isKept = e.local === 'graphicData' && !e.children.some((c) => /^(pic|wsp|wgp|wpc)$/.test(c.local));
  const site = isShape || isKept ? siteOf(e, part) : null;
  if (!site) return null;
  let item: Item;
  if (isShape) item = blockItem(site, id, { theme, text: textOf(e, { site, theme, styles }) });
  else {
    const { box, turn } = readLook(site, theme);
    item = graphicItem(e, { id, box, turn, theme, lists: [] }) as Item;
  }
  return { ...item, at: placeOf(site, item.at.box, roomAt) };
}

/** Where it stands. A part of a group has no place of its own: what it counts from is not told. */
function placeOf({ holder, group }: Site & { holder: Element }, box: Box, roomAt: Telling['roomAt']): Item['at'] {
  const anchor = readAnchor(holder);
  if (!anchor) return { on: group ? 'anchor' : 'line', box };
  return group ? { on: 'anchor', box } : { on: 'anchor', box: alignedBox(box, anchor, () => roomAt(holder)), anchor };
}

const ALIGN: Readonly<Record<string, Text['paragraphs'][number]['align']>> = {
  center: 'centre',
  right: 'end',
  end: 'end',
  both: 'justify',
};

/** What a run says, in plain letters; nothing where it holds something else. */
export const wordsOfRun = (r: Element): string =>
  r.children.map((c) => (c.local === 't' ? c.text : c.local === 'tab' ? ' ' : c.local === 'br' ? '\n' : '')).join('');

/** The words of a text box ([MS-DOCX] wps:txbx with §17.3.1.22, p), with what the styles of the document say of them (§17.7.2). */
function textOf(
  shape: Element,
  { site, theme, styles: stylesOf }: { site: Site; theme: () => Theme; styles: () => WordStyles },
): Text | null {
  const content = descend(shape, 'txbx', 'txbxContent');
  if (!content) return null;
  const styles = stylesOf();
  const usual = wordColour(site, theme) ?? '#000000';
  let left = MAX_ITEM_CHARS;
  const runOf = (r: Element, paragraph: Properties): Run[] => {
    const text = cut(wordsOfRun(r), left);
    left -= text.length;
    if (text === '') return [];
    const run = styles.ofRun(r, paragraph);
    return [
      {
        text,
        font: styles.fontOf(run),
        size: sizeOf(run),
        weight: isOn(run, 'b') ? 700 : 400,
        italic: isOn(run, 'i'),
        underline: isOn(run, 'u'),
        paint: { kind: 'solid', colour: colourOf(valueOf(run, 'color')) ?? usual, opacity: 1 },
      },
    ];
  };
  const paragraphs = content.children
    .filter((p) => p.local === 'p')
    .map((p) => {
      const { paragraph, run } = styles.ofParagraph(p);
      return {
        align: ALIGN[valueOf(paragraph, 'jc') ?? ''] ?? ('start' as const),
        runs: p.children.flatMap((r) => (r.local === 'r' && left > 0 ? runOf(r, run) : [])),
      };
    });
  return textIn(
    [child(shape, 'bodyPr')].flatMap((b) => b ?? []),
    paragraphs,
  );
}
