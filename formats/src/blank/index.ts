import type { Format } from '../codec/capabilities';
import { blankPptx } from './deck';
import { blankOdg, blankOdp, blankOdt } from './open-document';
import type { BlankPage } from './parts';
import { blankDocx } from './text-document';
import { blankHtml, blankSvg } from './web';

export type { BlankPage } from './parts';

/**
 * Files with one empty page, by their format: tiny templates, which the codecs then open and write like any file. There is no
 * second writer.
 */
export const BLANKS: Partial<Record<Format, (page: BlankPage) => Uint8Array>> = {
  docx: blankDocx,
  pptx: blankPptx,
  odt: blankOdt,
  odp: blankOdp,
  odg: blankOdg,
  svg: blankSvg,
  html: blankHtml,
};
