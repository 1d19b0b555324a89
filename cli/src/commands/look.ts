import { textBlocks, trimNumber } from '@gable/core';
import { readDrawable } from '@gable/formats';
import { lookAt } from '@gable/render/faces';
import { findWords } from '@gable/render/words';
import { FLAG, type Command } from '../command';
import { readWhole } from '../files';

/** `gable look PICTURE`: what the screens see in a picture. */
async function look(file: string, json: boolean): Promise<void> {
  const bytes = await readWhole(file);
  const { type, pixels: size } = readDrawable(bytes, file);
  const { faces, subject: about } = await lookAt(bytes, size);
  const words = textBlocks(await findWords(bytes, size), size);
  const { guessed = false, u, v } = about;
  if (json) {
    const subject = guessed ? null : { u, v };
    console.log(JSON.stringify({ type, size, faces, words, subject, aim: { u, v } }, null, 2));
    return;
  }
  const percent = (share: number): string => `${trimNumber(share * 100, 0)} %`;
  console.log(`${type}, ${size.width} × ${size.height} px`);
  for (const f of faces)
    console.log(`face at ${percent(f.u + f.width / 2)}, ${percent(f.v + f.height / 2)}, ${percent(f.width)} wide`);
  for (const w of words)
    console.log(`words at ${percent(w.u + w.width / 2)}, ${percent(w.v + w.height / 2)}: ${w.text}`);
  console.log(guessed ? 'no subject that stands out' : `subject at ${percent(u)}, ${percent(v)}`);
}

export const lookCommand: Command = {
  name: 'look',
  usage: 'look   PICTURE [--json]',
  options: { json: FLAG },
  takesFile: true,
  run: (file, values) => look(file, values['json'] === true),
};
