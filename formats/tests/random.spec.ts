/**
 * Pictures put in and taken out again and pages moved, in any order: what was put in is there, and nothing else; the words stay,
 * and so do the pictures that were there. On files of the demo and of others: `docx`, `exceljs`, `pptxgenjs`, python-docx, odfpy.
 */
import {
  applyAll,
  itemIdOf,
  newPicture,
  ON_PAGE,
  plainWords,
  type Document,
  type Holder,
  type Position,
} from '@gable/core';
import { Document as DocxDocument, Packer, Paragraph, Table, TableCell, TableRow } from 'docx';
import ExcelJs from 'exceljs';
import fc from 'fast-check';
import { execFileSync } from 'node:child_process';
import { readFileSync } from 'node:fs';
import path from 'node:path';
import { CAPABILITIES, openFile, type ReplacementImage, type Source } from '../src/index';
import { TILE, tileImage } from './support/tile';

let image: ReplacementImage;
beforeAll(async () => {
  image = await tileImage();
});

const file = (name: string) => (): Uint8Array => new Uint8Array(readFileSync(name));
const FILES: Record<string, () => Uint8Array | Promise<Uint8Array>> = {
  'the handbook': file('demo/files/season-handbook.docx'),
  'the talk': file('demo/files/open-day-talk.pptx'),
  'the board': file('demo/files/firing-day-board.svg'),
  'the site': file('demo/files/visit-us.zip'),
  'python-docx': file('formats/tests/fixtures/python-docx.docx'),
  'odfpy, a text': file('formats/tests/fixtures/odfpy.odt'),
  'odfpy, a presentation': file('formats/tests/fixtures/odfpy.odp'),
  'odfpy, a spreadsheet': file('formats/tests/fixtures/odfpy.ods'),
  docx: async () => {
    const words = (text: string): Paragraph => new Paragraph({ text });
    const table = new Table({
      rows: [new TableRow({ children: [new TableCell({ children: [words('In a cell')] })] })],
    });
    const children = [words('First'), table, words('Second, and more words'), words('Third')];
    return new Uint8Array(await Packer.toBuffer(new DocxDocument({ sections: [{ children }] })));
  },
  exceljs: async () => {
    const book = new ExcelJs.Workbook();
    for (const name of ['One', 'Two']) book.addWorksheet(name).getCell('B2').value = `Words of ${name}`;
    return new Uint8Array(await book.xlsx.writeBuffer());
  },
  pptxgenjs: async () => {
    const script = path.join(__dirname, 'support/other-deck.mjs');
    const picture = Buffer.from((await tileImage()).bytes).toString('base64');
    return new Uint8Array(execFileSync(process.execPath, [script, picture], { maxBuffer: 1e8 }));
  },
};

interface Step {
  what: 'put' | 'put' | 'remove' | 'turn';
  a: number;
  b: number;
}
const number = fc.nat(999);
const step: fc.Arbitrary<Step> = fc.record({
  what: fc.constantFrom('put', 'put', 'remove', 'turn'),
  a: number,
  b: number,
});

const BOX = { x: 0, y: 0, width: 90, height: 60 };
const isOurs = (alt: string): boolean => /^Tile \d+$/.test(alt);

/** The words of a file, page by page where it has pages. */
const wordsOf = (source: Source): string[] => {
  const { document } = source;
  const texts = document.stories.flatMap((_, i) => source.blocks?.(i + 1).flatMap((b) => b.words) ?? []);
  const pages = document.pages.map((p) =>
    p.items
      .flatMap((id) => {
        const item = document.items[id]!;
        return item.kind === 'framed' ? plainWords(item.text) : [];
      })
      .join(' '),
  );
  return CAPABILITIES[source.format].insert === 'text' ? source.blocks!(1).map((b) => b.words) : [...pages, ...texts];
};
const withoutEmpty = (words: readonly string[]): string[] =>
  words.map((w) => w.replace(/\s+/g, ' ').trim()).filter(Boolean);
const alts = (source: Source): string[] => source.pictures.map((p) => p.frame.alt);

/** A place for a picture. */
function placeIn(source: Source, { a, b }: Step): { at: Position; holder: (d: Document) => Holder } {
  const { insert } = CAPABILITIES[source.format];
  const page = a % Math.max(1, source.document.pages.length);
  const onPage = (d: Document): Holder => ({ page: d.pages[page]!.id });
  if (insert === 'cell') {
    const start = { row: b % 9, column: a % 5, dx: 3, dy: 2 };
    return {
      at: { on: 'cells', box: BOX, cells: { start, end: null, moves: a % 2 === 0, sizes: false } },
      holder: onPage,
    };
  }
  if (insert === 'page') return { at: { on: 'page', box: { ...BOX, x: b % 300, y: a % 200 } }, holder: onPage };
  const story = insert === 'web' ? a % source.document.stories.length : 0;
  const holder = (d: Document): Holder => ({ story: d.stories.filter((s) => s.kind === 'body')[story]!.id });
  const blocks = source.blocks!(story + 1).filter((x) => x.within === null).length;
  const after = b % (blocks + 1);
  const mine = source.pictures.filter((p) => isOurs(p.frame.alt));
  const beside = mine[b % Math.max(1, mine.length)];
  if (insert === 'web')
    return {
      at: { on: 'element', box: BOX, ...(beside && a % 3 === 0 ? { beside: itemIdOf(beside) } : { after }) },
      holder,
    };
  if (beside && a % 4 === 0) return { at: { on: 'line', box: BOX, beside: itemIdOf(beside) }, holder };
  if (a % 4 === 1) return { at: { on: 'anchor', box: { ...BOX, x: 40, y: 30 }, after, anchor: ON_PAGE }, holder };
  return { at: { on: 'line', box: BOX, after, ...(a % 4 === 2 && after > 0 && { letters: b % 7 }) }, holder };
}

test.each(Object.entries(FILES))('%s', async (_, make) => {
  const bytes = await make();
  const first = openFile(bytes);
  const [words, came] = [withoutEmpty(wordsOf(first)), alts(first)];
  fc.assert(
    fc.property(fc.array(step, { minLength: 2, maxLength: 6 }), (steps) => {
      let source = openFile(bytes);
      let pages = source.document.pages.map((_, i) => i);
      const there = new Set<string>();
      for (const [i, s] of steps.entries()) {
        const mine = source.pictures.filter((p) => isOurs(p.frame.alt));
        if (s.what === 'put') {
          const { at, holder } = placeIn(source, s);
          const to = holder(source.document);
          const index = 'page' in to ? source.document.pages.find((p) => p.id === to.page)!.items.length : 0;
          const item = newPicture('new', at, TILE, `Tile ${i}`);
          const { document } = applyAll(source.document, [{ op: 'add', item, slot: { in: to, index } }]);
          source = openFile(source.write(document, new Map([['new', image]])));
          there.add(item.alt);
        } else if (s.what === 'remove' && mine.length > 0) {
          const gone = mine[s.a % mine.length]!;
          source = openFile(source.write(applyAll(source.document, [{ op: 'remove', id: itemIdOf(gone) }]).document));
          there.delete(gone.frame.alt);
        } else if (s.what === 'turn' && source.withPages) {
          const by = s.a % pages.length;
          const turned = pages.map((__, at) => (at + by) % pages.length);
          source = openFile(source.withPages(turned.map((at) => ({ page: at + 1, as: 'itself' }))).bytes);
          pages = turned.map((at) => pages[at]!);
        }
        expect(alts(source).filter(isOurs).sort()).toEqual([...there].sort());
        expect(
          alts(source)
            .filter((alt) => !isOurs(alt))
            .sort(),
        ).toEqual([...came].sort());
        if (source.withPages && words.length === pages.length)
          expect(withoutEmpty(wordsOf(source))).toEqual(pages.map((at) => words[at]!));
        else expect(withoutEmpty(wordsOf(source)).join(' ')).toBe(words.join(' '));
      }
      const left = source.pictures.filter((p) => isOurs(p.frame.alt)).map(itemIdOf);
      const bare = openFile(
        source.write(
          applyAll(
            source.document,
            left.map((id) => ({ op: 'remove', id })),
          ).document,
        ),
      );
      expect(bare.pictures).toHaveLength(first.pictures.length);
    }),
    { numRuns: 12 },
  );
});
