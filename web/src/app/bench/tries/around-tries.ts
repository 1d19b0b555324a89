import { canStand, PIECES, shapedFor } from '@gable/core';
import type { Try, TryContext } from './try';

/** What may stand round the picture: each piece with the author's own picture and words. */
export const aroundTries = ({ around, ...own }: TryContext): Try[] =>
  !around
    ? []
    : PIECES.filter((piece) => canStand(piece, around)).flatMap((piece): Try[] => {
        const { frame, context } = shapedFor(piece, around, own);
        const made = piece.items(context);
        if (made.length === 0) return [];
        const { name, label, note } = piece;
        const entry = label.toLowerCase();
        const cutsOut = piece.oversteps !== undefined && !frame.overstep;
        const id = `around-${name}`;
        return [{ id, label, note, frame, current: false, entry, add: { made, context }, ...(cutsOut && { cutsOut }) }];
      });
