import { readFileSync } from 'node:fs';
import { strFromU8, strToU8, unzipSync, zipSync } from 'fflate';
import {
  area,
  CENTRED,
  DASHES,
  deriveView,
  difference,
  doubleArea,
  findShape,
  flatten,
  framePath,
  remedy,
  SHAPES,
  solidOutline,
  toEmu,
  withShape,
  type Frame,
  type Outline,
} from '@gable/core';
import { openFile, parseXml, surveyFile, type Element, type OpenedFile, type ReplacementImage } from '../src/index';
import { child, descend } from '../src/xml/located';
import { anchored, buildDocument, inlined, NAMESPACES, pic, png } from './support/build';

const handbook = readFileSync('demo/files/season-handbook.docx');
const R = 'http://schemas.openxmlformats.org/officeDocument/2006/relationships';
const part = (bytes: Uint8Array, name = 'word/document.xml'): string => strFromU8(unzipSync(bytes)[name]!);
const circled = (file: OpenedFile, n = 1, outline = 6): Frame => {
  const p = file.pictures[n - 1]!;
  return {
    ...withShape(p.frame, { name: 'circle', knobs: {} }, p.size, { u: 0.6, v: 0.4 }),
    outline: solidOutline(outline, '#ffffff'),
  };
};
/** All parts but the named ones must be the same, in the same order. */
function expectOthersUntouched(before: Uint8Array, after: Uint8Array, changed: string[]): void {
  const a = unzipSync(before);
  const b = unzipSync(after);
  expect(Object.keys(b)).toEqual(Object.keys(a));
  for (const name of Object.keys(a))
    if (!changed.includes(name)) expect(Buffer.from(b[name]!).equals(Buffer.from(a[name]!))).toBe(true);
}

/** The same package with another text document. */
function rezip(bytes: Uint8Array, change: (xml: string) => string): Uint8Array {
  const name = 'word/document.xml';
  return zipSync({ ...unzipSync(bytes), [name]: strToU8(change(part(bytes, name))) });
}

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

function* walk(e: Element): Generator<Element> {
  yield e;
  for (const c of e.children) yield* walk(c);
}

/** Content models of ISO/IEC 29500-1, transcribed from the clauses (from memory): children in order, and required attributes. */
const MODELS: Record<string, { order: string[]; required: string[]; attributes?: string[] }> = {
  // §20.4.2.8 CT_Inline
  inline: {
    order: ['extent', 'effectExtent', 'docPr', 'cNvGraphicFramePr', 'graphic'],
    required: ['extent', 'docPr', 'graphic'],
  },
  // §20.4.2.3 CT_Anchor
  anchor: {
    order: [
      'simplePos',
      'positionH',
      'positionV',
      'extent',
      'effectExtent',
      'wrapNone',
      'wrapSquare',
      'wrapTight',
      'wrapThrough',
      'wrapTopAndBottom',
      'docPr',
      'cNvGraphicFramePr',
      'graphic',
      'sizeRelH',
      'sizeRelV',
    ],
    required: ['simplePos', 'positionH', 'positionV', 'extent', 'docPr', 'graphic'],
    attributes: ['simplePos', 'relativeHeight', 'behindDoc', 'locked', 'layoutInCell', 'allowOverlap'],
  },
  // §20.4.2.7, §20.4.2.6
  extent: { order: [], required: [], attributes: ['cx', 'cy'] },
  effectExtent: { order: [], required: [], attributes: ['l', 't', 'r', 'b'] },
  // §20.2.2.5 CT_Picture, §20.1.8.14 CT_BlipFillProperties
  pic: { order: ['nvPicPr', 'blipFill', 'spPr'], required: ['nvPicPr', 'blipFill', 'spPr'] },
  blipFill: { order: ['blip', 'srcRect', 'tile', 'stretch'], required: [] },
  // §20.1.2.2.35 CT_ShapeProperties
  spPr: {
    order: [
      'xfrm',
      'custGeom',
      'prstGeom',
      'noFill',
      'solidFill',
      'gradFill',
      'blipFill',
      'pattFill',
      'grpFill',
      'ln',
      'effectLst',
      'effectDag',
      'scene3d',
      'sp3d',
      'extLst',
    ],
    required: [],
  },
  prstGeom: { order: ['avLst'], required: [], attributes: ['prst'] },
  // §20.1.2.2.24 CT_LineProperties
  ln: {
    order: [
      'noFill',
      'solidFill',
      'gradFill',
      'pattFill',
      'prstDash',
      'custDash',
      'round',
      'bevel',
      'miter',
      'headEnd',
      'tailEnd',
      'extLst',
    ],
    required: [],
  },
  // §20.4.2.16 CT_WrapPath
  wrapPolygon: { order: ['start', 'lineTo'], required: ['start', 'lineTo'] },
};

function expectValid(root: Element): void {
  for (const e of walk(root)) {
    const model = MODELS[e.local];
    if (!model || e.uri.includes('wordprocessingGroup')) continue;
    const places = e.children.map((c) => model.order.indexOf(c.local));
    if (model.order.length > 0)
      expect({ in: e.local, places }).toEqual({ in: e.local, places: [...places].sort((a, b) => a - b) });
    expect(places).not.toContain(-1);
    for (const name of model.required) expect(child(e, name)).toBeDefined();
    for (const name of model.attributes ?? []) expect(e.attributes).toHaveProperty([name]);
  }
}

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

describe('reading', () => {
  test('crops in 1/1000 %, negative ones, and insets of the fill (§20.1.8.55, §20.1.8.30)', async () => {
    const file = openFile(
      await buildDocument({ body: inlined({ src: '<a:srcRect l="25000" r="12500" t="-10000"/>' }) }),
    );
    const s = surveyFile(file).pictures[0]!;
    expect(s.crop).toEqual({
      left: expect.closeTo(0.25, 9),
      right: expect.closeTo(0.125, 9),
      top: expect.closeTo(-0.1, 9),
      bottom: expect.closeTo(0, 9),
    });
    // The picture fills the right half of its box: as much again lies beyond its left edge.
    const inset = openFile(
      await buildDocument({ body: inlined({ fill: '<a:stretch><a:fillRect l="50000"/></a:stretch>' }) }),
    );
    expect(surveyFile(inset).pictures[0]!.crop.left).toBeCloseTo(-1, 9);
  });

  test('turn and flip are those of the frame (1/60,000°)', async () => {
    const file = openFile(await buildDocument({ body: inlined({ xfrm: ' rot="5400000" flipH="1"' }) }));
    expect(file.pictures[0]!.frame).toMatchObject({ turn: 90, flip: { horizontal: true, vertical: false } });
  });

  test('offsets of floating pictures, words around, alternative text', async () => {
    const file = openFile(
      await buildDocument({
        body: `<w:p><w:r><w:t>Before</w:t></w:r></w:p>${anchored()}<w:p><w:r><w:t>A caption &amp; more</w:t></w:r></w:p>${inlined()}`,
      }),
    );
    expect(file.pictures[0]!.frame).toMatchObject({
      flow: 'floating',
      box: { x: 72, y: -36, width: 216, height: 144 },
    });
    expect(file.pictures[0]!.where.near).toBe('A caption & more');
    expect(file.pictures[1]!.frame.alt).toBe('a & b');
  });

  test('the same picture many times is many frames of one part', async () => {
    const file = openFile(await buildDocument({ body: inlined() + inlined() + inlined() }));
    expect(file.pictures.map((p) => p.media!.part)).toEqual([
      'word/media/one.png',
      'word/media/one.png',
      'word/media/one.png',
    ]);
    const again = openFile(file.save([circled(file, 2)]));
    expect(again.pictures.map((p) => p.frame.shape.name)).toEqual(['rectangle', 'circle', 'rectangle']);
  });

  test('groups scale what is in them; framing keeps the middle', async () => {
    const group = (p: string): string =>
      `<w:p><w:r><w:drawing><wp:inline><wp:extent cx="1828800" cy="1828800"/><wp:docPr id="1" name="g"/><a:graphic><a:graphicData uri="http://schemas.microsoft.com/office/word/2010/wordprocessingGroup"><wpg:wgp><wpg:cNvGrpSpPr/><wpg:grpSpPr><a:xfrm><a:off x="0" y="0"/><a:ext cx="1828800" cy="1828800"/><a:chOff x="0" y="0"/><a:chExt cx="3657600" cy="1828800"/></a:xfrm></wpg:grpSpPr>${p}</wpg:wgp></a:graphicData></a:graphic></wp:inline></w:drawing></w:r></w:p>`;
    const bytes = await buildDocument({ body: group(pic({ cx: 3_657_600, cy: 1_828_800 })) });
    const file = openFile(bytes);
    const s = surveyFile(file).pictures[0]!;
    // 300 × 200 px in a box of 288 × 144 pt, pressed to half its width by the group.
    expect(s.where.group).toBe(true);
    expect(s.box).toMatchObject({ width: 144, height: 144 });
    expect(s.distortion).toBeCloseTo(2 / 3, 9);
    const saved = file.save([{ ...circled(file), box: { ...file.pictures[0]!.frame.box, width: 72, height: 72 } }]);
    const xfrm = descend(
      [...walk(parseXml(part(saved), 'x'))].find((e) => e.local === 'pic'),
      'spPr',
      'xfrm',
    )!;
    expect(child(xfrm, 'ext')!.attributes).toEqual({ cx: '1828800', cy: '914400' });
    expect(child(xfrm, 'off')!.attributes).toEqual({ x: '914400', y: '457200' });
    expect(part(saved)).toContain('<wp:extent cx="1828800" cy="1828800"/>');
  });

  test('strict namespaces, percentages with a sign, and prefixes of any kind', async () => {
    const strict = NAMESPACES.replace(
      'http://schemas.openxmlformats.org/wordprocessingml/2006/main',
      'http://purl.oclc.org/ooxml/wordprocessingml/main',
    )
      .replace(
        'http://schemas.openxmlformats.org/officeDocument/2006/relationships',
        'http://purl.oclc.org/ooxml/officeDocument/relationships',
      )
      .replace(
        'http://schemas.openxmlformats.org/drawingml/2006/wordprocessingDrawing',
        'http://purl.oclc.org/ooxml/drawingml/wordprocessingDrawing',
      )
      .replace('http://schemas.openxmlformats.org/drawingml/2006/main', 'http://purl.oclc.org/ooxml/drawingml/main')
      .replace(
        'http://schemas.openxmlformats.org/drawingml/2006/picture',
        'http://purl.oclc.org/ooxml/drawingml/picture',
      );
    const file = openFile(
      await buildDocument({ namespaces: strict, body: inlined({ src: '<a:srcRect l="12.5%"/>' }) }),
    );
    expect(surveyFile(file).pictures[0]!.crop.left).toBeCloseTo(0.125, 9);
    const text = part(file.save([circled(file)]));
    expect(text).toMatch(/<a:srcRect l="\d+(\.\d+)?%" r="\d+(\.\d+)?%" b=/);
    expect(openFile(file.save([circled(file)])).pictures[0]!.frame.shape.name).toBe('circle');
  });

  test('a picture whose namespaces are declared on itself, as default', async () => {
    const own = `<w:p><w:r><w:drawing><wp:inline><wp:extent cx="2743200" cy="1828800"/><wp:docPr id="1" name="x"/><graphic xmlns="http://schemas.openxmlformats.org/drawingml/2006/main"><graphicData uri="p"><pic xmlns="http://schemas.openxmlformats.org/drawingml/2006/picture" xmlns:z="http://schemas.openxmlformats.org/drawingml/2006/main"><nvPicPr><cNvPr id="0" name="x"/><cNvPicPr/></nvPicPr><blipFill><z:blip r:embed="rId1"/><z:stretch/></blipFill><spPr/></pic></graphicData></graphic></wp:inline></w:drawing></w:r></w:p>`;
    const bytes = await buildDocument({ body: own, namespaces: NAMESPACES.replace(/xmlns:(a|pic)="[^"]*"/g, '') });
    const file = openFile(bytes);
    const saved = file.save([circled(file)]);
    const spPr = [...walk(parseXml(part(saved), 'x'))].find((e) => e.local === 'spPr')!;
    expect(spPr.children.map((c) => [c.local, c.uri])).toEqual([
      ['xfrm', 'http://schemas.openxmlformats.org/drawingml/2006/main'],
      ['prstGeom', 'http://schemas.openxmlformats.org/drawingml/2006/main'],
      ['ln', 'http://schemas.openxmlformats.org/drawingml/2006/main'],
    ]);
    expect(openFile(saved).pictures[0]!.frame.outline?.weight).toBe(6);
  });

  test('a part in UTF-16 comes back in UTF-16', async () => {
    const xml = `\ufeff<?xml version="1.0" encoding="UTF-16"?><w:document ${NAMESPACES}><w:body><w:p><w:r><w:t>Größe 😀</w:t></w:r></w:p>${inlined()}</w:body></w:document>`;
    const bytes = await buildDocument({ more: { 'word/document.xml': new Uint8Array(Buffer.from(xml, 'utf16le')) } });
    const file = openFile(bytes);
    const saved = unzipSync(file.save([circled(file)]))['word/document.xml']!;
    const text = Buffer.from(saved).toString('utf16le');
    expect(text.startsWith('\ufeff<?xml')).toBe(true);
    expect(text).toContain('Größe 😀');
    expect(text).toContain('prst="ellipse"');
  });

  test('deleted text has no pictures any more; relative sizes are switched off when a size is set', async () => {
    const tail = '<wp14:sizeRelH relativeFrom="margin"><wp14:pctWidth>50000</wp14:pctWidth></wp14:sizeRelH>';
    const file = openFile(
      await buildDocument({
        body: `<w:p><w:del w:id="1">${inlined().slice(5, -6)}</w:del></w:p>${anchored({}, undefined, tail)}`,
      }),
    );
    expect(file.pictures).toHaveLength(1);
    expect(part(file.save([circled(file)]))).toContain('<wp14:pctWidth>0</wp14:pctWidth>');
  });

  test('a turned frame keeps its overhang in effectExtent, the outline included', async () => {
    const file = openFile(
      await buildDocument({
        body: inlined({
          cx: 1_270_000,
          cy: 1_270_000,
          xfrm: ' rot="2700000"',
          src: '<a:srcRect l="16667" r="16667"/>',
        }),
      }),
    );
    const saved = file.save([{ ...file.pictures[0]!.frame, outline: solidOutline(10, '#000000') }]);
    const extent = [...walk(parseXml(part(saved), 'x'))].find((e) => e.local === 'effectExtent')!;
    // A 100 pt square with 5 pt of line on each side, turned by 45°: its half diagonal is 55·√2, of which 50 lie in the box.
    expect(Number(extent.attributes['l'])).toBeCloseTo((55 * Math.SQRT2 - 50) * 12_700, -1);
  });
});

describe('outlines', () => {
  test('of every paint, dash, join and cap come back as they were', async () => {
    const file = openFile(await buildDocument({ body: inlined() }));
    const stops = [
      { at: 0, colour: '#112233', opacity: 1 },
      { at: 0.4, colour: '#445566', opacity: 0.5 },
      { at: 1, colour: '#778899', opacity: 1 },
    ];
    const paints: Outline['paint'][] = [
      { kind: 'solid', colour: '#abcdef', opacity: 0.25 },
      { kind: 'linear', angle: 30, stops },
      { kind: 'radial', stops },
    ];
    for (const paint of paints)
      for (const dash of DASHES)
        for (const [join, cap, side] of [
          ['mitre', 'butt', 'on'],
          ['round', 'round', 'inside'],
          ['bevel', 'square', 'on'],
        ] as const) {
          const outline: Outline = { paint, weight: 2.25, dash, join, cap, side };
          const saved = file.save([{ ...file.pictures[0]!.frame, outline }]);
          expectValid(parseXml(part(saved), 'x'));
          expect(openFile(saved).pictures[0]!.frame.outline).toEqual(outline);
        }
  });

  test('what a line has beyond our model stays when its weight changes', async () => {
    const ln =
      '<a:ln w="12700" cmpd="thickThin"><a:solidFill><a:srgbClr val="00FF00"/></a:solidFill><a:prstDash val="sysDash"/><a:round/><a:headEnd type="oval"/></a:ln>';
    const file = openFile(await buildDocument({ body: inlined({ after: ln }) }));
    const { frame } = file.pictures[0]!;
    const text = part(file.save([{ ...frame, outline: { ...frame.outline!, weight: 4 } }]));
    expect(text).toContain(ln.replace('w="12700"', 'w="50800"'));
  });

  test('names of colours mean what the settings say (§17.15.1.20, clrSchemeMapping)', async () => {
    const R = 'http://schemas.openxmlformats.org/officeDocument/2006/relationships';
    const A = 'xmlns:a="http://schemas.openxmlformats.org/drawingml/2006/main"';
    const settings = (mapping: string): string =>
      `<w:settings xmlns:w="http://schemas.openxmlformats.org/wordprocessingml/2006/main">${mapping}</w:settings>`;
    const colour = async (mapping: string): Promise<unknown> => {
      const bytes = await buildDocument({
        body: inlined({ after: '<a:ln w="12700"><a:solidFill><a:schemeClr val="bg1"/></a:solidFill></a:ln>' }),
        rels: `<Relationship Id="t" Type="${R}/theme" Target="theme/theme1.xml"/><Relationship Id="s" Type="${R}/settings" Target="settings.xml"/>`,
        more: {
          'word/settings.xml': settings(mapping),
          'word/theme/theme1.xml': `<a:theme ${A}><a:themeElements><a:clrScheme name="x"><a:dk1><a:srgbClr val="101010"/></a:dk1><a:lt1><a:srgbClr val="F0F0F0"/></a:lt1><a:accent1><a:srgbClr val="336699"/></a:accent1></a:clrScheme></a:themeElements></a:theme>`,
        },
      });
      return (openFile(bytes).pictures[0]!.frame.outline!.paint as { colour: string }).colour;
    };
    expect(await colour('')).toBe('#f0f0f0');
    expect(await colour('<w:clrSchemeMapping w:bg1="dark1" w:t1="light1"/>')).toBe('#101010');
    expect(await colour('<w:clrSchemeMapping w:bg1="accent1" w:t1="dark1"/>')).toBe('#336699');
  });

  test('taken away and put on again', async () => {
    const file = openFile(
      await buildDocument({
        body: inlined({ after: '<a:ln w="12700"><a:solidFill><a:schemeClr val="accent1"/></a:solidFill></a:ln>' }),
      }),
    );
    const without = file.save([{ ...file.pictures[0]!.frame, outline: null }]);
    expect(openFile(without).pictures[0]!.frame.outline).toBeNull();
    const again = openFile(without);
    expect(openFile(again.save([circled(again)])).pictures[0]!.frame.outline).toEqual(solidOutline(6, '#ffffff'));
  });
});

describe('a line off the edge is written as its exact equivalent: one geometry of two paths', () => {
  const outside = (gap?: number): Outline => ({
    ...solidOutline(6, '#ffffff'),
    side: 'outside',
    ...(gap === undefined ? {} : { gap }),
  });

  test('a circle with a line outside and a gap', async () => {
    const file = openFile(await buildDocument({ body: anchored() }));
    const want = { ...circled(file), outline: outside(3) };
    const saved = file.save([want]);
    const root = parseXml(part(saved), 'x');
    const of = (local: string): Element[] => [...walk(root)].filter((e) => e.local === local);
    // The box is larger by gap and line, 9 pt, on every side; so is the drawing's extent, and its place.
    const ext = of('ext').find((e) => e.attributes['cx'])!.attributes;
    expect([ext['cx'], ext['cy']]).toEqual([String(1_828_800 + 2 * 114_300), String(1_828_800 + 2 * 114_300)]);
    expect(of('extent')[0]!.attributes['cx']).toBe(ext['cx']);
    // §20.1.9.15, path: the shape has no line, the line's way no fill.
    const paths = of('path');
    expect(paths.map((p) => [p.attributes['stroke'], p.attributes['fill']])).toEqual([
      ['0', undefined],
      [undefined, 'none'],
    ]);
    // The line's middle runs 6 pt outside the circle of 72 pt: a circle of 78 pt about the middle of the box.
    const numbers = [...walk(paths[1]!)]
      .filter((e) => e.local === 'pt')
      .map((p) => [p.attributes['x'], p.attributes['y']].map(Number));
    const middle = (1_828_800 + 2 * 114_300) / 2;
    for (const [x, y] of numbers)
      expect(Math.abs(Math.hypot(x! - middle, y! - middle) / 12_700 - 78)).toBeLessThan(0.03);
    // Of 3 : 2 a square of 144 pt shows two thirds; 162 pt show three quarters about 60 % of the way
    // across, and more than all of the height.
    expect(of('srcRect')[0]!.attributes).toEqual({ l: '22500', r: '2500', t: '-6250', b: '-6250' });
    const again = openFile(saved);
    const back = again.pictures[0]!.frame;
    expect(back.shape.name).toBe('circle');
    expect(back.outline).toEqual(want.outline);
    for (const side of ['x', 'y', 'width', 'height'] as const) expect(back.box[side]).toBeCloseTo(want.box[side], 4);
    const corners = (f: Frame): number[] =>
      deriveView(f.placement, f.box, again.pictures[0]!.size).corners.flatMap((c) => [c.x, c.y]);
    corners(back).forEach((v, i) => expect(Math.abs(v - corners(want)[i]!)).toBeLessThan(2e-5));
    expect(Buffer.from(again.save([back])).equals(Buffer.from(saved))).toBe(true);
  });

  test.each(['hexagon', 'heart', 'rounded', 'star-5'])(
    '%s with a line outside, and one inside with a gap',
    async (name) => {
      const file = openFile(await buildDocument({ body: inlined() }));
      for (const outline of [outside(), { ...outside(4), side: 'inside' as const }]) {
        const p = file.pictures[0]!;
        const want = { ...withShape(p.frame, { name, knobs: {} }, p.size), outline };
        const saved = file.save([want]);
        const back = openFile(saved).pictures[0]!;
        expect(back.frame.outline).toEqual(outline);
        expect(back.frame.box.width).toBeCloseTo(want.box.width, 4);
        // The same outline in the same place: what differs is less than two thousandths of the area.
        const [a, b] = [flatten(framePath(want)), flatten(framePath(back.frame))];
        const apart = [difference(a, b), difference(b, a)]
          .flat()
          .reduce((sum, p) => sum + Math.abs(doubleArea(p)) / 2, 0);
        expect(apart).toBeLessThan(area(framePath(want)) * 0.002);
      }
    },
  );

  test('taken back to a plain line, the box shrinks to the shape again', async () => {
    const file = openFile(await buildDocument({ body: anchored() }));
    const ringed = openFile(file.save([{ ...circled(file), outline: outside() }]));
    const plain = openFile(ringed.save([{ ...ringed.pictures[0]!.frame, outline: solidOutline(6, '#ffffff') }]));
    expect(part(ringed.save([{ ...ringed.pictures[0]!.frame, outline: solidOutline(6, '#ffffff') }]))).toContain(
      'prst="ellipse"',
    );
    expect(plain.pictures[0]!.frame.box.width).toBeCloseTo(144, 4);
    expect(plain.pictures[0]!.frame.placement.zoom).toBeCloseTo(circled(file).placement.zoom, 4);
  });

  test('an outline that fades as a whole fades by its paint', async () => {
    const file = openFile(await buildDocument({ body: inlined() }));
    const saved = file.save([{ ...circled(file), outline: { ...solidOutline(6, '#ffffff', 0.8), opacity: 0.5 } }]);
    expect([...part(saved).matchAll(/<a:alpha val="(\d+)"/g)].map((m) => m[1])).toEqual(['40000']);
    expect(openFile(saved).pictures[0]!.frame.outline).toEqual({ ...solidOutline(6, '#ffffff', 0.8), opacity: 0.5 });
  });
});

describe('an outline faked by a second shape behind', () => {
  const plate = (x: number, size: number, more = ''): string =>
    `<w:p><w:r><mc:AlternateContent><mc:Choice Requires="wps"><w:drawing><wp:anchor behindDoc="1"><wp:simplePos x="0" y="0"/><wp:positionH relativeFrom="column"><wp:posOffset>${x}</wp:posOffset></wp:positionH><wp:positionV relativeFrom="paragraph"><wp:posOffset>${-457_200 - (size - 1_828_800) / 2}</wp:posOffset></wp:positionV><wp:extent cx="${size}" cy="${size}"/><wp:wrapNone/><wp:docPr id="9" name="r"/><wp:cNvGraphicFramePr/><a:graphic><a:graphicData uri="x"><wps:wsp><wps:cNvSpPr/><wps:spPr><a:prstGeom prst="ellipse"><a:avLst/></a:prstGeom><a:solidFill><a:srgbClr val="C9B48C"/></a:solidFill></wps:spPr>${more}<wps:bodyPr/></wps:wsp></a:graphicData></a:graphic></wp:anchor></w:drawing></mc:Choice><mc:Fallback><w:pict><v:oval style="width:9pt;height:9pt"/></w:pict></mc:Fallback></mc:AlternateContent></w:r>`;
  const picture = anchored({
    cx: 1_828_800,
    cy: 1_828_800,
    geometry: '<a:prstGeom prst="ellipse"><a:avLst/></a:prstGeom>',
  }).replace(/^<w:p>/, '');
  const MARGIN = 76_200;
  const size = 1_828_800 + 2 * MARGIN;
  const open = async (x: number, more?: string): Promise<OpenedFile> =>
    openFile(await buildDocument({ body: plate(x, size, more) + picture }));

  test('is found when it is concentric within 2 %, and a real outline takes its place', async () => {
    const file = await open(914_400 - MARGIN + Math.round(size * 0.015));
    expect(file.pictures[0]!.faked).toEqual({ weight: 6, colour: '#c9b48c' });
    const [found] = surveyFile(file).pictures[0]!.findings.filter((f) => f.code === 'faked-outline');
    const real = remedy(found!, file.pictures[0]!.frame, { pixels: null, orientation: 1 })!;
    const text = part(file.save([real]));
    expect(text).not.toContain('wsp');
    expect(text).not.toContain('v:oval');
    const again = openFile(file.save([real])).pictures[0]!;
    expect(again.frame.outline).toEqual({ ...solidOutline(6, '#c9b48c'), side: 'outside' });
    expect(again.faked).toBeUndefined();
    // Other changes leave the second shape where it is, and so does no change.
    expect(part(file.save([{ ...file.pictures[0]!.frame, alt: 'x' }]))).toContain('wsp');
    expect(file.save([file.pictures[0]!.frame])).toEqual(file.save([]));
  });

  test('is none when it lies off the middle, or holds words', async () => {
    expect((await open(914_400 - MARGIN + Math.round(size * 0.03))).pictures[0]!.faked).toBeUndefined();
    const words = '<wps:txbx><w:txbxContent><w:p/></w:txbxContent></wps:txbx>';
    expect((await open(914_400 - MARGIN, words)).pictures[0]!.faked).toBeUndefined();
  });

  test('the handbook’s, which has slipped', () => {
    expect(
      openFile(handbook)
        .pictures.filter((p) => p.faked)
        .map((p) => p.frame.alt),
    ).toEqual(['Odd, with white beard and glasses']);
  });
});

describe('pictures in the older markup', () => {
  const vml = (tag: string, attributes: string, image = ''): string =>
    `<w:p><w:r><w:pict><v:shapetype id="t75"/><v:${tag} ${attributes}><v:imagedata r:id="rId1" ${image}/></v:${tag}></w:pict></w:r></w:p>`;

  test('are read: size, crop in 65,536ths, place, turn, shape, line, words', async () => {
    const body =
      vml('shape', 'type="#t75" style="width:150pt;height:100pt" alt="A pot"', 'cropleft="6554f" croptop="0.25"') +
      vml(
        'oval',
        'style="position:absolute;margin-left:1in;margin-top:-12pt;width:50mm;height:50mm;rotation:30;flip:x" stroked="t" strokecolor="#b5482a" strokeweight="2pt"',
      ) +
      '<w:p><w:r><w:pict><v:group><v:shape><v:imagedata r:id="rId1"/></v:shape></v:group></w:pict></w:r></w:p>';
    const file = openFile(await buildDocument({ body }));
    expect(file.pictures).toHaveLength(2);
    const [a, b] = file.pictures.map((p) => p.frame);
    expect(a).toMatchObject({ flow: 'inline', alt: 'A pot', box: { width: 150, height: 100 } });
    expect(deriveView(a!.placement, a!.box, file.pictures[0]!.size).corners[0]).toEqual({
      x: expect.closeTo(6554 / 65_536, 9),
      y: expect.closeTo(0.25, 9),
    });
    expect(b).toMatchObject({
      flow: 'floating',
      turn: 30,
      shape: { name: 'circle' },
      flip: { horizontal: true },
      outline: { weight: 2, paint: { colour: '#b5482a' } },
    });
    expect([b!.box.x, b!.box.y]).toEqual([72, -12]);
    expect(file.save(file.pictures.map((p) => p.frame))).toEqual(file.save([]));
  });

  // ISO/IEC 29500-4 §14.1.2.11, imagedata (from memory): gain and black level in 65,536ths.
  test('recolouring is read, and becomes effects of the same kind with the first change', async () => {
    const body =
      vml('shape', 'style="width:150pt;height:100pt"', 'gain="19661f" blacklevel="22938f"') +
      vml('shape', 'style="width:150pt;height:100pt"', 'grayscale="t" chromakey="#FFFFFF"') +
      vml('shape', 'style="width:150pt;height:100pt"', 'bilevel="t"');
    const file = openFile(await buildDocument({ body }));
    const [washed, keyed, two] = file.pictures.map((p) => p.frame);
    expect(washed!.tone!.given!.contrast).toBeCloseTo(-0.7, 4);
    expect(washed!.tone!.given!.lift).toBeCloseTo(0.35, 4);
    expect(keyed!.tone).toEqual({
      colour: { amount: 0, warmth: 0, tint: 0, only: null },
      given: { swap: { from: '#ffffff', to: '#ffffff', opacity: 0 } },
    });
    expect(two!.tone).toEqual({ given: { threshold: 0.5 } });
    const circles = file.pictures.map((p) => withShape(p.frame, { name: 'circle', knobs: {} }, p.size));
    expect(circles.map((f) => file.unsupported(f))).toEqual([[], [], []]);
    const saved = file.save(circles);
    expect([...part(saved).matchAll(/<a:blip [^>]*>(.*?)<\/a:blip>/g)].map((m) => m[1])).toEqual([
      '<a:lum bright="70001" contrast="-70000"/>',
      '<a:clrChange><a:clrFrom><a:srgbClr val="FFFFFF"/></a:clrFrom><a:clrTo><a:srgbClr val="FFFFFF"><a:alpha val="0"/></a:srgbClr></a:clrTo></a:clrChange><a:grayscl/>',
      '<a:biLevel thresh="50000"/>',
    ]);
    expect(openFile(saved).pictures[2]!.frame.tone).toEqual(two!.tone);
  });

  // ISO/IEC 29500-4 §14.1.2.7: a group's children are in its coordinates, which its size is divided into (from memory).
  const GROUP =
    '<w:p><w:r><w:pict><v:group style="position:absolute;margin-left:10pt;margin-top:5pt;width:200pt;height:100pt" coordorigin="100,0" coordsize="2000,1000">' +
    '<v:rect style="position:absolute;left:100;top:0;width:10;height:10"/>' +
    '<v:shape style="position:absolute;left:600;top:200;width:1000;height:500;rotation:10" alt="A pot"><v:imagedata r:id="rId1" cropleft=".1"/></v:shape>' +
    '<v:group style="left:1100;top:500;width:1000;height:500" coordsize="100,100"><v:rect style="left:50;top:50;width:40;height:20"><v:imagedata r:id="rId1"/></v:rect></v:group>' +
    '</v:group></w:pict></w:r></w:p>';

  test('in groups are read in the coordinates of the groups, one within another', async () => {
    const file = openFile(await buildDocument({ body: GROUP }));
    const [a, b] = file.pictures;
    // A tenth of a point to the unit: 10 + (600 − 100) / 10, 5 + 200 / 10.
    expect(a!.frame.box).toEqual({ x: 60, y: 25, width: 100, height: 50 });
    expect(a!.frame).toMatchObject({ turn: 10, alt: 'A pot', flow: 'floating' });
    expect(a!.where.group).toBe(true);
    expect(a!.freeable).toBe(false);
    // The inner group is 100 × 50 pt at 110, 55: a unit is 1 × 0.5 pt.
    expect(b!.frame.box).toEqual({ x: 160, y: 80, width: 40, height: 10 });
    expect(file.save(file.pictures.map((p) => p.frame))).toEqual(file.save([]));
  });

  test('in groups stay there: what they look like is painted into them, where they are is written', async () => {
    const file = openFile(await buildDocument({ body: GROUP }));
    const { frame } = file.pictures[0]!;
    expect(file.unsupported(circled(file))).toEqual(['group']);
    expect(() => file.save([circled(file)])).toThrow('a group of the older markup');
    const painted: Frame = {
      ...frame,
      box: { x: 50, y: 20, width: 120, height: 70 },
      placement: { ...CENTRED, fit: 'stretch' },
      flip: { horizontal: true, vertical: false },
    };
    const swap: ReplacementImage = { bytes: await png(12, 7), type: 'png', size: { width: 12, height: 7 } };
    const saved = file.save([painted], new Map([[1, swap]]));
    const text = part(saved);
    expect(text).toContain(
      '<v:shape style="position:absolute;left:500;top:150;width:1200;height:700;rotation:10;flip:x" alt="A pot"><v:imagedata r:id="rIdGable1"/></v:shape>',
    );
    expect(text).not.toContain('<w:drawing>');
    const again = openFile(saved);
    expect(again.pictures[0]!.frame.box).toEqual(painted.box);
    expect(again.pictureBytes(1)).toEqual(swap.bytes);
    expect(again.pictures[1]!.frame).toEqual(file.pictures[1]!.frame);
  });

  test('become DrawingML only when they are framed, with what they had', async () => {
    const body =
      vml('shape', 'style="width:150pt;height:100pt" alt="A pot"') + vml('shape', 'style="width:90pt;height:60pt"');
    const file = openFile(await buildDocument({ body }));
    const saved = file.save([circled(file, 1)]);
    const text = part(saved);
    expect(text.match(/<w:pict>/g)).toHaveLength(1);
    const root = parseXml(text, 'x');
    const inline = [...walk(root)].find((e) => e.local === 'inline')!;
    // CT_Inline, §20.4.2.8.
    expect(inline.children.map((c) => c.local)).toEqual([
      'extent',
      'effectExtent',
      'docPr',
      'cNvGraphicFramePr',
      'graphic',
    ]);
    const again = openFile(saved);
    expect(again.pictures[0]!.frame).toMatchObject({
      shape: { name: 'circle' },
      alt: 'A pot',
      outline: { weight: 6 },
      box: { width: 100, height: 100 },
    });
    const corners = (p: OpenedFile['pictures'][number], f: Frame): number[] =>
      deriveView(f.placement, f.box, p.size).corners.flatMap((c) => [c.x, c.y]);
    corners(again.pictures[0]!, again.pictures[0]!.frame).forEach((v, i) =>
      expect(Math.abs(v - corners(file.pictures[0]!, circled(file, 1))[i]!)).toBeLessThan(2e-5),
    );
    expect(again.pictureBytes(1)).toEqual(file.pictureBytes(1));
  });

  test('in the fallback of a drawing they are its stand-in, and left alone', async () => {
    const inner = inlined().replace(/<\/?w:[pr]>/g, '');
    const body = `<w:p><w:r><mc:AlternateContent><mc:Choice Requires="wps">${inner}</mc:Choice><mc:Fallback><w:pict><v:shape style="width:9pt;height:9pt"><v:imagedata r:id="rId1"/></v:shape></w:pict></mc:Fallback></mc:AlternateContent></w:r></w:p>`;
    const file = openFile(await buildDocument({ body }));
    expect(file.pictures).toHaveLength(1);
    expect(part(file.save([circled(file)]))).toContain('<v:shape style="width:9pt;height:9pt">');
  });
});

describe('recoloured pictures (ISO/IEC 29500-1 §20.1.8.13, CT_Blip)', () => {
  const blipped = async (effects: string): Promise<OpenedFile> =>
    openFile(
      await buildDocument({
        body: inlined().replace('<a:blip r:embed="rId1"/>', `<a:blip r:embed="rId1">${effects}</a:blip>`),
      }),
    );
  const plain = { amount: 1, warmth: 0, tint: 0, only: null };
  const effectsIn = (file: OpenedFile, frame: Frame, swap?: ReplacementImage): string =>
    /<a:blip [^>]*?(?:\/>|>(.*?)<\/a:blip>)/.exec(part(file.save([frame], swap && new Map([[1, swap]]))))![1] ?? '';

  test.each<[string, string, Frame['tone']]>([
    ['grey', '<a:grayscl/>', { colour: { ...plain, amount: 0 } }],
    [
      'two colours',
      '<a:duotone><a:prstClr val="black"/><a:srgbClr val="FFEEDD"/></a:duotone>',
      { colour: { ...plain, only: ['#000000', '#ffeedd'] } },
    ],
    // 45 % of the colour in white is #a3bad1, hsl(210 33% 73%); four times its saturation is more than full: hsl(210 100% 73%).
    [
      'two colours, one worked out from another',
      '<a:duotone><a:prstClr val="black"/><a:srgbClr val="336699"><a:tint val="45000"/><a:satMod val="400000"/></a:srgbClr></a:duotone>',
      { colour: { ...plain, only: ['#000000', '#75baff'] } },
    ],
    ['opacity', '<a:alphaModFix amt="40000"/>', { fading: { opacity: 0.4, multiply: false } }],
    ['black and white only', '<a:biLevel thresh="50000"/>', { given: { threshold: 0.5 } }],
    // The older markup says this by a gain of 0.3 and a black level of 0.35 (from memory).
    ['a watermark', '<a:lum bright="70000" contrast="-70000"/>', { given: { contrast: -0.7, lift: 0.35 } }],
    [
      'white made clear',
      '<a:clrChange><a:clrFrom><a:srgbClr val="FFFFFF"/></a:clrFrom><a:clrTo><a:srgbClr val="FFFFFF"><a:alpha val="0"/></a:srgbClr></a:clrTo></a:clrChange>',
      { given: { swap: { from: '#ffffff', to: '#ffffff', opacity: 0 } } },
    ],
    ['what no tone is like', '<a:hsl hue="60000" sat="0" lum="0"/>', undefined],
  ])('%s is read, and kept as it is written', async (_, effect, tone) => {
    const file = await blipped(effect);
    const { frame } = file.pictures[0]!;
    expect(frame.tone).toEqual(tone);
    expect(file.save([frame])).toEqual(file.save([]));
    expect(effectsIn(file, circled(file))).toBe(effect);
    expect(openFile(file.save([circled(file)])).pictures[0]!.frame.tone).toEqual(tone);
  });

  test('a tone that effects can say is written as them, before the extensions; other effects stay', async () => {
    const file = await blipped('<a:grayscl/><a:lum bright="20000"/><a:hsl/><a:extLst/>');
    const { frame } = file.pictures[0]!;
    expect(frame.tone).toEqual({ colour: { ...plain, amount: 0 }, given: { lift: 0.1 } });
    const tone = {
      colour: { ...plain, only: ['#112233', '#ffeedd'] },
      fading: { opacity: 0.5, multiply: false },
      given: frame.tone!.given!,
    };
    const next: Frame = { ...frame, tone };
    expect(file.unsupported(next)).toEqual([]);
    expect(effectsIn(file, next)).toBe(
      '<a:lum bright="20000"/><a:hsl/><a:alphaModFix amt="50000"/><a:duotone><a:srgbClr val="112233"/><a:srgbClr val="FFEEDD"/></a:duotone><a:extLst/>',
    );
    expect(openFile(file.save([next])).pictures[0]!.frame.tone).toEqual(tone);
    const none = { ...next };
    delete none.tone;
    expect(effectsIn(file, none)).toBe('<a:hsl/><a:extLst/>');
    // What a tone of another frame was given by its file can be said here, too; a negative cannot.
    const given = {
      swap: { from: '#ffffff', to: '#102030', opacity: 0.5 },
      contrast: 0.2,
      lift: -0.05,
      threshold: 0.4,
    };
    expect(effectsIn(file, { ...frame, tone: { given } })).toBe(
      '<a:hsl/><a:clrChange><a:clrFrom><a:srgbClr val="FFFFFF"/></a:clrFrom><a:clrTo><a:srgbClr val="102030"><a:alpha val="50000"/></a:srgbClr></a:clrTo></a:clrChange>' +
        '<a:lum bright="-10000" contrast="20000"/><a:biLevel thresh="40000"/><a:extLst/>',
    );
    expect(file.unsupported({ ...frame, tone: { given: { inverted: true } } })).toEqual(['tone']);
  });

  test('what was painted into the picture is not done to it again', async () => {
    const file = await blipped('<a:grayscl/>');
    const frame = { ...file.pictures[0]!.frame };
    const toned: Frame = { ...frame, tone: { ...frame.tone, softness: { blur: 2 } } };
    expect(file.unsupported(toned)).toEqual(['tone']);
    delete frame.tone;
    expect(effectsIn(file, frame, { bytes: await png(3, 2), type: 'png', size: { width: 3, height: 2 } })).toBe('');
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

describe('every shape in a document', () => {
  test.each(SHAPES.map((x) => x.name))(
    '%s is written as preset or custom geometry, and read back as the same outline',
    async (name) => {
      const file = openFile(await buildDocument({ body: inlined() }));
      const p = file.pictures[0]!;
      const next = withShape(p.frame, { name, knobs: {} }, p.size);
      const bytes = file.save([next]);
      const again = openFile(bytes).pictures[0]!.frame;
      // Whole EMU and 1/100,000: the outlines cover the same but for that.
      const [a, b] = [flatten(framePath(next), 0.02), flatten(framePath(again), 0.02)];
      const apart = [difference(a, b), difference(b, a)]
        .flat()
        .reduce((sum, q) => sum + Math.abs(doubleArea(q)) / 2, 0);
      expect(apart / area(framePath(next))).toBeLessThan(2e-3);
      const spPr = descend(
        parseXml(part(bytes), 'document.xml'),
        'body',
        'p',
        'r',
        'drawing',
        'inline',
        'graphic',
        'graphicData',
        'pic',
        'spPr',
      )!;
      const preset = findShape(name)!.preset;
      if (preset) expect(child(spPr, 'prstGeom')!.attributes['prst']).toBe(preset.name);
      else {
        const custom = child(spPr, 'custGeom')!;
        // Content model of CT_CustomGeometry2D, ISO/IEC 29500-1 §20.1.9.8 (from memory).
        expect(custom.children.map((c) => c.local)).toEqual(['avLst', 'gdLst', 'ahLst', 'cxnLst', 'rect', 'pathLst']);
        // By its own terms it is an outline without a name; what we know beside them names it.
        const bare = openFile(rezip(bytes, (xml) => xml.replaceAll('urn:gable:frame:1', 'urn:nobody')));
        expect(bare.pictures[0]!.frame.shape).toMatchObject({ name: 'custom', drawn: { ratio: null } });
      }
      expect(again.shape.name).toBe(next.shape.name);
      // What was read is no difference: saving it again gives the same bytes.
      expect(Buffer.from(openFile(bytes).save([again])).equals(Buffer.from(bytes))).toBe(true);
    },
  );

  test('a custom geometry of others, with guides, arcs and its own coordinates, is read and drawn', async () => {
    const geometry =
      '<a:custGeom><a:avLst/><a:gdLst><a:gd name="half" fmla="*/ w 1 2"/></a:gdLst><a:pathLst><a:path w="200" h="100"><a:moveTo><a:pt x="0" y="50"/></a:moveTo><a:arcTo wR="100" hR="50" stAng="10800000" swAng="21600000"/><a:close/></a:path><a:path fill="none"><a:moveTo><a:pt x="half" y="t"/></a:moveTo><a:lnTo><a:pt x="half" y="b"/></a:lnTo></a:path></a:pathLst></a:custGeom>';
    const file = openFile(await buildDocument({ body: inlined({ geometry }) }));
    const f = file.pictures[0]!.frame;
    expect(area(framePath(f)) / (f.box.width * f.box.height)).toBeCloseTo(Math.PI / 4, 3);
    const broken = geometry.replace('*/ w 1 2', 'pow w 2');
    const kept = openFile(await buildDocument({ body: inlined({ geometry: broken }) })).pictures[0]!.frame;
    expect(kept.shape).toEqual({ name: 'custom', knobs: {} });
  });

  test('a preset Gable has no name for keeps its own, with its adjust values', async () => {
    const geometry =
      '<a:prstGeom prst="leftBracket"><a:avLst><a:gd name="adj" fmla="val 20000"/></a:avLst></a:prstGeom>';
    const file = openFile(await buildDocument({ body: inlined({ geometry }) }));
    expect(file.pictures[0]!.frame.shape).toEqual({ name: 'preset:leftBracket', knobs: { adj: 20_000 } });
  });
});

describe('shadows and compound lines', () => {
  const shadow = { kind: 'outer', dx: 3, dy: -4, blur: 7, spread: 0, colour: '#22302f', opacity: 0.35 } as const;
  test.each([
    ['outer', shadow],
    ['inner', { ...shadow, kind: 'inner' as const }],
  ])('an %s shadow is written, changed and taken away', async (_kind, wanted) => {
    const file = openFile(await buildDocument({ body: inlined() }));
    const with_ = file.save([{ ...file.pictures[0]!.frame, shadow: wanted }]);
    const text = part(with_);
    // 5 pt are 63,500 EMU; direction of (3, −4) is 306.87° (ISO/IEC 29500-1 §20.1.8.45).
    expect(text).toContain('dist="63500" dir="18412194"');
    const again = openFile(with_);
    const read = again.pictures[0]!.frame.shadow!;
    expect(read).toMatchObject({ kind: wanted.kind, blur: 7, colour: '#22302f', opacity: 0.35 });
    expect([read.dx, read.dy]).toEqual([expect.closeTo(3, 3), expect.closeTo(-4, 3)]);
    const gone = openFile(again.save([{ ...again.pictures[0]!.frame, shadow: null }]));
    expect(gone.pictures[0]!.frame.shadow).toBeNull();
  });

  test('other effects of the list stay', async () => {
    const after =
      '<a:effectLst><a:glow rad="12700"><a:srgbClr val="FF0000"/></a:glow><a:softEdge rad="100"/></a:effectLst>';
    const file = openFile(await buildDocument({ body: inlined({ after }) }));
    const text = part(file.save([{ ...file.pictures[0]!.frame, shadow }]));
    expect(text).toMatch(/<a:glow.*<a:outerShdw.*<a:softEdge/);
  });

  test.each(['double', 'thick-thin', 'thin-thick', 'triple'] as const)('a %s line comes back', async (lines) => {
    const file = openFile(await buildDocument({ body: inlined() }));
    const outline = { ...solidOutline(6, '#b5482a'), lines };
    const again = openFile(file.save([{ ...file.pictures[0]!.frame, outline }]));
    expect(again.pictures[0]!.frame.outline).toEqual(outline);
    const single = openFile(again.save([{ ...again.pictures[0]!.frame, outline: solidOutline(6, '#b5482a') }]));
    expect(single.pictures[0]!.frame.outline).toEqual(solidOutline(6, '#b5482a'));
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

describe('taking a picture out of the text, and putting it back', () => {
  const free = (f: Frame): Frame => ({ ...f, flow: 'floating', box: { ...f.box, x: 36, y: 18 } });

  test('an inline picture becomes an anchored one beside its words, valid by the content model', async () => {
    const bytes = await buildDocument({ body: inlined({}, '') + inlined() });
    const file = openFile(bytes);
    const out = file.save([{ ...free(file.pictures[0]!.frame), outline: solidOutline(6, '#ffffff') }]);
    expectValid(parseXml(part(out), 'word/document.xml'));
    const again = openFile(out);
    expect(again.pictures.map((p) => p.frame.flow)).toEqual(['floating', 'inline']);
    expect(again.pictures[0]!.frame.box).toEqual({ ...file.pictures[0]!.frame.box, x: 36, y: 18 });
    const text = part(out);
    expect(text).toContain('<wp:positionH relativeFrom="column"><wp:posOffset>457200<');
    expect(text).toContain('<wp:wrapSquare wrapText="bothSides"/>');
    expectOthersUntouched(bytes, out, ['word/document.xml']);
    // And back: nothing that only an anchored drawing may have stays behind.
    const back = again.save([{ ...again.pictures[0]!.frame, flow: 'inline' }]);
    expectValid(parseXml(part(back), 'word/document.xml'));
    expect(part(back)).not.toMatch(/anchor|simplePos|position[HV]|wrapSquare/);
    expect(openFile(back).pictures[0]!.frame.outline?.weight).toBe(6);
  });

  test('an anchored one with wrap polygon and relative size goes into the text', async () => {
    const wrap =
      '<wp:wrapTight wrapText="bothSides"><wp:wrapPolygon><wp:start x="0" y="0"/><wp:lineTo x="1" y="1"/></wp:wrapPolygon></wp:wrapTight>';
    const tail = '<wp14:sizeRelH relativeFrom="margin"><wp14:pctWidth>50000</wp14:pctWidth></wp14:sizeRelH>';
    const file = openFile(await buildDocument({ body: anchored({}, wrap, tail) }));
    const { frame, size } = file.pictures[0]!;
    const out = file.save([withShape({ ...frame, flow: 'inline' }, { name: 'circle', knobs: {} }, size)]);
    expectValid(parseXml(part(out), 'word/document.xml'));
    expect(part(out)).not.toMatch(/wrapTight|sizeRelH|posOffset/);
    expect(openFile(out).pictures[0]!.frame.flow).toBe('inline');
  });

  test('out and back again is no difference at all', async () => {
    const bytes = await buildDocument({ body: inlined() });
    const file = openFile(bytes);
    expect(file.save([{ ...free(file.pictures[0]!.frame), flow: 'inline', box: file.pictures[0]!.frame.box }])).toBe(
      file.save([]),
    );
  });

  test('not where it cannot be: in groups, text boxes and notes', () => {
    const { pictures } = openFile(handbook);
    const stuck = pictures.filter((p) => !p.freeable);
    expect(stuck.length).toBeGreaterThan(0);
    for (const p of stuck) expect(p.where.group || p.where.textBox || p.where.place === 'footnote').toBe(true);
  });

  test('a picture that was aligned lies where it is put', async () => {
    const aligned = anchored().replace('<wp:posOffset>914400</wp:posOffset>', '<wp:align>center</wp:align>');
    const file = openFile(await buildDocument({ body: aligned }));
    const { frame } = file.pictures[0]!;
    const out = file.save([{ ...frame, box: { ...frame.box, x: 72 } }]);
    expectValid(parseXml(part(out), 'word/document.xml'));
    expect(part(out)).toContain('<wp:posOffset>914400</wp:posOffset></wp:positionH>');
  });
});

describe('another picture in the place of the old one', () => {
  const swapOf = async (width: number, height: number, type: 'png' | 'gif' = 'png'): Promise<ReplacementImage> => ({
    bytes: await png(width, height),
    type,
    size: { width, height },
  });

  test('comes in as a new part with relationship and content type; the old part stays, once for each content', async () => {
    const bytes = await buildDocument({ body: inlined() + inlined() });
    const file = openFile(bytes);
    const swap = await swapOf(40, 40, 'gif');
    const frames = file.pictures.map((p) => ({
      ...withShape(p.frame, { name: 'circle', knobs: {} }, swap.size),
      placement: CENTRED,
    }));
    const out = file.save(
      frames,
      new Map([
        [1, swap],
        [2, swap],
      ]),
    );
    const parts = unzipSync(out);
    expect(Object.keys(parts)).toEqual([...Object.keys(unzipSync(bytes)), 'word/media/gable1.gif']);
    expect(part(out, '[Content_Types].xml')).toContain('<Default Extension="gif" ContentType="image/gif"/>');
    expect(part(out, 'word/_rels/document.xml.rels').match(/rIdGable1"/g)).toHaveLength(1);
    expect(Buffer.from(parts['word/media/one.png']!).equals(Buffer.from(file.pictureBytes(1)))).toBe(true);
    const again = openFile(out);
    expect(again.pictures.map((p) => p.size)).toEqual([swap.size, swap.size]);
    expect(Buffer.from(again.pictureBytes(2)).equals(Buffer.from(swap.bytes))).toBe(true);
    // The crop is reckoned with the new picture: a square one in a square box is not cut.
    expect(part(out)).not.toContain('srcRect');
    expectValid(parseXml(part(out), 'word/document.xml'));
  });

  test('takes the place of a drawing in an extension, and of a link', async () => {
    const svg =
      '<a:extLst><a:ext uri="{96DAC541-7B7A-43D3-8B79-37D633B846F1}"><asvg:svgBlip xmlns:asvg="x" r:embed="rId1"/></a:ext></a:extLst>';
    const body = inlined({ blip: 'r:embed="rId1"' }).replace(
      '<a:blip r:embed="rId1"/>',
      `<a:blip r:embed="rId1">${svg}</a:blip>`,
    );
    const file = openFile(
      await buildDocument({
        body: body + inlined({ blip: 'r:link="rId9"' }),
        rels: `<Relationship Id="rId9" Type="${R}/image" Target="https://example.org/x.png" TargetMode="External"/>`,
      }),
    );
    const swap = await swapOf(30, 20);
    const out = file.save(
      file.pictures.map((p) => p.frame),
      new Map([
        [1, swap],
        [2, swap],
      ]),
    );
    expect(part(out)).not.toMatch(/svgBlip|r:link|extLst/);
    expect(openFile(out).pictures.map((p) => p.problem)).toEqual([null, null]);
  });

  test('an independent reader gets the new data (fflate reads every entry whole)', async () => {
    const file = openFile(handbook);
    const swap = await swapOf(300, 200);
    const out = file.save([file.pictures[0]!.frame], new Map([[1, swap]]));
    const parts = unzipSync(out);
    expect(Buffer.from(parts['word/media/gable1.png']!).equals(Buffer.from(swap.bytes))).toBe(true);
    for (const [name, data] of Object.entries(unzipSync(handbook)))
      if (!/document\.xml/.test(name)) expect(Buffer.from(parts[name]!).equals(Buffer.from(data))).toBe(true);
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
