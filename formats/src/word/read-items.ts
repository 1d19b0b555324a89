import { cut, type Item, type ItemId, type PageItem, type Text } from '@gable/core';
import { MAX_ITEM_CHARS } from '../codec/contract';
import { isLaid } from '../codec/laid';
import type { Theme } from '../drawingml/colour';
import { graphicItem, readItems, type ItemReader } from '../drawingml/read-items';
import { isPicture, readLook, siteOf, WORD_SHAPE } from '../drawingml/read-picture';
import { blockItem, textIn, type Run } from '../drawingml/read-shape';
import { NS } from '../ooxml/names';
import { ancestor, attributeOf, child, descend, type Element } from '../xml/located';

/** Letters of a text that says no size, in points (common practice; the styles of the document are not asked). */
const USUAL_SIZE = 11;

/**
 * What stands in a text or beside it: text boxes and shapes with their words, pictures, charts and diagrams, in their order.
 * Groups are taken apart, as they are for pictures.
 */
export function itemsInText(
  root: Element,
  { part, theme, ...told }: Omit<ItemReader, 'itemOf' | 'groupSite'> & { part: string },
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
    itemOf: (e, id) => itemOf(e, id, part, theme),
    within: (e) => [child(e, 'txbx')].flatMap((t) => t?.children ?? []),
    groupSite: () => null,
  });
}

function itemOf(e: Element, id: ItemId, part: string, theme: () => Theme): Item | null {
  const isShape = e.local === 'wsp' && e.uri === WORD_SHAPE && !isPicture(e);
  const isKept = e.local === 'graphicData' && !e.children.some((c) => /^(pic|wsp|wgp|wpc)$/.test(c.local));
  const site = isShape || isKept ? siteOf(e, part) : null;
  if (!site) return null;
  const on = site.holder.local === 'inline' ? ('line' as const) : ('anchor' as const);
  let item: Item;
  if (isShape) item = blockItem(site, id, { theme, text: textOf(e, theme) });
  else {
    const { box, turn } = readLook(site, theme);
    item = graphicItem(e, { id, box, turn, theme, lists: [] }) as Item;
  }
  return { ...item, at: { on, box: item.at.box } };
}

const ALIGN: Readonly<Record<string, Text['paragraphs'][number]['align']>> = {
  center: 'centre',
  right: 'end',
  end: 'end',
  both: 'justify',
};

/** A font by its name, or of the theme where it refers to that (§17.3.2.26, rFonts; §17.18.96, ST_Theme). */
function fontOf(rFonts: Element | undefined, theme: () => Theme): string {
  const role = /^(major|minor)/.exec(attributeOf(rFonts, 'asciiTheme') ?? '')?.[1] as 'major' | 'minor' | undefined;
  return (role && theme().fonts[role]) || (attributeOf(rFonts, 'ascii') ?? '');
}

/** What a run says, in plain letters; nothing where it holds something else. */
export const wordsOfRun = (r: Element): string =>
  r.children.map((c) => (c.local === 't' ? c.text : c.local === 'tab' ? ' ' : c.local === 'br' ? '\n' : '')).join('');

/** The words of a text box ([MS-DOCX] wps:txbx with §17.3.1.22, p). */
function textOf(shape: Element, theme: () => Theme): Text | null {
  const content = descend(shape, 'txbx', 'txbxContent');
  let left = MAX_ITEM_CHARS;
  const runOf = (r: Element): Run[] => {
    const text = cut(wordsOfRun(r), left);
    left -= text.length;
    if (text === '') return [];
    const rPr = child(r, 'rPr');
    const said = (name: string): string | undefined => attributeOf(child(rPr, name), 'val');
    const isOn = (name: string): boolean =>
      child(rPr, name) !== undefined && !['0', 'false', 'off', 'none'].includes(said(name) ?? '1');
    const colour = said('color') ?? '';
    return [
      {
        text,
        font: fontOf(child(rPr, 'rFonts'), theme),
        size: Math.max(1, Number(said('sz') ?? 2 * USUAL_SIZE) / 2 || USUAL_SIZE),
        weight: isOn('b') ? 700 : 400,
        italic: isOn('i'),
        underline: isOn('u'),
        paint: {
          kind: 'solid',
          colour: /^[0-9a-f]{6}$/i.test(colour) ? `#${colour.toLowerCase()}` : '#000000',
          opacity: 1,
        },
      },
    ];
  };
  const paragraphs = (content?.children ?? [])
    .filter((p) => p.local === 'p')
    .map((p) => ({
      align: ALIGN[attributeOf(descend(p, 'pPr', 'jc'), 'val') ?? ''] ?? ('start' as const),
      runs: p.children.flatMap((r) => (r.local === 'r' && left > 0 ? runOf(r) : [])),
    }));
  return textIn(
    [child(shape, 'bodyPr')].flatMap((b) => b ?? []),
    paragraphs,
  );
}
