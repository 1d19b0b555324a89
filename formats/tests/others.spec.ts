/** Documents that others wrote, and others reading what we write. */
import { strFromU8, unzipSync } from 'fflate';
import { readFileSync } from 'node:fs';
import {
  Document,
  Footer,
  Header,
  HorizontalPositionRelativeFrom,
  ImageRun,
  Packer,
  Paragraph,
  Table,
  TableCell,
  TableRow,
  TextRun,
  TextWrappingType,
  VerticalPositionRelativeFrom,
} from 'docx';
import mammoth from 'mammoth';
import { solidOutline, withShape } from '@gable/core';
import { surveyFile } from '../src/index';
import { openFile, type FramedFile } from './support/frames';
import { png } from './support/build';

const frameAll = (file: FramedFile): Uint8Array =>
  file.save(
    file.pictures.map((p) => ({
      ...withShape(p.frame, { name: 'circle', knobs: {} }, p.size),
      outline: solidOutline(6, '#ffffff'),
    })),
  );

async function writtenByOthers(): Promise<Uint8Array> {
  const data = Buffer.from(await png(600, 400));
  const image = (width: number, height: number, more: object = {}): ImageRun =>
    new ImageRun({
      type: 'png',
      data,
      transformation: { width, height, ...more },
      altText: { name: 'pic', title: 'A title', description: 'Six by four' },
    });
  const floating = new ImageRun({
    type: 'png',
    data,
    transformation: { width: 120, height: 80 },
    floating: {
      horizontalPosition: { relative: HorizontalPositionRelativeFrom.COLUMN, offset: 914_400 },
      verticalPosition: { relative: VerticalPositionRelativeFrom.PARAGRAPH, offset: 457_200 },
      wrap: { type: TextWrappingType.SQUARE },
    },
  });
  const document = new Document({
    footnotes: { 1: { children: [new Paragraph({ children: [new TextRun('A note '), image(30, 20)] })] } },
    sections: [
      {
        headers: { default: new Header({ children: [new Paragraph({ children: [image(90, 60)] })] }) },
        footers: { default: new Footer({ children: [new Paragraph({ children: [image(60, 40)] })] }) },
        children: [
          new Paragraph({ children: [new TextRun('First picture'), image(300, 200)] }),
          new Table({
            rows: [
              new TableRow({
                children: [new TableCell({ children: [new Paragraph({ children: [image(150, 150)] })] })],
              }),
            ],
          }),
          new Paragraph({ children: [floating] }),
          new Paragraph({ children: [image(96, 64, { rotation: 45, flip: { horizontal: true } })] }),
        ],
      },
    ],
  });
  return new Uint8Array(await Packer.toBuffer(document));
}

describe('documents written by the package docx', () => {
  test('are read right', async () => {
    const s = surveyFile(openFile(await writtenByOthers()));
    const rows = s.pictures.map((p) => [
      p.where.place,
      p.where.flow,
      p.where.table,
      Math.round(p.box.width * 100) / 100,
      Math.round(p.box.height * 100) / 100,
    ]);
    // 96 px of CSS are 72 pt.
    expect(rows).toEqual([
      ['body', 'inline', false, 225, 150],
      ['body', 'inline', true, 112.5, 112.5],
      ['body', 'floating', false, 90, 60],
      ['body', 'inline', false, 72, 48],
      ['header', 'inline', false, 67.5, 45],
      ['footer', 'inline', false, 45, 30],
      ['footnote', 'inline', false, 22.5, 15],
    ]);
    // That package writes no relationship for pictures in footnotes: a picture that is not there, and we say so.
    expect(s.pictures.map((p) => p.problem?.code ?? p.pixels)).toEqual([
      ...Array<object>(6).fill({ width: 600, height: 400 }),
      'missing-picture',
    ]);
    expect(s.pictures[0]).toMatchObject({ alt: 'Six by four', distortion: expect.closeTo(1, 4) });
    expect(s.pictures[1]!.distortion).toBeCloseTo(2 / 3, 4);
    expect(s.pictures[1]!.findings.map((f) => f.code)).toContain('distorted');
    expect(s.pictures[2]!.box).toMatchObject({ x: 72, y: 36 });
    expect(s.pictures[3]).toMatchObject({ turn: 45, flip: { horizontal: true, vertical: false } });
    expect(s.pictures[0]!.where.near).toBe('First picture');
  });

  test('become true circles, and no other part changes', async () => {
    const before = await writtenByOthers();
    const after = frameAll(openFile(before));
    const s = surveyFile(openFile(after));
    for (const p of s.pictures) {
      expect(p.shape).toBe('circle');
      expect(p.distortion).toBeCloseTo(1, 3);
      expect(p.box.width).toBeCloseTo(p.box.height, 3);
    }
    const [a, b] = [unzipSync(before), unzipSync(after)];
    const changed = Object.keys(a).filter((name) => !Buffer.from(a[name]!).equals(Buffer.from(b[name]!)));
    expect(changed.sort()).toEqual(['word/document.xml', 'word/footer1.xml', 'word/footnotes.xml', 'word/header1.xml']);
  });
});

describe('what we write is read by others', () => {
  const handbook = readFileSync('demo/files/season-handbook.docx');
  const after = Buffer.from(frameAll(openFile(handbook)));

  test('mammoth finds the same words and the same pictures as before', async () => {
    const [was, is] = await Promise.all([handbook, after].map((buffer) => mammoth.convertToHtml({ buffer })));
    expect(is!.value).toBe(was!.value);
    expect(is!.value.match(/<img /g)!.length).toBeGreaterThanOrEqual(15);
    expect(is!.messages.filter((m) => m.type === 'error')).toEqual([]);
  });

  test('a table of what the standard asks of a circle: crop, geometry, line (§20.1.8.55, §20.1.9.18, §20.1.2.2.24)', () => {
    const xml = strFromU8(unzipSync(new Uint8Array(after))['word/document.xml']!);
    const first = xml.slice(xml.indexOf('<pic:pic>'), xml.indexOf('</pic:pic>'));
    const crop = /<a:srcRect((?: [ltrb]="\d+")+)\/>/.exec(first)![1]!;
    const hidden = Object.fromEntries([...crop.matchAll(/ ([ltrb])="(\d+)"/g)].map((m) => [m[1], Number(m[2])]));
    // A square of 3:2 hides a third of the width, in 1/1000 %.
    expect((hidden['l'] ?? 0) + (hidden['r'] ?? 0)).toBeGreaterThanOrEqual(33_332);
    expect((hidden['l'] ?? 0) + (hidden['r'] ?? 0)).toBeLessThanOrEqual(33_335);
    expect(first).toContain('<a:prstGeom prst="ellipse"><a:avLst/></a:prstGeom>');
    expect(first).toContain('<a:ln w="76200"><a:solidFill><a:srgbClr val="FFFFFF"/></a:solidFill>');
    const [, cx, cy] = /<a:ext cx="(\d+)" cy="(\d+)"\/>/.exec(first)!;
    expect(cx).toBe(cy);
  });
});
