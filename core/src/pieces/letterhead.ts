import {
  accentOn,
  filled,
  heightOfWords,
  inkOn,
  roomierSide,
  sizeFor,
  tieTo,
  tiedItem,
  wordsOf,
  type Piece,
} from './piece';

export const letterhead: Piece = {
  name: 'letterhead',
  label: 'Letterhead',
  note: 'round, with name and address',
  synonyms: ['letter head', 'business letter', 'header', 'contact', 'name and address', 'portrait'],
  shape: 'circle',
  items(context) {
    const { drawn, page, ground, colours, font, words } = context;
    const accent = accentOn(ground, colours);
    const ink = inkOn(accent, colours);
    const { side, room } = roomierSide(context);
    const align = side === 'right' ? 'start' : 'end';
    const pad = Math.round(Math.min(drawn.width, drawn.height) * 0.14);
    const isUpper = drawn.y + drawn.height / 2 <= page.size.height / 2;
    const band = tiedItem(context, {
      fill: filled(accent),
      tie: tieTo(context, { as: 'behind', side: isUpper ? 'top' : 'bottom', gap: pad }),
    });
    const size = sizeFor(drawn.height, 0.2);
    const small = Math.max(9, Math.round(size * 0.55 * 2) / 2);
    const text = wordsOf(font, [
      { text: words.name, size, weight: 700, ink, align },
      { text: words.more, size: small, ink, align },
      { text: words.contact, size: small, ink, align },
    ]);
    const gap = Math.round(drawn.width * 0.12);
    const width = Math.max(110, Math.min(room - gap, Math.max(drawn.width * 2, size * 14)));
    const item = tiedItem(context, {
      ...{ text, size: { width, height: heightOfWords(text, width) } },
      tie: tieTo(context, { as: 'beside', side, gap, align: 'centre' }),
    });
    return [
      { item: band, layer: 'behind' },
      { item, layer: 'front' },
    ];
  },
};
