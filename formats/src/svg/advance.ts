/** Advance widths of a plain sans serif (Helvetica and what has its widths), thousandths of the size, from memory. */
const WIDTHS: readonly (readonly [number, string])[] = [
  [191, "'"],
  [222, 'ijl'],
  [260, '|'],
  [278, ' !,./:;I[\\]ft'],
  [333, '()-`r'],
  [355, '"'],
  [389, '*'],
  [469, '^'],
  [500, 'Jcksvxyz'],
  [556, '#$0123456789?L_abdeghnopqu'],
  [584, '+<=>~'],
  [611, 'FTZ'],
  [667, '&ABEKPSVXY'],
  [722, 'CDHNRUw'],
  [778, 'GOQ'],
  [833, 'Mm'],
  [889, '%'],
  [944, 'W'],
  [1015, '@'],
];
const BY_LETTER = new Map(WIDTHS.flatMap(([width, letters]) => [...letters].map((l) => [l, width / 1000] as const)));

/** How wide a letter is, in ems; one with an accent is as wide as without. Letters of other scripts are square at most. */
export function advanceOf(letter: string): number {
  const [base] = letter.normalize('NFD');
  return BY_LETTER.get(base ?? '') ?? (/[\u2e80-\uffef]|[\ud83c-\udbff]/.test(letter) ? 1 : 0.556);
}
