import { parseXml } from '../src/index';
import { readColour, readTheme, type Theme } from '../src/drawingml/colour';
import { formatShare, integer, measure, share } from '../src/drawingml/values';

const A = 'xmlns:a="http://schemas.openxmlformats.org/drawingml/2006/main"';
const ofScheme = (slots: string, more = ''): string =>
  `<a:theme ${A}><a:themeElements><a:clrScheme name="x">${slots}</a:clrScheme>${more}</a:themeElements></a:theme>`;
const SLOTS =
  '<a:dk1><a:srgbClr val="22302F"/></a:dk1><a:lt1><a:srgbClr val="FFFEFA"/></a:lt1><a:accent1><a:srgbClr val="B5482A"/></a:accent1>';
const theme = (): Theme => readTheme(parseXml(ofScheme(SLOTS), 'x'));
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
    // The standard's own words: a complement makes grey (§20.1.2.3.7); the inverse of red is cyan (.17).
    ['complement of red is cyan', '<a:srgbClr val="FF0000"><a:comp/></a:srgbClr>', '#00ffff'],
    ['inverse of red is cyan', '<a:srgbClr val="FF0000"><a:inv/></a:srgbClr>', '#00ffff'],
    ['a third of a turn on, red is green', '<a:srgbClr val="FF0000"><a:hueOff val="7200000"/></a:srgbClr>', '#00ff00'],
    ['its hue set to blue', '<a:srgbClr val="FF0000"><a:hue val="14400000"/></a:srgbClr>', '#0000ff'],
    ['hsl(0 50% 50%)', '<a:srgbClr val="FF0000"><a:satMod val="50000"/></a:srgbClr>', '#bf4040'],
    ['no more than full: hsl(0 100% 50%)', '<a:srgbClr val="BF4040"><a:satMod val="400000"/></a:srgbClr>', '#ff0000'],
    ['hsl(0 25% 50%)', '<a:srgbClr val="BF4040"><a:satOff val="-25000"/></a:srgbClr>', '#9f6060'],
    ['red in full beside green', '<a:srgbClr val="00FF00"><a:red val="100000"/></a:srgbClr>', '#ffff00'],
    ['half as much red', '<a:srgbClr val="FF0000"><a:redMod val="50000"/></a:srgbClr>', '#800000'],
    ['one after the other', '<a:srgbClr val="FF0000"><a:redMod val="0"/><a:inv/></a:srgbClr>', '#ffffff'],
    ['grey of green: luminance 0.7152', '<a:srgbClr val="00FF00"><a:gray/></a:srgbClr>', '#dcdcdc'],
    ['half the light is 188 of 255 (IEC 61966-2-1)', '<a:scrgbClr r="50000" g="0" b="100000"/>', '#bc00ff'],
    ['hsl(120 100% 25%)', '<a:hslClr hue="7200000" sat="100000" lum="25000"/>', '#008000'],
    ['a name of CSS', '<a:prstClr val="steelBlue"/>', '#4682b4'],
    ['a short one for it', '<a:prstClr val="dkSlateGray"/>', '#2f4f4f'],
    ['medium, short', '<a:prstClr val="medOrchid"/>', '#ba55d3'],
    ['a value that is none changes nothing', '<a:srgbClr val="FF0000"><a:lumMod val="half"/></a:srgbClr>', '#ff0000'],
  ])('%s', (_name, xml, hex) => {
    expect(colour(xml)!.colour).toBe(hex);
  });

  test('opacity is changed like a channel', () => {
    expect(
      colour('<a:srgbClr val="FF0000"><a:alpha val="80000"/><a:alphaMod val="50000"/></a:srgbClr>')!.opacity,
    ).toBeCloseTo(0.4, 9);
  });

  test('what cannot be resolved is null, not a guess', () => {
    for (const xml of [
      '',
      '<a:srgbClr val="red"/>',
      '<a:schemeClr val="accent9"/>',
      '<a:prstClr val="unheardOf"/>',
      '<a:sysClr val="menu" lastClr="url(x)"/>',
    ])
      expect(colour(xml)).toBeNull();
  });

  test('the theme is asked only when it is needed', () => {
    const asked = jest.fn(theme);
    colour('<a:srgbClr val="FF8800"/>', asked);
    expect(asked).not.toHaveBeenCalled();
  });

  test('a theme gives its colours by name, as its document maps the names', () => {
    const root = parseXml(
      ofScheme(
        '<a:dk1><a:sysClr val="windowText" lastClr="000000"/></a:dk1><a:lt1><a:sysClr val="window"/></a:lt1><a:accent2><a:srgbClr val="2F6F73"/></a:accent2>',
      ),
      'x',
    );
    const usual = { dk1: '#000000', lt1: '#ffffff', accent2: '#2f6f73', tx1: '#000000', bg1: '#ffffff' };
    expect(Object.fromEntries(readTheme(root).colours)).toEqual(usual);
    // §19.3.1.6, clrMap: a dark master calls dark its ground.
    const dark = readTheme(root, { bg1: 'dk1', tx1: 'lt1', accent1: 'accent2' });
    expect(Object.fromEntries(dark.colours)).toEqual({
      ...usual,
      tx1: '#ffffff',
      bg1: '#000000',
      accent1: '#2f6f73',
    });
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
