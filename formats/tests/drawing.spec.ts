import { Resvg } from '@resvg/resvg-js';
import sharp from 'sharp';
import { deriveView, solidOutline, viewCrop, withShape, type Frame } from '@gable/core';
import { parseXml } from '../src/index';
import { openFile, type FramedFile } from './support/frames';
import { png } from './support/build';

const enc = (text: string): Uint8Array => new TextEncoder().encode(text);
const dec = (bytes: Uint8Array): string => new TextDecoder().decode(bytes);
/** 300 × 200 pixels. */
const data = async (): Promise<string> =>
  `data:image/png;base64,${Buffer.from(await png(300, 200)).toString('base64')}`;
const drawing = async (inner: string, more = 'width="400" height="300"'): Promise<FramedFile> =>
  openFile(
    enc(
      `<?xml version="1.0"?>\r\n<!DOCTYPE svg PUBLIC "-//W3C//DTD SVG 1.1//EN" "http://www.w3.org/Graphics/SVG/1.1/DTD/svg11.dtd">\r\n<svg xmlns="http://www.w3.org/2000/svg" xmlns:xlink="http://www.w3.org/1999/xlink" ${more}><!-- ä 🙂 -->${inner.replaceAll('DATA', await data())}</svg>`,
    ),
  );
const crop = (file: FramedFile, n = 1): ReturnType<typeof viewCrop> => {
  const p = file.pictures[n - 1]!;
  return viewCrop(deriveView(p.frame.placement, p.frame.box, p.size));
};
const circled = (file: FramedFile): Frame => {
  const p = file.pictures[0]!;
  return { ...withShape(p.frame, { name: 'circle', knobs: {} }, p.size), outline: solidOutline(6, '#ffffff') };
};

/** A smooth picture, so that what differs is where it lies and not how it is resampled. 300 × 200 pixels. */
const gradient = async (): Promise<string> => {
  const raw = Buffer.alloc(300 * 200 * 3);
  for (let i = 0; i < 300 * 200; i++) raw.set([(i % 300) * 0.8, Math.floor(i / 300) * 1.2, 90], i * 3);
  const bytes = await sharp(raw, { raw: { width: 300, height: 200, channels: 3 } })
    .png()
    .toBuffer();
  return `data:image/png;base64,${bytes.toString('base64')}`;
};
/** As a renderer of others draws it: on a ground, or with its opacity as a fourth channel. */
const drawn = async (bytes: Uint8Array, ground?: string): Promise<Buffer> => {
  const picture = sharp(new Resvg(Buffer.from(bytes), ground ? { background: ground } : {}).render().asPng());
  return (ground ? picture.removeAlpha() : picture.ensureAlpha()).raw().toBuffer();
};
/** Mean difference per channel. */
const apart = (a: Buffer, b: Buffer): number => a.reduce((sum, v, i) => sum + Math.abs(v - b[i]!), 0) / a.length;

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

  // SVG 2 §14.3: what a pattern holds counts from the corner of its tile; in shares of the shape's box where it says so.
  test.each<[string, string, string, object]>([
    [
      'the whole box, by shares',
      '<pattern id="p" patternContentUnits="objectBoundingBox" width="1" height="1"><use xlink:href="#i" transform="scale(.00333333 .005)"/></pattern><image id="i" href="DATA" width="300" height="200"/>',
      '<rect x="40" y="20" width="150" height="100" rx="10" fill="url(#p)"/>',
      { box: { x: 30, y: 15, width: 112.5, height: 75 }, shape: 'rounded', left: 0, right: 0 },
    ],
    [
      'a circle that shows a part',
      '<pattern id="p" patternUnits="userSpaceOnUse" x="-10" y="0" width="150" height="100"><image href="DATA" width="150" height="100"/></pattern>',
      '<circle cx="50" cy="50" r="50" style="fill:url(#p);stroke:#ffffff;stroke-width:4" transform="translate(10 0)"/>',
      { box: { x: 7.5, y: 0, width: 75, height: 75 }, shape: 'circle', left: 10 / 150, right: 40 / 150, outline: 3 },
    ],
  ])('a shape filled with a picture: %s', async (_, defs, shape, want) => {
    const file = await drawing(`<defs>${defs}</defs>${shape}`);
    expect(file.pictures).toHaveLength(1);
    const { frame } = file.pictures[0]!;
    expect({
      box: frame.box,
      shape: frame.shape.name,
      left: expect.closeTo(crop(file).left, 4) as number,
      right: expect.closeTo(crop(file).right, 4) as number,
      ...(frame.outline && { outline: frame.outline.weight }),
    }).toEqual(want);
    expect(file.save([frame])).toEqual(file.save([]));
    const next = { ...frame, outline: solidOutline(5, '#000000') };
    const saved = file.save([next]);
    // The pattern had no other purpose; the picture has moved into the group.
    expect(dec(saved)).not.toMatch(/id="[pi]"|url\(#p\)/);
    expect(dec(saved).match(/data:image/g)).toHaveLength(1);
    expect(openFile(saved).pictures[0]!.frame).toEqual(next);
  });

  test('tiles of a pattern; those of a frame of ours come back', async () => {
    const file = await drawing(
      '<pattern id="p" patternUnits="userSpaceOnUse" width="30" height="20"><image href="DATA" width="30" height="20"/></pattern>' +
        '<rect width="150" height="100" fill="url(#p)"/><path d="M0 0h60v60z" fill="url(#p)"/>',
    );
    expect(file.pictures).toHaveLength(2);
    const { frame } = file.pictures[0]!;
    expect(frame.placement.fit).toBe('tile');
    // Five tiles across: each as wide as a fifth of the box.
    expect(deriveView(frame.placement, frame.box, file.pictures[0]!.size).scale.x * 300).toBeCloseTo(
      frame.box.width / 5,
      6,
    );
    const next = { ...frame, outline: solidOutline(5, '#000000') };
    const saved = file.save([next]);
    expect(dec(saved)).toContain('id="p"');
    const again = openFile(saved);
    expect(again.pictures.map((p) => p.frame.placement.fit)).toEqual(['tile', 'tile']);
    expect(again.pictures[0]!.frame).toEqual(next);
  });

  test('a used image stands where it is used', async () => {
    const file = await drawing(
      '<defs><image id="i" href="DATA" width="30" height="20"/></defs><use id="u" xlink:href="#i" x="10" y="5"/><use href="#i" transform="scale(2)"/>',
    );
    expect(file.pictures.map((p) => p.frame.box)).toEqual([
      { x: 7.5, y: 3.75, width: 22.5, height: 15 },
      { x: 0, y: 0, width: 45, height: 30 },
    ]);
    const saved = dec(file.save([circled(file)]));
    expect(saved).toMatch(/<g id="u" transform="matrix/);
    expect(saved).toContain('<image id="i"');
    expect(openFile(enc(saved)).pictures.map((p) => p.frame.shape.name)).toEqual(['circle', 'rectangle']);
  });

  test.each([
    ['two things in it', '<image href="DATA" width="3" height="2"/><path d="M0 0h1"/>', ''],
    ['a turned one', '<image href="DATA" width="3" height="2" transform="rotate(9)"/>', ''],
    ['a line in a gradient', '<image href="DATA" width="3" height="2"/>', 'stroke="url(#g)"'],
  ])('a fill that no frame says is left as it is: %s', async (_, inner, more) => {
    const file = await drawing(
      `<pattern id="p" patternUnits="userSpaceOnUse" width="3" height="2">${inner}</pattern><rect width="9" height="9" fill="url(#p)" ${more}/>`,
    );
    expect(file.pictures).toEqual([]);
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
    const alpha = (buffer: Buffer, x: number, y: number): number => buffer[(y * 400 + x) * 4 + 3]!;
    const pixels = await drawn(file.save([want]));
    // The circle is 100 px across about (125, 100).
    expect([alpha(pixels, 125, 100), alpha(pixels, 125, 52), alpha(pixels, 77, 100)]).toEqual([255, 255, 255]);
    expect([alpha(pixels, 80, 55), alpha(pixels, 60, 100), alpha(pixels, 190, 100)]).toEqual([0, 0, 0]);
    let opaque = 0;
    for (let i = 3; i < pixels.length; i += 4) opaque += pixels[i]! / 255;
    expect(Math.abs(opaque / (Math.PI * 50 ** 2) - 1)).toBeLessThan(0.005);
  });

  test.each([
    [
      'a filled shape, turned',
      '<pattern id="p" patternContentUnits="objectBoundingBox" x="-.1" y="-.05" width="1.3" height="1.2"><image href="PNG" width="1.3" height="1.2" preserveAspectRatio="none"/></pattern><path transform="translate(90 20) rotate(12)" d="M0 0h160v70a40 40 0 0 1-40 40H0z" fill="url(#p)" stroke="#123456" stroke-width="6" stroke-linejoin="round"/>',
    ],
    [
      'tiles',
      '<pattern id="p" patternUnits="userSpaceOnUse" x="7" y="11" width="45" height="30" patternTransform="translate(3 2) scale(1.5)"><image href="PNG" width="45" height="30"/></pattern><ellipse cx="150" cy="120" rx="120" ry="80" fill="url(#p)"/>',
    ],
    [
      'a used image that is faded and cut',
      '<clipPath id="c"><rect x="20" y="10" width="60" height="50"/></clipPath><image id="i" href="PNG" width="120" height="80" clip-path="url(#c)" opacity=".6"/><use href="#i" transform="matrix(2 .3 -.3 2 40 5)"/>',
    ],
  ])('drawn as before by a renderer of others once it is a frame: %s', async (_, markup) => {
    const file = await drawing(markup.replaceAll('PNG', await gradient()));
    const [{ frame }] = file.pictures.slice(-1) as [FramedFile['pictures'][number]];
    const before = await drawn(file.save([]));
    const off = async (change: Partial<Frame>): Promise<number> => {
      const after = await drawn(file.save([{ ...frame, alt: 'A slope of colour', ...change }]));
      return apart(after, before);
    };
    // Seams between tiles are smoothed in another way.
    const same = await off({});
    expect(same).toBeLessThan(frame.placement.fit === 'tile' ? 0.8 : 0.2);
    const closer = await off({ placement: { ...frame.placement, zoom: frame.placement.zoom * 1.5 } });
    expect(closer).toBeGreaterThan(5 * same);
  });

  test('a pattern that two shapes share stays, with what it shows', async () => {
    const file = await drawing(
      '<defs><pattern id="p" width="1" height="1"><use href="#i"/></pattern><image id="i" href="DATA" width="300" height="200"/></defs><rect width="150" height="100" fill="url(#p)"/><rect x="160" width="150" height="100" fill="url(#p)"/>',
    );
    expect(file.pictures).toHaveLength(2);
    const saved = dec(file.save(file.pictures.map((p) => ({ ...p.frame, alt: 'A pot' }))));
    expect(saved).toContain('<pattern id="p" width="1" height="1"><use href="#i"/></pattern><image id="i"');
    expect(openFile(enc(saved)).pictures.map((p) => p.frame.alt)).toEqual(['A pot', 'A pot']);
  });

  test('linked and broken pictures are told and left alone; entities are refused', async () => {
    const file = await drawing(
      '<image href="https://example.org/a.png" width="10" height="10"/><image href="data:image/png;base64,AAAA" width="9" height="9"/><image href="DATA" width="9" height="6"/>',
    );
    expect(file.pictures.map((p) => p.problem?.code)).toEqual(['linked-picture', 'broken-picture', undefined]);
    expect(() => file.pictureBytes(1)).toThrow(/linked from/);
    const bad = '<!DOCTYPE svg [<!ENTITY a SYSTEM "b">]><svg xmlns="http://www.w3.org/2000/svg"/>';
    expect(() => openFile(enc(bad))).toThrow(/the entity “a”, which is no plain text/);
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

describe('style sheets of a drawing, and what hands down (SVG 2 §6.6)', () => {
  const defs =
    '<clipPath id="c"><circle cx="150" cy="100" r="70"/></clipPath><pattern id="p" width="1" height="1"><image href="PNG" width="200" height="150" preserveAspectRatio="none"/></pattern>';

  test.each([
    ['clipped by a class', '.a{clip-path:url(#c)}', '<image class="a" href="PNG" width="300" height="200"/>'],
    [
      'clipped by a class of its group',
      '.a .b{opacity:.5}.a{clip-path:url(#c)}',
      '<g class="a"><image class="b" href="PNG" width="300" height="200"/></g>',
    ],
    [
      'a class over an attribute',
      '.a{clip-path:none}',
      '<image class="a" clip-path="url(#c)" href="PNG" width="300" height="200"/>',
    ],
    [
      'a style over a class',
      '.a{opacity:.2}',
      '<image class="a" style="opacity:.8" href="PNG" width="300" height="200"/>',
    ],
    ['faded by a class', '#i, .b{opacity:.4}', '<image id="i" href="PNG" width="300" height="200"/>'],
    [
      'filled and lined by classes',
      '.f{fill:url(#p)}.l{stroke:teal;stroke-width:6px;stroke-linejoin:round}',
      '<rect class="f l" x="40" y="30" width="200" height="150"/>',
    ],
    [
      'a line from round about',
      '',
      '<g stroke="hsl(20 60% 40%)" stroke-width="5" fill="url(#p)"><path d="M40 30h200v150h-200z"/></g>',
    ],
    [
      'lines round about that an image does not take',
      'g{stroke:red;stroke-width:8}',
      '<g fill="none"><image href="PNG" width="300" height="200"/><path d="M10 10h50"/></g>',
    ],
    [
      'in a block that is no markup',
      '<![CDATA[ .a > image { opacity: .3 } ]]>',
      '<g class="a"><image href="PNG" width="300" height="200"/></g>',
    ],
  ])('%s: as another renderer draws it, and the same when framed', async (_, css, inner) => {
    const picture = await gradient();
    const markup = `<svg xmlns="http://www.w3.org/2000/svg" width="320" height="240"><style>${css}</style><defs>${defs}</defs>${inner}</svg>`;
    const bytes = enc(markup.replaceAll('PNG', picture));
    const file = openFile(bytes);
    expect(file.pictures).toHaveLength(1);
    const was = await drawn(bytes, '#ffffff');
    const { frame } = file.pictures[0]!;
    const framed = file.save([{ ...frame, alt: `${frame.alt}A pot` }]);
    expect(framed.length).toBeGreaterThan(bytes.length);
    // Edges may differ by how they are smoothed, what is faded by a level.
    expect(apart(await drawn(framed, '#ffffff'), was)).toBeLessThan(0.3);
    const { tone, outline, ...plain } = frame;
    void tone;
    const changed = file.save([{ ...plain, outline: outline ? null : solidOutline(4, '#ff0000') }]);
    expect(apart(await drawn(changed, '#ffffff'), was)).toBeGreaterThan(0.5);
  });
});
