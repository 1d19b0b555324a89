import {
  deriveView,
  effectivePpi,
  findings,
  viewCrop,
  type Crop,
  type Finding,
  type Frame,
  type Outline,
  type PictureFacts,
  type Shadow,
  type Size,
} from '@gable/core';
import type { LeftOut, OpenedPicture, Source, Problem, Where } from './codec/contract';

/** One picture of a survey: the public form of `gable survey --json`. Lengths in points, shares 0..1. */
export interface SurveyPicture {
  n: number;
  where: Where & { flow: Frame['flow'] };
  box: Frame['box'];
  pixels: Size | null;
  shape: string;
  knobs: Record<string, number>;
  /** Shares of the picture hidden on each side; negative where the box reaches beyond it. */
  crop: Crop;
  /** Horizontal over vertical scale; 1 is true. */
  distortion: number;
  turn: number;
  flip: Frame['flip'];
  /** Pixels per inch at this size, of the coarser direction; null when the pixels are unknown. */
  ppi: number | null;
  outline: Outline | null;
  shadow: Shadow | null;
  alt: string;
  problem: Problem | null;
  findings: Finding[];
}

/**
 * Everything about one picture, with a frame that may differ from the file's.
 * @param seen what only the pixels tell: subject, colour along the rim, colour of the page, how well words around it can be read
 */
export function surveyPicture(
  picture: OpenedPicture,
  frame: Frame = picture.frame,
  seen: Pick<PictureFacts, 'subject' | 'rim' | 'page' | 'words'> = {},
): SurveyPicture {
  const view = deriveView(frame.placement, frame.box, picture.size);
  const pixels = picture.media?.pixels ?? null;
  return {
    n: picture.n,
    where: { ...picture.where, flow: frame.flow },
    box: frame.box,
    pixels,
    shape: frame.shape.name,
    knobs: frame.shape.knobs,
    crop: viewCrop(view),
    distortion: view.placement.distortion,
    turn: frame.turn,
    flip: frame.flip,
    ppi: pixels ? effectivePpi(frame, pixels) : null,
    outline: frame.outline,
    shadow: frame.shadow,
    alt: frame.alt,
    problem: picture.problem,
    findings: findings(frame, { pixels, orientation: picture.media?.orientation ?? 1, faked: picture.faked, ...seen }),
  };
}

/** @returns format and pictures, in document order */
export function surveyFile(file: Source): {
  format: string;
  signed: boolean;
  pages: number;
  /** Pictures that are there and not listed. */
  leftOut?: readonly LeftOut[];
  pictures: SurveyPicture[];
} {
  return {
    format: file.format,
    signed: file.signed,
    pages: file.pages,
    ...(file.leftOut && { leftOut: file.leftOut }),
    pictures: file.pictures.map((p) => surveyPicture(p)),
  };
}
