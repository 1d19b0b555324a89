/** Basic preset shapes of ISO/IEC 29500-1 Annex D (presetShapeDefinitions), in our own compact writing; from memory. */
const OVAL = 'M l vc A wd2 hd2 cd2 cd4 A wd2 hd2 3cd4 cd4 A wd2 hd2 0 cd4 A wd2 hd2 cd4 cd4 Z';
const BOX = 'M l t L r t L r b L l b Z';
const FIVE =
  'swd2 */ wd2 hf 100000; shd2 */ hd2 vf 100000; svc */ vc vf 100000; dx1 cos swd2 1080000; dx2 cos swd2 18360000; dy1 sin shd2 1080000; dy2 sin shd2 18360000; x1 +- hc 0 dx1; x2 +- hc 0 dx2; x3 +- hc dx2 0; x4 +- hc dx1 0; y1 +- svc 0 dy1; y2 +- svc 0 dy2';
const SEVEN =
  'swd2 */ wd2 hf 100000; shd2 */ hd2 vf 100000; svc */ vc vf 100000; dx1 */ swd2 97493 100000; dx2 */ swd2 78183 100000; dx3 */ swd2 43388 100000; dy1 */ shd2 62349 100000; dy2 */ shd2 22252 100000; dy3 */ shd2 90097 100000; x1 +- hc 0 dx1; x2 +- hc 0 dx2; x3 +- hc 0 dx3; x4 +- hc dx3 0; x5 +- hc dx2 0; x6 +- hc dx1 0; y1 +- svc 0 dy1; y2 +- svc dy2 0; y3 +- svc dy3 0';
/** A corner size from one adjust value: x1 in from the left, x2 and y2 from right and bottom. */
const CORNER = 'a pin 0 adj 50000; x1 */ ss a 100000; x2 +- r 0 x1; y2 +- b 0 x1';
const SWEEP =
  'stAng pin 0 adj1 21599999; enAng pin 0 adj2 21599999; sw1 +- enAng 0 stAng; sw2 +- sw1 21600000 0; swAng ?: sw1 sw1 sw2; wt1 sin wd2 stAng; ht1 cos hd2 stAng; dx1 cat2 wd2 ht1 wt1; dy1 sat2 hd2 ht1 wt1; x1 +- hc dx1 0; y1 +- vc dy1 0';
const RING = 'a pin 0 adj 50000; dr */ ss a 100000; iwd2 +- wd2 0 dr; ihd2 +- hd2 0 dr';
const TWO_CORNERS =
  'a1 pin 0 adj1 50000; a2 pin 0 adj2 50000; tx1 */ ss a1 100000; tx2 +- r 0 tx1; bx1 */ ss a2 100000; bx2 +- r 0 bx1; by1 +- b 0 bx1';
const BRACKET = 'maxAdj */ 50000 h ss; a pin 0 adj maxAdj; y1 */ ss a 100000; y2 +- b 0 y1';
const BRACE =
  'a2 pin 0 adj2 100000; q1 +- 100000 0 a2; q2 min q1 a2; q3 */ q2 1 2; maxAdj1 */ q3 h ss; a1 pin 0 adj1 maxAdj1; y1 */ ss a1 100000; y3 */ h a2 100000; y2 +- y3 0 y1; y4 +- y3 y1 0; y5 +- b 0 y1';
export const CLOUD =
  'M 3900 14370 A 6753 9190 -11429249 7426832 A 5333 7267 -8646143 5396714 A 4365 5945 -8748475 5983381 A 4857 6595 -7859164 7034504 A 5333 7273 -4722533 6541615 A 6775 9220 -2776035 7816140 A 5785 7867 37501 6842000 A 6752 9215 1347096 6910353 A 7720 10543 3974558 4542661 A 4360 5918 -16496525 8804134 A 4345 5945 -14809710 9151131 Z';

export const BASIC: Readonly<Record<string, string>> = {
  rect: `||${BOX}`,
  roundRect: `adj=16667|${CORNER}|M l x1 A x1 x1 cd2 cd4 L x2 t A x1 x1 3cd4 cd4 L r y2 A x1 x1 0 cd4 L x1 b A x1 x1 cd4 cd4 Z`,
  ellipse: `||${OVAL}`,
  triangle: 'adj=50000|a pin 0 adj 100000; x2 */ w a 100000|M l b L x2 t L r b Z',
  rtTriangle: '||M l b L l t L r b Z',
  parallelogram:
    'adj=25000|maxAdj */ 100000 w ss; a pin 0 adj maxAdj; x2 */ ss a 100000; x5 +- r 0 x2|M l b L x2 t L r t L x5 b Z',
  trapezoid:
    'adj=25000|maxAdj */ 50000 w ss; a pin 0 adj maxAdj; x2 */ ss a 100000; x3 +- r 0 x2|M l b L x2 t L x3 t L r b Z',
  nonIsoscelesTrapezoid:
    'adj1=25000 adj2=25000|maxAdj */ 50000 w ss; a1 pin 0 adj1 maxAdj; a2 pin 0 adj2 maxAdj; x2 */ ss a1 100000; dx3 */ ss a2 100000; x3 +- r 0 dx3|M l b L x2 t L x3 t L r b Z',
  diamond: '||M l vc L hc t L r vc L hc b Z',
  pentagon: `hf=105146 vf=110557|${FIVE}|M x1 y1 L hc t L x4 y1 L x3 y2 L x2 y2 Z`,
  hexagon:
    'adj=25000 vf=115470|maxAdj */ 50000 w ss; a pin 0 adj maxAdj; shd2 */ hd2 vf 100000; x1 */ ss a 100000; x2 +- r 0 x1; dy1 sin shd2 3600000; y1 +- vc 0 dy1; y2 +- vc dy1 0|M l vc L x1 y1 L x2 y1 L r vc L x2 y2 L x1 y2 Z',
  heptagon: `hf=102572 vf=105210|${SEVEN}|M x1 y2 L x2 y1 L hc t L x5 y1 L x6 y2 L x4 y3 L x3 y3 Z`,
  octagon: `adj=29289|${CORNER}|M l x1 L x1 t L x2 t L r x1 L r y2 L x2 b L x1 b L l y2 Z`,
  decagon:
    'vf=105146|shd2 */ hd2 vf 100000; dx1 cos wd2 2160000; dx2 cos wd2 4320000; x1 +- hc 0 dx1; x2 +- hc 0 dx2; x3 +- hc dx2 0; x4 +- hc dx1 0; dy1 sin shd2 4320000; dy2 sin shd2 2160000; y1 +- vc 0 dy1; y2 +- vc 0 dy2; y3 +- vc dy2 0; y4 +- vc dy1 0|M l vc L x1 y2 L x2 y1 L x3 y1 L x4 y2 L r vc L x4 y3 L x3 y4 L x2 y4 L x1 y3 Z',
  dodecagon:
    '|x1 */ w 2894 21600; x2 */ w 7906 21600; x3 */ w 13694 21600; x4 */ w 18706 21600; y1 */ h 2894 21600; y2 */ h 7906 21600; y3 */ h 13694 21600; y4 */ h 18706 21600|M l y2 L x1 y1 L x2 t L x3 t L x4 y1 L r y2 L r y3 L x4 y4 L x3 b L x2 b L x1 y4 L l y3 Z',
  pie: `adj1=0 adj2=16200000|${SWEEP}|M x1 y1 A wd2 hd2 stAng swAng L hc vc Z`,
  chord: `adj1=2700000 adj2=16200000|${SWEEP}|M x1 y1 A wd2 hd2 stAng swAng Z`,
  arc: `adj1=16200000 adj2=0|${SWEEP}|[nostroke] M x1 y1 A wd2 hd2 stAng swAng L hc vc Z|[none] M x1 y1 A wd2 hd2 stAng swAng`,
  pieWedge: '||M l b A w h cd2 cd4 L r b Z',
  blockArc:
    'adj1=10800000 adj2=0 adj3=25000|stAng pin 0 adj1 21599999; istAng pin 0 adj2 21599999; a3 pin 0 adj3 50000; sw11 +- istAng 0 stAng; sw12 +- sw11 21600000 0; swAng ?: sw11 sw11 sw12; iswAng +- 0 0 swAng; wt1 sin wd2 stAng; ht1 cos hd2 stAng; dx1 cat2 wd2 ht1 wt1; dy1 sat2 hd2 ht1 wt1; x1 +- hc dx1 0; y1 +- vc dy1 0; dr */ ss a3 100000; iwd2 +- wd2 0 dr; ihd2 +- hd2 0 dr; wt2 sin iwd2 istAng; ht2 cos ihd2 istAng; dx2 cat2 iwd2 ht2 wt2; dy2 sat2 ihd2 ht2 wt2; x2 +- hc dx2 0; y2 +- vc dy2 0|M x1 y1 A wd2 hd2 stAng swAng L x2 y2 A iwd2 ihd2 istAng iswAng Z',
  donut: `adj=25000|${RING}|${OVAL} M dr vc A iwd2 ihd2 cd2 -5400000 A iwd2 ihd2 cd4 -5400000 A iwd2 ihd2 0 -5400000 A iwd2 ihd2 3cd4 -5400000 Z`,
  noSmoking: `adj=18750|${RING}; ang at2 w h; ct cos ihd2 ang; st sin iwd2 ang; m mod ct st 0; n */ iwd2 ihd2 m; drd2 */ dr 1 2; dang at2 n drd2; 2dang */ dang 2 1; swAng +- -10800000 2dang 0; t3 at2 w h; stAng1 +- t3 0 dang; stAng2 +- stAng1 0 cd2; ct1 cos ihd2 stAng1; st1 sin iwd2 stAng1; m1 mod ct1 st1 0; n1 */ iwd2 ihd2 m1; dx1 cos n1 stAng1; dy1 sin n1 stAng1; x1 +- hc dx1 0; y1 +- vc dy1 0; x2 +- hc 0 dx1; y2 +- vc 0 dy1|${OVAL} M x1 y1 A iwd2 ihd2 stAng1 swAng Z M x2 y2 A iwd2 ihd2 stAng2 swAng Z`,
  teardrop:
    'adj=100000|a pin 0 adj 200000; r2 sqrt 2; tw */ wd2 r2 1; th */ hd2 r2 1; sw */ tw a 100000; sh */ th a 100000; dx1 cos sw 2700000; dy1 sin sh 2700000; x1 +- hc dx1 0; y1 +- vc 0 dy1; x2 +/ hc x1 2; y2 +/ vc y1 2|M l vc A wd2 hd2 cd2 cd4 Q x2 t x1 y1 Q r y2 r vc A wd2 hd2 0 cd4 A wd2 hd2 cd4 cd4 Z',
  frame: `adj1=12500|a1 pin 0 adj1 50000; x1 */ ss a1 100000; x4 +- r 0 x1; y4 +- b 0 x1|${BOX} M x1 x1 L x1 y4 L x4 y4 L x4 x1 Z`,
  halfFrame:
    'adj1=33333 adj2=33333|maxAdj2 */ 100000 w ss; a2 pin 0 adj2 maxAdj2; x1 */ ss a2 100000; g1 */ h x1 w; g2 +- h 0 g1; maxAdj1 */ 100000 g2 ss; a1 pin 0 adj1 maxAdj1; y1 */ ss a1 100000; dx2 */ y1 w h; x2 +- r 0 dx2; dy2 */ x1 h w; y2 +- b 0 dy2|M l t L r t L x2 y1 L x1 y1 L x1 y2 L l b Z',
  corner:
    'adj1=50000 adj2=50000|maxAdj1 */ 100000 h ss; maxAdj2 */ 100000 w ss; a1 pin 0 adj1 maxAdj1; a2 pin 0 adj2 maxAdj2; x1 */ ss a2 100000; dy1 */ ss a1 100000; y1 +- b 0 dy1|M l t L x1 t L x1 y1 L r y1 L r b L l b Z',
  diagStripe: 'adj=50000|a pin 0 adj 100000; x2 */ w a 100000; y2 */ h a 100000|M l y2 L x2 t L r t L l b Z',
  plus: `adj=25000|${CORNER}|M l x1 L x1 x1 L x1 t L x2 t L x2 x1 L r x1 L r y2 L x2 y2 L x2 b L x1 b L x1 y2 L l y2 Z`,
  plaque: `adj=16667|${CORNER}|M l x1 A x1 x1 cd4 -5400000 L x2 t A x1 x1 cd2 -5400000 L r y2 A x1 x1 3cd4 -5400000 L x1 b A x1 x1 0 -5400000 Z`,
  can: 'adj=25000|maxAdj */ 50000 h ss; a pin 0 adj maxAdj; y1 */ ss a 200000; y3 +- b 0 y1|[nostroke] M l y1 A wd2 y1 cd2 -10800000 L r y3 A wd2 y1 0 cd2 Z|[nostroke lighten] M l y1 A wd2 y1 cd2 cd2 A wd2 y1 0 cd2 Z|[none] M r y1 A wd2 y1 0 cd2 A wd2 y1 cd2 cd2 L r y3 A wd2 y1 0 cd2 L l y1',
  cube: 'adj=25000|a pin 0 adj 100000; y1 */ ss a 100000; y4 +- b 0 y1; x4 +- r 0 y1|[nostroke] M l y1 L x4 y1 L x4 b L l b Z|[nostroke lightenLess] M l y1 L y1 t L r t L x4 y1 Z|[nostroke darkenLess] M x4 y1 L r t L r y4 L x4 b Z|[none] M l y1 L y1 t L r t L r y4 L x4 b L l b Z M l y1 L x4 y1 L r t M x4 y1 L x4 b',
  bevel: `adj=12500|${CORNER}|[nostroke] M x1 x1 L x2 x1 L x2 y2 L x1 y2 Z|[nostroke lightenLess] M l t L r t L x2 x1 L x1 x1 Z|[nostroke darkenLess] M l b L x1 y2 L x2 y2 L r b Z|[nostroke lighten] M l t L x1 x1 L x1 y2 L l b Z|[nostroke darken] M r t L r b L x2 y2 L x2 x1 Z|[none] ${BOX} M x1 x1 L x2 x1 L x2 y2 L x1 y2 Z M l t L x1 x1 M l b L x1 y2 M r t L x2 x1 M r b L x2 y2`,
  foldedCorner:
    'adj=16667|a pin 0 adj 50000; dy2 */ ss a 100000; dy1 */ dy2 1 5; x1 +- r 0 dy2; x2 +- x1 dy1 0; y2 +- b 0 dy2; y1 +- y2 dy1 0|[nostroke] M l t L r t L r y2 L x1 b L l b Z|[nostroke darkenLess] M x1 b L x2 y1 L r y2 Z|[none] M x1 b L x2 y1 L r y2 L x1 b L l b L l t L r t L r y2',
  smileyFace: `adj=4653|a pin -4653 adj 4653; x1 */ w 4969 21699; x2 */ w 6215 21600; x3 */ w 13135 21600; x4 */ w 16640 21600; y1 */ h 7570 21600; y3 */ h 16515 21600; dy2 */ h a 100000; y2 +- y3 0 dy2; y4 +- y3 dy2 0; dy3 */ h a 50000; y5 +- y4 dy3 0; wR */ w 1125 21600; hR */ h 1125 21600|[nostroke] ${OVAL}|[darkenLess] M x2 y1 A wR hR cd2 21600000 Z M x3 y1 A wR hR cd2 21600000 Z|[none] M x1 y2 Q hc y5 x4 y2|[none] ${OVAL}`,
  heart:
    '|dx1 */ w 49 48; dx2 */ w 10 48; x1 +- hc 0 dx1; x2 +- hc 0 dx2; x3 +- hc dx2 0; x4 +- hc dx1 0; y1 +- t 0 hd3|M hc hd4 C x3 y1 x4 hd4 hc b C x1 hd4 x2 y1 hc hd4 Z',
  lightningBolt:
    '||[21600x21600] M 8472 0 L 12860 6080 L 11050 6797 L 16577 12007 L 14767 12877 L 21600 21600 L 10012 14915 L 12222 13987 L 5022 9705 L 7602 8382 L 0 3890 Z',
  sun: 'adj=25000|a pin 12500 adj 46875; g0 +- 50000 0 a; g1 */ g0 30274 32768; g2 */ g0 12540 32768; g5 +- 50000 0 g1; g6 +- 50000 0 g2; g10 */ g5 3 4; g11 */ g6 3 4; g12 +- g10 3662 0; g13 +- g11 3662 0; g14 +- g11 12500 0; g15 +- 100000 0 g10; g16 +- 100000 0 g12; g17 +- 100000 0 g13; g18 +- 100000 0 g14; ox1 */ w 18436 21600; oy1 */ h 3163 21600; ox2 */ w 3163 21600; oy2 */ h 18436 21600; x10 */ w g10 100000; x12 */ w g12 100000; x13 */ w g13 100000; x14 */ w g14 100000; x15 */ w g15 100000; x16 */ w g16 100000; x17 */ w g17 100000; x18 */ w g18 100000; x19 */ w a 100000; wR */ w g0 100000; hR */ h g0 100000; y10 */ h g10 100000; y12 */ h g12 100000; y13 */ h g13 100000; y14 */ h g14 100000; y15 */ h g15 100000; y16 */ h g16 100000; y17 */ h g17 100000; y18 */ h g18 100000|M r vc L x15 y18 L x15 y14 Z M ox1 oy1 L x16 y13 L x17 y12 Z M hc t L x18 y10 L x14 y10 Z M ox2 oy1 L x13 y12 L x12 y13 Z M l vc L x10 y14 L x10 y18 Z M ox2 oy2 L x12 y17 L x13 y16 Z M hc b L x14 y15 L x18 y15 Z M ox1 oy2 L x17 y16 L x16 y17 Z M x19 vc A wR hR cd2 21600000 Z',
  moon: 'adj=50000|a pin 0 adj 87500; g0 */ ss a 100000; g0w */ g0 w ss; g1 +- ss 0 g0; g2 */ g0 g0 g1; g3 */ ss ss g1; g4 */ g3 2 1; g5 +- g4 0 g2; g6 +- g5 0 g0; g6w */ g6 w ss; g7 */ g5 1 2; g8 +- g7 0 g0; dy1 */ g8 hd2 ss; g17w +- g6w 0 g0w; g18w */ g17w 1 2; dx2p +- g0w g18w w; dx2 */ dx2p -1 1; dy2 */ hd2 -1 1; stAng1 at2 dx2 dy2; enAngp1 at2 dx2 hd2; enAng1 +- enAngp1 0 21600000; swAng1 +- enAng1 0 stAng1|M r b A w hd2 cd4 cd2 A g18w dy1 stAng1 swAng1 Z',
  cloud: `||[43200x43200] ${CLOUD}`,
  round1Rect:
    'adj=16667|a pin 0 adj 50000; dx1 */ ss a 100000; x1 +- r 0 dx1|M l t L x1 t A dx1 dx1 3cd4 cd4 L r b L l b Z',
  round2SameRect: `adj1=16667 adj2=0|${TWO_CORNERS}|M tx1 t L tx2 t A tx1 tx1 3cd4 cd4 L r by1 A bx1 bx1 0 cd4 L bx1 b A bx1 bx1 cd4 cd4 L l tx1 A tx1 tx1 cd2 cd4 Z`,
  round2DiagRect:
    'adj1=16667 adj2=0|a1 pin 0 adj1 50000; a2 pin 0 adj2 50000; x1 */ ss a1 100000; y1 +- b 0 x1; a */ ss a2 100000; x2 +- r 0 a; y2 +- b 0 a|M x1 t L x2 t A a a 3cd4 cd4 L r y1 A x1 x1 0 cd4 L a b A a a cd4 cd4 L l x1 A x1 x1 cd2 cd4 Z',
  snip1Rect: 'adj=16667|a pin 0 adj 50000; dx1 */ ss a 100000; x1 +- r 0 dx1|M l t L x1 t L r dx1 L r b L l b Z',
  snip2SameRect: `adj1=16667 adj2=0|${TWO_CORNERS}|M tx1 t L tx2 t L r tx1 L r by1 L bx2 b L bx1 b L l by1 L l tx1 Z`,
  snip2DiagRect:
    'adj1=0 adj2=16667|a1 pin 0 adj1 50000; a2 pin 0 adj2 50000; lx1 */ ss a1 100000; lx2 +- r 0 lx1; ly1 +- b 0 lx1; rx1 */ ss a2 100000; rx2 +- r 0 rx1; ry1 +- b 0 rx1|M lx1 t L rx2 t L r rx1 L r ly1 L lx2 b L rx1 b L l ry1 L l lx1 Z',
  snipRoundRect:
    'adj1=16667 adj2=16667|a1 pin 0 adj1 50000; a2 pin 0 adj2 50000; x1 */ ss a1 100000; dx2 */ ss a2 100000; x2 +- r 0 dx2|M x1 t L x2 t L r dx2 L r b L l b L l x1 A x1 x1 cd2 cd4 Z',
  leftBracket: `adj=8333|${BRACKET}|[nostroke] M r b A w y1 cd4 cd4 L l y1 A w y1 cd2 cd4 Z|[none] M r b A w y1 cd4 cd4 L l y1 A w y1 cd2 cd4`,
  rightBracket: `adj=8333|${BRACKET}|[nostroke] M l t A w y1 3cd4 cd4 L r y2 A w y1 0 cd4 Z|[none] M l t A w y1 3cd4 cd4 L r y2 A w y1 0 cd4`,
  bracketPair: `adj=16667|${CORNER}|[nostroke] M l x1 A x1 x1 cd2 cd4 L x2 t A x1 x1 3cd4 cd4 L r y2 A x1 x1 0 cd4 L x1 b A x1 x1 cd4 cd4 Z|[none] M x1 b A x1 x1 cd4 cd4 L l x1 A x1 x1 cd2 cd4 M x2 t A x1 x1 3cd4 cd4 L r y2 A x1 x1 0 cd4`,
  leftBrace: `adj1=8333 adj2=50000|${BRACE}|[nostroke] M r b A wd2 y1 cd4 cd4 L hc y4 A wd2 y1 0 -5400000 A wd2 y1 cd4 -5400000 L hc y1 A wd2 y1 cd2 cd4 Z|[none] M r b A wd2 y1 cd4 cd4 L hc y4 A wd2 y1 0 -5400000 A wd2 y1 cd4 -5400000 L hc y1 A wd2 y1 cd2 cd4`,
  rightBrace: `adj1=8333 adj2=50000|${BRACE}|[nostroke] M l t A wd2 y1 3cd4 cd4 L hc y2 A wd2 y1 cd2 -5400000 A wd2 y1 3cd4 -5400000 L hc y5 A wd2 y1 0 cd4 Z|[none] M l t A wd2 y1 3cd4 cd4 L hc y2 A wd2 y1 cd2 -5400000 A wd2 y1 3cd4 -5400000 L hc y5 A wd2 y1 0 cd4`,
  bracePair:
    'adj=8333|a pin 0 adj 25000; x1 */ ss a 100000; x2 */ ss a 50000; x3 +- r 0 x2; x4 +- r 0 x1; y2 +- vc 0 x1; y3 +- vc x1 0; y4 +- b 0 x1|[nostroke] M x2 b A x1 x1 cd4 cd4 L x1 y3 A x1 x1 0 -5400000 A x1 x1 cd4 -5400000 L x1 x1 A x1 x1 cd2 cd4 L x3 t A x1 x1 3cd4 cd4 L x4 y2 A x1 x1 cd2 -5400000 A x1 x1 3cd4 -5400000 L x4 y4 A x1 x1 0 cd4 Z|[none] M x2 b A x1 x1 cd4 cd4 L x1 y3 A x1 x1 0 -5400000 A x1 x1 cd4 -5400000 L x1 x1 A x1 x1 cd2 cd4 M x3 t A x1 x1 3cd4 cd4 L x4 y2 A x1 x1 cd2 -5400000 A x1 x1 3cd4 -5400000 L x4 y4 A x1 x1 0 cd4',
  cornerTabs:
    '|md mod w h 0; dx */ 1 md 20; y1 +- 0 b dx; x1 +- 0 r dx|M l t L dx t L l dx Z M l y1 L dx b L l b Z M x1 t L r t L r dx Z M r y1 L r b L x1 b Z',
  squareTabs:
    '|md mod w h 0; dx */ 1 md 20; y1 +- 0 b dx; x1 +- 0 r dx|M l t L dx t L dx dx L l dx Z M l y1 L dx y1 L dx b L l b Z M x1 t L r t L r dx L x1 dx Z M x1 y1 L r y1 L r b L x1 b Z',
  plaqueTabs:
    '|md mod w h 0; dx */ 1 md 20; y1 +- 0 b dx; x1 +- 0 r dx|M l t L dx t A dx dx 0 cd4 Z M l y1 A dx dx 3cd4 cd4 L l b Z M r t L r dx A dx dx cd4 cd4 Z M x1 b A dx dx cd2 cd4 L r b Z',
  actionButtonBlank: `||${BOX}`,
  mathPlus:
    'adj1=23520|a1 pin 0 adj1 73490; dx1 */ w 73490 200000; dy1 */ h 73490 200000; dx2 */ ss a1 200000; x1 +- hc 0 dx1; x2 +- hc 0 dx2; x3 +- hc dx2 0; x4 +- hc dx1 0; y1 +- vc 0 dy1; y2 +- vc 0 dx2; y3 +- vc dx2 0; y4 +- vc dy1 0|M x1 y2 L x2 y2 L x2 y1 L x3 y1 L x3 y2 L x4 y2 L x4 y3 L x3 y3 L x3 y4 L x2 y4 L x2 y3 L x1 y3 Z',
  mathMinus:
    'adj1=23520|a1 pin 0 adj1 100000; dy1 */ h a1 200000; dx1 */ w 73490 200000; y1 +- vc 0 dy1; y2 +- vc dy1 0; x1 +- hc 0 dx1; x2 +- hc dx1 0|M x1 y1 L x2 y1 L x2 y2 L x1 y2 Z',
  mathMultiply:
    'adj1=23520|a1 pin 0 adj1 51965; th */ ss a1 100000; a at2 w h; sa sin 1 a; ca cos 1 a; ta tan 1 a; dl mod w h 0; rw */ dl 51965 100000; lM +- dl 0 rw; xM */ ca lM 2; yM */ sa lM 2; dxAM */ sa th 2; dyAM */ ca th 2; xA +- xM 0 dxAM; yA +- yM dyAM 0; xB +- xM dxAM 0; yB +- yM 0 dyAM; xBC +- hc 0 xB; yBC */ xBC ta 1; yC +- yBC yB 0; xD +- r 0 xB; xE +- r 0 xA; yFE +- vc 0 yA; xFE */ yFE 1 ta; xF +- xE 0 xFE; xL +- xA xFE 0; yG +- b 0 yA; yH +- b 0 yB; yI +- b 0 yC|M xA yA L xB yB L hc yC L xD yB L xE yA L xF vc L xE yG L xD yH L hc yI L xB yH L xA yG L xL vc Z',
  mathDivide:
    'adj1=23520 adj2=5880 adj3=11760|a1 pin 1000 adj1 36745; ma1 +- 0 0 a1; ma3h +/ 73490 ma1 4; ma3w */ 36745 w h; maxAdj3 min ma3h ma3w; a3 pin 1000 adj3 maxAdj3; m4a3 */ -4 a3 1; maxAdj2 +- 73490 m4a3 a1; a2 pin 0 adj2 maxAdj2; dy1 */ h a1 200000; yg */ h a2 100000; rad */ h a3 100000; dx1 */ w 73490 200000; y3 +- vc 0 dy1; y4 +- vc dy1 0; a +- yg rad 0; y2 +- y3 0 a; y1 +- y2 0 rad; y5 +- b 0 y1; x1 +- hc 0 dx1; x3 +- hc dx1 0|M hc y1 A rad rad 3cd4 21600000 Z M hc y5 A rad rad cd4 21600000 Z M x1 y3 L x3 y3 L x3 y4 L x1 y4 Z',
  mathEqual:
    'adj1=23520 adj2=11760|a1 pin 0 adj1 36745; 2a1 */ a1 2 1; mAdj2 +- 100000 0 2a1; a2 pin 0 adj2 mAdj2; dy1 */ h a1 100000; dy2 */ h a2 200000; dx1 */ w 73490 200000; y2 +- vc 0 dy2; y3 +- vc dy2 0; y1 +- y2 0 dy1; y4 +- y3 dy1 0; x1 +- hc 0 dx1; x2 +- hc dx1 0|M x1 y1 L x2 y1 L x2 y2 L x1 y2 Z M x1 y3 L x2 y3 L x2 y4 L x1 y4 Z',
};
