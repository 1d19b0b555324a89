import {
  beginningOf,
  factsOfWords,
  groundOf,
  isVeil,
  JUDGED_PIXELS,
  lookOfWords,
  nearLetters,
  tonePixels,
  wordsAround,
  type Frame,
  type Rect,
  type WordsFacts,
} from '@gable/core';
import type { Source } from '@gable/formats';
import { createCanvas } from '@napi-rs/canvas';
import { registerFonts } from './fonts';
import type { Original } from './original';
import { canvasOf, type PageScene } from './page';
import { sceneOf } from './scene';

/**
 * How well words around the pictures of a file can be read, by the numbers of these; on pages of a fixed size, whose words are told with
 * what lies beneath them.
 * @param faces of a picture, on its page
 */
export async function wordsFacts(
  file: Source,
  originals: (frame: Frame) => Promise<Original> | Original,
  faces: (n: number) => readonly Rect[],
): Promise<Map<number, WordsFacts[]>> {
  registerFonts();
  const context = createCanvas(1, 1).getContext('2d');
  const { document } = file;
  const scenes = new Map<number, PageScene>();
  const out = new Map<number, WordsFacts[]>();
  for (const [n, items] of wordsAround(file.pictures, document)) {
    const own: WordsFacts[] = [];
    for (const item of items) {
      const look = lookOfWords(item);
      const page = document.pages.findIndex((p) => p.items.includes(item.id));
      if (!look || page < 0) continue;
      const scene = scenes.get(page) ?? (await sceneOf(file, document, page + 1));
      scenes.set(page, scene);
      const at = scene.layers.findIndex((layer) => !('frame' in layer) && layer.item.id === item.id);
      const layer = scene.layers[at];
      // Drawn with the rest of its page it cannot be told from what lies beneath it.
      if (!layer || 'frame' in layer) continue;
      const placed = { ...item, at: { on: 'page' as const, box: layer.box } };
      const part = nearLetters(context, placed);
      const scale = JUDGED_PIXELS / Math.max(part.width, part.height);
      const canvas = await canvasOf({ ...scene, layers: scene.layers.slice(0, at) }, originals, scale, part);
      const { width, height } = canvas;
      const sharp = canvas.getContext('2d').getImageData(0, 0, width, height);
      const blur = isVeil(item.fill) ? item.fill.blur * scale : 0;
      const { data } = blur > 0 ? tonePixels(sharp, undefined, { x: blur, y: blur }) : sharp;
      const beneath = { data: new Uint8ClampedArray(data), behind: groundOf(document.pages[page]!) };
      own.push({ words: beginningOf(item), ...factsOfWords(context, placed, look, { beneath, faces: faces(n) }) });
    }
    if (own.length > 0) out.set(n, own);
  }
  return out;
}
