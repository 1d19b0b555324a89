/**
 * Equivalents: a picture turned or mirrored inside an upright shape, and a shape seated in a part of its box. What the file's
 * own terms say is held against the asked frame by where points of the picture and of the edge come to lie on the page:
 * the frame's turn about the middle of its box after its flips (ISO/IEC 29500-1 §20.1.7.6). What only we know is taken out
 * of the file for that, and held against the asked frame on its own.
 */
import { strFromU8, strToU8, unzipSync, zipSync } from 'fflate';
import { CENTRED, deriveView, solidOutline, type Frame, type Placement } from '@gable/core';
import { openFile, type FramedFile } from './support/frames';
import { anchored, buildDocument, inlined } from './support/build';
import { buildDeck, PLACED, slidePic } from './support/deck';
import { apart, stripped } from './support/on-page';
import { buildOpen, openFrame } from './support/open';

const deck = async (): Promise<FramedFile> => openFile(await buildDeck([slidePic(PLACED)]));
const drawing = async (): Promise<FramedFile> =>
  openFile(
    await buildOpen({
      kind: 'graphics',
      body: `<draw:page>${openFrame('svg:x="2cm" svg:y="3cm"')}</draw:page>`,
    }),
  );

const turned = (turn: number, more: Partial<Placement> = {}): Placement => ({
  ...CENTRED,
  aim: { u: 0.45, v: 0.55 },
  zoom: 1.4,
  turn,
  ...more,
});
const CASES: [string, Partial<Frame>][] = [
  ['a circle', { shape: { name: 'circle', knobs: {} }, placement: turned(33) }],
  ['a box', { placement: turned(-17) }],
  ['a hexagon', { shape: { name: 'hexagon', knobs: {} }, placement: turned(120) }],
  ['a heart in a turned frame', { shape: { name: 'heart', knobs: {} }, placement: turned(25), turn: 40 }],
  ['a mirrored picture', { shape: { name: 'heart', knobs: {} }, placement: turned(0, { mirror: true }) }],
  [
    'a mirrored and turned picture in a flipped frame',
    {
      shape: { name: 'drop', knobs: {} },
      placement: turned(50, { mirror: true }),
      flip: { horizontal: false, vertical: true },
      turn: 10,
    },
  ],
  [
    'a turned picture with a line outside',
    { placement: turned(15), outline: { ...solidOutline(4, '#335577'), side: 'outside', gap: 2 } },
  ],
  [
    'a circle at the left of a wide box',
    { shape: { name: 'circle', knobs: {} }, seat: { fit: 'keep', anchor: 'left', repeat: false } },
  ],
];

describe('on slides', () => {
  test.each(CASES)(
    '%s lies where it should by the file’s own terms, and comes back as it was asked',
    async (_, want) => {
      const file = await deck();
      const { frame, size } = file.pictures[0]!;
      const asked: Frame = { ...frame, ...want };
      expect(file.unsupported(asked)).toEqual([]);
      const saved = file.save([asked]);
      const native = openFile(stripped(saved)).pictures[0]!;
      expect(native.frame.placement).toMatchObject({ turn: 0, mirror: false });
      // A hundredth of a millimetre: crops are rounded to 1/1000 % and lengths to an EMU.
      expect(apart(asked, native.frame, size)).toBeLessThan(0.03);
      expect(openFile(saved).pictures[0]!.frame).toEqual(asked);
    },
  );

  test('a turned circle is still the preset', async () => {
    const file = await deck();
    const { frame } = file.pictures[0]!;
    const saved = file.save([
      { ...frame, shape: { name: 'circle', knobs: {} }, box: { ...frame.box, width: 144 }, placement: turned(30) },
    ]);
    const slide = strFromU8(unzipSync(saved)['ppt/slides/slide1.xml']!);
    expect(slide).toContain('prst="ellipse"');
    expect(slide).toContain('rot="1800000"');
  });

  test('a gradient along the line has no equivalent', async () => {
    const file = await deck();
    const { frame } = file.pictures[0]!;
    const stops = [
      { at: 0, colour: '#000000', opacity: 1 },
      { at: 1, colour: '#ffffff', opacity: 1 },
    ];
    const outline = { ...solidOutline(4, '#000000'), paint: { kind: 'linear' as const, angle: 0, stops } };
    expect(file.unsupported({ ...frame, placement: turned(30), outline })).toEqual(['turn']);
  });
});

describe('in documents, where text makes room for the box', () => {
  test.each([
    ['a circle in the text', inlined(), { shape: { name: 'circle', knobs: {} } }, true, []],
    ['a box in the text', inlined(), {}, false, ['turn']],
    ['a box with text round it', anchored({}, '<wp:wrapSquare wrapText="bothSides"/>'), {}, false, ['turn']],
    ['a box before the text', anchored(), {}, false, []],
  ] as const)('%s', async (_, body, want, square, unsupported) => {
    const file = openFile(await buildDocument({ body }));
    const { frame } = file.pictures[0]!;
    const side = Math.min(frame.box.width, frame.box.height);
    const box = square ? { ...frame.box, width: side, height: side } : frame.box;
    const asked: Frame = { ...frame, ...want, box, placement: turned(30) };
    expect(file.unsupported(asked)).toEqual(unsupported);
    if (unsupported.length > 0) return;
    expect(openFile(file.save([asked])).pictures[0]!.frame).toEqual(asked);
  });
});

describe('in drawings of OpenDocument', () => {
  test.each(CASES.filter(([, f]) => !f.placement?.mirror))('%s', async (_, want) => {
    const file = await drawing();
    const { frame, size } = file.pictures[0]!;
    const asked: Frame = { ...frame, ...want };
    expect(file.unsupported(asked)).toEqual([]);
    const saved = file.save([asked]);
    expect(apart(asked, openFile(stripped(saved)).pictures[0]!.frame, size)).toBeLessThan(0.03);
    expect(openFile(saved).pictures[0]!.frame).toEqual(asked);
  });
});

describe('what only we know', () => {
  const keep = [
    { u: 0.2, v: 0.3, width: 0.4, height: 0.2, name: 'the <glaze> & “rim”' },
    { u: 0.7, v: 0.1, width: 0.1, height: 0.2 },
  ];

  test.each([
    ['pptx', deck],
    ['odg', drawing],
  ])('a keep mark and a far aim travel in %s, count while the frame is the same, and go with it', async (_, open) => {
    const file = await open();
    const { frame } = file.pictures[0]!;
    const asked: Frame = { ...frame, keep, placement: { ...frame.placement, aim: { u: 0.95, v: 0.5 } } };
    const saved = file.save([asked]);
    const again = openFile(saved);
    expect(again.pictures[0]!.frame).toEqual(asked);
    // Undoing it takes it out again: what was said natively is all there is.
    const { keep: gone, ...plain } = asked;
    void gone;
    const bare = again.save([{ ...plain, placement: { ...plain.placement, aim: { u: 0.5, v: 0.5 } } }]);
    expect(openFile(bare).pictures[0]!.frame.keep).toBeUndefined();
    expect(Object.values(unzipSync(bare)).some((d) => strFromU8(d).includes('"keep"'))).toBe(false);
  });

  test('the one mark that older releases wrote is a list of one', async () => {
    const file = await deck();
    const [mark] = keep;
    const saved = unzipSync(file.save([{ ...file.pictures[0]!.frame, keep: [mark!] }]));
    const name = 'ppt/slides/slide1.xml';
    saved[name] = strToU8(strFromU8(saved[name]!).replace(/"keep":\[(\{[^}]*\})\]/, '"keep":$1'));
    expect(strFromU8(saved[name])).toContain('"keep":{');
    expect(openFile(zipSync(saved)).pictures[0]!.frame.keep).toEqual([mark]);
  });

  test('another program’s crop wins', async () => {
    const file = await deck();
    const { frame } = file.pictures[0]!;
    const saved = unzipSync(file.save([{ ...frame, keep }]));
    const name = 'ppt/slides/slide1.xml';
    saved[name] = strToU8(
      strFromU8(saved[name]!).replace(/<a:stretch>/, '<a:srcRect l="20000" r="20000" t="20000" b="20000"/><a:stretch>'),
    );
    const again = openFile(zipSync(saved)).pictures[0]!;
    expect(again.frame.keep).toBeUndefined();
    expect(again.frame.placement.zoom).toBeCloseTo(1 / 0.6, 6);
  });

  test('another program’s place does not matter: it is the same frame elsewhere', async () => {
    const file = await deck();
    const { frame } = file.pictures[0]!;
    const saved = unzipSync(file.save([{ ...frame, keep }]));
    const name = 'ppt/slides/slide1.xml';
    saved[name] = strToU8(strFromU8(saved[name]!).replace('<a:off x="914400"', '<a:off x="1828800"'));
    expect(openFile(zipSync(saved)).pictures[0]!.frame).toMatchObject({ keep, box: { x: 144, y: 72 } });
  });

  test('nonsense in its place is no error', async () => {
    const file = await deck();
    const saved = unzipSync(file.save([{ ...file.pictures[0]!.frame, keep }]));
    const name = 'ppt/slides/slide1.xml';
    saved[name] = strToU8(strFromU8(saved[name]!).replace('"box"', '"fox"'));
    expect(openFile(zipSync(saved)).pictures[0]!.frame.keep).toBeUndefined();
  });
});

describe('tiles are the fill of a shape', () => {
  const tiled = (f: Frame, more: Partial<Placement> = {}): Frame => ({
    ...f,
    placement: { ...CENTRED, fit: 'tile', zoom: 0.3, aim: { u: 0.2, v: 0.1 }, ...more },
  });
  const names = (xml: string, open: string): string[] =>
    [...(new RegExp(`<${open}[ >].*?</${open}>`, 's').exec(xml)?.[0] ?? '').matchAll(/<([a-z]+:\w+)/g)].map(
      (m) => m[1]!,
    );

  test('on a slide the picture becomes a shape, with its fill where the schema has it, and comes back', async () => {
    const file = await deck();
    const { frame, size } = file.pictures[0]!;
    const asked = { ...tiled(frame, { mirrored: 'across' }), outline: solidOutline(2, '#112233'), alt: 'Pots' };
    expect(file.unsupported(asked)).toEqual([]);
    const saved = file.save([asked]);
    const slide = strFromU8(unzipSync(saved)['ppt/slides/slide1.xml']!);
    expect(slide).not.toContain('<p:pic>');
    // CT_Shape, §19.3.1.43, and CT_ShapeProperties, §20.1.2.2.35 (from memory).
    expect(names(slide, 'p:nvSpPr')).toEqual(['p:nvSpPr', 'p:cNvPr', 'p:cNvSpPr', 'p:nvPr']);
    expect(names(slide, 'p:spPr').filter((n) => /prstGeom|blipFill|ln$/.test(n))).toEqual([
      'a:prstGeom',
      'a:blipFill',
      'a:ln',
    ]);
    // §20.1.8.58: scales in 1/1000 % of the picture at the fill's dpi, the offset in EMU from the corner.
    const [, dpi] = /<a:blipFill dpi="(\d+)"/.exec(slide)!;
    const at = Object.fromEntries(
      [.../<a:tile ([^>]*)\/>/.exec(slide)![1]!.matchAll(/(\w+)="([^"]*)"/g)].map((m) => [m[1]!, m[2]!]),
    );
    const { scale, matrix } = deriveView(asked.placement, asked.box, size);
    expect((Number(at['sx']) / 100_000) * (72 / Number(dpi))).toBeCloseTo(scale.x, 5);
    expect(at['sy']).toBe(at['sx']);
    expect(Number(at['tx']) / 12_700).toBeCloseTo(matrix[4], 3);
    expect(Number(at['ty']) / 12_700).toBeCloseTo(matrix[5], 3);
    expect([at['flip'], at['algn']]).toEqual(['x', 'tl']);
    const again = openFile(saved).pictures[0]!.frame;
    expect(again.placement).toMatchObject({ fit: 'tile', mirrored: 'across', turn: 0 });
    expect(
      deriveView(again.placement, again.box, size)
        .matrix.map((v, i) => v - deriveView(asked.placement, asked.box, size).matrix[i]!)
        .every((d) => Math.abs(d) < 1e-3),
    ).toBe(true);
    expect(again).toMatchObject({ alt: 'Pots', outline: asked.outline });
    // And back to one picture: the shape stays a shape.
    const one = openFile(saved).save([{ ...again, placement: { ...CENTRED, zoom: 2 } }]);
    const cropped = openFile(one).pictures[0]!.frame.placement;
    expect(cropped).toMatchObject({ fit: 'cover' });
    expect(cropped.zoom).toBeCloseTo(2, 4);
  });

  test('a fill of others counts by its own density, or the picture’s', async () => {
    const fill = (dpi: string): string =>
      `<p:sp><p:nvSpPr><p:cNvPr id="7" name="s"/><p:cNvSpPr/><p:nvPr/></p:nvSpPr><p:spPr>${PLACED}<a:blipFill${dpi}><a:blip r:embed="rId1"/><a:tile tx="0" ty="0" sx="50000" sy="50000" flip="none" algn="tl"/></a:blipFill></p:spPr></p:sp>`;
    const at = async (dpi: string): Promise<number> => {
      const { frame, size } = openFile(await buildDeck([fill(dpi)])).pictures[0]!;
      return deriveView(frame.placement, frame.box, size).scale.x;
    };
    expect(await at(' dpi="144"')).toBeCloseTo(0.25, 6);
    expect(await at(' dpi="72"')).toBeCloseTo(0.5, 6);
  });

  test('in a document they are painted: its pictures are no shapes', async () => {
    const file = openFile(await buildDocument({ body: inlined() }));
    expect(file.unsupported(tiled(file.pictures[0]!.frame))).toEqual(['tile']);
  });

  test('a line outside tiles has no words', async () => {
    const file = await deck();
    const asked = {
      ...tiled(file.pictures[0]!.frame),
      outline: { ...solidOutline(2, '#000000'), side: 'outside' as const },
    };
    expect(file.unsupported(asked)).toEqual(['tile']);
  });
});
