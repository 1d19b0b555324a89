/** What stands around a picture as a part of a finish: laid on others, each by its own name; by rules that hold for every piece. */
import {
  addedId,
  applyAll,
  aroundOf,
  FinishSchema,
  finishOf,
  isAdded,
  isDecoration,
  layAround,
  newPicture,
  partsAround,
  pieceContext,
  PIECES,
  puttingPiece,
  readFinish,
  resolveTies,
  WAITING,
  wearsAround,
  writeFinish,
  type Document,
  type FramedItem,
  type Operation,
} from '../src/index';
import { frameOf } from './frames';

const source = {
  sha256: 'a'.repeat(64),
  name: 'pot.png',
  type: 'png' as const,
  size: { width: 600, height: 400 },
  orientation: 1,
};
const NAMES = ['Maren', 'Tobias', 'Ines'];
/** Three portraits of different sizes on a slide. */
function team(): Document {
  const empty: Document = {
    ...{ version: 1, flows: false, layers: [], stories: [], items: {} },
    pages: [
      {
        ...{ id: 's1', size: { width: 960, height: 540 }, ground: null, layers: [], items: [] },
        margins: { top: 0, right: 0, bottom: 0, left: 0 },
      },
    ],
  };
  return applyAll(
    empty,
    NAMES.map((alt, i): Operation => {
      const box = { x: 60 + 300 * i, y: 100 + 20 * i, width: 160 - 30 * i, height: 160 - 30 * i };
      return {
        op: 'add',
        item: newPicture(`p${i + 1}`, { on: 'page', box }, source, alt),
        slot: { in: { page: 's1' }, index: i },
      };
    }),
  ).document;
}

let made = 0;
const newId = (): string => addedId(`n${made++}`);
const act = (document: Document, operations: readonly Operation[]): Document =>
  resolveTies(applyAll(document, operations).document);
function withPiece(document: Document, name: string, id = 'p1', words = WAITING): Document {
  const context = pieceContext(document, id, { words, newId })!;
  return act(document, puttingPiece(document, context, PIECES.find((p) => p.name === name)!.items(context)));
}
const around = (document: Document, id: string): FramedItem[] => {
  const out: FramedItem[] = [];
  const visit = (to: string): void => {
    for (const item of Object.values(document.items))
      if (item.kind === 'framed' && isAdded(item.id) && item.tie?.to === to) {
        out.push(item);
        visit(item.id);
      }
  };
  visit(id);
  return out;
};
const said = (document: Document, id: string): string[] =>
  around(document, id).flatMap((i) =>
    isDecoration(i) ? [] : (i.text?.paragraphs ?? []).map((p) => p.runs.map((r) => r.text).join('')),
  );

describe.each(PIECES.filter((p) => !['letters', 'along'].includes(p.name)).map((p) => p.name))('%s', (name) => {
  const start = withPiece(team(), name);
  const parts = aroundOf(start, 'p1');

  test('is kept in the file of a finish, and is the same when it is read', () => {
    const finish = finishOf(frameOf(100, 100), 'Team', parts);
    expect(readFinish(writeFinish(finish)).around).toEqual(JSON.parse(JSON.stringify(parts)));
  });

  test('stands around another picture by the same rules, below and above it as there, and once only', () => {
    const next = act(start, layAround(start, 'p2', parts, newId));
    expect(wearsAround(next, 'p2', parts)).toBe(true);
    const rules = (id: string): unknown[] => aroundOf(next, id).map((p) => [p.layer, p.item.tie]);
    expect(rules('p2')).toEqual(parts.map((p) => [p.layer, p.item.tie]));
    expect(rules('p1')).toEqual(rules('p2'));
    // What was there before is the very same.
    for (const id of Object.keys(start.items))
      expect(applyAll(start, layAround(start, 'p2', parts, newId)).document.items[id]).toBe(start.items[id]);
    expect(layAround(next, 'p2', parts, newId)).toEqual([]);
    expect(layAround(next, 'p2', undefined, newId)).toEqual([]);
    const bare = act(next, layAround(next, 'p2', null, newId));
    expect(around(bare, 'p2')).toEqual([]);
    expect(Object.keys(bare.items).sort()).toEqual(Object.keys(start.items).sort());
    expect(bare.pages[0]!.items).toEqual(start.pages[0]!.items);
  });
});

test('a name is that of its own picture, from its alt text; a typed one stays', () => {
  const start = withPiece(team(), 'name-below');
  const parts = aroundOf(start, 'p1');
  const next = act(start, layAround(start, 'p2', parts, newId));
  expect(said(next, 'p2')).toEqual(['Tobias']);
  const [item] = around(next, 'p2');
  const text = {
    ...item!.text!,
    paragraphs: item!.text!.paragraphs.map((p) => ({ ...p, runs: [{ ...p.runs[0]!, text: 'Tobias Falk' }] })),
  };
  const typed = act(next, [{ op: 'set', id: item!.id, path: 'text', value: text }]);
  // Another look of the same: it goes round the name that was typed.
  const other = aroundOf(withPiece(team(), 'name-beside'), 'p1');
  const again = act(typed, layAround(typed, 'p2', other, newId));
  expect(said(again, 'p2')).toEqual(['Tobias Falk']);
  expect(around(again, 'p2')).toHaveLength(1);
  expect(around(again, 'p2')[0]!.tie!.side).not.toBe('bottom');
  // A second line is that of one picture alone.
  expect(said(act(start, layAround(start, 'p3', other, newId)), 'p3')).toEqual(['Ines', WAITING.more]);
});

test('without a short alt text the name waits; words that are no name are laid as they are', () => {
  const quote = withPiece(team(), 'quote', 'p1', { ...WAITING, quote: 'Clay forgives.', name: 'Maren' });
  const next = act(quote, layAround(quote, 'p2', aroundOf(quote, 'p1'), newId));
  expect(said(next, 'p2').sort()).toEqual(['Clay forgives.', 'Tobias']);
  const long = act(team(), [
    { op: 'set', id: 'p2', path: 'alt', value: 'A long story of what is seen there, told in full' },
  ]);
  expect(said(act(long, layAround(long, 'p2', aroundOf(withPiece(team(), 'name-below'), 'p1'), newId)), 'p2')).toEqual([
    WAITING.name,
  ]);
});

test('its gap is kept to the hundredth of a point on a picture of another size', () => {
  const start = withPiece(team(), 'captioned-circle');
  const parts = aroundOf(start, 'p1');
  const next = act(start, layAround(start, 'p3', parts, newId));
  const name = around(next, 'p3').find((i) => i.text)!;
  const picture = next.items['p3']!.at.box;
  expect(name.at.box.y - picture.y - picture.height).toBeCloseTo(name.tie!.gap, 2);
  expect(name.at.box.x + name.at.box.width / 2).toBeCloseTo(picture.x + picture.width / 2, 2);
});

test('letters of one name, and what is not tied, are no part of it; nothing around is none', () => {
  const shape = {
    name: 'letters',
    knobs: {},
    drawn: { label: 'M', ratio: 1, path: [] },
  } as unknown as FramedItem['shape'];
  const document = team();
  const context = pieceContext(document, 'p1', { words: WAITING, letters: shape, newId })!;
  const monogram = PIECES.find((p) => p.name === 'letters')!.items(context);
  expect(aroundOf(act(document, puttingPiece(document, context, monogram)), 'p1')).toEqual([]);
  expect(aroundOf(document, 'p2')).toEqual([]);
  expect(partsAround(document, 'none', [], newId)).toBeNull();
  expect(FinishSchema.safeParse({ name: 'Empty', around: [] }).success).toBe(false);
});
