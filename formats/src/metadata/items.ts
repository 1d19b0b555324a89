import { FramedSchema, type FramedItem } from '@gable/core';
import { digest } from './digest';

/**
 * What Gable has put around a picture, where its format says it in parts (lines of text, a shape): all of it travels beside these, with
 * a digest of their markup, and counts only while they are as they were written.
 */
export const ITEM_NAMESPACE = 'urn:gable:item:1';

export function encodeItem({ id, tie, ...item }: FramedItem, markup: string): string {
  void [id, tie];
  return JSON.stringify({ digest: digest(markup), item });
}

/** The item as it was written, at its place of then, under another name; null when the markup was changed since, or is not Gable's. */
export function decodeItem(text: string | undefined, markup: string, id: string): FramedItem | null {
  try {
    const known = JSON.parse(text ?? 'null') as { digest?: unknown; item?: unknown } | null;
    if (known?.digest !== digest(markup)) return null;
    return FramedSchema.parse({ ...(known.item as object), id });
  } catch {
    return null;
  }
}
