/** The model of a document: its operations, their inverses and differences, as properties over random documents. */
import {
  apply,
  applyAll,
  checkDocument,
  conflict,
  diff,
  DocumentSchema,
  emptyDocument,
  equal,
  OperationSchema,
  type Document,
  type Operation,
} from '@gable/core';
import fc from 'fast-check';
import { blockItem, documents, groupItem, grow, pageOf, pictureItem, rolls } from './documents';

const start = (): Document => ({
  ...emptyDocument(),
  pages: [pageOf('p1'), pageOf('p2')],
});
const build = (...operations: Operation[]): Document => applyAll(start(), operations).document;
const onPage = (page: string, index: number): { in: { page: string }; index: number } => ({ in: { page }, index });
const jsonOf = <T>(value: T): T => JSON.parse(JSON.stringify(value)) as T;

describe('operations', () => {
  test('what was done is taken back exactly, whatever it was', () => {
    fc.assert(
      fc.property(documents, rolls, (document, numbers) => {
        const { to, done } = grow(document, numbers, 'b');
        const { document: again, inverse } = applyAll(document, done);
        expect(again).toEqual(to);
        checkDocument(to);
        expect(applyAll(to, inverse).document).toEqual(document);
      }),
    );
  });

  test('inverses of inverses do it again', () => {
    fc.assert(
      fc.property(documents, rolls, (document, numbers) => {
        const { to, done } = grow(document, numbers, 'b');
        const back = applyAll(to, applyAll(document, done).inverse);
        expect(applyAll(back.document, back.inverse).document).toEqual(to);
      }),
    );
  });

  test('documents and operations survive being kept as JSON', () => {
    fc.assert(
      fc.property(documents, rolls, (document, numbers) => {
        expect(DocumentSchema.parse(jsonOf(document))).toEqual(document);
        const { to, done } = grow(document, numbers, 'b');
        const kept = done.map((o) => OperationSchema.parse(jsonOf(o)) as Operation);
        expect(applyAll(document, kept).document).toEqual(to);
      }),
    );
  });

  test('all of them or none: a list that ends in nonsense changes nothing', () => {
    const document = build({ op: 'add', item: pictureItem('x'), slot: onPage('p1', 0) });
    const before = jsonOf(document);
    const list: Operation[] = [
      { op: 'set', id: 'x', path: 'turn', value: 30 },
      { op: 'remove', id: 'nobody' },
    ];
    expect(() => applyAll(document, list)).toThrow('There is no item “nobody”');
    expect(document).toEqual(before);
  });

  test.each<[string, Operation, string]>([
    ['a second item of a name', { op: 'add', item: blockItem('x'), slot: onPage('p1', 0) }, 'of this name already'],
    ['a place beyond the last', { op: 'add', item: blockItem('y'), slot: onPage('p1', 9) }, 'no such place'],
    ['a value that a property cannot have', { op: 'set', id: 'x', path: 'turn', value: 'a little' }, 'cannot be that'],
    ['a property that holds others', { op: 'set', id: 'g', path: 'children', value: [] }, 'by other operations'],
    ['a name', { op: 'set', id: 'x', path: 'id', value: 'z' }, 'by other operations'],
    ['a tie to itself', { op: 'set', id: 'x', path: 'tie', value: { to: 'x', as: 'over', gap: 0 } }, 'in a circle'],
    ['a group in itself', { op: 'move', id: 'g', slot: { in: { group: 'g' }, index: 0 } }, 'put into itself'],
    ['a page that is there', { op: 'page-add', page: pageOf('p1'), index: 0 }, 'of this name already'],
  ])('%s is refused', (_, operation, words) => {
    const document = build(
      { op: 'add', item: pictureItem('x'), slot: onPage('p1', 0) },
      { op: 'add', item: groupItem('g'), slot: onPage('p1', 1) },
    );
    expect(() => apply(document, operation)).toThrow(words);
  });

  test('what was tied to an item that goes stays where it is, untied, and is tied again by undo', () => {
    const document = build(
      { op: 'add', item: pictureItem('face'), slot: onPage('p1', 0) },
      { op: 'add', item: blockItem('band'), slot: onPage('p1', 1) },
      { op: 'set', id: 'band', path: 'tie', value: { to: 'face', as: 'behind', gap: 6 } },
    );
    const { document: without, inverse } = apply(document, { op: 'remove', id: 'face' });
    expect(without.items['band']!.tie).toBeUndefined();
    expect(without.items['band']!.at).toEqual(document.items['band']!.at);
    expect(applyAll(without, inverse).document).toEqual(document);
  });

  test('a group goes with all that it holds', () => {
    const document = build(
      { op: 'add', item: groupItem('g'), slot: onPage('p1', 0) },
      { op: 'add', item: groupItem('h'), slot: { in: { group: 'g' }, index: 0 } },
      { op: 'add', item: pictureItem('x'), slot: { in: { group: 'h' }, index: 0 } },
    );
    expect(Object.keys(apply(document, { op: 'remove', id: 'g' }).document.items)).toEqual([]);
  });
});

describe('differences', () => {
  test('lead from any document to any other of the same stories', () => {
    fc.assert(
      fc.property(documents, rolls, rolls, (document, one, other) => {
        const a = grow(document, one, 'b').to;
        const b = grow(document, other, 'c').to;
        const reached = applyAll(a, diff(a, b)).document;
        expect(equal(reached, b)).toBe(true);
        checkDocument(reached);
      }),
    );
  });

  test('are none exactly between equal documents', () => {
    fc.assert(
      fc.property(documents, rolls, (document, numbers) => {
        const { to } = grow(document, numbers, 'b');
        expect(diff(document, document)).toEqual([]);
        expect(diff(document, jsonOf(document))).toEqual([]);
        expect(diff(document, to).length === 0).toBe(equal(document, to));
      }),
    );
  });

  test('one change is one operation', () => {
    const document = build(
      ...['a', 'b', 'c', 'd', 'e'].map((id, i): Operation => ({
        op: 'add',
        item: pictureItem(id),
        slot: onPage('p1', i),
      })),
    );
    const changes: Operation[] = [
      { op: 'set', id: 'c', path: 'outline', value: null },
      { op: 'set', id: 'c', path: 'fill.placement.zoom', value: 2 },
      { op: 'set', id: 'c', path: 'at.box.x', value: 10 },
      { op: 'move', id: 'a', slot: onPage('p1', 4) },
      { op: 'move', id: 'e', slot: onPage('p1', 0) },
      { op: 'move', id: 'b', slot: onPage('p2', 0) },
      { op: 'remove', id: 'd' },
      { op: 'page-move', id: 'p2', index: 0 },
      { op: 'page-remove', id: 'p2' },
    ];
    const counts = changes.map((change) => diff(document, apply(document, change).document).length);
    // The first changes nothing: there was no outline.
    expect(counts).toEqual([0, 1, 1, 1, 1, 1, 1, 1, 1]);
  });
});

describe('conflicts', () => {
  const set = (id: string, path: string, value: unknown): Operation => ({ op: 'set', id, path, value });

  test.each<[string, Operation, Operation, boolean]>([
    ['different items', set('a', 'turn', 1), set('b', 'turn', 2), false],
    ['different properties', set('a', 'turn', 1), set('a', 'alt', 'x'), false],
    ['the same property', set('a', 'turn', 1), set('a', 'turn', 2), true],
    ['a property and what is in it', set('a', 'fill', null), set('a', 'fill.placement', {}), true],
    ['two properties of a fill', set('a', 'fill.tone', {}), set('a', 'fill.placement', {}), false],
    ['names that begin alike', set('a', 'fill.to', {}), set('a', 'fill.tone', {}), false],
    ['a change and a removal', set('a', 'turn', 1), { op: 'remove', id: 'a' }, true],
    ['its place and a property', set('a', 'turn', 1), { op: 'move', id: 'a', slot: onPage('p1', 0) }, false],
  ])('%s', (_, a, b, is) => {
    expect(conflict([a], [b])).toBe(is);
    expect(conflict([b], [a])).toBe(is);
  });

  test('settings that do not contradict each other come to the same in either order', () => {
    fc.assert(
      fc.property(documents, rolls, rolls, (document, one, other) => {
        const settings = (numbers: number[]): Operation[] =>
          grow(document, numbers, 'b').done.filter(
            (o) => o.op === 'set' && o.path !== 'tie' && document.items[o.id] !== undefined,
          );
        const [a, b] = [settings(one), settings(other)];
        if (conflict(a, b)) return;
        const ab = applyAll(applyAll(document, a).document, b).document;
        const ba = applyAll(applyAll(document, b).document, a).document;
        expect(ab).toEqual(ba);
      }),
    );
  });
});
