import { GableError } from '@gable/core';
import { withTiedGrouped } from '@gable/formats';
import { TEXT, type Command } from '../command';
import { readWhole, writeWhole } from '../files';

/** `gable group FILE --out FILE2`: each picture in one group with what follows it. */
async function group(file: string, out: string | undefined): Promise<void> {
  if (!out) throw new GableError('bad-call', 'The name of the new file is missing.', 'Add --out x.pptx.');
  const bytes = await readWhole(file);
  const grouped = withTiedGrouped(bytes);
  await writeWhole(out, grouped);
  console.log(grouped === bytes ? `Nothing to group; wrote ${out} as it was.` : `Grouped; wrote ${out}.`);
}

export const groupCommand: Command = {
  name: 'group',
  usage: 'group  FILE --out FILE2',
  options: { out: TEXT },
  takesFile: true,
  run: (file, values) => group(file, (values as { out?: string }).out),
};
