import { centred, sum, type Spread } from './spread';

/** Side by side and alike in height. */
export const row: Spread = {
  name: 'row',
  label: 'Row',
  synonyms: ['line', 'strip', 'side by side', 'horizontal'],
  boxes(ratios, room) {
    const { gap } = room;
    const height = Math.max(1, Math.min(room.height, (room.width - gap.x * (ratios.length - 1)) / sum(ratios)));
    let x = 0;
    const boxes = ratios.map((ratio) => {
      const width = height * ratio;
      x += width + gap.x;
      return { x: x - width - gap.x, y: 0, width, height };
    });
    return centred(boxes, room);
  },
};
