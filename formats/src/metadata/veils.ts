import { FillSchema, isVeil, type VeilFill } from '@gable/core';

/**
 * A veil shows what lies beneath it blurred. Where a format cannot say that, it is a shape with a picture of it; that it is one is told
 * beside that picture, which goes where another fill takes its place.
 */
export const VEIL_NAMESPACE = 'urn:gable:veil:1';

/** The attribute of an element in a drawing or of a shape that tells it. */
export const VEIL_ATTRIBUTE = 'data-gable-veil';

export const encodeVeil = ({ paint, blur }: VeilFill): string => JSON.stringify({ paint, blur });

/** The fill as it was written; null for what is none. */
export function decodeVeil(text: string | undefined): VeilFill | null {
  if (text === undefined) return null;
  try {
    const fill = FillSchema.parse({ kind: 'paint', ...(JSON.parse(text) as object) });
    return isVeil(fill) ? fill : null;
  } catch {
    return null;
  }
}
