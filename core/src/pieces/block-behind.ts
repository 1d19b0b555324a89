import { accentOn, filled, tieTo, tiedItem, type Piece } from './piece';

export const blockBehind: Piece = {
  name: 'block-behind',
  label: 'Block behind',
  note: 'a coloured panel',
  synonyms: ['panel', 'card', 'background', 'box', 'coloured block'],
  items(context) {
    const { drawn, ground, colours } = context;
    const gap = Math.round(Math.min(drawn.width, drawn.height) * 0.08);
    const tie = tieTo(context, { as: 'behind', gap });
    return [{ item: tiedItem(context, { fill: filled(accentOn(ground, colours)), tie }), layer: 'behind' }];
  },
};
