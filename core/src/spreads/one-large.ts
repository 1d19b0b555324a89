import { justified } from './justified';
import { centred, fitted, lying, turned, type Spread } from './spread';

/** Of the room, for the first picture (the golden section). */
const FIRST = 0.618;

/** The first picture large, the others in rows beside it, or below it where the room is upright. */
export const oneLarge: Spread = {
  name: 'one-large',
  label: 'One large',
  synonyms: ['hero', 'featured', 'importance', 'main picture', 'packed'],
  boxes(ratios, room) {
    if (room.height > room.width)
      return oneLarge
        .boxes(
          ratios.map((r) => 1 / r),
          lying(room),
        )
        .map(turned);
    const { gap, height } = room;
    const [first = 1, ...others] = ratios;
    const wide = Math.min((room.width - gap.x) * FIRST, height * first);
    const large = fitted({ x: 0, y: 0, width: wide, height }, first);
    const rest = { width: Math.max(1, room.width - large.width - gap.x), height, gap };
    const beside = others.length === 1 ? [fitted({ x: 0, y: 0, ...rest }, others[0]!)] : justified.boxes(others, rest);
    // Those beside it begin right behind the gap.
    const left = Math.min(...beside.map((b) => b.x));
    return centred([large, ...beside.map((b) => ({ ...b, x: b.x - left + large.width + gap.x }))], room);
  },
};
