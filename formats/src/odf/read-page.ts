import {
  clamp,
  itemIdOf,
  parseSvgPath,
  toSvgPath,
  transform,
  withoutArcs,
  type Box,
  type ForeignItem,
  type Item,
  type ItemId,
  type LayerContent,
  type PageItem,
  type Path,
  type PlacedPicture,
} from '@gable/core';
import { shapeOfPath } from '../codec/named-shape';
import { MAX_PAGE_ITEMS, type Sheet } from '../codec/contract';
import { alignedBox, type Room } from '../codec/beside-text';
import { isLaid } from '../codec/laid';
import { boxRound, foreignItem, framedItem, groupItem } from '../codec/page-items';
import { withTiesThatHold } from '../codec/tied';
import { ancestor, child, type Element } from '../xml/located';
import { anchorOf } from './anchor';
import { is, lengthOf, Names, URIS, percentOf } from './names';
import { hasBorder, placeOf, readLook, veilOf } from './read-frame';
import type { Site } from './site';
import type { Styles } from './styles';
import { TextStyles } from './text-styles';
import { readTable } from './read-table';
import { tiedItems } from './ties';
import { readWords, type WordStyles } from './words';

/** An A4 page lying, for a page that names no layout. */
const DEFAULT_PAGE = { width: 841.9, height: 595.3 };

/** A page's or a master's part of the file: its root, and where its styles are looked for. */
interface Held {
  root: Element;
  part: string;
  styles: Styles | undefined;
  words: WordStyles;
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
  words: WordStyles;
  masterWords: WordStyles;
  /** Numbers of its pictures, by their elements. */
  numbers: ReadonlyMap<Element, number>;
  boxOf: (n: number) => Box;
  /** Is told where each item stands. */
  elements: Map<ItemId, Element>;
  hasLikeness: (e: Element) => boolean;
  pictures: readonly PlacedPicture[];
}

/** The pages of a presentation or a drawing with what lies on them, and their masters under them. */
export function readPages(source: PagesSource): { sheets: Sheet[]; layers: LayerContent[] } {
  const {
    body,
    common,
    content,
    styles,
    masterStyles,
    words,
    masterWords,
    numbers,
    boxOf,
    elements,
    hasLikeness,
    pictures,
  } = source;
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
  const read = ({ root, part, styles: of, words: by }: Held, name: string, master: boolean): PageItem[] =>
    drawnIn(root, { part, styles: of, words: by, numbers, boxOf, name, left, master, elements, hasLikeness });
  const layers = [...masters].map(([name, root], i) => ({
    id: `layer${i + 1}`,
    name,
    items: read({ root, part: 'styles.xml', styles: masterStyles, words: masterWords }, `layer${i + 1}`, true),
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
        items: tiedItems(read({ root: page, part: 'content.xml', styles, words }, `page${i + 1}`, false), {
          numbers,
          elements,
        }),
      };
    });
  return { sheets: withTiesThatHold(sheets, pictures), layers };
}

/** What is drawn below an element, and how it is told. */
export interface Drawn {
  part: string;
  styles: Styles | undefined;
  words: WordStyles;
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
  /** The page of a text, where items stand in one, like a letter or beside it. */
  room?: () => Room;
  /** Where the places of what stands in an element count from, where that is not the page's corner. */
  originOf?: (e: Element) => { x: number; y: number };
  /** Is told where each item stands, where that is wanted. */
  elements?: Map<ItemId, Element>;
  hasLikeness?: ItemWith['hasLikeness'];
}

/** Shapes, texts, pictures, groups, and what is kept, from the back to the front. */
export function drawnIn(
  root: Element,
  { part, styles, words, numbers, boxOf, name, left, master, room, originOf, elements, hasLikeness }: Drawn,
): PageItem[] {
  const items: PageItem[] = [];
  const inText = room !== undefined;
  let [count, groups] = [0, 0];
  /** @returns the ids of what an element adds to what holds it */
  const visit = (e: Element): ItemId[] => {
    if (is(e, 'presentation', 'notes')) return [];
    const picture = numbers.get(e);
    if (picture !== undefined) {
      items.push({ picture });
      return [itemIdOf({ n: picture })];
    }
    // Pictures are told however many items there are.
    if (left.count <= 0 || !(e.uri === URIS.draw || is(e, 'dr3d', 'scene'))) return e.children.flatMap(visit);
    if (is(e, 'draw', 'g') && !inText) return group(e);
    const names = new Names(e);
    const empty = names.get(e, 'presentation:placeholder') === 'true';
    const awaits = empty && !master && isForPictures(names.get(e, 'presentation:class'));
    const holder = (empty && !awaits) || (master && names.get(e, 'presentation:class'));
    // What was put into a text to be laid out with it is known.
    if (inText && isLaid(names.get(e, 'draw:name'))) return [];
    const id = `${name}-${count + 1}`;
    const read = styles && !holder ? itemOf(e, { names, styles, part, words, inText, hasLikeness }, id) : null;
    if (!read) return e.children.flatMap(visit);
    const item: Item = awaits && read.kind === 'framed' ? { ...read, text: null, awaits: 'picture' } : read;
    elements?.set(id, e);
    items.push(
      originOf ? movedBy(item, originOf(e)) : room ? inStory(item, siteIn(e, { names, styles: styles! }), room) : item,
    );
    count++;
    left.count--;
    // Pictures may stand among the words of a text box.
    return [id, ...e.children.flatMap(visit)];
  };
  /** A group has no place of its own (ODF 1.2 Part 1 §10.3.15, draw:g): its members say theirs on the page. */
  const group = (e: Element): ItemId[] => {
    // On a sheet they are counted by themselves: what is in one that is taken apart is called as it was.
    const id = originOf ? `${name}-g${++groups}` : `${name}-${++count}`;
    const at = items.push({ picture: 0 }) - 1;
    left.count--;
    const children = e.children.flatMap(visit);
    const box = boxRound(items.slice(at + 1).map((i) => ('picture' in i ? boxOf(i.picture) : i.at.box)));
    const item = box && groupItem(id, children, { box });
    items.splice(at, 1, ...(item ? [item] : []));
    if (item) elements?.set(id, e);
    return item ? [id] : children;
  };
  root.children.forEach((e) => visit(e));
  return items;
}

/** Placeholders that a picture may take (ODF 1.2 Part 1 §19.389, presentation:class). */
const isForPictures = (kind: string | undefined): boolean => kind === 'graphic' || kind === 'object';

/** Like a letter in the text, or beside it. A part of a group has no place of its own: what it counts from is not told. */
const siteIn = (element: Element, { names, styles }: Pick<Site, 'names' | 'styles'>): Site => ({
  ...{ part: '', element, image: null, names, styles, style: names.get(element, 'draw:style-name') },
  ...{ inText: true, frameFlow: 'floating' },
});

function inStory(item: Item, site: Site, room: () => Room): Item {
  const { box } = item.at;
  if (ancestor(site.element, (a) => is(a, 'draw', 'g'))) return { ...item, at: { on: 'anchor', box } };
  const anchor = anchorOf(site, site.names.get(site.element, 'text:anchor-type'));
  return { ...item, at: anchor ? { on: 'anchor', box: alignedBox(box, anchor, room), anchor } : { on: 'line', box } };
}

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
/** Forms that say themselves how they are drawn (§10.3.5 to §10.3.7). */
const WAYS = ['path', 'polygon', 'polyline', 'regular-polygon'] as const;

/** What an item is read with. */
interface ItemWith {
  names: Names;
  styles: Styles;
  part: string;
  words: WordStyles | null;
  /** Is it in a text, where text boxes have a border and a background? */
  inText?: boolean | undefined;
  /** Has the file a picture of something that is not shown? */
  hasLikeness?: ((e: Element) => boolean) | undefined;
}

/** A shape or a text box as an item, or what is kept; null for what is neither. */
export function itemOf(
  e: Element,
  { names, styles, part, words, inText = false, hasLikeness }: ItemWith,
  id: string,
): Item | null {
  const boxed = is(e, 'draw', 'frame') && e.children[0] !== undefined && is(e.children[0], 'draw', 'text-box');
  const way = WAYS.some((local) => is(e, 'draw', local));
  const drawn = way || is(e, 'draw', 'custom-shape', 'rect', 'circle', 'ellipse', 'caption');
  const style = names.get(e, 'draw:style-name') ?? names.get(e, 'presentation:style-name');
  const site = { part, element: e, image: null, names, styles, style, inText, frameFlow: 'floating' as const };
  const kept = e.uri === URIS.draw ? KEPT[e.local] : undefined;
  if (kept === 'connector') return lineItem(site, id);
  const width = lengthOf(names.get(e, 'svg:width'));
  const height = lengthOf(names.get(e, 'svg:height')) ?? lengthOf(names.get(e.children[0], 'fo:min-height'));
  if (!width || !height) return kept ? foreignItem({ id, what: kept, box: lineBox(e, names) }) : null;
  const { turn, x, y } = placeOf(e, names, { width, height });
  const box = { x, y, width, height };
  if (kept) return foreignItem({ id, what: kept, box, turn, label: 'Form field' });
  if (!boxed && !drawn) {
    if (is(e, 'draw', 'page-thumbnail')) return null;
    if (!is(e, 'draw', 'frame') && !is(e, 'dr3d', 'scene')) return null;
    const [what, label] = kindOf(e);
    const table = what === 'table' && words ? readTable(e.children[0]!, box, words) : [];
    const item = foreignItem({ id, what, box, turn, ...(table.length > 0 ? { preview: table } : { label }) });
    return hasLikeness?.(e) ? { ...item, likeness: true } : item;
  }
  const behind = boxed && inText ? hexIn(styles.property(style, 'fo:background-color')) : undefined;
  const kind = styles.property(style, 'draw:fill') ?? (boxed && !behind ? 'none' : 'solid');
  const veil = kind === 'bitmap' ? veilOf(e) : null;
  if (kind === 'bitmap' && !way && !veil) return null;
  const isLined = hasBorder(site) || (styles.property(style, 'draw:stroke') ?? (boxed ? 'none' : 'solid')) !== 'none';
  const look = { ...readLook(site, { width, height }), box, turn };
  const opacity = clamp(percentOf(styles.property(style, 'draw:opacity')) ?? 1, 0, 1);
  const colour = hexIn(styles.property(style, 'draw:fill-color')) ?? behind;
  const open = is(e, 'draw', 'polyline');
  const paint = kind === 'solid' && !open ? { kind: 'solid' as const, colour: colour ?? '#dddddd', opacity } : null;
  const family = names.get(e, 'draw:style-name') === undefined ? 'presentation' : 'graphic';
  const drawnWay = way ? wayOf(e, names) : null;
  return framedItem(
    id,
    {
      ...look,
      ...(drawnWay && { shape: shapeOfPath(drawnWay, { width, height }, 'Shape of the file') }),
      ...(!isLined && { outline: null }),
    },
    veil ?? (paint && { kind: 'paint', paint }),
    words && readWords(e, { family, style, boxed }, words),
  );
}

const hexIn = (text: string | undefined): string | undefined => /#[0-9a-f]{6}/i.exec(text ?? '')?.[0].toLowerCase();

/** What stands in a frame, by what it begins with (§10.4). */
function kindOf(e: Element): [ForeignItem['what'], string] {
  const first = e.children[0];
  if (is(e, 'dr3d', 'scene') || !first) return ['other', 'Drawing'];
  if (is(first, 'table', 'table')) return ['table', 'Table'];
  if (is(first, 'draw', 'plugin')) return ['object', 'Video or sound'];
  if (is(first, 'draw', 'image')) return ['other', 'Picture'];
  return ['object', is(first, 'draw', 'object') ? 'Chart or object' : 'Object'];
}

/** A line, a connector or a measure, with its own way where it says one (§10.3.10, draw:connector). */
function lineItem(site: Site, id: string): ForeignItem {
  const { element: e, names, styles, style } = site;
  const box = lineBox(e, names);
  const at = (name: 'svg:x1' | 'svg:x2' | 'svg:y1' | 'svg:y2'): number => lengthOf(names.get(e, name)) ?? 0;
  const [x1, x2, y1, y2] = [at('svg:x1'), at('svg:x2'), at('svg:y1'), at('svg:y2')];
  const along = (a: number, from: number, size: number): number => (a - from) / size;
  const way = is(e, 'draw', 'connector') ? connectorWay(e, names, { x1, y1, x2, y2 }) : null;
  const straight: Path = [
    { op: 'M', x: along(x1, box.x, box.width), y: along(y1, box.y, box.height) },
    { op: 'L', x: along(x2, box.x, box.width), y: along(y2, box.y, box.height) },
  ];
  const path = toSvgPath(way ?? straight, 6);
  const { outline } = readLook(site, box);
  const has = (end: 'start' | 'end'): boolean => (styles.property(style, `draw:marker-${end}`) ?? '') !== '';
  const shape = { name: 'custom', knobs: {}, drawn: { path, ratio: null, label: 'Line' } };
  return foreignItem({
    ...{ id, what: 'connector', box },
    look: { shape, outline, paint: null, tips: { start: has('start'), end: has('end') } },
  });
}

/** The way of a connector in shares of its box; `svg:d` counts in hundredths of a millimetre where its view box does. */
function connectorWay(
  e: Element,
  names: Names,
  { x1, y1, x2, y2 }: Record<'x1' | 'x2' | 'y1' | 'y2', number>,
): Path | null {
  const d = names.get(e, 'svg:d');
  const read = d === undefined ? null : readWay(d);
  if (!read) return null;
  // It begins and ends where the connector does: that tells the units.
  const [from, to] = [read[0], read.at(-1)];
  if (from?.op !== 'M' || !to || to.op === 'Z') return null;
  const scale = (a: number, b: number, p: number, q: number): [number, number] | null =>
    Math.abs(b - a) < 1e-6 ? null : [(q - p) / (b - a), p - (a * (q - p)) / (b - a)];
  const across = scale(from.x, to.x, x1, x2);
  const down = scale(from.y, to.y, y1, y2);
  const k = across?.[0] ?? down?.[0];
  if (k === undefined) return null;
  const [kx, ox] = across ?? [k, x1 - from.x * k];
  const [ky, oy] = down ?? [k, y1 - from.y * k];
  const box = lineBox(e, names);
  return transform(read, [kx / box.width, 0, 0, ky / box.height, (ox - box.x) / box.width, (oy - box.y) / box.height]);
}

function readWay(d: string): Path | null {
  try {
    return withoutArcs(parseSvgPath(d));
  } catch {
    return null;
  }
}

/** The outline of a form in shares of its box, by its view box (§19.570, svg:viewBox). */
function wayOf(e: Element, names: Names): Path | null {
  const [x = 0, y = 0, width = 0, height = 0] = (names.get(e, 'svg:viewBox') ?? '').split(/[\s,]+/).map(Number);
  const corners = Number(names.get(e, 'draw:corners') ?? 0);
  if (is(e, 'draw', 'regular-polygon')) return corners >= 3 ? regular(Math.min(200, corners)) : null;
  const points = (names.get(e, 'draw:points') ?? '').trim().split(/\s+/);
  const d =
    names.get(e, 'svg:d') ?? (points.length > 1 ? `M${points.join('L')}${is(e, 'draw', 'polygon') ? 'Z' : ''}` : '');
  const path = width > 0 && height > 0 ? readWay(d) : null;
  return path && transform(path, [1 / width, 0, 0, 1 / height, -x / width, -y / height]);
}

/** A regular polygon that stands on its tip's other end, in its box. */
function regular(corners: number): Path {
  const all = Array.from({ length: corners }, (_, i) => (i / corners) * 2 * Math.PI - Math.PI / 2);
  return [
    ...all.map((a, i) => ({ op: i === 0 ? 'M' : 'L', x: 0.5 + Math.cos(a) / 2, y: 0.5 + Math.sin(a) / 2 }) as const),
    { op: 'Z' },
  ];
}

/** A line goes from one corner of its box to the other. */
function lineBox(e: Element, names: Names): Box {
  const at = (name: 'svg:x1' | 'svg:x2' | 'svg:y1' | 'svg:y2'): number => lengthOf(names.get(e, name)) ?? 0;
  const [x1, x2, y1, y2] = [at('svg:x1'), at('svg:x2'), at('svg:y1'), at('svg:y2')];
  const side = (a: number, b: number): number => Math.max(0.1, Math.abs(b - a));
  return { x: Math.min(x1, x2), y: Math.min(y1, y2), width: side(x1, x2), height: side(y1, y2) };
}
