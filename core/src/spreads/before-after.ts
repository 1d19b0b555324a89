import { filled, sizeFor, tiedItem, tieTo, widthOfWords, wordsOf, heightOfWords } from '../pieces/piece';
import { evenGrid } from './grid';
import type { Spread } from './spread';

/** How thick the line between the two is, in points. */
const LINE = 3;
/** Of a label: how dark its strip is (white on it reads on any picture: on pure white 5.9 : 1, WCAG 2.2 SC 1.4.3, by hand), and how far off the edge. */
const DIM = 0.6;
const OFF = 0.04;
const LABELS = ['Before', 'After'];
/** The two halves together are about so wide for their height. */
const HALF = { least: 0.7, most: 1.2 };

/** Two halves of one height with a line between them, each with its label. */
export const beforeAfter: Spread = {
  name: 'before-after',
  label: 'Before and after',
  synonyms: ['comparison', 'then and now', 'halves', 'versus', 'split'],
  even: true,
  only: 2,
  gap: 0,
  boxes(ratios, room) {
    if (ratios.length !== 2) return evenGrid.boxes(ratios, room);
    const ratio = Math.min(HALF.most, Math.max(HALF.least, Math.sqrt(ratios[0]! * ratios[1]!)));
    const height = Math.max(1, Math.min(room.height, (room.width - room.gap.x) / 2 / ratio));
    const width = height * ratio;
    const [left, top] = [(room.width - 2 * width - room.gap.x) / 2, (room.height - height) / 2];
    return [0, 1].map((i) => ({ x: left + i * (width + room.gap.x), y: top, width, height }));
  },
  dress(context, index) {
    const { drawn, font } = context;
    const line = tiedItem(context, {
      ...{ name: 'Line between', fill: filled('#ffffff'), size: { width: LINE, height: drawn.height } },
      tie: tieTo(context, { as: 'beside', side: 'right', align: 'centre' }),
    });
    const size = sizeFor(Math.min(drawn.width, drawn.height), 0.06);
    const text = wordsOf(font, [{ text: LABELS[index] ?? '', size, weight: 700, ink: '#ffffff', align: 'centre' }]);
    const width = widthOfWords(text) + text.inset.left + text.inset.right + size;
    const label = tiedItem(context, {
      ...{ text, fill: filled('#000000', DIM), size: { width, height: heightOfWords(text, width) } },
      tie: tieTo(context, {
        ...{ as: 'over', side: 'bottom', align: 'start', share: Math.min(1, width / drawn.width) },
        ...{ gap: Math.round(drawn.height * OFF), along: Math.round(drawn.height * OFF) },
      }),
    });
    return [label, ...(index === 0 ? [line] : [])].map((item) => ({ item, layer: 'front' }));
  },
};
