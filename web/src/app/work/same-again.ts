import { deriveView, keepInView, ownTone, type Frame, type Size, type Subject } from '@gable/core';

/**
 * Frames a picture like another one: shape, size, edges, shadow and tone are taken over, the place on the page and the
 * picture's own subject stay.
 */
export function likeThat(frame: Frame, model: Frame, size: Size, subject: Subject | undefined): Frame {
  const { width, height } = model.box;
  const next: Frame = {
    ...frame,
    box:
      frame.flow === 'floating'
        ? {
            x: frame.box.x + (frame.box.width - width) / 2,
            y: frame.box.y + (frame.box.height - height) / 2,
            width,
            height,
          }
        : { ...frame.box, width, height },
    seat: model.seat,
    shape: model.shape,
    outline: model.outline,
    shadow: model.shadow,
    backing: model.backing,
    placement: {
      ...frame.placement,
      fit: model.placement.fit === 'stretch' ? 'cover' : model.placement.fit,
      zoom: model.placement.fit === 'cover' ? Math.max(1, model.placement.zoom) : model.placement.zoom,
      distortion: 1,
      aim: subject ?? { u: 0.5, v: 0.5 },
    },
  };
  const tone = ownTone(model.tone);
  if (tone) next.tone = tone;
  else delete next.tone;
  const fit = frame.keep && keepInView(next, frame.keep, size);
  if (fit && fit.lost.length < frame.keep!.length) return { ...next, placement: fit.placement };
  // The aim as it is shown: a subject at the rim cannot come to the middle.
  const { aim } = deriveView(next.placement, next.box, size).placement;
  return { ...next, placement: { ...next.placement, aim } };
}
