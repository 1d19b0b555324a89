/**
 * Shapes and words of workbooks that look otherwise: only what says so is written. Attributes and orders of elements by
 * ISO/IEC 29500-1 §20.5.2.33 (twoCellAnchor), §20.5.2.24 (oneCellAnchor) and ODF 1.2 Part 1 §19.594 (table:end-cell-address).
 */
import { applyAll, toEmu, type Document, type FramedItem, type Operation, type Paint } from '@gable/core';
import { strFromU8, unzipSync } from 'fflate';
import { openFile, type Source } from '../src/index';
import { buildWorkbook, sheetPic } from './support/deck';
import { buildOpen, graphicStyle } from './support/open';

const solid = (colour: string): Paint => ({ kind: 'solid', colour, opacity: 1 });
const marker = (name: string, col: number, row: number): string =>
  `<xdr:${name}><xdr:col>${col}</xdr:col><xdr:colOff>0</xdr:colOff><xdr:row>${row}</xdr:row><xdr:rowOff>0</xdr:rowOff></xdr:${name}>`;
const anchored = (object: string, col: number): string =>
  `<xdr:twoCellAnchor>${marker('from', col, 2)}${marker('to', col + 3, 6)}${object}<xdr:clientData/></xdr:twoCellAnchor>`;
const shape = (link: string): string =>
  `<xdr:sp macro="" textlink="${link}"><xdr:nvSpPr><xdr:cNvPr id="5" name="s"/><xdr:cNvSpPr/></xdr:nvSpPr><xdr:spPr><a:xfrm><a:off x="0" y="0"/><a:ext cx="1828800" cy="762000"/></a:xfrm><a:prstGeom prst="ellipse"><a:avLst/></a:prstGeom><a:solidFill><a:srgbClr val="F4F0E7"/></a:solidFill></xdr:spPr>` +
  '<xdr:txBody><a:bodyPr/><a:p><a:r><a:rPr lang="en-GB" sz="1400"/><a:t>12 bowls</a:t></a:r></a:p></xdr:txBody></xdr:sp>';
const PICTURE = sheetPic('<a:ext cx="1828800" cy="762000"/>');

const ROWS =
  '<table:table table:name="Glazes"><table:table-column/><table:table-row><table:table-cell/></table:table-row>' +
  '<table:table-row><table:table-cell/><table:table-cell>';
const oval =
  '<draw:custom-shape draw:style-name="S" table:end-cell-address="Glazes.D9" table:end-x="3mm" table:end-y="1mm" svg:x="10pt" svg:y="4pt" svg:width="144pt" svg:height="60pt">' +
  '<text:p>12 bowls</text:p><draw:enhanced-geometry draw:type="ellipse" svg:viewBox="0 0 21600 21600" draw:enhanced-path="U 10800 10800 10800 10800 0 360 Z N"/></draw:custom-shape>';

const kinds = {
  xlsx: () => buildWorkbook(anchored(shape(''), 1) + anchored(PICTURE, 6)),
  ods: () =>
    buildOpen({
      ...{ kind: 'spreadsheet', body: `${ROWS}${oval}</table:table-cell></table:table-row></table:table>` },
      styles: graphicStyle('S', 'draw:fill="solid" draw:fill-color="#f4f0e7"'),
    }),
} as const;
const shapeOf = ({ document }: Source): FramedItem =>
  Object.values(document.items).find((i) => i.kind === 'framed' && i.text !== null) as FramedItem;
const changed = (file: Source, ...sets: readonly [path: string, value: unknown][]): Document =>
  applyAll(
    file.document,
    sets.map(([path, value]): Operation => ({ op: 'set', id: shapeOf(file).id, path, value })),
  ).document;
const partsIn = (bytes: Uint8Array): Record<string, string> =>
  Object.fromEntries(Object.entries(unzipSync(bytes)).map(([name, data]) => [name, strFromU8(data)]));
const differing = (a: Uint8Array, b: Uint8Array): string[] => {
  const [was, is] = [partsIn(a), partsIn(b)];
  return Object.keys(is).filter((name) => was[name] !== is[name]);
};

describe.each(['xlsx', 'ods'] as const)('a shape of an .%s', (format) => {
  const part = format === 'xlsx' ? 'xl/drawings/drawing1.xml' : 'content.xml';

  test('gets another colour, a line and words in another look; all else is as it was', async () => {
    const bytes = await kinds[format]();
    const file = openFile(bytes);
    const { text } = shapeOf(file);
    const outline = { paint: solid('#b5482a'), weight: 2, side: 'on', dash: 'solid', join: 'round', cap: 'butt' };
    const next = changed(
      file,
      ['fill', { kind: 'paint', paint: solid('#22302f') }],
      ['outline', outline],
      [
        'text',
        {
          ...text!,
          paragraphs: text!.paragraphs.map((p) => ({
            ...p,
            runs: p.runs.map((r) => ({ ...r, size: 20, paint: solid('#ffffff') })),
          })),
        },
      ],
    );
    const out = file.write(next);
    expect(differing(bytes, out)).toEqual([part]);
    const again = openFile(out);
    const [was, is] = [next.items[shapeOf(file).id] as FramedItem, shapeOf(again)];
    expect(is.fill).toEqual(was.fill);
    expect(is.outline).toMatchObject({ paint: solid('#b5482a'), weight: 2 });
    expect(is.text).toEqual(was.text);
    expect(is.at).toEqual(shapeOf(file).at);
    const others = (d: Document, id: string): unknown => Object.values(d.items).filter((i) => i.id !== id);
    expect(others(again.document, is.id)).toEqual(others(file.document, was.id));
    // Back as it was, not a byte is another.
    expect(file.write(file.document)).toEqual(bytes);
  });

  test('is moved and sized where it stands: in its cell, with its size exact', async () => {
    const file = openFile(await kinds[format]());
    const { at } = shapeOf(file);
    const box = { x: at.box.x + 12, y: at.box.y + 6, width: at.box.width - 20, height: at.box.height + 8 };
    const out = file.write(changed(file, ['at', { ...at, box }]));
    const now = shapeOf(openFile(out)).at.box;
    for (const side of ['x', 'y', 'width', 'height'] as const) expect(now[side]).toBeCloseTo(box[side], 2);
    const xml = partsIn(out)[part]!;
    if (format === 'xlsx') {
      expect(xml).toContain(`<xdr:ext cx="${toEmu(box.width)}" cy="${toEmu(box.height)}"/>`);
      expect(xml.match(/<xdr:(two|one)CellAnchor/g)).toEqual(['<xdr:oneCellAnchor', '<xdr:twoCellAnchor']);
    } else {
      // From its cell, whose end no longer says how large it is.
      expect(xml).toMatch(/svg:x="(22pt|7\.76\d*mm|0\.776\d*cm)"/);
      expect(xml).not.toContain('table:end-');
    }
  });

  test('other words, and taking it out, are refused', async () => {
    const file = openFile(await kinds[format]());
    const { id, text } = shapeOf(file);
    const paragraphs = text!.paragraphs.map((p) => ({ ...p, runs: p.runs.map((r) => ({ ...r, text: 'Others' })) }));
    expect(() => file.write(changed(file, ['text', { ...text!, paragraphs }]))).toThrow(/but not be others/);
    expect(() => file.write(applyAll(file.document, [{ op: 'remove', id }]).document)).toThrow();
  });
});

test('a shape that shows a cell goes on showing it', async () => {
  const file = openFile(await buildWorkbook(anchored(shape('B4'), 1) + anchored(PICTURE, 6)));
  const out = file.write(changed(file, ['fill', { kind: 'paint', paint: solid('#22302f') }]));
  expect(shapeOf(openFile(out)).text!.cell).toBe('B4');
  expect(partsIn(out)['xl/drawings/drawing1.xml']).toContain('textlink="B4"');
});
