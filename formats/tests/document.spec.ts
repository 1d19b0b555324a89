/** Text documents: found, framed, written; every character outside a change stays. */
import { CENTRED, deriveView, solidOutline, toEmu, withShape, type Frame } from '@gable/core';
import { strToU8 } from 'fflate';
import { readFileSync } from 'node:fs';
import { parseXml, surveyFile } from '../src/index';
import { openFile } from './support/frames';
import { child } from '../src/xml/located';
import { anchored, buildDocument, inlined, png } from './support/build';
import { handbook, R, part, circled, expectOthersUntouched, walk, expectValid } from './support/word';

describe('the demo handbook', () => {
  const file = openFile(handbook);

  test('all its pictures are found, in document order, where they are', () => {
    const s = surveyFile(file);
    expect(s.pictures).toHaveLength(18);
    expect(s.pictures.map((p) => p.where.place)).toEqual([...Array<string>(16).fill('body'), 'header', 'footnote']);
    expect(s.pictures.filter((p) => p.where.table).map((p) => p.n)).toEqual([2, 3, 4, 5]);
    expect(s.pictures.filter((p) => p.where.textBox).map((p) => p.n)).toEqual([12]);
    expect(s.pictures.filter((p) => p.where.flow === 'floating').map((p) => p.n)).toEqual([6, 8, 14]);
    expect(s.pages).toBe(7);
    expect(s.pictures[9]!.where.page).toBe(5);
    expect(s.pictures[0]!.where.near).toContain('Three of last season');
  });

  test('and what goes wrong in it on purpose is noticed', () => {
    const found = surveyFile(file).pictures.map((p) => p.findings.map((f) => f.code));
    expect(found[3]).toEqual(['distorted', 'no-alt-text']);
    expect(found[2]).toEqual(['egg']);
    expect(found[10]).toEqual(['soft', 'no-alt-text']);
    expect(found[12]).toEqual(['sideways']);
  });

  test('theme colours, preset corners and shadows are read', () => {
    const { frame } = file.pictures[6]!;
    expect(frame.shape).toEqual({ name: 'rounded', knobs: { radius: 0.06 } });
    expect(frame.outline).toMatchObject({ weight: 1.5, paint: { colour: '#b5482a' } });
    // 50,800 EMU at 45°: 4 pt · cos 45° each way; 101,600 EMU are 8 pt.
    expect(frame.shadow).toMatchObject({
      kind: 'outer',
      dx: expect.closeTo(Math.SQRT1_2 * 4, 9),
      dy: expect.closeTo(Math.SQRT1_2 * 4, 9),
      blur: 8,
      opacity: 0.35,
    });
  });

  test('no change gives the very same bytes, and so do the frames as they were read', () => {
    expect(Buffer.from(file.save([])).equals(handbook)).toBe(true);
    expect(Buffer.from(file.save(file.pictures.map((p) => p.frame))).equals(handbook)).toBe(true);
  });

  test('every picture can be framed, and reopening gives the same frames within 1 EMU and 0.001 %', () => {
    for (const shape of ['circle', 'heart', 'hexagon', 'rounded', 'diamond', 'ellipse', 'square']) {
      const frames = file.pictures.map((p) => ({
        ...withShape(p.frame, { name: shape, knobs: {} }, p.size, { u: 0.41, v: 0.37 }),
        outline: solidOutline(4.5, '#b5482a', 0.8),
      }));
      const bytes = file.save(frames);
      expectOthersUntouched(handbook, bytes, ['word/document.xml', 'word/header1.xml', 'word/footnotes.xml']);
      const again = openFile(bytes);
      again.pictures.forEach((p, i) => {
        const want = frames[i]!;
        const size = p.size;
        expect(p.frame.shape.name).toBe(
          shape === 'ellipse' && toEmu(want.box.width) === toEmu(want.box.height) ? 'circle' : shape,
        );
        expect(Math.abs(toEmu(p.frame.box.width) - toEmu(want.box.width))).toBeLessThanOrEqual(1);
        expect(Math.abs(toEmu(p.frame.box.height) - toEmu(want.box.height))).toBeLessThanOrEqual(1);
        expect(Math.abs(toEmu(p.frame.box.x) - toEmu(want.box.x))).toBeLessThanOrEqual(1);
        expect(p.frame.outline).toEqual(want.outline);
        const [a, b] = [p.frame, want].map((f) => deriveView(f.placement, f.box, size).corners);
        a!.forEach((corner, k) => {
          expect(Math.abs(corner.x - b![k]!.x)).toBeLessThanOrEqual(1e-5);
          expect(Math.abs(corner.y - b![k]!.y)).toBeLessThanOrEqual(1e-5);
        });
      });
      // Saving what was read again changes nothing more.
      expect(Buffer.from(again.save(again.pictures.map((p) => p.frame))).equals(Buffer.from(bytes))).toBe(true);
    }
  });

  test('outside the changed picture every character of the part stays', () => {
    const before = part(handbook);
    const after = part(file.save([circled(file, 4)]));
    const whole = (text: string): { start: number; end: number } => {
      const inline = [...walk(parseXml(text, 'x'))].filter((e) => e.local === 'inline')[3]!;
      return { start: inline.start, end: inline.end };
    };
    const [a, b] = [whole(before), whole(after)];
    expect(after.slice(0, b.start)).toBe(before.slice(0, a.start));
    expect(after.slice(b.end)).toBe(before.slice(a.end));
    expect(after.slice(b.start, b.end)).not.toBe(before.slice(a.start, a.end));
  });

  test('both branches of a text box are kept in step', () => {
    const text = part(file.save([circled(file, 12)]));
    const boxes = [...walk(parseXml(text, 'x'))].filter(
      (e) => e.local === 'inline' && child(e, 'docPr')?.attributes['name'] === 'teapot',
    );
    expect(boxes).toHaveLength(2);
    expect(text.slice(boxes[0]!.start, boxes[0]!.end)).toBe(text.slice(boxes[1]!.start, boxes[1]!.end));
    expect(text.slice(boxes[0]!.start, boxes[0]!.end)).toContain('prst="ellipse"');
  });

  test('the whole picture stays in the file', () => {
    expect(
      Buffer.from(openFile(file.save([circled(file, 2)])).pictureBytes(2)).equals(
        readFileSync('demo/files/pictures/portrait-maren.jpg'),
      ),
    ).toBe(true);
  });
});

describe('what is written follows the content models of the standard', () => {
  const hosts: [string, string][] = [
    ['in the text', inlined()],
    ['without effectExtent', inlined({}, '')],
    [
      'floating and tight',
      anchored(
        {},
        '<wp:wrapTight wrapText="bothSides"><wp:wrapPolygon edited="0"><wp:start x="0" y="0"/><wp:lineTo x="0" y="21600"/><wp:lineTo x="21600" y="21600"/></wp:wrapPolygon></wp:wrapTight>',
      ),
    ],
    [
      'with everything after the geometry',
      inlined({ after: '<a:noFill/><a:effectLst/><a:extLst><a:ext uri="{1}"/></a:extLst>' }),
    ],
    [
      'with a dashed line',
      inlined({
        after:
          '<a:ln w="12700"><a:solidFill><a:srgbClr val="00FF00"/></a:solidFill><a:prstDash val="dash"/><a:round/></a:ln>',
      }),
    ],
    ['with a crop and no fillRect', inlined({ src: '<a:srcRect l="10000"/>', fill: '<a:stretch/>' })],
  ];
  test.each(hosts)('a picture %s', async (_name, body) => {
    const bytes = await buildDocument({ body });
    const file = openFile(bytes);
    const saved = file.save([circled(file)]);
    const text = part(saved);
    expectValid(parseXml(text, 'x'));
    expectOthersUntouched(bytes, saved, ['word/document.xml']);
    expect(text).toContain('prst="ellipse"');
    expect(text).toContain('w="76200"');
    expect(openFile(saved).pictures[0]!.frame.shape.name).toBe('circle');
  });

  test('the demo, all framed', () => {
    const file = openFile(handbook);
    const saved = file.save(file.pictures.map((_, i) => circled(file, i + 1)));
    for (const name of ['word/document.xml', 'word/header1.xml', 'word/footnotes.xml'])
      expectValid(parseXml(part(saved, name), 'x'));
  });
});

describe('what cannot be written is refused in plain words, before anything is', () => {
  test.each<[string, Partial<Frame>]>([
    ['turned inside', { placement: { ...CENTRED, turn: 30 } }],
    ['tiled', { placement: { ...CENTRED, fit: 'tile' } }],
    ['colour behind', { backing: { kind: 'solid', colour: '#ffffff', opacity: 1 } }],
    [
      'outside the edge',
      {
        outline: { ...solidOutline(4, '#ffffff'), side: 'outside' },
        shadow: { kind: 'inner', dx: 0, dy: 0, blur: 2, spread: 0, colour: '#000000', opacity: 1 },
      },
    ],
    ['changed tone', { tone: { softness: { blur: 2 } } }],
    ['that is spread', { shadow: { kind: 'outer', dx: 0, dy: 0, blur: 2, spread: 3, colour: '#000000', opacity: 1 } }],
    ['a shape that Gable does not know', { shape: { name: 'preset:swooshArrow', knobs: {} } }],
  ])('%s', async (words, change) => {
    const file = openFile(await buildDocument({ body: inlined() }));
    const lastWord = words.split(' ').pop()!;
    expect(() => file.save([{ ...file.pictures[0]!.frame, ...change }])).toThrow(lastWord);
  });

  test('a number that is not there', async () => {
    const file = openFile(await buildDocument({ body: inlined() }));
    expect(() => file.save([{ ...file.pictures[0]!.frame, n: 2 }])).toThrow('no picture 2');
    expect(() => file.pictureBytes(9)).toThrow('no picture 9');
  });

  test('a shape that only the file knows is kept as it is while other things change', async () => {
    const file = openFile(
      await buildDocument({ body: inlined({ geometry: '<a:prstGeom prst="swooshArrow"><a:avLst/></a:prstGeom>' }) }),
    );
    expect(file.pictures[0]!.frame.shape).toEqual({ name: 'preset:swooshArrow', knobs: {} });
    const text = part(file.save([{ ...file.pictures[0]!.frame, outline: solidOutline(2, '#000000') }]));
    expect(text).toContain('<a:prstGeom prst="swooshArrow"><a:avLst/></a:prstGeom>');
  });
});

describe('pictures that cannot be shown keep nothing else from working', () => {
  const rel = (id: string, target: string, mode = ''): string =>
    `<Relationship Id="${id}" Type="${R}/image" Target="${target}"${mode}/>`;
  test('linked, missing, broken, undrawable and far too large ones are told apart', async () => {
    const huge = await png(8, 8);
    // 10,100 × 10,000 pixels by its header alone (PNG §11.2.2: width and height are the first eight bytes of IHDR).
    new DataView(huge.buffer).setUint32(16, 10_100);
    new DataView(huge.buffer).setUint32(20, 10_000);
    const emf = new Uint8Array(120);
    new DataView(emf.buffer).setUint32(0, 1, true);
    emf.set(strToU8(' EMF'), 40);
    const bytes = await buildDocument({
      body: ['rId1', 'rId2', 'rId3', 'rId4', 'rId5', 'rId9']
        .map((id) => inlined({ blip: id === 'rId2' ? 'r:link="rId2"' : `r:embed="${id}"` }))
        .join(''),
      rels:
        rel('rId2', 'http://example.invalid/p.png', ' TargetMode="External"') +
        rel('rId3', 'media/text.png') +
        rel('rId4', 'media/huge.png') +
        rel('rId5', 'media/drawing.emf'),
      more: { 'word/media/text.png': 'this is no picture', 'word/media/huge.png': huge, 'word/media/drawing.emf': emf },
    });
    const file = openFile(bytes);
    expect(file.pictures.map((p) => p.problem?.code ?? null)).toEqual([
      null,
      'linked-picture',
      'broken-picture',
      'too-many-pixels',
      'undrawable-picture',
      'missing-picture',
    ]);
    expect(file.pictures[3]!.problem!.message).toContain('101 megapixels');
    // They can be framed natively all the same.
    const saved = file.save(file.pictures.map((p) => circled(file, p.n)));
    expect(openFile(saved).pictures.map((p) => p.frame.shape.name)).toEqual(Array(6).fill('circle'));
    expect(() => file.pictureBytes(2)).toThrow('linked');
  });
});

test('a flip and a turn are written and read back', async () => {
  const file = openFile(await buildDocument({ body: inlined() }));
  const { frame } = file.pictures[0]!;
  const next = { ...frame, turn: 30, flip: { horizontal: true, vertical: false } };
  const out = file.save([next]);
  const again = openFile(out).pictures[0]!.frame;
  expect([again.turn, again.flip]).toEqual([30, next.flip]);
  expect(part(openFile(out).save([{ ...again, turn: 0, flip: frame.flip }]))).toContain('<a:xfrm>');
});
