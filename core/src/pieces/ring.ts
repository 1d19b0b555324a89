import { accentOn, line, tieTo, tiedItem, type Piece } from './piece';

export const ring: Piece = {
  name: 'ring',
  label: 'Ring',
  note: 'a second outline',
  synonyms: ['second outline', 'halo', 'circle round', 'double border', 'frame round'],
  items(context) {
    const { drawn, ground, colours } = context;
    const side = Math.min(drawn.width, drawn.height);
    const weight = Math.max(1, Math.round(side * 0.015 * 2) / 2);
    const tie = tieTo(context, { as: 'around', gap: Math.max(3, Math.round(side * 0.045)) });
    const outline = line(weight, accentOn(ground, colours));
    return [{ item: tiedItem(context, { outline, tie }), layer: 'front' }];
  },
};
