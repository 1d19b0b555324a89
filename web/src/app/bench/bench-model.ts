import { equal, type Frame, type Size } from '@gable/core';
import type { Change, Deed, History, Work, WorkPicture } from '@gable/contract';

/** Everything the bench knows; only ever replaced, never changed in place. */
export interface BenchModel {
  work: Work;
  selected: number;
  /** Frames that differ from the file, by picture number. */
  frames: Readonly<Record<string, Frame>>;
  /** How many deeds came before those in `past`; the server keeps them. */
  base: number;
  past: readonly Deed[];
  /** What has been undone, the next to do again first. */
  future: readonly Deed[];
  /** The newest deed goes on growing while this gesture lasts: a drag, a run of arrow keys. */
  gesture: string | null;
  /** A try held up for a look, not taken. */
  preview: Frame | null;
}

const NO_HISTORY: History = { from: 0, done: 0, deeds: [] };

export function openModel(work: Work, { from, done, deeds }: History = NO_HISTORY): BenchModel {
  return {
    work,
    selected: work.pictures.find((p) => !p.problem)?.n ?? work.pictures[0]?.n ?? 1,
    frames: work.frames,
    base: from,
    past: deeds.slice(0, done - from),
    future: deeds.slice(done - from),
    gesture: null,
    preview: null,
  };
}

export const pictureOf = (m: BenchModel, n: number): WorkPicture => m.work.pictures[n - 1]!;
/** The frame as it has been taken. */
export const takenFrame = (m: BenchModel, n: number = m.selected): Frame => m.frames[n] ?? pictureOf(m, n).frame;
/** Every frame as it has been taken, by picture number. */
export const framesOf = (m: BenchModel): ReadonlyMap<number, Frame> =>
  new Map(m.work.pictures.map((p) => [p.n, takenFrame(m, p.n)]));
/** The frame to show: a try that is being looked at comes first. */
export const shownFrame = (m: BenchModel): Frame => m.preview ?? takenFrame(m);

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
  return work.pictures[first - 1]?.member ?? { id: work.id, n: first };
}

const firsts = new WeakMap<readonly WorkPicture[], readonly number[]>();

/** The first picture of the work that shows the same data as this one. */
function firstWith({ pictures }: Work, n: number): number {
  let known = firsts.get(pictures);
  if (!known) {
    const seen = new Map<string, number>();
    known = pictures.map(({ n: at, media, size }) => {
      if (!media?.data) return at;
      const name = `${media.data} ${size.width} ${size.height}`;
      const first = seen.get(name) ?? at;
      seen.set(name, first);
      return first;
    });
    firsts.set(pictures, known);
  }
  return known[n - 1] ?? n;
}

function put(m: BenchModel, n: number, frame: Frame | null): BenchModel {
  const frames = { ...m.frames };
  // A frame that is as it came is no difference, so that undoing everything gives back the very same file.
  if (frame === null || equal(frame, pictureOf(m, n).frame)) delete frames[n];
  else frames[n] = frame;
  return { ...m, frames, preview: null };
}

export function select(m: BenchModel, n: number): BenchModel {
  return n === m.selected || !m.work.pictures[n - 1] ? m : { ...m, selected: n, preview: null };
}

export const preview = (m: BenchModel, frame: Frame | null): BenchModel =>
  equal(m.preview, frame) ? m : { ...m, preview: frame };

/** Takes a frame for its picture. Deeds with the same gesture become one. */
export function take(m: BenchModel, name: string, frame: Frame, gesture: string | null = null): BenchModel {
  const { n } = frame;
  const before = m.frames[n] ?? null;
  if (equal(frame, takenFrame(m, n))) return m.preview ? { ...m, preview: null } : m;
  const next = put(m, n, frame);
  const after = next.frames[n] ?? null;
  const last = m.past[m.past.length - 1];
  const merges = gesture !== null && m.gesture === gesture && last?.n === n;
  const deed: Deed = merges ? { ...last, after } : { name, n, before, after };
  return { ...next, past: [...(merges ? m.past.slice(0, -1) : m.past), deed], future: [], gesture };
}

/** Takes several frames as one deed. */
export function takeAll(m: BenchModel, name: string, frames: readonly Frame[]): BenchModel {
  let next = m;
  const changes: Change[] = [];
  for (const frame of frames) {
    const { n } = frame;
    if (equal(frame, takenFrame(next, n))) continue;
    const before = next.frames[n] ?? null;
    next = put(next, n, frame);
    changes.push({ n, before, after: next.frames[n] ?? null });
  }
  const [first, ...more] = changes;
  if (!first) return m.preview ? { ...m, preview: null } : m;
  const deed: Deed = { name, ...first, ...(more.length > 0 ? { more } : {}) };
  return { ...next, past: [...m.past, deed], future: [], gesture: null };
}

/** Every frame of a deed as it was before, or as it was after. */
const putAll = (m: BenchModel, deed: Deed, side: 'before' | 'after'): BenchModel =>
  [deed, ...(deed.more ?? [])].reduce((now, c) => put(now, c.n, c[side]), m);

export function undo(m: BenchModel): BenchModel {
  const deed = m.past[m.past.length - 1];
  if (!deed) return m;
  return {
    ...putAll(m, deed, 'before'),
    selected: deed.n,
    past: m.past.slice(0, -1),
    future: [deed, ...m.future],
    gesture: null,
  };
}

export function redo(m: BenchModel): BenchModel {
  const [deed, ...future] = m.future;
  if (!deed) return m;
  return { ...putAll(m, deed, 'after'), selected: deed.n, past: [...m.past, deed], future, gesture: null };
}

/** Puts earlier deeds, fetched when they are needed, in front of those that are here. */
export const remember = (m: BenchModel, older: History): BenchModel =>
  older.from + older.deeds.length === m.base ? { ...m, base: older.from, past: [...older.deeds, ...m.past] } : m;

/** Another window's frames in the place of ours; what was done here cannot be undone any more. */
export const replaceWork = (m: BenchModel, work: Work, history?: History): BenchModel => ({
  ...openModel(work, history),
  selected: work.pictures[m.selected - 1] ? m.selected : 1,
});

/** What a save must say of the deeds: those from the first that the server does not know yet. */
export function unsaved(m: Pick<BenchModel, 'base' | 'past' | 'future'>, known: Known): History {
  const now = [...m.past, ...m.future];
  const offset = m.base - known.base;
  let i = 0;
  while (i < now.length && known.deeds[i + offset] === now[i]) i++;
  return { from: m.base + i, deeds: now.slice(i), done: m.base + m.past.length };
}

/** The deeds the server knows, by reference. */
export interface Known {
  base: number;
  deeds: readonly Deed[];
}

export const knownOf = (m: Pick<BenchModel, 'base' | 'past' | 'future'>): Known => ({
  base: m.base,
  deeds: [...m.past, ...m.future],
});
