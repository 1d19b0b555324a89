/**
 * Words and blocks beside the pictures of sheets: written where their pictures stand, read back, and by others: `officeparser` for
 * the words, the cells that ISO/IEC 29500-1 §20.5.2.24 (oneCellAnchor) counts by.
 */
import { Workbook } from 'exceljs';
import {
  applyAll,
  cellNamed,
  nameOfCell,
  PIECES,
  plainWords,
  resolveTies,
  showingCell,
  wordsInCell,
  type Document,
  type FramedItem,
} from '@gable/core';
import fc from 'fast-check';
import { strFromU8, unzipSync } from 'fflate';
import { readFileSync } from 'node:fs';
import { parseOffice } from 'officeparser';
import { openFile } from '../src/index';
import { png } from './support/build';
import { added, withPiece, WORDS } from './support/pieces';

async function workbook(): Promise<Uint8Array> {
  const book = new Workbook();
  const sheet = book.addWorksheet('Glazes');
  sheet.getCell('A1').value = 'Celadon';
  const image = book.addImage({ buffer: Buffer.from(await png(60, 40)) as unknown as ArrayBuffer, extension: 'png' });
  sheet.addImage(image, { tl: { col: 2, row: 3 }, ext: { width: 160, height: 120 } });
  return new Uint8Array((await book.xlsx.writeBuffer()) as ArrayBuffer);
}
const bytesOf = { xlsx: workbook, ods: async () => new Uint8Array(readFileSync('formats/tests/fixtures/odfpy.ods')) };

const framed = ({ document }: { document: Document }): FramedItem[] =>
  document.pages[0]!.items.map((id) => document.items[id]!).filter((i): i is FramedItem => i.kind === 'framed');
const said = ({ at, fill, outline, text }: FramedItem): unknown => [
  ...[at.box.x, at.box.y, at.box.width, at.box.height].map((v) => Math.round(v * 10) / 10),
  fill?.kind === 'paint' ? fill.paint : fill?.kind,
  outline && [outline.weight, outline.paint],
  text?.paragraphs.map((p) => [p.align, p.runs.map((r) => [r.text, r.size, r.weight >= 600])]),
];

describe.each(['xlsx', 'ods'] as const)('%s', (format) => {
  // A sheet has nothing above its first row: what would reach beyond it is not asked for.
  const reaching = ['band', 'letterhead', 'along'];
  test.each(PIECES.map((p) => p.name).filter((n) => !reaching.includes(n)))(
    '%s stands beside its picture in the order it is shown in, and nothing else is written anew',
    async (name) => {
      const file = openFile(await bytesOf[format]());
      const next = withPiece(file, 1, name);
      const out = file.write(next);
      const again = openFile(out);
      const origin = file.pictures[0]!.origin ?? { x: 0, y: 0 };
      const moved = framed({ document: next }).map((i): FramedItem => {
        const { box } = i.at;
        // What is read counts from the corner of the sheet; pictures count from their cells.
        const own = i.fill?.kind === 'picture' ? box : { ...box, x: box.x + origin.x, y: box.y + origin.y };
        return { ...i, at: { on: 'page', box: own } };
      });
      expect(framed(again).map(said)).toEqual(moved.map(said));
      const [was, is] = [file.write(file.document), out].map((b) => unzipSync(b)) as [
        Record<string, Uint8Array>,
        Record<string, Uint8Array>,
      ];
      const changed = Object.keys(is).filter((n) => strFromU8(is[n]!) !== strFromU8(was[n]!));
      expect(changed).toEqual([format === 'xlsx' ? 'xl/drawings/drawing1.xml' : 'content.xml']);
    },
  );

  test('others find the words', async () => {
    const file = openFile(await bytesOf[format]());
    const out = file.write(withPiece(file, 1, 'name-beside'));
    // Of workbooks it reads the cells alone: there the words are in text runs of a shape (ISO/IEC 29500-1 §20.5.2.33, §21.1.2.3.11).
    const text =
      format === 'ods'
        ? (await parseOffice(Buffer.from(out))).toText()
        : (/<xdr:txBody>.*?<a:t>([^<]*)<\/a:t>/s.exec(strFromU8(unzipSync(out)['xl/drawings/drawing1.xml']!))?.[1] ??
          '');
    expect(text).toContain(WORDS.name);
  });
});

test('in a workbook a shape begins in the cell that it lies in', async () => {
  const file = openFile(await bytesOf.xlsx());
  const xml = strFromU8(unzipSync(file.write(withPiece(file, 1, 'name-below')))['xl/drawings/drawing1.xml']!);
  const [, column, row] =
    /<xdr:oneCellAnchor[^>]*><xdr:from><xdr:col>(\d+)<\/xdr:col>.*?<xdr:row>(\d+)<\/xdr:row>(?=.*?<xdr:sp )/s.exec(
      xml.slice(xml.indexOf('</xdr:pic>')),
    )!;
  // 120 px below row 4, at 20 px a row (15 pt, ISO/IEC 29500-1 §18.3.1.81, common practice): row 10, from 0; a little
  // wider than its picture, it begins a column before it.
  expect([Number(column), Number(row)]).toEqual([1, 9]);
});

describe('words show a cell', () => {
  test('its name is the one that others have for it, with its sheet and its signs', () => {
    const sheet = new Workbook().addWorksheet('One');
    fc.assert(
      fc.property(fc.integer({ min: 0, max: 16_383 }), fc.integer({ min: 0, max: 999 }), (column, row) => {
        const { address } = sheet.getCell(row + 1, column + 1);
        expect(nameOfCell({ sheet: null, column, row })).toBe(address);
        expect(cellNamed(address)).toEqual({ sheet: null, column, row });
      }),
    );
    const cell = { sheet: "Odd's kilns", column: 27, row: 3 };
    expect(nameOfCell(cell, true)).toBe("'Odd''s kilns'!$AB$4");
    expect(cellNamed("'Odd''s kilns'!$AB$4")).toEqual(cell);
    expect(cellNamed('Glazes!b2')).toEqual({ sheet: 'Glazes', column: 1, row: 1 });
    // The last cell of a sheet is XFD1048576 (common practice).
    expect(cellNamed('XFD1048576')).toEqual({ sheet: null, column: 16_383, row: 1_048_575 });
    for (const none of ['', 'B', '4', 'B0', 'XFE1', 'A1048577', 'B4:C5', 'Total', 'a b!B2'])
      expect(cellNamed(none)).toBeNull();
  });

  const shown = async (
    cell: string,
  ): Promise<{ out: Uint8Array; again: ReturnType<typeof openFile>; next: Document }> => {
    const file = openFile(await bytesOf.xlsx());
    const made = withPiece(file, 1, 'figure-panel');
    const figure = added(made).find((i) => i.text !== null)!;
    const name = cellNamed(cell)!;
    const said = wordsInCell(made, made.pages[0]!, file.sheets[0]!.lines!, name);
    const { item, below } = showingCell(figure, { cell, said }, () => 'add-below');
    const slot = { in: { page: made.pages[0]!.id }, index: made.pages[0]!.items.indexOf(figure.id) + 1 };
    const { document } = applyAll(made, [
      { op: 'set', id: item.id, path: 'text', value: item.text },
      { op: 'set', id: item.id, path: 'tie', value: item.tie },
      { op: 'set', id: item.id, path: 'at', value: item.at },
      { op: 'add', item: below!, slot },
    ]);
    const next = resolveTies(document);
    const out = file.write(next);
    return { out, again: openFile(out), next };
  };

  test('as a field that is linked to it: the figure alone, its label below; read again it is the same', async () => {
    const { out, again, next } = await shown('A1');
    const words = framed(again).flatMap((i) => (i.text ? [[plainWords(i.text), i.text.cell]] : []));
    expect(words.slice(0, 2)).toEqual([
      ['Celadon', 'A1'],
      [WORDS.figures[0]![1], undefined],
    ]);
    // §20.5.2.29, textlink; §21.1.2.2.4, fld with an id as ST_Guid has it (§22.9.2.4).
    const xml = strFromU8(unzipSync(out)['xl/drawings/drawing1.xml']!);
    expect(xml).toMatch(
      /<xdr:sp macro="" textlink="'Glazes'!\$A\$1">.*?<a:fld id="\{[0-9A-F]{8}(-[0-9A-F]{4}){3}-[0-9A-F]{12}\}" type="TxLink"><a:rPr[^>]*>.*?<\/a:rPr><a:t>Celadon<\/a:t><\/a:fld>/s,
    );
    expect(xml.match(/<a:fld /g)).toHaveLength(1);
    const [figure] = added(next).filter((i) => i.text?.cell);
    const label = added(next).find((i) => i.id === 'add-below');
    expect(label!.at.box.y).toBeCloseTo(figure!.at.box.y + figure!.at.box.height, 6);
    expect(label!.at.box.width).toBeCloseTo(figure!.at.box.width, 6);
    expect(Buffer.compare(again.write(again.document), Buffer.from(out))).toBe(0);
  });

  test('of another sheet the words stay until the workbook is reckoned anew; without a cell they are plain', async () => {
    const { again } = await shown("'Two words'!B2");
    const linked = framed(again).find((i) => i.text?.cell)!;
    expect([linked.text!.cell, plainWords(linked.text!)]).toEqual(["'Two words'!B2", WORDS.figures[0]![0]]);
    const file = openFile(await bytesOf.xlsx());
    const [name] = added(withPiece(file, 1, 'name-below'));
    const { item } = showingCell(name!, { cell: 'b2', said: '7' }, () => 'add-x');
    expect([item.text!.cell, plainWords(item.text!)]).toEqual(['B2', '7']);
    const plain = showingCell(item, { cell: null, said: '' }, () => 'add-x').item.text!;
    expect(['cell' in plain, plainWords(plain)]).toEqual([false, '7']);
    expect(() => showingCell(name!, { cell: 'Total', said: '' }, () => 'add-x')).toThrow(/is not a cell/);
  });
});
