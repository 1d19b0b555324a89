import { GableError } from '../errors';
import { boundedLength } from '../model/bounds';
import { flatten, type Path, type Point, type Segment, type Extent } from './path';

const round = (x: number, digits: number): string => {
  const k = 10 ** digits;
  return String(Math.round(x * k) / k + 0);
};

/** The outline as SVG path data (SVG 2 §9.3), with at most `digits` decimals. */
export function toSvgPath(path: Path, digits = 4): string {
  const n = (...xs: number[]): string => xs.map((x) => round(x, digits)).join(' ');
  return path
    .map((s) => {
      switch (s.op) {
        case 'M':
        case 'L':
          return `${s.op}${n(s.x, s.y)}`;
        case 'C':
          return `C${n(s.x1, s.y1, s.x2, s.y2, s.x, s.y)}`;
        case 'A':
          return `A${n(s.rx, s.ry, s.turn)} ${Number(s.large)} ${Number(s.sweep)} ${n(s.x, s.y)}`;
        case 'Z':
          return 'Z';
      }
    })
    .join('');
}

/**
 * The outline as a CSS `polygon()` in percent of a box (CSS Shapes 1 §3.1), which stretches with that box.
 * Several subpaths are joined by a way there and back along the same line, under the even-odd rule.
 */
export function toCssPolygon(path: Path, box: Extent, tolerance = Math.max(box.width, box.height) / 2000): string {
  const polygons = flatten(path, tolerance);
  const start = polygons[0]?.[0];
  const points: Point[] = [];
  for (const p of polygons) {
    points.push(...p, p[0]!);
    if (polygons.length > 1 && start) points.push(start);
  }
  if (polygons.length === 1) points.pop();
  const text = points.map((p) => `${round((p.x / box.width) * 100, 3)}% ${round((p.y / box.height) * 100, 3)}%`);
  return `polygon(${polygons.length > 1 ? 'evenodd, ' : ''}${text.join(', ')})`;
}

const NUMBER = /[+-]?(?:\d+\.?\d*|\.\d+)(?:e[+-]?\d+)?/iy;
const FLAG = /[01]/y;
const SEPARATOR = /[\s,]*/y;
const COUNTS: Record<string, number> = { M: 2, L: 2, H: 1, V: 1, C: 6, S: 4, Q: 4, T: 2, A: 7, Z: 0 };

/**
 * Reads SVG path data (grammar of SVG 2 §9.3.9): all commands, absolute and relative; quadratic curves become cubic.
 * @throws GableError `bad-path` with the place of the fault
 */
export function parseSvgPath(text: string): Path {
  const out: Segment[] = [];
  let at = 0;
  let pen: Point = { x: 0, y: 0 };
  let first: Point = pen;
  let last = '';
  let control: Point = pen;
  const fail = (): never => {
    throw new GableError(
      'bad-path',
      `The path cannot be read at character ${at + 1}: “${text.slice(at, at + 12)}”.`,
      'Save the drawing again as plain SVG.',
      { at },
    );
  };
  const eat = (expression: RegExp): string | null => {
    expression.lastIndex = at;
    const m = expression.exec(text);
    if (m) at = expression.lastIndex;
    return m && m[0];
  };
  let command = '';
  eat(SEPARATOR);
  while (at < text.length) {
    const letter = text[at]!;
    if (/[a-z]/i.test(letter)) {
      if (COUNTS[letter.toUpperCase()] === undefined) fail();
      command = letter;
      at++;
    } else if (command === '' || command.toUpperCase() === 'Z') fail();
    const op = command.toUpperCase();
    if (out.length === 0 && op !== 'M') fail();
    const values: number[] = [];
    for (let i = 0; i < COUNTS[op]!; i++) {
      eat(SEPARATOR);
      const token = op === 'A' && (i === 3 || i === 4) ? eat(FLAG) : eat(NUMBER);
      if (token === null) fail();
      values.push(boundedLength(Number(token)));
    }
    eat(SEPARATOR);
    const relative = command !== op;
    const dx = relative ? pen.x : 0;
    const dy = relative ? pen.y : 0;
    const point = (i: number): Point => ({ x: values[i]! + dx, y: values[i + 1]! + dy });
    const mirrored = (kinds: string): Point =>
      kinds.includes(last) ? { x: 2 * pen.x - control.x, y: 2 * pen.y - control.y } : pen;
    const cubic = (c1: Point, c2: Point, to: Point): void => {
      out.push({ op: 'C', x1: c1.x, y1: c1.y, x2: c2.x, y2: c2.y, ...to });
      pen = to;
    };
    const quadratic = (c: Point, to: Point): void => {
      const third = (p: Point): Point => ({ x: p.x + (2 * (c.x - p.x)) / 3, y: p.y + (2 * (c.y - p.y)) / 3 });
      cubic(third(pen), third(to), to);
      control = c;
    };
    const line = (to: Point): void => {
      out.push({ op: 'L', ...to });
      pen = to;
    };
    switch (op) {
      case 'M':
        pen = first = point(0);
        out.push({ op: 'M', ...pen });
        command = relative ? 'l' : 'L';
        break;
      case 'L':
        line(point(0));
        break;
      case 'H':
        line({ x: values[0]! + dx, y: pen.y });
        break;
      case 'V':
        line({ x: pen.x, y: values[0]! + dy });
        break;
      case 'C':
        control = point(2);
        cubic(point(0), control, point(4));
        break;
      case 'S': {
        const c1 = mirrored('CS');
        control = point(0);
        cubic(c1, control, point(2));
        break;
      }
      case 'Q':
        quadratic(point(0), point(2));
        break;
      case 'T':
        quadratic(mirrored('QT'), point(0));
        break;
      case 'A': {
        const [rx, ry, turn, large, sweep] = values as [number, number, number, number, number];
        const to = point(5);
        if (rx === 0 || ry === 0) line(to);
        else {
          out.push({
            op: 'A',
            rx: Math.abs(rx),
            ry: Math.abs(ry),
            turn,
            large: large === 1,
            sweep: sweep === 1,
            ...to,
          });
          pen = to;
        }
        break;
      }
      case 'Z':
        out.push({ op: 'Z' });
        pen = first;
        break;
    }
    last = op;
  }
  return out;
}
