import fc from 'fast-check';
import {
  applyAll,
  CENTRED,
  checkDocument,
  emptyDocument,
  FULL_SEAT,
  withChildren,
  type Document,
  type Item,
  type Operation,
  type Page,
  type Slot,
} from '@gable/core';

const upright = { turn: 0, flip: { horizontal: false, vertical: false }, opacity: 1, alt: '' };
const boxAt = (x: number, y: number): Item['at'] => ({ on: 'page', box: { x, y, width: 90, height: 60 } });

/** Made-up items for tests. */
export const pictureItem = (id: string, x = 0, y = 0): Item => ({
  kind: 'framed',
  id,
  ...upright,
  at: boxAt(x, y),
  shape: { name: 'circle', knobs: {} },
  seat: FULL_SEAT,
  outline: null,
  shadow: null,
  fill: {
    kind: 'picture',
    source: { from: 'file', key: id, size: { width: 300, height: 200 } },
    placement: CENTRED,
    backing: null,
    keep: [],
  },
  text: null,
});
export const blockItem = (id: string): Item => ({
  ...(pictureItem(id) as Extract<Item, { kind: 'framed' }>),
  fill: { kind: 'paint', paint: { kind: 'solid', colour: '#2b6a73', opacity: 1 } },
});
export const groupItem = (id: string): Item => ({
  kind: 'group',
  id,
  ...upright,
  at: boxAt(0, 0),
  children: [],
  space: { x: 0, y: 0, width: 90, height: 60 },
});
export const pageOf = (id: string): Page => ({
  id,
  size: { width: 720, height: 405 },
  ground: null,
  margins: { top: 0, right: 0, bottom: 0, left: 0 },
  layers: [],
  items: [],
});

/** A random number generator's choices, so that a sequence of changes can be shrunk by fast-check. */
type Dice = (below: number) => number;
export const dice = (numbers: readonly number[]): Dice => {
  let at = 0;
  return (below) => (below <= 0 ? 0 : (numbers[at++ % Math.max(1, numbers.length)] ?? 0) % below);
};
export const rolls = fc.noBias(fc.array(fc.nat(1000), { minLength: 4, maxLength: 240, size: 'max' }));

const groups = (d: Document): string[] => Object.values(d.items).flatMap((i) => (i.kind === 'group' ? i.id : []));

function anySlot(d: Document, roll: Dice): Slot {
  const holders: Slot['in'][] = [
    ...d.pages.map(({ id }) => ({ page: id })),
    ...d.stories.map(({ id }) => ({ story: id })),
    ...groups(d).map((id) => ({ group: id })),
  ];
  const holder = holders[roll(holders.length)]!;
  const list =
    'group' in holder
      ? (d.items[holder.group] as Extract<Item, { kind: 'group' }>).children
      : 'page' in holder
        ? d.pages.find((p) => p.id === holder.page)!.items
        : d.stories[0]!.items;
  return { in: holder, index: roll(list.length + 1) };
}

const SETTINGS: readonly ((roll: Dice, item: Item) => { path: string; value?: unknown } | null)[] = [
  (roll) => ({ path: 'turn', value: roll(360) }),
  (roll) => ({ path: 'alt', value: `words ${roll(5)}` }),
  (roll) => ({ path: 'at.box', value: { x: roll(500), y: roll(300), width: 20 + roll(80), height: 20 + roll(80) } }),
  (roll) => (roll(2) === 0 ? { path: 'name' } : { path: 'name', value: `n${roll(3)}` }),
  (roll, item) =>
    item.kind === 'framed' && item.fill?.kind === 'picture'
      ? { path: 'fill.placement', value: { ...CENTRED, zoom: 1 + roll(5) } }
      : null,
  (roll, item) =>
    item.kind === 'framed' && item.fill?.kind === 'picture'
      ? roll(2) === 0
        ? { path: 'fill.tone' }
        : { path: 'fill.tone', value: { softness: { blur: roll(9) } } }
      : null,
];

/** One change that can be made to a document. */
function anyOperation(d: Document, roll: Dice, fresh: () => string): Operation | null {
  const ids = Object.keys(d.items);
  const id = ids[roll(ids.length)];
  switch (Math.max(0, roll(13) - 3)) {
    case 0: {
      const make = [pictureItem, blockItem, groupItem][roll(3)]!;
      return { op: 'add', item: make(fresh()), slot: anySlot(d, roll) };
    }
    case 1:
      return id === undefined ? null : { op: 'remove', id };
    case 2: {
      if (id === undefined) return null;
      const slot = anySlot(d, roll);
      if ('group' in slot.in && withChildren(d, id).includes(slot.in.group)) return null;
      // Places are counted without the item itself.
      return { op: 'move', id, slot: { ...slot, index: Math.max(0, slot.index - 1) } };
    }
    case 3:
      return { op: 'page-add', page: pageOf(fresh()), index: roll(d.pages.length + 1) };
    case 4:
      return d.pages.length < 2 ? null : { op: 'page-remove', id: d.pages[roll(d.pages.length)]!.id };
    case 5:
      return { op: 'page-move', id: d.pages[roll(d.pages.length)]!.id, index: roll(d.pages.length) };
    case 6: {
      const other = ids[roll(ids.length)];
      if (id === undefined || other === undefined) return null;
      for (let at: string | undefined = other; at !== undefined; at = d.items[at]?.tie?.to) if (at === id) return null;
      return { op: 'set', id, path: 'tie', value: { to: other, as: 'behind', gap: roll(20) } };
    }
    default: {
      const item = id === undefined ? undefined : d.items[id];
      const setting = item && SETTINGS[roll(SETTINGS.length)]!(roll, item);
      return setting ? { op: 'set', id: item.id, ...setting } : null;
    }
  }
}

/** A document that grew by random changes, and those that were made. */
export function grow(from: Document, numbers: readonly number[], prefix: string): { to: Document; done: Operation[] } {
  const roll = dice(numbers);
  let to = from;
  let count = 0;
  const done: Operation[] = [];
  for (let i = 0; i < numbers.length / 4; i++) {
    const operation = anyOperation(to, roll, () => `${prefix}${++count}`);
    if (!operation) continue;
    to = applyAll(to, [operation]).document;
    done.push(operation);
  }
  return { to, done };
}

/** Documents with pages, a story, groups in groups and ties. */
export const documents = rolls.map((numbers) => {
  const start: Document = {
    ...emptyDocument(),
    pages: [pageOf('page1')],
    stories: [{ id: 'body', kind: 'body', items: [] }],
  };
  const { to } = grow(start, numbers, 'a');
  checkDocument(to);
  return to;
});
