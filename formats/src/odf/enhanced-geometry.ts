import {
  framePath,
  pen as newPen,
  type Pen,
  shapeOf,
  transform,
  trimNumber,
  withoutArcs,
  type Frame,
  type Path,
  type Point,
  type Size,
} from '@gable/core';
import type { Element } from '../xml/located';
import { shapeOfPath } from '../codec/named-shape';
import type { NativeFrame, OffsetOutline } from '../equivalents/offset-outline';
import { evaluate, type Scope } from './equation';
import type { Names } from './names';

/** Geometries of custom shapes (ODF 1.2 Part 1 §10.6.2, draw:enhanced-geometry; §19.145, draw:enhanced-path). */

/** Steps of our own geometries across and down: fine enough for a page. */
const STEPS = 100_000;
/** How many numbers each command takes at a time. */
const TAKES: Record<string, number> = {
  M: 2,
  L: 2,
  C: 6,
  Q: 4,
  U: 6,
  T: 6,
  A: 8,
  B: 8,
  W: 8,
  V: 8,
  X: 2,
  Y: 2,
  Z: 0,
  N: 0,
  F: 0,
  S: 0,
};

/** The shape of an enhanced geometry; one that cannot be drawn is drawn as its box. */
export function readGeometry(geometry: Element | undefined, names: Names, size: Size): Frame['shape'] {
  const plain = { name: 'custom', knobs: {} };
  try {
    const path = geometry && readPath(geometry, names, size);
    if (!path || path.length === 0) return plain;
    return shapeOfPath(path, size, 'Shape of the file');
  } catch (error) {
    if (error instanceof SyntaxError || error instanceof RangeError) return plain;
    throw error;
  }
}

/** A line with a way of its own, as we write it: see `offset-outline.ts`. Null for every other geometry. */
export function readOffsetOutline(
  geometry: Element | undefined,
  names: Names,
  size: Size,
): { ring: OffsetOutline; shape: Frame['shape'] } | null {
  const value = (name: string): number => {
    const e = geometry?.children.find((c) => names.get(c, 'draw:name') === name);
    return Number((e && names.get(e, 'draw:formula')) ?? NaN);
  };
  const [margin, reach] = [value('margin'), value('reach')];
  const [first, second, ...more] = (names.get(geometry, 'draw:enhanced-path') ?? '')
    .split(/\sN\s*/)
    .filter((p) => p !== '');
  if (!geometry || !(margin >= 0) || !reach || !first?.endsWith(' S') || !second?.endsWith(' F') || more.length > 0)
    return null;
  const inner = { width: size.width - 2 * margin, height: size.height - 2 * margin };
  if (inner.width <= 0 || inner.height <= 0) return null;
  try {
    const path = readPath(geometry, names, size, first);
    const [kx, ky] = [size.width / inner.width, size.height / inner.height];
    const unit = transform(path, [kx, 0, 0, ky, -margin / inner.width, -margin / inner.height]);
    return { ring: { margin, reach }, shape: shapeOfPath(unit, inner, 'Shape of the file') };
  } catch (error) {
    if (error instanceof SyntaxError || error instanceof RangeError) return null;
    throw error;
  }
}

/** The path in a box of 1 × 1. @param text all of the path, or a part of it */
function readPath(geometry: Element, names: Names, size: Size, text?: string): Path {
  const get = (name: string): string | undefined => names.get(geometry, name);
  const [left = 0, top = 0, width = 0, height = 0] = (get('svg:viewBox') ?? '').split(/[\s,]+/).map(Number);
  if (!(width > 0) || !(height > 0)) return [];
  const scope = scopeOf(geometry, names, size, { left, top, width, height });
  const tokens =
    (text ?? get('draw:enhanced-path') ?? '').match(/[A-Za-z]|[$?]\w+|-?\d*\.?\d+(?:[eE][-+]?\d+)?/g) ?? [];
  const pen = newPen();
  let at: Point = { x: 0, y: 0 };
  let command = '';
  for (let i = 0; i < tokens.length;) {
    if (/^[A-Za-z]$/.test(tokens[i]!)) command = tokens[i++]!;
    const count = TAKES[command];
    if (count === undefined) throw new SyntaxError(`“${command}” is no command of a path.`);
    if (count === 0) {
      if (command === 'Z') pen.z();
      continue;
    }
    const args = tokens.slice(i, i + count).map((t) => (/^[-\d.]/.test(t) ? Number(t) : evaluate(t, scope)));
    if (args.length < count || !args.every(Number.isFinite)) throw new SyntaxError('A path ends in the middle.');
    i += count;
    at = step(pen, command, args, at);
    if (command === 'M') command = 'L';
  }
  return transform(pen.path, [1 / width, 0, 0, 1 / height, -left / width, -top / height]);
}

/** Draws one command. @returns where the pen is then */
function step(pen: Pen, command: string, a: readonly number[], at: Point): Point {
  const end = { x: a[a.length - 2]!, y: a[a.length - 1]! };
  switch (command) {
    case 'M':
      pen.m(end.x, end.y);
      return end;
    case 'L':
      pen.l(end.x, end.y);
      return end;
    case 'C':
      pen.c(a[0]!, a[1]!, a[2]!, a[3]!, end.x, end.y);
      return end;
    case 'Q':
      pen.q(a[0]!, a[1]!, end.x, end.y);
      return end;
    case 'X':
    case 'Y': {
      // A quarter of an ellipse that sets off along one axis.
      const across = command === 'X';
      pen.a(Math.abs(end.x - at.x), Math.abs(end.y - at.y), end.x, end.y, (end.x > at.x === end.y > at.y) === across);
      return end;
    }
    case 'U':
    case 'T': {
      const [cx, cy, rx, ry, from, to] = a as [number, number, number, number, number, number];
      return ellipse(pen, { x: cx, y: cy }, rx, ry, from, to - from, command === 'U');
    }
    default: {
      const [x1, y1, x2, y2, x3, y3] = a as [number, number, number, number, number, number];
      const centre = { x: (x1 + x2) / 2, y: (y1 + y2) / 2 };
      const [rx, ry] = [Math.abs(x2 - x1) / 2, Math.abs(y2 - y1) / 2];
      const angle = (x: number, y: number): number =>
        (Math.atan2((y - centre.y) / ry, (x - centre.x) / rx) * 180) / Math.PI;
      const clockwise = command === 'W' || command === 'V';
      const from = angle(x3, y3);
      const swing = (((angle(end.x, end.y) - from) % 360) + 360) % 360;
      return ellipse(
        pen,
        centre,
        rx,
        ry,
        from,
        clockwise ? swing || 360 : swing - 360,
        command === 'B' || command === 'V',
      );
    }
  }
}

/** An arc by the ellipse's own parameter, in degrees clockwise. */
function ellipse(pen: Pen, c: Point, rx: number, ry: number, from: number, swing: number, begins: boolean): Point {
  const point = (degrees: number): Point => {
    const t = (degrees * Math.PI) / 180;
    return { x: c.x + rx * Math.cos(t), y: c.y + ry * Math.sin(t) };
  };
  const start = point(from);
  if (begins) pen.m(start.x, start.y);
  else pen.l(start.x, start.y);
  const parts = Math.max(1, Math.ceil(Math.abs(swing) / 120));
  let end = start;
  for (let i = 1; i <= parts; i++) {
    end = point(from + (swing * i) / parts);
    pen.a(rx, ry, end.x, end.y, swing > 0);
  }
  return end;
}

function scopeOf(
  geometry: Element,
  names: Names,
  size: Size,
  view: { left: number; top: number; width: number; height: number },
): Scope {
  const formulas = new Map(
    geometry.children
      .filter((c) => c.local === 'equation')
      .map((c) => [names.get(c, 'draw:name') ?? '', names.get(c, 'draw:formula') ?? '0']),
  );
  const values = new Map<string, number>();
  const asked = new Set<string>();
  const named: Record<string, number> = {
    left: view.left,
    top: view.top,
    right: view.left + view.width,
    bottom: view.top + view.height,
    width: view.width,
    height: view.height,
    logwidth: size.width * 35.277778,
    logheight: size.height * 35.277778,
    xstretch: 0,
    ystretch: 0,
    hasstroke: 1,
    hasfill: 1,
  };
  const scope: Scope = {
    modifiers: (names.get(geometry, 'draw:modifiers') ?? '')
      .trim()
      .split(/[\s,]+/)
      .map(Number),
    value: (name) => named[name],
    equation(name) {
      const known = values.get(name);
      if (known !== undefined) return known;
      const formula = formulas.get(name);
      if (formula === undefined || asked.has(name)) throw new SyntaxError(`The equation “${name}” cannot be solved.`);
      asked.add(name);
      const v = evaluate(formula, scope);
      values.set(name, v);
      return v;
    },
  };
  return scope;
}

/** A frame's outline as an enhanced geometry. Ellipses stay ellipses; other arcs are cubic curves. */
export function writeGeometry({ frame, paths }: NativeFrame, names: Names): string {
  const { width, height } = frame.box;
  const n = (name: string): string => names.of(name);
  const whole = !paths && shapeOf(frame.shape)?.preset?.name === 'ellipse';
  const half = STEPS / 2;
  let path = `U ${half} ${half} ${half} ${half} 0 360 Z N`;
  if (!whole) {
    const at = (x: number, y: number): string =>
      `${Math.round((x / width) * STEPS)} ${Math.round((y / height) * STEPS)}`;
    const steps = (of: Path): string =>
      withoutArcs(of)
        .map((s) => {
          if (s.op === 'Z') return 'Z';
          return s.op === 'C' ? `C ${at(s.x1, s.y1)} ${at(s.x2, s.y2)} ${at(s.x, s.y)}` : `${s.op} ${at(s.x, s.y)}`;
        })
        .join(' ');
    path = paths ? `${steps(paths.shape)} S N ${steps(paths.line)} F N` : `${steps(framePath(frame))} N`;
  }
  const ring = paths?.guides;
  const equation = (name: 'margin' | 'reach'): string =>
    ring
      ? `<${n('draw:equation')} ${n('draw:name')}="${name}" ${n('draw:formula')}="${trimNumber(ring[name], 5)}"/>`
      : '';
  const equations = equation('margin') + equation('reach');
  const tag = n('draw:enhanced-geometry');
  return `<${n('draw:enhanced-geometry')} ${n('svg:viewBox')}="0 0 ${STEPS} ${STEPS}" ${n('draw:type')}="non-primitive" ${n('draw:enhanced-path')}="${path}"${equations === '' ? '/>' : `>${equations}</${tag}>`}`;
}
