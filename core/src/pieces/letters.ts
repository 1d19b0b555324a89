import { filled, tieTo, tiedItem, type Piece } from './piece';

/** Of the largest circle in the box of the picture. */
const SHARE = 0.62;
/** Letters are as high as this before they are fitted; their ratio counts. */
const HIGH = 40;

export const letters: Piece = {
  name: 'letters',
  label: 'Letters inside',
  note: 'centred by their ink',
  synonyms: ['monogram', 'initials', 'initial', 'logo', 'emblem'],
  items(context) {
    const shape = context.letters;
    if (!shape) return [];
    const size = { width: HIGH * (shape.drawn?.ratio ?? 1), height: HIGH };
    const tie = tieTo(context, { as: 'inside', share: SHARE });
    return [
      { item: tiedItem(context, { name: 'Letters', shape, fill: filled('#ffffff'), size, tie }), layer: 'front' },
    ];
  },
};
