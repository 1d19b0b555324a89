import { GlobalFonts } from '@napi-rs/canvas';
import { STANDING_FONTS } from '@gable/core';
import { createRequire } from 'node:module';

/** The weights of the font that ships with Gable. */
export type FontWeight = 400 | 700 | 800;
const FAMILY = 'Bricolage Grotesque';

/** The file of the font that ships with Gable (WOFF, letters of Western Europe). */
export const fontFile = (weight: FontWeight): string =>
  createRequire(import.meta.url).resolve(
    `@fontsource/bricolage-grotesque/files/bricolage-grotesque-latin-${weight}-normal.woff`,
  );

let ready = false;
/**
 * Lets canvases set type in it, which stands in for fonts that this machine does not have, and in those that have the widths of
 * common office fonts (`setIn`).
 */
export function registerFonts(): void {
  if (ready) return;
  ready = true;
  for (const weight of [400, 700, 800] as const) GlobalFonts.registerFromPath(fontFile(weight), FAMILY);
  for (const family of STANDING_FONTS)
    for (const look of ['400-normal', '400-italic', '700-normal', '700-italic']) {
      const name = family.toLowerCase();
      const file = `@fontsource/${name}/files/${name}-latin-${look}.woff`;
      GlobalFonts.registerFromPath(createRequire(import.meta.url).resolve(file), family);
    }
}
