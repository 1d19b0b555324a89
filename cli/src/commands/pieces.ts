import { PIECES } from '@gable/core';
import { FLAG, type Command } from '../command';

/** `gable pieces [--json]`: what can be put round a picture. */
function listPieces(json: boolean): void {
  if (json) {
    const list = PIECES.map(({ name, label, note, synonyms }) => ({ name, label, note, synonyms }));
    console.log(JSON.stringify(list, null, 2));
    return;
  }
  for (const { name, label, note } of PIECES) console.log(`${name.padEnd(16)} ${label}: ${note}`);
}

export const piecesCommand: Command = {
  name: 'pieces',
  usage: 'pieces [--json]',
  options: { json: FLAG },
  takesFile: false,
  run: (_file, { json }) => listPieces(json === true),
};
