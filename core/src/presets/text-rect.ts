import type { Rect } from '../geometry/path';
import { workOut } from './geometry';
import { evaluate, valueOf } from './guides';
import { presetGeometry } from './index';

/** Of an oval: as far as half of a right angle. */
const OVAL = 'x cos wd2 2700000; y sin hd2 2700000; il +- hc 0 x; ir +- hc x 0; it +- vc 0 y; ib +- vc y 0|il it ir ib';
/** In from rounded corners by what an arc leaves at half of a right angle. */
const rounded = (adjust: string): string =>
  `c pin 0 ${adjust} 50000; u */ ss c 100000; il */ u 29289 100000; ir +- r 0 il; ib +- b 0 il|il il ir ib`;
const shares = (l: number, t: number, r: number, b: number): string =>
  `il */ w ${l} 21600; it */ h ${t} 21600; ir */ w ${r} 21600; ib */ h ${b} 21600|il it ir ib`;
/** Between the points of a star, which are its inner ones at half of a right angle. */
const STAR =
  'c pin 0 adj 50000; rx */ wd2 c 50000; ry */ hd2 c 50000; x cos rx 2700000; y sin ry 2700000; il +- hc 0 x; ir +- hc x 0; it +- vc 0 y; ib +- vc y 0|il it ir ib';
/** As far as the shaft of an arrow, and into its head as far as that is as wide as it. */
const SHAFT = 'm */ 100000 LONG ss; c pin 0 adj2 m; e pin 0 adj1 100000; q */ ss c 100000';
const across = SHAFT.replace('LONG', 'w');
const down = SHAFT.replace('LONG', 'h');

/**
 * Rectangles for the words in preset shapes (`rect` in ISO/IEC 29500-1 Annex D, presetShapeDefinitions), from memory: guides, then
 * left, top, right, bottom. In shapes that are not named words have all of the box.
 */
const RECTS: Readonly<Record<string, string>> = {
  ellipse: OVAL,
  pie: OVAL,
  donut: OVAL,
  noSmoking: OVAL,
  smileyFace: OVAL,
  flowChartConnector: OVAL,
  flowChartOr: OVAL,
  flowChartSummingJunction: OVAL,
  flowChartDelay: OVAL.replace('il +- hc 0 x', 'il val 0'),
  wedgeEllipseCallout: OVAL,
  teardrop: OVAL,
  chord: OVAL,
  roundRect: rounded('adj'),
  round1Rect: 'c pin 0 adj 50000; u */ ss c 100000; d */ u 29289 100000; ir +- r 0 d|l t ir b',
  round2SameRect:
    'c pin 0 adj1 50000; e pin 0 adj2 50000; u */ ss c 100000; v */ ss e 100000; td */ u 29289 100000; bd */ v 29289 100000; il max td bd; ir +- r 0 il; ib +- b 0 bd|il td ir ib',
  round2DiagRect:
    'c pin 0 adj1 50000; e pin 0 adj2 50000; u */ ss c 100000; v */ ss e 100000; k max u v; il */ k 29289 100000; ir +- r 0 il; ib +- b 0 il|il il ir ib',
  snip1Rect: 'c pin 0 adj 50000; u */ ss c 100000; it */ u 1 2; ir +- r 0 it|l it ir b',
  snip2SameRect:
    'c pin 0 adj1 50000; e pin 0 adj2 50000; u */ ss c 100000; v */ ss e 100000; k max u v; il */ k 1 2; it */ u 1 2; ir +- r 0 il; bd */ v 1 2; ib +- b 0 bd|il it ir ib',
  snip2DiagRect:
    'c pin 0 adj1 50000; e pin 0 adj2 50000; u */ ss c 100000; v */ ss e 100000; k max u v; il */ k 1 2; ir +- r 0 il; ib +- b 0 il|il il ir ib',
  plaque: 'c pin 0 adj 50000; u */ ss c 100000; il */ u 70711 100000; ir +- r 0 il; ib +- b 0 il|il il ir ib',
  wedgeRoundRectCallout: rounded('adj3'),
  flowChartAlternateProcess: rounded('16667'),
  triangle: 'c pin 0 adj 100000; x1 */ w c 200000; x3 +- x1 wd2 0|x1 vc x3 b',
  flowChartExtract: 'ir */ w 3 4|wd4 vc ir b',
  flowChartMerge: 'ir */ w 3 4|wd4 t ir vc',
  rtTriangle: 'it */ h 7 12; ir */ w 7 12; ib */ h 11 12|wd12 it ir ib',
  diamond: 'ir */ w 3 4; ib */ h 3 4|wd4 hd4 ir ib',
  flowChartDecision: 'ir */ w 3 4; ib */ h 3 4|wd4 hd4 ir ib',
  parallelogram:
    'm */ 100000 w ss; c pin 0 adj m; q */ 5 c m; k +/ 1 q 12; il */ k w 1; it */ k h 1; ir +- r 0 il; ib +- b 0 it|il it ir ib',
  trapezoid: 'm */ 50000 w ss; c pin 0 adj m; il */ wd3 c m; it */ hd3 c m; ir +- r 0 il|il it ir b',
  octagon: 'c pin 0 adj 50000; u */ ss c 100000; il */ u 1 2; ir +- r 0 il; ib +- b 0 il|il il ir ib',
  plus: 'c pin 0 adj 50000; u */ ss c 100000; x +- r 0 u; y +- b 0 u; d +- w 0 h; il ?: d l u; ir ?: d r x; it ?: d u t; ib ?: d y b|il it ir ib',
  frame: 'c pin 0 adj1 50000; u */ ss c 100000; ir +- r 0 u; ib +- b 0 u|u u ir ib',
  bevel: 'c pin 0 adj 50000; u */ ss c 100000; ir +- r 0 u; ib +- b 0 u|u u ir ib',
  cube: 'c pin 0 adj 100000; u */ ss c 100000; ir +- r 0 u|l u ir b',
  can: 'm */ 50000 h ss; c pin 0 adj m; u */ ss c 200000; it +- u u 0; ib +- b 0 u|l it r ib',
  foldedCorner: 'c pin 0 adj 50000; u */ ss c 100000; ib +- b 0 u|l t r ib',
  heart: 'il */ w 1 6; ir */ w 5 6; ib */ h 2 3|il hd4 ir ib',
  cloud: shares(2977, 3262, 17087, 17337),
  cloudCallout: shares(2977, 3262, 17087, 17337),
  homePlate: 'm */ 100000 w ss; c pin 0 adj m; u */ ss c 100000; x +- r 0 u; ir +/ x r 2|l t ir b',
  chevron:
    'm */ 100000 w ss; c pin 0 adj m; u */ ss c 100000; x +- r 0 u; d +- x 0 u; il ?: d u l; ir ?: d x r|il t ir b',
  rightArrow: `${across}; d */ e h 200000; it +- vc 0 d; ib +- vc d 0; x +- r 0 q; k */ d q hd2; ir +- x k 0|l it ir ib`,
  leftArrow: `${across}; d */ e h 200000; it +- vc 0 d; ib +- vc d 0; k */ d q hd2; il +- q 0 k|il it r ib`,
  downArrow: `${down}; d */ e w 200000; il +- hc 0 d; ir +- hc d 0; y +- b 0 q; k */ d q wd2; ib +- y k 0|il t ir ib`,
  upArrow: `${down}; d */ e w 200000; il +- hc 0 d; ir +- hc d 0; k */ d q wd2; it +- q 0 k|il it ir b`,
  star4: STAR,
  star8: STAR,
  star10: STAR,
  star12: STAR,
  star16: STAR,
  star24: STAR,
  star32: STAR,
  flowChartInputOutput: 'ir */ w 4 5|wd5 t ir b',
  flowChartPredefinedProcess: 'ir */ w 7 8|wd8 t ir b',
  flowChartInternalStorage: '|wd8 hd8 r b',
  flowChartDocument: shares(0, 0, 21600, 17322),
  flowChartTerminator: shares(1018, 3163, 20582, 18437),
  flowChartPreparation: 'ir */ w 4 5|wd5 t ir b',
  flowChartManualInput: '|l hd5 r b',
  flowChartManualOperation: 'ir */ w 4 5|wd5 t ir b',
  flowChartOffpageConnector: 'ib */ h 4 5|l t r ib',
  flowChartPunchedCard: '|l hd5 r b',
  flowChartPunchedTape: 'ib */ h 4 5|l hd5 r ib',
  flowChartDisplay: 'ir */ w 5 6|wd6 t ir b',
  flowChartOnlineStorage: 'ir */ w 5 6|wd6 t ir b',
  flowChartMagneticDisk: 'ib */ h 5 6|l hd3 r ib',
  flowChartMagneticDrum: 'ir */ w 2 3|wd6 t ir b',
};

/**
 * The rectangle for the words in a preset shape, from the corner of its box.
 * @param adjust values that differ from the defaults, in the standard's units
 * @returns null where the words have all of the box
 */
export function presetTextRect(
  name: string,
  width: number,
  height: number,
  adjust: Readonly<Record<string, number>>,
): Rect | null {
  const text = Object.hasOwn(RECTS, name) ? RECTS[name] : undefined;
  const geometry = presetGeometry(name);
  if (text === undefined || !geometry) return null;
  const [guides = '', sides = ''] = text.split('|');
  const values = workOut({ ...geometry, guides: [] }, width, height, adjust);
  for (const guide of guides.split(';').map((g) => g.trim()))
    if (guide !== '') {
      const space = guide.indexOf(' ');
      values.set(guide.slice(0, space), evaluate(guide.slice(space + 1), values));
    }
  const [l, t, r, b] = sides.split(' ').map((side) => valueOf(side, values)) as [number, number, number, number];
  return r > l && b > t ? { x: l, y: t, width: r - l, height: b - t } : null;
}
