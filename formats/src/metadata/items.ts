import { FramedSchema, type FramedItem } from '@gable/core';
import { z } from 'zod';
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

/** An item beside a picture, for a format that cannot keep it as it is: to be taken out of the file again, and put in anew. */
export interface BesideItem {
  /** What the file calls its picture. */
  of: string;
  side: 'before' | 'behind';
  /** What it follows of those beside the same picture, from 0 in their order; the picture where nothing is said. */
  follows?: number;
  item: FramedItem;
}

/** @param all that stands beside the same picture, in its order */
export function encodeBeside(
  item: FramedItem,
  all: readonly FramedItem[],
  place: Pick<BesideItem, 'of' | 'side'>,
): string {
  const { id, at, tie, ...look } = item;
  void id;
  const follows = all.findIndex((other) => other.id === tie?.to);
  const { beside, ...own } = { beside: undefined, ...at };
  void beside;
  // Whatever it follows is called by its place here.
  const known = { ...look, at: own, ...(tie && { tie: { ...tie, to: 'followed' } }) };
  return JSON.stringify(sorted({ ...place, ...(follows >= 0 && { follows }), item: known }));
}

/** A value whose keys stand in one order, however it was stored. */
function sorted(value: unknown): unknown {
  if (Array.isArray(value)) return value.map(sorted);
  if (typeof value !== 'object' || value === null) return value;
  const all = Object.entries(value).sort(([x], [y]) => (x < y ? -1 : 1));
  return Object.fromEntries(all.map(([key, own]) => [key, sorted(own)]));
}

/** As it was written, under another name; null for what is none. Whether the file still says the same has to be seen by writing it anew. */
export function decodeBeside(text: string, id: string): BesideItem | null {
  try {
    const { of, side, follows, item } = BesideSchema.parse(JSON.parse(text));
    return { of, side, ...(follows !== undefined && { follows }), item: FramedSchema.parse({ ...item, id }) };
  } catch {
    return null;
  }
}
const BesideSchema = z.object({
  of: z.string().max(80),
  side: z.enum(['before', 'behind']),
  follows: z.number().int().min(0).max(1000).optional(),
  item: z.record(z.string(), z.unknown()),
});

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
