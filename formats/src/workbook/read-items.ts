import { cellNamed, nameOfCell, type PageItem } from '@gable/core';
import type { Theme } from '../drawingml/colour';
import { type ItemReader, readItems, drawnItem } from '../drawingml/read-items';
import { freeSiteOf } from '../drawingml/read-picture';
import type { Site } from '../drawingml/site';
import { type Element, child } from '../xml/located';
import { anchorAbove, anchorOf } from './anchor';
import { type Grid } from './grid';

/** The cell whose content a shape shows (ISO/IEC 29500-1 §20.5.2.29, textlink). @param sheet that it lies on */
function cellIn(link: string | undefined, sheet: string): string | null {
  const said = (link ?? '').trim();
  const name = cellNamed(said);
  if (name) return nameOfCell({ ...name, sheet: name.sheet === sheet ? null : name.sheet });
  // A name of the file is kept as it is.
  return said.slice(0, 255) || null;
}

/** What lies over the cells of a sheet: shapes, texts, pictures, groups, and charts, which are kept. */
export function itemsOn(
  root: Element,
  {
    part,
    sheet,
    grid,
    theme,
    told,
  }: {
    part: string;
    sheet: string;
    grid: () => Grid;
    theme: () => Theme;
    told: Omit<ItemReader, 'theme' | 'itemOf' | 'groupSite'>;
  },
): PageItem[] {
  const siteOf = (e: Element): Site => {
    const anchor = anchorAbove(e);
    return { ...freeSiteOf(e, part), ...(anchor && { anchor: anchorOf(anchor, e, grid) }) };
  };
  return readItems(root.children, {
    ...told,
    theme,
    itemOf(e, id) {
      const item = drawnItem(e, siteOf(e), { id, theme });
      const cell = cellIn(e.attributes['textlink'], sheet);
      if (!cell || !item || !('kind' in item) || item.kind !== 'framed' || !item.text) return item;
      return { ...item, text: { ...item.text, cell } };
    },
    groupSite: (e) => ({ ...siteOf(e), spPr: child(e, 'grpSpPr'), style: undefined }),
  });
}
