import type { PageItem } from '@gable/core';
import { readColour, type Theme } from '../drawingml/colour';
import { placeholderOf } from '../drawingml/free-walk';
import { drawnItem, readItems, type ItemReader } from '../drawingml/read-items';
import { freeSiteOf } from '../drawingml/read-picture';
import { attributeOf, child, descend, type Element } from '../xml/located';
import { tiedItems } from './ties';
import { awaitsPicture } from '../drawingml/fill-shape';

/** A part whose shapes lie on a slide: the master's and the layout's behind its own. */
export interface Layer {
  part: string;
  root: Element;
  theme: () => Theme;
  /** Shape properties that a placeholder takes after, nearest first. */
  takesAfter(e: Element): Element[];
  /** Styles by levels that the words of a shape take after, nearest first. */
  listsFor(e: Element): Element[];
  /** Has the file a picture of something that is not shown? */
  hasLikeness(e: Element): boolean;
  /** The deck's styles of tables, by their names. */
  tableStyle(id: string): Element | undefined;
  own: boolean;
}

/**
 * The relationship of the picture behind a slide, and the part that names it (§19.3.1.1, bg): the nearest background counts,
 * the slide's own before its layout's and its master's.
 */
export function backdropOf(layers: readonly Layer[]): { part: string; id: string } | null {
  const nearest = [...layers].reverse().find(({ root }) => descend(root, 'cSld', 'bg'));
  const blip = nearest && descend(nearest.root, 'cSld', 'bg', 'bgPr', 'blipFill', 'blip');
  const id = attributeOf(blip, 'embed');
  return nearest && id !== undefined ? { part: nearest.part, id } : null;
}

/**
 * The shapes, texts, pictures and groups of a slide, a layout or a master, in their order. What is not edited (charts, tables,
 * connectors) is there as well.
 */
export function itemsOf(
  { root, part, theme, takesAfter, listsFor, hasLikeness, tableStyle, own }: Layer,
  told: Pick<ItemReader, 'numbers' | 'name' | 'left' | 'elements'>,
): PageItem[] {
  const items = readItems(descend(root, 'cSld', 'spTree')?.children ?? [], {
    ...told,
    theme,
    // Placeholders of masters and layouts only say where a slide's own go.
    skips: (e) => !own && placeholderOf(e) !== undefined,
    itemOf(e, id) {
      const site = { ...freeSiteOf(e, part), inherited: takesAfter(e) };
      const title = /title/i.test(placeholderOf(e)?.attributes['type'] ?? '');
      const item = drawnItem(e, site, { id, theme, title, lists: listsFor(e), styles: tableStyle });
      if (!item || !('kind' in item)) return item;
      if (item.kind === 'framed' && awaitsPicture(e)) return { ...item, awaits: 'picture' };
      return item.kind === 'foreign' && !item.look && hasLikeness(e) ? { ...item, likeness: true } : item;
    },
    groupSite: (e) => ({ ...freeSiteOf(e, part), spPr: child(e, 'grpSpPr'), style: undefined }),
  });
  return own ? tiedItems(items, told) : items;
}

/** The colour behind a part; null where it says none. */
export function groundOf({ root, theme }: Layer): string | null {
  const bg = descend(root, 'cSld', 'bg');
  const fill = descend(bg, 'bgPr', 'solidFill') ?? child(bg, 'bgRef');
  const stops = descend(bg, 'bgPr', 'gradFill', 'gsLst')?.children ?? [];
  // Of a gradient its middle: where frames lie is seen on that as well.
  const middle = stops[Math.floor((stops.length - 1) / 2)];
  const of = fill ?? middle;
  return (of && readColour(of, theme)?.colour) ?? null;
}
