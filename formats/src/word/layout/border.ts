import { trimNumber } from '@gable/core';

const n = (v: number): string => trimNumber(v, 3);

/** A border as CSS (§17.18.2, ST_Border; sizes in eighths of a point); null for none. */
export function borderCss(border: Readonly<Record<string, string>>): string | null {
  const { val = 'none', sz, color } = border;
  if (val === 'none' || val === 'nil') return null;
  const style = /^dot/i.test(val) ? 'dotted' : /^dash/i.test(val) ? 'dashed' : /double/i.test(val) ? 'double' : 'solid';
  const width = Math.min(12, Math.max(0.25, (Number(sz) || 4) / 8)) * (style === 'double' ? 3 : 1);
  return `${n(width)}pt ${style} ${color && /^[0-9a-f]{6}$/i.test(color) ? `#${color}` : '#000'}`;
}
