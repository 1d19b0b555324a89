/**
 * A picture in one group with what follows it: others find the group (`pptxtojson` in slides; elements by ISO/IEC 29500-1 §19.3.1.22,
 * grpSp; ODF 1.2 Part 1 §10.3.15, draw:g; SVG 2 §5.2), everything lies where it lay, and the ties hold within it.
 */
import {
  applyAll,
  changesFrom,
  equal,
  grouping,
  groupsRound,
  isPictureItem,
  isPlainGroup,
  readChanges,
  resolveTies,
  stackOf,
  tiedGrouped,
  type Document,
  type FramedItem,
  type Operation,
  type Outline,
  ungrouping,
  withChanges,
  withTied,
} from '@gable/core';
import { strFromU8, strToU8, unzipSync, zipSync } from 'fflate';
import { readFileSync } from 'node:fs';
import { parse } from 'pptxtojson';
import { openFile, withTiedGrouped, type Source } from '../src/index';
import { png } from './support/build';
import { buildOpen, openFrame } from './support/open';
import { withPiece } from './support/pieces';

const does = (document: Document, ...operations: Operation[]): Document =>
  resolveTies(applyAll(document, operations).document);
const moved = (document: Document, id: string, dx: number, dy: number): Document => {
  const { at } = document.items[id]!;
  return does(document, {
    ...{ op: 'set', id, path: 'at' },
    value: { ...at, box: { ...at.box, x: at.box.x + dx, y: at.box.y + dy } },
  });
};
/** Where all lies on the pages, to a hundredth of a point, whatever it is called. */
const places = ({ document }: Source): number[][] =>
  document.pages
    .flatMap((page) => stackOf(document, page))
    .map(({ box, turn }) => [box.x, box.y, box.width, box.height, turn].map((v) => Math.round(v * 100) / 100));
const tied = ({ document }: Source): FramedItem[] =>
  Object.values(document.items).filter((i): i is FramedItem => i.kind === 'framed' && i.tie !== undefined);

async function openPages(kind: 'presentation' | 'graphics'): Promise<Uint8Array> {
  const body = `<draw:page draw:name="One" draw:master-page-name="M">${openFrame('svg:x="250pt" svg:y="180pt"')}</draw:page>`;
  const masters = '<style:master-page style:name="M" style:page-layout-name="L"/>';
  return buildOpen({ kind, styles: '', body, masters, common: '' });
}
const drawing = async (): Promise<Uint8Array> => {
  const data = Buffer.from(await png(40, 30)).toString('base64');
  return strToU8(
    `<svg xmlns="http://www.w3.org/2000/svg" width="640" height="480"><image href="data:image/png;base64,${data}" x="250" y="180" width="200" height="150"/></svg>`,
  );
};
const FILES: Record<string, { bytes: () => Promise<Uint8Array>; n: number; tag: RegExp }> = {
  slides: {
    bytes: () => Promise.resolve(new Uint8Array(readFileSync('demo/files/open-day-talk.pptx'))),
    ...{ n: 3, tag: /<p:grpSp[ >]/g },
  },
  'slides of OpenDocument': { bytes: () => openPages('presentation'), n: 1, tag: /<draw:g>/g },
  'a drawing of OpenDocument': { bytes: () => openPages('graphics'), n: 1, tag: /<draw:g>/g },
  'an SVG drawing': { bytes: drawing, n: 1, tag: /<g>/g },
};
const textOf = (file: Uint8Array): string => {
  if (file[0] !== 0x50) return strFromU8(file);
  const parts = unzipSync(file);
  return strFromU8(parts['content.xml'] ?? parts['ppt/slides/slide2.xml']!);
};
const count = (file: Uint8Array, tag: RegExp): number => [...textOf(file).matchAll(tag)].length;

describe.each(Object.entries(FILES))('in %s', (_, { bytes, n, tag }) => {
  test.each(['name-below', 'block-behind', 'ring', 'quote'])('%s', async (piece) => {
    const file = openFile(await bytes());
    const out = file.write(withPiece(file, n, piece));
    const grouped = withTiedGrouped(out);
    const [before, after] = [openFile(out), openFile(grouped)];
    expect(count(grouped, tag) - count(out, tag)).toBe(1);
    const id = `p${n}`;
    const [group] = groupsRound(after.document).get(id)!;
    expect(group!.children).toHaveLength(tied(before).length + 1);
    // All lies where it lay, one over the other.
    expect(places(after)).toEqual(places(before));
    expect(tied(after).map((i) => i.tie)).toEqual(
      tied(before).map(({ tie }) => ({ ...tie, to: tie!.to === id ? id : expect.any(String) })),
    );
    // Again there is nothing to do, and nothing is written anew.
    expect(Buffer.compare(withTiedGrouped(grouped), grouped)).toBe(0);
    expect(Buffer.compare(after.write(after.document), Buffer.from(grouped))).toBe(0);
    // Its followers go along in the group.
    const there = openFile(after.write(moved(after.document, id, 24, -18)));
    for (const item of tied(after)) {
      const now = there.document.items[item.id]!;
      expect(now.at.box.x - item.at.box.x).toBeCloseTo(24, 1);
      expect(now.at.box.y - item.at.box.y).toBeCloseTo(-18, 1);
      expect(now.tie).toEqual(item.tie);
    }
  });
});

/** What is on the page of a picture, in its order. */
const orderRound = ({ pages }: Document, id: string): string[] => pages.find((p) => p.items.includes(id))!.items;

describe.each(Object.entries(FILES))('by hand, in %s', (_, { bytes, n, tag }) => {
  const id = `p${n}`;
  /** A picture with a piece, all of that in a new group. */
  const made = async (piece: string): Promise<{ file: Source; plain: Document; document: Document }> => {
    const file = openFile(await bytes());
    const plain = withPiece(file, n, piece);
    const order = orderRound(plain, id);
    const page = plain.pages.find((p) => p.items === order)!;
    return { file, plain, document: does(plain, ...grouping(plain, page.id, withTied(plain, order, [id]), 'add-g')) };
  };

  test.each(['name-below', 'block-behind', 'ring', 'quote', 'figure-panel', 'print'])(
    'a picture and its %s come to a group of the file, and out of it again',
    async (piece) => {
      const { file, plain, document } = await made(piece);
      const [flat, grouped] = [openFile(file.write(plain)), openFile(file.write(document))];
      expect(count(grouped.write(grouped.document), tag) - count(flat.write(flat.document), tag)).toBe(1);
      const [group] = groupsRound(grouped.document).get(id)!;
      expect(isPlainGroup(group!)).toBe(true);
      expect(group!.children).toHaveLength(tied(flat).length + 1);
      expect(places(grouped)).toEqual(places(flat));
      // Ties hold in it, as they did.
      expect(tied(grouped).map((i) => i.tie?.as)).toEqual(tied(flat).map((i) => i.tie?.as));
      const apart = applyAll(grouped.document, ungrouping(grouped.document, group!.id)).document;
      const again = openFile(grouped.write(apart));
      expect(count(again.write(again.document), tag)).toBe(count(flat.write(flat.document), tag));
      expect(places(again)).toEqual(places(flat));
      expect(tied(again).map((i) => i.tie?.as)).toEqual(tied(flat).map((i) => i.tie?.as));
    },
  );

  test('a group that is taken apart and put together again is no change', async () => {
    const { file, document } = await made('name-below');
    const grouped = openFile(file.write(document));
    const [group] = groupsRound(grouped.document).get(id)!;
    const { document: apart, inverse } = applyAll(grouped.document, ungrouping(grouped.document, group!.id));
    const back = applyAll(apart, inverse).document;
    expect(Buffer.compare(grouped.write(back), grouped.write(grouped.document))).toBe(0);
  });

  test('what comes out of a group is moved, recoloured and given another outline', async () => {
    const { file, document } = await made('name-below');
    const grouped = openFile(file.write(document));
    const [group] = groupsRound(grouped.document).get(id)!;
    const apart = applyAll(grouped.document, ungrouping(grouped.document, group!.id)).document;
    const words = tied(grouped)[0]!.id;
    const outline = { ...OUTLINE, weight: 2 };
    const next = does(
      moved(apart, id, 30, 12),
      { op: 'set', id: words, path: 'outline', value: outline },
      { op: 'set', id, path: 'outline', value: outline },
    );
    const there = openFile(grouped.write(next));
    const [was, now] = [grouped.pictures[n - 1]!.frame.box, there.pictures[n - 1]!.frame.box];
    expect(now.x - was.x).toBeCloseTo(30, 1);
    expect(now.y - was.y).toBeCloseTo(12, 1);
    const [item] = tied(there);
    expect(item!.outline?.weight).toBeCloseTo(2, 1);
    expect(there.pictures[n - 1]!.frame.outline?.weight).toBeCloseTo(2, 1);
    expect(groupsRound(there.document).get(id)).toBeUndefined();
  });

  test('stored and read again it is the same', async () => {
    const { file, document } = await made('ring');
    const stored = JSON.parse(JSON.stringify(changesFrom(file.document, document, true))) as unknown;
    expect(withChanges(file.document, readChanges(stored))).toEqual(document);
    // And so is one of the file that was taken apart, all but one of it in another group.
    const grouped = openFile(file.write(document));
    const [group] = groupsRound(grouped.document).get(id)!;
    const { pages } = grouped.document;
    const page = pages.find((p) => p.items.includes(group!.id))!;
    const apart = applyAll(grouped.document, ungrouping(grouped.document, group!.id)).document;
    const other = page.items.find((i) => i !== group!.id);
    const all = [...group!.children, ...(other === undefined ? [] : [other])];
    const set = orderRound(apart, id).filter((i) => all.includes(i));
    const next = does(apart, ...grouping(apart, page.id, set, 'add-h'));
    const kept = readChanges(JSON.parse(JSON.stringify(changesFrom(grouped.document, next, true))));
    expect(equal(withChanges(grouped.document, kept), next)).toBe(true);
  });
});

const OUTLINE: Outline = {
  ...{ weight: 1, paint: { kind: 'solid', colour: '#b5482a', opacity: 1 }, dash: 'solid', cap: 'butt', join: 'mitre' },
  side: 'on',
};

test.each(['slides of OpenDocument', 'an SVG drawing'])(
  'in %s a group says nothing but what is in it',
  async (name) => {
    const { bytes } = FILES[name]!;
    const file = openFile(await bytes());
    const grouped = openFile(withTiedGrouped(file.write(withPiece(file, 1, 'ring'))));
    const [group] = groupsRound(grouped.document).get('p1')!;
    const { document } = applyAll(grouped.document, [{ op: 'set', id: group!.id, path: 'turn', value: 30 }]);
    expect(() => grouped.write(document)).toThrow(expect.objectContaining({ code: 'cannot-write' }));
  },
);

describe('in slides', () => {
  const talk = (): { file: Source; out: Uint8Array } => {
    const file = openFile(new Uint8Array(readFileSync('demo/files/open-day-talk.pptx')));
    return { file, out: file.write(withPiece(file, 3, 'name-below')) };
  };
  const withSlide = (bytes: Uint8Array, change: (xml: string) => string): Uint8Array =>
    zipSync({ ...unzipSync(bytes), 'ppt/slides/slide2.xml': strToU8(change(textOf(bytes))) });

  test('another reader finds the picture and its words in a group, at their places', async () => {
    const grouped = withTiedGrouped(talk().out);
    const { slides } = await parse(grouped.buffer as ArrayBuffer);
    const groups = slides[1]!.elements.filter((e) => e.type === 'group');
    expect(groups).toHaveLength(1);
    const [group] = groups as unknown as {
      left: number;
      top: number;
      elements: { type: string; left: number; top: number }[];
    }[];
    const { box } = openFile(grouped).pictures.find((p) => p.n === 3)!.frame;
    expect(group!.elements).toHaveLength(2);
    const image = group!.elements.find((e) => e.type === 'image')!;
    expect(group!.left + image.left).toBeCloseTo(box.x, 0);
    expect(group!.top + image.top).toBeCloseTo(box.y, 0);
  });

  test('a group that another program has moved keeps its ties, and a picture in it leads its words there', () => {
    const moving = (xml: string): string =>
      xml.replace(
        /(<p:grpSpPr><a:xfrm><a:off x=")(\d+)("[^>]*\/><a:ext[^>]*\/><a:chOff)/,
        (all, a: string, x: string, b: string) =>
          all.startsWith('<p:grpSpPr><a:xfrm><a:off x="0"') ? all : `${a}${Number(x) + 254000}${b}`,
      );
    const grouped = withTiedGrouped(talk().out);
    const elsewhere = openFile(withSlide(grouped, moving));
    const [words] = tied(elsewhere);
    expect(words!.at.box.x - tied(openFile(grouped))[0]!.at.box.x).toBeCloseTo(20, 2);
    const there = openFile(elsewhere.write(moved(elsewhere.document, 'p3', 30, 6)));
    const now = tied(there)[0]!;
    expect(
      [now.at.box.x - words!.at.box.x, now.at.box.y - words!.at.box.y].map((v) => Math.round(v * 10) / 10),
    ).toEqual([30, 6]);
  });

  test.each<[string, (xml: string, id: string) => string]>([
    [
      'what an animation moves',
      (xml, id) =>
        xml.replace(
          '</p:sld>',
          `<p:timing><p:tnLst><p:par><p:cTn id="1" dur="indefinite" nodeType="tmRoot"><p:childTnLst><p:par><p:cTn id="2"><p:childTnLst><p:set><p:cBhvr><p:cTn id="3"/><p:tgtEl><p:spTgt spid="${id}"/></p:tgtEl></p:cBhvr></p:set></p:childTnLst></p:cTn></p:par></p:childTnLst></p:cTn></p:par></p:tnLst></p:timing></p:sld>`,
        ),
    ],
    [
      'what fills a placeholder',
      (xml, id) =>
        xml.replace(
          new RegExp(`(<p:cNvPr id="${id}"[^]*?)<p:nvPr/>`),
          '$1<p:nvPr><p:ph type="pic" idx="13"/></p:nvPr>',
        ),
    ],
  ])('%s stays by itself', (_, change) => {
    const { out } = talk();
    const words = tied(openFile(out))[0]!;
    expect(words.tie!.to).toBe('p3');
    // The picture, by the number that its words name.
    const id = /<tie xmlns="urn:gable:tie:1" to="(\d+)"/.exec(textOf(out))![1]!;
    const changed = withSlide(out, (xml) => change(xml, id));
    expect(textOf(changed)).not.toBe(textOf(out));
    expect(Buffer.compare(withTiedGrouped(changed), changed)).toBe(0);
  });

  test('where something lies between them that it would pass, they stay as they are', () => {
    const { out } = talk();
    const { document } = openFile(out);
    const [page] = document.pages.filter((p) => p.items.includes('p3'));
    const words = tied(openFile(out))[0]!;
    const between = page!.items.find((i) => !isPictureItem(document.items[i]!) && i !== words.id)!;
    // A shape over the picture, and beneath its words.
    const at = { on: 'page', box: document.items['p3']!.at.box };
    const ordered = applyAll(document, [
      { op: 'set', id: between, path: 'at', value: at },
      { op: 'move', id: between, slot: { in: { page: page!.id }, index: page!.items.length - 1 } },
      { op: 'move', id: words.id, slot: { in: { page: page!.id }, index: page!.items.length - 1 } },
    ]).document;
    expect(tiedGrouped(ordered, () => true)).toBe(ordered);
    const away = applyAll(ordered, [
      { op: 'set', id: between, path: 'at', value: { on: 'page', box: { x: 2, y: 2, width: 9, height: 9 } } },
    ]).document;
    expect(Object.values(tiedGrouped(away, () => true).items).filter((i) => i.kind === 'group')).toHaveLength(
      Object.values(away.items).filter((i) => i.kind === 'group').length + 1,
    );
  });

  test('without ties, or in a text, the very same bytes come back', () => {
    for (const name of ['open-day-talk.pptx', 'season-handbook.docx', 'firing-day-board.svg']) {
      const bytes = new Uint8Array(readFileSync(`demo/files/${name}`));
      expect(withTiedGrouped(bytes)).toBe(bytes);
    }
  });
});
