import { lineIn, type Paint, type Text } from '@gable/core';
import { solid } from './page-ink';

/** How words are set in CSS, on a page and where they are typed. */
export const ALIGN = { start: 'left', centre: 'center', end: 'right', justify: 'justify' } as const;
export const ANCHOR = { top: 'flex-start', middle: 'center', bottom: 'flex-end' } as const;

/** From line to line, in ems. */
export const lineOf = ({ runs, spacing }: Text['paragraphs'][number]): number =>
  lineIn(runs[0]?.font ?? '') * (spacing?.lines ?? 1);

/** Letters have one colour. */
export function colourOf(paint: Paint): string {
  const of = solid(paint);
  return of.kind === 'solid' ? of.colour : '#22302f';
}
