/**
 * Words and lines on pages of OpenDocument presentations and drawings, by clauses of ODF 1.2 Part 1, by hand: what is nearest counts
 * (§16.2), levels of an outline have styles of their own, lists their signs (§16.31).
 */
import { bounds, framePath, FULL_SEAT, parseSvgPath, type FramedItem, type ForeignItem, type Item } from '@gable/core';
import { openFile } from '../src/index';
import { buildOpen } from './support/open';

const page = (inner: string): string => `<draw:page draw:name="One" draw:master-page-name="Plain">${inner}</draw:page>`;
const at = (x: number, y: number, w: number, h: number): string =>
  `svg:x="${x}pt" svg:y="${y}pt" svg:width="${w}pt" svg:height="${h}pt"`;
const itemsOf = async (styles: string, inner: string): Promise<Item[]> =>
  Object.values(openFile(await buildOpen({ kind: 'presentation', body: page(inner), common: styles })).document.items);
const framed = (items: readonly Item[]): FramedItem[] => items.filter((i): i is FramedItem => i.kind === 'framed');

const STYLES =
  '<style:style style:name="box" style:family="graphic"><style:graphic-properties draw:textarea-vertical-align="bottom" fo:padding="9pt" fo:padding-left="2pt"/><style:paragraph-properties fo:text-align="center"/><style:text-properties fo:font-size="24pt" fo:color="#AA3300" fo:font-weight="bold"/></style:style>' +
  '<style:style style:name="P" style:family="paragraph"><style:paragraph-properties fo:text-align="end" fo:margin-top="6pt" fo:line-height="80%"/><style:text-properties fo:font-style="italic"/></style:style>' +
  '<style:style style:name="T" style:family="text"><style:text-properties fo:font-size="50%" fo:font-weight="normal" style:text-underline-style="solid" fo:font-family="Gelasio"/></style:style>' +
  '<text:list-style style:name="L"><text:list-level-style-bullet text:level="1" text:bullet-char="–"><style:list-level-properties text:space-before="10pt" text:min-label-width="15pt"/></text:list-level-style-bullet><text:list-level-style-number text:level="2" style:num-format="a" style:num-suffix=")"/></text:list-style>' +
  '<style:style style:name="Plain-outline1" style:family="presentation"><style:text-properties fo:font-size="30pt"/></style:style>' +
  '<style:style style:name="Plain-outline2" style:family="presentation" style:parent-style-name="Plain-outline1"><style:text-properties fo:font-size="22pt"/></style:style>' +
  '<style:style style:name="mine" style:family="presentation" style:parent-style-name="Plain-outline1"/>';

test('words have the look of their run, their paragraph and their shape, in this order', async () => {
  const [item] = framed(
    await itemsOf(
      STYLES,
      `<draw:custom-shape draw:style-name="box" ${at(0, 0, 200, 100)}><text:p>Bold &amp; <text:span text:style-name="T">half<text:s text:c="2"/></text:span> more</text:p><text:p text:style-name="P">Right</text:p></draw:custom-shape>`,
    ),
  );
  expect(item!.text).toMatchObject({
    anchor: 'bottom',
    inset: { top: 9, right: 9, bottom: 9, left: 2 },
    paragraphs: [
      {
        align: 'centre',
        runs: [
          { text: 'Bold & ', size: 24, weight: 700, paint: { colour: '#aa3300' } },
          { text: 'half', size: 12, weight: 400, underline: true, font: 'Gelasio' },
          { text: '  ', size: 12 },
          { text: ' more', size: 24, weight: 700, underline: false },
        ],
      },
      { align: 'end', spacing: { before: 6, lines: 0.8 }, runs: [{ text: 'Right', italic: true, weight: 700 }] },
    ],
  });
});

test('an outline has the styles of its levels, and lists their signs and indents', async () => {
  const list =
    '<text:list text:style-name="L"><text:list-item><text:p>One</text:p><text:list><text:list-item><text:p>Deep</text:p></text:list-item><text:list-item><text:p>Deeper</text:p></text:list-item></text:list></text:list-item><text:list-item><text:p>Two</text:p></text:list-item></text:list>';
  const [item] = framed(
    await itemsOf(
      STYLES,
      `<draw:frame presentation:style-name="mine" presentation:class="outline" ${at(0, 0, 200, 100)}><draw:text-box>${list}</draw:text-box></draw:frame>`,
    ),
  );
  const told = item!.text!.paragraphs.map((p) => [p.bullet, p.indent, p.runs[0]!.text, p.runs[0]!.size]);
  expect(told).toEqual([
    ['–', { left: 25, first: -15 }, 'One', 30],
    ['a)', undefined, 'Deep', 22],
    ['b)', undefined, 'Deeper', 22],
    ['–', { left: 25, first: -15 }, 'Two', 30],
  ]);
  expect(item!.text!.anchor).toBe('top');
});

test('lines, connectors with ways of their own, and forms by points are drawn where they are', async () => {
  const line = `<draw:line svg:x1="100pt" svg:y1="20pt" svg:x2="10pt" svg:y2="80pt"/>`;
  // In hundredths of a millimetre: 20 mm to the right at half its height.
  const bent = `<draw:connector svg:x1="10mm" svg:y1="10mm" svg:x2="50mm" svg:y2="30mm" svg:d="M1000 1000h2000v2000h2000" svg:viewBox="0 0 4001 2001"/>`;
  const star = `<draw:polygon ${at(0, 0, 100, 50)} svg:viewBox="0 0 1000 500" draw:points="0,0 1000,250 0,500"/>`;
  const items = await itemsOf('', line + bent + star);
  const [straight, connector] = items.filter((i): i is ForeignItem => i.kind === 'foreign');
  expect(straight!.at.box).toEqual({ x: 10, y: 20, width: 90, height: 60 });
  expect(parseSvgPath(straight!.look!.shape.drawn!.path)).toEqual([
    { op: 'M', x: 1, y: 0 },
    { op: 'L', x: 0, y: 1 },
  ]);
  const way = parseSvgPath(connector!.look!.shape.drawn!.path).flatMap((s) => (s.op === 'Z' ? [] : [[s.x, s.y]]));
  expect(way.map(([x, y]) => [x!.toFixed(3), y!.toFixed(3)])).toEqual([
    ['0.000', '0.000'],
    ['0.500', '0.000'],
    ['0.500', '1.000'],
    ['1.000', '1.000'],
  ]);
  const [form] = framed(items);
  const drawn = framePath({ box: form!.at.box, shape: form!.shape, seat: FULL_SEAT });
  expect(bounds(drawn)).toMatchObject({ x: 0, y: 0, width: 100, height: 50 });
  expect(drawn.filter((s) => s.op !== 'Z')).toHaveLength(3);
});

test('what cannot be shown is named', async () => {
  const frame = (inner: string): string => `<draw:frame ${at(0, 0, 90, 60)}>${inner}</draw:frame>`;
  const items = await itemsOf(
    '',
    frame('<draw:object xlink:href="./Object 1"/>') +
      frame('<draw:plugin xlink:href="film.mp4"/>') +
      frame('<table:table/>') +
      `<dr3d:scene xmlns:dr3d="urn:oasis:names:tc:opendocument:xmlns:dr3d:1.0" ${at(0, 0, 90, 60)}/>` +
      `<draw:control ${at(0, 0, 90, 20)}/>`,
  );
  expect(items.map((i) => i.kind === 'foreign' && i.preview?.[0]?.text)).toEqual([
    'Chart or object',
    'Video or sound',
    'Table',
    'Drawing',
    'Form field',
  ]);
});

test('an object is shown by the picture next to it, in a drawing and in a text', async () => {
  const object = `<draw:frame ${at(0, 0, 90, 60)}><draw:object xlink:href="./Object 1"/><draw:image xlink:href="Pictures/one.png"/></draw:frame>`;
  const file = openFile(await buildOpen({ kind: 'graphics', body: page(object) }));
  const [item] = Object.values(file.document.items).filter((i): i is ForeignItem => i.kind === 'foreign');
  expect(item!.likeness).toBe(true);
  expect(Buffer.from(file.likeness!(item!.id)!).subarray(1, 4).toString()).toBe('PNG');
  const text = openFile(await buildOpen({ body: `<text:p>${object}</text:p>` })).markup!(1)!;
  expect(text).toMatch(/<img class="shape" data-plate="[^"]+" alt="[^"]+" src="data:image\/png;base64,/);
});
