import type { ReplacementImage } from '../../src/index';
import { png } from './build';

/** A picture of 60 × 40 pixels that is put in, by the name it is kept under. */
export const TILE = {
  sha256: '0'.repeat(64),
  name: 'tile.png',
  type: 'png',
  size: { width: 60, height: 40 },
  orientation: 1,
};

export const tileImage = async (): Promise<ReplacementImage> => ({
  bytes: await png(60, 40),
  type: 'png',
  size: TILE.size,
});
