import { execFileSync } from 'node:child_process';
import { strFromU8, unzipSync } from 'fflate';
import { solidOutline, withShape, type Frame } from '@gable/core';
import { parseXml } from '../src/index';
import { openFile, type FramedFile } from './support/frames';
import { descend } from '../src/xml/located';
import { png } from './support/build';
import { find } from './support/find';
import { buildDeck, pack, PLACED, slidePic } from './support/deck';

const part = (bytes: Uint8Array, name: string): string => strFromU8(unzipSync(bytes)[name]!);
const circled = (file: FramedFile, n = 1): Frame => {
  const p = file.pictures[n - 1]!;
  return { ...withShape(p.frame, { name: 'circle', knobs: {} }, p.size), outline: solidOutline(6, '#ffffff') };
};

describe('slide decks', () => {
  test('pictures come in the order of the slides, then those of layouts, with where they are', async () => {
    const logo = slidePic(PLACED.replaceAll('914400', '0'));
    const title =
      '<p:sp><p:nvSpPr><p:cNvPr id="2" name="t"/><p:cNvSpPr/><p:nvPr><p:ph type="title"/></p:nvPr></p:nvSpPr><p:spPr/><p:txBody><a:p><a:r><a:t>Opening </a:t></a:r><a:r><a:t>day</a:t></a:r></a:p></p:txBody></p:sp>';
    const file = openFile(await buildDeck([title + slidePic(PLACED, '', ' descr="A pot"'), slidePic(PLACED)], logo));
    expect(file.format).toBe('pptx');
    expect(file.pages).toBe(2);
    expect(file.pictures.map((p) => [p.where.place, p.where.page])).toEqual([
      ['slide', 1],
      ['slide', 2],
      ['layout', null],
    ]);
    expect(file.pictures[0]!.where.part).toBe('ppt/slides/slide2.xml');
    expect(file.pictures[0]!.where.near).toBe('Opening day');
    expect(file.pictures[0]!.frame).toMatchObject({
      alt: 'A pot',
      flow: 'floating',
      box: { x: 72, y: 72, width: 216, height: 144 },
    });
    expect(file.save(file.pictures.map((p) => p.frame))).toEqual(file.save([]));
  });

  test('a circle is a preset of equal sides about the same middle, with crop and line, and comes back so', async () => {
    const bytes = await buildDeck([slidePic(PLACED)]);
    const file = openFile(bytes);
    const want = circled(file);
    const saved = file.save([want]);
    const root = parseXml(part(saved, 'ppt/slides/slide1.xml'), 'x');
    const [off, ext] = [find(root, 'off')[0]!.attributes, find(root, 'ext')[0]!.attributes];
    // 3 × 2 in at 1 in: the circle is 2 × 2 in, half an inch further right.
    expect([off['x'], off['y'], ext['cx'], ext['cy']]).toEqual(['1371600', '914400', '1828800', '1828800']);
    expect(find(root, 'prstGeom')[0]!.attributes['prst']).toBe('ellipse');
    // Of 3 : 2 a square keeps two thirds: a sixth goes on each side (§20.1.8.55, 1/1000 %).
    expect(find(root, 'srcRect')[0]!.attributes).toEqual({ l: '16667', r: '16667' });
    expect(find(root, 'ln')[0]!.attributes['w']).toBe('76200');
    const again = openFile(saved).pictures[0]!.frame;
    expect(again.shape.name).toBe('circle');
    expect(again.box).toEqual(want.box);
    expect(again.outline).toEqual(want.outline);
  });

  test('in a group that scales, the picture has its size and place on the slide, and is written in the group’s own', async () => {
    const group = (inner: string): string =>
      `<p:grpSp><p:nvGrpSpPr/><p:grpSpPr><a:xfrm><a:off x="1000000" y="500000"/><a:ext cx="2000000" cy="4000000"/><a:chOff x="100" y="200"/><a:chExt cx="1000000" cy="1000000"/></a:xfrm></p:grpSpPr>${inner}</p:grpSp>`;
    const inner =
      '<a:xfrm><a:off x="100100" y="100200"/><a:ext cx="500000" cy="250000"/></a:xfrm><a:prstGeom prst="rect"><a:avLst/></a:prstGeom>';
    const file = openFile(await buildDeck([group(slidePic(inner))]));
    const { frame } = file.pictures[0]!;
    const emu = (v: number): number => Math.round(v * 12_700);
    // x: 1,000,000 + (100,100 − 100) · 2; y: 500,000 + (100,200 − 200) · 4; each side likewise.
    expect([frame.box.x, frame.box.y, frame.box.width, frame.box.height].map(emu)).toEqual([
      1_200_000, 900_000, 1_000_000, 1_000_000,
    ]);
    const moved = { ...frame, box: { ...frame.box, x: frame.box.x + 200_000 / 12_700, width: 800_000 / 12_700 } };
    const root = parseXml(part(file.save([moved]), 'ppt/slides/slide1.xml'), 'x');
    const xfrm = descend(find(root, 'pic')[0], 'spPr', 'xfrm')!;
    expect(descend(xfrm, 'off')!.attributes).toEqual({ x: '200100', y: '100200' });
    expect(descend(xfrm, 'ext')!.attributes).toEqual({ cx: '400000', cy: '250000' });
  });

  test('a placeholder takes box, shape and line from its layout; what changes is written on the slide', async () => {
    const ph = '<p:ph type="pic" idx="13"/>';
    const layout = `<p:sp><p:nvSpPr><p:cNvPr id="9" name="h"/><p:cNvSpPr/><p:nvPr>${ph}</p:nvPr></p:nvSpPr><p:spPr><a:xfrm><a:off x="127000" y="254000"/><a:ext cx="1270000" cy="1270000"/></a:xfrm><a:prstGeom prst="ellipse"><a:avLst/></a:prstGeom><a:ln w="25400"><a:solidFill><a:schemeClr val="accent1"/></a:solidFill></a:ln></p:spPr></p:sp>`;
    const file = openFile(await buildDeck([slidePic('', ph)], layout));
    expect(file.pictures).toHaveLength(1);
    const { frame } = file.pictures[0]!;
    expect(frame).toMatchObject({
      box: { x: 10, y: 20, width: 100, height: 100 },
      shape: { name: 'circle' },
      outline: { weight: 2, paint: { colour: '#336699' } },
    });
    const wide = { ...frame, box: { ...frame.box, width: 150 } };
    const spPr = find(parseXml(part(file.save([wide]), 'ppt/slides/slide1.xml'), 'x'), 'spPr')[0]!;
    expect(spPr.children.map((c) => c.local)).toEqual(['xfrm']);
    expect(descend(spPr, 'xfrm', 'off')!.attributes).toEqual({ x: '127000', y: '254000' });
    expect(descend(spPr, 'xfrm', 'ext')!.attributes).toEqual({ cx: '1905000', cy: '1270000' });
    const moved = { ...frame, box: { ...frame.box, y: 30 } };
    expect(openFile(file.save([moved])).pictures[0]!.frame.box).toEqual(moved.box);
    // Moved and resized at once, it gets one transform, not two (CT_ShapeProperties, §20.1.2.2.35).
    const both = { ...frame, box: { x: 15, y: 30, width: 90, height: 90 } };
    const saved = file.save([both]);
    expect(part(saved, 'ppt/slides/slide1.xml').match(/<a:xfrm/g)).toHaveLength(1);
    expect(openFile(saved).pictures[0]!.frame.box).toEqual(both.box);
  });

  test('a shape that is filled with a picture is a picture; its fill is cropped in place', async () => {
    const sp = `<p:sp><p:nvSpPr><p:cNvPr id="5" name="s"/><p:cNvSpPr/><p:nvPr/></p:nvSpPr><p:spPr><a:xfrm><a:off x="0" y="0"/><a:ext cx="1270000" cy="1270000"/></a:xfrm><a:prstGeom prst="hexagon"><a:avLst/></a:prstGeom><a:blipFill><a:blip r:embed="rId1"/><a:srcRect l="10000"/><a:stretch/></a:blipFill></p:spPr><p:style><a:lnRef idx="2"><a:srgbClr val="445566"/></a:lnRef><a:fillRef idx="1"/><a:effectRef idx="0"/><a:fontRef idx="minor"/></p:style><p:txBody><a:p/></p:txBody></p:sp>`;
    const file = openFile(await buildDeck([sp]));
    expect(file.pictures[0]!.frame).toMatchObject({
      shape: { name: 'hexagon' },
      outline: { weight: 1, paint: { colour: '#445566' } },
    });
    const spPr = find(parseXml(part(file.save([circled(file)]), 'ppt/slides/slide1.xml'), 'x'), 'spPr')[0]!;
    // CT_ShapeProperties, §20.1.2.2.35: transform, geometry, fill, line.
    expect(spPr.children.map((c) => c.local)).toEqual(['xfrm', 'prstGeom', 'blipFill', 'ln']);
    // The view's middle was at 55 % of the width and stays there; a square keeps two thirds of it.
    expect(find(spPr, 'srcRect')[0]!.attributes).toEqual({ l: '21667', r: '11667' });
  });

  describe('what a shape takes from the theme it refers to (ISO/IEC 29500-1 §20.1.4.2)', () => {
    const A = 'xmlns:a="http://schemas.openxmlformats.org/drawingml/2006/main"';
    const line = (w: number, inner = ''): string =>
      `<a:ln w="${w}" cap="rnd"><a:solidFill><a:schemeClr val="phClr">${inner}</a:schemeClr></a:solidFill><a:prstDash val="dash"/><a:round/></a:ln>`;
    const theme = `<a:theme ${A}><a:themeElements><a:clrScheme name="x"><a:dk1><a:srgbClr val="101010"/></a:dk1><a:lt1><a:srgbClr val="F0F0F0"/></a:lt1><a:accent1><a:srgbClr val="336699"/></a:accent1></a:clrScheme><a:fmtScheme name="x"><a:lnStyleLst>${line(6350)}${line(25_400, '<a:shade val="50000"/>')}${line(38_100)}</a:lnStyleLst><a:effectStyleLst><a:effectStyle><a:effectLst/></a:effectStyle><a:effectStyle><a:effectLst><a:outerShdw blurRad="63500" dist="25400" dir="5400000"><a:schemeClr val="phClr"><a:alpha val="40000"/></a:schemeClr></a:outerShdw></a:effectLst></a:effectStyle></a:effectStyleLst></a:fmtScheme></a:themeElements></a:theme>`;
    const shape = (properties = '', colour = 'accent1'): string =>
      `<p:sp><p:nvSpPr><p:cNvPr id="5" name="s"/><p:cNvSpPr/><p:nvPr/></p:nvSpPr><p:spPr><a:xfrm><a:off x="0" y="0"/><a:ext cx="1270000" cy="1270000"/></a:xfrm><a:prstGeom prst="hexagon"><a:avLst/></a:prstGeom><a:blipFill><a:blip r:embed="rId1"/><a:stretch/></a:blipFill>${properties}</p:spPr><p:style><a:lnRef idx="2"><a:schemeClr val="${colour}"/></a:lnRef><a:fillRef idx="1"/><a:effectRef idx="2"><a:schemeClr val="${colour}"/></a:effectRef><a:fontRef idx="minor"/></p:style></p:sp>`;
    const deck = async (sp: string, more: Record<string, string> = {}): Promise<FramedFile> =>
      openFile(pack({ ...unzipSync(await buildDeck([sp])), 'ppt/theme/theme1.xml': theme, ...more }));
    const outlineOf = async (sp: string): Promise<Frame['outline']> => (await deck(sp)).pictures[0]!.frame.outline;

    test('its line and shadow, in the colour given with the reference', async () => {
      const { frame } = (await deck(shape())).pictures[0]!;
      expect(frame.outline).toMatchObject({
        weight: 2,
        paint: { colour: '#1a334d', opacity: 1 },
        dash: 'dash',
        join: 'round',
        cap: 'round',
      });
      expect(frame.shadow).toMatchObject({ kind: 'outer', blur: 5, colour: '#336699', opacity: 0.4 });
      expect([frame.shadow!.dx, frame.shadow!.dy]).toEqual([expect.closeTo(0, 6), expect.closeTo(2, 6)]);
    });

    test('what its own line does not say; none stays none', async () => {
      expect(await outlineOf(shape('<a:ln w="12700"/>'))).toMatchObject({
        weight: 1,
        paint: { colour: '#1a334d' },
        dash: 'dash',
      });
      expect(await outlineOf(shape('<a:ln><a:solidFill><a:srgbClr val="FF0000"/></a:solidFill></a:ln>'))).toMatchObject(
        {
          weight: 2,
          paint: { colour: '#ff0000' },
        },
      );
      expect(await outlineOf(shape('<a:ln><a:noFill/></a:ln>'))).toBeNull();
    });

    test('what is taken away or made plain is written beside the reference, and stays so', async () => {
      const file = await deck(shape());
      const { frame } = file.pictures[0]!;
      const bare: Frame = { ...frame, outline: null, shadow: null };
      const saved = file.save([bare]);
      const spPr = find(parseXml(part(saved, 'ppt/slides/slide1.xml'), 'x'), 'spPr')[0]!;
      expect(spPr.children.map((c) => c.local)).toEqual(['xfrm', 'prstGeom', 'blipFill', 'ln', 'effectLst']);
      expect(openFile(saved).pictures[0]!.frame).toMatchObject({ outline: null, shadow: null });
      const plain: Frame = { ...frame, outline: solidOutline(3, '#ffffff') };
      expect(openFile(file.save([plain])).pictures[0]!.frame.outline).toEqual(plain.outline);
      const dashed: Frame = { ...frame, outline: { ...frame.outline!, weight: 5 } };
      expect(openFile(file.save([dashed])).pictures[0]!.frame.outline).toEqual(dashed.outline);
      expect(openFile(file.save([frame])).pictures[0]!.frame).toEqual(frame);
    });

    test('names of colours mean what the master, or the slide itself, says (§19.3.1.6, §19.3.1.7)', async () => {
      const [slideName, masterName] = ['ppt/slides/slide1.xml', 'ppt/slideMasters/slideMaster1.xml'];
      const built = unzipSync(await buildDeck([shape('', 'tx1')]));
      const text = (name: string): string => strFromU8(built[name]!);
      const map = (bg1: string, tx1: string): string =>
        `bg1="${bg1}" tx1="${tx1}" bg2="lt2" tx2="dk2" accent1="accent1" accent2="accent2" accent3="accent3" accent4="accent4" accent5="accent5" accent6="accent6" hlink="hlink" folHlink="folHlink"`;
      const dark = text(masterName).replace('</p:sldMaster>', `<p:clrMap ${map('dk1', 'lt1')}/></p:sldMaster>`);
      const shadowOf = (file: FramedFile): string => file.pictures[0]!.frame.shadow!.colour;
      expect(shadowOf(await deck(shape('', 'tx1')))).toBe('#101010');
      expect(shadowOf(await deck(shape('', 'tx1'), { [masterName]: dark }))).toBe('#f0f0f0');
      const own = text(slideName).replace(
        '</p:sld>',
        `<p:clrMapOvr><a:overrideClrMapping ${map('lt1', 'dk1')}/></p:clrMapOvr></p:sld>`,
      );
      expect(shadowOf(await deck('', { [masterName]: dark, [slideName]: own }))).toBe('#101010');
      const same = text(slideName).replace('</p:sld>', '<p:clrMapOvr><a:masterClrMapping/></p:clrMapOvr></p:sld>');
      expect(shadowOf(await deck('', { [masterName]: dark, [slideName]: same }))).toBe('#f0f0f0');
    });
  });

  test('the stand-in picture of an embedded object is left alone', async () => {
    const frame = `<p:graphicFrame><a:graphic><a:graphicData><p:oleObj>${slidePic(PLACED)}</p:oleObj></a:graphicData></a:graphic></p:graphicFrame>`;
    expect(openFile(await buildDeck([frame])).pictures).toHaveLength(0);
  });

  test('a deck written by another library: every picture, its crop and its size', async () => {
    const picture = Buffer.from(await png(600, 400)).toString('base64');
    const script = 'formats/tests/support/write-deck.mjs';
    const bytes = new Uint8Array(execFileSync(process.execPath, [script, picture], { maxBuffer: 1e8 }));
    const file = openFile(bytes);
    expect(file.pictures.map((p) => [p.where.page, p.frame.shape.name, p.frame.turn])).toEqual([
      [1, 'rectangle', 0],
      [1, 'circle', 0],
      [2, 'rectangle', 15],
    ]);
    expect(file.pictures[0]!.frame).toMatchObject({
      alt: 'Six by four',
      box: { x: 72, y: 36, width: 216, height: 144 },
    });
    const saved = file.save(file.pictures.map((p) => circled(file, p.n)));
    const again = openFile(saved);
    expect(again.pictures.map((p) => p.frame.shape.name)).toEqual(['circle', 'circle', 'circle']);
    expect(again.pictures.every((p) => Math.abs(p.frame.placement.distortion - 1) < 1e-3)).toBe(true);
    const names = (b: Uint8Array): string[] => Object.keys(unzipSync(b));
    expect(names(saved)).toEqual(names(bytes));
    for (const name of names(bytes))
      if (!/slides\/slide\d\.xml$/.test(name)) expect(unzipSync(saved)[name]).toEqual(unzipSync(bytes)[name]);
  });
});
