import type { Frame } from '@gable/core';
import type { House } from '../features/works';
import type { Sources } from './jobs';

/** The bytes of kept pictures that frames show in the place of the file's own. */
export async function sourcesOf(house: House, frames: readonly Frame[]): Promise<Sources> {
  const out: Record<string, Uint8Array> = {};
  for (const { source } of frames) if (source) out[source.sha256] ??= await house.blobs.readAll(source.sha256);
  return out;
}
