import { GableError } from './errors';

/** Points in one of each unit. 1 pt = 1/72 in; px are the reference pixels of CSS Values 4 §6.2 (96 to the inch). */
export const POINTS = { pt: 1, in: 72, cm: 72 / 2.54, mm: 72 / 25.4, px: 0.75 } as const;
export type Unit = keyof typeof POINTS;

/** English Metric Units in a point: 12,700 (ISO/IEC 29500-1, ST_Coordinate: 914,400 to the inch). */
export const EMU_PER_POINT = 12_700;

/** @param emu length in EMU @returns points */
export const fromEmu = (emu: number): number => emu / EMU_PER_POINT;
/** @param pt length in points @returns whole EMU */
export const toEmu = (pt: number): number => Math.round(pt * EMU_PER_POINT);

const NUMBER = /^\s*([+-]?(?:\d+(?:[.,]\d*)?|[.,]\d+))\s*(pt|in|cm|mm|px|″|")?\s*$/i;

/** Which side of a paper is meant when only its name is given. */
export type Axis = 'across' | 'down';

/**
 * Reads a length such as `35mm`, `2 in`, `6pt` or `1,5 cm`; or, after `=`, a sum such as `=A4/3` or `=210mm - 2*15mm`
 * with `+ - * /`, brackets, and papers of ISO 216 (A0 to A10) or `letter` by name.
 * @param text what was typed
 * @param unit the unit of a bare number
 * @param axis which side a paper's name stands for
 * @returns points
 * @throws GableError `bad-length` when it is no length
 */
export function parseLength(text: string, unit: Unit = 'pt', axis: Axis = 'across'): number {
  const value = /^\s*=/.test(text) ? new Sum(text.slice(text.indexOf('=') + 1), unit, axis).value() : plain(text, unit);
  if (value === null || !Number.isFinite(value))
    throw new GableError(
      'bad-length',
      `“${text}” is not a length.`,
      'Write a number and a unit, such as 35 mm, 2 in, 6 pt or 40 px; or a sum, such as =A4/3.',
      { text },
    );
  return value;
}

function plain(text: string, unit: Unit): number | null {
  const m = NUMBER.exec(text);
  if (!m) return null;
  return Number(m[1]!.replace(',', '.')) * POINTS[unitOf(m[2]) ?? unit];
}

const unitOf = (text: string | undefined): Unit | undefined =>
  text?.toLowerCase().replace(/[″"]/, 'in') as Unit | undefined;

/** Shorter and longer side of a paper, points. ISO 216: A0 has an area of 1 m², each next one is half, in whole millimetres. */
function paper(name: string): [number, number] | null {
  const size = /^a(10|\d)$/i.exec(name)?.[1];
  if (size !== undefined) {
    let [short, long] = [841, 1189];
    for (let i = 0; i < Number(size); i++) [short, long] = [Math.floor(long / 2), short];
    return [short * POINTS.mm, long * POINTS.mm];
  }
  return /^letter$/i.test(name) ? [8.5 * 72, 11 * 72] : null;
}

/** A number and the power of length it has: 0 for a factor, 1 for a length. */
interface Term {
  value: number;
  power: number;
}

/** A sum as it is typed, by descent: `+ -` below `* /` below signs, brackets and numbers. */
class Sum {
  private at = 0;
  private readonly tokens: string[];

  constructor(
    text: string,
    private readonly unit: Unit,
    private readonly axis: Axis,
  ) {
    this.tokens = text.match(/\d+(?:[.,]\d*)?|[.,]\d+|[a-z]+\d*|[″"]|\S/gi) ?? [];
  }

  /** Points; null when it is no sum, or none of lengths. */
  value(): number | null {
    const term = this.sum();
    if (!term || this.at < this.tokens.length) return null;
    // A sum of bare numbers is in the field's own unit.
    return term.power === 1 ? term.value : term.power === 0 ? term.value * POINTS[this.unit] : null;
  }

  private next(...wanted: string[]): string | null {
    const token = this.tokens[this.at];
    if (token === undefined || !wanted.includes(token)) return null;
    this.at++;
    return token;
  }

  private sum(): Term | null {
    let left = this.product();
    for (let sign = this.next('+', '-', '−'); left && sign; sign = this.next('+', '-', '−')) {
      const right = this.product();
      if (right?.power !== left.power) return null;
      left = { value: left.value + (sign === '+' ? right.value : -right.value), power: left.power };
    }
    return left;
  }

  private product(): Term | null {
    let left = this.factor();
    for (let sign = this.next('*', '/', '×', '÷'); left && sign; sign = this.next('*', '/', '×', '÷')) {
      const right = this.factor();
      if (!right) return null;
      const by = sign === '/' || sign === '÷';
      left = {
        value: by ? left.value / right.value : left.value * right.value,
        power: left.power + (by ? -right.power : right.power),
      };
    }
    return left;
  }

  private factor(): Term | null {
    if (this.next('-', '−')) {
      const inner = this.factor();
      return inner && { ...inner, value: -inner.value };
    }
    if (this.next('(')) {
      const inner = this.sum();
      return this.next(')') ? inner : null;
    }
    const token = this.tokens[this.at++];
    if (token === undefined) return null;
    const named = paper(token);
    if (named) return { value: named[this.axis === 'across' ? 0 : 1], power: 1 };
    if (!/^[\d.,]/.test(token) || !/\d/.test(token)) return null;
    const value = Number(token.replace(',', '.'));
    const unit = unitOf(this.tokens[this.at]);
    if (unit === undefined || !Object.hasOwn(POINTS, unit)) return { value, power: 0 };
    this.at++;
    return { value: value * POINTS[unit], power: 1 };
  }
}

/** The unit that a length was typed in: the last one in it; null where it has none. */
export function unitIn(text: string): Unit | null {
  const found = [...text.matchAll(/(?<![a-z])(pt|in|cm|mm|px)(?![a-z])|[″"]/gi)].at(-1)?.[0];
  return unitOf(found) ?? null;
}

/** @returns the length in `unit` with at most `digits` decimals, without trailing zeros: `48 mm`. */
export function formatLength(pt: number, unit: Unit = 'mm', digits = 1): string {
  return `${trimNumber(pt / POINTS[unit], digits)} ${unit}`;
}

/** A number with at most `digits` decimals and no trailing zeros; never `-0`. */
export function trimNumber(value: number, digits: number): string {
  const text = value.toFixed(digits);
  const short = text.includes('.') ? text.replace(/\.?0+$/, '') : text;
  return short === '-0' ? '0' : short;
}
