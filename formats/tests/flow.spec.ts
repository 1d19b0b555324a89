import { readFileSync } from 'node:fs';
import { buildDocument, anchored, inlined } from './support/build';
import { openFile } from './support/frames';

const pages = async (body: string): Promise<(number | null)[]> =>
  openFile(await buildDocument({ body })).pictures.map((p) => p.where.page);
const A4 =
  '<w:sectPr><w:pgSz w:w="11906" w:h="16838"/><w:pgMar w:top="1440" w:bottom="1440" w:left="1440" w:right="1440"/></w:sectPr>';
const text = (letters: number): string => `<w:p><w:r><w:t>${'x'.repeat(letters)}</w:t></w:r></w:p>`;
/** Five inches high: one fits on a sheet of A4 with margins of an inch (9.7 in), and a second does not beside a heading. */
const large = inlined({ cy: 5 * 914_400 });

describe('the page of a picture in a text that was never laid out', () => {
  test('counts the heights of pictures and words before it', async () => {
    expect(await pages(`${large}${large}${large}${A4}`)).toEqual([1, 2, 3]);
    // 40 lines of 14.5 pt leave no room for five inches (360 pt) of 698.
    expect(await pages(`${text(200)}${large}${A4}`)).toEqual([1]);
    expect(await pages(`${Array.from({ length: 40 }, () => text(20)).join('')}${large}${A4}`)).toEqual([2]);
  });
  test('pictures that float take no room; an explicit break begins a page', async () => {
    const floating = anchored({ cy: 5 * 914_400 });
    expect(await pages(`${floating}${floating}${floating}${A4}`)).toEqual([1, 1, 1]);
    const broken = '<w:p><w:r><w:br w:type="page"/></w:r></w:p>';
    expect(await pages(`${inlined()}${broken}${inlined()}${A4}`)).toEqual([1, 2]);
  });
  test('a layout that is noted in the file is believed', async () => {
    const noted = '<w:p><w:r><w:lastRenderedPageBreak/></w:r></w:p>';
    expect(await pages(`${large}${large}${noted}${large}${A4}`)).toEqual([1, 1, 2]);
    const handbook = openFile(new Uint8Array(readFileSync('demo/files/season-handbook.docx')));
    expect(handbook.pictures.at(-1)!.where.page).toBeNull();
  });
});
