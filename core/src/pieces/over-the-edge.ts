import { nameBelow } from './name-below';
import type { Piece } from './piece';
import { ring } from './ring';

export const overTheEdge: Piece = {
  name: 'over-the-edge',
  label: 'Over the edge',
  note: 'round, the head reaches out',
  synonyms: ['overstepping portrait', 'pop out', 'out of frame', 'head over the edge', 'cut out'],
  shape: 'circle',
  oversteps: ['top'],
  items: (context) => [
    // The ring lies behind what reaches out.
    ...ring.items(context).map(({ item }) => ({ item, layer: 'behind' as const })),
    ...nameBelow.items(context),
  ],
};
