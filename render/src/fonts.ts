import { GlobalFonts } from '@napi-rs/canvas';
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
/** Lets canvases set type in it: it stands in for fonts that this machine does not have. */
export function registerFonts(): void {
  if (ready) return;
  ready = true;
  for (const weight of [400, 700, 800] as const) GlobalFonts.registerFromPath(fontFile(weight), FAMILY);
}
