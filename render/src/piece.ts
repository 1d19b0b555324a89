import { GableError, isPictureItem, itemIdOf, type Document, type Frame } from '@gable/core';
import { drawnAs, type Source } from '@gable/formats';
import { createHash } from 'node:crypto';
import { encode, type OutputType } from './encode';
import { renderPage, type PageScene } from './page';
import type { Original } from './original';
import { saveRasterised } from './rasterise';

type OriginalOf = (frame: Frame) => Promise<Original> | Original;

/** How large something is painted: pixels to the inch, or a width in pixels; 300 to the inch where nothing is said. */
export interface PaintSize {
  ppi?: number | undefined;
  width?: number | undefined;
}
const PPI = 300;
/** No side of what is painted has more pixels. */
const MOST_PIXELS = 20_000;

/** A page, or a piece, as a file of pixels. @throws GableError `too-large` */
export async function paintScene(
  scene: PageScene,
  original: OriginalOf,
  { type, ppi, width }: PaintSize & { type: OutputType },
): Promise<Uint8Array> {
  const scale = width ? width / scene.size.width : (ppi ?? PPI) / 72;
  if (Math.max(scene.size.width, scene.size.height) * scale > MOST_PIXELS)
    throw new GableError(
      'too-large',
      `It would be more than ${MOST_PIXELS} pixels wide or high.`,
      'Choose a smaller size.',
    );
  return encode(await renderPage(scene, original, scale), type, scale * 72);
}

/** A piece as a drawing, whose picture, words and blocks stay editable. @param piece as in `sceneOfPiece` */
export async function pieceDrawing(file: Source, piece: Document, original: OriginalOf): Promise<Uint8Array> {
  const items = { ...piece.items };
  const own = new Map<string, Original>();
  for (const item of Object.values(items)) {
    if (!isPictureItem(item) || item.fill.source.from === 'kept') continue;
    const picture = file.pictures.find((p) => itemIdOf(p) === item.id)!;
    const bytes = file.pictureBytes(picture.n);
    const sha256 = createHash('sha256').update(bytes).digest('hex');
    own.set(sha256, { bytes, size: picture.size });
    const { type = 'png', orientation = 1 } = picture.media ?? {};
    const source = { from: 'kept' as const, sha256, name: 'Picture', type, size: picture.size, orientation };
    items[item.id] = { ...item, fill: { ...item.fill, source } };
  }
  const drawn = drawnAs('svg', { ...piece, items });
  return saveRasterised(drawn.file, drawn.document, {
    original: (frame) => own.get(frame.source?.sha256 ?? '') ?? original(frame),
  });
}
