import {
  cut,
  itemIdOf,
  type Box,
  type ForeignItem,
  type Item,
  type ItemId,
  type LayerContent,
  type PageItem,
  type Text,
} from '@gable/core';
import { MAX_ITEM_CHARS, MAX_PAGE_ITEMS, type Sheet } from '../codec/contract';
import { boxRound, foreignItem, framedItem, groupItem } from '../codec/page-items';
import { child, type Element } from '../xml/located';
import { is, lengthOf, Names, URIS } from './names';
import { placeOf, readLook } from './read-frame';
import type { Styles } from './styles';
import { TextStyles } from './text-styles';

/** An A4 page lying, for a page that names no layout. */
const DEFAULT_PAGE = { width: 841.9, height: 595.3 };

/** A page's or a master's part of the file: its root, and where its styles are looked for. */
interface Held {
  root: Element;
  part: string;
  styles: Styles | undefined;
}

/** What there is to read of the pages of a presentation or a drawing. */
export interface PagesSource {
  /** `office:presentation` or `office:drawing` */
  body: Element;
  /** Root of the styles part. */
  common: Element | undefined;
  /** Root of the content. */
  content: Element;
  styles: Styles;
  masterStyles: Styles | undefined;
  /** Numbers of its pictures, by their elements. */
  numbers: ReadonlyMap<Element, number>;
  boxOf: (n: number) => Box;
  /** Is told where each item stands. */
  elements: Map<ItemId, Element>;
}

/** The pages of a presentation or a drawing with what lies on them, and their masters under them. */
export function readPages({ body, common, content, styles, masterStyles, numbers, boxOf, elements }: PagesSource): {
  sheets: Sheet[];
  layers: LayerContent[];
} {
  const masters = new Map<string, Element>();
  for (const m of child(common, 'master-styles')?.children ?? []) {
    const name = new Names(m).get(m, 'style:name');
    if (name && is(m, 'style', 'master-page')) masters.set(name, m);
  }
  const layouts = new Map<string, { width: number; height: number }>();
  for (const l of child(common, 'automatic-styles')?.children ?? []) {
    const names = new Names(l);
    const properties = child(l, 'page-layout-properties');
    const width = lengthOf(names.get(properties, 'fo:page-width'));
    const height = lengthOf(names.get(properties, 'fo:page-height'));
    if (width && height) layouts.set(names.get(l, 'style:name') ?? '', { width, height });
  }
  const grounds = groundsOf(common, content);
  const left = { count: MAX_PAGE_ITEMS };
  const read = ({ root, part, styles: of }: Held, name: string, master: boolean): PageItem[] =>
    drawnIn(root, { part, styles: of, numbers, boxOf, name, left, master, elements });
  const layers = [...masters].map(([name, root], i) => ({
    id: `layer${i + 1}`,
    name,
    items: read({ root, part: 'styles.xml', styles: masterStyles }, `layer${i + 1}`, true),
  }));
  const sheets = body.children
    .filter((e) => is(e, 'draw', 'page'))
    .map((page, i): Sheet => {
      const names = new Names(page);
      const of = names.get(page, 'draw:master-page-name') ?? '';
      const master = masters.get(of);
      const layout = master && new Names(master).get(master, 'style:page-layout-name');
      return {
        ...(layouts.get(layout ?? '') ?? DEFAULT_PAGE),
        ...grounds(page, master),
        layers: layers.filter((l) => l.name === of).map((l) => l.id),
        items: read({ root: page, part: 'content.xml', styles }, `page${i + 1}`, false),
      };
    });
  return { sheets, layers };
}

/** What is drawn below an element, and how it is told. */
export interface Drawn {
  part: string;
  styles: Styles | undefined;
  /** Numbers of its pictures, by their elements. */
  numbers: ReadonlyMap<Element, number>;
  /** The box of a picture, as groups count. */
  boxOf: (n: number) => Box;
  /** Begins the names of its items. */
  name: string;
  /** How many may still be told. */
  left: { count: number };
  /** Are its placeholders only there for pages to fill? */
  master?: boolean;
  /** Do items stand in a text, like a letter or beside it? */
  inText?: boolean;
  /** Where the places of what stands in an element count from. Groups are taken apart where that is not the page's corner. */
  originOf?: (e: Element) => { x: number; y: number };
  /** Is told where each item stands, where that is wanted. */
  elements?: Map<ItemId, Element>;
}

/** Shapes, texts, pictures, groups, and what is kept, from the back to the front. */
export function drawnIn(
  root: Element,
  { part, styles, numbers, boxOf, name, left, master, inText, originOf, elements }: Drawn,
): PageItem[] {
  const items: PageItem[] = [];
  let count = 0;
  /** @returns the ids of what an element adds to what holds it */
  const visit = (e: Element): ItemId[] => {
    if (is(e, 'presentation', 'notes')) return [];
    const picture = numbers.get(e);
    if (picture !== undefined) {
      count++;
      items.push({ picture });
      return [itemIdOf({ n: picture })];
    }
    // Pictures are told however many items there are.
    if (left.count <= 0 || e.uri !== URIS.draw) return e.children.flatMap(visit);
    if (is(e, 'draw', 'g') && !originOf && !inText) return group(e);
    const names = new Names(e);
    const empty = names.get(e, 'presentation:placeholder') === 'true';
    const awaits = empty && !master && isForPictures(names.get(e, 'presentation:class'));
    const holder = (empty && !awaits) || (master && names.get(e, 'presentation:class'));
    const id = `${name}-${count + 1}`;
    const read = styles && !holder ? itemOf(e, { names, styles, part }, id) : null;
    if (!read) return e.children.flatMap(visit);
    const item: Item = awaits && read.kind === 'framed' ? { ...read, text: null, awaits: 'picture' } : read;
    elements?.set(id, e);
    items.push(originOf ? movedBy(item, originOf(e)) : inText ? inStory(item, names.get(e, 'text:anchor-type')) : item);
    count++;
    left.count--;
    // Pictures may stand among the words of a text box.
    return [id, ...e.children.flatMap(visit)];
  };
  /** A group has no place of its own (ODF 1.2 Part 1 §10.3.15, draw:g): its members say theirs on the page. */
  const group = (e: Element): ItemId[] => {
    const id = `${name}-${++count}`;
    const at = items.push({ picture: 0 }) - 1;
    left.count--;
    const children = e.children.flatMap(visit);
    const box = boxRound(items.slice(at + 1).map((i) => ('picture' in i ? boxOf(i.picture) : i.at.box)));
    const item = box && groupItem(id, children, { box });
    items.splice(at, 1, ...(item ? [item] : []));
    return item ? [id] : children;
  };
  root.children.forEach((e) => visit(e));
  return items;
}

/** Placeholders that a picture may take (ODF 1.2 Part 1 §19.389, presentation:class). */
const isForPictures = (kind: string | undefined): boolean => kind === 'graphic' || kind === 'object';

/** Like a letter in the text, or beside it (ODF 1.2 Part 1 §19, text:anchor-type). */
const inStory = (item: Item, anchor: string | undefined): Item => ({
  ...item,
  at: { on: anchor === 'as-char' ? 'line' : 'anchor', box: item.at.box },
});

const movedBy = (item: Item, { x, y }: { x: number; y: number }): Item => ({
  ...item,
  at: { ...item.at, box: { ...item.at.box, x: item.at.box.x + x, y: item.at.box.y + y } },
});

/** The pages' own grounds before those of their masters (ODF 1.2 Part 1 §20.3, drawing-page-properties). */
function groundsOf(
  common: Element | undefined,
  content: Element,
): (page: Element, master: Element | undefined) => Pick<Sheet, 'background' | 'backdrop'> {
  const find = backdropsOf(common, content);
  return (page, master) => {
    const found = find(page, master);
    return {
      background: (found && 'colour' in found && found.colour) || '#ffffff',
      ...(found && 'image' in found && { backdrop: true as const }),
    };
  };
}

type Ground = { colour: string } | { image: string };

/** The colour behind a page, or the name of the picture (`draw:fill-image`); null where nothing is said. */
export function backdropsOf(
  common: Element | undefined,
  content: Element,
): (page: Element, master: Element | undefined) => Ground | null {
  // Names are each part's own.
  const [own, shared] = [new TextStyles([content]), new TextStyles(common ? [common] : [])];
  const ground = (styles: TextStyles, e: Element | undefined): Ground | null => {
    const style = e && new Names(e).get(e, 'draw:style-name');
    const property = (name: string): string | undefined =>
      style === undefined ? undefined : styles.property('drawing-page', style, 'drawing-page-properties', name);
    const fill = property('draw:fill');
    const colour = /^#[0-9a-f]{6}$/i.exec(property('draw:fill-color') ?? '')?.[0].toLowerCase();
    const image = property('draw:fill-image-name');
    if (fill === 'bitmap' && image !== undefined) return { image };
    return fill === 'solid' && colour ? { colour } : null;
  };
  return (page, master) => ground(own, page) ?? ground(shared, master);
}

/** Drawn things that are kept and not edited, by their elements (ODF 1.2 Part 1 §10.3 and on). */
const KEPT: Readonly<Record<string, ForeignItem['what']>> = {
  connector: 'connector',
  line: 'connector',
  measure: 'connector',
  control: 'control',
};

/** A shape or a text box as an item, or what is kept; null for what is neither. */
export function itemOf(
  e: Element,
  { names, styles, part }: { names: Names; styles: Styles; part: string },
  id: string,
): Item | null {
  const boxed = is(e, 'draw', 'frame') && e.children[0] && is(e.children[0], 'draw', 'text-box');
  const drawn = is(e, 'draw', 'custom-shape', 'rect', 'circle', 'ellipse');
  const kept = e.uri === URIS.draw ? KEPT[e.local] : undefined;
  if (kept) return foreignItem({ id, what: kept, box: lineBox(e, names) });
  const width = lengthOf(names.get(e, 'svg:width'));
  const height = lengthOf(names.get(e, 'svg:height')) ?? lengthOf(names.get(e.children[0], 'fo:min-height'));
  if (!width || !height) return null;
  const { turn, x, y } = placeOf(e, names, { width, height });
  const box = { x, y, width, height };
  if (!boxed && !drawn) {
    if (!is(e, 'draw', 'frame') || !e.children[0]) return null;
    const what = is(e.children[0], 'table', 'table') ? 'table' : 'object';
    return foreignItem({ id, what, box, turn, label: what === 'table' ? 'Table' : 'Object' });
  }
  const style = names.get(e, 'draw:style-name') ?? names.get(e, 'presentation:style-name');
  const kind = styles.property(style, 'draw:fill') ?? (boxed ? 'none' : 'solid');
  if (kind === 'bitmap') return null;
  const site = { part, element: e, image: null, names, styles, style, inText: false, frameFlow: 'floating' as const };
  const stroke = styles.property(style, 'draw:stroke') ?? (boxed ? 'none' : 'solid');
  const look = { ...readLook(site, { width, height }), box, turn };
  const colour = /#[0-9a-f]{6}/i.exec(styles.property(style, 'draw:fill-color') ?? '')?.[0].toLowerCase();
  const paint = kind === 'solid' ? { kind: 'solid' as const, colour: colour ?? '#dddddd', opacity: 1 } : null;
  const title = names.get(e, 'presentation:class') === 'title';
  return framedItem(
    id,
    stroke === 'none' ? { ...look, outline: null } : look,
    paint && { kind: 'paint', paint },
    textOf(linesOf(e), title),
  );
}

/** A line goes from one corner of its box to the other. */
function lineBox(e: Element, names: Names): Box {
  const at = (name: 'svg:x1' | 'svg:x2' | 'svg:y1' | 'svg:y2'): number => lengthOf(names.get(e, name)) ?? 0;
  const [x1, x2, y1, y2] = [at('svg:x1'), at('svg:x2'), at('svg:y1'), at('svg:y2')];
  const side = (a: number, b: number): number => Math.max(0.1, Math.abs(b - a));
  return { x: Math.min(x1, x2), y: Math.min(y1, y2), width: side(x1, x2), height: side(y1, y2) };
}

/** The words of a shape; null where it has none. */
export const wordsOf = (e: Element): Text | null => textOf(linesOf(e), false);

function textOf(lines: readonly string[], title: boolean): Text | null {
  const words = cut(lines.join('\n'), MAX_ITEM_CHARS);
  if (words.trim() === '') return null;
  const paint = { kind: 'solid' as const, colour: '#22302f', opacity: 1 };
  const run = { font: '', size: title ? 32 : 16, weight: 400, italic: false, underline: false, paint };
  return {
    paragraphs: words
      .split('\n')
      .map((text) => ({ align: title ? 'centre' : 'start', runs: text ? [{ ...run, text }] : [] })),
    anchor: 'top',
    inset: { top: 4, right: 4, bottom: 4, left: 4 },
  };
}

/** Paragraphs of a text box. */
function linesOf(e: Element): string[] {
  if (is(e, 'text', 'p', 'h')) return [flat(e)];
  return e.children.flatMap(linesOf);
}

const flat = (e: Element): string => (e.text + e.children.map(flat).join('')).replace(/\s+/g, ' ').trim();
