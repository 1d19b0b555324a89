/** Outlines and shadows in text documents. */
import {
  area,
  DASHES,
  deriveView,
  difference,
  doubleArea,
  flatten,
  framePath,
  remedy,
  solidOutline,
  withShape,
  type Frame,
  type Outline,
} from '@gable/core';
import { parseXml, surveyFile, type Element } from '../src/index';
import { openFile, type FramedFile } from './support/frames';
import { anchored, buildDocument, inlined } from './support/build';
import { handbook, part, circled, walk, expectValid } from './support/word';

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
      { kind: 'rectangular', stops },
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
  const open = async (x: number, more?: string): Promise<FramedFile> =>
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
