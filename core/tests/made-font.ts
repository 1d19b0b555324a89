import opentype from 'opentype.js';

/** A made-up font whose letters are boxes of one width, as a TrueType-flavoured OpenType file. @param usage OS/2 `fsType` */
export function madeFont(
  family: string,
  { usage = 0, bold = false, wide = 700 }: { usage?: number; bold?: boolean; wide?: number } = {},
): Uint8Array {
  const box = (unicode: number | undefined, name: string): opentype.Glyph => {
    const path = new opentype.Path();
    path.moveTo(50, 0);
    path.lineTo(50, 700);
    path.lineTo(wide - 50, 700);
    path.lineTo(wide - 50, 0);
    path.close();
    return new opentype.Glyph({ name, ...(unicode !== undefined && { unicode }), advanceWidth: wide, path });
  };
  const letters = [...'ABCDEFGHIJKLMNOPQRSTUVWXYZabcdefghijklmnopqrstuvwxyz'];
  const font = new opentype.Font({
    ...{ familyName: family, styleName: bold ? 'Bold' : 'Regular', unitsPerEm: 1000, ascender: 900, descender: -300 },
    glyphs: [box(undefined, '.notdef'), box(32, 'space'), ...letters.map((l) => box(l.codePointAt(0), l))],
  });
  Object.assign(font.tables['os2'] as object, { fsType: usage, fsSelection: bold ? 0x20 : 0x40 });
  return new Uint8Array(font.toArrayBuffer());
}
