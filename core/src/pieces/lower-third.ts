import { filled, heightOfWords, sizeFor, tieTo, tiedItem, wordsOf, type Piece } from './piece';

export const lowerThird: Piece = {
  name: 'lower-third',
  label: 'Name over it',
  note: 'on a dark strip',
  synonyms: ['lower third', 'caption over', 'name strip', 'title bar'],
  items(context) {
    const { drawn, font, words } = context;
    const size = sizeFor(drawn.height, 0.09);
    const text = wordsOf(font, [{ text: words.name, size, weight: 700, ink: '#ffffff', align: 'centre' }], {
      inset: size * 0.35,
    });
    const item = tiedItem(context, {
      ...{ text, fill: filled('#000000', 0.6), size: { width: drawn.width, height: heightOfWords(text, drawn.width) } },
      tie: tieTo(context, { as: 'over', side: 'bottom', gap: Math.round(drawn.height * 0.12), share: 1 }),
    });
    return [{ item, layer: 'front' }];
  },
};
