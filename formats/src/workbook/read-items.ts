import type { PageItem } from '@gable/core';
import type { Theme } from '../drawingml/colour';
import { type ItemReader, readItems, drawnItem } from '../drawingml/read-items';
import { freeSiteOf } from '../drawingml/read-picture';
import type { Site } from '../drawingml/site';
import { type Element, child } from '../xml/located';
import { anchorAbove, anchorOf } from './anchor';
import { type Grid } from './grid';

/** What lies over the cells of a sheet: shapes, texts, pictures, groups, and charts, which are kept. */
export function itemsOn(
  root: Element,
  {
    part,
    grid,
    theme,
    told,
  }: { part: string; grid: () => Grid; theme: () => Theme; told: Omit<ItemReader, 'theme' | 'itemOf' | 'groupSite'> },
): PageItem[] {
  const siteOf = (e: Element): Site => {
    const anchor = anchorAbove(e);
    return { ...freeSiteOf(e, part), ...(anchor && { anchor: anchorOf(anchor, e, grid) }) };
  };
  return readItems(root.children, {
    ...told,
    theme,
    itemOf: (e, id) => drawnItem(e, siteOf(e), { id, theme }),
    groupSite: (e) => ({ ...siteOf(e), spPr: child(e, 'grpSpPr'), style: undefined }),
  });
}
