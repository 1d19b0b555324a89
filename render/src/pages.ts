import type { Frame } from '@gable/core';
import { sharpOf } from './canvas';
import { encode } from './encode';
import { renderPage, type PageScene } from './page';
import { newPdf } from './pdf';
import type { Original } from './original';

/** What whole pages are painted as. */
export type PaintedKind = 'png' | 'pdf';

/**
 * Whole pages, painted: each as a PNG, or all of them as one PDF, whose pages are as large as they are.
 * @param originals the picture of a frame
 * @param wish.ppi pixels to the inch
 */
export async function paintPages(
  scenes: readonly PageScene[],
  originals: (frame: Frame) => Promise<Original> | Original,
  { kind, ppi }: { kind: PaintedKind; ppi: number },
  progress: (done: number, total: number) => void = () => undefined,
): Promise<Uint8Array[]> {
  const out: Uint8Array[] = [];
  const pdf = kind === 'pdf' ? await newPdf({ autoFirstPage: false, margin: 0 }) : null;
  const pieces: Buffer[] = [];
  const ended = new Promise<void>((resolve, reject) => {
    pdf?.on('data', (piece: Buffer) => pieces.push(piece));
    pdf?.on('end', resolve);
    pdf?.on('error', reject);
  });
  for (const [i, scene] of scenes.entries()) {
    progress(i, scenes.length);
    const pixels = await renderPage(scene, originals, ppi / 72);
    if (!pdf) {
      out.push(await encode(pixels, 'png', ppi));
      continue;
    }
    const { width, height } = scene.size;
    const jpeg = await sharpOf(pixels)
      .flatten({ background: '#ffffff' })
      .jpeg({ quality: 92, chromaSubsampling: '4:4:4' })
      .toBuffer();
    pdf.addPage({ size: [width, height], margin: 0 });
    pdf.image(jpeg, 0, 0, { width: (pixels.width / ppi) * 72, height: (pixels.height / ppi) * 72 });
  }
  progress(scenes.length, scenes.length);
  if (!pdf) return out;
  pdf.end();
  await ended;
  return [Buffer.concat(pieces)];
}
