/**
 * OpenDocument (ISO/IEC 26300): what is read and written is held against tables from the standard's sections, by the names
 * and orders of elements and attributes (from memory of ODF 1.2 Part 1), and against a reader of others.
 */
import { execFileSync } from 'node:child_process';
import { mkdtempSync, writeFileSync } from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import { strFromU8, strToU8, unzipSync, zipSync } from 'fflate';
import { parseOffice } from 'officeparser';
import { deriveView, POINTS, solidOutline, viewCrop, withShape, type Frame } from '@gable/core';
import { FEATURES, parseXml } from '../src/index';
import { openFile, type FramedFile } from './support/frames';
import type { Element } from '../src/xml/located';
import { png } from './support/build';
import { find } from './support/find';
import { buildOpen, graphicStyle, openFrame } from './support/open';

const CM = POINTS.cm;
const part = (bytes: Uint8Array, name = 'content.xml'): string => strFromU8(unzipSync(bytes)[name]!);
const parsed = (bytes: Uint8Array, name?: string): Element => parseXml(part(bytes, name), 'x');
const crop = (p: FramedFile['pictures'][number], frame = p.frame): ReturnType<typeof viewCrop> =>
  viewCrop(deriveView(frame.placement, frame.box, p.size));
const shaped = (file: FramedFile, name = 'circle', n = 1): Frame => {
  const p = file.pictures[n - 1]!;
  return withShape(p.frame, { name, knobs: {} }, p.size);
};
const inText = (frame: string): string => `<text:p>Before ${frame} and after</text:p>`;

describe('frames in texts', () => {
  test('size, place, flow, words beside it and alternative text', async () => {
    const body =
      inText(openFrame('text:anchor-type="as-char"', '<svg:title>T</svg:title><svg:desc>A &amp; B</svg:desc>')) +
      '<text:p><text:soft-page-break/></text:p>' +
      inText(openFrame('text:anchor-type="paragraph" svg:x="1in" svg:y="72pt"'));
    const file = openFile(await buildOpen({ body }));
    expect([file.format, file.pages]).toEqual(['odt', 2]);
    expect(file.pictures.map((p) => [p.where.page, p.frame.flow, p.frame.alt])).toEqual([
      [1, 'inline', 'A & B'],
      [2, 'floating', ''],
    ]);
    expect(file.pictures[0]!.where.near).toContain('Before');
    expect(file.pictures[1]!.frame.box).toEqual({ x: 72, y: 72, width: 6 * CM, height: 4 * CM });
    expect(file.save(file.pictures.map((p) => p.frame))).toEqual(file.save([]));
  });

  test.each([
    ['commas', 'rect(0.5in, 0.25in, 0in, 1in)', undefined, [1 / 3.125, 0.25 / 3.125, 0.5 / 2.0833333, 0]],
    ['spaces', 'rect(0.5in 0.25in 0in 1in)', undefined, [1 / 3.125, 0.25 / 3.125, 0.5 / 2.0833333, 0]],
    // 300 pixels at 150 to the inch are 2 in across, 200 are 1.333 in down.
    ['a density of its own', 'rect(0.5in, 0.25in, 0in, 1in)', 150, [0.5, 0.125, 0.375, 0]],
  ])('a clip with %s counts from each edge of the picture at its own size', async (_name, clip, ppi, [l, r, t, b]) => {
    const styles = graphicStyle('fr1', `fo:clip="${clip}"`);
    const file = openFile(
      await buildOpen({ styles, body: inText(openFrame('draw:style-name="fr1"')), ...(ppi ? { ppi } : {}) }),
    );
    const got = crop(file.pictures[0]!);
    expect(got.left).toBeCloseTo(l!, 4);
    expect(got.right).toBeCloseTo(r!, 4);
    expect(got.top).toBeCloseTo(t!, 4);
    expect(got.bottom).toBeCloseTo(b!, 4);
  });

  test('another crop is another automatic style that keeps the rest; no other part changes', async () => {
    const styles = graphicStyle(
      'fr1',
      'style:wrap="parallel" fo:margin-left="2mm" fo:clip="rect(0in, 0in, 0in, 0in)"',
      'Graphics',
    );
    const bytes = await buildOpen({
      styles,
      body: inText(openFrame('draw:style-name="fr1" text:anchor-type="paragraph"')),
    });
    const file = openFile(bytes);
    const p = file.pictures[0]!;
    const next = { ...p.frame, placement: { ...p.frame.placement, zoom: 2, aim: { u: 0.3, v: 0.4 } } };
    const saved = file.save([next]);
    const style = find(parsed(saved), 'style').find((s) => s.attributes['style:name'] === 'Gable1')!;
    expect(style.attributes).toMatchObject({ 'style:family': 'graphic', 'style:parent-style-name': 'Graphics' });
    const properties = find(style, 'graphic-properties')[0]!.attributes;
    expect(properties).toMatchObject({ 'style:wrap': 'parallel', 'fo:margin-left': '2mm' });
    // 300 px at 96 to the inch are 225 pt: 5 % of them are hidden on the left, 45 % on the right.
    expect(properties['fo:clip']).toMatch(/^rect\(22\.5pt, 101\.25pt, 52\.5pt, 11\.25pt\)$/);
    expect(find(parsed(saved), 'frame')[0]!.attributes['draw:style-name']).toBe('Gable1');
    const again = openFile(saved).pictures[0]!;
    expect(crop(again).left).toBeCloseTo(0.05, 6);
    for (const [name, data] of Object.entries(unzipSync(bytes)))
      if (name !== 'content.xml') expect(unzipSync(saved)[name]).toEqual(data);
    expect(Object.keys(unzipSync(saved))[0]).toBe('mimetype');
  });

  test('a shape is a custom shape of the same size, filled with the whole picture', async () => {
    const styles = graphicStyle(
      'fr1',
      'style:wrap="parallel" style:vertical-pos="from-top" fo:clip="rect(0in, 0in, 0in, 0in)"',
    );
    const body = inText(
      openFrame(
        'draw:style-name="fr1" text:anchor-type="paragraph" svg:x="1in" svg:y="1in"',
        '<svg:desc>Pot</svg:desc>',
      ),
    );
    const file = openFile(await buildOpen({ styles, body }));
    const want = {
      ...shaped(file),
      outline: { ...solidOutline(6, '#ffffff', 0.8), dash: 'dash-dot' as const },
      shadow: { kind: 'outer' as const, dx: 3, dy: 4, blur: 0, spread: 0, colour: '#112233', opacity: 0.5 },
    };
    const saved = file.save([want]);
    const shape = find(parsed(saved), 'custom-shape')[0]!;
    expect(find(parsed(saved), 'frame')).toHaveLength(0);
    expect(shape.attributes).toMatchObject({ 'draw:name': 'p', 'text:anchor-type': 'paragraph' });
    // ODF 1.2 Part 1 §10.6.1: title, description and text come before the geometry.
    expect(shape.children.map((c) => c.local)).toEqual(['desc', 'enhanced-geometry']);
    const style = find(parsed(saved), 'style').find(
      (s) => s.attributes['style:name'] === shape.attributes['draw:style-name'],
    )!;
    const properties = find(style, 'graphic-properties')[0]!.attributes;
    expect(properties).toMatchObject({
      'draw:fill': 'bitmap',
      'style:repeat': 'repeat',
      'draw:fill-image-width': `${(4 * CM * 1.5).toFixed(5)}pt`,
      'draw:stroke': 'dash',
      'svg:stroke-width': '6pt',
      'draw:shadow': 'visible',
      'style:wrap': 'parallel',
    });
    // Named things stand in the common styles: the picture, and a dash of 4 and 1 weights with 3 between (DASH_PATTERN).
    const office = find(parsed(saved, 'styles.xml'), 'styles')[0]!;
    expect(office.children.map((c) => c.local).sort()).toEqual(['fill-image', 'stroke-dash']);
    expect(find(office, 'fill-image')[0]!.attributes['xlink:href']).toBe('Pictures/one.png');
    expect(find(office, 'stroke-dash')[0]!.attributes).toMatchObject({
      'draw:dots1-length': '24pt',
      'draw:dots2-length': '6pt',
      'draw:distance': '18pt',
    });
    const again = openFile(saved);
    const back = again.pictures[0]!;
    expect(back.frame.shape.name).toBe('circle');
    expect(back.frame.alt).toBe('Pot');
    expect(back.frame.shadow).toEqual(want.shadow);
    for (const side of ['x', 'y', 'width', 'height'] as const)
      expect(back.frame.box[side]).toBeCloseTo(want.box[side], 4);
    for (const side of ['left', 'right', 'top', 'bottom'] as const)
      expect(Math.abs(crop(back)[side] - crop(file.pictures[0]!, want)[side])).toBeLessThan(1e-5);
    expect(again.save([back.frame])).toEqual(saved);
  });

  test.each(['heart', 'hexagon', 'rounded', 'diamond', 'star-5', 'ellipse'])(
    '%s comes back as the same outline',
    async (name) => {
      const file = openFile(await buildOpen({ body: inText(openFrame()) }));
      const want = shaped(file, name);
      const saved = file.save([want]);
      expect(openFile(saved).pictures[0]!.frame.shape.name).toBe(name);
      // And by the native terms alone.
      const parts = unzipSync(saved);
      parts['content.xml'] = strToU8(part(saved).replaceAll('urn:gable:frame:1', 'urn:nobody'));
      const back = openFile(zipSync(parts)).pictures[0]!.frame;
      expect(back.placement.aim.u).toBeCloseTo(want.placement.aim.u, 5);
      if (name === 'ellipse') expect(back.shape.name).toBe('ellipse');
      else expect(back.shape.drawn?.path.length).toBeGreaterThan(20);
    },
  );

  test('a line outside is a way of its own without a fill, and the shape has no line', async () => {
    const file = openFile(
      await buildOpen({ body: inText(openFrame('text:anchor-type="paragraph" svg:x="1in" svg:y="1in"')) }),
    );
    const side = 4 * CM;
    for (const outline of [
      { ...solidOutline(6, '#ffffff'), side: 'outside' as const, gap: 2 },
      { ...solidOutline(3, '#b5482a'), side: 'inside' as const },
    ]) {
      const want = { ...shaped(file), outline };
      const saved = file.save([want]);
      const geometry = find(parsed(saved), 'enhanced-geometry')[0]!;
      // ODF 1.2 Part 1 §19.145: S and F take line and fill away from the paths up to the next N.
      expect(geometry.attributes['draw:enhanced-path']).toMatch(/^M [^NSF]+ S N M [^NSF]+ F N$/);
      const width = Number.parseFloat(find(parsed(saved), 'custom-shape')[0]!.attributes['svg:width']!);
      expect(width).toBeCloseTo(side + (outline.side === 'outside' ? 16 : 0), 4);
      const again = openFile(saved);
      const back = again.pictures[0]!.frame;
      expect([back.shape.name, back.outline]).toEqual(['circle', outline]);
      for (const key of ['x', 'y', 'width', 'height'] as const) expect(back.box[key]).toBeCloseTo(want.box[key], 4);
      expect(crop(again.pictures[0]!).left).toBeCloseTo(crop(file.pictures[0]!, want).left, 4);
      expect(again.save([back])).toEqual(saved);
      const plain = openFile(again.save([{ ...back, outline: solidOutline(2, '#000000') }])).pictures[0]!.frame;
      expect(plain.box.width).toBeCloseTo(side, 4);
    }
  });

  test('a framed shape can be framed again, moved, and taken back to a box', async () => {
    const file = openFile(
      await buildOpen({ body: inText(openFrame('text:anchor-type="paragraph" svg:x="0in" svg:y="0in"')) }),
    );
    const once = openFile(file.save([shaped(file)]));
    const circle = once.pictures[0]!.frame;
    const twice = openFile(
      once.save([{ ...circle, box: { ...circle.box, x: 40, y: 30 }, outline: solidOutline(2, '#000000') }]),
    );
    expect(twice.pictures[0]!.frame).toMatchObject({
      shape: { name: 'circle' },
      outline: { weight: 2 },
      box: { x: 40, y: 30 },
    });
    const box = openFile(
      twice.save([{ ...twice.pictures[0]!.frame, shape: { name: 'rectangle', knobs: {} }, outline: null }]),
    );
    expect(box.pictures[0]!.frame).toMatchObject({ shape: { name: 'rectangle' }, outline: null });
  });

  test('a picture leaves the text, and goes back into it', async () => {
    const file = openFile(await buildOpen({ body: inText(openFrame('text:anchor-type="as-char"')) }));
    const p = file.pictures[0]!;
    expect(p.freeable).toBe(true);
    const free = file.save([{ ...p.frame, flow: 'floating', box: { ...p.frame.box, x: 20, y: 10 } }]);
    const frame = find(parsed(free), 'frame')[0]!.attributes;
    expect(frame).toMatchObject({ 'text:anchor-type': 'paragraph', 'svg:x': '20pt', 'svg:y': '10pt' });
    const again = openFile(free).pictures[0]!.frame;
    expect([again.flow, again.box.x]).toEqual(['floating', 20]);
    const back = openFile(openFile(free).save([{ ...again, flow: 'inline' }])).pictures[0]!.frame;
    expect(back.flow).toBe('inline');
  });

  test('headers, footers and master pages', async () => {
    const masters = `<style:master-page style:name="Standard"><style:header>${inText(openFrame())}</style:header><style:footer>${inText(openFrame())}</style:footer></style:master-page>`;
    const file = openFile(await buildOpen({ body: inText(openFrame()), masters }));
    expect(file.pictures.map((p) => p.where.place)).toEqual(['body', 'header', 'footer']);
    const saved = file.save([shaped(file, 'circle', 2)]);
    expect(part(saved)).toBe(part(file.save([])));
    expect(openFile(saved).pictures[1]!.frame.shape.name).toBe('circle');
  });

  test('what OpenDocument cannot say is named; another picture comes with its line in the manifest', async () => {
    const file = openFile(await buildOpen({ body: inText(openFrame()) }));
    const soft = { kind: 'outer' as const, dx: 1, dy: 1, blur: 4, spread: 0, colour: '#000000', opacity: 1 };
    const frame = shaped(file);
    expect(file.unsupported({ ...frame, shadow: soft }).map((m) => FEATURES[m])).toEqual(['a shadow with a soft edge']);
    expect(() => file.save([{ ...frame, shadow: soft }])).toThrow(/soft edge/);
    const bytes = await png(400, 400);
    const source = {
      sha256: 'a'.repeat(64),
      name: 'n',
      type: 'png',
      size: { width: 400, height: 400 },
      orientation: 1,
    };
    const saved = file.save([{ ...frame, source }], new Map([[1, { bytes, type: 'png', size: source.size }]]));
    expect(unzipSync(saved)['Pictures/gable1.png']).toEqual(bytes);
    expect(part(saved, 'META-INF/manifest.xml')).toContain('manifest:full-path="Pictures/gable1.png"');
    expect(openFile(saved).pictures[0]!.media!.pixels).toEqual({ width: 400, height: 400 });
  });
});

// ODF 1.2 Part 1 §20: draw:color-mode, draw:luminance, draw:contrast, draw:gamma, draw:red … (from memory).
describe('recoloured pictures', () => {
  const plain = { warmth: 0, tint: 0, only: null };
  const grey = { colour: { ...plain, amount: 0 } };
  const coloured = async (properties: string): Promise<FramedFile> =>
    openFile(
      await buildOpen({ styles: graphicStyle('fr1', properties), body: inText(openFrame('draw:style-name="fr1"')) }),
    );
  const propertiesOf = (saved: Uint8Array): Record<string, string> => {
    const style = find(parsed(saved), 'style').find((s) => s.attributes['style:name'] === 'Gable1')!;
    return find(style, 'graphic-properties')[0]!.attributes;
  };

  test.each<[string, Frame['tone']]>([
    ['draw:color-mode="greyscale"', grey],
    ['draw:color-mode="mono"', { given: { threshold: 0.5 } }],
    ['draw:color-mode="watermark"', { given: { contrast: -0.7, lift: 0.5 } }],
    ['draw:luminance="20%" draw:contrast="-10%"', { given: { contrast: -0.1, lift: 0.2 } }],
    ['draw:gamma="150%" draw:color-inversion="true"', { given: { gamma: 1.5, inverted: true } }],
    ['draw:red="5%" draw:blue="-5%"', { given: { channels: [0.05, 0, -0.05] } }],
    ['draw:image-opacity="40%"', { fading: { opacity: 0.4, multiply: false } }],
    ['draw:color-mode="standard" draw:luminance="0%" draw:gamma="100%" draw:image-opacity="100%"', undefined],
  ])(
    '%s is read, kept with another crop, and painted in where a shape has no words for it',
    async (properties, tone) => {
      const file = await coloured(properties);
      const { frame } = file.pictures[0]!;
      expect(frame.tone).toEqual(tone);
      expect(file.save([frame])).toEqual(file.save([]));
      const closer = { ...frame, placement: { ...frame.placement, zoom: 2 } };
      expect(file.unsupported(closer)).toEqual([]);
      expect(openFile(file.save([closer])).pictures[0]!.frame.tone).toEqual(tone);
      expect(file.unsupported(shaped(file))).toEqual(tone && !tone.fading ? ['tone'] : []);
      if (tone && !tone.fading) return;
      expect(openFile(file.save([shaped(file)])).pictures[0]!.frame.tone).toEqual(tone);
    },
  );

  test('grey and opacity are written; what was read stays beside them or goes', async () => {
    const file = await coloured('draw:luminance="20%" draw:color-mode="standard" fo:margin-left="2mm"');
    const { frame } = file.pictures[0]!;
    const { given } = frame.tone!;
    const faded = { ...frame, tone: { given, fading: { opacity: 0.25, multiply: false } } };
    expect(file.unsupported(faded)).toEqual([]);
    expect(propertiesOf(file.save([faded]))).toMatchObject({
      'draw:luminance': '20%',
      'draw:color-mode': 'standard',
      'draw:image-opacity': '25%',
      'fo:margin-left': '2mm',
    });
    const turned = { ...frame, tone: grey };
    expect(propertiesOf(file.save([turned]))).toMatchObject({
      'draw:luminance': '0%',
      'draw:color-mode': 'greyscale',
    });
    expect(openFile(file.save([turned])).pictures[0]!.frame.tone).toEqual(grey);
    const none = { ...frame };
    delete none.tone;
    expect(openFile(file.save([none])).pictures[0]!.frame.tone).toBeUndefined();
    // Warmth is nowhere among the properties; a colour mode is one thing.
    expect(file.unsupported({ ...frame, tone: { colour: { ...plain, amount: 1, warmth: 0.5 } } })).toEqual(['tone']);
    expect(file.unsupported({ ...frame, tone: { given: { inverted: true } } })).toEqual(['tone']);
  });

  test('what a style above says is taken back by name', async () => {
    const styles = graphicStyle('above', 'draw:color-mode="greyscale"') + graphicStyle('fr1', '', 'above');
    const file = openFile(await buildOpen({ styles, body: inText(openFrame('draw:style-name="fr1"')) }));
    const { tone, ...frame } = file.pictures[0]!.frame;
    expect(tone).toEqual(grey);
    expect(propertiesOf(file.save([frame]))).toMatchObject({ 'draw:color-mode': 'standard' });
  });

  test('a shape’s fill has opacity alone', async () => {
    const file = openFile(await buildOpen({ body: inText(openFrame()) }));
    const circle = { ...shaped(file), tone: { fading: { opacity: 0.3, multiply: false } } };
    expect(file.unsupported(circle)).toEqual([]);
    const saved = file.save([circle]);
    expect(propertiesOf(saved)).toMatchObject({ 'draw:opacity': '30%' });
    const again = openFile(saved);
    expect(again.pictures[0]!.frame.tone).toEqual(circle.tone);
    expect(again.unsupported({ ...again.pictures[0]!.frame, tone: grey })).toEqual(['tone']);
    const whole = { ...again.pictures[0]!.frame };
    delete whole.tone;
    expect(part(again.save([whole]))).not.toContain('draw:opacity="30%"><');
    expect(openFile(again.save([whole])).pictures[0]!.frame.tone).toBeUndefined();
  });
});

describe('drawings, slides and sheets', () => {
  test('shapes filled with a picture: a crop, tiles, a stretched one', async () => {
    const common = '<draw:fill-image draw:name="Pot" xlink:href="Pictures/one.png"/>';
    const style = (name: string, more: string): string =>
      graphicStyle(name, `draw:fill="bitmap" draw:fill-image-name="Pot" draw:stroke="none" ${more}`);
    const styles =
      style(
        'a',
        'style:repeat="repeat" draw:fill-image-width="300pt" draw:fill-image-height="200pt" draw:fill-image-ref-point="top-left" draw:fill-image-ref-point-x="75%" draw:fill-image-ref-point-y="0%"',
      ) +
      style(
        'b',
        'style:repeat="repeat" draw:fill-image-width="30pt" draw:fill-image-height="20pt" draw:fill-image-ref-point="top-left"',
      ) +
      style('c', 'style:repeat="stretch"');
    const shape = (name: string, tag: string): string =>
      `<draw:${tag} draw:style-name="${name}" svg:x="10pt" svg:y="10pt" svg:width="100pt" svg:height="100pt"/>`;
    const body = `<draw:page draw:name="one">${shape('a', 'circle')}${shape('b', 'rect')}</draw:page><draw:page draw:name="two">${shape('c', 'ellipse')}</draw:page>`;
    const file = openFile(await buildOpen({ kind: 'graphics', styles, body, common }));
    expect([file.format, file.pages]).toEqual(['odg', 2]);
    const [a, b, c] = file.pictures;
    expect(a!.frame.shape.name).toBe('circle');
    // A tile of 300 × 200 pt begins three quarters of itself to the right, so a quarter of it is hidden on the left.
    expect(crop(a!).left).toBeCloseTo(0.25, 6);
    expect(crop(a!).right).toBeCloseTo(1 - 0.25 - 1 / 3, 6);
    expect(b!.frame.placement.fit).toBe('tile');
    expect(c!.frame.placement.distortion).toBeCloseTo(2 / 3, 6);
    expect(c!.where).toMatchObject({ page: 2, place: 'drawing' });
    expect(file.save(file.pictures.map((p) => p.frame))).toEqual(file.save([]));
  });

  test('a turned frame: rotation is counter-clockwise in radians about the corner, then moved', async () => {
    const turned = openFrame('draw:transform="rotate (-0.5235987755982988) translate (5cm 3cm)"');
    const file = openFile(await buildOpen({ kind: 'presentation', body: `<draw:page>${turned}</draw:page>` }));
    const { frame } = file.pictures[0]!;
    expect(frame.turn).toBeCloseTo(30, 9);
    // The middle of 6 × 4 cm, turned by 30° clockwise about the corner at (5, 3) cm.
    const [c, s] = [Math.cos(Math.PI / 6), 0.5];
    expect(frame.box.x + frame.box.width / 2).toBeCloseTo((5 + 3 * c - 2 * s) * CM, 6);
    expect(frame.box.y + frame.box.height / 2).toBeCloseTo((3 + 3 * s + 2 * c) * CM, 6);
    const back = openFile(file.save([{ ...frame, turn: 75 }])).pictures[0]!.frame;
    expect(back.turn).toBeCloseTo(75, 6);
    expect(back.box.x).toBeCloseTo(frame.box.x, 4);
    expect(openFile(file.save([{ ...frame, turn: 0 }])).pictures[0]!.frame.box.y).toBeCloseTo(frame.box.y, 4);
  });

  test('a shape of another program, with formulas', async () => {
    const styles = graphicStyle('a', 'draw:fill="bitmap" draw:fill-image-name="Pot" style:repeat="stretch"');
    const common = '<draw:fill-image draw:name="Pot" xlink:href="Pictures/one.png"/>';
    const geometry =
      '<draw:enhanced-geometry svg:viewBox="0 0 21600 21600" draw:modifiers="5400" draw:enhanced-path="M ?f0 0 L ?f1 0 21600 21600 0 21600 Z N">' +
      '<draw:equation draw:name="f0" draw:formula="min($0 ,10800)"/><draw:equation draw:name="f1" draw:formula="right-?f0 "/></draw:enhanced-geometry>';
    const body = `<draw:page><draw:custom-shape draw:style-name="a" svg:width="100pt" svg:height="100pt">${geometry}</draw:custom-shape></draw:page>`;
    const { frame } = openFile(await buildOpen({ kind: 'graphics', styles, body, common })).pictures[0]!;
    expect(frame.shape.drawn!.path.replace(/[^\d.]+/g, ' ').trim()).toBe('0.25 0 0.75 0 1 1 0 1');
  });

  test('in a sheet the size no longer hangs on a cell once it was changed', async () => {
    const frame = openFrame(
      'table:end-cell-address="One.C9" table:end-x="1cm" table:end-y="2mm" svg:x="1cm" svg:y="1cm"',
    );
    const body = `<table:table table:name="One"><table:table-row><table:table-cell>${frame}</table:table-cell></table:table-row></table:table>`;
    const file = openFile(await buildOpen({ kind: 'spreadsheet', body }));
    expect(file.pictures[0]!.where).toMatchObject({ place: 'sheet', page: 1, table: true });
    const saved = part(file.save([shaped(file)]));
    expect(saved).not.toContain('table:end');
    expect(saved).toContain('svg:width="113.38583pt"');
  });
});

describe('others', () => {
  /** A text written by Debian's pandoc, when it is there. */
  const pandoc = (): boolean => {
    try {
      execFileSync('pandoc', ['--version'], { stdio: 'ignore' });
      return true;
    } catch {
      return false;
    }
  };

  (pandoc() ? test : test.skip)('a text that pandoc wrote is framed, and pandoc reads it again', async () => {
    const folder = mkdtempSync(path.join(os.tmpdir(), 'gable-pandoc-'));
    writeFileSync(path.join(folder, 'a.png'), await png(300, 200));
    writeFileSync(path.join(folder, 'a.md'), '# Pots\n\nSome words.\n\n![A pot](a.png){width=6cm}\n');
    const run = (...args: string[]): string => execFileSync('pandoc', args, { cwd: folder, encoding: 'utf8' });
    run('a.md', '-o', 'a.odt');
    const { readFileSync } = await import('node:fs');
    const file = openFile(readFileSync(path.join(folder, 'a.odt')));
    expect(file.pictures).toHaveLength(1);
    writeFileSync(path.join(folder, 'b.odt'), file.save([shaped(file)]));
    expect(run('b.odt', '-t', 'plain')).toContain('Some words.');
  });

  test('a reader of others opens what we write and reads its words', async () => {
    const file = openFile(await buildOpen({ body: inText(openFrame()) }));
    const saved = file.save([{ ...shaped(file), outline: solidOutline(3, '#ff0000') }]);
    const read = await parseOffice(Buffer.from(saved));
    expect(JSON.stringify(read)).toContain('and after');
  });
});
