import { BOUNDS, CENTRED, placementFromCrop, type Box, type Crop, type Frame, type Size } from '@gable/core';

/** The placement of a crop as a file has it; one that leaves nothing, or is no number, shows the whole picture. */
export function placementFromFileCrop(crop: Crop, box: Size, picture: Size): Frame['placement'] {
  const across = 1 - crop.left - crop.right;
  const down = 1 - crop.top - crop.bottom;
  const possible = [across, down, crop.left, crop.top].every(Number.isFinite) && across > 1e-6 && down > 1e-6;
  return possible ? placementFromCrop(crop, box, picture) : CENTRED;
}

/** A box with sides; nonsense becomes a square inch, a place beyond all sheets their corner. */
export function normaliseBox({ x, y, width, height }: Box): Box {
  const side = (v: number): number => (Number.isFinite(v) && v > 1e-6 && v < BOUNDS.side.max ? v : 72);
  const at = (v: number): number => (Number.isFinite(v) && Math.abs(v) < BOUNDS.place ? v : 0);
  return { x: at(x), y: at(y), width: side(width), height: side(height) };
}
