/** What comes and goes, against a list of words into which and out of which the same is done one by one. */
import fc from 'fast-check';
import {
  newPicture,
  NO_STRUCTURE,
  ON_PAGE,
  withStructure,
  type BeforeDone,
  type Page,
  type Position,
  type Structural,
  type Structure,
} from '../src/index';

const source = { sha256: '0'.repeat(64), name: 'a', type: 'png', size: { width: 2, height: 2 }, orientation: 1 };
const box = { x: 0, y: 0, width: 9, height: 9 };
const add = (id: string, at: Position): Structural & { op: 'add' } => ({
  op: 'add',
  item: newPicture(id, at, source),
  slot: { in: { story: 's' }, index: 0 },
});
const inLine = (id: string, after: number): Structural & { op: 'add' } => add(id, { on: 'line', box, after });
const remove = (id: string): Structural & { op: 'remove' } => ({ op: 'remove', id });

/** A text of blocks, into which pictures come as blocks of their own. */
function read(blocks: readonly string[], done: readonly Structural[]): string[] {
  const text = [...blocks];
  for (const o of done) {
    if (o.op === 'add') text.splice((o.item.at as { after: number }).after, 0, o.item.id);
    else if (o.op === 'remove') text.splice(text.indexOf(o.id), 1);
  }
  return text;
}
const doneOf = (operations: readonly Structural[]): Structure => withStructure(NO_STRUCTURE, operations).structure;

test('what came and goes was never there; what went and comes back never went', () => {
  expect(withStructure(NO_STRUCTURE, [inLine('p1', 0)])).toMatchObject({
    anew: false,
    structure: { done: [{ op: 'add' }] },
  });
  expect(withStructure(doneOf([inLine('p1', 0)]), [remove('p1')])).toMatchObject({
    anew: true,
    structure: { done: [] },
  });
  expect(doneOf([remove('p7'), inLine('p7', 0)]).done).toEqual([]);
});

test('in any order, what is left stands where it stood', () => {
  const step = fc.record({ goes: fc.boolean(), which: fc.nat(), after: fc.nat() });
  fc.assert(
    fc.property(fc.array(step, { maxLength: 14 }), (steps) => {
      const blocks = ['a', 'b', 'c', 'd'];
      const text = [...blocks];
      let structure = NO_STRUCTURE;
      for (const [i, { goes, which, after }] of steps.entries()) {
        const there = text.filter((t) => t.startsWith('p'));
        const operation =
          goes && there.length > 0 ? remove(there[which % there.length]!) : inLine(`p${i}`, after % (text.length + 1));
        if (operation.op === 'remove') text.splice(text.indexOf(operation.id), 1);
        else text.splice(after % (text.length + 1), 0, operation.item.id);
        ({ structure } = withStructure(structure, [operation]));
        expect(read(blocks, structure.done)).toEqual(text);
      }
    }),
  );
});

test('one that comes back without its place goes where it was', () => {
  const all = doneOf([inLine('p1', 3), inLine('p2', 1)]);
  const without = withStructure(all, [remove('p1')]).structure;
  const back = withStructure(without, [add('p1', { on: 'line', box })]).structure;
  expect(read(['a', 'b', 'c', 'd'], back.done)).toEqual(read(['a', 'b', 'c', 'd'], all.done));
  // Floating ones are no blocks: nothing moves when they go.
  const floats = doneOf([add('p1', { on: 'anchor', box, after: 1 }), inLine('p2', 3)]);
  expect(withStructure(floats, [remove('p1')]).structure.done).toEqual([inLine('p2', 3)]);
});

describe('pages', () => {
  const page = (id: string): Page => ({
    ...{ id, size: { width: 10, height: 10 }, ground: null, layers: [], items: [] },
    margins: { top: 0, right: 0, bottom: 0, left: 0 },
  });
  const file = (now: readonly string[]): BeforeDone => ({ first: ['a', 'b'], now, pageOf: () => undefined });
  const come = (id: string, index: number, from?: string): Structural => ({
    ...{ op: 'page-add', page: page(id), index },
    ...(from !== undefined && { like: { page: from, copy: true } }),
  });
  const go = (id: string): Structural => ({ op: 'page-remove', id });
  const onPage = (id: string, on: string): Structural => ({ ...inLine(id, 0), slot: { in: { page: on }, index: 0 } });

  test('one that comes is made, and all are brought into their order', () => {
    const { structure, anew } = withStructure(NO_STRUCTURE, [come('c', 1, 'a')], file(['a', 'b']));
    expect([structure.order, anew]).toEqual([['a', 'c', 'b'], false]);
    const moved = withStructure(structure, [{ op: 'page-move', id: 'c', index: 2 }], file(['a', 'c', 'b']));
    // As they come: nothing has to be put into an order.
    expect(moved.structure.order).toBeNull();
  });

  test('one that came and goes was never there, with all that was put on it', () => {
    const made = withStructure(
      NO_STRUCTURE,
      [come('c', 2, 'a'), onPage('p1', 'c'), onPage('p2', 'a')],
      file(['a', 'b']),
    );
    const gone = withStructure(made.structure, [go('c')], file(['a', 'b', 'c']));
    expect(gone).toMatchObject({ anew: true, structure: { order: null, done: [{ item: { id: 'p2' } }] } });
    // One that others are copies of is made still, and goes at last.
    const twice = withStructure(made.structure, [come('d', 3, 'c')], file(['a', 'b', 'c'])).structure;
    const first = withStructure(twice, [go('c')], file(['a', 'b', 'c', 'd'])).structure;
    expect([first.done.length, first.order]).toEqual([4, ['a', 'b', 'd']]);
  });

  test('one that went and comes again brings what was on it', () => {
    const without = withStructure(NO_STRUCTURE, [go('a')], file(['a', 'b'])).structure;
    expect(without).toMatchObject({ done: [], order: ['b'] });
    const back = withStructure(without, [come('a', 0), onPage('p3', 'a')], file(['b']));
    expect(back).toEqual({ structure: NO_STRUCTURE, anew: true });
  });

  test('one that came, went and comes again is made as before, and what it is made like is made first', () => {
    const all = [come('c', 2, 'a'), onPage('p1', 'c'), come('d', 3, 'c')];
    const made = withStructure(NO_STRUCTURE, all, file(['a', 'b'])).structure;
    // A picture of the copy goes: it was on that page.
    const now = { ...file(['a', 'b', 'c', 'd']), pageOf: () => 'd' };
    const less = withStructure(made, [remove('p9')], now).structure;
    const none = withStructure(less, [go('c'), go('d')], file(['a', 'b', 'c', 'd'])).structure;
    expect([none.done, none.order]).toEqual([[], null]);
    const back = withStructure(none, [come('d', 2), onPage('p9', 'd')], file(['a', 'b'])).structure;
    expect(back.done.map((d) => ('page' in d ? d.page.id : 'id' in d ? d.id : d.item.id))).toEqual([
      'c',
      'p1',
      'd',
      'p9',
    ]);
    expect(back.order).toEqual(['a', 'b', 'd']);
  });
});

describe('beside another picture', () => {
  const beside = (id: string, of: string): Structural & { op: 'add' } => add(id, { on: 'line', box, beside: of });
  const places = (structure: Structure): [string, Position][] =>
    structure.done.flatMap((d) => (d.op === 'add' ? [[d.item.id, d.item.at]] : []));

  test('it makes no block of its own', () => {
    const left = withStructure(doneOf([beside('p2', 'p1'), inLine('p3', 4)]), [remove('p2')]).structure;
    expect(places(left)).toEqual([['p3', { on: 'line', box, after: 4 }]]);
  });

  test('once that was never there, it stands where that stood', () => {
    const done = doneOf([inLine('p2', 3), beside('p3', 'p2'), beside('p4', 'p3')]);
    const left = withStructure(done, [remove('p2')]).structure;
    expect(places(left)).toEqual([
      ['p3', { on: 'line', box, after: 3 }],
      ['p4', { on: 'line', box, beside: 'p3' }],
    ]);
    const floats = add('p5', { on: 'anchor', box, beside: 'p2', anchor: ON_PAGE });
    const freed = withStructure(doneOf([inLine('p2', 3), floats]), [remove('p2')]).structure;
    expect(places(freed)).toEqual([['p5', { on: 'anchor', box, after: 3, anchor: ON_PAGE }]]);
    // One of the file itself goes after it: that is still beside it then.
    const gone = withStructure(doneOf([beside('p9', 'p1')]), [remove('p1')]).structure;
    expect(gone.done.map((d) => d.op)).toEqual(['add', 'remove']);
  });
});

test('one that comes back as it has become since stands where it was: as large, in its line or beside the text', () => {
  const taken = withStructure(doneOf([add('p1', { on: 'line', box, after: 2, within: 1 })]), [remove('p1')]).structure;
  const back = (at: Position): Position => {
    const [again] = withStructure(taken, [add('p1', at)]).structure.done;
    return again?.op === 'add' ? again.item.at : at;
  };
  const wide = { ...box, width: 20 };
  expect(back({ on: 'line', box: wide })).toEqual({ on: 'line', box: wide, after: 2, within: 1 });
  const moved = { x: 5, y: 6, width: 20, height: 9 };
  expect(back({ on: 'anchor', box: moved, anchor: ON_PAGE })).toEqual({
    on: 'anchor',
    box: moved,
    anchor: ON_PAGE,
    after: 2,
    within: 1,
  });
});
