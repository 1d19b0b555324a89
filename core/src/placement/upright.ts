import type { Placement, Size } from '../model/frame';

/** How the camera's orientation is undone: turn and mirror by EXIF value (Exif 2.32, tag 274). */
const UPRIGHT: Readonly<Record<number, Pick<Placement, 'turn' | 'mirror'>>> = {
  2: { turn: 0, mirror: true },
  3: { turn: 180, mirror: false },
  4: { turn: 180, mirror: true },
  5: { turn: 270, mirror: true },
  6: { turn: 90, mirror: false },
  7: { turn: 90, mirror: true },
  8: { turn: 270, mirror: false },
};

/** A picture that was stored on its side, upright in its box. @param orientation EXIF, 1 to 8 */
export const uprightTurn = (orientation: number): Pick<Placement, 'turn' | 'mirror'> =>
  UPRIGHT[orientation] ?? { turn: 0, mirror: false };

/** Its sides then. @param stored pixels */
export const uprightSize = ({ width, height }: Size, orientation: number): Size =>
  uprightTurn(orientation).turn % 180 === 0 ? { width, height } : { width: height, height: width };
