import { FAMILIES, SHAPES, trimNumber, type ShapeChoice } from '@gable/core';
import { letterShape, readFont, silhouetteFromPixels, silhouetteFromSvg } from '@gable/core/silhouette';
import { createRequire } from 'node:module';
import path from 'node:path';
import { readWhole } from './files';
import { decode } from './render';

/** `gable shapes [--json]`: every shape by family, with its knobs. */
export function listShapes(json: boolean): void {
  if (json) {
    const list = SHAPES.map((s) => ({
      name: s.name,
      label: s.label,
      family: s.family,
      ratio: s.locked,
      preset: s.preset?.name ?? null,
      knobs: s.knobs.map(({ name, label, min, max, default: initial }) => ({
        name,
        label,
        min,
        max,
        default: initial,
      })),
    }));
    console.log(JSON.stringify(list, null, 2));
    return;
  }
  for (const family of FAMILIES) {
    console.log(`${family}`);
    for (const s of SHAPES.filter((x) => x.family === family)) {
      const knobs = s.knobs.map(
        (k) => `${k.name} ${trimNumber(k.min, 2)}–${trimNumber(k.max, 2)} (${trimNumber(k.default, 2)})`,
      );
      console.log(`  ${s.name.padEnd(18)} ${knobs.join(', ')}`.trimEnd());
    }
  }
}

/** Longer side in pixels at which a picture is traced. */
const TRACE_SIDE = 1024;

/** A shape from an SVG drawing or a picture. @throws GableError for a file that is none, or is empty */
export async function silhouetteOf(file: string): Promise<ShapeChoice> {
  return silhouetteFrom(await readWhole(file), path.basename(file));
}

/** @param name of the file: it names the shape, and tells a drawing from a picture */
export async function silhouetteFrom(bytes: Uint8Array, name: string): Promise<ShapeChoice> {
  const extension = path.extname(name);
  const label = path.basename(name, extension) || 'Silhouette';
  if (extension.toLowerCase() === '.svg') return silhouetteFromSvg(new TextDecoder().decode(bytes), label).choice;
  return silhouetteFromPixels(await decode(bytes, { width: TRACE_SIDE, height: TRACE_SIDE }, 'inside'), label).choice;
}

/** One to three letters, in a font of the caller's or in the one that Gable ships. @throws GableError */
export async function letterOf(text: string, file?: string): Promise<ShapeChoice> {
  const shipped = (): string =>
    createRequire(import.meta.url).resolve(
      '@fontsource/bricolage-grotesque/files/bricolage-grotesque-latin-800-normal.woff',
    );
  return letterShape(readFont(await readWhole(file ?? shipped())), text);
}
