/** What files of others showed: each case is small, made here, and failed before. */
import { solidOutline, withShape, type Frame } from '@gable/core';
import { strFromU8, strToU8, unzipSync, zipSync } from 'fflate';
import { openFile, type FramedFile } from './support/frames';
import { buildDocument, inlined } from './support/build';
import { buildDeck, PLACED, slidePic } from './support/deck';
import { buildOpen, openFrame } from './support/open';

const part = (bytes: Uint8Array, name = 'content.xml'): string => strFromU8(unzipSync(bytes)[name]!);
const circled = (file: FramedFile): Frame[] =>
  file.pictures.map((p) => ({
    ...withShape(p.frame, { name: 'circle', knobs: {} }, p.size),
    outline: solidOutline(6, '#ffffff'),
  }));

describe('OpenDocument', () => {
  test('framed again in the same way, nothing changes', async () => {
    const body = `<text:p>${openFrame('text:anchor-type="paragraph" svg:x="1in" svg:y="1in"')}</text:p>`.repeat(3);
    const once = openFile(await buildOpen({ body }));
    const first = once.save(circled(once));
    const again = openFile(first);
    const second = again.save(circled(again));
    expect(part(second)).toBe(part(first));
    expect(Buffer.from(second).equals(Buffer.from(first))).toBe(true);
  });

  test.each([
    ['a turned frame', { turn: 33 }, {}],
    ['an upright frame', {}, {}],
  ])('%s with a crop does not drift when it is framed again', async (_name, more, placement) => {
    const body = `<text:p>${openFrame('text:anchor-type="paragraph" svg:x="1in" svg:y="1in"')}</text:p>`;
    let bytes = await buildOpen({ body });
    const seen: string[] = [];
    for (let i = 0; i < 4; i++) {
      const file = openFile(bytes);
      const p = file.pictures[0]!;
      const placed = { ...p.frame.placement, zoom: 1.7, aim: { u: 0.41, v: 0.37 }, ...placement };
      const next = withShape({ ...p.frame, ...more, placement: placed }, { name: 'hexagon', knobs: {} }, p.size);
      expect(file.unsupported(next)).toEqual([]);
      bytes = file.save([next]);
      seen.push(part(bytes));
    }
    expect(seen[0]).toContain('draw:custom-shape');
    for (const later of seen.slice(1)) {
      const at = [...later].findIndex((c, i) => c !== seen[0]![i]);
      expect(later.slice(Math.max(0, at - 60), at + 60)).toBe(seen[0]!.slice(Math.max(0, at - 60), at + 60));
    }
  });
});

describe('OpenDocument, its package', () => {
  const body = `<text:p>${openFrame()}</text:p>`;
  const manifest = 'META-INF/manifest.xml';

  test('a document type that defines nothing is harmless', async () => {
    const parts = unzipSync(await buildOpen({ body }));
    const declared = '<!DOCTYPE manifest:manifest PUBLIC "-//Example//DTD Manifest 1.0//EN" "Manifest.dtd">';
    parts[manifest] = strToU8(
      strFromU8(parts[manifest]!).replace(/(\?>)?\s*<manifest/, (all) =>
        all.replace('<manifest', `${declared}<manifest`),
      ),
    );
    expect(openFile(zipSync(parts)).pictures).toHaveLength(1);
    parts[manifest] = strToU8(strFromU8(parts[manifest]).replace('"Manifest.dtd"', '"Manifest.dtd" [<!ENTITY a "b">]'));
    expect(() => openFile(zipSync(parts))).toThrow(expect.objectContaining({ code: 'xml-dtd' }));
  });

  test('what becomes a drawing shape is told; a rectangle without outline stays an image', async () => {
    const file = openFile(await buildOpen({ body }));
    const { frame, size } = file.pictures[0]!;
    const zoomed = { ...frame, placement: { ...frame.placement, zoom: 2 } };
    expect(file.becomesShape(zoomed)).toBe(false);
    expect(file.becomesShape({ ...zoomed, outline: solidOutline(2, '#000000') })).toBe(true);
    expect(file.becomesShape(withShape(frame, { name: 'circle', knobs: {} }, size))).toBe(true);
  });
});

describe('packages', () => {
  test('folders parted by backslashes', async () => {
    const parts = unzipSync(await buildDocument({ body: inlined() }));
    const odd = zipSync(
      Object.fromEntries(Object.entries(parts).map(([name, data]) => [name.replaceAll('/', '\\'), data])),
    );
    const file = openFile(odd);
    expect(file.pictures[0]!.problem).toBeNull();
    const saved = file.save(circled(file));
    expect(openFile(saved).pictures[0]!.frame.shape.name).toBe('circle');
    // Names stay as they were written.
    expect(Object.keys(unzipSync(saved))).toEqual(Object.keys(unzipSync(odd)));
    const outside = zipSync({ ...parts, '..\\..\\etc\\x': strToU8('x') });
    expect(() => openFile(outside)).toThrow(expect.objectContaining({ code: 'bad-part-name' }));
  });
});

describe('fills in alternate content', () => {
  /** A picture of a drawing as PDF, and as a PNG for those that cannot show it (ISO/IEC 29500-3 §7.6). */
  const both = slidePic(PLACED).replace(
    /<p:blipFill>([\s\S]*?)<\/p:blipFill>/,
    (fill) =>
      `<mc:AlternateContent xmlns:mc="http://schemas.openxmlformats.org/markup-compatibility/2006"><mc:Choice xmlns:x="urn:x" Requires="x">${fill.replace('rId1', 'rId9')}</mc:Choice><mc:Fallback>${fill}</mc:Fallback></mc:AlternateContent>`,
  );

  test('the fallback is shown, and both are kept in step', async () => {
    const file = openFile(await buildDeck([both + slidePic(PLACED)]));
    expect(file.pictures.map((p) => p.problem)).toEqual([null, null]);
    const [first] = file.pictures;
    const next = { ...first!.frame, placement: { ...first!.frame.placement, zoom: 2, aim: { u: 0.25, v: 0.25 } } };
    const saved = file.save([next]);
    const text = part(saved, 'ppt/slides/slide1.xml');
    const crops = [...text.matchAll(/<a:srcRect[^>]*>/g)].map((m) => m[0]);
    // Half of it is seen, from its corner.
    expect(crops).toEqual(Array(2).fill('<a:srcRect r="50000" b="50000"/>'));
    expect(text.match(/<p:blipFill>/g)).toHaveLength(3);
    expect(openFile(saved).pictures[0]!.frame.placement.zoom).toBeCloseTo(2, 9);
    expect(file.save([first!.frame])).toEqual(file.save([]));
  });
});

describe('lines over those of a theme', () => {
  test('say all that the theme would say otherwise', async () => {
    const themed = slidePic(`${PLACED}<a:ln><a:noFill/></a:ln>`).replace(
      '</p:pic>',
      '<p:style><a:lnRef idx="2"><a:srgbClr val="112233"/></a:lnRef><a:fillRef idx="0"/><a:effectRef idx="0"/><a:fontRef idx="minor"/></p:style></p:pic>',
    );
    const file = openFile(await buildDeck([themed]));
    const saved = file.save([{ ...file.pictures[0]!.frame, outline: solidOutline(6, '#ffffff') }]);
    const line = /<a:ln[\s\S]*?<\/a:ln>/.exec(part(saved, 'ppt/slides/slide1.xml'))![0];
    // ISO/IEC 29500-1 §20.1.2.2.24: width, cap, compound, alignment.
    expect(line).toContain('w="76200" cap="flat" cmpd="sng" algn="ctr"');
    expect(line).toContain('<a:prstDash val="solid"/>');
  });

  test('where nothing stands behind, only what is unusual is said', async () => {
    const file = openFile(await buildDeck([slidePic(PLACED)]));
    const saved = file.save([{ ...file.pictures[0]!.frame, outline: solidOutline(6, '#ffffff') }]);
    expect(part(saved, 'ppt/slides/slide1.xml')).toContain('<a:ln w="76200"><a:solidFill>');
  });
});

describe('drawings', () => {
  const DOT =
    'data:image/png;base64,iVBORw0KGgoAAAANSUhEUgAAAAEAAAABCAYAAAAfFcSJAAAADUlEQVR42mNk+M9QDwADhgGAWjR9awAAAABJRU5ErkJggg==';
  const drawing = (subset: string, inside: string): Uint8Array =>
    strToU8(
      `<?xml version="1.0"?><!DOCTYPE svg PUBLIC "-//W3C//DTD SVG 1.1//EN" "http://www.w3.org/Graphics/SVG/1.1/DTD/svg11.dtd" [${subset}]>` +
        `<svg xmlns="&svg;" width="400" height="300">${inside}</svg>`,
    );
  const SVG = '<!ENTITY svg "http://www.w3.org/2000/svg">';

  test('names for plain text are read; what they stand for stays as it is written', () => {
    const bytes = drawing(
      `${SVG} <!ENTITY w '90'>`,
      `<image width="&w;" height="60" preserveAspectRatio="none" href="${DOT}"/><g fill="&w;"/>`,
    );
    const file = openFile(bytes);
    // 90 pixels are 67.5 points (CSS Values 4 §6.2).
    expect(file.pictures[0]!.frame.box.width).toBeCloseTo(67.5, 6);
    const saved = strFromU8(file.save([{ ...file.pictures[0]!.frame, alt: 'Dot' }]));
    expect(saved).toContain(`<!ENTITY w '90'>`);
    expect(saved).toContain('<g fill="&w;"/>');
  });

  test.each([
    ['that lie elsewhere', '<!ENTITY a SYSTEM "file:///etc/passwd">'],
    ['of parameters', '<!ENTITY % a "b"> %a;'],
    ['that hold others', `<!ENTITY a "x"><!ENTITY b "&a;&a;">`],
    ['that hold markup', '<!ENTITY a "<image/>">'],
    ['that become too much', `<!ENTITY a "${'x'.repeat(3000)}">`],
  ])('names %s are refused', (_what, subset) => {
    const bytes = drawing(SVG + subset, `<text>${'&a;'.repeat(400)}</text><image width="9" height="9" href="${DOT}"/>`);
    expect(() => openFile(bytes)).toThrow(expect.objectContaining({ code: 'xml-dtd' }));
  });
});

describe('text documents', () => {
  test('pictures in deleted text and fills of older shapes are told, not passed over in silence', async () => {
    const deleted = inlined().replace('<w:r>', '<w:del w:id="1"><w:r>').replace('</w:r>', '</w:r></w:del>');
    const older =
      '<w:p><w:r><w:pict><v:rect style="width:90pt;height:60pt"><v:fill r:id="rId1" type="frame"/></v:rect></w:pict></w:r></w:p>';
    const file = openFile(await buildDocument({ body: inlined() + deleted + older }));
    expect(file.pictures).toHaveLength(1);
    expect(file.leftOut).toEqual([
      { why: 'in deleted text', count: 1 },
      { why: 'as fills of shapes in older markup', count: 1 },
    ]);
    expect(openFile(await buildDocument({ body: inlined() })).leftOut).toBeUndefined();
  });

  test('a text that is cut in the middle of a character is cut before it', async () => {
    const words = `${'a'.repeat(88)}\u{1f3fa} and more`;
    const body = `<w:p><w:r><w:t>${words}</w:t></w:r></w:p>`;
    const file = openFile(await buildDocument({ body: inlined() + body }));
    const { near } = file.pictures[0]!.where;
    expect(near).toBe(`${'a'.repeat(88)}…`);
    expect(Buffer.from(near).toString()).toBe(near);
  });
});

describe('percentages of a drawing', () => {
  const DOT =
    'data:image/png;base64,iVBORw0KGgoAAAANSUhEUgAAAAIAAAABCAYAAAD0In+KAAAAEUlEQVR42mNk+M/wn4GBgQEADQ0B/6D6Zf8AAAAASUVORK5CYII=';
  const boxOf = (inside: string, root = 'width="400" height="200"'): Frame['box'] =>
    openFile(strToU8(`<svg xmlns="http://www.w3.org/2000/svg" ${root}>${inside}</svg>`)).pictures[0]!.frame.box;
  const image = (more: string): string => `<image preserveAspectRatio="none" href="${DOT}" ${more}/>`;
  // Points are three quarters of a pixel (CSS Values 4 §6.2).
  const pixels = (x: number, y: number, width: number, height: number): Frame['box'] => ({
    ...{ x: x * 0.75, y: y * 0.75, width: width * 0.75, height: height * 0.75 },
  });

  test.each([
    ['of the page', image('width="100%" height="100%"'), pixels(0, 0, 400, 200)],
    ['for its place', image('x="50%" y="25%" width="10%" height="40"'), pixels(200, 50, 40, 40)],
    [
      'of the drawing it is in',
      `<svg x="20" y="10" width="100" height="50">${image('width="50%" height="100%"')}</svg>`,
      pixels(20, 10, 50, 50),
    ],
    ['of a style sheet', `<style>image{width:50%;height:20px;x:40px}</style>${image('')}`, pixels(40, 0, 200, 20)],
  ])('%s', (_what, inside, box) => {
    const found = boxOf(inside);
    for (const key of ['x', 'y', 'width', 'height'] as const) expect(found[key]).toBeCloseTo(box[key], 4);
  });

  test('of a drawing with units of its own', () => {
    const found = boxOf(image('width="50%" height="50%"'), 'width="400" height="200" viewBox="0 0 40 20"');
    expect([found.width, found.height]).toEqual([150, 75]);
  });

  test('what a switch chooses by stays with what takes the place of the image', () => {
    const bytes = strToU8(
      `<svg xmlns="http://www.w3.org/2000/svg" width="90" height="90"><switch>${image('systemLanguage="de" width="9" height="9"')}</switch></svg>`,
    );
    const file = openFile(bytes);
    const saved = strFromU8(file.save(circled(file)));
    expect(saved).toMatch(/<switch><g [^>]*systemLanguage="de"/);
  });
});
