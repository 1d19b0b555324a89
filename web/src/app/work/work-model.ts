import {
  addedId,
  applyAll,
  changesOf,
  conflict,
  documentOfPictures,
  equal,
  frameOfItem,
  historyOf,
  isAdded,
  isPictureItem,
  isStructural,
  resolveTies,
  itemIdOf,
  logged,
  LOOKS,
  NO_CHANGES,
  groundsFrom,
  ordersFrom,
  redoing,
  undoing,
  withChanges,
  withChildren,
  withFrame,
  type Changes,
  type Document,
  type Entry,
  type FramedItem,
  type Frame,
  type History,
  type Item,
  type ItemId,
  type NewEntry,
  type Operation,
  type PictureItem,
  type Size,
  type Slot,
} from '@gable/core';
import type { LoggedEntry, LoggedHistory, Work, WorkPicture } from '@gable/contract';

/** Everything that is known of an open work; only ever replaced, never changed in place. */
export interface WorkModel {
  work: Work;
  /** As the file has it. */
  file: Document;
  /** As it is now. Items that are as the file has them are the file's own. */
  document: Document;
  history: History;
  /** As the server has it. */
  saved: SavedState;
  /** What the server does not have yet; the first `sending` of these are on their way, and do not change any more. */
  pending: readonly Entry[];
  sending: number;
  /** The newest entry goes on growing while this lasts: a drag, a run of arrow keys. */
  gesture: Gesture | null;
  selected: number;
  /** What was added round pictures and is chosen instead; null while that is a picture. */
  item: ItemId | null;
  /** What is chosen beside that, on the same page. */
  also: readonly ItemId[];
  /** A try held up for a look, not taken. */
  preview: Frame | null;
}

/** Do two states differ at most in what has been saved, and that is not shown? */
export const looksTheSame = (a: WorkModel | null, b: WorkModel | null): boolean =>
  a === b ||
  (a !== null &&
    b !== null &&
    a.work === b.work &&
    (a.saved.document === b.saved.document || savedState(a) === savedState(b)) &&
    a.document === b.document &&
    a.history === b.history &&
    a.selected === b.selected &&
    a.item === b.item &&
    a.also === b.also &&
    a.preview === b.preview);

interface SavedState {
  document: Document;
  /** What is known of the log, from `first` on. */
  log: readonly Entry[];
  first: number | null;
  /** Has the server earlier entries? */
  more: boolean;
}

interface Gesture {
  name: string;
  /** What its entries bear. */
  key: string;
  /** The items and the history as they were before the entry that grows. */
  items: readonly Item[];
  history: History;
}

const EMPTY_LOG: LoggedHistory = { entries: [], more: false };

export function openModel(work: Work, { entries, more }: LoggedHistory = EMPTY_LOG): WorkModel {
  const file = documentOfPictures(work.pictures, work);
  const document = withChanges(file, work.changes);
  return {
    work,
    file,
    document,
    history: historyOf(entries),
    saved: { document, log: entries, first: entries[0]?.seq ?? null, more },
    pending: [],
    sending: 0,
    gesture: null,
    selected: work.pictures.find((p) => !p.problem)?.n ?? work.pictures[0]?.n ?? 1,
    item: null,
    also: NONE,
    preview: null,
  };
}
const NONE: readonly ItemId[] = [];

/** Places in the list of pictures by number. */
const places = new WeakMap<readonly WorkPicture[], ReadonlyMap<number, number>>();
function placesIn({ pictures }: Pick<Work, 'pictures'>): ReadonlyMap<number, number> {
  let known = places.get(pictures);
  if (!known) places.set(pictures, (known = new Map(pictures.map((p, i) => [p.n, i]))));
  return known;
}

/** A picture of a work by its number: it keeps that when others come or go. */
export const pictureIn = (work: Work, n: number): WorkPicture | undefined => work.pictures[placesIn(work).get(n) ?? -1];
export const pictureOf = (m: WorkModel, n: number): WorkPicture => pictureIn(m.work, n)!;

/** The number of the picture so many places further on; where there is none, that at the end. */
export function neighbour({ work, selected }: WorkModel, by: number): number {
  const at = (placesIn(work).get(selected) ?? 0) + by;
  return work.pictures[Math.min(Math.max(0, at), work.pictures.length - 1)]?.n ?? selected;
}
export const isLast = ({ work, selected }: WorkModel): boolean => work.pictures.at(-1)?.n === selected;

const itemOf = (m: WorkModel, n: number): PictureItem => m.document.items[itemIdOf(pictureOf(m, n))] as PictureItem;

/** Frames by their items: as long as an item is the same, so is its frame. */
const frames = new WeakMap<PictureItem, Frame>();

/** The frame as it has been taken. */
export function takenFrame(m: WorkModel, n: number = m.selected): Frame {
  const item = itemOf(m, n);
  if (item === m.file.items[item.id]) return pictureOf(m, n).frame;
  const known = frames.get(item);
  if (known?.n === n) return known;
  const frame = frameOfItem(item, n);
  frames.set(item, frame);
  return frame;
}

/** Every frame as it has been taken, by picture number. */
export const framesOf = (m: WorkModel): ReadonlyMap<number, Frame> =>
  new Map(m.work.pictures.map((p) => [p.n, takenFrame(m, p.n)]));

export const isChanged = (m: WorkModel, n: number = m.selected): boolean => {
  const item = itemOf(m, n);
  return item !== m.file.items[item.id];
};

const changed = new WeakMap<Document, readonly Frame[]>();

/** Frames that differ from the file, in its order. */
export function changedFrames(m: WorkModel): readonly Frame[] {
  let known = changed.get(m.document);
  if (!known) {
    known = m.work.pictures.filter((p) => isChanged(m, p.n)).map((p) => takenFrame(m, p.n));
    changed.set(m.document, known);
  }
  return known;
}

/** Words and blocks that were put round pictures. */
export const addedItems = ({ document }: Pick<WorkModel, 'document'>): readonly Item[] =>
  Object.values(document.items).filter((i) => isAdded(i.id) && i.kind !== 'group');

/** Shapes and words that a file has itself and that are otherwise in a state of its work. */
const ownIn = (m: WorkModel, { items }: Document): readonly Item[] =>
  Object.values(items).filter((i) => !isAdded(i.id) && !isPictureItem(i) && i !== m.file.items[i.id]);

const states = new WeakMap<Document, string>();

/** A name for how what a file has itself looks and lies in the state that is saved; none where it is as it came. */
export function savedState(m: WorkModel): string {
  const { document } = m.saved;
  let known = states.get(document);
  if (known === undefined) {
    const orders = Object.entries(ordersFrom(m.file, document, true)).map(([id, ids]) => [
      id,
      ids.filter((i) => !isAdded(i)),
    ]);
    const was = new Map([...m.file.pages, ...m.file.stories].map((p) => [p.id, p.items]));
    const said = [ownIn(m, document), orders.filter(([id, ids]) => !equal(ids, was.get(id as string)))];
    states.set(document, (known = said.every((s) => s.length === 0) ? '' : hashOf(JSON.stringify(said))));
  }
  return known;
}

/** A short name for a text (FNV-1a, 32 bits). */
function hashOf(text: string): string {
  let hash = 0x811c9dc5;
  for (let i = 0; i < text.length; i++) hash = Math.imul(hash ^ text.charCodeAt(i), 0x01000193);
  return (hash >>> 0).toString(36);
}

/** What of a file itself does not look in a state that was saved as it does now. */
export const ownOtherwise = (m: WorkModel, saved: Document): ReadonlySet<ItemId> =>
  new Set(
    Object.values(shownDocument(m).items).flatMap((i) =>
      !isAdded(i.id) && !isPictureItem(i) && i.kind === 'framed' && !equal(i, saved.items[i.id] ?? m.file.items[i.id])
        ? [i.id]
        : [],
    ),
  );

/** Is anything otherwise than in its file? */
export const isOtherwise = (m: WorkModel): boolean =>
  changedFrames(m).length > 0 ||
  Object.keys(m.document.items).some((id) => m.document.items[id] !== m.file.items[id]) ||
  m.document.pages.some((p, i) => !equal(p.items, m.file.pages[i]?.items)) ||
  groundsFrom(m.file, m.document).grounds !== undefined;

/** Shapes and words of the file itself that look otherwise. */
export const ownOtherwiseIn = ({ file, document }: Pick<WorkModel, 'file' | 'document'>): readonly Item[] =>
  Object.values(document.items).filter((i) => !isAdded(i.id) && !isPictureItem(i) && i !== file.items[i.id]);

/** What was put round the pictures of a text, and what it has itself and looks otherwise, as it is stored; nothing where all is as it came. */
export function addedChanges(m: Pick<WorkModel, 'file' | 'document'>): Changes | undefined {
  const others = [...addedItems(m), ...ownOtherwiseIn(m)];
  if (others.length === 0) return undefined;
  const orders = ordersFrom(m.file, m.document);
  return { ...NO_CHANGES, items: Object.fromEntries(others.map((i) => [i.id, i])), orders };
}

/** What follows an item, and what follows that, those that follow others first. */
export function tiedTo(m: Pick<WorkModel, 'document'>, id: ItemId): readonly Item[] {
  const own = Object.values(m.document.items).filter((i) => i.tie?.to === id);
  return own.flatMap((i) => [...tiedTo(m, i.id), i]);
}

/**
 * What gives a copy of a page the looks of the page that it is a copy of: its ground, those of its own shapes and words, and what stands
 * round its pictures.
 */
export function copyingAround(m: WorkModel, from: string, to: string): Operation[] {
  const itemsOn = (d: Document, id: string): readonly ItemId[] => d.pages.find((p) => p.id === id)?.items ?? [];
  const own = itemsOn(m.document, from);
  /** What each is called on the copy: what is in the file is there in the same order. */
  const names = new Map<ItemId, ItemId>();
  const inFile = (page: string): ItemId[] => itemsOn(m.file, page).flatMap((i) => withChildren(m.file, i));
  const there = inFile(to);
  for (const [i, id] of inFile(from).entries()) if (there[i] !== undefined) names.set(id, there[i]);
  const all = own.flatMap((id) => withChildren(m.document, id));
  for (const id of all) if (isAdded(id)) names.set(id, addedId(crypto.randomUUID()));
  const isReordered = !equal(
    own.filter((id) => !isAdded(id)),
    itemsOn(m.file, from),
  );
  const adds: Operation[] = [];
  const ties: Operation[] = [];
  const copyAll = (ids: readonly ItemId[], holder: Slot['in'], moves: boolean): void => {
    for (const [index, id] of ids.entries()) {
      const item = m.document.items[id];
      const copy = names.get(id);
      if (copy === undefined || !item) continue;
      const slot = { in: holder, index };
      if (!isAdded(id)) {
        if (moves) adds.push({ op: 'move', id: copy, slot });
        // It came into a group, or out of one.
        const isHeld = item.at.on !== m.file.items[id]?.at.on;
        if (isHeld) adds.push({ op: 'set', id: copy, path: 'at', value: { on: item.at.on, box: item.at.box } });
        continue;
      }
      const { tie, ...bare } = item;
      const empty = bare.kind === 'group' ? { ...bare, children: [] } : bare;
      adds.push({ op: 'add', item: { ...empty, id: copy } as Item, slot });
      const at = tie && names.get(tie.to);
      if (tie && at !== undefined) ties.push({ op: 'set', id: copy, path: 'tie', value: { ...tie, to: at } });
      if (item.kind === 'group') copyAll(item.children, { group: copy }, true);
    }
  };
  copyAll(own, { page: to }, isReordered);
  const looks = inFile(from).flatMap((id): Operation[] => {
    const [item, was, copy] = [m.document.items[id], m.file.items[id], names.get(id)];
    if (item?.kind !== 'framed' || item === was || isPictureItem(item) || copy === undefined) return [];
    const to = item.tie && names.get(item.tie.to);
    if (to !== undefined) ties.push({ op: 'set', id: copy, path: 'tie', value: { ...item.tie, to } });
    return LOOKS.filter((path) => !equal(item[path], (was as FramedItem | undefined)?.[path])).map((path) => ({
      ...{ op: 'set', id: copy, path, value: item[path] },
    }));
  });
  const groundOn = (d: Document): unknown => d.pages.find((p) => p.id === from)?.ground;
  const ground = groundOn(m.document);
  const behind: Operation[] = equal(ground, groundOn(m.file))
    ? []
    : [{ op: 'page-set', id: to, path: 'ground', value: ground }];
  return [...behind, ...looks, ...adds, ...ties];
}

/** The frame to show: a try that is being looked at comes first. */
export const shownFrame = (m: WorkModel): Frame => m.preview ?? takenFrame(m);

/** The pixels a frame's placement is reckoned with: those of the picture it shows. */
export const sizeOf = (picture: WorkPicture, frame: Frame): Size => frame.source?.size ?? picture.size;
/** What keeps a picture from being shown; nothing once another has taken its place. */
export const problemOf = (picture: WorkPicture, frame: Frame): WorkPicture['problem'] =>
  frame.source ? null : picture.problem;
/** What the painter knows a frame's picture by: frames that show the same data share it. */
export function keyOf(work: Work, frame: Frame): string {
  if (frame.source) return `kept/${frame.source.sha256}`;
  const { id, n } = homeOf(work, frame.n);
  return `${id}/${n}`;
}

/**
 * Where a picture's data are asked for: under the first frame that shows them, and of a folder in the file they are in,
 * since the folder is put together anew whenever it is asked.
 */
export function homeOf(work: Work, n: number): { id: string; n: number } {
  const first = firstWith(work, n);
  return pictureIn(work, first)?.member ?? { id: work.id, n: first };
}

const firsts = new WeakMap<readonly WorkPicture[], ReadonlyMap<number, number>>();

/** The first picture of the work that shows the same data as this one. */
function firstWith({ pictures }: Work, n: number): number {
  let known = firsts.get(pictures);
  if (!known) {
    const seen = new Map<string, number>();
    const firstOf = ({ n: at, media, size }: WorkPicture): number => {
      if (!media?.data) return at;
      const name = `${media.data} ${size.width} ${size.height}`;
      const first = seen.get(name) ?? at;
      seen.set(name, first);
      return first;
    };
    known = new Map(pictures.map((p) => [p.n, firstOf(p)]));
    firsts.set(pictures, known);
  }
  return known.get(n) ?? n;
}

export function select(m: WorkModel, n: number): WorkModel {
  if (!pictureIn(m.work, n) || (n === m.selected && m.item === null && m.also.length === 0)) return m;
  return { ...m, selected: n, item: null, also: NONE, preview: null };
}

/** All that is chosen: what was chosen first leads. */
export const chosenIn = (m: WorkModel): readonly ItemId[] => {
  const picture = pictureIn(m.work, m.selected);
  const first = m.item ?? (picture && itemIdOf(picture));
  return first === undefined ? [] : [first, ...m.also];
};

/** Chooses several items of a page, the first of which leads; of none, what led goes on alone. */
export function chooseAll(m: WorkModel, ids: readonly ItemId[]): WorkModel {
  const [first, ...also] = ids.filter((id) => m.document.items[id]);
  if (first === undefined) return m.also.length === 0 ? m : { ...m, also: NONE };
  const n = m.work.pictures.find((p) => itemIdOf(p) === first)?.n;
  const lead = n === undefined ? { item: first } : { selected: n, item: null };
  return { ...m, ...lead, also, preview: null };
}

export const preview = (m: WorkModel, frame: Frame | null): WorkModel =>
  equal(m.preview, frame) ? m : { ...m, preview: frame };

const session = Math.random().toString(36).slice(2, 10);
let count = 0;
/** A name that no other entry of any window has. */
const newId = (): string => `${Date.now().toString(36)}-${session}-${count++}`;

/** The document with other items; one that is as the file has it is the file's own, so that it is known at once. */
function withItems(m: WorkModel, document: Document, items: readonly Item[]): Document {
  const next = { ...document.items };
  for (const item of items) {
    const file = m.file.items[item.id];
    next[item.id] = file && equal(item, file) ? file : item;
  }
  return { ...document, items: next };
}

/** The item of a frame's picture as it would be. */
const itemWith = (m: WorkModel, frame: Frame): PictureItem =>
  withFrame(itemOf(m, frame.n), frame, pictureOf(m, frame.n).size);

/** What gives a picture a frame. */
export const framing = (m: WorkModel, frame: Frame): Operation[] => changesOf(itemOf(m, frame.n), itemWith(m, frame));

/** Takes a frame for its picture. Entries with the same gesture become one. */
export const take = (m: WorkModel, name: string, frame: Frame, gesture: string | null = null): WorkModel =>
  takeItems(m, name, [itemWith(m, frame)], gesture);

/** Takes several frames as one entry. */
export const takeAll = (m: WorkModel, name: string, all: readonly Frame[]): WorkModel =>
  takeItems(
    m,
    name,
    all.map((frame) => itemWith(m, frame)),
  );

/** Takes items as they are to be, as one entry. Entries with the same gesture become one. */
export function takeItems(m: WorkModel, name: string, all: readonly Item[], gesture: string | null = null): WorkModel {
  const before = all.map((item) => m.document.items[item.id]!);
  if (equal(before, all)) return m.preview ? { ...m, preview: null } : m;
  const document = withItems(m, m.document, all);
  const same = (items: readonly Item[]): boolean =>
    items.length === all.length && items.every((item, i) => item.id === all[i]!.id);
  const goesOn = gesture !== null && m.gesture?.name === gesture && same(m.gesture.items);
  const grows = goesOn && m.pending.length > m.sending && m.pending.at(-1)?.gesture === m.gesture!.key;
  const start: Gesture =
    grows && m.gesture
      ? m.gesture
      : { name: gesture ?? '', key: goesOn ? m.gesture!.key : newId(), items: before, history: m.history };
  const earlier = grows ? m.pending.slice(0, -1) : m.pending;
  const operations = start.items.flatMap((item, i) => changesOf(item, all[i]!));
  const next = { ...m, document, preview: null, gesture: gesture === null ? null : start };
  // Dragged back to where it was: nothing has been done.
  if (operations.length === 0) return { ...next, pending: earlier, history: start.history };
  const entry: Entry = {
    id: newId(),
    name,
    operations,
    inverse: start.items.flatMap((item, i) => changesOf(all[i]!, item)),
    ...(gesture !== null && { gesture: start.key }),
  };
  return { ...next, pending: [...earlier, entry], history: logged(start.history, entry) };
}

/** The model with one entry more, and the document that it comes to. */
const did = (m: WorkModel, entry: Entry, document: Document): WorkModel => ({
  ...m,
  document,
  history: logged(m.history, entry),
  pending: [...m.pending, entry],
  gesture: null,
  preview: null,
});

/** A document after operations, with what takes them back. */
function after(
  m: WorkModel,
  document: Document,
  operations: readonly Operation[],
): { document: Document; inverse: Operation[] } {
  const applied = applyAll(document, operations);
  const ids = new Set(operations.flatMap((o) => ('id' in o ? o.id : [])));
  const items = [...ids].flatMap((id) => applied.document.items[id] ?? []);
  return { document: withItems(m, applied.document, items), inverse: applied.inverse };
}

function again(m: WorkModel, entry: Entry): WorkModel {
  const { document, inverse } = after(m, m.document, entry.operations);
  const [first] = entry.operations;
  const n = m.work.pictures.find((p) => first && 'id' in first && itemIdOf(p) === first.id)?.n;
  const item = m.item !== null && document.items[m.item] ? m.item : null;
  const also = m.also.filter((id) => document.items[id]);
  return { ...did(m, { ...entry, inverse }, document), selected: n ?? m.selected, item, also };
}

/** Chooses what was added round a picture; null goes back to that. */
export const selectItem = (m: WorkModel, id: ItemId | null): WorkModel =>
  (id === m.item && m.also.length === 0) || (id !== null && !m.document.items[id])
    ? m
    : { ...m, item: id, also: NONE, preview: null };

/** Operations on what was added as one entry. @param item what is chosen then */
export function act(m: WorkModel, name: string, operations: readonly Operation[], item: ItemId | null): WorkModel {
  const { document, inverse } = applyAll(m.document, operations);
  return { ...did(m, { id: newId(), name, operations: [...operations], inverse }, document), item, also: NONE };
}

const resolved = new WeakMap<Document, Document>();

/** The document with all that is tied where its rule has it. */
export function shownDocument(m: WorkModel): Document {
  const { document, preview } = m;
  // What is tied follows what is only looked at, too.
  if (preview) {
    const item = itemWith(m, preview);
    return resolveTies({ ...document, items: { ...document.items, [item.id]: item } });
  }
  let known = resolved.get(document);
  if (!known) resolved.set(document, (known = resolveTies(document)));
  return known;
}

/** The entry that takes the last step back, and that which does one again; null where there is none. */
export function undoEntry({ history }: WorkModel): Entry | null {
  const step = history.past.at(-1);
  return step ? undoing(step, newId()) : null;
}
export function redoEntry({ history }: WorkModel): Entry | null {
  const step = history.future[0];
  return step ? redoing(step, newId()) : null;
}

/** Does it put pictures in, or take them out? Then the server does it, and the work is read anew. */
export const isStructuralEntry = ({ operations }: Pick<Entry, 'operations'>): boolean => operations.some(isStructural);

export function undo(m: WorkModel): WorkModel {
  const entry = undoEntry(m);
  return entry ? again(m, entry) : m;
}

export function redo(m: WorkModel): WorkModel {
  const entry = redoEntry(m);
  return entry ? again(m, entry) : m;
}

/** What puts in a new picture, as an entry. */
export const putting = (name: string, operations: readonly Operation[]): NewEntry => ({
  id: newId(),
  name,
  operations,
});

/** How many entries are sent at once. */
const MAX_SENT = 200;

/** What is pending is on its way; what was on its way already is sent as it was. */
export const sendPending = (m: WorkModel): WorkModel =>
  m.sending > 0 ? m : { ...m, sending: Math.min(MAX_SENT, m.pending.length) };

/** What was on its way has not come, and may change again. */
export const notSent = (m: WorkModel): WorkModel => ({ ...m, sending: 0 });

/** What was on its way has been saved, behind what others did. */
export function sent(m: WorkModel, others: readonly LoggedEntry[]): WorkModel {
  const [gone, pending] = [m.pending.slice(0, m.sending), m.pending.slice(m.sending)];
  const log = [...m.saved.log, ...others, ...gone];
  const operations = [...others, ...gone].flatMap((e) => e.operations);
  const all = others.length === 0 && pending.length === 0;
  const document = all ? m.document : after(m, m.saved.document, operations).document;
  const next = { ...m, pending, sending: 0, saved: { ...m.saved, document, log } };
  if (others.length === 0) return next;
  return {
    ...next,
    document: after(
      m,
      document,
      pending.flatMap((e) => e.operations),
    ).document,
    history: pending.reduce(logged, historyOf(log)),
    gesture: null,
  };
}

/** Did others change what has been changed here since, and is not sent yet? */
export const disagrees = (m: WorkModel, others: readonly LoggedEntry[]): boolean =>
  conflict(
    others.flatMap((e) => e.operations),
    m.pending.slice(m.sending).flatMap((e) => e.operations),
  );

/** Puts earlier entries, fetched when they are needed, in front of those that are here. */
export function remember(m: WorkModel, { entries, more }: LoggedHistory): WorkModel {
  const log = [...entries, ...m.saved.log];
  return {
    ...m,
    saved: { ...m.saved, log, first: entries[0]?.seq ?? m.saved.first, more },
    history: m.pending.reduce(logged, historyOf(log)),
    gesture: null,
  };
}

/** Another window's state in the place of ours; what was done here and not saved is gone. */
export const replaceWork = (m: WorkModel, work: Work, history?: LoggedHistory): WorkModel => ({
  ...openModel(work, history),
  item: m.item !== null && work.changes.items[m.item] ? m.item : null,
  selected: pictureIn(work, m.selected) ? m.selected : openModel(work).selected,
});

/** The work with more pictures behind those that are there; all has been saved before. */
export function withPictures(m: WorkModel, work: Work): WorkModel {
  const file = documentOfPictures(work.pictures, work);
  const items = { ...file.items, ...m.document.items };
  for (const id of Object.keys(m.file.items))
    if (m.document.items[id] === m.file.items[id]) items[id] = file.items[id]!;
  const document = { ...file, items };
  const selected = m.work.pictures.length + 1;
  return { ...m, work, file, document, saved: { ...m.saved, document }, selected, gesture: null };
}
