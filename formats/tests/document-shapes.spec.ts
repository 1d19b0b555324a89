/** Shapes in text documents, ours and those of others. */
import { area, difference, doubleArea, findShape, flatten, framePath, SHAPES, withShape } from '@gable/core';
import { parseXml } from '../src/index';
import { openFile } from './support/frames';
import { child, descend } from '../src/xml/located';
import { buildDocument, inlined } from './support/build';
import { part, rezip } from './support/word';

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
