import { silhouetteFromPixels, silhouetteFromSvg, type Silhouette } from '@gable/core/silhouette';
import path from 'node:path';
import { decode } from './decode';

/** Longer side in pixels at which a picture is traced. */
const TRACE_SIDE = 1024;

/**
 * A shape from an SVG drawing or a picture.
 * @param name of the file: it names the shape, and tells a drawing from a picture
 * @throws GableError for a file that is neither, or is empty
 */
export async function silhouetteFrom(bytes: Uint8Array, name: string): Promise<Silhouette> {
  const extension = path.extname(name);
  const label = path.basename(name, extension) || 'Silhouette';
  if (extension.toLowerCase() === '.svg') return silhouetteFromSvg(new TextDecoder().decode(bytes), label);
  return silhouetteFromPixels(await decode(bytes, { width: TRACE_SIDE, height: TRACE_SIDE }, 'inside'), label);
}
