import { filled, heightOfWords, sizeFor, tieTo, tiedItem, wordsOf, type Piece } from './piece';

/** Of the veil under the words, until what the picture needs is worked out. */
const DIM = 0.4;

export const headingOver: Piece = {
  name: 'heading-over',
  label: 'Heading over',
  note: 'the picture darkened',
  synonyms: ['title over', 'hero', 'banner text', 'overlay', 'words on picture'],
  items(context) {
    const { drawn, font, words } = context;
    const size = sizeFor(Math.min(drawn.width * 0.6, drawn.height), 0.16);
    const text = wordsOf(font, [{ text: words.heading, size, weight: 700, ink: '#ffffff', align: 'centre' }]);
    const veil = tiedItem(context, {
      ...{ name: 'Veil', fill: filled('#000000', DIM) },
      tie: tieTo(context, { as: 'around' }),
    });
    const item = tiedItem(context, {
      ...{ text, size: { width: drawn.width * 0.9, height: heightOfWords(text, drawn.width * 0.9) } },
      tie: tieTo(context, { as: 'over', share: 0.9 }),
    });
    return [
      { item: veil, layer: 'front' },
      { item, layer: 'front' },
    ];
  },
};
