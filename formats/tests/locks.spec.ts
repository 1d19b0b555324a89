/**
 * What is locked is told in the terms of each format (ISO/IEC 29500-1 §20.1.2.2.31, picLocks, and §20.1.2.2.34, spLocks; ODF 1.2 Part 1,
 * style:protect; numbers from memory), and nothing else of the file changes for it.
 */
import { applyAll, isPictureItem, type Document, type ItemId, type Operation } from '@gable/core';
import { strFromU8, strToU8, unzipSync, zipSync } from 'fflate';
import { readFileSync } from 'node:fs';
import { openFile, type Source } from '../src/index';
import { png } from './support/build';
import { buildWorkbook, sheetPic } from './support/deck';
import { buildOpen, openFrame } from './support/open';
import { added, withPiece } from './support/pieces';

const does = (document: Document, ...operations: Operation[]): Document => applyAll(document, operations).document;
const lock = (id: ItemId): Operation => ({ op: 'set', id, path: 'locked', value: true });
const unlock = (id: ItemId): Operation => ({ op: 'set', id, path: 'locked' });
/** Places of what is locked among all of its page. */
const locked = ({ document }: Source): number[] =>
  document.pages.flatMap(({ items }) => items.flatMap((id, i) => (document.items[id]!.locked ? [i] : [])));

const talk = (): Uint8Array => new Uint8Array(readFileSync('demo/files/open-day-talk.pptx'));
const openPages = (kind: 'presentation' | 'graphics') => (): Promise<Uint8Array> => {
  const box = '<draw:rect draw:style-name="a" svg:x="20pt" svg:y="20pt" svg:width="90pt" svg:height="60pt"/>';
  const body = `<draw:page draw:name="One" draw:master-page-name="M">${box}${openFrame('svg:x="250pt" svg:y="180pt"')}</draw:page>`;
  const styles =
    '<style:style style:name="a" style:family="graphic"><style:graphic-properties draw:fill="solid" draw:fill-color="#aabbcc" style:protect="content"/></style:style>';
  const masters = '<style:master-page style:name="M" style:page-layout-name="L"/>';
  return buildOpen({ kind, styles, body, masters, common: '' });
};
const MARKER =
  '<xdr:from><xdr:col>2</xdr:col><xdr:colOff>0</xdr:colOff><xdr:row>9</xdr:row><xdr:rowOff>0</xdr:rowOff></xdr:from>';
const workbook = (): Promise<Uint8Array> =>
  buildWorkbook(
    `<xdr:oneCellAnchor>${MARKER}<xdr:ext cx="1828800" cy="762000"/>${sheetPic('<a:ext cx="1828800" cy="762000"/>')}<xdr:clientData/></xdr:oneCellAnchor>`,
  );
const openSheet = (): Promise<Uint8Array> => {
  const rows = '<table:table-row table:number-rows-repeated="9"><table:table-cell/></table:table-row>';
  const cell = `<table:table-cell>${openFrame('svg:x="20pt" svg:y="8pt"')}</table:table-cell>`;
  const body = `<table:table table:name="Glazes"><table:table-column/>${rows}<table:table-row>${cell}</table:table-row></table:table>`;
  return buildOpen({ kind: 'spreadsheet', styles: '', body });
};
const drawing = async (): Promise<Uint8Array> => {
  const data = Buffer.from(await png(40, 30)).toString('base64');
  return strToU8(
    `<svg xmlns="http://www.w3.org/2000/svg" width="640" height="480"><image href="data:image/png;base64,${data}" x="250" y="180" width="200" height="150"/></svg>`,
  );
};
const FILES: Record<string, { bytes: () => Uint8Array | Promise<Uint8Array>; n: number; told: RegExp }> = {
  slides: { bytes: talk, n: 3, told: /<a:picLocks[^>]* noMove="1" noResize="1"/ },
  'slides of OpenDocument': { bytes: openPages('presentation'), n: 1, told: /style:protect="position size"/ },
  'a drawing of OpenDocument': { bytes: openPages('graphics'), n: 1, told: /style:protect="position size"/ },
  'a workbook': { bytes: workbook, n: 1, told: /<a:picLocks[^>]* noMove="1" noResize="1"/ },
  'a sheet of OpenDocument': { bytes: openSheet, n: 1, told: /style:protect="position size"/ },
  'an SVG drawing': { bytes: drawing, n: 1, told: /<image [^>]*data-gable-locked=""/ },
};
const textOf = (file: Uint8Array): string => {
  if (file[0] !== 0x50) return strFromU8(file);
  const parts = unzipSync(file);
  return strFromU8(parts['content.xml'] ?? parts['xl/drawings/drawing1.xml'] ?? parts['ppt/slides/slide2.xml']!);
};

describe.each(Object.entries(FILES))('in %s', (_, { bytes, n, told }) => {
  const id = `p${n}`;

  test('a picture is locked and let go: told in the file, read again, and the very same file without it', async () => {
    const came = await bytes();
    const file = openFile(came);
    const before = locked(file);
    const out = file.write(does(file.document, lock(id)));
    expect(textOf(out)).toMatch(told);
    const there = openFile(out);
    expect(there.document.items[id]!.locked).toBe(true);
    expect(locked(there)).toHaveLength(before.length + 1);
    // All else is as it was.
    expect(there.pictures.map((p) => p.frame)).toEqual(file.pictures.map((p) => p.frame));
    expect(Buffer.compare(there.write(there.document), Buffer.from(out))).toBe(0);
    const free = openFile(there.write(does(there.document, unlock(id))));
    expect(locked(free)).toEqual(before);
    expect(free.pictures.map((p) => p.frame)).toEqual(file.pictures.map((p) => p.frame));
  });

  test('it stays locked when it is framed, and so does what was added round it', async () => {
    const file = openFile(await bytes());
    const withWords = withPiece(file, n, 'block-behind');
    const [block] = added(withWords);
    const shape = { name: 'ellipse', knobs: {} };
    const next = does(withWords, lock(id), lock(block!.id), { op: 'set', id, path: 'shape', value: shape });
    const there = openFile(file.write(next));
    expect(locked(there)).toHaveLength(locked(file).length + 2);
    expect(there.pictures.find((p) => p.n === n)!.frame.shape.name).toBe('ellipse');
    const blocks = Object.values(there.document.items).filter((i) => i.locked && !isPictureItem(i));
    expect(blocks).toHaveLength(1);
    // Framed again, by one who does not read pages.
    const again = openFile(openFile(file.write(next)).write(there.document), { read: 'pictures' });
    expect(again.document.items[id]!.locked).toBe(true);
  });
});

test('in slides other locks stay, in whatever order they are written', () => {
  const parts = unzipSync(talk());
  const xml = strFromU8(parts['ppt/slides/slide2.xml']!).replace(
    /<p:cNvPicPr\s*\/>|<p:cNvPicPr>.*?<\/p:cNvPicPr>/s,
    '<p:cNvPicPr><a:picLocks noMove="1" noCrop="1" noChangeAspect="1"/></p:cNvPicPr>',
  );
  const file = openFile(zipSync({ ...parts, 'ppt/slides/slide2.xml': strToU8(xml) }));
  const [id] = Object.values(file.document.items).flatMap((i) => (i.locked ? i.id : []));
  expect(id).toBe('p2');
  expect(textOf(file.write(does(file.document, unlock(id!))))).toContain('<a:picLocks noCrop="1" noChangeAspect="1"/>');
});

test('in OpenDocument what else is protected of a shape stays so', async () => {
  const file = openFile(await openPages('graphics')());
  const [shape] = file.document.pages[0]!.items;
  const there = openFile(file.write(does(file.document, lock(shape!))));
  expect(textOf(there.write(there.document))).toContain('style:protect="content position size"');
  const free = there.write(does(there.document, unlock(shape!)));
  expect(openFile(free).document.items[shape!]).toEqual(file.document.items[shape!]);
});
