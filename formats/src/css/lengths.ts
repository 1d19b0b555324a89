import { boundedLength, POINTS, type Unit } from '@gable/core';

/** Points in a CSS pixel (CSS Values 4 §6.2). */
export const PIXEL = POINTS.px;

/** A length in points; null for percentages, other units and words. @param unitless points of a bare number */
export function pointsOf(text: string | undefined, unitless = 0): number | null {
  const m = /^\s*(-?\d*\.?\d+)([a-z%]*)\s*$/i.exec(text ?? '');
  if (!m) return null;
  const unit = m[2]!.toLowerCase();
  const value = boundedLength(Number(m[1]));
  if (unit === '') return value === 0 ? 0 : unitless > 0 ? value * unitless : null;
  if (unit === 'em' || unit === 'rem') return value * 12;
  return unit in POINTS ? value * POINTS[unit as Unit] : null;
}

export function percentOf(text: string | undefined): number | null {
  const m = /^\s*(-?\d*\.?\d+)%\s*$/.exec(text ?? '');
  return m ? boundedLength(Number(m[1])) / 100 : null;
}
