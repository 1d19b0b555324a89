import {
  defaultKnobs,
  findShape,
  frameOfItem,
  isPictureItem,
  withChildren,
  type Document,
  type PictureItem,
} from '@gable/core';

/**
 * Pictures page by page, layer by layer and story by story, as frames: what must come back of a document. Where their data are
 * is no matter: a new picture's are in the file once it is written.
 */
export function shown(document: Document): object[][] {
  const lists = [...document.pages, ...document.layers, ...document.stories].map(({ items }) =>
    items
      .flatMap((id) => withChildren(document, id))
      .filter((id) => isPictureItem(document.items[id]!))
      .map((id) => {
        const { n, shape, seat, source, ...frame } = frameOfItem(document.items[id] as PictureItem, 1);
        const { free, ...seated } = seat;
        // No format has words for what the box was before.
        void [n, source, free];
        const known = findShape(shape.name);
        return {
          ...frame,
          seat: seated,
          shape: { ...shape, knobs: { ...(known && defaultKnobs(known)), ...shape.knobs } },
        };
      }),
  );
  // A text without pictures is none of the document's stories.
  return lists.filter((list) => list.length > 0);
}
