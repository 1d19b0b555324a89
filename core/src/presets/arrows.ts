/** Block arrows of ISO/IEC 29500-1 Annex D, in our own compact writing; from memory. */
const ACROSS =
  'maxAdj2 */ 100000 w ss; a1 pin 0 adj1 100000; a2 pin 0 adj2 maxAdj2; dx1 */ ss a2 100000; x1 +- r 0 dx1; dy1 */ h a1 200000; y1 +- vc 0 dy1; y2 +- vc dy1 0';
const DOWN =
  'maxAdj2 */ 100000 h ss; a1 pin 0 adj1 100000; a2 pin 0 adj2 maxAdj2; dy2 */ ss a2 100000; y1 +- b 0 dy2; dx1 */ w a1 200000; x1 +- hc 0 dx1; x2 +- hc dx1 0';
const POINT = 'maxAdj */ 100000 w ss; a pin 0 adj maxAdj';
/** Callouts: head, shaft and body from four adjust values; `side` is the box's extent across the arrow, `run` along it. */
const callout = (side: 'w' | 'h', run: 'w' | 'h', part: string, reach: number): string =>
  `maxAdj2 */ 50000 ${side} ss; a2 pin 0 adj2 maxAdj2; maxAdj1 */ a2 2 1; a1 pin 0 adj1 maxAdj1; maxAdj3 */ ${reach} ${run} ss; a3 pin 0 adj3 maxAdj3; q2 */ a3 ss ${part}; maxAdj4 +- 100000 0 q2; a4 pin 0 adj4 maxAdj4; d1 */ ss a2 100000; d2 */ ss a1 200000; d3 */ ss a3 100000; d4 */ ${run} a4 100000; d5 */ ${run} a4 200000`;
const ROWS = 'y1 +- vc 0 d1; y2 +- vc 0 d2; y3 +- vc d2 0; y4 +- vc d1 0';
const COLUMNS = 'x1 +- hc 0 d1; x2 +- hc 0 d2; x3 +- hc d2 0; x4 +- hc d1 0';
const HEADS =
  'a2 pin 0 adj2 50000; maxAdj1 */ a2 2 1; a1 pin 0 adj1 maxAdj1; q1 +- 100000 0 maxAdj1; maxAdj3 */ q1 1 2; a3 pin 0 adj3 maxAdj3; x1 */ ss a3 100000; dx2 */ ss a2 100000; x2 +- hc 0 dx2; x5 +- hc dx2 0; dx3 */ ss a1 200000; x3 +- hc 0 dx3; x4 +- hc dx3 0; x6 +- r 0 x1';

export const ARROWS: Readonly<Record<string, string>> = {
  rightArrow: `adj1=50000 adj2=50000|${ACROSS}|M l y1 L x1 y1 L x1 t L r vc L x1 b L x1 y2 L l y2 Z`,
  leftArrow: `adj1=50000 adj2=50000|${ACROSS}|M l vc L dx1 t L dx1 y1 L r y1 L r y2 L dx1 y2 L dx1 b Z`,
  upArrow: `adj1=50000 adj2=50000|${DOWN}|M l dy2 L hc t L r dy2 L x2 dy2 L x2 b L x1 b L x1 dy2 Z`,
  downArrow: `adj1=50000 adj2=50000|${DOWN}|M l y1 L x1 y1 L x1 t L x2 t L x2 y1 L r y1 L hc b Z`,
  leftRightArrow:
    'adj1=50000 adj2=50000|maxAdj2 */ 50000 w ss; a1 pin 0 adj1 100000; a2 pin 0 adj2 maxAdj2; x2 */ ss a2 100000; x3 +- r 0 x2; dy */ h a1 200000; y1 +- vc 0 dy; y2 +- vc dy 0|M l vc L x2 t L x2 y1 L x3 y1 L x3 t L r vc L x3 b L x3 y2 L x2 y2 L x2 b Z',
  upDownArrow:
    'adj1=50000 adj2=50000|maxAdj2 */ 50000 h ss; a1 pin 0 adj1 100000; a2 pin 0 adj2 maxAdj2; y2 */ ss a2 100000; y3 +- b 0 y2; dx1 */ w a1 200000; x1 +- hc 0 dx1; x2 +- hc dx1 0|M l y2 L hc t L r y2 L x2 y2 L x2 y3 L r y3 L hc b L l y3 L x1 y3 L x1 y2 Z',
  notchedRightArrow: `adj1=50000 adj2=50000|${ACROSS}; x3 */ dy1 dx1 hd2|M l y1 L x1 y1 L x1 t L r vc L x1 b L x1 y2 L l y2 L x3 vc Z`,
  stripedRightArrow:
    'adj1=50000 adj2=50000|maxAdj2 */ 84375 w ss; a1 pin 0 adj1 100000; a2 pin 0 adj2 maxAdj2; x4 */ ss 5 32; dx5 */ ss a2 100000; x5 +- r 0 dx5; dy1 */ h a1 200000; y1 +- vc 0 dy1; y2 +- vc dy1 0|M l y1 L ssd32 y1 L ssd32 y2 L l y2 Z M ssd16 y1 L ssd8 y1 L ssd8 y2 L ssd16 y2 Z M x4 y1 L x5 y1 L x5 t L r vc L x5 b L x5 y2 L x4 y2 Z',
  homePlate: `adj=50000|${POINT}; dx1 */ ss a 100000; x1 +- r 0 dx1|M l t L x1 t L r vc L x1 b L l b Z`,
  chevron: `adj=50000|${POINT}; x1 */ ss a 100000; x2 +- r 0 x1|M l t L x2 t L r vc L x2 b L l b L x1 vc Z`,
  bentArrow:
    'adj1=25000 adj2=25000 adj3=25000 adj4=43750|a2 pin 0 adj2 50000; maxAdj1 */ a2 2 1; a1 pin 0 adj1 maxAdj1; a3 pin 0 adj3 50000; th */ ss a1 100000; aw2 */ ss a2 100000; th2 */ th 1 2; dh2 +- aw2 0 th2; ah */ ss a3 100000; bw +- r 0 ah; bh +- b 0 dh2; bs min bw bh; maxAdj4 */ 100000 bs ss; a4 pin 0 adj4 maxAdj4; bd */ ss a4 100000; bd3 +- bd 0 th; bd2 max bd3 0; x3 +- th bd2 0; x4 +- r 0 ah; y3 +- dh2 th 0; y4 +- y3 dh2 0; y5 +- dh2 bd 0|M l b L l y5 A bd bd cd2 cd4 L x4 dh2 L x4 t L r aw2 L x4 y4 L x4 y3 L x3 y3 A bd2 bd2 3cd4 -5400000 L th b Z',
  uturnArrow:
    'adj1=25000 adj2=25000 adj3=25000 adj4=43750 adj5=75000|a2 pin 0 adj2 25000; maxAdj1 */ a2 2 1; a1 pin 0 adj1 maxAdj1; q2 */ a1 ss h; q3 +- 100000 0 q2; maxAdj3 */ q3 h ss; a3 pin 0 adj3 maxAdj3; q1 +- a3 a1 0; minAdj5 */ q1 ss h; a5 pin minAdj5 adj5 100000; th */ ss a1 100000; aw2 */ ss a2 100000; th2 */ th 1 2; dh2 +- aw2 0 th2; y5 */ h a5 100000; ah */ ss a3 100000; y4 +- y5 0 ah; x9 +- r 0 dh2; bw */ x9 1 2; bs min bw y4; maxAdj4 */ bs 100000 ss; a4 pin 0 adj4 maxAdj4; bd */ ss a4 100000; bd3 +- bd 0 th; bd2 max bd3 0; x3 +- th bd2 0; x8 +- r 0 aw2; x6 +- x8 0 aw2; x7 +- x6 dh2 0; x4 +- x9 0 bd; x5 +- x7 0 bd2|M l b L l bd A bd bd cd2 cd4 L x4 t A bd bd 3cd4 cd4 L x9 y4 L r y4 L x8 y5 L x6 y4 L x7 y4 L x7 x3 A bd2 bd2 0 -5400000 L x3 th A bd2 bd2 3cd4 -5400000 L th b Z',
  bentUpArrow:
    'adj1=25000 adj2=25000 adj3=25000|a1 pin 0 adj1 50000; a2 pin 0 adj2 50000; a3 pin 0 adj3 50000; y1 */ ss a3 100000; dx1 */ ss a2 50000; x1 +- r 0 dx1; dx3 */ ss a2 100000; x3 +- r 0 dx3; dx2 */ ss a1 200000; x2 +- x3 0 dx2; x4 +- x3 dx2 0; dy2 */ ss a1 100000; y2 +- b 0 dy2|M l y2 L x2 y2 L x2 y1 L x1 y1 L x3 t L r y1 L x4 y1 L x4 b L l b Z',
  quadArrow: `adj1=22500 adj2=22500 adj3=22500|${HEADS}; y2 +- vc 0 dx2; y5 +- vc dx2 0; y3 +- vc 0 dx3; y4 +- vc dx3 0; y6 +- b 0 x1|M l vc L x1 y2 L x1 y3 L x3 y3 L x3 x1 L x2 x1 L hc t L x5 x1 L x4 x1 L x4 y3 L x6 y3 L x6 y2 L r vc L x6 y5 L x6 y4 L x4 y4 L x4 y6 L x5 y6 L hc b L x2 y6 L x3 y6 L x3 y4 L x1 y4 L x1 y5 Z`,
  leftRightUpArrow: `adj1=25000 adj2=25000 adj3=25000|${HEADS}; dy2 */ ss a2 50000; y2 +- b 0 dy2; y4 +- b 0 dx2; y3 +- y4 0 dx3; y5 +- y4 dx3 0|M l y4 L x1 y2 L x1 y3 L x3 y3 L x3 x1 L x2 x1 L hc t L x5 x1 L x4 x1 L x4 y3 L x6 y3 L x6 y2 L r y4 L x6 b L x6 y5 L x1 y5 L x1 b Z`,
  leftUpArrow:
    'adj1=25000 adj2=25000 adj3=25000|a2 pin 0 adj2 50000; maxAdj1 */ a2 2 1; a1 pin 0 adj1 maxAdj1; maxAdj3 +- 100000 0 maxAdj1; a3 pin 0 adj3 maxAdj3; x1 */ ss a3 100000; dx2 */ ss a2 50000; x2 +- r 0 dx2; y2 +- b 0 dx2; dx4 */ ss a2 100000; x4 +- r 0 dx4; y4 +- b 0 dx4; dx3 */ ss a1 200000; x3 +- x4 0 dx3; x5 +- x4 dx3 0; y3 +- y4 0 dx3; y5 +- y4 dx3 0|M l y4 L x1 y2 L x1 y3 L x3 y3 L x3 x1 L x2 x1 L x4 t L r x1 L x5 x1 L x5 y5 L x1 y5 L x1 b Z',
  rightArrowCallout: `adj1=25000 adj2=25000 adj3=25000 adj4=64977|${callout('h', 'w', 'w', 100000)}; ${ROWS}; x3 +- r 0 d3|M l t L d4 t L d4 y2 L x3 y2 L x3 y1 L r vc L x3 y4 L x3 y3 L d4 y3 L d4 b L l b Z`,
  leftArrowCallout: `adj1=25000 adj2=25000 adj3=25000 adj4=64977|${callout('h', 'w', 'w', 100000)}; ${ROWS}; x2 +- r 0 d4|M l vc L d3 y1 L d3 y2 L x2 y2 L x2 t L r t L r b L x2 b L x2 y3 L d3 y3 L d3 y4 Z`,
  downArrowCallout: `adj1=25000 adj2=25000 adj3=25000 adj4=64977|${callout('w', 'h', 'h', 100000)}; ${COLUMNS}; y3 +- b 0 d3|M l t L r t L r d4 L x3 d4 L x3 y3 L x4 y3 L hc b L x1 y3 L x2 y3 L x2 d4 L l d4 Z`,
  upArrowCallout: `adj1=25000 adj2=25000 adj3=25000 adj4=64977|${callout('w', 'h', 'h', 100000)}; ${COLUMNS}; y2 +- b 0 d4|M l y2 L x2 y2 L x2 d3 L x1 d3 L hc t L x4 d3 L x3 d3 L x3 y2 L r y2 L r b L l b Z`,
  leftRightArrowCallout: `adj1=25000 adj2=25000 adj3=25000 adj4=48123|${callout('h', 'w', 'wd2', 50000)}; ${ROWS}; x4 +- r 0 d3; x2 +- hc 0 d5; x3 +- hc d5 0|M l vc L d3 y1 L d3 y2 L x2 y2 L x2 t L x3 t L x3 y2 L x4 y2 L x4 y1 L r vc L x4 y4 L x4 y3 L x3 y3 L x3 b L x2 b L x2 y3 L d3 y3 L d3 y4 Z`,
  upDownArrowCallout: `adj1=25000 adj2=25000 adj3=25000 adj4=48123|${callout('w', 'h', 'hd2', 50000)}; ${COLUMNS}; y4 +- b 0 d3; y2 +- vc 0 d5; y3 +- vc d5 0|M l y2 L x2 y2 L x2 d3 L x1 d3 L hc t L x4 d3 L x3 d3 L x3 y2 L r y2 L r y3 L x3 y3 L x3 y4 L x4 y4 L hc b L x1 y4 L x2 y4 L x2 y3 L l y3 Z`,
  quadArrowCallout:
    'adj1=18515 adj2=18515 adj3=18515 adj4=48123|a2 pin 0 adj2 50000; maxAdj1 */ a2 2 1; a1 pin 0 adj1 maxAdj1; maxAdj3 +- 50000 0 a2; a3 pin 0 adj3 maxAdj3; q2 */ a3 2 1; maxAdj4 +- 100000 0 q2; a4 pin a1 adj4 maxAdj4; dx2 */ ss a2 100000; dx3 */ ss a1 200000; ah */ ss a3 100000; dx1 */ w a4 200000; dy1 */ h a4 200000; x8 +- r 0 ah; x2 +- hc 0 dx1; x7 +- hc dx1 0; x3 +- hc 0 dx2; x6 +- hc dx2 0; x4 +- hc 0 dx3; x5 +- hc dx3 0; y8 +- b 0 ah; y2 +- vc 0 dy1; y7 +- vc dy1 0; y3 +- vc 0 dx2; y6 +- vc dx2 0; y4 +- vc 0 dx3; y5 +- vc dx3 0|M l vc L ah y3 L ah y4 L x2 y4 L x2 y2 L x4 y2 L x4 ah L x3 ah L hc t L x6 ah L x5 ah L x5 y2 L x7 y2 L x7 y4 L x8 y4 L x8 y3 L r vc L x8 y6 L x8 y5 L x7 y5 L x7 y7 L x5 y7 L x5 y8 L x6 y8 L hc b L x3 y8 L x4 y8 L x4 y7 L x2 y7 L x2 y5 L ah y5 L ah y6 Z',
};
