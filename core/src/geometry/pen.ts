import { radians } from './numeric';
import type { Path, Point, Segment } from './path';

/** Writes an outline step by step: `pen().m(0, 0).l(10, 0).z().path`. */
export class Pen {
  private readonly segments: Segment[] = [];
  private at: Point = { x: 0, y: 0 };

  private add(s: Exclude<Segment, { op: 'Z' }>): this {
    this.segments.push(s);
    this.at = { x: s.x, y: s.y };
    return this;
  }
  /** Begins a subpath. */
  m(x: number, y: number): this {
    return this.add({ op: 'M', x, y });
  }
  /** Straight lines through points, as a flat list. */
  l(...xy: number[]): this {
    for (let i = 0; i + 1 < xy.length; i += 2) this.add({ op: 'L', x: xy[i]!, y: xy[i + 1]! });
    return this;
  }
  c(x1: number, y1: number, x2: number, y2: number, x: number, y: number): this {
    return this.add({ op: 'C', x1, y1, x2, y2, x, y });
  }
  /** A quadratic curve, raised to a cubic. */
  q(cx: number, cy: number, x: number, y: number): this {
    const { x: px, y: py } = this.at;
    const t = (p: number, c: number): number => p + (2 * (c - p)) / 3;
    return this.c(t(px, cx), t(py, cy), t(x, cx), t(y, cy), x, y);
  }
  /** An elliptical arc to a point; clockwise by default, the shorter way. */
  a(rx: number, ry: number, x: number, y: number, sweep = true, large = false): this {
    if (rx <= 0 || ry <= 0) return this.l(x, y);
    return this.add({ op: 'A', rx, ry, turn: 0, large, sweep, x, y });
  }
  /**
   * An arc that begins where the pen is, at `start` degrees of an ellipse with these radii, and runs on by `swing` degrees
   * (clockwise positive): ISO/IEC 29500-1 §20.1.9.1 (arcTo). A swing of more than half a turn is written as two arcs.
   */
  turn(rx: number, ry: number, start: number, swing: number): this {
    if (rx <= 0 || ry <= 0 || swing === 0) return this;
    const { x, y } = this.at;
    const whole = Math.max(-360, Math.min(360, swing));
    // The angle is one on the page; the ellipse's own parameter differs when it is not a circle.
    const parameter = (degrees: number): number => {
      const a = radians(degrees);
      return Math.atan2(rx * Math.sin(a), ry * Math.cos(a));
    };
    const t0 = parameter(start);
    const cx = x - rx * Math.cos(t0);
    const cy = y - ry * Math.sin(t0);
    const parts = Math.max(1, Math.ceil(Math.abs(whole) / 120));
    for (let i = 1; i <= parts; i++) {
      const t = parameter(start + (whole * i) / parts);
      this.a(rx, ry, cx + rx * Math.cos(t), cy + ry * Math.sin(t), whole > 0);
    }
    return this;
  }
  z(): this {
    this.segments.push({ op: 'Z' });
    return this;
  }
  /** Adds a finished outline. */
  join(path: Path): this {
    this.segments.push(...path);
    return this;
  }
  get path(): Path {
    return this.segments;
  }
}

export const pen = (): Pen => new Pen();
