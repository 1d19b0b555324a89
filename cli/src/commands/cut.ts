import { GableError, maskBounds, parseKeep, trimNumber, type Region } from '@gable/core';
import { readDrawable } from '@gable/formats';
import { clearAround, cutOutFinely, maskAt, maskToPng } from '@gable/render/cut-out';
import { findFaces } from '@gable/render/faces';
import { FLAG, TEXT, type Command } from '../command';
import { readWhole, writeWhole } from '../files';

interface CutOptions {
  out?: string;
  box?: string;
  mask?: boolean;
}

function parseBox(text: string): Region {
  const [box, ...more] = parseKeep(text);
  if (typeof box === 'object' && more.length === 0) return box;
  throw new GableError(
    'bad-keep',
    `“${text}” is not a box.`,
    'Write left, top, width and height as shares from 0 to 1, such as 0.2,0.1,0.5,0.8.',
  );
}

/** `gable cut PICTURE --out x.png`: the subject of a picture without its background. */
async function cut(file: string, { out, box, mask: bare = false }: CutOptions): Promise<void> {
  if (!out) throw new GableError('bad-call', 'The name of the new file is missing.', 'Add --out FILE.png.');
  const region = box === undefined ? undefined : parseBox(box);
  const bytes = await readWhole(file);
  const { pixels: size } = readDrawable(bytes, file);
  const mask = await cutOutFinely(bytes, size, { faces: region ? [] : await findFaces(bytes, size), region });
  const bounds = maskBounds(mask);
  if (!bounds)
    throw new GableError(
      'no-subject',
      `There is no subject in “${file}” that stands out.`,
      'Say where it is with --box left,top,width,height.',
    );
  await writeWhole(out, bare ? await maskToPng(await maskAt(bytes, mask, size)) : await clearAround(bytes, size, mask));
  const percent = (share: number): string => `${trimNumber(share * 100, 0)} %`;
  console.log(`Wrote ${out}: the subject is ${percent(bounds.width)} wide and ${percent(bounds.height)} high.`);
}

export const cutCommand: Command = {
  name: 'cut',
  usage: 'cut    PICTURE --out FILE.png [--box left,top,width,height] [--mask]',
  options: { out: TEXT, box: TEXT, mask: FLAG },
  takesFile: true,
  run: (file, values) => cut(file, values as CutOptions),
};
