import { isAdded, type Document, type ItemId } from '@gable/core';

/**
 * Before the pages of a text are laid out, what was added to it is put in under names by which it is known again in its markup: it
 * bears `data-added` there.
 */
const MARK = 'Gable laid out ';

/** A document whose added items have such names. */
export function withLaidNames(document: Document): Document {
  const items = { ...document.items };
  for (const item of Object.values(items)) if (isAdded(item.id)) items[item.id] = { ...item, name: MARK + item.id };
  return { ...document, items };
}

/** The added item that a name in a file stands for; null for any other name. */
const laidItem = (name: string | undefined): ItemId | null => {
  const id = name?.startsWith(MARK) ? name.slice(MARK.length) : '';
  return isAdded(id) ? id : null;
};

/** Is that the name of an added item? */
export const isLaid = (name: string | undefined): boolean => laidItem(name) !== null;

/**
 * What the markup says of an added item: its name, and that it is not seen where it lies before the text. Who shows the pages paints
 * it there, over its picture.
 */
export const laidMarkup = (name: string | undefined, behind: boolean): string => {
  const id = laidItem(name);
  return id === null ? '' : ` data-added="${id}"${behind ? '' : ' data-unseen'}`;
};
