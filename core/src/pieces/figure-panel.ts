import { clamp } from '../geometry/numeric';
import { filled, heightOfWords, sizeFor, tieTo, tiedItem, wordsOf, type Piece } from './piece';

/** How dark the panel is, so that white words on any picture are read: on pure white 4.7 : 1 (WCAG 2.2 SC 1.4.3, by hand). */
const DIM = 0.55;
const PANEL = '#000000';
/** How much what lies beneath it is blurred, as a share of the picture's shorter side, and in points. */
const BLUR = 0.025;
const BLURS = { least: 1, most: 16 };
/** Of the picture: how wide the panel is, and how far it stands off the edge. */
const SHARE = 0.92;
const OFF = 0.06;
const COLUMNS = ['start', 'centre', 'end'] as const;

export const figurePanel: Piece = {
  name: 'figure-panel',
  label: 'Figure panel',
  note: 'three figures, blurred behind',
  synonyms: ['numbers', 'statistics', 'facts', 'key figures', 'dashboard', 'stats'],
  items(context) {
    const { drawn, font, words } = context;
    const width = drawn.width * SHARE;
    const size = sizeFor(Math.min(width / 3, drawn.height), 0.2);
    const label = Math.max(9, Math.round(size * 0.45 * 2) / 2);
    const texts = words.figures.map(([figure, name]) =>
      wordsOf(font, [
        { text: figure, size, weight: 700, ink: '#ffffff', align: 'centre' },
        { text: name, size: label, ink: '#ffffff', align: 'centre' },
      ]),
    );
    const column = width / COLUMNS.length;
    const height = Math.max(...texts.map((t) => heightOfWords(t, column)));
    const short = Math.min(drawn.width, drawn.height);
    const blur = clamp(Math.round(short * BLUR * 2) / 2, BLURS.least, BLURS.most);
    const panel = tiedItem(context, {
      ...{ name: 'Panel', fill: { ...filled(PANEL, DIM), blur }, size: { width, height: height + size * 0.4 } },
      tie: tieTo(context, { as: 'over', side: 'bottom', gap: Math.round(drawn.height * OFF), share: SHARE }),
    });
    const figures = COLUMNS.map((align, i) =>
      tiedItem(context, {
        ...{ text: texts[i] ?? texts.at(-1)!, size: { width: column, height } },
        tie: { to: panel.id, as: 'over', gap: 0, align, share: 1 / COLUMNS.length },
      }),
    );
    return [panel, ...figures].map((item) => ({ item, layer: 'front' }));
  },
};
