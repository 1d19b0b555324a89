import ExcelJs from 'exceljs';
import { strFromU8, unzipSync } from 'fflate';
import { toEmu, withShape } from '@gable/core';
import { parseXml } from '../src/index';
import { openFile } from './support/frames';
import { child, type Element } from '../src/xml/located';
import { png } from './support/build';
import { buildWorkbook, sheetPic } from './support/deck';

const drawing = (bytes: Uint8Array): Element =>
  parseXml(strFromU8(unzipSync(bytes)['xl/drawings/drawing1.xml']!), 'x').children[0]!;
const marker = (name: string, col: number, colOff: number, row: number, rowOff: number): string =>
  `<xdr:${name}><xdr:col>${col}</xdr:col><xdr:colOff>${colOff}</xdr:colOff><xdr:row>${row}</xdr:row><xdr:rowOff>${rowOff}</xdr:rowOff></xdr:${name}>`;
const numbers = (e: Element | undefined): number[] => e!.children.map((c) => Number(c.text));
const EXT = '<a:ext cx="1828800" cy="1905000"/>';

describe('workbooks', () => {
  const two = `<xdr:twoCellAnchor editAs="oneCell">${marker('from', 1, 0, 2, 0)}${marker('to', 4, 0, 12, 0)}${sheetPic(EXT)}<xdr:clientData/></xdr:twoCellAnchor>`;

  test('a picture between two cells has the place and the size of the cells', async () => {
    const file = openFile(await buildWorkbook(two));
    const { frame, where } = file.pictures[0]!;
    expect(file.format).toBe('xlsx');
    expect(where).toMatchObject({ place: 'sheet', page: 1, near: 'Glazes' });
    // Columns of 64 px are 48 pt, rows 15 pt (common practice).
    expect(frame.box).toEqual({ x: 48, y: 30, width: 144, height: 150 });
    expect(file.save([frame])).toEqual(file.save([]));
  });

  test('widths of columns and heights of rows count, hidden ones too', async () => {
    const sheet =
      '<sheetFormatPr defaultRowHeight="20"/><cols><col min="2" max="2" width="20.7109375"/><col min="3" max="3" width="9" hidden="1"/></cols>' +
      '<sheetData><row r="3" ht="40" customHeight="1"/></sheetData>';
    const file = openFile(await buildWorkbook(two.replaceAll(/<a:ext[^>]*>/g, ''), sheet));
    // Column B: 20.71 characters of 7 px are 145 px (§18.3.1.13); C is hidden; D is 64 px. Rows 3 to 12: 40 + 9 · 20 pt.
    expect(file.pictures[0]!.frame.box).toEqual({ x: 48, y: 40, width: (145 + 64) * 0.75, height: 220 });
  });

  test('another size ties it to one cell with an exact extent; another place keeps both cells', async () => {
    const file = openFile(await buildWorkbook(two));
    const p = file.pictures[0]!;
    const circle = withShape(p.frame, { name: 'circle', knobs: {} }, p.size);
    const anchor = drawing(file.save([circle]));
    expect(anchor.local).toBe('oneCellAnchor');
    expect(anchor.attributes).toEqual({});
    // CT_OneCellAnchor, §20.5.2.24: from, ext, the object, clientData.
    expect(anchor.children.map((c) => c.local)).toEqual(['from', 'ext', 'pic', 'clientData']);
    expect(child(anchor, 'ext')!.attributes).toEqual({ cx: '1828800', cy: '1828800' });
    // 150 high becomes 144 about the same middle: 3 pt down.
    expect(numbers(child(anchor, 'from'))).toEqual([1, 0, 2, toEmu(3)]);
    const again = openFile(file.save([circle])).pictures[0]!.frame;
    expect(again.box).toEqual(circle.box);
    expect(again.shape.name).toBe('circle');
    const moved = drawing(file.save([{ ...p.frame, box: { ...p.frame.box, x: 100, y: 0 } }]));
    expect(moved.local).toBe('twoCellAnchor');
    expect(numbers(child(moved, 'from'))).toEqual([2, toEmu(4), 0, 0]);
    expect(numbers(child(moved, 'to'))).toEqual([5, toEmu(4), 10, 0]);
  });

  test('a picture at one cell, and one at a place of its own', async () => {
    const one = `<xdr:oneCellAnchor>${marker('from', 0, 12700, 1, 0)}<xdr:ext cx="1270000" cy="635000"/>${sheetPic(EXT)}<xdr:clientData/></xdr:oneCellAnchor>`;
    const free = `<xdr:absoluteAnchor><xdr:pos x="127000" y="254000"/><xdr:ext cx="1270000" cy="635000"/>${sheetPic(EXT)}<xdr:clientData/></xdr:absoluteAnchor>`;
    const file = openFile(await buildWorkbook(one + free));
    expect(file.pictures.map((p) => p.frame.box)).toEqual([
      { x: 1, y: 15, width: 100, height: 50 },
      { x: 10, y: 20, width: 100, height: 50 },
    ]);
    const box = { x: 33, y: 44, width: 70, height: 70 };
    const saved = openFile(file.save(file.pictures.map((p) => ({ ...p.frame, box }))));
    expect(saved.pictures.map((p) => p.frame.box)).toEqual([box, box]);
  });

  test('a workbook written by another library', async () => {
    const book = new ExcelJs.Workbook();
    const sheet = book.addWorksheet('One');
    const id = book.addImage({ base64: Buffer.from(await png(600, 400)).toString('base64'), extension: 'png' });
    sheet.addImage(id, { tl: { col: 1, row: 1 }, ext: { width: 300, height: 200 } });
    sheet.addImage(id, 'F6:I16');
    const bytes = new Uint8Array(await book.xlsx.writeBuffer());
    const file = openFile(bytes);
    expect(file.pictures).toHaveLength(2);
    // 300 × 200 px at 96 to the inch.
    expect(file.pictures[0]!.frame.box).toMatchObject({ width: 225, height: 150 });
    const saved = file.save(file.pictures.map((p) => withShape(p.frame, { name: 'circle', knobs: {} }, p.size)));
    expect(openFile(saved).pictures.map((p) => p.frame.shape.name)).toEqual(['circle', 'circle']);
    const other = new ExcelJs.Workbook();
    await other.xlsx.load(saved.slice().buffer);
    expect(other.getWorksheet('One')!.getImages()).toHaveLength(2);
  });
});
