/**
 * What lies over the cells of a workbook's sheet is put together in a group (ISO/IEC 29500-1 §20.5.2.17, grpSp; ODF 1.2 Part 1 §10.3.15,
 * draw:g), and taken apart again: it lies where it lay, and nothing else of the file is another. In a group, places are told in its own
 * space (§20.1.7.6, xfrm; §20.1.7.2, chOff), which is the sheet's here; in OpenDocument they count from the cell that the group stands in.
 */
import {
  applyAll,
  grouping,
  groupsRound,
  isPlainGroup,
  itemIdOf,
  resolveTies,
  stackOf,
  toEmu,
  ungrouping,
  withTied,
  type Document,
  type FramedItem,
  type ItemId,
  type Operation,
} from '@gable/core';
import { strFromU8, strToU8, unzipSync, zipSync } from 'fflate';
import { lifted, openFile, parseXml, type Source } from '../src/index';
import { child, descend, type Element } from '../src/xml/located';
import { buildWorkbook, sheetPic } from './support/deck';
import { buildOpen, graphicStyle, openFrame } from './support/open';
import { withPiece } from './support/pieces';

const DRAWING = 'xl/drawings/drawing1.xml';
const partsIn = (bytes: Uint8Array): Record<string, string> =>
  Object.fromEntries(Object.entries(unzipSync(bytes)).map(([name, data]) => [name, strFromU8(data)]));
const drawingIn = (bytes: Uint8Array): Element => parseXml(partsIn(bytes)[DRAWING]!, 'x');
const does = (document: Document, ...operations: Operation[]): Document =>
  resolveTies(applyAll(document, operations).document);
const grouped = (document: Document, ids: readonly ItemId[]): Document =>
  does(document, ...grouping(document, document.pages[0]!.id, ids, 'add-g'));
const groupOn = ({ document }: Source): ItemId => Object.values(document.items).find((i) => i.kind === 'group')!.id;
const apart = (file: Source): Document => does(file.document, ...ungrouping(file.document, groupOn(file)));

/** Where all lies on the sheet, to a hundredth of a point, by what it is. */
const places = ({ document, pictures }: Source): string[] =>
  stackOf(document, document.pages[0]!)
    .map(({ item, box: own, turn }) => {
      const { x, y } = pictures.find((p) => itemIdOf(p) === item.id)?.origin ?? { x: 0, y: 0 };
      const box = { ...own, x: own.x + x, y: own.y + y };
      const kind = item.kind === 'framed' ? item.fill?.kind : item.kind;
      return [kind, ...[box.x, box.y, box.width, box.height, turn].map((v) => v.toFixed(2))].join(' ');
    })
    .sort();

const marker = (name: string, col: number, row: number): string =>
  `<xdr:${name}><xdr:col>${col}</xdr:col><xdr:colOff>9525</xdr:colOff><xdr:row>${row}</xdr:row><xdr:rowOff>0</xdr:rowOff></xdr:${name}>`;
const twoCells = (object: string, col: number, more = '', client = '<xdr:clientData/>'): string =>
  `<xdr:twoCellAnchor${more}>${marker('from', col, 2)}${marker('to', col + 3, 6)}${object}${client}</xdr:twoCellAnchor>`;
const oneCell = (object: string, col: number): string =>
  `<xdr:oneCellAnchor>${marker('from', col, 9)}<xdr:ext cx="914400" cy="457200"/>${object}<xdr:clientData/></xdr:oneCellAnchor>`;
// What a shape says of its own place need not be so: its anchor counts.
const shape = (id: number, rot = ''): string =>
  `<xdr:sp macro="" textlink=""><xdr:nvSpPr><xdr:cNvPr id="${id}" name="s${id}"/><xdr:cNvSpPr/></xdr:nvSpPr><xdr:spPr><a:xfrm${rot}><a:off x="5" y="7"/><a:ext cx="914400" cy="457200"/></a:xfrm><a:prstGeom prst="ellipse"><a:avLst/></a:prstGeom><a:solidFill><a:srgbClr val="F4F0E7"/></a:solidFill></xdr:spPr></xdr:sp>`;
const PICTURE = sheetPic('<a:ext cx="1828800" cy="762000"/>');
const LOCKED = '<xdr:clientData fLocksWithSheet="0"/>';

/** Two shapes with a picture between them, and one behind all. */
const workbook = (): Promise<Uint8Array> =>
  buildWorkbook(
    oneCell(shape(20), 8) +
      twoCells(shape(21), 1, ' editAs="absolute"', LOCKED) +
      twoCells(PICTURE, 5, ' editAs="absolute"') +
      twoCells(shape(23, ' rot="1800000"'), 10, ' editAs="absolute"', LOCKED),
  );
const SHAPES = ['sheet1-s21', 'sheet1-s23'];

test('two shapes come to a group at the front one of them; places in it are those on the sheet', async () => {
  const bytes = await workbook();
  const file = openFile(bytes);
  const out = file.write(grouped(file.document, SHAPES));
  expect(Object.keys(partsIn(out)).filter((name) => partsIn(out)[name] !== partsIn(bytes)[name])).toEqual([DRAWING]);
  const anchors = drawingIn(out).children;
  // Back to front: what is between them lies beneath the group then. CT_TwoCellAnchor, §20.5.2.33: from, to, the object, clientData.
  expect(anchors.map((a) => a.children.map((c) => c.local).join(' '))).toEqual([
    'from ext sp clientData',
    'from to pic clientData',
    'from to grpSp clientData',
  ]);
  const [, , anchor] = anchors;
  // Tied to the cells as both were, and to the sheet's protection.
  expect(anchor!.attributes['editAs']).toBe('absolute');
  expect(child(anchor, 'clientData')!.attributes).toEqual({ fLocksWithSheet: '0' });
  const group = child(anchor, 'grpSp')!;
  expect(group.children.map((c) => c.local)).toEqual(['nvGrpSpPr', 'grpSpPr', 'sp', 'sp']);
  const ids = [...partsIn(out)[DRAWING]!.matchAll(/cNvPr id="(\d+)"/g)].map((m) => m[1]);
  expect(new Set(ids).size).toBe(ids.length);
  for (const [i, sp] of group.children.slice(2).entries()) {
    const { box } = file.document.items[SHAPES[i]!]!.at;
    const xfrm = descend(sp, 'spPr', 'xfrm');
    expect(child(xfrm, 'off')!.attributes).toEqual({ x: String(toEmu(box.x)), y: String(toEmu(box.y)) });
    expect(child(xfrm, 'ext')!.attributes).toEqual({ cx: String(toEmu(box.width)), cy: String(toEmu(box.height)) });
  }
  // The space in it is the sheet's: nothing in it is scaled.
  const room = descend(group, 'grpSpPr', 'xfrm');
  expect(child(room, 'chOff')!.attributes).toEqual(child(room, 'off')!.attributes);
  expect(child(room, 'chExt')!.attributes).toEqual(child(room, 'ext')!.attributes);
  const there = openFile(out);
  expect(places(there)).toEqual(places(file));
  const [own] = groupsRound(there.document).get(SHAPES[0]!)!;
  expect(isPlainGroup(own!)).toBe(true);
  // Again it is no change.
  expect(Buffer.compare(there.write(there.document), Buffer.from(out))).toBe(0);
});

test('a picture in a group is framed in it, and goes with the number that it has then', async () => {
  const file = openFile(await workbook());
  const document = does(grouped(file.document, ['sheet1-s20', 'p1']), {
    ...{ op: 'set', id: 'p1', path: 'shape' },
    value: { name: 'ellipse', knobs: {} },
  });
  const there = openFile(file.write(document));
  expect(there.pictures[0]!.frame.shape.name).toBe('ellipse');
  expect(there.pictures[0]!.where.group).toBe(true);
  expect(places(there)).toEqual(places(file));
  // They were tied otherwise: to the first cell alone.
  expect(drawingIn(file.write(document)).children.map((a) => a.local)).toEqual([
    'twoCellAnchor',
    'oneCellAnchor',
    'twoCellAnchor',
  ]);
});

test('a group is taken apart: each is tied to the cells as it was, where it lay, and can be moved and recoloured at once', async () => {
  const file = openFile(await workbook());
  const there = openFile(file.write(grouped(file.document, SHAPES)));
  const out = there.write(apart(there));
  expect(drawingIn(out).children.map((a) => [a.local, a.children[2]!.local])).toEqual([
    ['oneCellAnchor', 'sp'],
    ['twoCellAnchor', 'pic'],
    ['twoCellAnchor', 'sp'],
    ['twoCellAnchor', 'sp'],
  ]);
  for (const anchor of drawingIn(out).children.slice(2)) {
    expect(anchor.attributes['editAs']).toBe('absolute');
    expect(child(anchor, 'clientData')!.attributes).toEqual({ fLocksWithSheet: '0' });
  }
  expect(places(openFile(out))).toEqual(places(file));
  const document = apart(there);
  const { at } = document.items[SHAPES[0]!]!;
  const fill: FramedItem['fill'] = { kind: 'paint', paint: { kind: 'solid', colour: '#22302f', opacity: 1 } };
  const again = openFile(
    there.write(
      does(
        document,
        { op: 'set', id: SHAPES[0]!, path: 'at', value: { ...at, box: { ...at.box, x: at.box.x + 12 } } },
        { op: 'set', id: SHAPES[0]!, path: 'fill', value: fill },
      ),
    ),
  );
  expect(again.document.items[SHAPES[0]!]).toMatchObject({ fill, at: { box: { x: at.box.x + 12 } } });
  expect(there.fidelity(document).size).toBe(0);
});

test.each(['name-below', 'block-behind', 'ring'])(
  'a picture and its %s come to a group, and out of it',
  async (piece) => {
    const file = openFile(await workbook());
    const plain = withPiece(file, 1, piece);
    const ids = withTied(plain, plain.pages[0]!.items, ['p1']);
    expect(ids.length).toBeGreaterThan(1);
    const [flat, there] = [openFile(file.write(plain)), openFile(file.write(grouped(plain, ids)))];
    const [group] = groupsRound(there.document).get('p1')!;
    expect(group!.children).toHaveLength(ids.length);
    expect(places(there)).toEqual(places(flat));
    const again = openFile(there.write(apart(there)));
    expect(places(again)).toEqual(places(flat));
    expect(Object.values(again.document.items).some((i) => i.kind === 'group')).toBe(false);
  },
);

test('a group of the work comes apart in the order of its file, with what stands beside its picture; another order is refused', async () => {
  const bytes = await workbook();
  const file = openFile(bytes);
  const came = file.document;
  const back = (document: Document): Document => does(document, ...ungrouping(document, 'add-g', came));
  for (const ids of [SHAPES, ['sheet1-s20', 'p1'], ['sheet1-s20', 'p1', 'sheet1-s23']]) {
    const now = back(grouped(came, ids));
    expect(now.pages).toEqual(came.pages);
    expect(Buffer.compare(file.write(now), Buffer.from(bytes))).toBe(0);
  }
  for (const piece of ['name-below', 'block-behind']) {
    const plain = withPiece(file, 1, piece);
    const tied = withTied(plain, plain.pages[0]!.items, ['p1']);
    expect(back(grouped(plain, [...tied, 'sheet1-s23'])).pages).toEqual(plain.pages);
  }
  const [page] = came.pages;
  const turned = does(came, { op: 'move', id: 'p1', slot: { in: { page: page!.id }, index: 1 } });
  expect(() => file.write(turned)).toThrow(/Another order/);
  // Nor does it come with a group of others.
  expect(() => file.write(grouped(turned, SHAPES))).toThrow(/Another order/);
});

test('what is bound at an anchor or a group stays bound', async () => {
  const bytes = await workbook();
  const parts = unzipSync(bytes);
  const text = strFromU8(parts[DRAWING]!);
  const main = 'http://schemas.openxmlformats.org/drawingml/2006/main';
  const own = text
    .replaceAll('<xdr:twoCellAnchor', `<xdr:twoCellAnchor xmlns:b="${main}"`)
    .replace(/<a:solidFill><a:srgbClr[^>]*><\/a:solidFill>(?=<\/xdr:spPr><\/xdr:sp><xdr:clientData f)/g, (fill) =>
      fill.replaceAll('a:', 'b:'),
    );
  expect(own).toContain('<b:solidFill>');
  const file = openFile(zipSync({ ...parts, [DRAWING]: strToU8(own) }));
  const there = openFile(file.write(grouped(file.document, ['sheet1-s20', ...SHAPES])));
  expect(places(there)).toEqual(places(file));
  const again = openFile(there.write(apart(there)));
  const fills = ({ document }: Source): unknown[] => SHAPES.map((id) => (document.items[id] as FramedItem).fill);
  expect(fills(there)).toEqual(fills(file));
  expect(fills(again)).toEqual(fills(file));
});

test('what other programs read in one of several ways stays by itself', async () => {
  const choice = `<mc:AlternateContent xmlns:mc="http://schemas.openxmlformats.org/markup-compatibility/2006"><mc:Choice Requires="a14" xmlns:a14="http://schemas.microsoft.com/office/drawing/2010/main">${shape(30)}</mc:Choice><mc:Fallback>${shape(30)}</mc:Fallback></mc:AlternateContent>`;
  const file = openFile(await buildWorkbook(oneCell(shape(20), 8) + twoCells(choice, 1)));
  const [page] = file.document.pages;
  const [, first, second] = page!.items;
  expect(file.sheets[0]!.stays).toEqual([second]);
  const out = file.write(grouped(file.document, [first!, second!]));
  expect(drawingIn(out).children.map((a) => a.local)).toEqual(['oneCellAnchor', 'twoCellAnchor']);
});

test('what is in a group is moved in it, and the group has the room of it', async () => {
  const file = openFile(await workbook());
  const there = openFile(file.write(grouped(file.document, ['sheet1-s20', 'p1'])));
  const moved = (document: Document, id: ItemId, dx: number): Document => {
    const { at } = document.items[id]!;
    return does(document, { op: 'set', id, path: 'at', value: { ...at, box: { ...at.box, x: at.box.x + dx } } });
  };
  const [before] = there.pictures;
  const one = openFile(there.write(moved(there.document, 'p1', -30)));
  expect(one.pictures[0]!.frame.box.x).toBeCloseTo(before!.frame.box.x - 30, 2);
  const both = openFile(there.write(moved(moved(there.document, 'p1', 40), 'sheet1-s20', 40)));
  expect(both.pictures[0]!.frame.box.x).toBeCloseTo(before!.frame.box.x + 40, 2);
  const [group] = groupsRound(both.document).get('p1')!;
  expect(group!.at.box.x).toBeCloseTo(groupsRound(there.document).get('p1')![0]!.at.box.x + 40, 2);
});

test('a group whose space is another than the sheet: what is in it is moved, and comes out of it, where it is seen', async () => {
  const bytes = await workbook();
  const made = openFile(openFile(bytes).write(grouped(openFile(bytes).document, ['sheet1-s20', 'p1'])));
  const parts = unzipSync(made.write(made.document));
  // Twice as large inside, and elsewhere: its members say twice what they said, and 100 000 more.
  const text = strFromU8(parts[DRAWING]!);
  const [before, inside] = text.split(/(?=<a:chOff)/) as [string, string];
  const told = /<a:(chOff|off|chExt|ext) (c?x)="(\d+)" (c?y)="(\d+)"/g;
  const doubled = inside.replace(told, (_, tag: string, x: string, a: string, y: string, b: string) => {
    const more = /off/i.test(tag) ? 100_000 : 0;
    return `<a:${tag} ${x}="${2 * Number(a) + more}" ${y}="${2 * Number(b) + more}"`;
  });
  // Behind the group lies one more.
  const end = inside.indexOf('</xdr:grpSp>');
  const scaled = before + doubled.slice(0, doubled.indexOf('</xdr:grpSp>')) + inside.slice(end);
  const file = openFile(zipSync({ ...parts, [DRAWING]: strToU8(scaled) }));
  expect(places(file)).toEqual(places(made));
  const { at: was } = file.document.items['p1']!;
  const moved = does(file.document, {
    ...{ op: 'set', id: 'p1', path: 'at' },
    value: { ...was, box: { ...was.box, x: was.box.x - 24 } },
  });
  const there = openFile(file.write(moved));
  expect(there.document.items['sheet1-s20']!.at.box.x).toBeCloseTo(file.document.items['sheet1-s20']!.at.box.x, 2);
  expect(there.pictures[0]!.frame.box.x).toBeCloseTo(was.box.x - 24, 2);
  const out = file.write(apart(file));
  expect(places(openFile(out))).toEqual(places(file));
  const { box } = openFile(out).pictures[0]!.frame;
  const pic = drawingIn(out).children.flatMap((a) => child(a, 'pic') ?? [])[0];
  expect(child(descend(pic, 'spPr', 'xfrm'), 'off')!.attributes).toEqual({
    x: String(toEmu(box.x)),
    y: String(toEmu(box.y)),
  });
});

describe('on a sheet of OpenDocument', () => {
  const cell = (inner: string): string => `<table:table-cell>${inner}</table:table-cell>`;
  const row = (cells: string): string => `<table:table-row>${cells}</table:table-row>`;
  const END = 'table:end-cell-address="Bowls.E9" table:end-x="3mm" table:end-y="1mm"';
  const rect = `<draw:rect draw:style-name="S" draw:z-index="0" ${END} svg:x="10pt" svg:y="4pt" svg:width="90pt" svg:height="60pt"/>`;
  // A rotation counter-clockwise about the corner, and where that is put (§19.228, draw:transform).
  const turned =
    '<draw:rect draw:style-name="S" draw:z-index="1" svg:width="40pt" svg:height="20pt" draw:transform="rotate (0.5) translate (30pt 40pt)"/>';
  const line = '<draw:line draw:style-name="S" svg:x1="5pt" svg:y1="6pt" svg:x2="50pt" svg:y2="16pt"/>';
  const sheet = (): Promise<Uint8Array> =>
    buildOpen({
      kind: 'spreadsheet',
      styles: graphicStyle('S', 'draw:fill="solid" draw:fill-color="#f4f0e7"'),
      body:
        `<table:table table:name="Bowls"><table:shapes>${line}</table:shapes><table:table-column table:number-columns-repeated="8"/>` +
        `${row(cell(rect))}${row(cell('') + cell(`${turned}<text:p>12</text:p>`))}${row(`<table:table-cell table:number-columns-repeated="3"/>${cell(`${openFrame('svg:x="20pt" svg:y="8pt"')}<text:p/>`)}`)}</table:table>`,
    });
  const contentOf = (bytes: Uint8Array): string => partsIn(bytes)['content.xml']!;
  const idsOf = ({ document }: Source): ItemId[] =>
    document.pages[0]!.items.filter((id) => document.items[id]!.kind !== 'foreign' || id.includes('line'));

  test('shapes and a picture of several cells come to a group in the cell of the front one, and out of it', async () => {
    const bytes = await sheet();
    const file = openFile(bytes);
    const ids = idsOf(file);
    expect(ids).toHaveLength(3);
    const out = file.write(grouped(file.document, ids));
    expect(Object.keys(partsIn(out)).filter((name) => partsIn(out)[name] !== partsIn(bytes)[name])).toEqual([
      'content.xml',
    ]);
    const [, group] = /<draw:g>(.*)<\/draw:g>/.exec(contentOf(out))!;
    expect(contentOf(out)).toContain('<table:table-cell><draw:g>');
    expect([...group!.matchAll(/<draw:(rect|frame)/g)].map((m) => m[1])).toEqual(['rect', 'rect', 'frame']);
    // Cells say no more how large it is; the words of cells stay in these.
    expect(group).not.toContain('table:end-');
    expect(contentOf(out)).toContain('<table:table-cell><text:p>12</text:p></table:table-cell>');
    const there = openFile(out);
    expect(places(there)).toEqual(places(file));
    expect(isPlainGroup(groupsRound(there.document).get('p1')![0]!)).toBe(true);
    expect(Buffer.compare(there.write(there.document), Buffer.from(out))).toBe(0);
    const again = openFile(there.write(apart(there)));
    expect(places(again)).toEqual(places(file));
    expect(contentOf(there.write(apart(there)))).not.toContain('draw:g>');
  });

  test('of two groups the first is taken apart, and the other stays', async () => {
    const file = openFile(await sheet());
    const [a, b, c] = idsOf(file) as [ItemId, ItemId, ItemId];
    const line = file.document.pages[0]!.items.find((id) => ![a, b, c].includes(id) && !id.endsWith('cells'))!;
    const first = grouped(file.document, [line, a]);
    const both = does(first, ...grouping(first, first.pages[0]!.id, [b, c], 'add-h'));
    const there = openFile(file.write(both));
    const [one, other] = Object.values(there.document.items).filter((i) => i.kind === 'group');
    expect(other).toBeDefined();
    const out = openFile(there.write(does(there.document, ...ungrouping(there.document, one!.id))));
    expect(places(out)).toEqual(places(file));
    expect(
      Object.values(out.document.items)
        .filter((i) => i.kind === 'group')
        .map((g) => g.children),
    ).toEqual([other!.children]);
  });

  test('what is in a group is moved and framed in it; what lies beside its picture stands round the group', async () => {
    const file = openFile(await sheet());
    const there = openFile(file.write(grouped(file.document, idsOf(file))));
    const { at } = there.document.items['p1']!;
    const moved = does(there.document, {
      ...{ op: 'set', id: 'p1', path: 'at' },
      value: { ...at, box: { ...at.box, x: at.box.x + 18 } },
    });
    const out = openFile(there.write(moved));
    expect(out.pictures[0]!.frame.box.x).toBeCloseTo(there.pictures[0]!.frame.box.x + 18, 2);
    expect(Object.values(out.document.items).filter((i) => i.kind === 'group')).toHaveLength(1);
    const named = contentOf(there.write(withPiece(there, 1, 'name-below')));
    expect(named).toMatch(/<\/draw:g><draw:/);
  });

  test.each(['name-below', 'block-behind', 'ring'])('a picture and its %s', async (piece) => {
    const file = openFile(await sheet());
    const plain = withPiece(file, 1, piece);
    const ids = withTied(plain, plain.pages[0]!.items, ['p1']);
    const [flat, there] = [openFile(file.write(plain)), openFile(file.write(grouped(plain, ids)))];
    expect(groupsRound(there.document).get('p1')![0]!.children).toHaveLength(ids.length);
    expect(places(there)).toEqual(places(flat));
    expect(lifted(file.write(grouped(plain, ids)))).toBeNull();
    expect(places(openFile(there.write(apart(there))))).toEqual(places(flat));
  });
});
