import { heightOfWords, line, sizeFor, solid, tieTo, tiedItem, wordsOf, type Piece } from './piece';

/** The margin of the print, and the room for its caption, as shares of the picture's shorter side. */
const MARGIN = 0.06;
const CAPTION = 0.09;
const PAPER = '#fdfcf8';
const INK = '#22302f';

export const print: Piece = {
  name: 'print',
  label: 'Print',
  note: 'on paper, with a caption',
  synonyms: ['photo', 'mount', 'passe-partout', 'white border', 'mat', 'photograph'],
  items(context) {
    const { drawn, font, words } = context;
    const short = Math.min(drawn.width, drawn.height);
    const margin = Math.max(3, Math.round(short * MARGIN));
    const size = sizeFor(short, CAPTION);
    const text = wordsOf(font, [{ text: words.name, size, ink: INK, align: 'centre' }], { inset: margin / 2 });
    const height = heightOfWords(text, drawn.width);
    // The paper ends where the caption does: its own lies on that of the picture, without a line between them.
    const paper = tiedItem(context, {
      ...{ name: 'Paper', fill: { kind: 'paint' as const, paint: solid(PAPER) }, outline: line(0.5, '#d9d2c3') },
      tie: tieTo(context, { as: 'behind', gap: margin }),
    });
    const caption = tiedItem(context, {
      ...{ text, fill: { kind: 'paint' as const, paint: solid(PAPER) }, size: { width: drawn.width, height } },
      tie: tieTo(context, {
        ...{ as: 'beside', side: 'bottom', gap: 0, align: 'centre' },
        share: (drawn.width + 2 * margin) / drawn.width,
      }),
    });
    return [
      { item: paper, layer: 'behind' },
      { item: caption, layer: 'front' },
    ];
  },
};
