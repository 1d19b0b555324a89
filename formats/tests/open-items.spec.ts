/**
 * What pages of presentations and drawings of OpenDocument have themselves: it looks otherwise, goes, lies in another order, and follows
 * pictures. Elements and attributes by ODF 1.2 Part 1 (§10.3, shapes; §16, styles; §19.140 and §19.237, ends of connectors); words as
 * `officeparser` finds them.
 */
import {
  applyAll,
  isPictureItem,
  PIECES,
  plainWords,
  resolveTies,
  withLines,
  type Document,
  type FramedItem,
  type Operation,
  type Paint,
  type PictureItem,
  type Tie,
} from '@gable/core';
import fc from 'fast-check';
import { strFromU8, strToU8, unzipSync, zipSync } from 'fflate';
import { parseOffice } from 'officeparser';
import { openFile, type Source } from '../src/index';
import { png } from './support/build';
import { buildOpen, graphicStyle, openFrame } from './support/open';
import { added, withPiece } from './support/pieces';

const contentOf = (bytes: Uint8Array): string => strFromU8(unzipSync(bytes)['content.xml']!);
const changedParts = (a: Uint8Array, b: Uint8Array): string[] => {
  const [was, is] = [unzipSync(a), unzipSync(b)] as [Record<string, Uint8Array>, Record<string, Uint8Array>];
  return Object.keys(is).filter((n) => !was[n] || strFromU8(was[n]) !== strFromU8(is[n]!));
};
const solid = (colour: string): Paint => ({ kind: 'solid', colour, opacity: 1 });
const does = (document: Document, ...operations: Operation[]): Document =>
  resolveTies(applyAll(document, operations).document);
const tiedIn = ({ items }: Document): FramedItem[] =>
  Object.values(items).filter((i): i is FramedItem => i.kind === 'framed' && i.tie !== undefined);
const rule = ({ to, ...own }: Tie): string => (void to, JSON.stringify(Object.entries(own).sort()));
const moved = (document: Document, id: string, dx: number, dy: number): Document => {
  const { at } = document.items[id]!;
  const box = { ...at.box, x: at.box.x + dx, y: at.box.y + dy };
  return does(document, { op: 'set', id, path: 'at', value: { ...at, box } });
};

const geometry = '<draw:enhanced-geometry svg:viewBox="0 0 9 9" draw:enhanced-path="M 0 0 L 9 0 9 9 0 9 Z N"/>';
const block = (attributes: string, inner = ''): string =>
  `<draw:custom-shape svg:width="80pt" svg:height="40pt" ${attributes}>${inner}${geometry}</draw:custom-shape>`;
const STYLES =
  graphicStyle('gr1', 'draw:fill="solid" draw:fill-color="#2b6a73" draw:stroke="none" fo:padding="2pt"') +
  '<style:style style:name="P1" style:family="paragraph"><style:paragraph-properties fo:text-align="center"/></style:style>' +
  '<style:style style:name="T1" style:family="text"><style:text-properties style:font-name="Odd" fo:font-size="20pt"/></style:style>';
const LAYOUT =
  '<style:page-layout style:name="L"><style:page-layout-properties fo:page-width="720pt" fo:page-height="540pt"/></style:page-layout>';
const WORDS =
  '<text:p text:style-name="P1">Come <text:span text:style-name="T1">and see</text:span> <text:a xlink:href="https://example.org/">here<text:s text:c="2"/>now</text:a></text:p>';

/** A page with words, two blocks of one style, a picture between them, and a connector that is glued to the first block. */
async function file(kind: 'presentation' | 'graphics'): Promise<Source> {
  const body =
    '<draw:page draw:name="One" draw:master-page-name="M">' +
    block('draw:style-name="gr1" svg:x="20pt" svg:y="30pt"', WORDS) +
    block('draw:style-name="gr1" svg:x="420pt" svg:y="330pt" xml:id="b" draw:id="b"') +
    openFrame('svg:x="250pt" svg:y="180pt"') +
    block('draw:style-name="gr1" svg:x="520pt" svg:y="330pt"') +
    '<draw:connector svg:x1="10pt" svg:y1="10pt" svg:x2="420pt" svg:y2="350pt" draw:start-shape="other" draw:end-shape="b" draw:end-glue-point="3"/>' +
    '</draw:page><draw:page draw:name="Two" draw:master-page-name="M"/>';
  const masters = '<style:master-page style:name="M" style:page-layout-name="L"/>';
  const bytes = await buildOpen({ kind, styles: STYLES, body, masters, common: '' });
  const parts = unzipSync(bytes);
  const styles = strFromU8(parts['styles.xml']!).replace(
    '<office:automatic-styles/>',
    `<office:automatic-styles>${LAYOUT}</office:automatic-styles>`,
  );
  return openFile(zipSync({ ...parts, 'styles.xml': strToU8(styles) }));
}
const itemsOn = ({ document }: Pick<Source, 'document'>): FramedItem[] =>
  document.pages[0]!.items.map((i) => document.items[i]!).filter((i): i is FramedItem => i.kind === 'framed');
const wordsOf = (source: Pick<Source, 'document'>): FramedItem => itemsOn(source).find((i) => i.text !== null)!;

describe.each(['presentation', 'graphics'] as const)('a %s', (kind) => {
  let source: Source;
  let bytes: Uint8Array;
  /** The words as others find them; it does not read drawings: of these all character data of the content. */
  const saidBy = async (out: Uint8Array): Promise<string> =>
    kind === 'presentation'
      ? (await parseOffice(Buffer.from(out))).toText()
      : contentOf(out)
          .replace(/<text:s[^>]*>/g, ' ')
          .replace(/<[^>]*>/g, '')
          .replaceAll('&amp;', '&');
  beforeAll(async () => {
    source = await file(kind);
    bytes = source.write(source.document);
  });

  describe.each(PIECES.map((p) => p.name))('%s', (name) => {
    test('follows its picture when it is read again, and not a letter is written anew; nothing else moves', () => {
      const next = withPiece(source, 1, name);
      const out = source.write(next);
      const again = openFile(out);
      const own = added(next);
      expect(
        tiedIn(again.document)
          .map((i) => rule(i.tie!))
          .sort(),
      ).toEqual(own.map((i) => rule(i.tie!)).sort());
      expect(Buffer.compare(again.write(again.document), Buffer.from(out))).toBe(0);
      const there = openFile(again.write(moved(again.document, 'p1', 24, -18)));
      const ids = new Set(tiedIn(again.document).map((i) => i.id));
      expect(tiedIn(there.document)).toHaveLength(ids.size);
      for (const item of Object.values(again.document.items)) {
        if (item.id === 'p1' || (item.tie?.as === 'behind' && item.tie.side)) continue;
        const now = there.document.items[item.id]!.at.box;
        const by = ids.has(item.id) ? [24, -18] : [0, 0];
        expect([now.x - item.at.box.x, now.y - item.at.box.y].map((v) => Math.round(v * 100) / 100)).toEqual(by);
      }
    });
  });

  test('moved elsewhere it stands by itself; a copy of its page has ties of its own; untied it is the same but for that', () => {
    const out = source.write(withPiece(source, 1, 'name-below'));
    const again = openFile(out);
    const [name] = tiedIn(again.document);
    const copied = openFile(
      again.withPages!([
        { page: 1, as: 'itself' },
        { page: 1, as: 'copy' },
      ]).bytes,
    );
    expect(tiedIn(copied.document).map((i) => i.tie!.to)).toEqual(['p1', 'p2']);
    const free = again.write(does(again.document, { op: 'set', id: name!.id, path: 'tie' }));
    expect(tiedIn(openFile(free).document)).toEqual([]);
    const plain = (xml: string): string => xml.replace(/ gable-tie:(rule|to)="[^"]*"/g, '');
    expect(contentOf(free)).toBe(plain(contentOf(out)));
    // By another program, which leaves what it does not know.
    const shape = /<draw:custom-shape[^>]*gable-tie:rule[^>]*>/.exec(contentOf(out))![0];
    const shifted = contentOf(out).replace(shape, shape.replace(/svg:x="[^"]*"/, 'svg:x="7pt"'));
    const elsewhere = openFile(zipSync({ ...unzipSync(out), 'content.xml': strToU8(shifted) }));
    expect(tiedIn(elsewhere.document)).toEqual([]);
    expect(elsewhere.document.items[name!.id]!.at.box.x).toBe(7);
  });

  test('words of a tied shape are typed anew, those of the file are not', async () => {
    const again = openFile(source.write(withPiece(source, 1, 'name-below')));
    const [name] = tiedIn(again.document);
    const typed = (item: FramedItem, lines: string[]): Operation => ({
      ...{ op: 'set', id: item.id, path: 'text' },
      value: withLines(item.text!, lines),
    });
    const out = again.write(does(again.document, typed(name!, ['Tobias & Ines', 'kilns'])));
    const [now] = tiedIn(openFile(out).document);
    expect(plainWords(now!.text)).toBe('Tobias & Ines kilns');
    expect(now!.text!.paragraphs).toHaveLength(2);
    expect(now!.text!.paragraphs[0]).toMatchObject({ align: name!.text!.paragraphs[0]!.align });
    expect(await saidBy(out)).toContain('Tobias & Ines');
    expect(() => again.write(does(again.document, typed(wordsOf(source), ['Other'])))).toThrow(/not be others/);
  });

  test('letters get another look where they stand: a link stays one, and what is not changed keeps its style', async () => {
    const words = wordsOf(source);
    const runs = words.text!.paragraphs[0]!.runs;
    expect(runs.map((r) => r.text)).toEqual(['Come ', 'and see', ' ', 'here', '  ', 'now']);
    const look = { paint: solid('#b5482a'), weight: 700, italic: true, underline: true, font: 'Georgia' };
    const restyled = (only: readonly number[]): FramedItem['text'] => ({
      ...words.text!,
      paragraphs: [
        { ...words.text!.paragraphs[0]!, runs: runs.map((r, i) => (only.includes(i) ? { ...r, ...look } : r)) },
      ],
    });
    for (const only of [[0], [1], [3], [4], [1, 5], [0, 1, 2, 3, 4, 5]]) {
      const value = restyled(only);
      const out = source.write(does(source.document, { op: 'set', id: words.id, path: 'text', value }));
      expect(wordsOf(openFile(out)).text).toEqual(value);
      expect(changedParts(bytes, out)).toEqual(['content.xml']);
      expect(contentOf(out)).toMatch(/<text:a xlink:href="https:\/\/example.org\/">/);
      // The style that others may have is as it was.
      expect(contentOf(out)).toContain('<style:text-properties style:font-name="Odd" fo:font-size="20pt"/>');
      expect((await saidBy(out)).replace(/\s+/g, ' ')).toContain('Come and see here now');
    }
    const aligned = { ...words.text!, paragraphs: [{ ...words.text!.paragraphs[0]!, align: 'end' as const }] };
    const out = source.write(does(source.document, { op: 'set', id: words.id, path: 'text', value: aligned }));
    expect(wordsOf(openFile(out)).text).toEqual(aligned);
  });

  test('a block gets another fill, line, place and turn; one of the same style does not', () => {
    const [, first] = itemsOn(source);
    const outline = {
      paint: solid('#000000'),
      weight: 3,
      side: 'on',
      dash: 'dash',
      join: 'round',
      cap: 'butt',
    } as const;
    const box = { x: 400, y: 300, width: 100, height: 20 };
    const set = (path: string, value: unknown): Operation => ({ op: 'set', id: first!.id, path, value });
    const next = does(
      source.document,
      set('fill', { kind: 'paint', paint: { ...solid('#b5482a'), opacity: 0.5 } }),
      set('outline', outline),
      set('at', { ...first!.at, box }),
      set('turn', 30),
    );
    const out = source.write(next);
    const again = openFile(out).document;
    const now = again.items[first!.id] as FramedItem;
    expect(now).toMatchObject({
      fill: { paint: { colour: '#b5482a', opacity: 0.5 } },
      outline: { weight: 3, dash: 'dash' },
    });
    expect(now.turn).toBeCloseTo(30, 6);
    expect(now.at.box).toEqual({ x: expect.closeTo(400, 3), y: expect.closeTo(300, 3), width: 100, height: 20 });
    const others = (d: Document): unknown => Object.values(d.items).filter((i) => i.id !== first!.id);
    expect(others(again)).toEqual(others(source.document));
    // Nothing that was said of its words is lost.
    expect(contentOf(out).match(/fo:padding="2pt"/g)).toHaveLength(2);
    const bare = does(source.document, set('fill', null));
    expect((openFile(source.write(bare)).document.items[first!.id] as FramedItem).fill).toBeNull();
  });

  test('what goes lets go of its connectors, and takes nothing else along', () => {
    const [, first] = itemsOn(source);
    const out = contentOf(source.write(does(source.document, { op: 'remove', id: first!.id })));
    const gone = contentOf(bytes)
      .replace(
        /<draw:custom-shape svg:width="80pt" svg:height="40pt" draw:style-name="gr1" svg:x="420pt".*?<\/draw:custom-shape>/,
        '',
      )
      .replace(' draw:end-shape="b" draw:end-glue-point="3"', '');
    expect(out).toBe(gone);
  });

  test('what is raised is taken along as it is written; any order comes back', () => {
    fc.assert(
      fc.property(fc.shuffledSubarray(source.document.pages[0]!.items, { minLength: 5 }), (order) => {
        const page = source.document.pages[0]!.id;
        const operations = order.map((id, index): Operation => ({ op: 'move', id, slot: { in: { page }, index } }));
        const next = does(source.document, ...operations);
        const out = source.write(next);
        const looks = (d: Document): unknown[] =>
          d.pages[0]!.items.map((id) => {
            const { at, kind } = d.items[id]!;
            return [kind, at.box];
          });
        expect(looks(openFile(out).document)).toEqual(looks(next));
        const pieces = (xml: string): string[] =>
          xml.match(/<draw:(custom-shape|frame|connector)\b.*?(<\/draw:\1>|\/>)/g)!.sort();
        expect(pieces(contentOf(out))).toEqual(pieces(contentOf(bytes)));
      }),
      { numRuns: 30 },
    );
  });

  test('a new picture comes beneath all, or into a shape, whose words and look stay', async () => {
    const image = { bytes: await png(30, 20), type: 'png', size: { width: 30, height: 20 } } as const;
    const model = source.document.items['p1'] as PictureItem;
    const item = {
      ...{ ...model, id: 'new', alt: 'New', at: { on: 'page', box: { x: 5, y: 6, width: 60, height: 40 } } },
      fill: {
        ...model.fill,
        source: { from: 'kept', sha256: 'a'.repeat(64), name: 'n', type: 'png', size: image.size, orientation: 1 },
      },
    } as PictureItem;
    const page = source.document.pages[0]!.id;
    const beneath = does(source.document, { op: 'add', item, slot: { in: { page }, index: 0 } });
    const { bytes: out, order } = source.arranged(beneath, new Map([['new', image]]));
    expect(order).toEqual(['new', 'p1']);
    const again = openFile(out);
    expect(again.document.pages[0]!.items[0]).toBe('p1');
    expect(again.pictures[0]!.frame).toMatchObject({ alt: 'New', box: { x: 5, y: 6, width: 60, height: 40 } });
    expect(again.pictures[1]!.frame.box).toEqual(source.pictures[0]!.frame.box);
    const { box } = wordsOf(source).at;
    const into = { ...item, at: { on: 'page', box, fills: true } } as PictureItem;
    const filled = does(source.document, { op: 'add', item: into, slot: { in: { page }, index: 3 } });
    const shape = openFile(source.write(filled, new Map([['new', image]])));
    expect(shape.pictures.map((p) => p.frame.alt)).toEqual(['New', source.pictures[0]!.frame.alt]);
    expect(plainWords(shape.pictures[0]!.words!)).toMatch(/^Come and see/);
    // On a page that has nothing yet.
    const alone = does(source.document, {
      op: 'add',
      item,
      slot: { in: { page: source.document.pages[1]!.id }, index: 0 },
    });
    const second = openFile(source.write(alone, new Map([['new', image]])));
    expect(second.pictures.map((p) => [p.where.page, p.frame.alt])).toEqual([
      [1, source.pictures[0]!.frame.alt],
      [2, 'New'],
    ]);
    const onOther = does(source.document, {
      op: 'move',
      id: 'p1',
      slot: { in: { page: source.document.pages[1]!.id }, index: 0 },
    });
    expect(() => source.write(onOther)).toThrow(/cannot go into another/);
  });
});

test('a picture among words goes where these go; what an animation moves stays', async () => {
  const boxed = `<draw:frame svg:x="10pt" svg:y="10pt" svg:width="90pt" svg:height="60pt"><draw:text-box><text:p>Words ${openFrame('text:anchor-type="as-char"')}</text:p></draw:text-box></draw:frame>`;
  const play =
    '<anim:par xmlns:anim="urn:oasis:names:tc:opendocument:xmlns:animation:1.0" xmlns:smil="urn:oasis:names:tc:opendocument:xmlns:smil-compatible:1.0"><anim:set smil:targetElement="b"/></anim:par>';
  const body = `<draw:page>${boxed}${block('svg:x="200pt" svg:y="10pt" xml:id="b" draw:id="b"')}${play}</draw:page>`;
  const source = openFile(await buildOpen({ kind: 'presentation', body }));
  const [box, held, other] = source.document.pages[0]!.items;
  expect(isPictureItem(source.document.items[held!]!)).toBe(true);
  const page = source.document.pages[0]!.id;
  const raise = (id: string): Operation => ({ op: 'move', id, slot: { in: { page }, index: 2 } });
  expect(() => source.write(does(source.document, raise(box!)))).toThrow(/picture stands in this text box/);
  expect(() => source.write(does(source.document, { op: 'remove', id: box! }))).toThrow(
    /picture stands in this text box/,
  );
  expect(() => source.write(does(source.document, { op: 'remove', id: other! }))).toThrow(/animation moves it/);
  const both = source.write(does(source.document, { op: 'remove', id: box! }, { op: 'remove', id: held! }));
  expect(openFile(both).pictures).toEqual([]);
  const alone = openFile(source.write(does(source.document, { op: 'remove', id: held! })));
  expect(alone.pictures).toEqual([]);
  expect(plainWords(wordsOf(alone).text!)).toMatch(/^Words/);
  // The block comes beneath the box, and its picture stays in it.
  const lowered = openFile(
    source.write(does(source.document, { op: 'move', id: other!, slot: { in: { page }, index: 0 } })),
  );
  expect(lowered.document.pages[0]!.items.map((i) => lowered.document.items[i]!.at.box.x)).toEqual([
    200,
    10,
    expect.anything(),
  ]);
});

test('lines of an outline get another look, each by itself, and stay in their list', async () => {
  const line = (words: string): string => `<text:list-item><text:p>${words}</text:p></text:list-item>`;
  const list = `<text:list>${line('Centre the clay')}${line('Open it <text:span>slowly</text:span>')}<text:list-item><text:list>${line('with both hands')}</text:list></text:list-item></text:list>`;
  const outline = `<draw:frame presentation:style-name="pr1" presentation:class="outline" svg:x="40pt" svg:y="60pt" svg:width="300pt" svg:height="200pt"><draw:text-box>${list}</draw:text-box></draw:frame>`;
  const styles =
    '<style:style style:name="pr1" style:family="presentation"><style:graphic-properties draw:fill="none"/><style:text-properties fo:font-size="20pt"/></style:style>';
  const source = openFile(await buildOpen({ kind: 'presentation', styles, body: `<draw:page>${outline}</draw:page>` }));
  const words = wordsOf(source);
  expect(words.text!.paragraphs.map((p) => p.runs.map((r) => r.text))).toEqual([
    ['Centre the clay'],
    ['Open it ', 'slowly'],
    ['with both hands'],
  ]);
  const paragraphs = words.text!.paragraphs.map((p, i) => ({
    ...p,
    runs: p.runs.map((r, j) => (i + j === 2 ? { ...r, paint: solid('#b5482a'), size: 31 } : r)),
  }));
  const value = { ...words.text!, paragraphs };
  const fill = { kind: 'paint', paint: solid('#f4f0e7') };
  const out = source.write(
    does(
      source.document,
      { op: 'set', id: words.id, path: 'text', value },
      { op: 'set', id: words.id, path: 'fill', value: fill },
    ),
  );
  expect(wordsOf(openFile(out))).toMatchObject({ text: value, fill });
  const lists = (xml: string): string =>
    xml.replace(/^.*<draw:page>|<\/?text:span[^>]*>| presentation:style-name="[^"]*"/gs, '');
  expect(lists(contentOf(out))).toBe(lists(contentOf(source.write(source.document))));
  expect(contentOf(out)).toMatch(/style:family="presentation"><style:graphic-properties[^>]*draw:fill="solid"/);
});
