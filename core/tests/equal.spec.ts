import { equal } from '@gable/core';
import fc from 'fast-check';

/** The same data with the keys of every object the other way round, as a database may hand them out. */
function reordered(value: unknown): unknown {
  if (Array.isArray(value)) return value.map(reordered);
  if (typeof value !== 'object' || value === null) return value;
  return Object.fromEntries(
    Object.entries(value)
      .reverse()
      .map(([k, v]) => [k, reordered(v)]),
  );
}

describe('one equality', () => {
  test('the order of keys does not count, at any depth', () => {
    fc.assert(
      fc.property(fc.jsonValue(), (value) => {
        expect(equal(value, reordered(value))).toBe(true);
        expect(equal(value, structuredClone(value))).toBe(true);
      }),
    );
  });

  test('a key more, a value less, another order of a list: not the same', () => {
    expect(equal({ a: 1 }, { a: 1, b: 2 })).toBe(false);
    expect(equal({ a: 1, b: 2 }, { a: 1 })).toBe(false);
    expect(equal([1, 2], [2, 1])).toBe(false);
    expect(equal([1], [1, 1])).toBe(false);
    expect(equal([], {})).toBe(false);
    expect(equal(null, {})).toBe(false);
    expect(equal(null, undefined)).toBe(false);
    expect(equal('1', 1)).toBe(false);
  });

  test('a key without a value is as good as none', () => {
    expect(equal({ a: 1, tone: undefined }, { a: 1 })).toBe(true);
    expect(equal({ a: 1 }, { a: 1, tone: undefined })).toBe(true);
    expect(equal({ a: null }, { a: undefined })).toBe(false);
  });

  test('numbers within a billionth are the same, a thousandth of an EMU is not lost', () => {
    expect(equal(0.1 + 0.2, 0.3)).toBe(true);
    expect(equal(1e6, 1e6 + 1e-4)).toBe(true);
    expect(equal(0, -0)).toBe(true);
    // One EMU is 1/12,700 of a point (ISO/IEC 29500-1, ST_Coordinate).
    expect(equal(72, 72 + 1 / 12_700 / 1000)).toBe(false);
    expect(equal({ x: 1 }, { x: 1.001 }, 2e-3)).toBe(true);
    expect(equal({ x: 1 }, { x: 1.003 }, 2e-3)).toBe(false);
  });
});
