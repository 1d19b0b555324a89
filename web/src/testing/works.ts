import {
  changesOf,
  documentOfPictures,
  NO_CHANGES,
  withFrame,
  type Changes,
  type Frame,
  type Operation,
  type PictureItem,
} from '@gable/core';
import { frameOf as plainFrame } from '../../../core/tests/frames';
import type { LoggedEntry, Work, WorkPicture } from '@gable/contract';

/** A made-up frame for tests. */
export const frameOf = (n: number, more: Partial<Frame> = {}): Frame =>
  plainFrame(300, 200, { n, alt: 'A pot', ...more });

export const pictureOf = (n: number, more: Partial<WorkPicture> = {}): WorkPicture => ({
  n,
  where: { part: 'word/document.xml', place: 'body', table: false, textBox: false, group: false, page: n, near: '' },
  frame: frameOf(n),
  size: { width: 3000, height: 2000 },
  media: { type: 'jpeg', pixels: { width: 3000, height: 2000 }, orientation: 1, drawable: true },
  problem: null,
  ...more,
});

export const workOf = (pictures: WorkPicture[] = [pictureOf(1), pictureOf(2), pictureOf(3)]): Work => ({
  id: 'w',
  name: 'Handbook.docx',
  format: 'docx',
  revision: 1,
  demo: false,
  begun: null,
  createdAt: '2026-04-01T09:00:00.000Z',
  framed: 0,
  faces: [],
  sheetCount: 0,
  updatedAt: '2026-01-01T00:00:00Z',
  signed: false,
  can: {
    pages: 'text',
    insert: 'text',
    margin: true,
    turns: false,
    around: false,
    restyles: null,
    order: false,
    groups: false,
    fonts: true,
    cells: false,
    slim: 'all',
  },
  pages: 3,
  pictures,
  next: pictures.length + 1,
  came: 0,
  gone: 0,
  changes: NO_CHANGES,
});

const itemWith = (frame: Frame, work: Work): [PictureItem, PictureItem] => {
  const item = documentOfPictures(work.pictures).items[`p${frame.n}`] as PictureItem;
  return [item, withFrame(item, frame, work.pictures[frame.n - 1]!.size)];
};

/** A work whose frames are these. */
export const withFrames = (frames: readonly Frame[], work = workOf()): Work => {
  const items: Changes['items'] = Object.fromEntries(frames.map((f) => [`p${f.n}`, itemWith(f, work)[1]]));
  return { ...work, changes: { ...NO_CHANGES, items } };
};

/** An entry by which one frame became another. */
export function entryOf(seq: number, name: string, before: Frame, after: Frame, work = workOf()): LoggedEntry {
  const [was, is] = [itemWith(before, work)[1], itemWith(after, work)[1]];
  const [operations, inverse]: Operation[][] = [changesOf(was, is), changesOf(is, was)];
  return { seq, id: `e${seq}`, name, at: '2026-04-01T09:00:00.000Z', operations: operations!, inverse: inverse! };
}
