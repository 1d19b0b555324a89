/** What text documents of many programs say, and how it is read. */
import { CENTRED, deriveView, solidOutline, withShape, type Frame } from '@gable/core';
import { unzipSync } from 'fflate';
import { parseXml, surveyFile, type ReplacementImage } from '../src/index';
import { openFile, type FramedFile } from './support/frames';
import { child, descend } from '../src/xml/located';
import { anchored, buildDocument, inlined, NAMESPACES, pic, png } from './support/build';
import { part, circled, walk } from './support/word';

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
    const corners = (p: FramedFile['pictures'][number], f: Frame): number[] =>
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
  const blipped = async (effects: string): Promise<FramedFile> =>
    openFile(
      await buildDocument({
        body: inlined().replace('<a:blip r:embed="rId1"/>', `<a:blip r:embed="rId1">${effects}</a:blip>`),
      }),
    );
  const plain = { amount: 1, warmth: 0, tint: 0, only: null };
  const effectsIn = (file: FramedFile, frame: Frame, swap?: ReplacementImage): string =>
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
