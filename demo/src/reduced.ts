import { readFile } from 'node:fs/promises';
import sharp from 'sharp';

/** A picture of the demo, small enough for a slide, a drawing or a page; the camera's turn is undone. */
export async function reduced(name: string, side: number): Promise<Uint8Array> {
  const bytes = await readFile(`files/pictures/${name}.jpg`);
  return new Uint8Array(
    await sharp(bytes).rotate().resize(side, side, { fit: 'inside' }).jpeg({ quality: 76, mozjpeg: true }).toBuffer(),
  );
}
