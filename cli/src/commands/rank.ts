import { GableError, parseKeep, rankShapes, SHAPES, trimNumber, weigh } from '@gable/core';
import { FLAG, TEXT, type Command } from '../command';
import { openPath } from '../files';
import { marksOf } from '../keep';
import { onePicture } from '../one-picture';
import { lookAt } from '@gable/render/faces';

interface RankOptions {
  pick?: string;
  keep?: string;
  json?: boolean;
}

/** `gable rank FILE --pick N`: what every shape would keep of the picture. */
async function rank(file: string, options: RankOptions): Promise<void> {
  const wishes = options.keep === undefined ? null : parseKeep(options.keep);
  const opened = await openPath(file);
  const picture = onePicture(opened, options.pick, 'Shapes are ranked for one picture.');
  const { size, frame } = picture;
  const bytes = (): Uint8Array => opened.pictureBytes(picture.n);
  const marks = wishes && (await marksOf(wishes, bytes, size));
  if (marks?.length === 0)
    throw new GableError(
      'bad-keep',
      'There is nothing of that kind in the picture.',
      'Give a region, or leave --keep out.',
    );
  const seen = marks ? null : await lookAt(bytes(), size);
  const want = seen ? weigh(seen.pixels, seen.faces) : marks!;
  const rows = rankShapes(frame, size, want, SHAPES).map(({ name, share, band, frame: f }) => ({
    name,
    share,
    band,
    placement: f.placement,
  }));
  if (options.json) console.log(JSON.stringify(rows, null, 2));
  else
    for (const r of rows) console.log(`${r.name.padEnd(18)} ${trimNumber(r.share * 100, 1).padStart(5)} %  ${r.band}`);
}

export const rankCommand: Command = {
  name: 'rank',
  usage: 'rank   FILE --pick N [--keep left,top,width,height|faces|words, several with +] [--json]',
  options: { json: FLAG, pick: TEXT, keep: TEXT },
  takesFile: true,
  run: (file, values) => rank(file, values as RankOptions),
};
