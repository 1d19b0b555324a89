/** Flow-chart symbols, waves, ribbons and callouts of ISO/IEC 29500-1 Annex D, in our own compact writing; from memory. */
import { CLOUD } from './basic';

const BOX = 'M l t L r t L r b L l b Z';
const OVAL = 'M l vc A wd2 hd2 cd2 cd4 A wd2 hd2 3cd4 cd4 A wd2 hd2 0 cd4 A wd2 hd2 cd4 cd4 Z';
const SLANT =
  'idx cos wd2 2700000; idy sin hd2 2700000; il +- hc 0 idx; ir +- hc idx 0; it +- vc 0 idy; ib +- vc idy 0';
const DRUM = 'M 1 0 L 5 0 A 1 3 3cd4 cd2 L 1 6 A 1 3 cd4 cd2 Z';
const DISK = 'M 0 1 A 3 1 cd2 cd2 L 6 5 A 3 1 0 cd2 Z';
const TAIL =
  'dxPos */ w adj1 100000; dyPos */ h adj2 100000; xPos +- hc dxPos 0; yPos +- vc dyPos 0; dq */ dxPos h w; ady abs dyPos; adq abs dq; dz +- ady 0 adq; xg1 ?: dxPos 7 2; xg2 ?: dxPos 10 5; x1 */ w xg1 12; x2 */ w xg2 12; yg1 ?: dyPos 7 2; yg2 ?: dyPos 10 5; y1 */ h yg1 12; y2 */ h yg2 12; t1 ?: dxPos l xPos; xl ?: dz l t1; t2 ?: dyPos x1 xPos; xt ?: dz t2 x1; t3 ?: dxPos xPos r; xr ?: dz r t3; t4 ?: dyPos xPos x1; xb ?: dz t4 x1; t5 ?: dxPos y1 yPos; yl ?: dz y1 t5; t6 ?: dyPos t yPos; yt ?: dz t6 t; t7 ?: dxPos yPos y1; yr ?: dz y1 t7; t8 ?: dyPos yPos b; yb ?: dz t8 b';
const WAVE =
  'a2 pin -10000 adj2 10000; y1 */ h a1 100000; dy2 */ y1 10 3; y2 +- y1 0 dy2; y3 +- y1 dy2 0; y4 +- b 0 y1; y5 +- y4 0 dy2; y6 +- y4 dy2 0; of2 */ w a2 50000; dx2 ?: of2 0 of2; x2 +- l 0 dx2; dx5 ?: of2 of2 0; x5 +- r 0 dx5';
const RIBBON =
  'a1 pin 0 adj1 33333; a2 pin 25000 adj2 75000; x10 +- r 0 wd8; dx2 */ w a2 200000; x2 +- hc 0 dx2; x9 +- hc dx2 0; x3 +- x2 wd32 0; x8 +- x9 0 wd32; x5 +- x2 wd8 0; x6 +- x9 0 wd8; x4 +- x5 0 wd32; x7 +- x6 wd32 0; hR */ h a1 400000; dy1 */ h a1 200000; dy2 */ h a1 100000';

/** A box with a line of one to three pieces that points elsewhere; `bar` puts a line beside it, `border` draws the box. */
function lineCallout(points: readonly number[], border: boolean, bar: boolean): string {
  const pairs = points.length / 2;
  const guides = Array.from(
    { length: pairs },
    (_, i) => `y${i} */ h adj${2 * i + 1} 100000; x${i} */ w adj${2 * i + 2} 100000`,
  );
  const line = Array.from({ length: pairs }, (_, i) => `${i === 0 ? 'M' : 'L'} x${i} y${i}`).join(' ');
  const adjust = points.map((p, i) => `adj${i + 1}=${p}`).join(' ');
  return `${adjust}|${guides.join('; ')}|${border ? '' : '[nostroke] '}${BOX}${bar ? '|[none] M x0 t L x0 b' : ''}|[none] ${line}`;
}
const ONE = [18750, -8333, 112500, -38333];
const TWO = [18750, -8333, 18750, -16667, 112500, -46667];
const THREE = [18750, -8333, 18750, -16667, 100000, -16667, 112963, -8333];

export const FLOW: Readonly<Record<string, string>> = {
  flowChartProcess: `||${BOX}`,
  flowChartAlternateProcess:
    '|x2 +- r 0 ssd6; y2 +- b 0 ssd6|M l ssd6 A ssd6 ssd6 cd2 cd4 L x2 t A ssd6 ssd6 3cd4 cd4 L r y2 A ssd6 ssd6 0 cd4 L ssd6 b A ssd6 ssd6 cd4 cd4 Z',
  flowChartDecision: '||[2x2] M 0 1 L 1 0 L 2 1 L 1 2 Z',
  flowChartInputOutput: '||[5x5] M 0 5 L 1 0 L 5 0 L 4 5 Z',
  flowChartPredefinedProcess: `|x2 */ w 7 8|[nostroke] ${BOX}|[none] M wd8 t L wd8 b M x2 t L x2 b|[none] ${BOX}`,
  flowChartInternalStorage: `||[nostroke] ${BOX}|[none] M wd8 t L wd8 b M l hd8 L r hd8|[none] ${BOX}`,
  flowChartDocument: '||[21600x21600] M 0 0 L 21600 0 L 21600 17322 C 10800 17322 10800 23922 0 20172 Z',
  flowChartMultidocument:
    '||[21600x21600] M 0 20782 C 9298 23542 9298 18022 18595 18022 L 18595 3675 L 0 3675 Z M 1532 3675 L 1532 1815 L 20000 1815 L 20000 16252 C 19298 16252 18595 16352 18595 16352 L 18595 3675 Z M 2972 1815 L 2972 0 L 21600 0 L 21600 14392 C 20800 14392 20000 14467 20000 14467 L 20000 1815 Z',
  flowChartTerminator: '||[21600x21600] M 3475 0 L 18125 0 A 3475 10800 3cd4 cd2 L 3475 21600 A 3475 10800 cd4 cd2 Z',
  flowChartPreparation: '||[10x10] M 0 5 L 2 0 L 8 0 L 10 5 L 8 10 L 2 10 Z',
  flowChartManualInput: '||[5x5] M 0 1 L 5 0 L 5 5 L 0 5 Z',
  flowChartManualOperation: '||[5x5] M 0 0 L 5 0 L 4 5 L 1 5 Z',
  flowChartConnector: `||${OVAL}`,
  flowChartOffpageConnector: '||[10x10] M 0 0 L 10 0 L 10 8 L 5 10 L 0 8 Z',
  flowChartPunchedCard: '||[5x5] M 0 1 L 1 0 L 5 0 L 5 5 L 0 5 Z',
  flowChartPunchedTape: '||[20x20] M 0 2 A 5 2 cd2 -10800000 A 5 2 cd2 cd2 L 20 18 A 5 2 0 -10800000 A 5 2 0 cd2 Z',
  flowChartSummingJunction: `|${SLANT}|[nostroke] ${OVAL}|[none] M il it L ir ib M ir it L il ib|[none] ${OVAL}`,
  flowChartOr: `||[nostroke] ${OVAL}|[none] M hc t L hc b M l vc L r vc|[none] ${OVAL}`,
  flowChartCollate: '||[2x2] M 0 0 L 2 0 L 1 1 L 2 2 L 0 2 L 1 1 Z',
  flowChartSort:
    '||[2x2 nostroke] M 0 1 L 1 0 L 2 1 L 1 2 Z|[2x2 none] M 0 1 L 2 1|[2x2 none] M 0 1 L 1 0 L 2 1 L 1 2 Z',
  flowChartExtract: '||[2x2] M 0 2 L 1 0 L 2 2 Z',
  flowChartMerge: '||[2x2] M 0 0 L 2 0 L 1 2 Z',
  flowChartOfflineStorage: '||[2x2 nostroke] M 0 0 L 2 0 L 1 2 Z|[5x5 none] M 2 4 L 3 4|[2x2 none] M 0 0 L 2 0 L 1 2 Z',
  flowChartOnlineStorage: '||[6x6] M 1 0 L 6 0 A 1 3 3cd4 -10800000 L 1 6 A 1 3 cd4 cd2 Z',
  flowChartMagneticTape: `|${SLANT}; ang1 at2 w h|M hc b A wd2 hd2 cd4 cd4 A wd2 hd2 cd2 cd4 A wd2 hd2 3cd4 cd4 A wd2 hd2 0 ang1 L r ib L r b Z`,
  flowChartMagneticDisk: `||[6x6 nostroke] ${DISK}|[6x6 none] M 6 1 A 3 1 0 cd2|[6x6 none] ${DISK}`,
  flowChartMagneticDrum: `||[6x6 nostroke] ${DRUM}|[6x6 none] M 5 6 A 1 3 cd4 cd2|[6x6 none] ${DRUM}`,
  flowChartDisplay: '||[6x6] M 0 3 L 1 0 L 5 0 A 1 3 3cd4 cd2 L 1 6 Z',
  flowChartDelay: '||M l t L hc t A wd2 hd2 3cd4 cd2 L l b Z',
  wave: `adj1=12500 adj2=0|a1 pin 0 adj1 20000; ${WAVE}; dx3 +/ dx2 x5 3; x3 +- x2 dx3 0; x4 +/ x3 x5 2; x6 +- l dx5 0; x10 +- r dx2 0; x7 +- x6 dx3 0; x8 +/ x7 x10 2|M x2 y1 C x3 y2 x4 y3 x5 y1 L x10 y4 C x8 y6 x7 y5 x6 y4 Z`,
  doubleWave: `adj1=6250 adj2=0|a1 pin 0 adj1 12500; ${WAVE}; dx3 +/ dx2 x5 6; x3 +- x2 dx3 0; dx4 +/ dx2 x5 3; x4 +- x2 dx4 0; xm +/ x2 x5 2; x6 +- xm dx3 0; x7 +/ x6 x5 2; x9 +- l dx5 0; x15 +- r dx2 0; x10 +- x9 dx3 0; x11 +- x9 dx4 0; x12 +/ x9 x15 2; x13 +- x12 dx3 0; x14 +/ x13 x15 2|M x2 y1 C x3 y2 x4 y3 xm y1 C x6 y2 x7 y3 x5 y1 L x15 y4 C x14 y6 x13 y5 x12 y4 C x11 y6 x10 y5 x9 y4 Z`,
  ribbon2: `adj1=16667 adj2=50000|${RIBBON}; y1 +- b 0 dy1; y2 +- b 0 dy2; y3 +/ dy2 b 2|M l b L x4 b A wd32 hR cd4 -10800000 L x3 y1 A wd32 hR cd4 cd2 L x8 y2 A wd32 hR 3cd4 cd2 L x7 y1 A wd32 hR 3cd4 -10800000 L r b L x10 y3 L r dy2 L x9 dy2 L x9 hR A wd32 hR 0 -5400000 L x3 t A wd32 hR 3cd4 -5400000 L x2 dy2 L l dy2 L wd8 y3 Z`,
  ribbon: `adj1=16667 adj2=50000|${RIBBON}; y4 +- b 0 dy2; y3 */ y4 1 2; y5 +- b 0 hR|M l t L x4 t A wd32 hR 3cd4 cd2 L x3 dy1 A wd32 hR 3cd4 -10800000 L x8 dy2 A wd32 hR cd4 -10800000 L x7 dy1 A wd32 hR cd4 cd2 L r t L x10 y3 L r y4 L x9 y4 L x9 y5 A wd32 hR 0 cd4 L x3 b A wd32 hR cd4 cd4 L x2 y4 L l y4 L wd8 y3 Z`,
  wedgeRectCallout: `adj1=-20833 adj2=62500|${TAIL}|M l t L x1 t L xt yt L x2 t L r t L r y1 L xr yr L r y2 L r b L x2 b L xb yb L x1 b L l b L l y2 L xl yl L l y1 Z`,
  wedgeRoundRectCallout: `adj1=-20833 adj2=62500 adj3=16667|${TAIL}; u1 */ ss adj3 100000; u2 +- r 0 u1; v2 +- b 0 u1|M l u1 A u1 u1 cd2 cd4 L x1 t L xt yt L x2 t L u2 t A u1 u1 3cd4 cd4 L r y1 L xr yr L r y2 L r v2 A u1 u1 0 cd4 L x2 b L xb yb L x1 b L u1 b A u1 u1 cd4 cd4 L l y2 L xl yl L l y1 Z`,
  wedgeEllipseCallout:
    'adj1=-20833 adj2=62500|dxPos */ w adj1 100000; dyPos */ h adj2 100000; xPos +- hc dxPos 0; yPos +- vc dyPos 0; sdx */ dxPos h 1; sdy */ dyPos w 1; pang at2 sdx sdy; stAng +- pang 660000 0; enAng +- pang 0 660000; dx1 cos wd2 stAng; dy1 sin hd2 stAng; x1 +- hc dx1 0; y1 +- vc dy1 0; dx2 cos wd2 enAng; dy2 sin hd2 enAng; stAng1 at2 dx1 dy1; enAng1 at2 dx2 dy2; swAng1 +- enAng1 0 stAng1; swAng2 +- swAng1 21600000 0; swAng ?: swAng1 swAng1 swAng2|M xPos yPos L x1 y1 A wd2 hd2 stAng1 swAng Z',
  cloudCallout: `adj1=-20833 adj2=62500|dxPos */ w adj1 100000; dyPos */ h adj2 100000; xPos +- hc dxPos 0; yPos +- vc dyPos 0; ht cat2 hd2 dxPos dyPos; wt sat2 wd2 dxPos dyPos; g2 cat2 wd2 ht wt; g3 sat2 hd2 ht wt; g4 +- hc g2 0; g5 +- vc g3 0; g6 +- g4 0 xPos; g7 +- g5 0 yPos; g8 mod g6 g7 0; g9 */ ss 6600 21600; g10 +- g8 0 g9; g11 */ g10 1 3; g12 */ ss 1800 21600; g13 +- g11 g12 0; g14 */ g13 g6 g8; g15 */ g13 g7 g8; g16 +- g14 xPos 0; g17 +- g15 yPos 0; g18 */ ss 4800 21600; g19 */ g11 2 1; g20 +- g18 g19 0; g21 */ g20 g6 g8; g22 */ g20 g7 g8; g23 +- g21 xPos 0; g24 +- g22 yPos 0; g25 */ ss 1200 21600; g26 */ ss 600 21600; x23 +- xPos g26 0; x24 +- g16 g25 0; x25 +- g23 g12 0|[43200x43200] ${CLOUD}|M x23 yPos A g26 g26 0 21600000 Z M x24 g17 A g25 g25 0 21600000 Z M x25 g24 A g12 g12 0 21600000 Z`,
  callout1: lineCallout(ONE, false, false),
  callout2: lineCallout(TWO, false, false),
  callout3: lineCallout(THREE, false, false),
  borderCallout1: lineCallout(ONE, true, false),
  borderCallout2: lineCallout(TWO, true, false),
  borderCallout3: lineCallout(THREE, true, false),
  accentCallout1: lineCallout(ONE, false, true),
  accentCallout2: lineCallout(TWO, false, true),
  accentCallout3: lineCallout(THREE, false, true),
  accentBorderCallout1: lineCallout(ONE, true, true),
  accentBorderCallout2: lineCallout(TWO, true, true),
  accentBorderCallout3: lineCallout(THREE, true, true),
};
