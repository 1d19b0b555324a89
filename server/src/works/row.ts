import { CENTRED, FULL_SEAT, PLAYED, uprightSize, uprightTurn, type Frame } from '@gable/core';
import type { Picture, WorkPicture } from '../db/models';

/** Pixels of a picture that nobody sized are CSS pixels: 96 to the inch. Very large ones are made to fit a sheet. */
const POINTS_A_PIXEL = 0.75;
const LARGEST = 340;
const GAP = 28;
/** An empty frame: 64 × 48 mm. */
const WAITING = { width: 181.4, height: 136.1 };

/** Lays pictures out in a row behind those that are there: upright, each as large as its pixels, with some air between. */
export function layRow(pictures: readonly (Picture | null)[], before: readonly WorkPicture[]): WorkPicture[] {
  let x = before.reduce((most, p) => Math.max(most, p.frame.box.x + p.frame.box.width + GAP), 0);
  return pictures.map((p, i) => {
    const n = before.length + i + 1;
    const orientation = p?.orientation ?? 1;
    const pixels = p ? { width: p.width, height: p.height } : { width: WAITING.width, height: WAITING.height };
    const shown = uprightSize(pixels, orientation);
    const k = p ? Math.min(POINTS_A_PIXEL, LARGEST / Math.max(shown.width, shown.height)) : 1;
    const box = { x, y: 0, width: shown.width * k, height: shown.height * k };
    x += box.width + GAP;
    const frame: Frame = {
      n,
      flow: 'floating',
      box,
      turn: 0,
      flip: { horizontal: false, vertical: false },
      seat: FULL_SEAT,
      shape: { name: 'rectangle', knobs: {} },
      placement: { ...CENTRED, ...uprightTurn(orientation) },
      backing: null,
      outline: null,
      shadow: null,
      alt: '',
      ...(p ? { source: { sha256: p.sha256, name: p.name, type: p.type, size: pixels, orientation: 1 } } : {}),
      ...(p?.video && { video: { source: { from: 'kept' as const, ...p.video }, play: PLAYED } }),
    };
    return {
      n,
      where: { part: '', place: 'body', table: false, textBox: false, group: false, page: 1, near: '' },
      freeable: false,
      frame,
      size: pixels,
      media: null,
      problem: p
        ? null
        : {
            code: 'empty-frame',
            message: 'This frame waits for a picture.',
            remedy: 'Drop one on it, paste one, or choose one.',
          },
    };
  });
}
