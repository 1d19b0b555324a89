/**
 * The same data? Keys in any order, a key without a value as good as none, numbers within a tolerance. Databases reorder the
 * keys of what they keep (PostgreSQL's `jsonb` does), so text is never compared.
 * @param tolerance how far numbers may be apart, of the larger of them and of 1; by default far below what any format keeps
 */
export function equal(a: unknown, b: unknown, tolerance = 1e-9): boolean {
  if (Object.is(a, b)) return true;
  if (typeof a === 'number' && typeof b === 'number')
    return Math.abs(a - b) <= tolerance * Math.max(1, Math.abs(a), Math.abs(b));
  if (typeof a !== 'object' || typeof b !== 'object' || a === null || b === null) return false;
  if (Array.isArray(a) || Array.isArray(b))
    return (
      Array.isArray(a) &&
      Array.isArray(b) &&
      a.length === b.length &&
      a.every((value: unknown, i) => equal(value, b[i], tolerance))
    );
  const [left, right] = [a as Record<string, unknown>, b as Record<string, unknown>];
  for (const key in left) if (!equal(left[key], right[key], tolerance)) return false;
  for (const key in right) if (!(key in left) && right[key] !== undefined) return false;
  return true;
}
