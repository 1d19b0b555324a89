import { GableError } from '@gable/core';
import { openFile } from '@gable/formats';
import { outputType } from '@gable/render';
import { paintScene } from '@gable/render/piece';
import { sceneOf } from '@gable/render/scene';
import { TEXT, type Command } from '../command';
import { readWhole, writeWhole } from '../files';
import { fontsFrom } from '../fonts';

interface PageOptions {
  out?: string;
  page?: string;
  ppi?: string;
  width?: string;
  fonts?: string;
}

/** A number of a call. @throws GableError `bad-call` */
function numberOf(
  value: string | undefined,
  name: string,
  [least, most]: readonly [number, number],
): number | undefined {
  if (value === undefined) return undefined;
  const n = Number(value);
  if (!(n >= least && n <= most))
    throw new GableError('bad-call', `“${value}” is no ${name}.`, `Give a number from ${least} to ${most}.`);
  return n;
}

/** `gable page FILE --page N --out x.png`: a whole page of a fixed size, painted. */
async function page(file: string, { out, fonts, ...values }: PageOptions): Promise<void> {
  if (!out) throw new GableError('bad-call', 'The name of the new file is missing.', 'Add --out x.png.');
  const type = outputType(out);
  const n = numberOf(values.page, 'page', [1, 100_000]) ?? 1;
  const ppi = numberOf(values.ppi, 'resolution', [1, 2400]);
  const width = numberOf(values.width, 'width', [1, 20_000]);
  const source = openFile(await readWhole(file));
  if (!source.sheets[n - 1])
    throw new GableError(
      'no-such-page',
      source.sheets.length === 0
        ? 'The pages of this file come of its text: only a browser lays them out.'
        : `There is no page ${n} in this file.`,
      source.sheets.length === 0 ? 'Use slides, a drawing or a workbook.' : `It has ${source.sheets.length}.`,
      { page: n },
    );
  await fontsFrom(fonts?.split(',').filter(Boolean) ?? [], '.');
  const sizes = new Map(source.pictures.map((p) => [p.n, p.size]));
  const painted = await paintScene(
    await sceneOf(source, source.document, n),
    (frame) => ({ bytes: source.pictureBytes(frame.n), size: sizes.get(frame.n)! }),
    { type, ppi, width },
  );
  await writeWhole(out, painted);
  console.log(`Painted page ${n}; wrote ${out}.`);
}

export const pageCommand: Command = {
  name: 'page',
  usage: 'page   FILE --page N --out x.png|webp|jpg|avif|pdf [--ppi 300 | --width 1920] [--fonts a.ttf,b.ttf]',
  options: { out: TEXT, page: TEXT, ppi: TEXT, width: TEXT, fonts: TEXT },
  takesFile: true,
  run: (file, values) => page(file, values as PageOptions),
};
