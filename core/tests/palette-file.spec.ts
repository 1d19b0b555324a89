import { readPalette, writePalette, type ColourPalette } from '../src/index';

const house: ColourPalette = {
  name: 'Fennick Clayworks',
  colours: [
    { name: 'Kiln red', hex: '#b5482a' },
    { name: 'Kiln red', hex: '#a94124' },
    { name: 'Été */ ciel', hex: '#2b6a73' },
  ],
};

describe('palettes as files', () => {
  test('are style sheets that come back as they went', () => {
    const css = writePalette(house);
    expect(css).toContain('  --kiln-red: #b5482a; /* Kiln red */');
    expect(css).toContain('--kiln-red-2: #a94124;');
    const back = readPalette(css, 'palette.css');
    expect(back.name).toBe(house.name);
    expect(back.colours.map((c) => c.hex)).toEqual(house.colours.map((c) => c.hex));
    expect(back.colours[0]!.name).toBe('Kiln red');
  });

  test('other style sheets and plain lists are read, too; what is no colour is passed over', () => {
    expect(readPalette(':root{--brand:rgb(181 72 42);--gap:4px;--ink-soft:#66716c}', 'brand')).toEqual({
      name: 'brand',
      colours: [
        { name: 'Brand', hex: '#b5482a' },
        { name: 'Ink soft', hex: '#66716c' },
      ],
    });
    expect(readPalette('Kiln red\t#b5482a\n\n#fff\nnothing here', 'list').colours).toEqual([
      { name: 'Kiln red', hex: '#b5482a' },
      { name: '#ffffff', hex: '#ffffff' },
    ]);
  });

  test('a file without colours, or with too many, is refused with what to do', () => {
    expect(() => readPalette('hello', 'x')).toThrow(/no colours/);
    expect(() => readPalette('#123456\n'.repeat(61), 'x')).toThrow(/61 colours/);
  });
});
