import { heightOfWords, inkOn, roomierSide, sizeFor, tieTo, tiedItem, wordsOf, type Piece } from './piece';

export const nameBeside: Piece = {
  name: 'name-beside',
  label: 'Name beside',
  note: 'name and a second line',
  synonyms: ['caption', 'label', 'name and address', 'contact', 'business card'],
  items(context) {
    const { drawn, ground, colours, font, words } = context;
    const { side, room } = roomierSide(context);
    const align = side === 'right' ? 'start' : 'end';
    const ink = inkOn(ground, colours);
    const size = sizeFor(drawn.height, 0.14);
    const text = wordsOf(font, [
      { text: words.name, size, weight: 700, ink, align },
      { text: words.more, size: Math.max(9, Math.round(size * 0.6 * 2) / 2), ink, align },
    ]);
    const gap = Math.round(drawn.width * 0.08);
    const width = Math.max(48, Math.min(room - 2 * gap, Math.max(drawn.width * 1.6, size * 11)));
    const item = tiedItem(context, {
      ...{ text, size: { width, height: heightOfWords(text, width) } },
      tie: tieTo(context, { as: 'beside', side, gap, align: 'centre' }),
    });
    return [{ item, layer: 'front' }];
  },
};
