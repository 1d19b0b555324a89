import type { SectionEdge } from '../model/frame';

/** A line between two sections of a web page. */
interface EdgeShape {
  name: SectionEdge['shape'];
  label: string;
  /** What lies beyond the lower edge, in a box of 100 × 10, as SVG path data. */
  path: string;
}

/** Edges of sections, in the order in which they are offered: a new one is one line here and one in `SectionEdgeSchema`. */
export const SECTION_EDGES: readonly EdgeShape[] = [
  { name: 'wave', label: 'Wave', path: 'M0 10V5C16.7-1.6 33.3-1.6 50 5S83.3 11.6 100 5V10Z' },
  { name: 'slope', label: 'Slope', path: 'M0 10L100 0V10Z' },
  { name: 'arch', label: 'Arch', path: 'M0 10V0C25 13.3 75 13.3 100 0V10Z' },
  { name: 'hill', label: 'Hill', path: 'M0 10C25-3.3 75-3.3 100 10Z' },
];

/** The path of an edge. @throws Error for a shape that there is not */
export function edgePath({ shape }: Pick<SectionEdge, 'shape'>): string {
  const found = SECTION_EDGES.find((e) => e.name === shape);
  if (!found) throw new Error(`There is no edge “${shape}”.`);
  return found.path;
}
