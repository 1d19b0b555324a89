import { GableError } from '@gable/core';
import { encode, htmlPieces, joined, outputType, renderFrame, svgPieces } from '@gable/render';
import { TEXT, type Command } from '../command';
import { openPath, writeWhole } from '../files';
import { onePicture } from '../one-picture';

interface RenderOptions {
  pick?: string;
  out?: string;
  ppi?: string;
}

/** `gable render FILE --pick N --out x.png`: one framed picture, painted or as markup. */
async function render(file: string, values: RenderOptions): Promise<void> {
  if (!values.out) throw new GableError('bad-call', 'The name of the new file is missing.', 'Add --out x.png.');
  const markup = /\.(svg|html?)$/i.exec(values.out)?.[1]?.toLowerCase();
  const type = markup ? null : outputType(values.out);
  const ppi = Number(values.ppi ?? 300);
  if (!(ppi >= 1 && ppi <= 2400))
    throw new GableError('bad-ppi', `“${values.ppi}” is not a resolution.`, 'Give pixels per inch from 1 to 2400.');
  const opened = await openPath(file);
  const picture = onePicture(opened, values.pick, 'Exactly one picture can be rendered at a time.');
  if (type === null) {
    const bytes = opened.pictureBytes(picture.n);
    const pieces = (markup === 'svg' ? svgPieces : htmlPieces)(picture.frame, picture.size, bytes);
    await writeWhole(values.out, await joined(pieces));
    console.log(`Picture ${picture.n}; wrote ${values.out}.`);
    return;
  }
  const pixels = await renderFrame(picture.frame, picture.size, opened.pictureBytes(picture.n), ppi / 72);
  await writeWhole(values.out, await encode(pixels, type, ppi));
  console.log(`Picture ${picture.n}: ${pixels.width} × ${pixels.height} px at ${ppi} ppi; wrote ${values.out}.`);
}

export const renderCommand: Command = {
  name: 'render',
  usage: 'render FILE --pick N --out x.png|webp|jpg|avif|pdf|svg|html [--ppi 300]',
  options: { out: TEXT, pick: TEXT, ppi: TEXT },
  takesFile: true,
  run: (file, values) => render(file, values as RenderOptions),
};
