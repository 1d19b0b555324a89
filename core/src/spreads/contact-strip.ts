import { filled, tiedItem, tieTo, wordsOf } from '../pieces/piece';
import { evenGrid } from './grid';
import type { Spread } from './spread';

/** The strip shows so much round each picture, in points; below it is room for a number. */
const EDGE = 6;
const BELOW = 15;
const STRIP = '#1c2423';
const INK = '#f1ece2';
const SIZE = 9;

/** Pictures alike on dark strips, numbered, as on a contact sheet. */
export const contactStrip: Spread = {
  name: 'contact-strip',
  label: 'Contact strip',
  synonyms: ['contact sheet', 'film', 'numbered', 'proofs', 'selection'],
  even: true,
  gap: 0,
  boxes: (ratios, room) => evenGrid.boxes(ratios, room),
  dress(context, index) {
    const { drawn, font } = context;
    // Strips of neighbours meet.
    const strip = tiedItem(context, {
      ...{ name: 'Strip', fill: filled(STRIP) },
      tie: tieTo(context, { as: 'behind', gap: EDGE }),
    });
    const foot = tiedItem(context, {
      ...{ name: 'Foot of the strip', fill: filled(STRIP), size: { width: drawn.width, height: BELOW } },
      tie: tieTo(context, {
        ...{ as: 'beside', side: 'bottom', gap: 0, align: 'centre' },
        share: (drawn.width + 2 * EDGE) / drawn.width,
      }),
    });
    const text = wordsOf(font, [{ text: String(index + 1), size: SIZE, ink: INK }], { inset: 0 });
    const number = tiedItem(context, {
      ...{ text, size: { width: drawn.width, height: BELOW } },
      tie: tieTo(context, { as: 'beside', side: 'bottom', gap: 0, share: 1, align: 'centre' }),
    });
    return [
      { item: strip, layer: 'behind' },
      { item: foot, layer: 'front' },
      { item: number, layer: 'front' },
    ];
  },
};
