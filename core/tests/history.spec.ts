/** What was done: logged entries, the steps they come to, and what is stored of a changed document. */
import fc from 'fast-check';
import {
  applyAll,
  changesFrom,
  changesOf,
  documentOfPictures,
  equal,
  frameOfItem,
  historyOf,
  itemIdOf,
  logged,
  NO_CHANGES,
  NO_HISTORY,
  readChanges,
  redoing,
  solidOutline,
  undoing,
  withChanges,
  withFrame,
  type Document,
  type Entry,
  type Frame,
  type PictureItem,
  type PlacedPicture,
} from '@gable/core';
import { frameOf } from './frames';

const placed = (n: number, where: Partial<PlacedPicture['where']> = {}, frame: Partial<Frame> = {}): PlacedPicture => ({
  n,
  where: { part: 'word/document.xml', place: 'body', page: 1, ...where },
  frame: frameOf(300, 200, { n, ...frame }),
  size: { width: 3000, height: 2000 },
});
const document = documentOfPictures([placed(1), placed(2), placed(3)]);
const pictureOf = (d: Document, id: string): PictureItem => d.items[id] as PictureItem;

describe('pictures as items', () => {
  test.each([
    ['in a line of a text', {}, { flow: 'inline' as const }, 'line'],
    ['beside a text', { place: 'header' }, { flow: 'floating' as const }, 'anchor'],
    ['on a slide', { place: 'slide' }, { flow: 'floating' as const }, 'page'],
    ['in cells', { place: 'sheet' }, { flow: 'floating' as const }, 'cells'],
    ['on a web page', { place: 'page' }, { flow: 'inline' as const }, 'element'],
    ['in a work of pictures', { part: '' }, { flow: 'floating' as const }, 'page'],
  ])('%s: the item says all that the frame says', (_name, where, frame, on) => {
    const source = { sha256: 'a'.repeat(64), name: 'pot', type: 'png', size: { width: 9, height: 7 }, orientation: 1 };
    const picture = placed(1, where, { ...frame, keep: [{ u: 0.1, v: 0.2, width: 0.3, height: 0.4 }], finish: 'kiln' });
    const item = pictureOf(documentOfPictures([picture]), 'p1');
    expect(item.at.on).toBe(on);
    expect(frameOfItem(item, 1)).toEqual(picture.frame);
    const replaced = { ...picture.frame, source, tone: { softness: { blur: 2 } } };
    const next = withFrame(item, replaced, picture.size);
    expect(frameOfItem(next, 1)).toEqual(replaced);
    expect(withFrame(next, picture.frame, picture.size)).toEqual(item);
  });

  test('what a frame does not say stays: an opacity, an anchor', () => {
    const item = pictureOf(document, 'p1');
    const rich: PictureItem = {
      ...item,
      opacity: 0.5,
      at: { on: 'line', box: item.at.box, after: 3 },
    };
    const frame = { ...frameOfItem(rich, 1), alt: 'other' };
    expect(withFrame(rich, frame, { width: 3000, height: 2000 })).toEqual({ ...rich, alt: 'other' });
  });

  test('a picture of a folder is named by its file and its number there', () => {
    expect(itemIdOf(placed(7))).toBe('p7');
    expect(itemIdOf({ n: 7, member: { id: '3f0e3c52-6a39-4d9c-9b6e-000000000000', n: 2 } })).toBe(
      '3f0e3c52-6a39-4d9c-9b6e-000000000000.p2',
    );
  });
});

describe('what is stored of a changed document', () => {
  test('changed items alone, with their version; what is as the file has it is none', () => {
    const item = pictureOf(document, 'p2');
    const changed = { ...item, outline: solidOutline(4, '#2b6a73') };
    const { document: next, inverse } = applyAll(document, changesOf(item, changed));
    const stored = changesFrom(document, next);
    expect(stored).toEqual({ version: 2, items: { p2: changed }, orders: {} });
    expect(withChanges(document, readChanges(JSON.parse(JSON.stringify(stored))))).toEqual(next);
    expect(changesFrom(document, applyAll(next, inverse).document)).toEqual(NO_CHANGES);
    // Of a picture that its file has no longer.
    expect(withChanges(document, { ...NO_CHANGES, items: { p9: { ...changed, id: 'p9' } } })).toBe(document);
  });

  test('what no version has written is refused', () => {
    expect(() => readChanges({ version: 3, items: {}, orders: {} })).toThrow(/version/);
    // The first version had no orders.
    expect(readChanges({ version: 1, items: {} })).toEqual(NO_CHANGES);
    expect(() => readChanges({ version: 1, items: { p1: { kind: 'framed' } } })).toThrow();
  });
});

describe('a log and its steps', () => {
  let count = 0;
  /** An entry that gives a picture another text. */
  function texts(d: Document, id: string, alt: string, gesture?: string): { entry: Entry; document: Document } {
    const operations = [{ op: 'set' as const, id, path: 'alt', value: alt }];
    const { document: next, inverse } = applyAll(d, operations);
    return {
      entry: { id: `e${count++}`, name: alt, operations, inverse, ...(gesture && { gesture }) },
      document: next,
    };
  }

  test('entries of one gesture are one step, and go back as one', () => {
    const a = texts(document, 'p1', 'a', 'g1');
    const b = texts(a.document, 'p1', 'b', 'g1');
    const c = texts(b.document, 'p2', 'c');
    const history = historyOf([a.entry, b.entry, c.entry]);
    expect(history.past.map((s) => s.name)).toEqual(['b', 'c']);
    const [first, second] = history.past;
    const back = applyAll(applyAll(c.document, second!.inverse).document, first!.inverse).document;
    expect(equal(back, document)).toBe(true);
  });

  test('steps are taken back and done again, also where the log begins after them', () => {
    const a = texts(document, 'p1', 'a');
    const b = texts(a.document, 'p2', 'b');
    const all = historyOf([a.entry, b.entry]);
    const undo = undoing(all.past.at(-1)!, 'u1');
    const undone = logged(all, undo);
    expect([undone.past.map((s) => s.name), undone.future.map((s) => s.name)]).toEqual([['a'], ['b']]);
    const redo = redoing(undone.future[0]!, 'r1');
    expect(logged(undone, redo).past.map((s) => [s.key, s.name])).toEqual([
      [a.entry.id, 'a'],
      [b.entry.id, 'b'],
    ]);
    // The undone entry itself may not be known: what takes it back says how to do it again.
    const late = historyOf([undo]);
    expect(late.future[0]!.operations).toEqual(b.entry.operations);
    expect(historyOf([undo, redo]).past[0]!.inverse).toEqual(b.entry.inverse);
    // Something new: what was undone can no longer be done again.
    expect(logged(undone, texts(document, 'p3', 'c').entry).future).toEqual([]);
  });

  test('a gesture that was interrupted by another window is two steps, and the later one goes first', () => {
    const a = texts(document, 'p1', 'a', 'g');
    const theirs = texts(a.document, 'p2', 'theirs');
    const b = texts(theirs.document, 'p1', 'b', 'g');
    const history = historyOf([a.entry, theirs.entry, b.entry]);
    expect(history.past.map((s) => s.name)).toEqual(['a', 'theirs', 'b']);
    const after = logged(history, undoing(history.past.at(-1)!, 'u'));
    expect(after.past.map((s) => s.name)).toEqual(['a', 'theirs']);
  });

  test('however one goes back and forth, the document is what its log comes to', () => {
    fc.assert(
      fc.property(fc.array(fc.nat(9), { maxLength: 60 }), (moves) => {
        let now = document;
        let history = NO_HISTORY;
        const log: Entry[] = [];
        const log1 = (entry: Entry): void => {
          now = applyAll(now, entry.operations).document;
          history = logged(history, entry);
          log.push(entry);
        };
        for (const [i, move] of moves.entries()) {
          const step = move < 3 ? history.past.at(-1) : history.future[0];
          if (move < 3 && step) log1(undoing(step, `u${i}`));
          else if (move < 5 && step) log1(redoing(step, `r${i}`));
          else log1(texts(now, `p${(move % 3) + 1}`, `text ${i}`, move === 9 ? `g${i >> 2}` : undefined).entry);
        }
        const replayed = log.reduce((d, e) => applyAll(d, e.operations).document, document);
        expect(equal(replayed, now)).toBe(true);
        expect(historyOf(log)).toEqual(history);
        // Everything taken back gives the file's own document.
        let back = now;
        for (const step of history.past.toReversed()) back = applyAll(back, step.inverse).document;
        expect(equal(back, document)).toBe(true);
      }),
      { numRuns: 200, seed: 20_260_401 },
    );
  });
});
