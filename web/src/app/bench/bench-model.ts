import type { Frame } from '@gable/core';
import type { Work, WorkPicture } from '../api/types';

/** One thing done, named so that undoing can say what it undoes. Null stands for the frame as it came. */
export interface Deed {
  name: string;
  n: number;
  before: Frame | null;
  after: Frame | null;
  /** Deeds with the same gesture become one: a drag, a run of arrow keys. */
  gesture: string | null;
}

/** Everything the bench knows; only ever replaced, never changed in place. */
export interface BenchModel {
  work: Work;
  selected: number;
  /** Frames that differ from the file, by picture number. */
  frames: Readonly<Record<string, Frame>>;
  past: readonly Deed[];
  future: readonly Deed[];
  /** A try held up for a look, not taken. */
  preview: Frame | null;
}

export const openModel = (work: Work): BenchModel => ({
  work,
  selected: work.pictures.find((p) => !p.problem)?.n ?? work.pictures[0]?.n ?? 1,
  frames: work.frames,
  past: [],
  future: [],
  preview: null,
});

export const pictureOf = (m: BenchModel, n: number): WorkPicture => m.work.pictures[n - 1]!;
/** The frame as it has been taken. */
export const takenFrame = (m: BenchModel, n: number = m.selected): Frame => m.frames[n] ?? pictureOf(m, n).frame;
/** The frame to show: a try that is being looked at comes first. */
export const shownFrame = (m: BenchModel): Frame => m.preview ?? takenFrame(m);

const same = (a: unknown, b: unknown): boolean => JSON.stringify(a) === JSON.stringify(b);

function put(m: BenchModel, n: number, frame: Frame | null): BenchModel {
  const frames = { ...m.frames };
  // A frame that is as it came is no difference, so that undoing everything gives back the very same file.
  if (frame === null || same(frame, pictureOf(m, n).frame)) delete frames[n];
  else frames[n] = frame;
  return { ...m, frames, preview: null };
}

export function select(m: BenchModel, n: number): BenchModel {
  return n === m.selected || !m.work.pictures[n - 1] ? m : { ...m, selected: n, preview: null };
}

export const preview = (m: BenchModel, frame: Frame | null): BenchModel =>
  same(m.preview, frame) ? m : { ...m, preview: frame };

/** Takes a frame for the selected picture. */
export function take(m: BenchModel, name: string, frame: Frame, gesture: string | null = null): BenchModel {
  const n = m.selected;
  const before = m.frames[n] ?? null;
  if (same(frame, takenFrame(m, n))) return m.preview ? { ...m, preview: null } : m;
  const next = put(m, n, frame);
  const after = next.frames[n] ?? null;
  const last = m.past[m.past.length - 1];
  const merges = gesture !== null && last?.gesture === gesture && last.n === n;
  const deed: Deed = merges ? { ...last, after } : { name, n, before, after, gesture };
  return { ...next, past: [...(merges ? m.past.slice(0, -1) : m.past), deed], future: [] };
}

export function undo(m: BenchModel): BenchModel {
  const deed = m.past[m.past.length - 1];
  if (!deed) return m;
  return { ...put(m, deed.n, deed.before), selected: deed.n, past: m.past.slice(0, -1), future: [deed, ...m.future] };
}

export function redo(m: BenchModel): BenchModel {
  const [deed, ...future] = m.future;
  if (!deed) return m;
  return { ...put(m, deed.n, deed.after), selected: deed.n, past: [...m.past, { ...deed, gesture: null }], future };
}

/** Another window's frames in the place of ours; what was done here cannot be undone any more. */
export const replaceWork = (m: BenchModel, work: Work): BenchModel => ({
  ...openModel(work),
  selected: work.pictures[m.selected - 1] ? m.selected : 1,
});
