import type { Rect } from '../geometry/path';
import { bounds } from '../geometry/measure';
import { polygon } from '../geometry/path';
import { transform } from '../geometry/transform';
import type { Frame, Size } from '../model/frame';
import { cropped, withPictureOffset, type Handle } from './adjust';
import { deriveView, viewCrop, type Crop } from './view';

/** What people type who place pictures by numbers. A picture that is turned is told by the rectangle round it. */

const sideOf: Readonly<Record<keyof Crop, Handle>> = {
  left: { x: -1, y: 0 },
  top: { x: 0, y: -1 },
  right: { x: 1, y: 0 },
  bottom: { x: 0, y: 1 },
};

/** Where the picture lies in the box, and how large it is there: points from the box's top left. */
export function pictureRect(frame: Frame, picture: Size): Rect {
  const { matrix } = deriveView(frame.placement, frame.box, picture);
  const { width, height } = picture;
  return bounds(
    transform(
      polygon([
        [0, 0],
        [width, 0],
        [width, height],
        [0, height],
      ]),
      matrix,
    ),
  );
}

/**
 * The frame with one of those figures changed: another size keeps the picture's ratio and its top left. What a placement
 * does not allow is held when it is shown.
 */
export function withPictureRect(frame: Frame, change: Partial<Rect>, picture: Size): Frame {
  const now = pictureRect(frame, picture);
  const k = change.width ? change.width / now.width : change.height ? change.height / now.height : 1;
  const { placement, box } = frame;
  const { zoom } = deriveView(placement, box, picture).placement;
  const sized: Frame = { ...frame, placement: { ...placement, zoom: zoom * k } };
  const rect = pictureRect(sized, picture);
  return withPictureOffset(
    sized,
    {
      x: (change.x ?? now.x) + rect.width / 2 - box.width / 2,
      y: (change.y ?? now.y) + rect.height / 2 - box.height / 2,
    },
    picture,
  );
}

/**
 * The frame cropped on one side to a share of the picture, counted on the picture's own sides: its box changes as if that
 * side had been dragged. For pictures that are not turned.
 */
export function withCropSide(frame: Frame, side: keyof Crop, share: number, picture: Size): Frame {
  const view = deriveView(frame.placement, frame.box, picture);
  const by = share - viewCrop(view)[side];
  const { x, y } = sideOf[side];
  // A mirrored picture's left is the box's right.
  const handle: Handle = { x: (frame.placement.mirror ? -x : x) as Handle['x'], y };
  const dx = -handle.x * by * view.scale.x * picture.width;
  const dy = -handle.y * by * view.scale.y * picture.height;
  return cropped(frame, handle, dx, dy, picture, null);
}
