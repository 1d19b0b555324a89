import { GableError } from '../errors';
import { clamp, radians } from '../geometry/numeric';

/** Angles of the standard are in 1/60,000 of a degree. */
export const ANGLE = 60_000;

/** Values by name: adjust values, what the standard predefines, and guides as they are worked out. */
export type Values = Map<string, number>;

/** The guides every shape has, ISO/IEC 29500-1 §20.1.9.11 (ST_ShapeType's predefined names), for a box in any unit. */
export function predefined(w: number, h: number): Values {
  const ss = Math.min(w, h);
  const out: Values = new Map(
    Object.entries({ l: 0, t: 0, r: w, b: h, w, h, hc: w / 2, vc: h / 2, ss, ls: Math.max(w, h) }),
  );
  for (const n of [2, 3, 4, 5, 6, 8, 10, 12, 32]) {
    out.set(`wd${n}`, w / n);
    out.set(`hd${n}`, h / n);
  }
  for (const n of [2, 4, 6, 8, 16, 32]) out.set(`ssd${n}`, ss / n);
  const circle = 360 * ANGLE;
  for (const n of [2, 4, 8]) out.set(`cd${n}`, circle / n);
  for (const [k, n] of [
    [3, 4],
    [3, 8],
    [5, 8],
    [7, 8],
  ] as const)
    out.set(`${k}cd${n}`, (circle * k) / n);
  return out;
}

const sin = (angle: number): number => Math.sin(radians(angle / ANGLE));
const cos = (angle: number): number => Math.cos(radians(angle / ANGLE));
const atan = (y: number, x: number): number => (Math.atan2(y, x) / Math.PI) * 180 * ANGLE;

/** The operators of §20.1.9.11 (gd, shape guide formulas), each with its number of arguments. */
const OPERATORS: Record<string, [number, (x: number, y: number, z: number) => number]> = {
  '*/': [3, (x, y, z) => (z === 0 ? 0 : (x * y) / z)],
  '+-': [3, (x, y, z) => x + y - z],
  '+/': [3, (x, y, z) => (z === 0 ? 0 : (x + y) / z)],
  '?:': [3, (x, y, z) => (x > 0 ? y : z)],
  abs: [1, (x) => Math.abs(x)],
  at2: [2, (x, y) => atan(y, x)],
  cat2: [3, (x, y, z) => x * Math.cos(Math.atan2(z, y))],
  cos: [2, (x, y) => x * cos(y)],
  max: [2, (x, y) => Math.max(x, y)],
  min: [2, (x, y) => Math.min(x, y)],
  mod: [3, (x, y, z) => Math.hypot(x, y, z)],
  pin: [3, (x, y, z) => clamp(y, x, Math.max(x, z))],
  sat2: [3, (x, y, z) => x * Math.sin(Math.atan2(z, y))],
  sin: [2, (x, y) => x * sin(y)],
  sqrt: [1, (x) => Math.sqrt(Math.max(0, x))],
  tan: [2, (x, y) => x * Math.tan(radians(y / ANGLE))],
  val: [1, (x) => x],
};

/**
 * A number or a name. @throws GableError `bad-geometry` for a name that is not known
 */
export function valueOf(token: string, values: Values): number {
  const known = values.get(token);
  if (known !== undefined) return known;
  const number = Number(token);
  if (token.trim() === '' || !Number.isFinite(number))
    throw new GableError(
      'bad-geometry',
      `The shape names “${token}”, which is not defined.`,
      'It is kept in the file as it is, and drawn as its box.',
      { token },
    );
  return number;
}

/**
 * Works out one formula such as `+- ss a 100000`.
 * @throws GableError `bad-geometry` for an operator that is not in the standard, or too few arguments
 */
export function evaluate(formula: string, values: Values): number {
  const [operator = '', ...tokens] = formula.trim().split(/\s+/);
  const entry = OPERATORS[operator];
  if (!entry || tokens.length < entry[0])
    throw new GableError(
      'bad-geometry',
      `The shape has a formula “${formula}” that the standard does not know.`,
      'It is kept in the file as it is, and drawn as its box.',
      { formula },
    );
  const [x = 0, y = 0, z = 0] = tokens.slice(0, entry[0]).map((t) => valueOf(t, values));
  return entry[1](x, y, z);
}
