import { GableError } from '../errors';
import { MAX_TILES } from '../model/bounds';
import type { Placement, Size } from '../model/frame';
import type { Point } from '../geometry/path';
import { POINTS } from '../units';
import { coverScale, deriveView, type View } from './view';

/** One tile of a tiled picture: its place in whole pictures, and whether it is mirrored. */
export interface Tile {
  u: number;
  v: number;
  across: boolean;
  down: boolean;
}

const odd = (i: number): boolean => Math.abs(i % 2) === 1;

/** The tiles a box shows. @throws GableError `too-many-tiles` */
export function tilesOf(placement: Placement, view: View): Tile[] {
  const us = view.corners.map((p) => p.x);
  const vs = view.corners.map((p) => p.y);
  const { mirrored = 'none' } = placement;
  const out: Tile[] = [];
  const span = (values: number[]): number => Math.max(...values) - Math.min(...values) + 1;
  const most = span(us) * span(vs);
  if (!(most <= MAX_TILES))
    throw new GableError(
      'too-many-tiles',
      `The picture would be repeated ${Math.round(most).toLocaleString('en')} times; Gable paints it ${MAX_TILES.toLocaleString('en')} times.`,
      'Choose larger tiles.',
    );
  for (let v = Math.floor(Math.min(...vs) + 1e-9); v < Math.max(...vs) - 1e-9; v++)
    for (let u = Math.floor(Math.min(...us) + 1e-9); u < Math.max(...us) - 1e-9; u++)
      out.push({
        u,
        v,
        across: (mirrored === 'across' || mirrored === 'both') && odd(u),
        down: (mirrored === 'down' || mirrored === 'both') && odd(v),
      });
  return out;
}

/** A tiling in the terms people and formats use. */
export interface Tiling {
  /** Share of the picture's own size at `ppi`; 1 is 100 %. */
  scale: number;
  /** Where the top left corner of one tile lies, in points from the box's top left. */
  origin: Point;
}

/**
 * A tiled placement as scale and origin.
 * @param ppi pixels per inch of the picture; 96 where it says none (CSS Values 4 §6.2: a pixel is 0.75 pt)
 */
export function tilingOf(placement: Placement, box: Size, picture: Size, ppi = 96): Tiling {
  const view = deriveView({ ...placement, fit: 'tile' }, box, picture);
  const [, , , , x, y] = view.matrix;
  return { scale: view.scale.y / pointsPerPixel(ppi), origin: { x, y } };
}

/** The placement of a tiling: not turned. @throws RangeError for a scale of 0 or less */
export function placementOfTiling(tiling: Tiling, box: Size, picture: Size, ppi = 96): Placement {
  if (!(tiling.scale > 0)) throw new RangeError(`Tiles of a scale of ${tiling.scale} are not possible.`);
  const s = tiling.scale * pointsPerPixel(ppi);
  const base = { fit: 'tile', turn: 0, mirror: false, distortion: 1 } as const;
  return {
    ...base,
    zoom: s / coverScale(base, box, picture),
    aim: {
      u: (box.width / 2 - tiling.origin.x) / (s * picture.width),
      v: (box.height / 2 - tiling.origin.y) / (s * picture.height),
    },
  };
}

const pointsPerPixel = (ppi: number): number => POINTS.in / ppi;
