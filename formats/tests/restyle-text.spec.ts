/**
 * Text boxes and shapes of a text that look otherwise: only what says so is written, also for readers of the older markup. Orders
 * of elements by ISO/IEC 29500-1 §17.3.2.28 (rPr), §17.3.1.26 (pPr) and §20.1.2.2.35 (spPr); what `mammoth` reads stays the same.
 */
import { applyAll, type Document, type FramedItem, type Operation, type Paint, type Text } from '@gable/core';
import { strFromU8, strToU8, unzipSync, zipSync } from 'fflate';
import mammoth from 'mammoth';
import { readFileSync } from 'node:fs';
import { BLANKS, openFile, withLaidNames, type Source } from '../src/index';
import { buildDocument, inlined } from './support/build';
import { buildOpen, graphicStyle, openFrame } from './support/open';
import { withPiece } from './support/pieces';

const solid = (colour: string): Paint => ({ kind: 'solid', colour, opacity: 1 });
const WORDS =
  '<w:p><w:pPr><w:spacing w:after="0"/><w:rPr><w:lang w:val="en-GB"/></w:rPr></w:pPr>' +
  '<w:r><w:rPr><w:caps/><w:spacing w:val="20"/><w:lang w:val="en-GB"/></w:rPr><w:t>Firing</w:t></w:r>' +
  '<w:r><w:lastRenderedPageBreak/></w:r><w:r><w:t xml:space="preserve"> on Friday</w:t></w:r></w:p>';
const boxed = (before = ''): string =>
  `<w:p>${before}<w:r><mc:AlternateContent><mc:Choice Requires="wps"><w:drawing><wp:anchor behindDoc="0" relativeHeight="3"><wp:simplePos x="0" y="0"/><wp:positionH relativeFrom="column"><wp:posOffset>0</wp:posOffset></wp:positionH><wp:positionV relativeFrom="paragraph"><wp:posOffset>0</wp:posOffset></wp:positionV><wp:extent cx="1828800" cy="914400"/><wp:wrapNone/><wp:docPr id="9" name="Box"/><wp:cNvGraphicFramePr/><a:graphic><a:graphicData uri="x">` +
  `<wps:wsp><wps:cNvSpPr txBox="1"/><wps:spPr><a:prstGeom prst="rect"><a:avLst/></a:prstGeom><a:solidFill><a:srgbClr val="F1E9D8"/></a:solidFill></wps:spPr><wps:txbx><w:txbxContent>${WORDS}</w:txbxContent></wps:txbx><wps:bodyPr/></wps:wsp></a:graphicData></a:graphic></wp:anchor></w:drawing></mc:Choice>` +
  `<mc:Fallback><w:pict><v:shape id="b" style="width:144pt;height:72pt" fillcolor="#f1e9d8" stroked="f"><v:fill opacity="1"/><v:textbox><w:txbxContent>${WORDS}</w:txbxContent></v:textbox></v:shape></w:pict></mc:Fallback></mc:AlternateContent></w:r></w:p>`;
const made = (): Promise<Uint8Array> =>
  buildDocument({ body: `<w:p><w:r><w:t>The body stays.</w:t></w:r></w:p>${boxed()}${inlined()}` });

const boxOf = ({ document }: Source): FramedItem =>
  Object.values(document.items).find((i) => i.kind === 'framed' && i.text !== null) as FramedItem;
const set = (file: Source, ...sets: readonly [path: string, value: unknown][]): Document =>
  applyAll(
    file.document,
    sets.map(([path, value]): Operation => ({ op: 'set', id: boxOf(file).id, path, value })),
  ).document;
const withRuns = (text: Text, change: (run: Text['paragraphs'][number]['runs'][number]) => object): Text => ({
  ...text,
  paragraphs: text.paragraphs.map((p) => ({ ...p, runs: p.runs.map((r) => ({ ...r, ...change(r) })) })),
});
const partsIn = (bytes: Uint8Array): Record<string, string> =>
  Object.fromEntries(Object.entries(unzipSync(bytes)).map(([name, data]) => [name, strFromU8(data)]));
/** A file with one of its parts otherwise. */
const edited = (bytes: Uint8Array, part: string, edit: (xml: string) => string): Uint8Array => {
  const all = unzipSync(bytes);
  return zipSync({ ...all, [part]: strToU8(edit(strFromU8(all[part]!))) });
};
const main = (bytes: Uint8Array): string => partsIn(bytes)['word/document.xml']!;

test('a fill, a line and the looks of its words: read back as they are, in their order, and the same words', async () => {
  const bytes = await made();
  const file = openFile(bytes);
  const { text } = boxOf(file);
  expect(text!.paragraphs[0]!.runs.map((r) => r.text)).toEqual(['Firing', ' on Friday']);
  const outline = { paint: solid('#b5482a'), weight: 2, side: 'on', dash: 'solid', join: 'round', cap: 'butt' };
  const look = { paint: solid('#ffffff'), size: 14, weight: 700, italic: true, underline: true, font: 'Georgia' };
  const words = withRuns(text!, () => look);
  const next = set(
    file,
    ['fill', { kind: 'paint', paint: solid('#22302f') }],
    ['outline', outline],
    ['text', { ...words, paragraphs: words.paragraphs.map((p) => ({ ...p, align: 'centre' })) }],
  );
  const out = file.write(next);
  const changed = Object.keys(partsIn(out)).filter((n) => partsIn(out)[n] !== partsIn(bytes)[n]);
  expect(changed).toEqual(['word/document.xml']);
  const is = boxOf(openFile(out));
  expect(is).toEqual({ ...(next.items[is.id] as FramedItem), outline: is.outline });
  expect(is.outline).toMatchObject({ paint: solid('#b5482a'), weight: 2 });
  const said =
    '<w:rFonts w:ascii="Georgia" w:hAnsi="Georgia" w:cs="Georgia"/><w:b/><w:i/><w:caps/><w:color w:val="FFFFFF"/><w:spacing w:val="20"/><w:sz w:val="28"/><w:szCs w:val="28"/><w:u w:val="single"/><w:lang w:val="en-GB"/>';
  // In the shape, and in what stands in for it.
  expect(main(out).split(said)).toHaveLength(3);
  expect(main(out).split('<w:spacing w:after="0"/><w:jc w:val="center"/><w:rPr>')).toHaveLength(3);
  expect(main(out)).toMatch(/<v:shape [^>]*fillcolor="#22302f"[^>]*>(?!<v:fill)/);
  expect(main(out)).toMatch(/<v:shape [^>]*strokecolor="#b5482a" strokeweight="2pt"/);
  expect(main(out)).not.toMatch(/<v:shape [^>]*stroked=/);
  const read = async (file: Uint8Array): Promise<string> =>
    (await mammoth.extractRawText({ buffer: Buffer.from(file) })).value;
  expect(await read(out)).toBe(await read(bytes));
});

const STYLES =
  '<w:docDefaults><w:rPrDefault><w:rPr><w:rFonts w:ascii="Georgia"/><w:sz w:val="21"/></w:rPr></w:rPrDefault></w:docDefaults>' +
  '<w:style w:type="paragraph" w:default="1" w:styleId="Normal"/>' +
  '<w:style w:type="paragraph" w:styleId="Note"><w:basedOn w:val="Normal"/><w:pPr><w:jc w:val="center"/></w:pPr><w:rPr><w:i/><w:color w:val="4B7352"/></w:rPr></w:style>' +
  '<w:style w:type="paragraph" w:styleId="Loud"><w:basedOn w:val="Note"/><w:rPr><w:b/><w:sz w:val="36"/></w:rPr></w:style>' +
  '<w:style w:type="character" w:styleId="Mark"><w:rPr><w:b w:val="0"/><w:color w:val="B5482A"/></w:rPr></w:style>';

/** The order in which styles say how a run looks (ISO/IEC 29500-1 §17.7.2): defaults, paragraph, character, the run itself. */
test('words look as the styles of the document say, and as its shape’s style where those say no colour', async () => {
  const words = (style: string, run: string, text: string): string =>
    `<w:p>${style && `<w:pPr><w:pStyle w:val="${style}"/></w:pPr>`}<w:r>${run && `<w:rPr>${run}</w:rPr>`}<w:t>${text}</w:t></w:r></w:p>`;
  const body = boxed()
    .replaceAll(
      WORDS,
      words('', '', 'plain') +
        words('Loud', '', 'loud') +
        words('Loud', '<w:rStyle w:val="Mark"/><w:u w:val="single"/>', 'marked'),
    )
    .replace(
      '<wps:txbx>',
      '<wps:style><a:lnRef idx="0"><a:srgbClr val="000000"/></a:lnRef><a:fillRef idx="0"><a:srgbClr val="000000"/></a:fillRef>' +
        '<a:effectRef idx="0"><a:srgbClr val="000000"/></a:effectRef><a:fontRef idx="minor"><a:srgbClr val="FBF9F4"/></a:fontRef></wps:style><wps:txbx>',
    );
  const R = 'http://schemas.openxmlformats.org/officeDocument/2006/relationships';
  const styles = `<w:styles xmlns:w="http://schemas.openxmlformats.org/wordprocessingml/2006/main">${STYLES}</w:styles>`;
  const bytes = await buildDocument({
    body,
    more: { 'word/styles.xml': styles },
    rels: `<Relationship Id="rId5" Type="${R}/styles" Target="styles.xml"/>`,
  });
  const file = openFile(bytes);
  const { text } = boxOf(file);
  const [plain, loud, marked] = text!.paragraphs;
  const usual = { font: 'Georgia', size: 10.5, weight: 400, italic: false, underline: false, paint: solid('#fbf9f4') };
  expect(plain).toMatchObject({ align: 'start', runs: [usual] });
  const of = { ...usual, size: 18, weight: 700, italic: true, paint: solid('#4b7352') };
  expect(loud).toMatchObject({ align: 'centre', runs: [of] });
  expect(marked!.runs[0]).toMatchObject({ ...of, weight: 400, paint: solid('#b5482a'), underline: true });
  // What comes from a style is said in the run alone once it is another.
  const next = withRuns(text!, (r) => (r.text === 'loud' ? { paint: solid('#22302f') } : {}));
  const out = main(file.write(set(file, ['text', next])));
  const own = '<w:rPr><w:color w:val="22302F"/></w:rPr>';
  expect(out.split(`${own}<w:t>loud`)).toHaveLength(3);
  expect(out.replaceAll(own, '')).toBe(main(bytes));
});

test('one colour of one run: nothing else is written', async () => {
  const bytes = await made();
  const file = openFile(bytes);
  const { text } = boxOf(file);
  const words = withRuns(text!, (r) => (r.text === 'Firing' ? { paint: solid('#b5482a') } : {}));
  const out = main(file.write(set(file, ['text', words])));
  const coloured = '<w:rPr><w:caps/><w:color w:val="B5482A"/><w:spacing';
  expect(out.replaceAll('<w:color w:val="B5482A"/>', '')).toBe(main(bytes));
  expect(out.split(coloured)).toHaveLength(3);
});

test('no fill and no line are said in both markups', async () => {
  const file = openFile(await made());
  const out = main(file.write(set(file, ['fill', null])));
  expect(out).toContain('<a:noFill/>');
  expect(out).toMatch(/<v:shape [^>]*filled="f"/);
});

test('other words and a gradient in them are refused, and nothing is written', async () => {
  const file = openFile(await made());
  const { text } = boxOf(file);
  expect(() => file.write(set(file, ['text', withRuns(text!, () => ({ text: 'Other' }))]))).toThrow(
    /but not be others/,
  );
  const stops = [0, 1].map((at) => ({ at, colour: '#22302f', opacity: 1 }));
  const paint = { kind: 'linear', angle: 0, stops };
  expect(() => file.write(set(file, ['text', withRuns(text!, () => ({ paint }))]))).toThrow(/no gradient/);
});

test('with a picture of the same document framed, and its pages in another colour, in one go', async () => {
  const file = openFile(await made());
  const id = Object.keys(file.document.items).find((i) => i === 'p1')!;
  const next = applyAll(set(file, ['fill', { kind: 'paint', paint: solid('#22302f') }]), [
    { op: 'set', id, path: 'shape', value: { name: 'ellipse', knobs: {} } },
    { op: 'page-set', id: 'story1', path: 'ground', value: { kind: 'paint', paint: solid('#f4f0e7') } },
  ]).document;
  const again = openFile(file.write(next));
  expect(boxOf(again).fill).toEqual({ kind: 'paint', paint: solid('#22302f') });
  expect(again.pictures[0]!.frame.shape.name).toBe('ellipse');
  expect(again.document.stories[0]!.page!.ground).toEqual({ kind: 'paint', paint: solid('#f4f0e7') });
});

test('laid out with what was added, and with an outline in the place of a second shape, each bears the name that it has', () => {
  const file = openFile(new Uint8Array(readFileSync('demo/files/season-handbook.docx')));
  const named = (markup: string): Map<string, string> =>
    new Map(
      [...markup.matchAll(/data-own="([^"]+)"[^>]*>(.*?)<\/span>/gs)].map(([, id, text]) => [id!, text!.slice(0, 80)]),
    );
  const were = named(file.markup!(1)!);
  expect([...were.keys()].every((id) => file.document.items[id]?.kind === 'framed')).toBe(true);
  const added = file.arranged(withLaidNames(withPiece(file, 6, 'letterhead')), new Map()).bytes;
  expect(named(openFile(added).markup!(1)!)).toEqual(were);
  const faked = file.pictures.find((p) => p.faked)!;
  const outline = { paint: solid('#b5482a'), weight: 2, side: 'outside', dash: 'solid', join: 'round', cap: 'butt' };
  const lined = applyAll(file.document, [{ op: 'set', id: `p${faked.n}`, path: 'outline', value: outline }]).document;
  const left = named(openFile(file.write(lined)).markup!(1)!);
  expect(left.size).toBe(were.size - 1);
  for (const [id, text] of left) expect(text).toBe(were.get(id));
});

test('every text box and shape of the handbook gets another fill; all frames, and all words, stay', () => {
  const bytes = new Uint8Array(readFileSync('demo/files/season-handbook.docx'));
  const file = openFile(bytes);
  const own = Object.values(file.document.items).filter((i) => i.kind === 'framed' && !/^p\d+$/.test(i.id));
  const fill = { kind: 'paint', paint: solid('#cfe3dd') };
  const next = applyAll(
    file.document,
    own.map(({ id }): Operation => ({ op: 'set', id, path: 'fill', value: fill })),
  ).document;
  const again = openFile(file.write(next));
  expect(own.length).toBeGreaterThan(0);
  for (const { id } of own) expect((again.document.items[id] as FramedItem).fill).toEqual(fill);
  expect(again.pictures.map((p) => p.frame)).toEqual(file.pictures.map((p) => p.frame));
});

/** A text box (ODF 1.2 Part 1 §10.4.3, draw:text-box) with a border and a background as programs write them, and a shape with words. */
describe('in an .odt', () => {
  const paragraph = (text: string): string =>
    `<text:p text:style-name="P1">${text} <text:span text:style-name="T1">softly</text:span></text:p>`;
  const openText = (): Promise<Uint8Array> =>
    buildOpen({
      styles:
        graphicStyle('G1', 'fo:border="0.5pt solid #000000" fo:background-color="#f1e9d8" fo:padding="0.1cm"') +
        graphicStyle('G2', 'draw:fill="solid" draw:fill-color="#22302f" draw:stroke="none"') +
        '<style:style style:name="P1" style:family="paragraph"><style:text-properties fo:font-size="14pt" style:font-name="Georgia"/></style:style>' +
        '<style:style style:name="T1" style:family="text"><style:text-properties fo:font-style="italic"/></style:style>',
      body:
        '<text:p>The body stays.' +
        `<draw:frame draw:name="Box" draw:style-name="G1" text:anchor-type="paragraph" svg:x="1cm" svg:y="1cm" svg:width="6cm" svg:height="3cm"><draw:text-box>${paragraph('Firing')}</draw:text-box></draw:frame>` +
        '<draw:custom-shape draw:name="Blob" draw:style-name="G2" text:anchor-type="paragraph" svg:x="8cm" svg:y="1cm" svg:width="3cm" svg:height="3cm">' +
        `${paragraph('Kiln')}<draw:enhanced-geometry svg:viewBox="0 0 21600 21600" draw:type="ellipse" draw:enhanced-path="U 10800 10800 10800 10800 0 360 Z N"/></draw:custom-shape></text:p>` +
        `<text:p>${openFrame('text:anchor-type="as-char"')}</text:p>`,
    });
  const [box, blob] = ['text-1', 'text-2'] as const;
  const otherwise = (file: Source, ...sets: readonly [id: string, path: string, value: unknown][]): Uint8Array =>
    file.write(
      applyAll(
        file.document,
        sets.map(([id, path, value]): Operation => ({ op: 'set', id, path, value })),
      ).document,
    );
  const of = (file: Source, id: string): FramedItem => file.document.items[id] as FramedItem;
  const content = (bytes: Uint8Array): string => partsIn(bytes)['content.xml']!;

  test('both are told with their looks, and bear their names on the pages', async () => {
    const file = openFile(await openText());
    expect(of(file, box)).toMatchObject({
      fill: { kind: 'paint', paint: solid('#f1e9d8') },
      outline: { paint: solid('#000000'), weight: 0.5, dash: 'solid' },
    });
    expect(of(file, blob)).toMatchObject({ fill: { kind: 'paint', paint: solid('#22302f') }, outline: null });
    const markup = file.markup!(1)!;
    expect(markup).toContain(`data-own="${box}"`);
    expect(markup).toContain(`data-own="${blob}"`);
    const added = file.arranged(withLaidNames(withPiece(file, 1, 'name-beside')), new Map()).bytes;
    const names = (text: string): string[] => [...text.matchAll(/data-own="([^"]+)"/g)].map(([, id]) => id!).sort();
    expect(names(openFile(added).markup!(1)!)).toEqual(names(markup));
  });

  test('another fill and line of both, and looks of words: read back as they are; the rest of the file stays', async () => {
    const bytes = await openText();
    const file = openFile(bytes);
    const outline = { paint: solid('#b5482a'), weight: 2, side: 'on', dash: 'dash', join: 'mitre', cap: 'butt' };
    const look = { paint: solid('#ffffff'), weight: 700 };
    const out = otherwise(
      file,
      [box, 'fill', { kind: 'paint', paint: solid('#4b7352') }],
      [box, 'outline', outline],
      [box, 'text', withRuns(of(file, box).text!, (r) => (r.text === 'softly' ? look : {}))],
      [blob, 'fill', { kind: 'paint', paint: { ...solid('#cfe3dd'), opacity: 0.5 } }],
      [blob, 'outline', { ...outline, dash: 'solid' }],
    );
    const changed = Object.keys(partsIn(out)).filter((n) => partsIn(out)[n] !== partsIn(bytes)[n]);
    expect(changed).toEqual(['content.xml']);
    const again = openFile(out);
    expect(of(again, box)).toMatchObject({ fill: { kind: 'paint', paint: solid('#4b7352') }, outline });
    expect(of(again, box).text!.paragraphs[0]!.runs).toMatchObject([
      { text: 'Firing ', weight: 400, size: 14 },
      { text: 'softly', ...look, italic: true, size: 14 },
    ]);
    expect(of(again, blob)).toMatchObject({
      fill: { kind: 'paint', paint: { ...solid('#cfe3dd'), opacity: 0.5 } },
      outline: { paint: solid('#b5482a'), weight: 2, dash: 'solid' },
    });
    // As programs for texts have it: a border and a background beside the fill (§20.176, §20.175).
    expect(content(out)).toMatch(/<style:graphic-properties fo:padding="0.1cm"[^>]*fo:background-color="#4b7352"/);
    expect(content(out)).toMatch(/fo:border="2pt dashed #b5482a"/);
    // The old styles stay for others, the words and places with them.
    const plain = (xml: string): string => xml.replace(/ (draw|text):style-name="[^"]*"/g, '');
    const inBody = (xml: string): string => /<office:text>.*<\/office:text>/s.exec(xml)![0];
    expect(plain(inBody(content(out)))).toBe(plain(inBody(content(bytes))));
  });

  test('what cannot be said is refused, and nothing is written', async () => {
    const file = openFile(await openText());
    const outline = { paint: solid('#b5482a'), weight: 2, side: 'outside', dash: 'solid', join: 'mitre', cap: 'butt' };
    expect(() => otherwise(file, [box, 'outline', outline])).toThrow(expect.objectContaining({ code: 'cannot-write' }));
  });

  test('pages in another colour, a box and a frame, in one go', async () => {
    const bytes = BLANKS.odt!({ size: { width: 595, height: 842 }, ground: null });
    const file = openFile(
      edited(bytes, 'content.xml', (xml) =>
        xml.replace(
          /<\/office:text>|<office:text\s*\/>/,
          (end) =>
            `${end.startsWith('</') ? '' : '<office:text>'}<text:p><draw:frame text:anchor-type="paragraph" svg:x="1cm" svg:y="1cm" svg:width="6cm" svg:height="3cm"><draw:text-box><text:p>Firing</text:p></draw:text-box></draw:frame></text:p></office:text>`,
        ),
      ),
    );
    const next = applyAll(file.document, [
      { op: 'set', id: box, path: 'fill', value: { kind: 'paint', paint: solid('#22302f') } },
      { op: 'page-set', id: 'story1', path: 'ground', value: { kind: 'paint', paint: solid('#f4f0e7') } },
    ]).document;
    const again = openFile(file.write(next));
    expect(of(again, box).fill).toEqual({ kind: 'paint', paint: solid('#22302f') });
    expect(again.document.stories[0]!.page!.ground).toEqual({ kind: 'paint', paint: solid('#f4f0e7') });
  });
});
