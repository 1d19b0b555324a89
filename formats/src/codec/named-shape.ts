import { flatten, toSvgPath, type Frame, type Path, type Size } from '@gable/core';

/** The most text of an outline that is carried along; beyond, the shape stays in the file and is drawn as its box. */
const LONGEST = 200_000;
const PATH_TOLERANCE = 1e-3;

/**
 * The shape of an outline that a file draws: ellipses and boxes by name, others as they are.
 * @param path in a box of 1 × 1
 * @param size of the real box
 * @param label what others are called
 */
export function shapeOfPath(path: Path, size: Size, label: string): Frame['shape'] {
  const rings = flatten(path, 1e-4).filter((r) => r.length > 2);
  const [ring] = rings;
  if (rings.length === 1 && ring) {
    const round = ring.every((p) => Math.abs(Math.hypot(p.x - 0.5, p.y - 0.5) - 0.5) < PATH_TOLERANCE);
    if (round && ring.length > 12)
      return { name: Math.abs(size.width / size.height - 1) < 1e-5 ? 'circle' : 'ellipse', knobs: {} };
    const edge = (v: number): boolean => Math.abs(v) < PATH_TOLERANCE || Math.abs(v - 1) < PATH_TOLERANCE;
    const corners = new Set(ring.map((p) => `${Math.round(p.x)} ${Math.round(p.y)}`));
    if (ring.length <= 5 && corners.size === 4 && ring.every((p) => edge(p.x) && edge(p.y)))
      return { name: 'rectangle', knobs: {} };
  }
  const plain = { name: 'custom', knobs: {} };
  const text = toSvgPath(path, 6);
  if (text === '' || text.includes('NaN') || text.length > LONGEST) return plain;
  return { ...plain, drawn: { path: text, ratio: null, label } };
}
