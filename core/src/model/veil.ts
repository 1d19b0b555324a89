import type { Fill } from './document';

/** A paint through which what lies beneath shows blurred. */
export type VeilFill = Extract<Fill, { kind: 'paint' }> & { blur: number };

export const isVeil = (fill: Fill | null | undefined): fill is VeilFill =>
  fill?.kind === 'paint' && fill.blur !== undefined;
