/**
 * Words and blocks beside the pictures of sheets: written where their pictures stand, read back, and by others: `officeparser` for
 * the words, the cells that ISO/IEC 29500-1 §20.5.2.24 (oneCellAnchor) counts by.
 */
import { Workbook } from 'exceljs';
import { PIECES, type Document, type FramedItem } from '@gable/core';
import { strFromU8, unzipSync } from 'fflate';
import { readFileSync } from 'node:fs';
import { parseOffice } from 'officeparser';
import { openFile } from '../src/index';
import { png } from './support/build';
import { withPiece, WORDS } from './support/pieces';

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
