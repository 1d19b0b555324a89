import { applyTo } from '../geometry/transform';
import { boundsOfPoints } from '../geometry/measure';
import { frameMatrix, type Turned } from '../geometry/frame-matrix';
import type { Point } from '../geometry/path';
import type { Box } from '../model/frame';
import { sum } from './spread';

type Axis = 'x' | 'y';
const side = { x: 'width', y: 'height' } as const;

/** A way to bring several items in line with each other, or with a page. */
export interface Alignment {
  name: string;
  label: string;
  axis: Axis;
  /** Which of its lines, as a share of the box: 0 for the left or upper edge. Null spreads them with equal gaps. */
  at: 0 | 0.5 | 1 | null;
}

export const ALIGNMENTS: readonly Alignment[] = [
  { name: 'left', label: 'Left edges', axis: 'x', at: 0 },
  { name: 'centre', label: 'Centres', axis: 'x', at: 0.5 },
  { name: 'right', label: 'Right edges', axis: 'x', at: 1 },
  { name: 'gaps-across', label: 'Equal gaps across', axis: 'x', at: null },
  { name: 'top', label: 'Top edges', axis: 'y', at: 0 },
  { name: 'middle', label: 'Middles', axis: 'y', at: 0.5 },
  { name: 'bottom', label: 'Bottom edges', axis: 'y', at: 1 },
  { name: 'gaps-down', label: 'Equal gaps down', axis: 'y', at: null },
];

/** The upright box that a turned one just fits into. */
export function uprightBounds(placed: Turned & { box: Box }): Box {
  if (placed.turn % 180 === 0) return placed.box;
  const { width, height } = placed.box;
  const corners = [0, width].flatMap((x) => [0, height].map((y) => ({ x, y })));
  const matrix = frameMatrix(placed);
  return boundsOfPoints(corners.map((p) => applyTo(matrix, p)));
}

/** What of an area equal gaps fill that are as wide at its edges: all of it where there is no room for them. */
export function withinEvenly(boxes: readonly Box[], axis: Axis, area: Box): Box {
  const room = area[side[axis]] - sum(boxes.map((b) => b[side[axis]]));
  const gap = Math.max(0, room / (boxes.length + 1));
  return { ...area, [axis]: area[axis] + gap, [side[axis]]: area[side[axis]] - 2 * gap };
}

/**
 * How far each box moves so that all are in line.
 * @param to what they are brought in line with: the box round all of them, one of them, a page. Equal gaps fill it from edge to edge
 * @returns steps in the order of the boxes
 */
export function aligned(boxes: readonly Box[], { axis, at }: Alignment, to: Box): Point[] {
  if (at === null) return spaced(boxes, axis, { from: to[axis], to: to[axis] + to[side[axis]] });
  const line = to[axis] + at * to[side[axis]];
  return boxes.map((b) => along(axis, line - b[axis] - at * b[side[axis]]));
}

/**
 * How far each box moves so that the gaps between neighbours are alike, in the order in which their middles lie.
 * @param stretch what they fill from edge to edge: where it is too short, they overlap alike
 */
function spaced(boxes: readonly Box[], axis: Axis, stretch: { from: number; to: number }): Point[] {
  if (boxes.length < 2) return boxes.map(() => ({ x: 0, y: 0 }));
  const room = stretch.to - stretch.from - sum(boxes.map((b) => b[side[axis]]));
  return inTurn(boxes, axis, stretch.from, room / (boxes.length - 1));
}

/** How far each box moves so that the first stays and each next one follows after the same gap. In points. */
export const withGap = (boxes: readonly Box[], axis: Axis, gap: number): Point[] =>
  inTurn(boxes, axis, Math.min(...boxes.map((b) => b[axis])), gap);

function inTurn(boxes: readonly Box[], axis: Axis, from: number, gap: number): Point[] {
  const steps: Point[] = boxes.map(() => ({ x: 0, y: 0 }));
  let at = from;
  for (const i of inOrder(boxes, axis)) {
    const b = boxes[i]!;
    steps[i] = along(axis, at - b[axis]);
    at += b[side[axis]] + gap;
  }
  return steps;
}

const inOrder = (boxes: readonly Box[], axis: Axis): number[] => {
  const middle = (i: number): number => boxes[i]![axis] + boxes[i]![side[axis]] / 2;
  return boxes.map((_, i) => i).sort((a, b) => middle(a) - middle(b));
};

/** The gap between neighbours, on average, and whether all are alike to a tenth of a point. */
export function gapAmong(boxes: readonly Box[], axis: Axis): { mean: number; even: boolean } {
  const all = inOrder(boxes, axis).map((i) => boxes[i]!);
  const gaps = all.slice(1).map((b, i) => b[axis] - all[i]![axis] - all[i]![side[axis]]);
  const mean = gaps.length > 0 ? sum(gaps) / gaps.length : 0;
  return { mean, even: gaps.every((g) => Math.abs(g - mean) < 0.1) };
}

/** Do the boxes lie beside each other rather than below each other? */
export function liesAcross(boxes: readonly Box[]): boolean {
  const spread = (axis: Axis): number => {
    const middles = boxes.map((b) => b[axis] + b[side[axis]] / 2);
    return Math.max(...middles) - Math.min(...middles);
  };
  return spread('x') >= spread('y');
}

const along = (axis: Axis, by: number): Point => (axis === 'x' ? { x: by, y: 0 } : { x: 0, y: by });
