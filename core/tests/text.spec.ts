import { clampRgb, formatHex, parse } from 'culori';
import {
  contrast,
  parseAim,
  parseColour,
  parseKnobs,
  parseOutline,
  parsePick,
  parseRatio,
  parseShape,
  parseSize,
  POINTS,
} from '../src/index';

const code = (f: () => unknown): string => {
  try {
    f();
  } catch (error) {
    return (error as { code: string }).code;
  }
  return 'no error';
};

describe('what people type', () => {
  test('outlines', () => {
    expect(parseOutline('6pt #ffffff')).toMatchObject({
      weight: 6,
      side: 'on',
      paint: { kind: 'solid', colour: '#ffffff', opacity: 1 },
    });
    expect(parseOutline('4px white 50%')).toMatchObject({ weight: 3, paint: { opacity: 0.5 } });
    expect(parseOutline('1 mm FF8800')).toMatchObject({ paint: { colour: '#ff8800' } });
    expect(parseOutline('none')).toBeNull();
    for (const bad of ['', '6pt', '#fff', '0pt #fff', '-2pt #fff', '6pt white 200%'])
      expect(code(() => parseOutline(bad))).toMatch(/bad-(outline|length|colour)/);
  });

  test('ratios and sizes', () => {
    expect(parseRatio('3:2')).toBe(1.5);
    expect(parseRatio('16/9')).toBeCloseTo(16 / 9);
    expect(code(() => parseRatio('3:0'))).toBe('bad-ratio');
    expect(parseSize('50mmx40mm')).toEqual({ width: 50 * POINTS.mm, height: 40 * POINTS.mm });
    expect(parseSize('50x40mm').width).toBeCloseTo(50 * POINTS.mm);
    expect(parseSize('2in')).toEqual({ width: 144, height: 144 });
    expect(code(() => parseSize('1x2x3mm'))).toBe('bad-size');
    expect(code(() => parseSize('0mm'))).toBe('bad-size');
  });

  test('aims', () => {
    expect(parseAim('0.5,0.3')).toEqual({ u: 0.5, v: 0.3 });
    expect(parseAim('50%, 30%')).toEqual({ u: 0.5, v: 0.3 });
    expect(parseAim('subject')).toBe('subject');
    for (const bad of ['0.5', '1.2,0', 'a,b', ',', '0.5,0.3,0.1']) expect(code(() => parseAim(bad))).toBe('bad-aim');
  });

  test('shapes and knobs', () => {
    expect(parseShape('Circle').name).toBe('circle');
    expect(code(() => parseShape('blob'))).toBe('unknown-shape');
    expect(parseKnobs('radius=0.2', parseShape('rounded'))).toEqual({ radius: 0.2 });
    expect(code(() => parseKnobs('radius=0.9', parseShape('rounded')))).toBe('bad-knob');
    expect(code(() => parseKnobs('radius=', parseShape('rounded')))).toBe('bad-knob');
    expect(code(() => parseKnobs('x=1', parseShape('circle')))).toBe('unknown-knob');
  });

  test('picks', () => {
    expect(parsePick('all', [1, 2, 3])).toEqual([1, 2, 3]);
    expect(parsePick('3,1-2,2', [1, 2, 3])).toEqual([1, 2, 3]);
    expect(code(() => parsePick('4', [1, 2, 3]))).toBe('no-such-picture');
    expect(code(() => parsePick('1-99999999', [1]))).toBe('bad-pick');
    for (const bad of ['', 'x', '3-1']) expect(code(() => parsePick(bad, [1, 2, 3]))).toBe('bad-pick');
  });

  test('colours, and their contrast (WCAG 2.2: #767676 on white is 4.54 : 1)', () => {
    expect(parseColour('FFF')).toBe('#ffffff');
    // Every name and notation of CSS Color 4, as `culori` reads them.
    for (const text of [
      ...['lightgray', 'rebeccapurple', 'DarkSlateGrey', '#b5482a', 'rgb(181 72 42)', 'rgb(181, 72, 42)'],
      ...['hsl(13deg 62% 44%)', 'hwb(13 16% 29%)', 'lab(45% 40 38)', 'lch(45% 55 43)', 'oklch(0.55 0.14 40)'],
    ])
      expect([text, parseColour(text)]).toEqual([text, formatHex(clampRgb(parse(text)!))]);
    expect(parseColour('Light  Gray')).toBe('#d3d3d3');
    expect(() => parseColour('rgb(0 0 0 / 50%)')).toThrow(/transparent/);
    expect(code(() => parseColour('#12'))).toBe('bad-colour');
    expect(contrast('#767676', '#ffffff')).toBeCloseTo(4.54, 2);
    expect(contrast('#777777', '#ffffff')).toBeCloseTo(4.48, 2);
    expect(contrast('#000000', '#ffffff')).toBeCloseTo(21, 9);
  });

  test('ratios by name: √2 both ways (ISO 216) and the golden one', () => {
    expect(parseRatio('A-landscape') * parseRatio('a-portrait')).toBeCloseTo(1, 12);
    const g = parseRatio('golden');
    expect(g * g).toBeCloseTo(g + 1, 12);
  });
});
