import type { Facts } from '../errors';
import type { Frame, Size } from '../model/frame';
import { DISTORTION_NOISE, isDistorted } from '../placement/reframe';
import { deriveView } from '../placement/view';
import { findShape } from '../shapes/index';

/** Something a check noticed, with its figures. The wording belongs to the interface. */
export type Finding = { code: FindingCode } & Facts;
export type FindingCode = 'distorted' | 'soft' | 'egg' | 'sideways' | 'no-alt-text' | 'unknown-shape';

/** What is known of a picture without decoding it. */
export interface PictureFacts {
  /** Stored pixels; null when unknown, then nothing that needs them is said. */
  pixels: Size | null;
  /** EXIF orientation 1..8 (Exif 2.32, TIFF 6.0 tag 274). */
  orientation: number;
}

/** 150 ppi is the least for print at reading distance, 300 ppi is good: common practice. */
export const LEAST_PPI = 150;

/** Pixels per inch at which the picture is shown: the coarser of its two directions. */
export function effectivePpi(frame: Frame, picture: Size): number {
  const { scale } = deriveView(frame.placement, frame.box, picture);
  return 72 / Math.max(scale.x, scale.y);
}

/** Everything the checks notice about one frame. Pure: the same frame gives the same findings in the same order. */
export function findings(frame: Frame, facts: PictureFacts): Finding[] {
  const out: Finding[] = [];
  const { box, shape } = frame;
  if (facts.pixels) out.push(...pixelFindings(frame, facts.pixels));
  const oblong = Math.max(box.width / box.height, box.height / box.width) - 1;
  if (shape.name === 'ellipse' && oblong > 1e-6 && oblong <= 0.12) out.push({ code: 'egg', percent: oblong * 100 });
  if (facts.orientation > 1) out.push({ code: 'sideways', orientation: facts.orientation });
  if (!findShape(shape.name)) out.push({ code: 'unknown-shape', shape: shape.name });
  if (frame.alt.trim() === '') out.push({ code: 'no-alt-text' });
  return out;
}

function pixelFindings(frame: Frame, pixels: Size): Finding[] {
  const out: Finding[] = [];
  const { placement, box } = frame;
  if (isDistorted(placement)) {
    const { distortion } = deriveView(placement, box, pixels).placement;
    if (Math.abs(distortion - 1) >= DISTORTION_NOISE)
      out.push({ code: 'distorted', distortion, percent: (Math.max(distortion, 1 / distortion) - 1) * 100 });
  }
  const ppi = effectivePpi(frame, pixels);
  if (ppi < LEAST_PPI) {
    const k = ppi / LEAST_PPI;
    out.push({ code: 'soft', ppi, goodWidth: box.width * k, goodHeight: box.height * k });
  }
  return out;
}
