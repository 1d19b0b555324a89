import type { Frame } from '@gable/core';
import { frameOf as plainFrame } from '../../../core/tests/frames';
import type { Work, WorkPicture } from '@gable/contract';

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
  createdAt: '2026-04-01T09:00:00.000Z',
  framed: 0,
  faces: [],
  updatedAt: '2026-01-01T00:00:00Z',
  signed: false,
  pages: 3,
  pictures,
  frames: {},
});
