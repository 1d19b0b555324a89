import { filled, sizeFor, tiedItem, tieTo, wordsOf } from '../pieces/piece';
import { evenGrid } from './grid';
import type { Spread } from './spread';

/** The strip shows so much round each picture, below it is room for a number, whose letters are so large: shares of the page's shorter side. */
const EDGE = 0.013;
const BELOW = 0.042;
const SIZE = 0.025;
const STRIP = '#1c2423';
const INK = '#f1ece2';

/** Pictures alike on dark strips, numbered, as on a contact sheet. */
export const contactStrip: Spread = {
  name: 'contact-strip',
  label: 'Contact strip',
  synonyms: ['contact sheet', 'film', 'numbered', 'proofs', 'selection'],
  even: true,
  gap: 0,
  boxes: (ratios, room) => evenGrid.boxes(ratios, room),
  dress(context, index) {
    const { drawn, font, page } = context;
    const short = Math.min(page.size.width, page.size.height);
    const [edge, below] = [Math.max(3, Math.round(short * EDGE)), Math.max(13, Math.round(short * BELOW))];
    // Strips of neighbours meet.
    const strip = tiedItem(context, {
      ...{ name: 'Strip', fill: filled(STRIP) },
      tie: tieTo(context, { as: 'behind', gap: edge }),
    });
    const foot = tiedItem(context, {
      ...{ name: 'Foot of the strip', fill: filled(STRIP), size: { width: drawn.width, height: below } },
      tie: tieTo(context, {
        ...{ as: 'beside', side: 'bottom', gap: 0, align: 'centre' },
        share: (drawn.width + 2 * edge) / drawn.width,
      }),
    });
    const text = wordsOf(font, [{ text: String(index + 1), size: sizeFor(short, SIZE), ink: INK }], { inset: 0 });
    const number = tiedItem(context, {
      ...{ text, size: { width: drawn.width, height: below } },
      tie: tieTo(context, { as: 'beside', side: 'bottom', gap: 0, share: 1, align: 'centre' }),
    });
    return [
      { item: strip, layer: 'behind' },
      { item: foot, layer: 'front' },
      { item: number, layer: 'front' },
    ];
  },
};
