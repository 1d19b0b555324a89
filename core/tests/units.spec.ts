import { formatLength, fromEmu, GableError, parseLength, POINTS, toEmu, trimNumber, unitIn } from '../src/index';

describe('lengths', () => {
  test.each([
    ['540px', 'px'],
    ['1.25 IN', 'in'],
    ['2″', 'in'],
    ['=A4 - 2*15mm', 'mm'],
    ['=A4/3', null],
    ['12', null],
    ['3 points', null],
  ])('the unit of “%s” is %s', (text, unit) => expect(unitIn(text)).toBe(unit));

  // ISO/IEC 29500-1 (ST_Coordinate) and CSS Values 4 §6.2
  test.each([
    ['1in', 914_400],
    ['1pt', 12_700],
    ['1cm', 360_000],
    ['1px', 9_525],
    ['25.4mm', 914_400],
  ])('%s is %d EMU', (text, emu) => {
    expect(toEmu(parseLength(text))).toBe(emu);
  });

  test('A4 is 210 × 297 mm, and halving it keeps the ratio √2 within a millimetre (ISO 216)', () => {
    const [w, h] = [parseLength('210mm'), parseLength('297mm')];
    expect(h / w).toBeCloseTo(Math.SQRT2, 3);
    expect(Math.abs(w - h / 2 / (w / h) / 2)).toBeLessThan(POINTS.mm * 105);
    expect(w / (h / 2)).toBeCloseTo(Math.SQRT2, 2);
  });

  test.each([
    ['35 mm', 35 * POINTS.mm],
    ['2 in', 144],
    ['2"', 144],
    ['1,5 cm', 1.5 * POINTS.cm],
    ['.5in', 36],
    ['-3pt', -3],
    ['12', 12],
  ])('reads %s', (text, points) => {
    expect(parseLength(text)).toBeCloseTo(points, 9);
  });

  test.each(['', 'mm', '3 furlongs', '1.2.3mm', 'Infinity', '1e5mm', 'NaN'])(
    'refuses “%s” and says what to write',
    (text) => {
      expect(() => parseLength(text)).toThrow(GableError);
      expect(() => parseLength(text)).toThrow(/not a length/);
    },
  );

  // ISO 216: A4 is 210 × 297 mm; arithmetic by hand
  test.each([
    ['=A4/3', 70],
    ['= 210mm - 2*15mm', 180],
    ['=(A5 + 1cm) / 2', 79],
    ['=-(2 - 12) * 1mm', 10],
    ['=100/4', 25],
    ['=A3/A4*1cm', 297 / 21],
    ['=1,5cm', 15],
    ['=letter/2', 107.95],
  ])('reckons %s as %f mm', (text, mm) => {
    expect(parseLength(text, 'mm') / POINTS.mm).toBeCloseTo(mm, 9);
  });

  test('a paper’s name stands for its height where a height is asked for', () => {
    expect(parseLength('=A4/3', 'mm', 'down') / POINTS.mm).toBeCloseTo(99, 9);
    expect(parseLength('=A0', 'mm', 'down') / POINTS.mm).toBeCloseTo(1189, 9);
  });

  test.each(['=', '=A4*A4', '=2mm+3', '=(1mm', '=1mm)', '=1mm 2mm', '=A11', '=1/0mm', '=alert(1)', '=2**3mm'])(
    'refuses the sum “%s”',
    (text) => {
      expect(() => parseLength(text)).toThrow(/not a length/);
    },
  );

  test('goes back and forth through EMU without drift', () => {
    for (const emu of [0, 1, -1, 360_000, 2_147_483_647]) expect(toEmu(fromEmu(emu))).toBe(emu);
  });

  test('is written without idle zeros', () => {
    expect(formatLength(48 * POINTS.mm)).toBe('48 mm');
    expect(formatLength(6, 'pt', 2)).toBe('6 pt');
    expect(trimNumber(-0.001, 1)).toBe('0');
    expect(trimNumber(100, 0)).toBe('100');
  });
});
