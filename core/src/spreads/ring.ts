import { row } from './row';
import { fitted, type Spread } from './spread';

/** About a middle, in a circle, the first at the top; each within a circle of the same size. */
export const ring: Spread = {
  name: 'ring',
  label: 'Circle',
  synonyms: ['ring', 'round', 'around', 'wheel', 'clock'],
  boxes(ratios, room) {
    const count = ratios.length;
    if (count < 3) return row.boxes(ratios, room);
    const gap = Math.max(room.gap.x, room.gap.y);
    const whole = Math.min(room.width, room.height);
    // Neighbours stand a chord apart, and the outermost reach the edge: d + gap = 2 r sin(π / n), 2 r + d = whole.
    const chord = Math.sin(Math.PI / count);
    const d = Math.max(1, (whole * chord - gap) / (1 + chord));
    const r = (whole - d) / 2;
    const boxes = ratios.map((ratio, i) => {
      const angle = (2 * Math.PI * i) / count - Math.PI / 2;
      const [x, y] = [r * Math.cos(angle), r * Math.sin(angle)];
      // The largest box of that ratio in the circle.
      const wide = (d * ratio) / Math.hypot(ratio, 1);
      return fitted({ x: x - wide / 2, y: y - wide / ratio / 2, width: wide, height: wide / ratio }, ratio);
    });
    // About the middle of the circle, not of what is drawn.
    return boxes.map((b) => ({ ...b, x: b.x + room.width / 2, y: b.y + room.height / 2 }));
  },
};
