/** What is put round a picture, and changed there: by hand. */
import { addedId, FULL_SEAT, withLines, type Document, type FramedItem, type Text } from '@gable/core';
import {
  copyingAround,
  openModel,
  act,
  redo,
  tiedTo,
  selectItem,
  shownDocument,
  takeItems,
  undo,
  type WorkModel,
} from '../work/work-model';
import { frameOf, pictureOf, workOf } from '../../testing/works';
import { canMove, linesIn, movedItem, nameOf, withRoom } from './items';
import { initialsOf } from './letter-shapes';

const run = { text: 'Maren', font: 'Georgia', size: 20, weight: 700, italic: false, underline: false };
const text: Text = {
  ...{ anchor: 'middle', inset: { top: 0, right: 0, bottom: 0, left: 0 } },
  paragraphs: [
    { align: 'start', runs: [{ ...run, paint: { kind: 'solid', colour: '#000000', opacity: 1 } }] },
    {
      align: 'end',
      runs: [{ ...run, text: 'Potter', size: 12, paint: { kind: 'solid', colour: '#b5482a', opacity: 1 } }],
    },
  ],
};
const item = (more: Partial<FramedItem> = {}): FramedItem => ({
  ...{ kind: 'framed', id: addedId('a'), at: { on: 'page', box: { x: 10, y: 20, width: 60, height: 30 } }, turn: 0 },
  ...{ flip: { horizontal: false, vertical: false }, opacity: 1, alt: '', shape: { name: 'rectangle', knobs: {} } },
  ...{ seat: FULL_SEAT, outline: null, shadow: null, fill: null, text },
  tie: { to: 'p1', as: 'beside', side: 'bottom', gap: 5 },
  ...more,
});

describe('words', () => {
  test('typed anew keep the look of their line; a further line has that of the last', () => {
    const typed = withLines(text, ['Odd', 'Glazes', 'since 1998']);
    expect(linesIn(typed)).toEqual(['Odd', 'Glazes', 'since 1998']);
    expect(typed.paragraphs.map((p) => [p.align, p.runs[0]!.size])).toEqual([
      ['start', 20],
      ['end', 12],
      ['end', 12],
    ]);
    expect(linesIn(withLines(text, ['']))).toEqual(['']);
  });
});

test('a box grows with its words, and does not shrink', () => {
  const long = item({ text: withLines(text, ['A name that needs several lines', 'Potter']) });
  expect(withRoom(long, 60).at.box.height).toBeGreaterThan(3 * 20);
  expect(withRoom(item({ at: { on: 'page', box: { x: 0, y: 0, width: 60, height: 500 } } }), 60).at.box.height).toBe(
    500,
  );
});

describe('moved by hand', () => {
  const moved = (tie: FramedItem['tie'] & object): FramedItem['tie'] => movedItem(item({ tie }), 4, 7).tie;
  test.each([
    ['below', { as: 'beside', side: 'bottom', gap: 5 }, { gap: 12, along: 4 }],
    ['above', { as: 'beside', side: 'top', gap: 5 }, { gap: -2, along: 4 }],
    ['to the right', { as: 'beside', side: 'right', gap: 5, along: 1 }, { gap: 9, along: 8 }],
    ['to the left', { as: 'beside', side: 'left', gap: 5 }, { gap: 1, along: 7 }],
    ['over the foot', { as: 'over', side: 'bottom', gap: 5 }, { gap: -2, along: 4 }],
    ['over the middle', { as: 'over', gap: 0 }, { gap: 7, along: 4 }],
  ] as const)('%s, it keeps its tie with another gap', (_, tie, now) => {
    expect(moved({ to: 'p1', ...tie })).toEqual({ to: 'p1', ...tie, ...now });
  });

  test('without a tie its box moves; what is behind or around has its place by its rule', () => {
    const { tie, ...loose } = item();
    void tie;
    expect(movedItem(loose, 4, 7).at.box).toMatchObject({ x: 14, y: 27 });
    expect(canMove(item({ tie: { to: 'p1', as: 'behind', gap: 5 } }))).toBe(false);
    expect([canMove(item()), canMove(loose)]).toEqual([true, true]);
  });
});

test('initials are the capitals of a name, two at most; else its first letter', () => {
  expect(['Maren Holt', 'Maren in a teal apron', 'a bowl', '', 'Öde Ærø Zug'].map(initialsOf)).toEqual([
    'MH',
    'M',
    'A',
    'A',
    'ÖÆ',
  ]);
});

test('is called by its words, or by what it is', () => {
  expect(nameOf(item())).toBe('“Maren Potter”');
  expect(
    nameOf(item({ text: null, fill: { kind: 'paint', paint: { kind: 'solid', colour: '#000000', opacity: 1 } } })),
  ).toBe('Block');
  expect(nameOf(item({ text: null }))).toBe('Ring');
});

describe('in a work', () => {
  const start = (): WorkModel => {
    const sheets = [{ width: 400, height: 300, background: '#ffffff', items: [{ picture: 1 }] }];
    const frame = frameOf(1, { flow: 'floating', box: { x: 100, y: 50, width: 80, height: 60 } });
    const picture = pictureOf(1, { frame, where: { ...pictureOf(1).where, part: 's', place: 'slide', page: 1 } });
    return openModel({ ...workOf([picture]), sheets });
  };
  const added = (m: WorkModel): WorkModel =>
    act(m, 'name below', [{ op: 'add', item: item(), slot: { in: { page: 'page1' }, index: 1 } }], addedId('a'));

  test('comes, is chosen, follows its picture, and goes in one step', () => {
    const m = added(start());
    expect([m.item, m.pending.length]).toEqual([addedId('a'), 1]);
    expect(shownDocument(m).items[addedId('a')]!.at.box).toMatchObject({ x: 110, y: 115 });
    const back = undo(m);
    expect(back.document.items[addedId('a')]).toBeUndefined();
    expect(back.item).toBeNull();
    expect(redo(back).document.items[addedId('a')]).toBeDefined();
  });

  test('changes of one gesture are one step; a picture that is chosen takes its place', () => {
    const m = added(start());
    const wide = (w: WorkModel, width: number): WorkModel =>
      takeItems(w, 'size', [item({ at: { on: 'page', box: { x: 0, y: 0, width, height: 30 } } })], 'drag');
    const dragged = wide(wide(m, 70), 90);
    expect(dragged.pending.length).toBe(2);
    expect(undo(dragged).document.items[addedId('a')]!.at.box.width).toBe(60);
    expect(selectItem(dragged, null).item).toBeNull();
    expect(selectItem(dragged, 'add-none')).toBe(dragged);
  });

  test('a copy of its page has it, too, round the picture there', () => {
    const m = added(start());
    const there = { ...m.document.items['p1']!, id: 'p2' };
    // The file has the copy by then.
    const withCopy = (document: Document): Document => ({
      ...document,
      items: { ...document.items, p2: there },
      pages: [...document.pages, { ...document.pages[0]!, id: 'page2', items: ['p2'] }],
    });
    const copied = { ...m, file: withCopy(m.file), document: withCopy(m.document) };
    const next = act(copied, 'slide duplicated', copyingAround(copied, 'page1', 'page2'), null);
    const [first, copy] = next.document.pages[1]!.items;
    expect(first).toBe('p2');
    expect(next.document.items[copy!]).toMatchObject({ tie: { to: 'p2', gap: 5 }, text });
    expect(tiedTo(next, 'p2').map((i) => i.id)).toEqual([copy]);
    expect(tiedTo(next, 'p1').map((i) => i.id)).toEqual([addedId('a')]);
  });
});
