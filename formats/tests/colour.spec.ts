import { parseXml } from '../src/index';
import { readColour, readTheme, type Theme } from '../src/ooxml/colour';
import { formatShare, integer, measure, share } from '../src/ooxml/values';

const A = 'xmlns:a="http://schemas.openxmlformats.org/drawingml/2006/main"';
const theme = (): Theme =>
  new Map([
    ['accent1', '#b5482a'],
    ['dk1', '#22302f'],
    ['lt1', '#fffefa'],
  ]);
const colour = (inner: string, from = theme): ReturnType<typeof readColour> =>
  readColour(parseXml(`<a:solidFill ${A}>${inner}</a:solidFill>`, 'x'), from);

describe('colours of a document (ISO/IEC 29500-1 §20.1.2.3)', () => {
  test.each([
    ['<a:srgbClr val="FF8800"/>', '#ff8800', 1],
    ['<a:srgbClr val="ff8800"><a:alpha val="25000"/></a:srgbClr>', '#ff8800', 0.25],
    ['<a:sysClr val="windowText" lastClr="010203"/>', '#010203', 1],
    ['<a:prstClr val="white"/>', '#ffffff', 1],
    ['<a:schemeClr val="accent1"/>', '#b5482a', 1],
    ['<a:schemeClr val="tx1"/>', '#22302f', 1],
    ['<a:schemeClr val="bg1"/>', '#fffefa', 1],
  ])('%s', (xml, hex, opacity) => {
    expect(colour(xml)).toEqual({ colour: hex, opacity });
  });

  // The same lightness written as hsl() of CSS Color 4 §7.
  test.each([
    ['half as light: hsl(0 100% 25%)', '<a:srgbClr val="FF0000"><a:lumMod val="50000"/></a:srgbClr>', '#800000'],
    [
      'paler: hsl(0 100% 80%)',
      '<a:srgbClr val="FF0000"><a:lumMod val="40000"/><a:lumOff val="60000"/></a:srgbClr>',
      '#ff9999',
    ],
    [
      'grey stays grey: hsl(0 0% 75%)',
      '<a:srgbClr val="808080"><a:lumMod val="50000"/><a:lumOff val="50000"/></a:srgbClr>',
      '#c0c0c0',
    ],
    ['shaded', '<a:srgbClr val="804020"><a:shade val="50000"/></a:srgbClr>', '#402010'],
    ['tinted', '<a:srgbClr val="000000"><a:tint val="20000"/></a:srgbClr>', '#cccccc'],
    ['strict percentages', '<a:srgbClr val="FF0000"><a:lumMod val="50%"/></a:srgbClr>', '#800000'],
  ])('%s', (_name, xml, hex) => {
    expect(colour(xml)!.colour).toBe(hex);
  });

  test('what cannot be resolved is null, not a guess', () => {
    for (const xml of ['', '<a:srgbClr val="red"/>', '<a:schemeClr val="accent9"/>', '<a:prstClr val="unheardOf"/>'])
      expect(colour(xml)).toBeNull();
  });

  test('the theme is asked only when it is needed', () => {
    const asked = jest.fn(theme);
    colour('<a:srgbClr val="FF8800"/>', asked);
    expect(asked).not.toHaveBeenCalled();
  });

  test('a theme gives its colours by name', () => {
    const root = parseXml(
      `<a:theme ${A}><a:themeElements><a:clrScheme name="x"><a:dk1><a:sysClr val="windowText" lastClr="000000"/></a:dk1><a:accent2><a:srgbClr val="2F6F73"/></a:accent2></a:clrScheme></a:themeElements></a:theme>`,
      'x',
    );
    expect([...readTheme(root)]).toEqual([
      ['dk1', '#000000'],
      ['accent2', '#2f6f73'],
    ]);
  });
});

describe('values', () => {
  test('coordinates in EMU or with a unit (§20.1.10.16, §22.9.2.15)', () => {
    expect(measure('12700')).toBe(1);
    expect(measure('1in')).toBe(72);
    expect(measure('2.54cm')).toBeCloseTo(72, 9);
    expect(measure('2pc')).toBe(24);
    for (const bad of [undefined, '', 'wide', '1 furlong']) expect(measure(bad)).toBeNull();
  });

  test('shares both ways (§20.1.10.40)', () => {
    expect(share('12500')).toBe(0.125);
    expect(share('12.5%')).toBe(0.125);
    expect(share('-4000')).toBe(-0.04);
    expect(share('x')).toBeNull();
    expect(formatShare(0.333334, false)).toBe('33333');
    expect(formatShare(-0.000001, false)).toBe('0');
    expect(formatShare(0.333334, true)).toBe('33.333%');
    expect(integer('x', 7)).toBe(7);
  });
});
