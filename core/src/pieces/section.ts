import { overVeil, sizeFor, wordsOf, type Piece } from './piece';

/** So high a section is at first, in points: about half a window (common practice). */
export const SECTION_HEIGHT = 330;
/** From one side to the other its middle may be so far from that of the window, and still go from edge to edge. */
const ASIDE = 3;

export const section: Piece = {
  name: 'section',
  label: 'Section',
  note: 'words over the picture',
  synonyms: ['hero', 'banner', 'full bleed', 'cover', 'edge to edge', 'landing'],
  section({ page, sections }) {
    if (!sections) return null;
    const { left, right } = page.margins;
    return { share: 0, wide: Math.abs(left - right) <= ASIDE };
  },
  items(context) {
    const { drawn, font, words } = context;
    const size = sizeFor(Math.min(drawn.width * 0.6, SECTION_HEIGHT), 0.16);
    const text = wordsOf(font, [
      { text: words.heading, size, weight: 700, ink: '#ffffff', align: 'centre', level: 2 },
      { text: words.more, size: Math.round(size * 0.45), ink: '#ffffff', align: 'centre' },
    ]);
    return overVeil(context, text, 0.8);
  },
};
