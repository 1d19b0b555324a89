import { suggestedMarks, textBlocks } from '@gable/core';
import { readFileSync } from 'node:fs';
import { findWords } from '../src/words';
import { coverOf, poster } from './posters';

const picture = (name: string): Buffer => readFileSync(`demo/files/pictures/${name}.jpg`);

// The boxes are those of the font’s own metrics. Targets: 95 % of the words inside, marks at most twice as large.
describe('words', () => {
  test.each([
    [
      'a bill',
      '#f4f0e7',
      [
        { text: 'Open day', x: 90, y: 300, size: 190, weight: 800 },
        { text: 'Saturday the fourteenth', x: 95, y: 420, size: 64 },
        { text: 'ten in the morning till four', x: 95, y: 500, size: 64 },
        { text: 'Fennick Clayworks', x: 95, y: 1500, size: 80, colour: '#b5482a' },
      ],
    ],
    [
      'light on dark',
      '#22302f',
      [
        { text: 'Glaze tests', x: 120, y: 700, size: 150, weight: 800, colour: '#fbf9f4' },
        { text: 'numbers one to forty', x: 120, y: 800, size: 56, colour: '#d9d2c3' },
      ],
    ],
    [
      'over a photograph',
      picture('kiln-glow'),
      [
        { text: 'Firing week', x: 80, y: 220, size: 150, weight: 800, colour: '#ffffff' },
        { text: 'bring your own pots', x: 80, y: 320, size: 70, colour: '#ffffff' },
      ],
    ],
  ] as const)('of %s are inside marks that are hardly larger', async (_, ground, lines) => {
    const { bytes, size, boxes } = await poster(1200, 1700, ground as string | Buffer, lines);
    const blocks = textBlocks(await findWords(bytes, size), size);
    const { inside, ratio } = coverOf(boxes, suggestedMarks({ faces: [], blocks }));
    expect(inside).toBeGreaterThan(0.95);
    expect(ratio).toBeLessThan(2);
  });

  test.each(['teapot', 'three-bowls', 'stacked-plates', 'portrait-maren'])(
    'in the picture “%s” there are none',
    async (name) => {
      const bytes = picture(name);
      const size = { width: 1500, height: 1000 };
      expect(textBlocks(await findWords(bytes, size), size)).toEqual([]);
    },
  );
});
