import { findSubject, GableError, trimNumber } from '@gable/core';
import { readHeader } from '@gable/formats';
import { decodeSmall } from '@gable/render';
import { findFaces } from '@gable/render/faces';
import { FLAG, type Command } from '../command';
import { readWhole } from '../files';

/** `gable look PICTURE`: what the screens see in a picture. */
async function look(file: string, json: boolean): Promise<void> {
  const bytes = await readWhole(file);
  const header = readHeader(bytes);
  if (!header?.pixels || !header.drawable)
    throw new GableError(
      'not-a-picture',
      header ? `Gable cannot show ${header.type.toUpperCase()} pictures.` : `“${file}” is not a picture.`,
      'Choose a JPEG, PNG, WebP, AVIF, GIF, TIFF or SVG.',
    );
  const size = header.pixels;
  const faces = await findFaces(bytes, size);
  const { guessed = false, u, v } = await findSubject(await decodeSmall(bytes, size), faces);
  if (json) {
    const subject = guessed ? null : { u, v };
    console.log(JSON.stringify({ type: header.type, size, faces, subject, aim: { u, v } }, null, 2));
    return;
  }
  const percent = (share: number): string => `${trimNumber(share * 100, 0)} %`;
  console.log(`${header.type}, ${size.width} × ${size.height} px`);
  for (const f of faces)
    console.log(`face at ${percent(f.u + f.width / 2)}, ${percent(f.v + f.height / 2)}, ${percent(f.width)} wide`);
  console.log(guessed ? 'no subject that stands out' : `subject at ${percent(u)}, ${percent(v)}`);
}

export const lookCommand: Command = {
  name: 'look',
  usage: 'look   PICTURE [--json]',
  options: { json: FLAG },
  takesFile: true,
  run: (file, values) => look(file, values['json'] === true),
};
