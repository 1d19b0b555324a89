import { mixed } from '../colour';
import type { FramedItem } from '../model/document';
import { accentOn, heightOfWords, inkOn, roomierSide, sizeFor, tieTo, tiedItem, wordsOf, type Piece } from './piece';

/** How pale the mark is, how much larger than the words, and how much of it lies above them. */
const PALE = 0.18;
const TIMES = 5;
const ABOVE = 0.42;

/** What words are called that are not there to be read (WCAG 2.2 SC 1.4.3, pure decoration). */
const DECORATION = 'Quotation mark';
export const isDecoration = ({ name }: Pick<FramedItem, 'name'>): boolean => name === DECORATION;

export const quote: Piece = {
  name: 'quote',
  label: 'Quotation',
  note: 'a pale mark behind',
  synonyms: ['quote', 'testimonial', 'saying', 'speech', 'citation'],
  items(context) {
    const { drawn, page, ground, colours, font, words } = context;
    const { side, room } = roomierSide(context);
    const ink = inkOn(ground, colours);
    const size = sizeFor(Math.min(drawn.height, page.size.height / 2), 0.12);
    const gap = Math.round(drawn.width * 0.1);
    const width = Math.max(60, Math.min(room - 2 * gap, size * 20));
    const said = wordsOf(font, [{ text: words.quote, size, ink }]);
    const text = tiedItem(context, {
      ...{ text: said, size: { width, height: heightOfWords(said, width) } },
      tie: tieTo(context, { as: 'beside', side, gap, align: 'centre' }),
    });
    const large = size * TIMES;
    // Not every format has letters that are seen through.
    const pale = mixed(ground, accentOn(ground, colours), PALE);
    // Decoration: it is not there to be read.
    const mark = tiedItem(context, {
      name: DECORATION,
      text: wordsOf(font, [{ text: '“', size: large, weight: 700, ink: pale }], { anchor: 'top', inset: 0 }),
      size: { width: large * 0.7, height: large * 1.25 },
      tie: { to: text.id, as: 'over', side: 'top', gap: -large * ABOVE, align: 'start', share: 1 },
    });
    const by = wordsOf(font, [{ text: words.name, size: Math.max(9, Math.round(size * 1.2) / 2), weight: 700, ink }]);
    const name = tiedItem(context, {
      ...{ text: by, size: { width, height: heightOfWords(by, width) } },
      tie: { to: text.id, as: 'beside', side: 'bottom', gap: size * 0.2, share: 1 },
    });
    return [mark, text, name].map((item) => ({ item, layer: 'front' }));
  },
};
