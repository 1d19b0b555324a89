import { POINTS, type Uneven } from '@gable/core';
import { shownNumber } from '../ui/numbers';

const NUMBERS = [
  'none',
  'one',
  'two',
  'three',
  'four',
  'five',
  'six',
  'seven',
  'eight',
  'nine',
  'ten',
  'eleven',
  'twelve',
];
const said = (n: number): string => NUMBERS[n] ?? String(n);
const mm = (v: number): string => shownNumber(v / POINTS.mm, 1);

/** “Seven frames, six sizes” */
export function familyWords({ kind, members, different, target }: Uneven): string {
  const count = said(members.length);
  const what =
    target.kind === 'size' && target.round ? 'round frames' : kind === 'size' || kind === 'ratio' ? 'frames' : '';
  const things = { size: 'sizes', ratio: 'ratios', weight: 'weights', colour: 'colours', corners: 'roundnesses' }[kind];
  const lead = {
    size: what,
    ratio: what,
    weight: 'outlines',
    colour: 'outlines',
    corners: 'frames with round corners',
  }[kind];
  return `${count[0]!.toUpperCase()}${count.slice(1)} ${lead}, ${said(different)} ${things}`;
}

/** “Make them all 32 mm circles” */
export function wishWords({ target }: Uneven): string {
  switch (target.kind) {
    case 'size':
      return target.round
        ? `Make them all ${mm(target.size.width)} mm circles`
        : `Make them all ${mm(target.size.width)} × ${mm(target.size.height)} mm`;
    case 'ratio':
      return `Give them all the ratio ${ratioWords(target.ratio)}`;
    case 'weight':
      return `Make them all ${shownNumber(target.weight, 2)} pt`;
    case 'colour':
      return `Give them all the colour ${target.colour}`;
    case 'corners':
      return 'Make all corners alike';
  }
}

function ratioWords(ratio: number): string {
  for (let h = 1; h <= 16; h++) {
    const w = ratio * h;
    if (Math.abs(w - Math.round(w)) < 1e-6) return `${Math.round(w)}:${h}`;
  }
  return shownNumber(ratio, 3);
}
