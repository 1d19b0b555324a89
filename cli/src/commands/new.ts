import { GableError, parseColour, parsePage, type Size } from '@gable/core';
import { BLANKS, type Format } from '@gable/formats';
import path from 'node:path';
import { TEXT, type Command } from '../command';
import { writeWhole } from '../files';

/** A page where none is named: a sheet for texts and pages, a wide slide for what is shown. */
const USUAL: Partial<Record<Format, string>> = { pptx: '16:9', odp: '16:9' };

/** The bytes of a file with one empty page, of the kind that its name says. @throws GableError `bad-output` */
export function blankFor(out: string, { size, ground }: { size?: Size; ground: string | null }): Uint8Array {
  const format = path.extname(out).slice(1).toLowerCase() as Format;
  const blank = BLANKS[format];
  if (!blank)
    throw new GableError(
      'bad-output',
      `Gable cannot make a new file of this kind (“${out}”).`,
      `End its name with ${Object.keys(BLANKS).join(', ')}.`,
    );
  return blank({ size: size ?? parsePage(USUAL[format] ?? 'A4'), ground });
}

/** `gable new`: a file with one empty page, for `gable put`. */
async function begin({ out, page, ground }: { out?: string; page?: string; ground?: string }): Promise<void> {
  if (!out) throw new GableError('bad-call', 'The name of the new file is missing.', 'Add --out FILE.');
  const size = page === undefined ? {} : { size: parsePage(page) };
  await writeWhole(out, blankFor(out, { ...size, ground: ground === undefined ? null : parseColour(ground) }));
  console.log(`Wrote ${out}.`);
}

export const newCommand: Command = {
  name: 'new',
  usage: `new    --out FILE.docx|pptx|odt|odp|odg|svg|html [--page A4|A4 landscape|letter|16:9|4:3|1080x1080px|…]
               [--ground "#22302f"]`,
  options: { out: TEXT, page: TEXT, ground: TEXT },
  takesFile: false,
  run: (_, values) => begin(values as Parameters<typeof begin>[0]),
};
