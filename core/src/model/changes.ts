import { z } from 'zod';
import { ItemSchema, type Document, type Item } from './document';
import { equal } from './equal';

/**
 * What a work differs in from its file, as it is stored: each changed item whole. What the file says itself is not stored a
 * second time. A later version is read by a step of its own in `readChanges`.
 */
export const ChangesSchema = z.strictObject({
  version: z.literal(1),
  items: z.record(z.string(), ItemSchema),
});
export type Changes = z.infer<typeof ChangesSchema>;

export const NO_CHANGES: Changes = { version: 1, items: {} };

/** Stored changes, of this version or an older one. @throws ZodError for what no version has written */
export const readChanges = (stored: unknown): Changes => ChangesSchema.parse(stored);

/** The document of a file with what was changed. */
export function withChanges(document: Document, { items }: Changes): Document {
  const known = Object.entries(items).filter(([id]) => document.items[id]);
  return known.length === 0 ? document : { ...document, items: { ...document.items, ...Object.fromEntries(known) } };
}

/** Items that are not as the file has them. @param document made of `file` by `withChanges` or operations that set properties */
export function changesFrom(file: Document, document: Document): Changes {
  const items: Record<string, Item> = {};
  for (const [id, item] of Object.entries(document.items)) {
    const was = file.items[id];
    if (!equal(was, item)) items[id] = item;
  }
  return { version: 1, items };
}
