import { PIECES } from '@gable/core';
import type { Try, TryContext } from './try';

/** What may stand round the picture: each piece with the author's own picture and words. */
export const aroundTries = ({ frame, around }: TryContext): Try[] =>
  !around
    ? []
    : PIECES.map((piece) => ({ piece, add: piece.items(around) }))
        .filter(({ add }) => add.length > 0)
        .map(({ piece, add }) => ({
          id: `around-${piece.name}`,
          label: piece.label,
          note: piece.note,
          frame,
          current: false,
          entry: piece.label.toLowerCase(),
          add,
        }));
