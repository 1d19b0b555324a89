/** Pictures taken out of the text and put back, and pictures in the place of others. */
import { CENTRED, solidOutline, withShape, type Frame, movedTo } from '@gable/core';
import { unzipSync } from 'fflate';
import { parseXml, type ReplacementImage } from '../src/index';
import { openFile } from './support/frames';
import { anchored, buildDocument, inlined, png } from './support/build';
import { handbook, R, part, expectOthersUntouched, expectValid } from './support/word';

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
    const out = file.save([movedTo(frame, { x: 72 })]);
    expectValid(parseXml(part(out), 'word/document.xml'));
    expect(part(out)).toContain('<wp:posOffset>914400</wp:posOffset></wp:positionH>');
    // A frame that was kept before frames had anchors says where it is alone.
    const kept = (x: number): string => {
      const { document } = file;
      const item = document.items['p1']!;
      const at = { on: 'anchor' as const, box: { ...item.at.box, x } };
      return part(file.write({ ...document, items: { ...document.items, p1: { ...item, at } } }));
    };
    expect(kept(72)).toBe(part(out));
    expect(kept(0)).toContain('<wp:align>center</wp:align>');
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
