import { overVeil, sizeFor, wordsOf, type Piece } from './piece';

export const headingOver: Piece = {
  name: 'heading-over',
  label: 'Heading over',
  note: 'the picture darkened',
  synonyms: ['title over', 'hero', 'banner text', 'overlay', 'words on picture'],
  items(context) {
    const { drawn, font, words } = context;
    const size = sizeFor(Math.min(drawn.width * 0.6, drawn.height), 0.16);
    const text = wordsOf(font, [{ text: words.heading, size, weight: 700, ink: '#ffffff', align: 'centre' }]);
    return overVeil(context, text, 0.9);
  },
};
