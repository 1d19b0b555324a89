/**
 * What is drawn on slides and not edited: in a deck that `pptxgenjs` writes, with its own inches and points; styles of tables by hand
 * (ISO/IEC 29500-1 §20.1.4.2.27).
 */
import { textBoxOf, type ForeignItem, type FramedItem, type Item, type Mark } from '@gable/core';
import { execFileSync } from 'node:child_process';
import path from 'node:path';
import { openFile } from '../src/index';
import { buildDeck } from './support/deck';

const itemsOf = (bytes: Uint8Array): Item[] => Object.values(openFile(bytes).document.items);
const foreign = (items: readonly Item[], what: ForeignItem['what']): ForeignItem[] =>
  items.filter((i): i is ForeignItem => i.kind === 'foreign' && i.what === what);

test('a table with its cells, a line with its tip, words within an oval, a chart as a plate', () => {
  const script = path.join(__dirname, 'support/drawn-deck.mjs');
  const items = itemsOf(new Uint8Array(execFileSync(process.execPath, [script], { maxBuffer: 1e8 })));
  const [table] = foreign(items, 'table');
  const boxes = table!.preview!.map(({ box }) => [box.x, box.y, box.width, box.height].map((v) => Math.round(v) / 72));
  expect(boxes).toEqual([
    [1, 0.5, 2, 0.5],
    [3, 0.5, 3, 0.5],
    [1, 1, 2, 0.75],
    [3, 1, 3, 0.75],
    [1, 1.75, 5, 1],
  ]);
  const line = { weight: 2, colour: '#b5482a' };
  expect(table!.preview![0]).toMatchObject({
    fill: '#2f4a4a',
    edges: { top: line, right: line, bottom: line, left: line },
    words: {
      paragraphs: [{ align: 'centre', runs: [{ text: 'Glaze', weight: 700, size: 14, paint: { colour: '#ffffff' } }] }],
    },
  });
  expect(table!.preview![3]!.words!.paragraphs[0]).toMatchObject({
    align: 'end',
    runs: [{ text: '1280', italic: true, size: 20 }],
  });
  expect(table!.preview![4]!.words!.anchor).toBe('bottom');

  const [arrow] = foreign(items, 'connector');
  expect(arrow!.flip.vertical).toBe(true);
  expect(arrow!.look).toMatchObject({
    outline: { weight: 3, dash: 'dash', paint: { colour: '#b5482a' } },
    tips: { start: false, end: true },
  });
  // From the oval’s box as far as half of a right angle lets it.
  const oval = items.find((i): i is FramedItem => i.kind === 'framed' && i.text !== null)!;
  expect(textBoxOf(oval.at.box, oval).width).toBeCloseTo(2.5 * 72 * Math.SQRT1_2, 1);
  expect(foreign(items, 'chart')[0]!.preview![0]!.text).toBe('Chart');
});

test('a table takes fills, lines and bold from its style, and what it says itself comes first', async () => {
  const part = (name: string, colour: string, more = ''): string =>
    `<a:${name}><a:tcTxStyle${more}/><a:tcStyle><a:tcBdr><a:insideH><a:ln w="25400"><a:solidFill><a:srgbClr val="0000FF"/></a:solidFill></a:ln></a:insideH></a:tcBdr><a:fill><a:solidFill><a:srgbClr val="${colour}"/></a:solidFill></a:fill></a:tcStyle></a:${name}>`;
  const style = `<a:tableStyle>${part('wholeTbl', 'FFFFFF')}${part('band1H', 'EEEEEE')}${part('firstRow', '112233', ' b="on"')}</a:tableStyle>`;
  const cell = (text: string, tcPr = ''): string =>
    `<a:tc><a:txBody><a:bodyPr/><a:p><a:r><a:t>${text}</a:t></a:r></a:p></a:txBody>${tcPr}</a:tc>`;
  const own = '<a:tcPr anchor="ctr" marL="0"><a:solidFill><a:srgbClr val="ABCDEF"/></a:solidFill></a:tcPr>';
  const rows = [cell('Head'), cell('One'), cell('Two', own)].map((c) => `<a:tr h="254000">${c}</a:tr>`).join('');
  const frame = `<p:graphicFrame><p:nvGraphicFramePr><p:cNvPr id="7" name="T"/><p:cNvGraphicFramePr/><p:nvPr/></p:nvGraphicFramePr><p:xfrm><a:off x="0" y="0"/><a:ext cx="1270000" cy="762000"/></p:xfrm><a:graphic><a:graphicData uri="http://schemas.openxmlformats.org/drawingml/2006/table"><a:tbl><a:tblPr firstRow="1" bandRow="1">${style}</a:tblPr><a:tblGrid><a:gridCol w="1270000"/></a:tblGrid>${rows}</a:tbl></a:graphicData></a:graphic></p:graphicFrame>`;
  const [table] = foreign(itemsOf(await buildDeck([frame])), 'table');
  const told = table!.preview!.map((m: Mark) => [
    m.fill,
    m.words!.paragraphs[0]!.runs[0]!.weight,
    Object.keys(m.edges ?? {}),
  ]);
  expect(told).toEqual([
    ['#112233', 700, ['bottom']],
    ['#eeeeee', 400, ['top', 'bottom']],
    ['#abcdef', 400, ['top']],
  ]);
  expect(table!.preview![2]!.words).toMatchObject({ anchor: 'middle', inset: { left: 0, top: 3.6 } });
});

test('an object is shown by the picture that the file holds of it, where that can be shown', async () => {
  const object = (rid: string): string =>
    `<p:graphicFrame><p:nvGraphicFramePr><p:cNvPr id="7" name="O"/><p:cNvGraphicFramePr/><p:nvPr/></p:nvGraphicFramePr><p:xfrm><a:off x="0" y="0"/><a:ext cx="1270000" cy="762000"/></p:xfrm><a:graphic><a:graphicData uri="http://schemas.openxmlformats.org/presentationml/2006/ole"><p:oleObj><p:embed/><p:pic><p:nvPicPr/><p:blipFill><a:blip r:embed="${rid}"/></p:blipFill><p:spPr/></p:pic></p:oleObj></a:graphicData></a:graphic></p:graphicFrame>`;
  const file = openFile(await buildDeck([object('rId1') + object('none')]));
  const [shown, plate] = foreign(Object.values(file.document.items), 'object');
  expect(shown!.likeness).toBe(true);
  expect(Buffer.from(file.likeness!(shown!.id)!).subarray(1, 4).toString()).toBe('PNG');
  expect(plate!.likeness).toBeUndefined();
  expect(file.likeness!(plate!.id)).toBeNull();
  expect(plate!.preview![0]!.text).toBe('Object');
});
