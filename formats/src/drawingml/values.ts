import { boundedLength, POINTS, fromEmu, type Unit } from '@gable/core';

/** A whole number, or the fallback. */
export function integer(text: string | undefined, fallback = 0): number {
  const n = text === undefined ? NaN : Number(text);
  return Number.isFinite(n) && Math.abs(n) <= Number.MAX_SAFE_INTEGER ? n : fallback;
}

/**
 * A coordinate in points: EMU, or a number with a unit as strict documents may write it
 * (ISO/IEC 29500-1 §20.1.10.16, ST_Coordinate; §22.9.2.15, ST_UniversalMeasure).
 */
export function measure(text: string | undefined): number | null {
  if (text === undefined) return null;
  const m = /^\s*(-?\d+(?:\.\d+)?)(mm|cm|in|pt|pc|pi)?\s*$/.exec(text);
  if (!m) return null;
  if (!m[2]) return boundedLength(fromEmu(Number(m[1])));
  const n = boundedLength(Number(m[1]));
  return m[2] === 'pc' || m[2] === 'pi' ? n * 12 : n * POINTS[m[2] as Unit];
}

/** A percentage as a share: 1/1000 % (transitional) or `12.5%` (strict); ISO/IEC 29500-1 §20.1.10.40. */
export function share(text: string | undefined): number | null {
  const m = /^\s*(-?\d+(?:\.\d+)?)(%)?\s*$/.exec(text ?? '');
  return m ? boundedLength(Number(m[1])) / (m[2] ? 100 : 100_000) : null;
}

/** A share in 1/1000 %, or with a sign in strict documents. */
export function formatShare(value: number, strict: boolean): string {
  const thousandths = Math.round(value * 100_000);
  return strict ? `${thousandths / 1000}%` : String(thousandths === 0 ? 0 : thousandths);
}

/** Is an attribute on (XML Schema Part 2 §3.2.2, boolean)? */
export const isOn = (value: string | undefined): boolean => value === '1' || value === 'true';
