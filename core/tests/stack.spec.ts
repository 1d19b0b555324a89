/** What is drawn on a page, in which order and where; turns by hand (a quarter turn maps (x, y) about a middle to (−y, x)). */
import {
  applyAll,
  emptyDocument,
  groupsRound,
  raisedAmong,
  shownBehind,
  stackOf,
  type Document,
  type Item,
  type Operation,
  type Placed,
} from '@gable/core';
import fc from 'fast-check';
import { blockItem, groupItem, pageOf, pictureItem } from './documents';

const layered = (): Document => {
  const page = { ...pageOf('one'), layers: ['master', 'layout'] };
  const start = {
    ...emptyDocument(),
    layers: [
      { id: 'layout', name: 'layout', items: [] },
      { id: 'master', name: 'master', items: [] },
    ],
  };
  const group = (id: string, turn: number): Item => ({ ...groupItem(id), turn }) as Item;
  const inGroup = (id: string, x: number, y: number): Item => {
    const item = pictureItem(id);
    return { ...item, at: { on: 'group', box: { x, y, width: 30, height: 20 } } };
  };
  const add = (item: Item, holder: Operation & { op: 'add' }): Operation => ({ ...holder, item });
  const into = (slot: 'page' | 'layer' | 'group', id: string, index: number): Operation & { op: 'add' } =>
    ({ op: 'add', slot: { in: { [slot]: id }, index } }) as never;
  return applyAll(start, [
    { op: 'page-add', page, index: 0 },
    add(blockItem('m'), into('layer', 'master', 0)),
    add(blockItem('l'), into('layer', 'layout', 0)),
    add(blockItem('back'), into('page', 'one', 0)),
    add(group('outer', 90), into('page', 'one', 1)),
    add(group('inner', 0), into('group', 'outer', 0)),
    add(inGroup('picture', 60, 20), into('group', 'inner', 0)),
    add(blockItem('front'), into('page', 'one', 2)),
  ]).document;
};

test('layers come first, the nearest to the page last; groups are taken apart where they lie', () => {
  const document = layered();
  expect(stackOf(document, document.pages[0]!).map(({ item }) => item.id)).toEqual([
    'm',
    'l',
    'back',
    'picture',
    'front',
  ]);
});

test('what is in a group that is turned by a quarter lies a quarter further about the group’s middle', () => {
  const document = layered();
  const placed = stackOf(document, document.pages[0]!).find(({ item }) => item.id === 'picture')!;
  // The group is 90 × 60 about (45, 30); the picture's middle (75, 30) is 30 to the right of it, and comes to lie 30 below.
  const { box } = placed;
  expect([box.x + box.width / 2, box.y + box.height / 2]).toEqual([expect.closeTo(45, 9), expect.closeTo(60, 9)]);
  expect([box.width, box.height, placed.turn]).toEqual([expect.closeTo(30, 9), expect.closeTo(20, 9), 90]);
  expect(
    groupsRound(document)
      .get('picture')!
      .map((g) => g.id),
  ).toEqual(['inner', 'outer']);
});

test('what a picture behind a page shows is painted once more only over what is painted', () => {
  const at = (id: string, x: number, kind: 'paint' | 'picture' = 'paint'): Placed => {
    const box = { x, y: 0, width: 10, height: 10 };
    const item = (kind === 'picture' ? pictureItem(id) : blockItem(id)) as Placed['item'];
    return { item: { ...item, at: { on: 'page', box } }, box, turn: 0, flip: item.flip };
  };
  // From the back: beneath the picture, the picture, over it, over that, beside them, over a block of ours, that block beneath it.
  const stack = [
    at('a', 0),
    at('p', 0, 'picture'),
    at('b', 8),
    at('c', 16),
    at('d', 100),
    at('own', 200),
    at('e', 205),
  ];
  expect([...shownBehind(stack, { drawn: true, apart: ['own'] })]).toEqual(['a', 'd']);
  expect([...shownBehind([at('add-1', 0), at('f', 5)], { drawn: true })]).toEqual([]);
  expect(shownBehind(stack, { apart: ['own'] }).size).toBe(0);
});

describe('several of a stack', () => {
  const stacks = fc
    .uniqueArray(fc.stringMatching(/^[a-z]{1,3}$/), { minLength: 1, maxLength: 12 })
    .chain((ids) => fc.tuple(fc.constant(ids), fc.subarray(ids)));
  const after = (ids: readonly string[], chosen: readonly string[], by: 1 | -1): string[] => {
    const now = [...ids];
    // As operations do it: taken out, and put in at its new place.
    for (const { id, index } of raisedAmong(ids, new Set(chosen), by)) {
      now.splice(now.indexOf(id), 1);
      now.splice(index, 0, id);
    }
    return now;
  };

  test('come forward together: each past one that is not among them, and both keep their order', () => {
    fc.assert(
      fc.property(stacks, fc.constantFrom<1 | -1>(1, -1), ([ids, chosen], by) => {
        const now = after(ids, chosen, by);
        const of = (all: readonly string[], are: boolean): string[] => all.filter((id) => chosen.includes(id) === are);
        expect(of(now, true)).toEqual(of(ids, true));
        expect(of(now, false)).toEqual(of(ids, false));
        const edge = (id: string): boolean =>
          (by > 0 ? now.slice(now.indexOf(id)) : now.slice(0, now.indexOf(id) + 1)).every((o) => chosen.includes(o));
        for (const id of chosen) expect(now.indexOf(id) === ids.indexOf(id) + by || edge(id)).toBe(true);
      }),
    );
  });

  test('by hand', () => {
    expect(after(['a', 'b', 'c', 'd', 'e'], ['a', 'b', 'd'], 1)).toEqual(['c', 'a', 'b', 'e', 'd']);
    expect(after(['a', 'b', 'c', 'd', 'e'], ['b', 'e'], -1)).toEqual(['b', 'a', 'c', 'e', 'd']);
    expect(raisedAmong(['a', 'b'], new Set(['b']), 1)).toEqual([]);
  });
});
