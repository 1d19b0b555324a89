import {
  besideInText,
  drawnBox,
  equal,
  frameOfBlock,
  FULL_SEAT,
  GableError,
  isAdded,
  meets,
  paintedBounds,
  paintFrame,
  pieceDocument,
  stackOf,
  type Box,
  type Document,
  type Frame,
  type ItemId,
  type Page,
  restylesShapes,
} from '@gable/core';
import { CAPABILITIES, type ReplacementImage, type Source } from '@gable/formats';
import { surfaceOf } from './canvas';
import { opaqueOrClear } from './encode';
import { canvasOf, type OnPage, type PageScene } from './page';
import type { Original } from './original';
import { sceneOf, sceneOfPiece } from './scene';
import { blurredBeneath, isVeilItem, isVeilLayer, type Veil } from './veil';

/** So many pixels a point are enough for what is blurred. */
const DENSITY = 2;

/** All that is painted of a frame on its page. */
function boxOn({ frame, x, y, k }: OnPage): Box {
  const b = paintedBounds(frame);
  return { x: x + b.x * k, y: y + b.y * k, width: b.width * k, height: b.height * k };
}

/** A veil as a picture that fills its box. @param scene what lies beneath it */
async function paintedVeil(
  scene: PageScene,
  veil: Veil,
  originals: (frame: Frame) => Promise<Original> | Original,
): Promise<ReplacementImage> {
  const { item, box } = veil;
  const bare = { ...item, shape: { name: 'rectangle', knobs: {} }, seat: FULL_SEAT, outline: null, shadow: null };
  const b = paintedBounds(frameOfBlock(bare, veil));
  const part = { x: box.x + b.x, y: box.y + b.y, width: b.width, height: b.height };
  const near = scene.layers.filter((layer) => !('frame' in layer) || meets(boxOn(layer), part));
  const beneath = await canvasOf({ ...scene, layers: near }, originals, DENSITY, part);
  const canvas = blurredBeneath(beneath, veil, { x: -part.x * DENSITY, y: -part.y * DENSITY, scale: DENSITY });
  const upright = { box, turn: 0, flip: { horizontal: false, vertical: false } };
  paintFrame(surfaceOf(canvas), frameOfBlock(bare, upright), null, { x: 0, y: 0, scale: DENSITY });
  const { width, height } = canvas;
  return opaqueOrClear({ width, height, data: canvas.getContext('2d').getImageData(0, 0, width, height).data });
}

/**
 * The pictures of the veils of a document, for a format that cannot say them: each is what lies beneath it, blurred, with its paint.
 * Those of the file are painted anew where what lies beneath them is another, or they are.
 */
export async function paintedVeils(
  file: Source,
  document: Document,
  originals: (frame: Frame) => Promise<Original> | Original,
): Promise<Map<ItemId, ReplacementImage>> {
  const out = new Map<ItemId, ReplacementImage>();
  const { blurs, restyles } = CAPABILITIES[file.format];
  if (blurs) return out;
  const paint = async (scene: PageScene, ids: readonly ItemId[]): Promise<void> => {
    for (const [i, layer] of scene.layers.entries())
      if (!('frame' in layer) && isVeilLayer(layer) && ids.includes(layer.item.id)) {
        const beneath = { ...scene, layers: scene.layers.slice(0, i) };
        const picture = await paintedVeil(beneath, layer, originals).catch(unlessBroken);
        if (picture) out.set(layer.item.id, picture);
      }
  };
  for (const [i, page] of document.pages.entries()) {
    const was = file.document.pages.find((p) => p.id === page.id);
    const isOther = (id: ItemId): boolean =>
      isAdded(id) ||
      (restylesShapes(restyles) && !!was && !equal(lookOf(file.document, was, id), lookOf(document, page, id)));
    const ids = page.items.filter((id) => isVeilItem(document.items[id]) && isOther(id));
    if (ids.length > 0) await paint(await sceneOf(file, document, i + 1), ids);
  }
  for (const { items } of document.stories)
    for (const id of items) {
      const item = document.items[id];
      const picture = item && isAdded(id) && isVeilItem(item) ? besideInText(item) : undefined;
      const piece = picture === undefined ? null : pieceDocument(document, picture);
      // A text stands on paper.
      if (piece) await paint({ ...sceneOfPiece(file, piece), ground: '#ffffff' }, [id]);
    }
  return out;
}

/** Over a picture that cannot be decoded a veil is its paint alone. */
function unlessBroken(error: unknown): null {
  if (error instanceof GableError) return null;
  throw error;
}

/** A veil of a page, and all that lies beneath it there. */
function lookOf(document: Document, page: Page, id: ItemId): unknown {
  const stack = stackOf(document, page);
  const at = stack.findIndex((p) => p.item.id === id);
  const own = stack[at];
  if (!own) return null;
  const beneath = stack.slice(0, at).filter((p) => meets(drawnBox(p.item, p), drawnBox(own.item, own)));
  return [page.ground, [...beneath, own].map(({ item: { tie, ...look }, ...placed }) => [tie && null, look, placed])];
}
