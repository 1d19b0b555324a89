/**
 * How pictures beside a text are tied to it: read from documents that `docx` wrote, and from OpenDocument by its own terms
 * (ODF 1.2 Part 1 §20.290 and on, numbers from memory); written so that nothing else changes.
 */
import { anchorWith, BESIDE_TEXT, movedTo, withShape, type Anchor, type Frame } from '@gable/core';
import {
  Document,
  HorizontalPositionAlign,
  HorizontalPositionRelativeFrom,
  ImageRun,
  Packer,
  Paragraph,
  TextRun,
  TextWrappingSide,
  TextWrappingType,
  VerticalPositionRelativeFrom,
} from 'docx';
import { strFromU8, unzipSync } from 'fflate';
import { openFile } from './support/frames';
import { buildOpen, graphicStyle } from './support/open';
import { png } from './support/build';

type Floating = NonNullable<ConstructorParameters<typeof ImageRun>[0]['floating']>;

/** A picture of 90 × 60 pt, A4 with margins of an inch: what `docx` writes where nothing else is said. */
async function withPicture(floating: Floating): Promise<Uint8Array> {
  const image = new ImageRun({
    type: 'png',
    data: await png(300, 200),
    transformation: { width: 120, height: 80 },
    floating,
  });
  const children = [
    new Paragraph({ children: [new TextRun('Before')] }),
    new Paragraph({ children: [image, new TextRun('Beside it')] }),
  ];
  return new Uint8Array(await Packer.toBuffer(new Document({ sections: [{ children }] })));
}

const EMU = 12_700;
const square: Floating = {
  horizontalPosition: { relative: HorizontalPositionRelativeFrom.COLUMN, offset: 20 * EMU },
  verticalPosition: { relative: VerticalPositionRelativeFrom.PARAGRAPH, offset: 10 * EMU },
  wrap: { type: TextWrappingType.SQUARE, side: TextWrappingSide.BOTH_SIDES },
  margins: { top: 0, right: 9 * EMU, bottom: 0, left: 9 * EMU },
};
const first = (bytes: Uint8Array): Frame => openFile(bytes).pictures[0]!.frame;
const xml = (bytes: Uint8Array, name: string): string => strFromU8(unzipSync(bytes)[name]!);
const MAIN = 'word/document.xml';

describe('a document', () => {
  test('tells from where its pictures are placed, how they are aligned, and how the text goes round', async () => {
    const plain = first(await withPicture(square));
    expect(plain.anchor).toEqual(BESIDE_TEXT);
    expect([plain.box.x, plain.box.y]).toEqual([20, 10]);
    const aligned = first(
      await withPicture({
        horizontalPosition: { relative: HorizontalPositionRelativeFrom.MARGIN, align: HorizontalPositionAlign.RIGHT },
        verticalPosition: { relative: VerticalPositionRelativeFrom.TOP_MARGIN, offset: 6 * EMU },
        wrap: { type: TextWrappingType.TIGHT, side: TextWrappingSide.LARGEST },
        margins: { top: 1 * EMU, right: 2 * EMU, bottom: 3 * EMU, left: 4 * EMU },
        behindDocument: true,
        lockAnchor: true,
      }),
    );
    expect(aligned.anchor).toEqual({
      from: { x: 'margin', y: 'top-margin' },
      align: { x: 'right' },
      wrap: 'tight',
      behind: true,
      distances: { top: 1, right: 2, bottom: 3, left: 4 },
      locked: true,
    });
    // 11,906 twentieths of a point less two inches, less the picture: worked out by hand.
    expect(aligned.box.x).toBeCloseTo(11_906 / 20 - 144 - 90, 2);
    expect(aligned.box.y).toBeCloseTo(6, 6);
  });

  const anchorOf = (text: string): [string, string, string] => {
    const [start, end] = [text.indexOf('<wp:anchor'), text.indexOf('</wp:anchor>')];
    return [text.slice(0, start), text.slice(start, end), text.slice(end)];
  };
  const changes: Record<string, [Partial<Anchor>, RegExp]> = {
    'counts from the page': [{ from: { x: 'page', y: 'page' } }, /relativeFrom="page"><wp:posOffset>254000</],
    'counts from the edges of facing pages': [
      { from: { x: 'outside-margin', y: 'line' } },
      /relativeFrom="outsideMargin"><wp:posOffset>254000<.*relativeFrom="line"><wp:posOffset>127000</,
    ],
    'is aligned': [
      { align: { x: 'centre', y: 'bottom' } },
      /relativeFrom="column"><wp:align>center<.*relativeFrom="paragraph"><wp:align>bottom</,
    ],
    'goes behind the text': [{ wrap: 'none', behind: true }, /behindDoc="1".*<wp:wrapNone\/>/],
    'has text on one side': [{ sides: 'left' }, /<wp:wrapSquare wrapText="left"/],
    'has its text tightly round it': [{ wrap: 'tight' }, /<wp:wrapTight wrapText="bothSides"><wp:wrapPolygon/],
    'has text above and below it': [{ wrap: 'top-bottom' }, /<wp:wrapTopAndBottom\/>/],
    'keeps the text away': [
      { distances: { top: 1, right: 2, bottom: 3, left: 4 } },
      /distT="12700".*distB="38100".*distL="50800".*distR="25400"/,
    ],
    'stays with its paragraph': [{ locked: true }, /locked="1"/],
  };
  test.each(Object.entries(changes))('%s, and nothing else changes', async (_, [part, written]) => {
    const bytes = await withPicture(square);
    const file = openFile(bytes);
    const frame = file.pictures[0]!.frame;
    const anchor = anchorWith(frame.anchor!, part);
    const after = file.save([{ ...frame, anchor }]);
    expect(first(after).anchor).toEqual(anchor);
    const [was, is] = [anchorOf(xml(bytes, MAIN)), anchorOf(xml(after, MAIN))];
    expect([is[0], is[2]]).toEqual([was[0], was[2]]);
    expect(is[1]).toMatch(written);
    // Picture, name and size stand there as before.
    for (const kept of ['<wp:docPr', '<wp:extent', '<a:graphic']) {
      const of = (text: string): string => text.slice(text.indexOf(kept), text.indexOf('>', text.indexOf(kept)));
      expect(of(is[1])).toBe(of(was[1]));
    }
    // Back again it is as it was read first.
    const again = openFile(after);
    const back = again.save([{ ...again.pictures[0]!.frame, anchor: frame.anchor!, box: frame.box }]);
    expect(first(back)).toEqual(frame);
  });

  test('an aligned picture stays aligned, whatever its shape and size; one that is moved is aligned no more', async () => {
    const bytes = await withPicture({
      ...square,
      horizontalPosition: { relative: HorizontalPositionRelativeFrom.MARGIN, align: HorizontalPositionAlign.RIGHT },
    });
    const file = openFile(bytes);
    const { frame, size } = file.pictures[0]!;
    const round = file.save([withShape(frame, { name: 'circle', knobs: {} }, size)]);
    expect(xml(round, MAIN)).toContain('<wp:align>right</wp:align>');
    const again = first(round);
    expect(again.box.width).toBeCloseTo(60, 3);
    expect(again.box.x).toBeCloseTo(11_906 / 20 - 144 - 60, 2);
    const moved = openFile(round).save([movedTo(again, { x: again.box.x - 50 })]);
    expect(xml(moved, MAIN)).not.toContain('<wp:align>');
    expect(first(moved).box.x).toBeCloseTo(again.box.x - 50, 2);
  });
});

describe('an OpenDocument text', () => {
  const lying =
    'style:wrap="left" style:horizontal-pos="from-left" style:horizontal-rel="paragraph-content" style:vertical-pos="top" style:vertical-rel="page-content" fo:margin="0.2in" style:protect="size"';
  const at = 'text:anchor-type="paragraph" svg:x="20pt" svg:y="10pt" svg:width="90pt" svg:height="60pt"';
  const frameOf = (style: string): string =>
    `<draw:frame draw:style-name="${style}" ${at}><draw:image xlink:href="Pictures/one.png"/></draw:frame>`;
  const text = (properties = lying, drawn = frameOf('gr1')): Promise<Uint8Array> =>
    buildOpen({
      styles: graphicStyle('gr1', properties),
      body: `<text:p>Before</text:p><text:p>${drawn}Beside it</text:p>`,
    });
  const styleOf = (bytes: Uint8Array): string => {
    const content = xml(bytes, 'content.xml');
    const name = /<draw:(?:frame|custom-shape)[^>]* draw:style-name="([^"]+)"/.exec(content)![1]!;
    return new RegExp(`<style:style[^>]* style:name="${name}".*?</style:style>`).exec(content)![0];
  };

  test('tells the same of its frames', async () => {
    const frame = first(await text());
    expect(frame.anchor).toEqual({
      from: { x: 'column', y: 'margin' },
      align: { y: 'top' },
      wrap: 'square',
      sides: 'left',
      behind: false,
      distances: { top: 14.4, right: 14.4, bottom: 14.4, left: 14.4 },
    });
    expect([frame.box.x, frame.box.y]).toEqual([20, 0]);
    const behind = first(await text('style:wrap="run-through" style:run-through="background"'));
    expect(behind.anchor).toMatchObject({ wrap: 'none', behind: true });
  });

  const changes: Record<string, [Partial<Anchor>, RegExp, RegExp]> = {
    'counts from the page': [
      { from: { x: 'page', y: 'margin' } },
      /style:horizontal-rel="page"/,
      /style:vertical-rel="page-content"/,
    ],
    'is aligned': [
      { align: { x: 'right', y: 'top' } },
      /style:horizontal-pos="right"/,
      /style:horizontal-rel="paragraph-content"/,
    ],
    'goes behind the text': [
      { wrap: 'none', sides: 'both', behind: true },
      /style:wrap="run-through"/,
      /style:run-through="background"/,
    ],
    'has its text tightly round it': [{ wrap: 'tight' }, /style:wrap-contour="true"/, /style:wrap="left"/],
    'keeps the text away': [
      { distances: { top: 1, right: 2, bottom: 3, left: 4 } },
      /fo:margin-top="1pt".*fo:margin-left="4pt"/,
      /^(?!.*fo:margin=)/,
    ],
  };
  test.each(Object.entries(changes))('%s; its style says all else as before', async (_, [part, written, kept]) => {
    const bytes = await text();
    const file = openFile(bytes);
    const frame = file.pictures[0]!.frame;
    const anchor = anchorWith(frame.anchor!, part);
    const after = file.save([{ ...frame, anchor }]);
    expect(first(after).anchor).toEqual(anchor);
    expect(styleOf(after)).toMatch(written);
    expect(styleOf(after)).toMatch(kept);
    expect(styleOf(after)).toContain('style:protect="size"');
    const words = (b: Uint8Array): string => /<office:text>.*<\/office:text>/.exec(xml(b, 'content.xml'))![0];
    expect(words(after).replace(/ draw:style-name="[^"]*"/, '')).toBe(
      words(bytes).replace(/ draw:style-name="[^"]*"/, ''),
    );
    expect(xml(after, 'styles.xml')).toBe(xml(bytes, 'styles.xml'));
  });

  test('a shape is tied anew by its own style, and keeps its fill; a lock is refused', async () => {
    const file = openFile(await text());
    const { frame, size } = file.pictures[0]!;
    const round = openFile(file.save([withShape(frame, { name: 'circle', knobs: {} }, size)]));
    const { frame: shape } = round.pictures[0]!;
    expect(shape.anchor).toEqual(frame.anchor);
    const wrapped = round.save([
      { ...shape, anchor: anchorWith(shape.anchor!, { wrap: 'top-bottom', sides: 'both' }) },
    ]);
    expect(styleOf(wrapped)).toMatch(/style:wrap="none"/);
    expect(styleOf(wrapped)).toMatch(/draw:fill="bitmap"/);
    expect(first(wrapped).shape).toEqual(shape.shape);
    const locked = { ...frame, anchor: anchorWith(frame.anchor!, { locked: true }) };
    expect(() => file.save([locked])).toThrow('cannot be locked');
  });
});
