/**
 * `open(write(d))` is `d`, but for what `fidelity(d)` said, for random operations on every demo file and on files that other
 * programs wrote: `docx`, `pptxgenjs` and `exceljs` here, python-docx and odfpy before (`fixtures/make.py`).
 */
import {
  applyAll,
  changesOf,
  checkDocument,
  equal,
  frameOfItem,
  slotOf,
  solidOutline,
  withFrame,
  withShape,
  type Document,
  type Frame,
  type ItemId,
  type Operation,
  type PictureItem,
  type Position,
} from '@gable/core';
import { Document as DocxDocument, ImageRun, Packer, Paragraph, TextRun } from 'docx';
import ExcelJs from 'exceljs';
import fc from 'fast-check';
import { execFileSync } from 'node:child_process';
import { readFileSync } from 'node:fs';
import path from 'node:path';
import { CAPABILITIES, openFile, type ReplacementImage, type Source } from '../src/index';
import { png } from './support/build';
import { shown } from './support/shown';

const size = { width: 60, height: 40 };
let picture: Uint8Array;

async function byDocx(): Promise<Uint8Array> {
  const image = (width: number, height: number): ImageRun =>
    new ImageRun({ type: 'png', data: Buffer.from(picture), transformation: { width, height } });
  const children = [
    new Paragraph({ children: [new TextRun('A bowl'), image(120, 80)] }),
    new Paragraph({ children: [image(90, 90)] }),
  ];
  return new Uint8Array(await Packer.toBuffer(new DocxDocument({ sections: [{ children }] })));
}

function byPptxgenjs(): Uint8Array {
  const script = path.join(__dirname, 'support/other-deck.mjs');
  const data = Buffer.from(picture).toString('base64');
  return new Uint8Array(execFileSync(process.execPath, [script, data], { maxBuffer: 10e6 }));
}

async function byExceljs(): Promise<Uint8Array> {
  const book = new ExcelJs.Workbook();
  const sheet = book.addWorksheet('Glazes');
  sheet.getCell('A1').value = 'Celadon';
  const id = book.addImage({ buffer: Buffer.from(picture) as never, extension: 'png' });
  sheet.addImage(id, { tl: { col: 1, row: 1 }, ext: { width: 120, height: 80 } });
  sheet.addImage(id, 'E2:G9');
  return new Uint8Array(await book.xlsx.writeBuffer());
}

const fixture = (name: string) => (): Uint8Array => readFileSync(path.join(__dirname, 'fixtures', name));
const demo = (name: string) => (): Uint8Array => readFileSync(`demo/files/${name}`);
const FILES: Readonly<Record<string, () => Uint8Array | Promise<Uint8Array>>> = {
  'the handbook': demo('season-handbook.docx'),
  'the talk': demo('open-day-talk.pptx'),
  'the board': demo('firing-day-board.svg'),
  'the site': demo('visit-us.zip'),
  'a document by docx': byDocx,
  'a document by python-docx': fixture('python-docx.docx'),
  'slides by pptxgenjs': byPptxgenjs,
  'a workbook by exceljs': byExceljs,
  'a text by odfpy': fixture('odfpy.odt'),
  'slides by odfpy': fixture('odfpy.odp'),
  'a spreadsheet by odfpy': fixture('odfpy.ods'),
};

beforeAll(async () => {
  picture = await png(size.width, size.height);
});

const SHAPES = ['circle', 'rounded', 'hexagon', 'star-5', 'heart', 'rectangle'] as const;
/** One change of a frame, as a number chooses it. */
const CHANGES: readonly ((f: Frame, size: Source['pictures'][number]['size'], k: number) => Frame)[] = [
  (f, of, k) => withShape(f, { name: SHAPES[k % SHAPES.length]!, knobs: {} }, of),
  (f, _, k) => ({ ...f, outline: k % 4 === 0 ? null : solidOutline(1 + (k % 9), '#a94124') }),
  (f, _, k) => ({
    ...f,
    shadow:
      k % 4 === 0
        ? null
        : { kind: 'outer', dx: k % 7, dy: 3, blur: 2 * (k % 6), spread: 0, colour: '#22302f', opacity: 0.5 },
  }),
  (f, _, k) => ({ ...f, alt: `Words ${k}` }),
  (f, _, k) => ({ ...f, placement: { ...f.placement, zoom: f.placement.zoom * (1 + (k % 5) / 4) } }),
  (f, _, k) => (f.flow === 'floating' ? { ...f, box: { ...f.box, x: f.box.x + (k % 40), y: f.box.y + (k % 30) } } : f),
  (f, _, k) => ({ ...f, turn: f.flow === 'floating' ? (k * 15) % 360 : f.turn }),
];

type Step = { what: 'set' | 'remove' | 'add'; pick: number; k: number; way: number };

/** Operations on a document, as far as its format can take them. */
function operationsFor(source: Source, document: Document, { what, pick, k, way }: Step, fresh: string): Operation[] {
  const pictures = source.pictures.filter((p) => !p.problem && document.items[`p${p.n}`]);
  const one = pictures[pick % Math.max(1, pictures.length)];
  const { insert } = CAPABILITIES[source.format];
  if (what === 'add' && insert && one) {
    const model = document.items[`p${one.n}`] as PictureItem;
    const inText = insert === 'text' || insert === 'web';
    const page = inText ? undefined : document.pages[pick % document.pages.length];
    const story = inText
      ? document.stories.filter((s) => s.kind === 'body')[pick % (insert === 'web' ? 2 : 1)]
      : undefined;
    if (!page && !story) return [];
    const box = { x: 20 + (k % 50), y: 20, width: 60, height: 60 };
    const start = { row: k % 9, column: pick % 5, dx: k % 7, dy: 2 };
    const at: Record<typeof insert, Position> = {
      page: { on: 'page', box },
      cell: { on: 'cells', box, cells: { start, end: null, moves: k % 2 === 0, sizes: false } },
      text: { on: 'line', box: { ...box, x: 0, y: 0 }, after: k % 3 },
      web: { on: 'element', box: { ...box, x: 0, y: 0 }, after: k % 3 },
    };
    const item: PictureItem = {
      ...model,
      id: fresh,
      at: at[insert],
      turn: 0,
      flip: { horizontal: false, vertical: false },
      alt: `New ${k}`,
      shape: { name: SHAPES[k % SHAPES.length]!, knobs: {} },
      outline: solidOutline(2, '#2b6a73'),
      shadow: null,
      fill: {
        kind: 'picture',
        source: { from: 'kept', sha256: '0'.repeat(64), name: 'n', type: 'png', size, orientation: 1 },
        placement: { fit: 'cover', aim: { u: 0.5, v: 0.5 }, zoom: 1, turn: 0, mirror: false, distortion: 1 },
        backing: null,
        keep: [],
      },
    };
    const index = insert === 'page' ? k % (page!.items.length + 1) : (page?.items.length ?? 0);
    return [{ op: 'add', item, slot: { in: page ? { page: page.id } : { story: story!.id }, index } }];
  }
  if (!one) return [];
  const id = `p${one.n}`;
  if (what === 'remove') return insert && !one.where.group ? [{ op: 'remove', id }] : [];
  const was = document.items[id] as PictureItem;
  const frame = CHANGES[way % CHANGES.length]!(frameOfItem(was, one.n), one.size, k);
  return changesOf(was, withFrame(was, frame, one.size));
}

/** Within what formats keep: EMU, hundred-thousandths of a picture, six decimals of a length. */
const TOLERANCE = 2e-3;
const sorted = (lists: object[][]): string[] =>
  lists
    .flat()
    .map((f) => (f as { alt: string }).alt)
    .sort();

describe.each(Object.keys(FILES))('%s', (name) => {
  let source: Source;
  beforeAll(async () => {
    source = openFile(await FILES[name]!());
  });

  test('random changes come back as they were asked for', () => {
    const step = fc.record({
      what: fc.constantFrom<Step['what']>('set', 'set', 'set', 'remove', 'add'),
      pick: fc.nat(30),
      k: fc.nat(60),
      way: fc.nat(CHANGES.length - 1),
    });
    fc.assert(
      fc.property(fc.array(step, { minLength: 1, maxLength: 6 }), (steps) => {
        let next = source.document;
        let count = 0;
        for (const s of steps) next = applyAll(next, operationsFor(source, next, s, `new${++count}`)).document;
        // What the format has no words for is taken back: that is what fidelity is asked for.
        for (const [id, { unsupported }] of source.fidelity(next)) {
          if (unsupported.length === 0) continue;
          const was = source.document.items[id];
          next = was
            ? { ...next, items: { ...next.items, [id]: was } }
            : applyAll(next, [{ op: 'remove', id }]).document;
        }
        checkDocument(next);
        const images = new Map<ItemId, ReplacementImage>();
        for (const id of Object.keys(next.items))
          if (id.startsWith('new')) images.set(id, { bytes: picture, type: 'png', size });
        const again = openFile(source.write(next, images)).document;
        const [is, asked] = [shown(again), shown(next)];
        // A new picture's paragraph, or its cell, says where it stands among the others: there the order is not asked for.
        const placed = /^(text|web|cell)$/.test(CAPABILITIES[source.format].insert) && images.size > 0;
        if (placed) expect(sorted(is)).toEqual(sorted(asked));
        // Frames that differ are told one by one.
        else if (!equal(is, asked, TOLERANCE)) expect(is).toEqual(asked);
      }),
      { numRuns: 20 },
    );
  });

  test('nothing asked for is nothing written', () => {
    expect(source.write(applyAll(source.document, []).document)).toEqual(source.write(source.document));
    for (const id of Object.keys(source.document.items)) expect(slotOf(source.document, id)).toBeDefined();
  });
});
