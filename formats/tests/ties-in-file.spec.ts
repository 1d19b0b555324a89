/**
 * What follows a picture in a deck is known again when the file is read: by every piece, by boxes to a fiftieth of a point. Where the
 * file was changed elsewhere, the place there counts. Order of elements by ISO/IEC 29500-1 §20.1.2.2.8 (cNvPr); shapes and words as
 * `officeparser` finds them.
 */
import {
  applyAll,
  equal,
  isAdded,
  PIECES,
  plainWords,
  resolveTies,
  withLines,
  type Document,
  type FramedItem,
  type Tie,
} from '@gable/core';
import { strFromU8, strToU8, unzipSync, zipSync } from 'fflate';
import { readFileSync } from 'node:fs';
import { parseOffice } from 'officeparser';
import { openFile, type Source } from '../src/index';
import { added, withPiece } from './support/pieces';

const bytes = new Uint8Array(readFileSync('demo/files/open-day-talk.pptx'));
const SLIDE = 'ppt/slides/slide2.xml';
const slideOf = (file: Uint8Array): string => strFromU8(unzipSync(file)[SLIDE]!);
const withSlide = (file: Uint8Array, xml: string): Uint8Array => zipSync({ ...unzipSync(file), [SLIDE]: strToU8(xml) });
const tiedIn = ({ items }: Document): FramedItem[] =>
  Object.values(items).filter((i): i is FramedItem => i.kind === 'framed' && i.tie !== undefined);
const rule = ({ to, ...own }: Tie): Omit<Tie, 'to'> => (void to, own);
const sorted = (ties: readonly Omit<Tie, 'to'>[]): string[] =>
  ties.map((t) => JSON.stringify(Object.entries(t).sort())).sort();
/** A picture moved on its slide. */
const moved = (document: Document, id: string, dx: number, dy: number): Document => {
  const { box } = document.items[id]!.at;
  const at = { on: 'page', box: { ...box, x: box.x + dx, y: box.y + dy } };
  return resolveTies(applyAll(document, [{ op: 'set', id, path: 'at', value: at }]).document);
};

describe.each(PIECES.map((p) => p.name))('%s', (name) => {
  const file = openFile(bytes);
  const next = withPiece(file, 3, name);
  const out = file.write(next);
  const again = openFile(out);

  test('is tied again as it was, and not a letter is written anew', () => {
    const own = added(next);
    expect(sorted(tiedIn(again.document).map((i) => rule(i.tie!)))).toEqual(sorted(own.map((i) => rule(i.tie!))));
    const direct = own.filter((i) => i.tie!.to === 'p3').length;
    expect(tiedIn(again.document).filter((i) => i.tie!.to === 'p3')).toHaveLength(direct);
    expect(Buffer.compare(again.write(again.document), Buffer.from(out))).toBe(0);
  });

  test('goes along with its picture, and nothing else moves', () => {
    const there = openFile(again.write(moved(again.document, 'p3', 24, -18)));
    const ids = new Set(tiedIn(again.document).map((i) => i.id));
    expect(tiedIn(there.document)).toHaveLength(ids.size);
    for (const item of Object.values(again.document.items)) {
      if (item.id === 'p3') continue;
      const now = there.document.items[item.id]!.at.box;
      const band = item.tie?.as === 'behind' && item.tie.side !== undefined;
      if (band) continue;
      const by = ids.has(item.id) ? { x: 24, y: -18 } : { x: 0, y: 0 };
      expect(now.x - item.at.box.x).toBeCloseTo(by.x, 2);
      expect(now.y - item.at.box.y).toBeCloseTo(by.y, 2);
    }
  });
});

const named = (): { file: Source; out: Uint8Array; again: Source; words: FramedItem } => {
  const file = openFile(bytes);
  const out = file.write(withPiece(file, 3, 'name-below'));
  const again = openFile(out);
  return { file, out, again, words: tiedIn(again.document)[0]! };
};

test('moved in another program it stands where it is there, and follows no more', () => {
  const { out, words } = named();
  const x = Math.round(words.at.box.x * 12700);
  const xml = slideOf(out).replace(`<a:off x="${x}"`, `<a:off x="${x + 127000}"`);
  expect(xml).not.toBe(slideOf(out));
  const elsewhere = openFile(withSlide(out, xml));
  expect(tiedIn(elsewhere.document)).toEqual([]);
  const there = elsewhere.document.items[words.id] as FramedItem;
  expect(there.at.box.x - words.at.box.x).toBeCloseTo(10, 3);
  const after = openFile(elsewhere.write(moved(elsewhere.document, 'p3', 40, 0)));
  expect(after.document.items[words.id]!.at.box).toEqual(there.at.box);
});

test('a picture that was moved with its words in another program goes on leading them', () => {
  const { out } = named();
  // All of the slide, by 5 pt.
  const xml = slideOf(out).replace(/<a:off x="(\d+)"/g, (_, x: string) => `<a:off x="${Number(x) + 63500}"`);
  expect(tiedIn(openFile(withSlide(out, xml)).document)).toHaveLength(1);
});

test('where only pictures are asked for, what follows them goes along all the same', () => {
  const { out, words } = named();
  const file = openFile(out, { read: 'pictures', known: openFile(out).pictures.map(({ n }) => ({ n: n + 10 })) });
  const after = openFile(file.write(moved(file.document, 'p13', 15, 6)));
  const now = after.document.items[words.id]!.at.box;
  expect([now.x - words.at.box.x, now.y - words.at.box.y].map((v) => Math.round(v * 100) / 100)).toEqual([15, 6]);
  expect(openFile(bytes, { read: 'pictures' }).document.pages).toEqual([]);
});

test('untied it stands by itself, and its shape is the same but for that', async () => {
  const { out, again, words } = named();
  const { document } = applyAll(again.document, [{ op: 'set', id: words.id, path: 'tie' }]);
  const free = again.write(document);
  expect(tiedIn(openFile(free).document)).toEqual([]);
  const [was, is] = [slideOf(out), slideOf(free)];
  expect(is).toBe(was.replace(/<a:extLst><a:ext uri="\{1D9F4C62[^]*?<\/a:extLst>/, ''));
  expect((await parseOffice(Buffer.from(free))).toText()).toContain('Maren Holt');
});

describe('its words, read again', () => {
  const typed = (words: FramedItem, lines: readonly string[]): FramedItem['text'] => withLines(words.text!, lines);
  const retyped = (file: Source, words: FramedItem, lines: readonly string[]): Uint8Array =>
    file.write(
      applyAll(file.document, [{ op: 'set', id: words.id, path: 'text', value: typed(words, lines) }]).document,
    );

  test('are typed anew letter by letter: nothing else of the shape is written', async () => {
    const { out, again, words } = named();
    const bytes = retyped(again, words, ['Tobias & Ines']);
    expect(slideOf(bytes)).toBe(slideOf(out).replace('<a:t>Maren Holt</a:t>', '<a:t>Tobias &amp; Ines</a:t>'));
    expect((await parseOffice(Buffer.from(bytes))).toText()).toContain('Tobias & Ines');
    expect(tiedIn(openFile(bytes).document)).toHaveLength(1);
  });

  test.each([[['Maren Holt', 'Wheels', 'since 1998']], [['Maren Holt', '']]])(
    'have more lines, an empty one, too: %j',
    (lines) => {
      const { again, words } = named();
      const file = openFile(retyped(again, words, lines));
      const [now] = tiedIn(file.document);
      expect(now!.text!.paragraphs.map((p) => p.runs.map((r) => r.text).join(''))).toEqual(lines);
      expect(now!.text!.paragraphs[0]!.align).toBe(words.text!.paragraphs[0]!.align);
      // And fewer again.
      const [back] = tiedIn(openFile(retyped(file, now!, ['Maren'])).document);
      expect(plainWords(back!.text)).toBe('Maren');
    },
  );

  test('other words of the file stay what they are', () => {
    const file = openFile(bytes);
    const title = Object.values(file.document.items).find(
      (i): i is FramedItem => i.kind === 'framed' && i.text !== null && plainWords(i.text) === 'Who shows you round',
    )!;
    expect(() => retyped(file, title, ['Another'])).toThrow(/not be others/);
  });
});

test('what is told stands last in the properties of its drawing, and words of the file can be tied, too', () => {
  const { out } = named();
  expect(slideOf(out)).toMatch(
    /<p:cNvPr id="\d+" name="[^"]*"[^>]*><a:extLst><a:ext uri="[^"]*"><tie [^>]*>[^<]*<\/tie><\/a:ext><\/a:extLst><\/p:cNvPr>/,
  );
  const file = openFile(bytes);
  const own = Object.values(file.document.items).find(
    (i): i is FramedItem =>
      i.kind === 'framed' && !isAdded(i.id) && /^slide2-/.test(i.id) && i.text !== null && i.at.box.y > 250,
  )!;
  const at = file.document.items['p2']!.at.box;
  const tie = {
    to: 'p2',
    as: 'over',
    gap: own.at.box.y + own.at.box.height / 2 - at.y - at.height / 2,
    share: own.at.box.width / at.width,
    align: 'centre',
    along: own.at.box.x + own.at.box.width / 2 - at.x - at.width / 2,
  };
  const { document } = applyAll(file.document, [{ op: 'set', id: own.id, path: 'tie', value: tie }]);
  const again = openFile(file.write(document));
  expect(tiedIn(again.document).map((i) => [i.id, i.tie!.to])).toEqual([[own.id, 'p2']]);
  expect(equal(again.document.items[own.id]!.at, own.at)).toBe(true);
});

test.each(['not a rule', '{"as":"beside"}', '{"as":"nowhere","gap":1}'])(
  'a rule that is none is passed over: %s',
  (text) => {
    const { out } = named();
    const xml = slideOf(out).replace(/(<tie [^>]*>)[^<]*/, `$1${text}`);
    const other = withSlide(out, xml);
    const file = openFile(other);
    expect(tiedIn(file.document)).toEqual([]);
    expect(Buffer.compare(file.write(file.document), Buffer.from(other))).toBe(0);
  },
);

test('words in a font of the theme follow it (§20.1.10.81), those in another do not', () => {
  const themes = Object.keys(unzipSync(bytes)).filter((n) => /theme\/theme\d+\.xml$/.test(n));
  const xml = strFromU8(unzipSync(bytes)[themes[0]!]!);
  const minor = /<a:minorFont>.*?<a:latin typeface="([^"]*)"/s.exec(xml)![1]!;
  const file = openFile(bytes);
  const next = withPiece(file, 3, 'captioned-circle');
  const words = added(next).find((i) => i.text !== null)!;
  const inFont = (font: string): Document => {
    const paragraphs = words.text!.paragraphs.map((p) => ({ ...p, runs: p.runs.map((r) => ({ ...r, font })) }));
    return applyAll(next, [{ op: 'set', id: words.id, path: 'text', value: { ...words.text!, paragraphs } }]).document;
  };
  const fontIn = (out: Uint8Array): string[] =>
    tiedIn(openFile(out).document).flatMap((i) => i.text?.paragraphs.flatMap((p) => p.runs.map((r) => r.font)) ?? []);
  const parts = unzipSync(file.write(inFont(minor)));
  expect(strFromU8(parts[SLIDE]!)).toContain('<a:latin typeface="+mn-lt"/>');
  expect(new Set(fontIn(zipSync(parts)))).toEqual(new Set([minor]));
  const other = (out: Uint8Array): Uint8Array => {
    const all = unzipSync(out);
    for (const name of themes)
      all[name] = strToU8(strFromU8(all[name]!).replace(/(<a:minorFont>.*?<a:latin typeface=")[^"]*/s, '$1Odd Sans'));
    return zipSync(all);
  };
  expect(new Set(fontIn(other(zipSync(parts))))).toEqual(new Set(['Odd Sans']));
  expect(new Set(fontIn(other(file.write(inFont('Courier New')))))).toEqual(new Set(['Courier New']));
});
