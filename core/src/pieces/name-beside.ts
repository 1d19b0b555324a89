import { heightOfWords, inkOn, roomierSide, sizeFor, tieTo, tiedItem, wordsOf, type Piece } from './piece';

/** Less room than this beside a picture holds no name; in points. */
const LEAST = 110;

/** Beside a text a name is no larger than a heading; in points. */
export const LARGE = 20;

export const nameBeside: Piece = {
  name: 'name-beside',
  label: 'Name beside',
  note: 'name and a second line',
  synonyms: ['caption', 'label', 'name and address', 'contact', 'business card'],
  items(context) {
    const { drawn, flows, ground, colours, font, words } = context;
    const roomier = roomierSide(context);
    // A picture as wide as its page has its name below.
    const isBeside = roomier.room >= LEAST;
    const side = isBeside ? roomier.side : 'bottom';
    const room = isBeside ? roomier.room : drawn.width * 1.1;
    const align = side === 'left' ? 'end' : 'start';
    const ink = inkOn(ground, colours);
    const size = Math.min(sizeFor(drawn.height, 0.14), flows ? LARGE : Infinity);
    const text = wordsOf(font, [
      { text: words.name, size, weight: 700, ink, align },
      { text: words.more, size: Math.max(9, Math.round(size * 0.6 * 2) / 2), ink, align },
    ]);
    const gap = Math.round(drawn.width * 0.08);
    const width = Math.max(48, Math.min(room - 2 * gap, Math.max(drawn.width * 1.6, size * 11)));
    const item = tiedItem(context, {
      ...{ text, size: { width, height: heightOfWords(text, width) } },
      tie: tieTo(context, { as: 'beside', side, gap: isBeside ? gap : Math.round(gap / 4), align: 'centre' }),
    });
    return [{ item, layer: 'front' }];
  },
};
