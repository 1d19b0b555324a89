/** Stars and bursts of ISO/IEC 29500-1 Annex D, in our own compact writing; from memory. */

/** Stars with an even number of points that touch the box on all four sides: outer points on its ellipse, from the left. */
function evenStar(points: number, depth: number): string {
  const guides = ['a pin 0 adj 50000', 'iwd2 */ wd2 a 50000', 'ihd2 */ hd2 a 50000'];
  const path: string[] = [];
  for (let i = 0; i < 2 * points; i++) {
    const angle = Math.round(10_800_000 + (i * 10_800_000) / points) % 21_600_000;
    const [rx, ry] = i % 2 === 0 ? ['wd2', 'hd2'] : ['iwd2', 'ihd2'];
    guides.push(
      `dx${i} cos ${rx} ${angle}`,
      `dy${i} sin ${ry} ${angle}`,
      `x${i} +- hc dx${i} 0`,
      `y${i} +- vc dy${i} 0`,
    );
    path.push(`${i === 0 ? 'M' : 'L'} x${i} y${i}`);
  }
  return `adj=${depth}|${guides.join('; ')}|${path.join(' ')} Z`;
}

export const STARS: Readonly<Record<string, string>> = {
  star4: evenStar(4, 12500),
  star5:
    'adj=19098 hf=105146 vf=110557|a pin 0 adj 50000; swd2 */ wd2 hf 100000; shd2 */ hd2 vf 100000; svc */ vc vf 100000; dx1 cos swd2 1080000; dx2 cos swd2 18360000; dy1 sin shd2 1080000; dy2 sin shd2 18360000; x1 +- hc 0 dx1; x2 +- hc 0 dx2; x3 +- hc dx2 0; x4 +- hc dx1 0; y1 +- svc 0 dy1; y2 +- svc 0 dy2; iwd2 */ swd2 a 50000; ihd2 */ shd2 a 50000; sdx1 cos iwd2 20520000; sdx2 cos iwd2 3240000; sdy1 sin ihd2 3240000; sdy2 sin ihd2 20520000; sx1 +- hc 0 sdx1; sx2 +- hc 0 sdx2; sx3 +- hc sdx2 0; sx4 +- hc sdx1 0; sy1 +- svc 0 sdy1; sy2 +- svc 0 sdy2; sy3 +- svc ihd2 0|M x1 y1 L sx2 sy1 L hc t L sx3 sy1 L x4 y1 L sx4 sy2 L x3 y2 L hc sy3 L x2 y2 L sx1 sy2 Z',
  star6:
    'adj=28868 hf=115470|a pin 0 adj 50000; swd2 */ wd2 hf 100000; dx1 cos swd2 1800000; x1 +- hc 0 dx1; x2 +- hc dx1 0; y2 +- vc hd4 0; iwd2 */ swd2 a 50000; ihd2 */ hd2 a 50000; sdx2 */ iwd2 1 2; sx1 +- hc 0 iwd2; sx2 +- hc 0 sdx2; sx3 +- hc sdx2 0; sx4 +- hc iwd2 0; sdy1 sin ihd2 3600000; sy1 +- vc 0 sdy1; sy2 +- vc sdy1 0|M x1 hd4 L sx2 sy1 L hc t L sx3 sy1 L x2 hd4 L sx4 vc L x2 y2 L sx3 sy2 L hc b L sx2 sy2 L x1 y2 L sx1 vc Z',
  star7:
    'adj=34601 hf=102572 vf=105210|a pin 0 adj 50000; swd2 */ wd2 hf 100000; shd2 */ hd2 vf 100000; svc */ vc vf 100000; dx1 */ swd2 97493 100000; dx2 */ swd2 78183 100000; dx3 */ swd2 43388 100000; dy1 */ shd2 62349 100000; dy2 */ shd2 22252 100000; dy3 */ shd2 90097 100000; x1 +- hc 0 dx1; x2 +- hc 0 dx2; x3 +- hc 0 dx3; x4 +- hc dx3 0; x5 +- hc dx2 0; x6 +- hc dx1 0; y1 +- svc 0 dy1; y2 +- svc dy2 0; y3 +- svc dy3 0; iwd2 */ swd2 a 50000; ihd2 */ shd2 a 50000; sdx1 */ iwd2 97493 100000; sdx2 */ iwd2 78183 100000; sdx3 */ iwd2 43388 100000; sx1 +- hc 0 sdx1; sx2 +- hc 0 sdx2; sx3 +- hc 0 sdx3; sx4 +- hc sdx3 0; sx5 +- hc sdx2 0; sx6 +- hc sdx1 0; sdy1 */ ihd2 90097 100000; sdy2 */ ihd2 22252 100000; sdy3 */ ihd2 62349 100000; sy1 +- svc 0 sdy1; sy2 +- svc 0 sdy2; sy3 +- svc sdy3 0; sy4 +- svc ihd2 0|M x1 y2 L sx1 sy2 L x2 y1 L sx3 sy1 L hc t L sx4 sy1 L x5 y1 L sx6 sy2 L x6 y2 L sx5 sy3 L x4 y3 L hc sy4 L x3 y3 L sx2 sy3 Z',
  star8: evenStar(8, 37500),
  star10:
    'adj=42533 hf=105146|a pin 0 adj 50000; swd2 */ wd2 hf 100000; dx1 */ swd2 95106 100000; dx2 */ swd2 58779 100000; x1 +- hc 0 dx1; x2 +- hc 0 dx2; x3 +- hc dx2 0; x4 +- hc dx1 0; dy1 */ hd2 80902 100000; dy2 */ hd2 30902 100000; y1 +- vc 0 dy1; y2 +- vc 0 dy2; y3 +- vc dy2 0; y4 +- vc dy1 0; iwd2 */ swd2 a 50000; ihd2 */ hd2 a 50000; sdx1 */ iwd2 80902 100000; sdx2 */ iwd2 30902 100000; sdy1 */ ihd2 95106 100000; sdy2 */ ihd2 58779 100000; sx1 +- hc 0 iwd2; sx2 +- hc 0 sdx1; sx3 +- hc 0 sdx2; sx4 +- hc sdx2 0; sx5 +- hc sdx1 0; sx6 +- hc iwd2 0; sy1 +- vc 0 sdy1; sy2 +- vc 0 sdy2; sy3 +- vc sdy2 0; sy4 +- vc sdy1 0|M x1 y2 L sx2 sy2 L x2 y1 L sx3 sy1 L hc t L sx4 sy1 L x3 y1 L sx5 sy2 L x4 y2 L sx6 vc L x4 y3 L sx5 sy3 L x3 y4 L sx4 sy4 L hc b L sx3 sy4 L x2 y4 L sx2 sy3 L x1 y3 L sx1 vc Z',
  star12: evenStar(12, 37500),
  star16: evenStar(16, 37500),
  star24: evenStar(24, 37500),
  star32: evenStar(32, 37500),
  irregularSeal1:
    '||[21600x21600] M 10800 5800 L 14522 0 L 14155 5325 L 18380 4457 L 16702 7315 L 21097 8137 L 17607 10475 L 21600 13290 L 16837 12942 L 18145 18095 L 14020 14457 L 13247 19737 L 10532 14935 L 8485 21600 L 7715 15627 L 4762 17617 L 5667 13937 L 135 14587 L 3722 11775 L 0 8615 L 4627 7617 L 370 2295 L 7312 6320 L 8352 2295 Z',
  irregularSeal2:
    '||[21600x21600] M 11462 4342 L 14790 0 L 14525 5777 L 18007 3172 L 16380 6532 L 21600 6645 L 16985 9402 L 18270 11290 L 16380 12310 L 18877 15632 L 14640 14350 L 14942 17370 L 12180 15935 L 11612 18842 L 9872 17370 L 8700 19712 L 7527 18125 L 4917 21600 L 4805 18240 L 1285 17825 L 3330 15370 L 0 12877 L 3935 11592 L 1172 8270 L 5372 7817 L 4502 3625 L 8550 6382 L 9722 1887 Z',
};
