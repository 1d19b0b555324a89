/**
 * Texts on pages: places against figures worked out by hand from the numbers in the files (ISO/IEC 29500-1 §20.4.2, §17.6, §17.3.1),
 * in documents that `docx` and python-docx
 * (`formats/tests/fixtures/make.py`) write. Lengths are points; half a millimetre is 1.4 of them.
 */
import { openFile } from '@gable/formats';
import {
  AlignmentType,
  Column,
  Document,
  FootnoteReferenceRun,
  Footer,
  Header,
  HorizontalPositionAlign as AlignX,
  HorizontalPositionRelativeFrom as FromX,
  ImageRun,
  LineRuleType,
  Packer,
  PageBreak,
  PageNumber,
  Paragraph,
  SectionType,
  Tab,
  Table,
  TableCell,
  TableRow,
  TabStopType,
  TextRun,
  TextWrappingSide as Side,
  TextWrappingType as Wrap,
  VerticalPositionAlign as AlignY,
  VerticalPositionRelativeFrom as FromY,
  WidthType,
  type ISectionOptions,
} from 'docx';
import { readFileSync } from 'node:fs';
import path from 'node:path';
import sharp from 'sharp';
import type { Laid } from '../../web/page/told';
import { strFromU8, unzipSync } from 'fflate';
import { expect, laidOut, openOnBench, savedFrames, test } from './steps';
import type { Page } from '@playwright/test';

const EMU = 12_700;
const HALF_MM = (0.5 / 25.4) * 72;
/** What `docx` writes where nothing is said: A4 in twentieths of a point, an inch all round. */
const PAGE = { width: 11_906 / 20, height: 16_838 / 20, margin: 72 };
const PICTURE = { width: 90, height: 60 };
type Floating = NonNullable<ConstructorParameters<typeof ImageRun>[0]['floating']>;

type ValueOf<T> = T[keyof T];

interface Rect {
  x: number;
  y: number;
  width: number;
  height: number;
}
interface Told {
  pages: Rect[];
  /** On their pages. */
  pictures: (Rect & { n: number; page: number })[];
  /** Lines of the text on their pages, each with how it begins. */
  lines: (Rect & { page: number; text: string })[];
  oneSided: boolean;
}

/** Lays a document out as the screens do, and tells where everything is on its pages. */
async function laid(page: Page, children: ISectionOptions['children'], more: Partial<Wish> = {}): Promise<Told> {
  return laidSections(page, [{ children, ...more.section }], more);
}
interface Wish {
  section: Partial<ISectionOptions>;
  footnotes: Record<string, { children: Paragraph[] }>;
}

async function laidSections(page: Page, sections: ISectionOptions[], { footnotes }: Partial<Wish> = {}): Promise<Told> {
  const styles = { default: { document: { run: { font: 'Arial', size: 22 } } } };
  const file = new Document({ sections, styles, ...(footnotes && { footnotes }) });
  return laidFile(page, new Uint8Array(await Packer.toBuffer(file)));
}

async function laidFile(page: Page, bytes: Uint8Array): Promise<Told> {
  const html = openFile(bytes).markup!(1)!;
  await page.goto('/api/health');
  const answer = await page.evaluate(async (markup) => {
    const frame = document.createElement('iframe');
    frame.setAttribute('sandbox', 'allow-scripts');
    frame.style.cssText = 'width:900px;height:1200px;border:0';
    frame.src = '/page/index.html';
    document.body.replaceChildren(frame);
    return new Promise<Laid>((resolve, reject) => {
      window.addEventListener('message', ({ data }: MessageEvent<Laid & { failed?: string; ready?: boolean }>) => {
        const bytes = new TextEncoder().encode(markup).buffer;
        if (data.ready) frame.contentWindow!.postMessage({ id: 7, bytes }, '*', [bytes]);
        else if (data.failed) reject(new Error(data.failed));
        else if (!data.more) resolve(data);
      });
    });
  }, html);
  const told = await page.frames()[1]!.evaluate(() => {
    const lines: { page: number; x: number; y: number; width: number; height: number; text: string }[] = [];
    const pages = [...document.querySelectorAll('.page')];
    const range = document.createRange();
    for (const [i, sheet] of pages.entries()) {
      const corner = sheet.getBoundingClientRect();
      const walker = document.createTreeWalker(sheet, NodeFilter.SHOW_TEXT);
      for (let node = walker.nextNode(); node; node = walker.nextNode()) {
        const text = node.nodeValue ?? '';
        // Letter by letter: a line begins where one stands further down.
        let last: (typeof lines)[number] | undefined;
        for (let at = 0; at < text.length; at++) {
          // Spaces hang over the end of a line.
          if (text[at]!.trim() === '') continue;
          range.setStart(node, at);
          range.setEnd(node, at + 1);
          const r = range.getBoundingClientRect();
          if (r.width === 0) continue;
          const [x, y] = [r.left - corner.left, r.top - corner.top];
          if (last && Math.abs(last.y - y) < 2) last.width = x + r.width - last.x;
          else {
            last = { page: i, x, y, width: r.width, height: r.height, text: text.slice(at, at + 40) };
            lines.push(last);
          }
        }
      }
    }
    return { lines };
  });
  const pictures = answer.pictures.map(({ n, ...box }) => {
    const on = answer.pages.findLastIndex((p) => box.y + box.height / 2 >= p.y);
    return { n, page: on, ...box, x: box.x - answer.pages[on]!.x, y: box.y - answer.pages[on]!.y };
  });
  const inPoints = <T extends Rect>(r: T): T => ({
    ...r,
    ...{ x: r.x * 0.75, y: r.y * 0.75, width: r.width * 0.75, height: r.height * 0.75 },
  });
  const [pages, lines] = [answer.pages.map(inPoints), told.lines.map(inPoints)];
  return { pages, pictures: pictures.map(inPoints), lines, oneSided: answer.oneSided };
}

let png: Buffer;
test.beforeAll(async () => {
  png = await sharp({ create: { width: 300, height: 200, channels: 3, background: '#c87137' } })
    .png()
    .toBuffer();
});
const image = (floating?: Floating): ImageRun =>
  new ImageRun({
    type: 'png',
    data: png,
    transformation: { width: PICTURE.width / 0.75, height: PICTURE.height / 0.75 },
    ...(floating && { floating }),
  });

/** One line, as high as it says. */
const line = (text: string, exactly = 20, more: object = {}): Paragraph =>
  new Paragraph({
    children: [new TextRun(text)],
    spacing: { line: exactly * 20, lineRule: LineRuleType.EXACT, before: 0, after: 0 },
    ...more,
  });

test('what is beside a text stands where the file says, whatever that counts from', async ({ page }) => {
  const { width, height, margin } = PAGE;
  const text = width - 2 * margin;
  const across: [ValueOf<typeof FromX>, number | ValueOf<typeof AlignX>, number][] = [
    [FromX.PAGE, 20, 20],
    [FromX.MARGIN, 20, margin + 20],
    [FromX.COLUMN, 20, margin + 20],
    [FromX.LEFT_MARGIN, 20, 20],
    [FromX.RIGHT_MARGIN, 20, width - margin + 20],
    // The first page is a right one: its inner margin is on the left.
    [FromX.INSIDE_MARGIN, 20, 20],
    [FromX.OUTSIDE_MARGIN, -20, width - margin - 20],
    [FromX.PAGE, AlignX.RIGHT, width - PICTURE.width],
    [FromX.MARGIN, AlignX.CENTER, margin + (text - PICTURE.width) / 2],
    [FromX.COLUMN, AlignX.RIGHT, margin + text - PICTURE.width],
    [FromX.PAGE, AlignX.INSIDE, 0],
    [FromX.MARGIN, AlignX.OUTSIDE, margin + text - PICTURE.width],
  ];
  for (const [relative, by, x] of across) {
    const horizontalPosition = typeof by === 'number' ? { relative, offset: by * EMU } : { relative, align: by };
    const floating: Floating = { horizontalPosition, verticalPosition: { relative: FromY.PAGE, offset: 200 * EMU } };
    const { pictures } = await laid(page, [line('Before'), new Paragraph({ children: [image(floating)] })]);
    expect(Math.abs(pictures[0]!.x - x), `${relative} ${by}`).toBeLessThan(HALF_MM);
    expect(Math.abs(pictures[0]!.y - 200), `${relative} ${by}`).toBeLessThan(HALF_MM);
  }
  // Two lines of 20 points are above the paragraph that it is tied to.
  const above = margin + 40;
  const down: [ValueOf<typeof FromY>, number | ValueOf<typeof AlignY>, number][] = [
    [FromY.PAGE, 30, 30],
    [FromY.MARGIN, 30, margin + 30],
    [FromY.TOP_MARGIN, 30, 30],
    [FromY.BOTTOM_MARGIN, -90, height - margin - 90],
    [FromY.PARAGRAPH, 30, above + 30],
    [FromY.LINE, 30, above + 30],
    [FromY.PAGE, AlignY.CENTER, (height - PICTURE.height) / 2],
    [FromY.MARGIN, AlignY.BOTTOM, height - margin - PICTURE.height],
  ];
  for (const [relative, by, y] of down) {
    const verticalPosition = typeof by === 'number' ? { relative, offset: by * EMU } : { relative, align: by };
    const floating: Floating = { horizontalPosition: { relative: FromX.PAGE, offset: 100 * EMU }, verticalPosition };
    const tied = new Paragraph({ children: [image(floating), new TextRun('Beside it')] });
    const { pictures } = await laid(page, [line('One'), line('Two'), tied]);
    // Two millimetres where a paragraph is counted from.
    const most = relative === FromY.PARAGRAPH || relative === FromY.LINE ? 4 * HALF_MM : HALF_MM;
    expect(Math.abs(pictures[0]!.y - y), `${relative} ${by}`).toBeLessThan(most);
  }
});

const WORDS =
  'The wheels are running again and the glaze room has a new extractor so bring what you have thrown and let it dry. ';

test('text keeps its distance and runs on the side that it may', async ({ page }) => {
  const { margin } = PAGE;
  const wraps: [
    string,
    number,
    { type: ValueOf<typeof Wrap>; side?: ValueOf<typeof Side> },
    'left' | 'right' | 'none',
  ][] = [
    ['square, on the left of the column', 0, { type: Wrap.SQUARE, side: Side.BOTH_SIDES }, 'right'],
    ['square, on the right', 361, { type: Wrap.SQUARE, side: Side.BOTH_SIDES }, 'left'],
    ['tight, on the left', 0, { type: Wrap.TIGHT, side: Side.BOTH_SIDES }, 'right'],
    ['square, text on the left alone', 120, { type: Wrap.SQUARE, side: Side.LEFT }, 'left'],
    ['square, text on the right alone', 240, { type: Wrap.SQUARE, side: Side.RIGHT }, 'right'],
    ['above and below', 100, { type: Wrap.TOP_AND_BOTTOM }, 'none'],
  ];
  for (const [name, x, wrap, side] of wraps) {
    const floating: Floating = {
      horizontalPosition: { relative: FromX.COLUMN, offset: x * EMU },
      verticalPosition: { relative: FromY.PARAGRAPH, offset: 30 * EMU },
      wrap,
      margins: { top: 0, right: 12 * EMU, bottom: 0, left: 12 * EMU },
    };
    const long = new Paragraph({ children: [image(floating), new TextRun(WORDS.repeat(6))] });
    const { pictures, lines } = await laid(page, [long, line(WORDS), line(WORDS)]);
    const p = pictures[0]!;
    expect(Math.abs(p.x - margin - x), name).toBeLessThan(HALF_MM);
    const kept = { left: p.x - 12, right: p.x + p.width + 12, top: p.y, bottom: p.y + p.height };
    const beside = lines.filter((l) => l.y + l.height > kept.top + 3 && l.y + 3 < kept.bottom);
    for (const l of beside)
      expect(l.x + l.width <= kept.left + HALF_MM || l.x >= kept.right - HALF_MM, `${name}: ${l.text}`).toBe(true);
    if (side === 'none') expect(beside, name).toEqual([]);
    else {
      expect(beside.length, name).toBeGreaterThan(2);
      for (const l of beside) expect(l.x >= kept.right - HALF_MM ? 'right' : 'left', name).toBe(side);
    }
    // Below it the text is as wide as its column again.
    expect(Math.max(...lines.filter((l) => l.y > kept.bottom + 4).map((l) => l.x + l.width))).toBeGreaterThan(
      PAGE.width - margin - 60,
    );
  }
});

test('pages end after the lines that fit', async ({ page }) => {
  // 841.9 points less two inches are 34 lines of 20.
  const fit = Math.floor((PAGE.height - 2 * PAGE.margin) / 20);
  const { pages, lines } = await laid(
    page,
    Array.from({ length: 100 }, (_, i) => line(`Line ${i + 1}`)),
  );
  expect([fit, pages.length]).toEqual([34, 3]);
  const begin = (n: number): string => lines.find((l) => l.page === n)!.text;
  expect([begin(0), begin(1), begin(2)]).toEqual(['Line 1', 'Line 35', 'Line 69']);
  // One paragraph of forty lines: as many stay; of 35 lines two go on, since none is left alone (§17.3.1.44).
  const broken = (count: number): Paragraph =>
    new Paragraph({
      children: Array.from(
        { length: count },
        (_, i) => new TextRun({ text: `Row ${i + 1}`, ...(i > 0 && { break: 1 }) }),
      ),
      spacing: { line: 400, lineRule: LineRuleType.EXACT },
    });
  const forty = await laid(page, [broken(40)]);
  expect(forty.lines.filter((l) => l.page === 0)).toHaveLength(34);
  expect(forty.lines.find((l) => l.page === 1)!.text).toBe('Row 35');
  const widow = await laid(page, [broken(35)]);
  expect(widow.lines.find((l) => l.page === 1)!.text).toBe('Row 34');
});

test('what is kept with the next goes with it; a page break ends a page; sections turn the paper', async ({ page }) => {
  const filled = Array.from({ length: 33 }, (_, i) => line(`Line ${i + 1}`));
  const heading = line('Heading', 20, { keepNext: true });
  const { lines } = await laid(page, [...filled, heading, line('Under it')]);
  expect(lines.filter((l) => l.page === 1).map((l) => l.text)).toEqual(['Heading', 'Under it']);
  const parted = new Paragraph({ children: [new TextRun('Before'), new PageBreak(), new TextRun('After')] });
  const broken = await laid(page, [parted, line('Then')]);
  expect(broken.lines.map((l) => [l.page, l.text])).toEqual([
    [0, 'Before'],
    [1, 'After'],
    [1, 'Then'],
  ]);
  const turned = await laidSections(page, [
    { children: [line('Upright')] },
    { children: [line('Lying')], properties: { page: { size: { width: 16_838, height: 11_906 } } } },
  ]);
  expect(turned.pages.map((p) => [Math.round(p.width), Math.round(p.height)])).toEqual([
    [595, 842],
    [842, 595],
  ]);
});

test('columns are filled one after the other; a section may go on upon the same page', async ({ page }) => {
  const column = (PAGE.width - 2 * PAGE.margin - 36) / 2;
  const two = { column: { count: 2, space: 720 } };
  const { lines } = await laid(
    page,
    Array.from({ length: 40 }, (_, i) => line(`Line ${i + 1}`)),
    { section: { properties: two } },
  );
  const at = (text: string): number => lines.find((l) => l.text === text)!.x;
  expect(Math.abs(at('Line 34') - PAGE.margin)).toBeLessThan(HALF_MM);
  expect(Math.abs(at('Line 35') - (PAGE.margin + column + 36))).toBeLessThan(HALF_MM);
  const unlike = {
    column: {
      count: 2,
      equalWidth: false,
      children: [new Column({ width: 2000, space: 400 }), new Column({ width: 6600 })],
    },
  };
  const mixed = await laidSections(page, [
    { children: [line('Above both')] },
    {
      properties: { type: SectionType.CONTINUOUS, ...unlike },
      children: Array.from({ length: 34 }, (_, i) => line(`Row ${i + 1}`)),
    },
  ]);
  expect(new Set(mixed.lines.map((l) => l.page))).toEqual(new Set([0]));
  const last = mixed.lines.find((l) => l.text === 'Row 34')!;
  // The first line of the second column: below the line of the section before, 2,400 twentieths into the text.
  expect(Math.abs(last.x - PAGE.margin - 120)).toBeLessThan(HALF_MM);
  expect(Math.abs(last.y - mixed.lines.find((l) => l.text === 'Row 1')!.y)).toBeLessThan(HALF_MM);
});

test('headers, footers, numbers of pages and notes', async ({ page }) => {
  const header = new Header({ children: [line('At the head', 14)] });
  const footer = new Footer({
    children: [
      new Paragraph({
        alignment: AlignmentType.RIGHT,
        children: [new TextRun({ children: ['Page ', PageNumber.CURRENT, ' of ', PageNumber.TOTAL_PAGES] })],
      }),
    ],
  });
  const noted = new Paragraph({
    children: [new TextRun('With a note'), new FootnoteReferenceRun(1)],
    spacing: { line: 400, lineRule: LineRuleType.EXACT },
  });
  const children = [noted, ...Array.from({ length: 40 }, (_, i) => line(`Line ${i + 1}`))];
  const footnotes = { 1: { children: [line('What is noted', 12)] } };
  const { lines } = await laid(page, children, {
    section: { headers: { default: header }, footers: { default: footer } },
    footnotes,
  });
  const heads = lines.filter((l) => l.text.startsWith('At the head'));
  // From the top edge 708 twentieths, as `docx` has it.
  for (const [i, h] of heads.entries()) {
    expect(h.page).toBe(i);
    expect(Math.abs(h.y + h.height / 2 - (708 / 20 + 7))).toBeLessThan(2 * HALF_MM);
  }
  expect(heads).toHaveLength(2);
  const note = lines.find((l) => l.text.includes('What is noted'))!;
  expect(note.page).toBe(0);
  // It ends where the text would, and the text ends before it.
  expect(Math.abs(note.y + note.height / 2 - (PAGE.height - PAGE.margin - 6))).toBeLessThan(2 * HALF_MM);
  for (const l of lines.filter((l) => l.page === 0 && l.text.startsWith('Line')))
    expect(l.y + l.height).toBeLessThan(note.y);
  const numbers = await page
    .frames()[1]!
    .evaluate(() =>
      [...document.querySelectorAll('.page')].map((p) => /Page \d+ of \d+/.exec(p.textContent ?? '')?.[0]),
    );
  expect(numbers).toEqual(['Page 1 of 2', 'Page 2 of 2']);
});

test('tabs, and tables with their columns, borders and spans; rows go on over pages', async ({ page }) => {
  const tabbed = new Paragraph({
    tabStops: [
      { type: TabStopType.LEFT, position: 2000 },
      { type: TabStopType.RIGHT, position: 8000 },
    ],
    children: [new TextRun({ children: ['A', new Tab(), 'at 100', new Tab(), 'to 400'] })],
  });
  const cell = (text: string, more: object = {}): TableCell => new TableCell({ children: [line(text)], ...more });
  const table = new Table({
    columnWidths: [2000, 3000, 4000],
    width: { size: 9000, type: WidthType.DXA },
    rows: [
      new TableRow({ tableHeader: true, children: [cell('Head', { columnSpan: 2 }), cell('Right')] }),
      ...Array.from({ length: 40 }, (_, i) => new TableRow({ children: [cell(`Row ${i + 1}`), cell('b'), cell('c')] })),
    ],
  });
  const { lines, pages } = await laid(page, [tabbed, table]);
  const at = (text: string): (typeof lines)[number] => lines.find((l) => l.text.startsWith(text))!;
  expect(Math.abs(at('at 100').x - PAGE.margin - 100)).toBeLessThan(HALF_MM);
  const right = at('to 400');
  expect(Math.abs(right.x + right.width - PAGE.margin - 400)).toBeLessThan(HALF_MM);
  // 2,000 and 3,000 twentieths to the left of the third column.
  expect(Math.abs(at('c').x - at('Row 1').x - 250)).toBeLessThan(HALF_MM);
  expect(pages).toHaveLength(2);
  expect(lines.filter((l) => l.text.startsWith('Head')).map((l) => l.page)).toEqual([0, 1]);
  const rows = lines.filter((l) => l.text.startsWith('Row'));
  expect(rows.map((l) => l.text.trim())).toEqual(Array.from({ length: 40 }, (_, i) => `Row ${i + 1}`));
});

test('columns that another section goes on below end at the same height', async ({ page }) => {
  const size = { width: 11_906, height: 16_838 };
  const part = (name: string, count: number): Paragraph[] =>
    Array.from({ length: count }, (_, i) => line(`${name} ${i + 1}`));
  const { lines } = await laidSections(page, [
    { properties: { page: { size }, column: { count: 3, space: 400 } }, children: part('Even', 13) },
    { properties: { page: { size }, type: SectionType.CONTINUOUS }, children: [line('Below')] },
  ]);
  const even = lines.filter((l) => l.text.startsWith('Even'));
  const columns = [...new Set(even.map((l) => Math.round(l.x)))];
  // Thirteen lines in three columns: five, and no more than that.
  expect(columns.map((x) => even.filter((l) => Math.round(l.x) === x).length)).toEqual([5, 5, 3]);
  const below = lines.find((l) => l.text === 'Below')!;
  expect(below.page).toBe(0);
  expect(Math.abs(below.y + below.height / 2 - (PAGE.margin + 5 * 20 + 10))).toBeLessThan(2 * HALF_MM);
});

test('where text would run on both sides the layout says that it runs on one', async ({ page }) => {
  const text = new TextRun('The kiln is warm and the shelves are full. '.repeat(12));
  const at = (x: number): Floating => ({
    horizontalPosition: { relative: FromX.MARGIN, offset: x * EMU },
    verticalPosition: { relative: FromY.MARGIN, offset: 20 * EMU },
    wrap: { type: Wrap.SQUARE, side: Side.BOTH_SIDES },
  });
  const children = (x: number): Paragraph[] => [new Paragraph({ children: [image(at(x)), text] })];
  expect((await laid(page, children(180))).oneSided).toBe(true);
  expect((await laid(page, children(0))).oneSided).toBe(false);
});

test('what is tied to words that go on to the next page goes with them', async ({ page }) => {
  const before = Array.from({ length: 30 }, (_, i) => line(`Line ${i + 1}`));
  const floating: Floating = {
    horizontalPosition: { relative: FromX.MARGIN, offset: 0 },
    verticalPosition: { relative: FromY.LINE, offset: 0 },
    wrap: { type: Wrap.SQUARE, side: Side.BOTH_SIDES },
  };
  const words = 'The kiln is warm and the shelves are full of pots. '.repeat(12);
  const long = new Paragraph({
    children: [new TextRun(words), image(floating), new TextRun(words)],
    spacing: { line: 400, lineRule: LineRuleType.EXACT },
  });
  const { pages, pictures } = await laid(page, [...before, long]);
  expect(pages).toHaveLength(2);
  expect(pictures.map((p) => p.page)).toEqual([1]);
});

test('a document of python-docx: thirty-two lines of 20 points on a page of letter size, and what is beside them', async ({
  page,
}) => {
  const file = path.resolve(__dirname, '../../formats/tests/fixtures/python-docx-lines.docx');
  const { pages, pictures, lines } = await laidFile(page, new Uint8Array(readFileSync(file)));
  // 15,840 twentieths high with margins of 1,440: 648 points for the text.
  expect(pages).toHaveLength(4);
  const on = [0, 1, 2, 3].map((i) => lines.filter((l) => l.page === i).map((l) => Number(/\d+/.exec(l.text)![0])));
  expect(on.map((numbers) => [numbers[0], numbers.at(-1)])).toEqual([
    [1, 32],
    [33, 64],
    [65, 96],
    [97, 100],
  ]);
  const at = (n: number): number[] => pictures.filter((p) => p.n === n).flatMap((p) => [p.page, p.x, p.y]);
  const wanted: [number, number, number, number][] = [
    [0, 300, 200, HALF_MM],
    // Four lines are above its paragraph; the margin is 1,800 twentieths wide.
    [0, 90 + 250, 72 + 4 * 20 + 30, 4 * HALF_MM],
    [1, 90, 72, HALF_MM],
  ];
  for (const [i, [on, x, y, most]] of wanted.entries()) {
    const [is, left, top] = at(i + 1);
    expect(is).toBe(on);
    expect(Math.abs(left! - x)).toBeLessThan(HALF_MM);
    expect(Math.abs(top! - y)).toBeLessThan(most);
  }
});

test('a frame that is dragged to another page goes with the paragraph there, and says so', async ({ page }) => {
  const image = new ImageRun({
    ...{
      type: 'png',
      data: await sharp({ create: { ...PICTURE, channels: 3, background: '#c87137' } })
        .png()
        .toBuffer(),
    },
    transformation: { width: 120, height: 80 },
    floating: {
      horizontalPosition: { offset: 20 * EMU },
      verticalPosition: { relative: FromY.PARAGRAPH, offset: EMU },
    },
  });
  const said = 'The kiln is fired twice, and nobody opens it before the morning after. '.repeat(6);
  const children = Array.from(
    { length: 20 },
    (_, i) => new Paragraph({ children: [...(i === 1 ? [image] : []), new TextRun(`Paragraph ${i}. ${said}`)] }),
  );
  const buffer = await Packer.toBuffer(new Document({ sections: [{ children }] }));
  const id = await openOnBench(page, { name: 'long.docx', mimeType: 'application/octet-stream', buffer });
  await page.getByRole('radio', { name: 'Page' }).click();
  await laidOut(page);
  const frame = page.locator('gable-page-view [data-n="1"]');
  const corner = async (): Promise<{ x: number; y: number }> => (await frame.boundingBox())!;
  const b = await corner();
  await page.mouse.move(b.x + 20, b.y + 20);
  await page.mouse.down();
  await page.mouse.move(b.x + 60, b.y + 60, { steps: 3 });
  // Held at the edge of the window the pages go on.
  const pane = (await page.getByRole('region', { name: 'The pages of the document' }).boundingBox())!;
  await page.mouse.move(b.x + 60, pane.y + pane.height - 8, { steps: 3 });
  await expect(page.getByText(/Moves with “Paragraph 1[7-9]\./)).toBeAttached({ timeout: 20_000 });
  await page.mouse.move(b.x + 60, pane.y + pane.height / 2, { steps: 3 });
  const held = await corner();
  await page.mouse.up();
  await laidOut(page);
  const rests = await corner();
  expect(Math.abs(rests.y - held.y)).toBeLessThan(2);
  const { paragraph, box } = (await savedFrames(page, id))['1']!;
  expect(paragraph?.words).toMatch(/^Paragraph 1[3-9]\./);
  expect(Math.abs(box.y)).toBeLessThan(120);
  // And so in the file: its run stands in that paragraph.
  const file = await (await page.request.get(`/api/works/${id}/file`)).body();
  const text = strFromU8(unzipSync(new Uint8Array(file))['word/document.xml']!);
  const holder = text.split('<w:p>').find((p) => p.includes('<w:drawing>'))!;
  expect(holder.replace(/<[^>]*>/g, '')).toContain(paragraph!.words);
  // One undo takes it back to its own paragraph, on the first page.
  await page.keyboard.press('Control+z');
  await laidOut(page);
  expect((await savedFrames(page, id))['1']?.paragraph).toBeUndefined();
});
