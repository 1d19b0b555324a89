import { cut } from '@gable/core';
import { child, type Element } from '../xml/located';
import { MAX_PREVIEW_SHAPES, MAX_PREVIEW_CHARS, type Piece, type Sheet } from '../codec/contract';
import { is, lengthOf, Names } from './names';
import { placeOf } from './read-frame';
import type { Styles } from './styles';
import { TextStyles } from './text-styles';

/** An A4 page lying, for a page that names no layout. */
const USUAL = { width: 841.9, height: 595.3 };

/**
 * The pages of a presentation or a drawing, with their texts and filled boxes, roughly.
 * @param body `office:presentation` or `office:drawing`
 * @param common root of the styles part
 * @param content root of the content
 */
export function sheetsOf(
  body: Element,
  common: Element | undefined,
  content: Element,
  styles: Styles,
  masterStyles: Styles | undefined,
): Sheet[] {
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
  let left = MAX_PREVIEW_SHAPES;
  const pieces = (root: Element, of: Styles | undefined, master: boolean): Piece[] => {
    const out: Piece[] = [];
    const visit = (e: Element): void => {
      if (left <= 0 || is(e, 'presentation', 'notes')) return;
      const names = new Names(e);
      const holder =
        names.get(e, 'presentation:placeholder') === 'true' || (master && names.get(e, 'presentation:class'));
      const piece = of && !holder ? pieceOf(e, names, of) : null;
      if (piece) {
        out.push(piece);
        left--;
      } else e.children.forEach(visit);
    };
    root.children.forEach(visit);
    return out;
  };
  return body.children
    .filter((e) => is(e, 'draw', 'page'))
    .map((page) => {
      const names = new Names(page);
      const master = masters.get(names.get(page, 'draw:master-page-name') ?? '');
      const layout = master && new Names(master).get(master, 'style:page-layout-name');
      const behind = master ? pieces(master, masterStyles, true) : [];
      return {
        ...(layouts.get(layout ?? '') ?? USUAL),
        ...grounds(page, master),
        pieces: [...behind, ...pieces(page, styles, false)],
      };
    });
}

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

function pieceOf(e: Element, names: Names, styles: Styles): Piece | null {
  const boxed = is(e, 'draw', 'frame') && e.children[0] && is(e.children[0], 'draw', 'text-box');
  if (!boxed && !is(e, 'draw', 'custom-shape', 'rect', 'circle', 'ellipse')) return null;
  const width = lengthOf(names.get(e, 'svg:width'));
  const height = lengthOf(names.get(e, 'svg:height')) ?? lengthOf(names.get(e.children[0], 'fo:min-height'));
  if (!width || !height) return null;
  const style = names.get(e, 'draw:style-name') ?? names.get(e, 'presentation:style-name');
  const kind = styles.property(style, 'draw:fill') ?? (boxed ? 'none' : 'solid');
  if (kind === 'bitmap') return null;
  const colour = /#[0-9a-f]{6}/i.exec(styles.property(style, 'draw:fill-color') ?? '')?.[0].toLowerCase();
  const { turn, x, y } = placeOf(e, names, { width, height });
  return {
    box: { x, y, width, height },
    turn,
    fill: kind === 'solid' ? (colour ?? '#dddddd') : null,
    text: cut(linesOf(e).join('\n'), MAX_PREVIEW_CHARS),
    size: names.get(e, 'presentation:class') === 'title' ? 32 : 16,
    colour: '#22302f',
    align: names.get(e, 'presentation:class') === 'title' ? 'center' : 'left',
  };
}

/** Paragraphs of a text box. */
function linesOf(e: Element): string[] {
  if (is(e, 'text', 'p', 'h')) return [flat(e)];
  return e.children.flatMap(linesOf);
}

const flat = (e: Element): string => (e.text + e.children.map(flat).join('')).replace(/\s+/g, ' ').trim();
