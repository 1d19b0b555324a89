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

const LENGTH = /^\s*([+-]?(?:\d+(?:[.,]\d*)?|[.,]\d+))\s*(pt|in|cm|mm|px|″|")?\s*$/i;

/**
 * Reads a length such as `35mm`, `2 in`, `6pt` or `1,5 cm`.
 * @param text what was typed
 * @param unit the unit of a bare number
 * @returns points
 * @throws GableError `bad-length` when it is no length
 */
export function parseLength(text: string, unit: Unit = 'pt'): number {
  const m = LENGTH.exec(text);
  const value = m ? Number(m[1]!.replace(',', '.')) : NaN;
  if (!m || !Number.isFinite(value))
    throw new GableError(
      'bad-length',
      `“${text}” is not a length.`,
      'Write a number and a unit, such as 35 mm, 2 in, 6 pt or 40 px.',
      { text },
    );
  const named = m[2]?.toLowerCase().replace(/[″"]/, 'in') as Unit | undefined;
  return value * POINTS[named ?? unit];
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
