import type { Rect } from '../geometry/path';
import type { Box } from '../model/frame';
import type { FramedItem, Text } from '../model/document';
import { presetTextRect } from '../presets/text-rect';
import { seatRect, shapeOf } from './index';

/** Where the words of a shape stand, before their insets: from the corner of its box, in points. */
export function textBoxOf(
  box: Pick<Box, 'width' | 'height'>,
  { shape, seat }: Pick<FramedItem, 'shape' | 'seat'>,
): Rect {
  const form = shapeOf(shape);
  const own = seatRect(box, seat, form?.locked ?? null);
  const preset = form?.preset;
  const rect =
    preset && presetTextRect(preset.name, own.width, own.height, preset.toAdjust(shape.knobs, own.width, own.height));
  return rect ? { ...rect, x: own.x + rect.x, y: own.y + rect.y } : own;
}

/** Words as they stand in a shape: with insets from the edges of its box. */
export function wordsIn(
  box: Pick<Box, 'width' | 'height'>,
  look: Pick<FramedItem, 'shape' | 'seat'>,
  text: Text,
): Text {
  const { x, y, width, height } = textBoxOf(box, look);
  const { inset } = text;
  return {
    ...text,
    inset: {
      top: y + inset.top,
      right: box.width - x - width + inset.right,
      bottom: box.height - y - height + inset.bottom,
      left: x + inset.left,
    },
  };
}
