import { bounds } from '../geometry/measure';
import { pen, type Pen } from '../geometry/pen';
import type { Path, Point } from '../geometry/path';
import { mergedPath } from '../geometry/polygons';
import { transform } from '../geometry/transform';
import { ANGLE, evaluate, predefined, valueOf, type Values } from './guides';

/** How a path of a geometry is filled, ISO/IEC 29500-1 §20.1.10.37 (ST_PathFillMode). */
export type FillMode = 'norm' | 'none' | 'lighten' | 'lightenLess' | 'darken' | 'darkenLess';

/** One step of a geometry's path; arguments are numbers or names of guides. */
export interface Step {
  op: 'M' | 'L' | 'A' | 'C' | 'Q' | 'Z';
  args: readonly string[];
}

/** A path of a geometry, §20.1.9.15 (CT_Path2D). Without a size of its own it is in the units of the box. */
export interface GeometryPath {
  steps: readonly Step[];
  width: number | null;
  height: number | null;
  fill: FillMode;
  stroke: boolean;
}

/** A geometry as data: what `a:custGeom` holds, and what the presets of the standard are defined as. */
export interface Geometry {
  adjust: readonly (readonly [name: string, value: number])[];
  guides: readonly (readonly [name: string, formula: string])[];
  paths: readonly GeometryPath[];
}

export interface DrawnPath {
  path: Path;
  fill: FillMode;
  stroke: boolean;
}

const COUNT = { M: 2, L: 2, A: 4, C: 6, Q: 4, Z: 0 } as const;

/** Adjust values and guides for a box. @throws GableError `bad-geometry` */
export function workOut(g: Geometry, width: number, height: number, adjust: Readonly<Record<string, number>>): Values {
  const values = predefined(width, height);
  for (const [name, value] of g.adjust) values.set(name, adjust[name] ?? value);
  for (const [name, formula] of g.guides) values.set(name, evaluate(formula, values));
  return values;
}

/**
 * Every path of a geometry in a box.
 * @param adjust values that differ from the defaults, in the standard's units (1/100,000 or 1/60,000°)
 * @throws GableError `bad-geometry`
 */
export function drawGeometry(
  g: Geometry,
  width: number,
  height: number,
  adjust: Readonly<Record<string, number>> = {},
): DrawnPath[] {
  const values = workOut(g, width, height, adjust);
  return g.paths.map((p) => {
    const out = pen();
    for (const step of p.steps) draw(out, step, values);
    // A path with a size of its own is drawn in that size and stretched afterwards, angles and all.
    const own = p.width !== null || p.height !== null;
    const stretch = [p.width ? width / p.width : 1, 0, 0, p.height ? height / p.height : 1, 0, 0] as const;
    return { path: own ? transform(out.path, stretch) : out.path, fill: p.fill, stroke: p.stroke };
  });
}

function draw(out: Pen, step: Step, values: Values): void {
  const v = step.args.map((a) => valueOf(a, values));
  const at = (i: number): [number, number] => [v[i] ?? 0, v[i + 1] ?? 0];
  switch (step.op) {
    case 'M':
      out.m(...at(0));
      break;
    case 'L':
      out.l(...at(0));
      break;
    case 'A':
      out.turn(v[0] ?? 0, v[1] ?? 0, (v[2] ?? 0) / ANGLE, (v[3] ?? 0) / ANGLE);
      break;
    case 'C':
      out.c(...at(0), ...at(2), ...at(4));
      break;
    case 'Q':
      out.q(...at(0), ...at(2));
      break;
    case 'Z':
      out.z();
      break;
  }
}

/** The outline to cut a picture with: all that is filled, joined where it overlaps; of what encloses nothing its lines. */
export function silhouetteOf(paths: readonly DrawnPath[]): Path {
  const filled = paths.filter((p) => p.fill !== 'none' && p.path.length > 0);
  if (filled.length === 0) return paths.flatMap((p) => (p.stroke ? p.path : []));
  if (filled.length === 1) return filled[0]!.path;
  const all = filled.flatMap((p) => p.path);
  const b = bounds(all);
  return mergedPath(all, 'nonzero', Math.max(b.width, b.height, 1) / 4000);
}

/** Where a handle lies, given by the names of two guides. */
export const handleAt = (g: Geometry, w: number, h: number, adjust: Record<string, number>, at: string): Point => {
  const values = workOut(g, w, h, adjust);
  const [x = 'hc', y = 'vc'] = at.split(' ');
  return { x: valueOf(x, values), y: valueOf(y, values) };
};

/**
 * Reads our compact way of writing a geometry: parts between bars. First the adjust values (`adj=25000`), then the guides
 * (`a pin 0 adj 50000; x1 …`), then one or more paths (`M l t L r t … Z`), each with optional words before it in square
 * brackets: a fill mode, `nostroke`, and its own size as `21600x21600`.
 */
export function readCompact(text: string): Geometry {
  const [adjust = '', guides = '', ...paths] = text.split('|').map((p) => p.trim());
  return {
    adjust: adjust
      .split(/\s+/)
      .filter(Boolean)
      .map((a) => {
        const [name = '', value] = a.split('=');
        return [name, Number(value)] as const;
      }),
    guides: guides
      .split(';')
      .map((g) => g.trim())
      .filter(Boolean)
      .map((g) => {
        const space = g.indexOf(' ');
        return [g.slice(0, space), g.slice(space + 1)] as const;
      }),
    paths: paths.map(readCompactPath),
  };
}

function readCompactPath(text: string): GeometryPath {
  const m = /^\[([^\]]*)\]/.exec(text);
  const words = m?.[1]?.split(/\s+/) ?? [];
  const size = words.find((x) => /^\d+x\d+$/.test(x))?.split('x') ?? [];
  const steps: Step[] = [];
  const tokens = text
    .slice(m?.[0].length ?? 0)
    .trim()
    .split(/\s+/);
  for (let i = 0; i < tokens.length;) {
    const op = tokens[i] as Step['op'];
    const n = COUNT[op];
    if (n === undefined) throw new RangeError(`“${tokens[i]}” is no step of a path in “${text}”`);
    steps.push({ op, args: tokens.slice(i + 1, i + 1 + n) });
    i += 1 + n;
  }
  return {
    steps,
    width: size[0] ? Number(size[0]) : null,
    height: size[1] ? Number(size[1]) : null,
    fill: (words.find((x) => ['none', 'lighten', 'lightenLess', 'darken', 'darkenLess'].includes(x)) ??
      'norm') as FillMode,
    stroke: !words.includes('nostroke'),
  };
}
