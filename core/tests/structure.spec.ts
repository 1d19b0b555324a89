/** What comes and goes, against a list of words into which and out of which the same is done one by one. */
import fc from 'fast-check';
import { newPicture, NO_STRUCTURE, withStructure, type Position, type Structural, type Structure } from '../src/index';

const source = { sha256: '0'.repeat(64), name: 'a', type: 'png', size: { width: 2, height: 2 }, orientation: 1 };
const box = { x: 0, y: 0, width: 9, height: 9 };
const add = (id: string, at: Position): Structural => ({
  op: 'add',
  item: newPicture(id, at, source),
  slot: { in: { story: 's' }, index: 0 },
});
const inLine = (id: string, after: number): Structural => add(id, { on: 'line', box, after });
const remove = (id: string): Structural => ({ op: 'remove', id });

/** A text of blocks, into which pictures come as blocks of their own. */
function read(blocks: readonly string[], done: readonly Structural[]): string[] {
  const text = [...blocks];
  for (const o of done) {
    if (o.op === 'add') text.splice((o.item.at as { after: number }).after, 0, o.item.id);
    else text.splice(text.indexOf(o.id), 1);
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
