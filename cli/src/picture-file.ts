import type { Source as Kept } from '@gable/core';
import { readDrawable } from '@gable/formats';
import type { Original } from '@gable/render';
import { createHash } from 'node:crypto';
import path from 'node:path';
import { readWhole } from './files';

/** A picture from a file of its own: its data, and how a frame names it. @throws GableError for what is no picture */
export async function readPicture(file: string): Promise<{ original: Original; kept: Kept }> {
  const bytes = await readWhole(file);
  const { pixels: size, type, orientation } = readDrawable(bytes, file);
  const sha256 = createHash('sha256').update(bytes).digest('hex');
  return { original: { bytes, size }, kept: { sha256, name: path.basename(file), type, size, orientation } };
}
