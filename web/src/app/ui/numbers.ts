import { POINTS, type Unit } from '@gable/core';

const LOCALE = (globalThis.navigator as Navigator | undefined)?.language ?? 'en';
const formats = new Map<number, Intl.NumberFormat>();

/** A number as the reader's locale writes it, with at most `digits` decimals: without groups, so that it can be typed again. */
export function shownNumber(value: number, digits: number): string {
  let format = formats.get(digits);
  if (!format) {
    format = new Intl.NumberFormat(LOCALE, {
      maximumFractionDigits: digits,
      useGrouping: false,
      signDisplay: 'negative',
    });
    formats.set(digits, format);
  }
  return format.format(value).replace('\u2212', '-');
}

/** A length in a unit: `48 mm`. @param pt in points */
export const shownLength = (pt: number, unit: Unit = 'mm', digits = 1): string =>
  `${shownNumber(pt / POINTS[unit], digits)} ${unit}`;

/** Bytes as an author reads them. */
export const shownBytes = (bytes: number): string =>
  bytes < 1e6 ? `${shownNumber(Math.max(1, bytes / 1000), 0)} kB` : `${shownNumber(bytes / 1e6, 1)} MB`;

const lists = new Intl.ListFormat(LOCALE, { type: 'conjunction' });

/** Names one after the other: `A, B and C`. */
export const shownList = (names: readonly string[]): string => lists.format(names);
