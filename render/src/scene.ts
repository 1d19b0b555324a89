import {
  equal,
  frameOfItem,
  GableError,
  groundOf,
  isPictureItem,
  itemIdOf,
  shownBehind,
  stackOf,
  type Document,
  type Frame,
  type Item,
  type Placed,
} from '@gable/core';
import type { OpenedPicture, Sheet, Source } from '@gable/formats';
import { paintGround } from './ground';
import type { OnPage, PageScene } from './page';

export { paintGround, paintHeld } from './ground';

/**
 * A page of a fixed size with all that lies on it and can be shown.
 * @param document the file's own, or as its work is now
 * @param number of the page, from 1
 */
export async function sceneOf(file: Source, document: Document, number: number): Promise<PageScene> {
  const [sheet, page] = [file.sheets[number - 1]!, document.pages[number - 1]!];
  return {
    size: { width: sheet.width, height: sheet.height },
    ground: groundOf(page),
    grid: sheet.lines,
    // Another ground takes the place of a picture behind the page.
    backdrop:
      // But for one of all that is drawn there.
      sheet.backdrop && (sheet.drawn || equal(page.ground, file.document.pages[number - 1]?.ground))
        ? await backdropOf(file, number, document)
        : null,
    layers: layersOf(file, document, number),
  };
}

/**
 * What stands around a picture, with it and by itself: clear where there is nothing.
 * @param document with that alone on its one page (`pieceDocument`)
 */
export const sceneOfPiece = (file: Source, document: Document): PageScene => ({
  ...{ size: document.pages[0]!.size, ground: null, backdrop: null },
  layers: layersIn(file, document, { page: 0, sheet: {} }),
});

/** The picture of a frame, where it can be shown: one in the place of another always can. */
export const canShow = ({ problem, media }: OpenedPicture, frame: Frame | undefined): boolean =>
  frame?.source !== undefined || (!problem && media?.drawable === true);

/** What lies on a page, from the back to the front. @param page its number, from 1 */
export const layersOf = (file: Source, document: Document, page: number): (Placed | OnPage)[] =>
  layersIn(file, document, { page: page - 1, sheet: file.sheets[page - 1]!, onSheet: true });

/** @param of.sheet what is in its backdrop @param of.onSheet do boxes of pictures count from their cells? */
function layersIn(
  file: Source,
  document: Document,
  { page, sheet, onSheet = false }: { page: number; sheet: Pick<Sheet, 'drawn' | 'apart'>; onSheet?: boolean },
): (Placed | OnPage)[] {
  const pictures = new Map(file.pictures.map((p) => [itemIdOf(p), p]));
  const originOf = (item: Item): { x: number; y: number } | undefined => {
    const id = isPictureItem(item) ? item.id : item.at.on === 'cells' ? item.at.beside : undefined;
    return onSheet && id !== undefined ? pictures.get(id)?.origin : undefined;
  };
  const stack = stackOf(document, document.pages[page]!);
  const behind = shownBehind(stack, sheet);
  return stack.flatMap((placed): (Placed | OnPage)[] => {
    const { item, box, turn, flip } = placed;
    const { x, y } = originOf(item) ?? { x: 0, y: 0 };
    if (!isPictureItem(item))
      return behind.has(item.id) ? [] : [{ ...placed, box: { ...box, x: box.x + x, y: box.y + y } }];
    const picture = pictures.get(item.id);
    const frame = frameOfItem(item, picture?.n ?? 0);
    // One that was put in is not in the file yet.
    if (picture ? !canShow(picture, frame) : !frame.source) return [];
    return [{ frame: { ...frame, box, turn, flip }, x: box.x + x, y: box.y + y, k: 1 }];
  });
}

/** A picture behind a page that cannot be painted is left out. */
const backdropOf = (file: Source, page: number, document: Document): Promise<Uint8Array | null> =>
  paintGround(file, page, document).catch((error: unknown) => {
    if (error instanceof GableError) return null;
    throw error;
  });

/** A page may be so many times as high as wide: of a longer one a part is shown. */
const TALLEST = 1.4;

/** A page, or so much of a long one as can be shown. @param first what must be in it, in points from the top */
export function partOf(scene: PageScene, first: number): PageScene {
  const height = TALLEST * scene.size.width;
  if (scene.size.height <= height) return scene;
  const top = Math.max(0, Math.min(first - 0.1 * height, scene.size.height - height));
  const layers = scene.layers.map((layer) =>
    'frame' in layer ? { ...layer, y: layer.y - top } : { ...layer, ...lifted(layer, top) },
  );
  const y = scene.grid?.y.map((v) => v - top).filter((v) => v >= 0 && v <= height) ?? [];
  return { ...scene, size: { ...scene.size, height }, layers, ...(scene.grid && { grid: { ...scene.grid, y } }) };
}

/** An item on a page of which a part is shown. */
function lifted({ item, box }: Placed, by: number): Pick<Placed, 'item' | 'box'> {
  const up = <T extends { box: Item['at']['box'] }>(of: T): T => ({ ...of, box: { ...of.box, y: of.box.y - by } });
  const preview = item.kind === 'foreign' ? item.preview?.map(up) : undefined;
  return { item: preview ? ({ ...item, preview } as typeof item) : item, box: { ...box, y: box.y - by } };
}
