import { shareAlong, type ShapeChoice, type Size } from '@gable/core';
import { alongShape, letterShape, readFont } from '@gable/core/silhouette';
import { silhouetteFrom } from '@gable/render';
import { fontFile } from '@gable/render/fonts';
import path from 'node:path';
import { readWhole } from './files';

/** A shape from an SVG drawing or a picture. @throws GableError for a file that is none, or is empty */
export async function silhouetteOf(file: string): Promise<ShapeChoice> {
  const { choice, textLeftOut } = await silhouetteFrom(await readWhole(file), path.basename(file));
  if (textLeftOut) process.stderr.write(`${file}: the text in this drawing was left out. Turn it into paths.\n`);
  return choice;
}

/** One to three letters, in a font of the caller's or in the one that Gable ships. @throws GableError */
export async function letterOf(text: string, file?: string): Promise<ShapeChoice> {
  return letterShape(readFont(await readWhole(file ?? fontFile(800))), text);
}

/** Words along a circle, in the font that Gable ships, and how large they are set. @throws GableError */
export async function alongOf(text: string, box: Size): Promise<{ shape: ShapeChoice; share: number }> {
  const share = shareAlong(box);
  return { share, shape: alongShape(readFont(await readWhole(fontFile(800))), text, { share, side: 'top' }) };
}
