import { Resvg } from '@resvg/resvg-js';
import sharp from 'sharp';
import { deriveView, solidOutline, viewCrop, withShape, type Frame } from '@gable/core';
import { openFile, parseXml, type OpenedFile } from '../src/index';
import { png } from './support/build';

const enc = (text: string): Uint8Array => new TextEncoder().encode(text);
const dec = (bytes: Uint8Array): string => new TextDecoder().decode(bytes);
/** 300 × 200 pixels. */
const data = async (): Promise<string> =>
  `data:image/png;base64,${Buffer.from(await png(300, 200)).toString('base64')}`;
const drawing = async (inner: string, more = 'width="400" height="300"'): Promise<OpenedFile> =>
  openFile(
    enc(
      `<?xml version="1.0"?>\r\n<!DOCTYPE svg PUBLIC "-//W3C//DTD SVG 1.1//EN" "http://www.w3.org/Graphics/SVG/1.1/DTD/svg11.dtd">\r\n<svg xmlns="http://www.w3.org/2000/svg" xmlns:xlink="http://www.w3.org/1999/xlink" ${more}><!-- ä 🙂 -->${inner.replaceAll('DATA', await data())}</svg>`,
    ),
  );
const crop = (file: OpenedFile, n = 1): ReturnType<typeof viewCrop> => {
  const p = file.pictures[n - 1]!;
  return viewCrop(deriveView(p.frame.placement, p.frame.box, p.size));
};
const circled = (file: OpenedFile): Frame => {
  const p = file.pictures[0]!;
  return { ...withShape(p.frame, { name: 'circle', knobs: {} }, p.size), outline: solidOutline(6, '#ffffff') };
};

describe('images of a drawing', () => {
  // SVG 2 §8.10: the picture of 3 : 2 in a viewport of 100 × 100 at (10, 20).
  test.each([
    ['xMidYMid meet', { x: 10, y: 20 + 50 / 3, width: 100, height: 200 / 3 }, { left: 0, top: 0 }],
    ['xMinYMax meet', { x: 10, y: 20 + 100 / 3, width: 100, height: 200 / 3 }, { left: 0, top: 0 }],
    ['xMinYMid slice', { x: 10, y: 20, width: 100, height: 100 }, { left: 0, top: 0 }],
    ['xMidYMid slice', { x: 10, y: 20, width: 100, height: 100 }, { left: 1 / 6, top: 0 }],
    ['xMaxYMid slice', { x: 10, y: 20, width: 100, height: 100 }, { left: 1 / 3, top: 0 }],
    ['none', { x: 10, y: 20, width: 100, height: 100 }, { left: 0, top: 0 }],
  ])('preserveAspectRatio="%s"', async (value, box, hidden) => {
    const file = await drawing(
      `<image href="DATA" x="10" y="20" width="100" height="100" preserveAspectRatio="${value}"/>`,
    );
    const { frame } = file.pictures[0]!;
    for (const [key, v] of Object.entries(box)) expect(frame.box[key as 'x']).toBeCloseTo(v * 0.75, 6);
    expect(crop(file).left).toBeCloseTo(hidden.left, 6);
    expect(crop(file).top).toBeCloseTo(hidden.top, 6);
    expect(frame.placement.distortion).toBeCloseTo(value === 'none' ? 2 / 3 : 1, 6);
  });

  test('opacity and filter functions are read from attributes and style, and not done twice', async () => {
    const file = await drawing(
      '<image href="DATA" width="60" height="40" opacity=".5" style="filter:grayscale(1);image-rendering:auto"/>' +
        '<image href="DATA" width="60" height="40" filter="url(#f)" opacity="0.9" style="opacity:.4"/>',
    );
    const grey = { colour: { amount: 0, warmth: 0, tint: 0, only: null } };
    const [a, b] = file.pictures.map((p) => p.frame);
    expect(a!.tone).toEqual({ ...grey, fading: { opacity: 0.5, multiply: false } });
    expect(b!.tone).toEqual({ fading: { opacity: 0.4, multiply: false } });
    const saved = dec(file.save(file.pictures.map((p) => ({ ...p.frame, outline: solidOutline(2, '#ffffff') }))));
    const groups = [...saved.matchAll(/<g ([^>]*) transform="matrix/g)].map((m) => m[1]);
    expect(groups).toEqual(['style=";image-rendering:auto"', 'filter="url(#f)" style=""']);
  });

  test('units of the page, groups, turns and a clip of one plain shape', async () => {
    const file = await drawing(
      '<defs><clipPath id="c"><circle cx="50" cy="50" r="20"/></clipPath><image href="DATA" width="5" height="5"/></defs>' +
        '<g transform="translate(10 10)"><image xlink:href="DATA" width="150" height="100" clip-path="url(#c)" transform="rotate(90)"><title>A pot</title></image></g>',
      'width="100mm" height="100mm" viewBox="0 0 200 200"',
    );
    expect(file.pictures).toHaveLength(1);
    const { frame } = file.pictures[0]!;
    // Half a millimetre to the unit: a circle of 40 units is 20 mm.
    const mm = 72 / 25.4;
    expect(frame).toMatchObject({ shape: { name: 'circle' }, alt: 'A pot' });
    expect(frame.turn).toBeCloseTo(90, 9);
    expect(frame.box.width).toBeCloseTo(20 * mm, 6);
    expect(frame.box.x + frame.box.width / 2).toBeCloseTo((10 - 50) * 0.5 * mm, 6);
    expect(frame.box.y + frame.box.height / 2).toBeCloseTo((10 + 50) * 0.5 * mm, 6);
    expect(crop(file)).toEqual({
      left: expect.closeTo(0.2, 6),
      top: expect.closeTo(0.3, 6),
      right: expect.closeTo(1 - 70 / 150, 6),
      bottom: expect.closeTo(0.3, 6),
    });
  });

  test('only the framed image is replaced; unchanged frames give the same bytes, and framing again undoes all', async () => {
    const file = await drawing(
      '<rect width="9" height="9"/><image id="pot" class="a" href="DATA" width="150" height="100"/><text>Pots</text>',
    );
    const before = dec(file.save([]));
    expect(dec(file.save(file.pictures.map((p) => p.frame)))).toBe(before);
    const want = circled(file);
    const after = dec(file.save([want]));
    const [head, tail] = before.split(/<image[\s\S]*?\/>/) as [string, string];
    expect(after.startsWith(head)).toBe(true);
    expect(after.endsWith(tail)).toBe(true);
    expect(after).toContain('<g id="pot" class="a" transform=');
    const again = openFile(enc(after));
    expect(again.pictures[0]!.frame).toEqual(want);
    expect(again.pictureBytes(1)).toEqual(file.pictureBytes(1));
    expect(dec(again.save([want]))).toBe(after);
    const square = openFile(again.save([{ ...want, shape: { name: 'square', knobs: {} }, outline: null }]));
    expect(square.pictures[0]!.frame).toMatchObject({ shape: { name: 'square' }, outline: null });
    expect(dec(square.save([])).match(/<metadata>/g)).toHaveLength(1);
  });

  test('what another program moved stays moved; what it changed inside counts for more than our note', async () => {
    const file = await drawing('<image href="DATA" width="150" height="100"/>');
    const text = dec(file.save([circled(file)]));
    const moved = text.replace(/transform="matrix\(([^)]*)\)"/, 'transform="translate(40 0) matrix($1)"');
    const a = openFile(enc(moved)).pictures[0]!.frame;
    expect(a.shape.name).toBe('circle');
    expect(a.box.x).toBeCloseTo(circled(file).box.x + 30, 4);
    const changed = text.replace('stroke-width="6"', 'stroke-width="9"');
    expect(changed).not.toBe(text);
    const b = openFile(enc(changed)).pictures[0]!.frame;
    // Its mask is still a circle; the line in it is another by now.
    expect([b.shape.name, b.outline]).toEqual(['circle', null]);
  });

  test('a renderer of others draws the circle where it was asked for', async () => {
    const file = await drawing('<image href="DATA" x="50" y="50" width="150" height="100"/>');
    const want = { ...circled(file), outline: null };
    const pixels = async (bytes: Uint8Array): Promise<Buffer> =>
      sharp(new Resvg(Buffer.from(bytes)).render().asPng())
        .ensureAlpha()
        .raw()
        .toBuffer();
    const alpha = (buffer: Buffer, x: number, y: number): number => buffer[(y * 400 + x) * 4 + 3]!;
    const drawn = await pixels(file.save([want]));
    // The circle is 100 px across about (125, 100).
    expect([alpha(drawn, 125, 100), alpha(drawn, 125, 52), alpha(drawn, 77, 100)]).toEqual([255, 255, 255]);
    expect([alpha(drawn, 80, 55), alpha(drawn, 60, 100), alpha(drawn, 190, 100)]).toEqual([0, 0, 0]);
    let opaque = 0;
    for (let i = 3; i < drawn.length; i += 4) opaque += drawn[i]! / 255;
    expect(Math.abs(opaque / (Math.PI * 50 ** 2) - 1)).toBeLessThan(0.005);
  });

  test('linked and broken pictures are told and left alone; entities are refused', async () => {
    const file = await drawing(
      '<image href="https://example.org/a.png" width="10" height="10"/><image href="data:image/png;base64,AAAA" width="9" height="9"/><image href="DATA" width="9" height="6"/>',
    );
    expect(file.pictures.map((p) => p.problem?.code)).toEqual(['linked-picture', 'broken-picture', undefined]);
    expect(() => file.pictureBytes(1)).toThrow(/linked from/);
    const bad = '<!DOCTYPE svg [<!ENTITY a "b">]><svg xmlns="http://www.w3.org/2000/svg"/>';
    expect(() => openFile(enc(bad))).toThrow(/document type/);
  });

  test('the result is well formed, prefixes included, and holds no script of ours', async () => {
    const text = `<s:svg xmlns:s="http://www.w3.org/2000/svg" width="100" height="100"><s:image href="${await data()}" width="60" height="40"/></s:svg>`;
    const file = openFile(enc(text));
    const saved = dec(
      file.save([
        {
          ...circled(file),
          shadow: { kind: 'outer', dx: 1, dy: 2, blur: 3, spread: 0, colour: '#000000', opacity: 0.5 },
        },
      ]),
    );
    const root = parseXml(saved, 'x');
    expect(root.children[0]!.uri).toBe('http://www.w3.org/2000/svg');
    expect(saved).not.toMatch(/<script|onload/i);
  });
});
