import type { Room } from '../codec/beside-text';
import { child, type Element } from '../xml/located';
import { groundOfLayout } from './ground';
import { is, lengthOf, Names } from './names';

/** A page of a text with the room of its header and footer, where it has them: how high at least, and how far from the text. */
export interface PageLayout extends Room {
  header: Margin;
  footer: Margin;
  /** Between two columns. */
  gap: number;
  /** `#rrggbb` behind it; null where it says none. */
  ground: string | null;
}
interface Margin {
  least: number;
  gap: number;
}
const NO_MARGIN: Margin = { least: 0, gap: 0 };

/** A4 with 2 cm all round (common practice), where no layout is named; in points. */
const DEFAULT: PageLayout = {
  width: 595.3,
  height: 841.9,
  margins: { top: 56.7, right: 56.7, bottom: 56.7, left: 56.7 },
  columns: 1,
  header: NO_MARGIN,
  footer: NO_MARGIN,
  gap: 0,
  ground: null,
};

/** A master page of a text (ODF 1.2 Part 1 §16.9, style:master-page). */
export interface Master {
  page: PageLayout;
  next: string | undefined;
  header: Element | undefined;
  footer: Element | undefined;
  /** Of its first page, where that has its own (ODF 1.3 Part 3 §16.11 and on, from memory). */
  firstHeader: Element | undefined;
  firstFooter: Element | undefined;
}

/** The master pages by name, and that with which a text begins. @param common the root of `styles.xml` */
export function mastersOf(common: Element | undefined): { masters: Map<string, Master>; first: Master } {
  const layouts = layoutsOf(common);
  const masters = new Map<string, Master>();
  for (const m of child(common, 'master-styles')?.children ?? []) {
    const n = new Names(m);
    if (!is(m, 'style', 'master-page')) continue;
    const own = (local: string): Element | undefined => m.children.find((c) => is(c, 'style', local));
    masters.set(n.get(m, 'style:name') ?? '', {
      page: layouts.get(n.get(m, 'style:page-layout-name') ?? '') ?? DEFAULT,
      next: n.get(m, 'style:next-style-name'),
      header: own('header'),
      footer: own('footer'),
      firstHeader: own('header-first'),
      firstFooter: own('footer-first'),
    });
  }
  const first = masters.get('Standard') ?? [...masters.values()][0];
  const none = {
    next: undefined,
    header: undefined,
    footer: undefined,
    firstHeader: undefined,
    firstFooter: undefined,
  };
  return { masters, first: first ?? { page: DEFAULT, ...none } };
}

/** Pages by the name of their layout (§16.5, style:page-layout). */
function layoutsOf(root: Element | undefined): Map<string, PageLayout> {
  const out = new Map<string, PageLayout>();
  for (const l of child(root, 'automatic-styles')?.children ?? []) {
    const p = child(l, 'page-layout-properties');
    if (!p) continue;
    const n = new Names(p);
    const length = (name: string): number | null => lengthOf(n.get(p, `fo:${name}`));
    const all = length('margin');
    const side = (name: keyof Room['margins']): number => length(`margin-${name}`) ?? all ?? DEFAULT.margins[name];
    const columns = child(p, 'columns');
    out.set(new Names(l).get(l, 'style:name') ?? '', {
      width: length('page-width') ?? DEFAULT.width,
      height: length('page-height') ?? DEFAULT.height,
      margins: { top: side('top'), right: side('right'), bottom: side('bottom'), left: side('left') },
      columns: Math.max(1, Number(columns && new Names(columns).get(columns, 'fo:column-count')) || 1),
      gap: lengthOf(columns && new Names(columns).get(columns, 'fo:column-gap')) ?? 0,
      header: marginOf(child(l, 'header-style'), 'bottom'),
      footer: marginOf(child(l, 'footer-style'), 'top'),
      ground: groundOfLayout(p),
    });
  }
  return out;
}

/** The room of headers or footers (§16.6, style:header-style). @param side on which the text is */
function marginOf(style: Element | undefined, side: 'top' | 'bottom'): Margin {
  const p = child(style, 'header-footer-properties');
  if (!p) return NO_MARGIN;
  const n = new Names(p);
  const gap = lengthOf(n.get(p, `fo:margin-${side}`)) ?? lengthOf(n.get(p, 'fo:margin')) ?? 0;
  const height = lengthOf(n.get(p, 'svg:height')) ?? lengthOf(n.get(p, 'fo:min-height')) ?? 0;
  return { least: Math.max(0, height - gap), gap };
}
