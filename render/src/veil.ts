import {
  CENTRED,
  frameOfBlock,
  isVeil,
  paintFrame,
  tonePixels,
  type Frame,
  type FramedItem,
  type Item,
  type PageLayer,
  type PaintTarget,
  type Placed,
  type Surface,
  type VeilFill,
} from '@gable/core';
import { createCanvas, type Canvas } from '@napi-rs/canvas';
import { toCanvas } from './canvas';

/** Something that shows what lies beneath it blurred. */
export type Veil = Placed & { item: FramedItem & { fill: VeilFill } };

export const isVeilItem = (item: Item | undefined): item is Veil['item'] =>
  item?.kind === 'framed' && isVeil(item.fill);

export const isVeilLayer = (layer: PageLayer): layer is Veil => 'item' in layer && isVeilItem(layer.item);

/**
 * What lies beneath a veil, blurred, as large as its box and turned with it: its rim is repeated outwards, so that nothing beside it
 * shows.
 */
export function blurredBeneath(painted: Canvas, { item, box, turn, flip }: Veil, { x, y, scale }: PaintTarget): Canvas {
  const [width, height] = [box.width, box.height].map((v) => Math.max(1, Math.round(v * scale))) as [number, number];
  const canvas = createCanvas(width, height);
  const context = canvas.getContext('2d');
  context.translate(width / 2, height / 2);
  context.scale(flip.horizontal ? -1 : 1, flip.vertical ? -1 : 1);
  context.rotate((-turn / 180) * Math.PI);
  context.translate(-x - (box.x + box.width / 2) * scale, -y - (box.y + box.height / 2) * scale);
  context.drawImage(painted, 0, 0);
  const sigma = item.fill.blur * scale;
  return toCanvas(tonePixels(context.getImageData(0, 0, width, height), undefined, { x: sigma, y: sigma }));
}

/** Lays what is beneath a veil into its shape, blurred; the paint of the veil comes over it. */
export function layBeneath(surface: Surface, painted: Canvas, veil: Veil, target: PaintTarget): void {
  const { item, box } = veil;
  const image = blurredBeneath(painted, veil, target);
  const frame: Frame = {
    ...frameOfBlock({ ...item, fill: null, outline: null, shadow: null }, veil),
    placement: { ...CENTRED, fit: 'stretch' },
  };
  const at = { x: target.x + box.x * target.scale, y: target.y + box.y * target.scale, scale: target.scale };
  paintFrame(surface, frame, { image, size: { width: image.width, height: image.height } }, at);
}
