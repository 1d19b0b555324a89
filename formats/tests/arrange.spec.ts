/**
 * What lies on slides in another order, in groups and out of them, and gone. Decks are the demo's and one that `pptxgenjs`
 * writes; what comes of it is read by `pptxtojson` as well. Clauses are of ISO/IEC 29500-1.
 */
import {
  applyAll,
  checkDocument,
  equal,
  isPictureItem,
  itemsOf,
  stackOf,
  withChildren,
  type Box,
  type Document,
  type GroupItem,
  type Item,
  type ItemId,
  type Operation,
  type PictureItem,
} from '@gable/core';
import fc from 'fast-check';
import { strFromU8, strToU8, unzipSync, zipSync } from 'fflate';
import { execFileSync } from 'node:child_process';
import { readFileSync } from 'node:fs';
import path from 'node:path';
import { parse } from 'pptxtojson';
import { openFile, type Source } from '../src/index';
import { png } from './support/build';

const talk = readFileSync('demo/files/open-day-talk.pptx');
let other: Uint8Array;
let picture: Uint8Array;
beforeAll(async () => {
  picture = await png(30, 20);
  const script = path.join(__dirname, 'support/other-deck.mjs');
  other = new Uint8Array(
    execFileSync(process.execPath, [script, Buffer.from(picture).toString('base64')], { maxBuffer: 10e6 }),
  );
});

const SLIDE = 'ppt/slides/slide1.xml';
const slideOf = (bytes: Uint8Array): string => strFromU8(unzipSync(bytes)[SLIDE]!);
const edited = (bytes: Uint8Array, change: (xml: string) => string): Uint8Array => {
  const parts = unzipSync(bytes);
  parts[SLIDE] = strToU8(change(strFromU8(parts[SLIDE]!)));
  return zipSync(parts);
};
const onFirst = ({ document }: Source): readonly ItemId[] => document.pages[0]!.items;
const does = ({ document }: Source, ...operations: Operation[]): Document => applyAll(document, operations).document;

const boxRound = (boxes: readonly Box[]): Box => {
  const [x, y] = [Math.min(...boxes.map((b) => b.x)), Math.min(...boxes.map((b) => b.y))];
  const [right, bottom] = [Math.max(...boxes.map((b) => b.x + b.width)), Math.max(...boxes.map((b) => b.y + b.height))];
  return { x, y, width: right - x, height: bottom - y };
};

/** Puts items of the first page into a new group, in front of the page. */
function grouping(document: Document, ids: readonly ItemId[], id: ItemId, turn = 0): Operation[] {
  const page = document.pages[0]!;
  const box = boxRound(ids.map((i) => document.items[i]!.at.box));
  const group: GroupItem = {
    kind: 'group',
    id,
    at: { on: 'page', box },
    turn,
    flip: { horizontal: false, vertical: false },
    opacity: 1,
    alt: 'Together',
    children: [],
    space: box,
  };
  return [
    { op: 'add', item: group, slot: { in: { page: page.id }, index: page.items.length } },
    ...ids.flatMap((i, index): Operation[] => [
      { op: 'move', id: i, slot: { in: { group: id }, index } },
      { op: 'set', id: i, path: 'at', value: { on: 'group', box: document.items[i]!.at.box } },
    ]),
  ];
}

/** Takes the members of a group out, to its own place, and the group away. */
function ungrouping(document: Document, id: ItemId): Operation[] {
  const page = document.pages[0]!;
  const at = page.items.indexOf(id);
  const group = document.items[id] as GroupItem;
  return [
    ...group.children.flatMap((child, i): Operation[] => [
      { op: 'move', id: child, slot: { in: { page: page.id }, index: at + i } },
      { op: 'set', id: child, path: 'at', value: { on: 'page', box: document.items[child]!.at.box } },
    ]),
    { op: 'remove', id },
  ];
}

/** All that is seen on each page and layer, but for names and the data of pictures. */
function seen(document: Document): unknown[] {
  const look = (item: Item): unknown => {
    const { id, at, ...rest } = item as Item & { name?: string; fill?: unknown };
    void [id, at];
    delete rest.name;
    if (isPictureItem(item)) return { ...rest, fill: { ...item.fill, source: null } };
    return { ...rest, preview: null };
  };
  return document.pages.map((page) =>
    stackOf(document, page).map(({ item, box, turn, flip }) => [look({ ...item, turn: 0 }), box, turn % 360, flip]),
  );
}
/** EMU and sixty-thousandths of a degree. */
const sameSeen = (a: Document, b: Document): boolean => equal(seen(a), seen(b), 2e-3);

test('what comes to the front is taken along as it is written; the rest of the deck stays byte for byte', async () => {
  const source = openFile(other);
  const [back] = onFirst(source);
  const page = source.document.pages[0]!.id;
  const next = does(source, { op: 'move', id: back!, slot: { in: { page }, index: onFirst(source).length - 1 } });
  const bytes = source.write(next);
  expect(sameSeen(openFile(bytes).document, next)).toBe(true);
  const [was, is] = [unzipSync(other), unzipSync(bytes)];
  expect(Object.keys(is).filter((n) => !Buffer.from(is[n]!).equals(Buffer.from(was[n]!)))).toEqual([SLIDE]);
  const pieces = (xml: string): string[] => [...xml.matchAll(/<p:(sp|pic|graphicFrame)>.*?<\/p:\1>/gs)].map(([t]) => t);
  expect(pieces(slideOf(bytes)).sort()).toEqual(pieces(slideOf(other)).sort());
  const kinds = async (b: Uint8Array): Promise<string[]> =>
    (await parse(b.slice().buffer)).slides[0]!.elements.sort((x, y) => x.order - y.order).map((e) => e.type);
  const [first, ...rest] = await kinds(other);
  expect(await kinds(bytes)).toEqual([...rest, first]);
});

test('a new group holds what was moved into it, for other readers too; taken apart again, the slide is as it was', async () => {
  const source = openFile(other);
  const [block, picture, ellipse] = onFirst(source) as [string, string, string];
  const together = does(source, ...grouping(source.document, [block, picture], 'g', 30));
  checkDocument(together);
  const bytes = source.write(together);
  const again = openFile(bytes);
  expect(sameSeen(again.document, together)).toBe(true);
  const group = (await parse(bytes.slice().buffer)).slides[0]!.elements.find((e) => e.type === 'group') as {
    rotate: number;
    elements: { type: string }[];
  };
  expect([group.rotate, group.elements.map((e) => e.type)]).toEqual([30, ['shape', 'image']]);
  // The library gives one id twice; ours is another (§20.1.2.2.8).
  const ids = (b: Uint8Array): (string | undefined)[] =>
    [...slideOf(b).matchAll(/<p:cNvPr[^>]*\bid="(\d+)"/g)].map(([, id]) => id);
  expect(new Set(ids(bytes)).size).toBe(new Set(ids(other)).size + 1);
  expect(slideOf(bytes)).toMatch(/<p:cNvPr[^>]*descr="Together"/);

  const apart = does(again, ...ungrouping(again.document, onFirst(again).at(-1)!));
  const back = openFile(again.write(apart));
  expect(sameSeen(back.document, apart)).toBe(true);
  expect(slideOf(again.write(apart))).not.toContain('grpSp>');
  expect(isPictureItem(back.document.items['p1']!)).toBe(true);
  expect(ellipse).toBeDefined();
});

test('a new picture in a new group, framed', () => {
  const source = openFile(other);
  const together = does(source, ...grouping(source.document, onFirst(source).slice(0, 1), 'g'));
  const model = source.document.items['p1'] as PictureItem;
  const size = { width: 30, height: 20 };
  const item: PictureItem = {
    ...model,
    id: 'new',
    at: { on: 'group', box: { x: 100, y: 90, width: 60, height: 60 } },
    shape: { name: 'circle', knobs: {} },
    alt: 'New',
    fill: {
      ...model.fill,
      source: { from: 'kept', sha256: '0'.repeat(64), name: 'n', type: 'png', size, orientation: 1 },
    },
  };
  const next = applyAll(together, [{ op: 'add', item, slot: { in: { group: 'g' }, index: 1 } }]).document;
  expect(source.fidelity(next).get('new')).toEqual({ unsupported: [], becomesShape: false });
  const bytes = source.write(next, new Map([['new', { bytes: picture, type: 'png', size }]]));
  const again = openFile(bytes);
  expect(sameSeen(again.document, next)).toBe(true);
  const mine = again.pictures.find((p) => p.frame.alt === 'New')!;
  expect(Buffer.from(again.pictureBytes(mine.n)).equals(Buffer.from(picture))).toBe(true);
});

test('a group that moves and turns takes along what is in it', () => {
  const first = openFile(other);
  const source = openFile(first.write(does(first, ...grouping(first.document, onFirst(first).slice(0, 2), 'g'))));
  const id = onFirst(source).at(-1)!;
  const { box } = source.document.items[id]!.at;
  const next = does(
    source,
    { op: 'set', id, path: 'at.box', value: { ...box, x: box.x + 50, width: box.width / 2, height: box.height / 2 } },
    { op: 'set', id, path: 'turn', value: 90 },
    { op: 'set', id, path: 'alt', value: 'Small' },
  );
  const bytes = source.write(next);
  expect(sameSeen(openFile(bytes).document, next)).toBe(true);
  // The picture in it is not written: it counts in the group's own space.
  const pictureIn = (b: Uint8Array): string => /<p:pic>.*?<\/p:pic>/s.exec(slideOf(b))![0];
  expect(pictureIn(bytes)).toBe(pictureIn(source.write(source.document)));
});

test('anything on a slide can go; connectors that were glued to it are let go (§20.1.2.2.36)', () => {
  const glued = edited(other, (xml) => {
    const id = /<p:sp>.*?<p:cNvPr[^>]*\bid="(\d+)"/s.exec(xml)![1]!;
    const line = `<p:cxnSp><p:nvCxnSpPr><p:cNvPr id="91" name="c"/><p:cNvCxnSpPr><a:stCxn id="${id}" idx="0"/></p:cNvCxnSpPr><p:nvPr/></p:nvCxnSpPr><p:spPr><a:xfrm><a:off x="0" y="0"/><a:ext cx="91440" cy="91440"/></a:xfrm></p:spPr></p:cxnSp>`;
    return xml.replace('</p:spTree>', `${line}</p:spTree>`);
  });
  const source = openFile(glued);
  const kept = does(source, { op: 'remove', id: onFirst(source)[2]! });
  expect(slideOf(source.write(kept))).toContain('stCxn');
  let next = does(source, { op: 'remove', id: onFirst(source)[0]! });
  expect(slideOf(source.write(next))).not.toContain('stCxn');
  for (const id of onFirst(source).slice(1)) next = applyAll(next, [{ op: 'remove', id }]).document;
  const bytes = source.write(next);
  expect(openFile(bytes).document.pages[0]!.items).toEqual([]);
  expect(slideOf(bytes)).not.toMatch(/<p:(sp|pic|graphicFrame|cxnSp)>/);
});

test('what comes out of a scaled group lies where it lay; what goes to another slide is refused', () => {
  const scaled = edited(other, (xml) => {
    const [start, end] = [xml.indexOf('<p:sp>'), xml.indexOf('</p:pic>') + '</p:pic>'.length];
    const xfrm =
      '<a:xfrm><a:off x="0" y="0"/><a:ext cx="4000000" cy="3000000"/><a:chOff x="0" y="0"/><a:chExt cx="8000000" cy="6000000"/></a:xfrm>';
    return `${xml.slice(0, start)}<p:grpSp><p:nvGrpSpPr><p:cNvPr id="77" name="g"/><p:cNvGrpSpPr/><p:nvPr/></p:nvGrpSpPr><p:grpSpPr>${xfrm}</p:grpSpPr>${xml.slice(start, end)}</p:grpSp>${xml.slice(end)}`;
  });
  const source = openFile(scaled);
  const [id] = onFirst(source) as [string];
  const apart = does(source, ...ungrouping(source.document, id));
  expect(sameSeen(openFile(source.write(apart)).document, apart)).toBe(true);
  // The picture alone can come out: its frame is written for the slide.
  const page = source.document.pages[0]!.id;
  const { box } = source.document.items['p1']!.at;
  const next = does(
    source,
    { op: 'move', id: 'p1', slot: { in: { page }, index: 0 } },
    { op: 'set', id: 'p1', path: 'at', value: { on: 'page', box } },
  );
  expect(sameSeen(openFile(source.write(next)).document, next)).toBe(true);

  const demo = openFile(talk);
  const [from, to] = demo.document.pages.filter((p) => p.items.length > 0);
  const elsewhere = does(demo, { op: 'move', id: from!.items[0]!, slot: { in: { page: to!.id }, index: 0 } });
  expect(() => demo.write(elsewhere)).toThrow('another slide');
});

test('random arrangements come back as they were asked for', () => {
  const sources = { talk: openFile(talk), other: openFile(other) };
  const wish = fc.record({
    deck: fc.constantFrom('talk' as const, 'other' as const),
    steps: fc.array(
      fc.record({ what: fc.constantFrom('move', 'group', 'ungroup', 'remove'), a: fc.nat(50), b: fc.nat(50) }),
      { minLength: 1, maxLength: 6 },
    ),
  });
  fc.assert(
    fc.property(wish, ({ deck, steps }) => {
      const source = sources[deck];
      let next = source.document;
      let groups = 0;
      for (const { what, a, b } of steps) {
        const page = next.pages[0]!;
        const id = page.items[a % Math.max(1, page.items.length)];
        if (id === undefined) break;
        const operations: Operation[] =
          what === 'move'
            ? [{ op: 'move', id, slot: { in: { page: page.id }, index: b % page.items.length } }]
            : what === 'remove'
              ? [{ op: 'remove', id }]
              : what === 'group'
                ? grouping(next, [...new Set([id, page.items[b % page.items.length]!])], `g${++groups}`)
                : next.items[id]!.kind === 'group'
                  ? ungrouping(next, id)
                  : [];
        next = applyAll(next, operations).document;
      }
      checkDocument(next);
      const again = openFile(source.write(next)).document;
      expect(seen(again).length).toBe(seen(next).length);
      expect(sameSeen(again, next)).toBe(true);
      const all = (d: Document): number =>
        d.pages.flatMap((p) => itemsOf(d, { page: p.id }).flatMap((i) => withChildren(d, i))).length;
      expect(all(again)).toBe(all(next));
    }),
    { numRuns: 60 },
  );
});
