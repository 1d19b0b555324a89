import { itemIdOf, stackOf, type Document, type Page, type Placed } from '@gable/core';
import type { Work } from '@gable/contract';

/** What lies on a page, from the back; what counts from a cell of a sheet of cells is told where it lies on the sheet. */
export function stackOnSheet({ pictures }: Pick<Work, 'pictures'>, document: Document, page: Page): Placed[] {
  const origins = new Map(pictures.flatMap((p) => (p.origin ? [[itemIdOf(p), p.origin] as const] : [])));
  return stackOf(document, page).map((placed) => {
    const { at, id } = placed.item;
    const origin = at.on === 'cells' ? origins.get(at.beside ?? id) : undefined;
    const { box } = placed;
    return origin ? { ...placed, box: { ...box, x: box.x + origin.x, y: box.y + origin.y } } : placed;
  });
}
