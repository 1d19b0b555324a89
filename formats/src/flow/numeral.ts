/** A number as lists write it, by the names of ISO/IEC 29500-1 §17.18.59 (ST_NumberFormat). */
export function numeral(n: number, format: string): string {
  switch (format) {
    case 'none':
      return '';
    case 'decimalZero':
      return n < 10 ? `0${n}` : String(n);
    case 'lowerLetter':
      return letters(n);
    case 'upperLetter':
      return letters(n).toUpperCase();
    case 'lowerRoman':
      return roman(n).toLowerCase();
    case 'upperRoman':
      return roman(n);
    case 'ordinal':
      return `${n}${ordinal(n)}`;
    default:
      return String(n);
  }
}

/** a … z, aa … zz. */
const letters = (n: number): string =>
  n < 1 ? '' : String.fromCharCode(97 + ((n - 1) % 26)).repeat(1 + Math.floor((n - 1) / 26));

const ROMAN = [
  ['M', 1000],
  ['CM', 900],
  ['D', 500],
  ['CD', 400],
  ['C', 100],
  ['XC', 90],
  ['L', 50],
  ['XL', 40],
  ['X', 10],
  ['IX', 9],
  ['V', 5],
  ['IV', 4],
  ['I', 1],
] as const;
function roman(n: number): string {
  let [left, out] = [Math.min(n, 9999), ''];
  for (const [sign, value] of ROMAN)
    while (left >= value) {
      out += sign;
      left -= value;
    }
  return out;
}

function ordinal(n: number): string {
  const [tens, ones] = [n % 100, n % 10];
  if (tens >= 11 && tens <= 13) return 'th';
  return ones === 1 ? 'st' : ones === 2 ? 'nd' : ones === 3 ? 'rd' : 'th';
}

/** Letters of symbol fonts as plain ones (their code charts, from memory). */
const SYMBOLS: Readonly<Record<string, string>> = {
  '\uf0b7': '•',
  '\uf0a7': '▪',
  '\uf0d8': '➢',
  '\uf0fc': '✓',
  '\uf076': '❖',
  '\uf071': '❑',
  '\uf0a8': '◻',
  '\uf06c': '●',
  '\uf06e': '■',
  '\uf0e0': '→',
  '\uf02d': '-',
};
export const plainSymbols = (text: string): string => text.replace(/[\uf000-\uf0ff]/g, (c) => SYMBOLS[c] ?? '•');
