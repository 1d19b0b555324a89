/** The words of ready pieces stand in their shapes as these are put there, set in the fonts that ship. */
import {
  addedId,
  applyAll,
  documentOfPictures,
  itemIdOf,
  pieceContext,
  PIECES,
  puttingPiece,
  resolveTies,
  WAITING,
  wordsOutside,
  WORDS_OUT,
} from '@gable/core';
import { openFile } from '@gable/formats';
import { createCanvas } from '@napi-rs/canvas';
import { readFileSync } from 'node:fs';
import { registerFonts } from '../src/fonts';

registerFonts();
const context = createCanvas(1, 1).getContext('2d');
const file = openFile(new Uint8Array(readFileSync('demo/files/open-day-talk.pptx')));

test.each(PIECES.map((p) => p.name))('%s', (name) => {
  const piece = PIECES.find((p) => p.name === name)!;
  const document = documentOfPictures(file.pictures, file);
  for (const picture of file.pictures.slice(0, 6)) {
    let count = 0;
    const newId = (): string => addedId(`${name}-${++count}`);
    const around = pieceContext(document, itemIdOf(picture), { words: WAITING, newId });
    if (!around) continue;
    const made = piece.items(around);
    const after = resolveTies(applyAll(document, puttingPiece(document, around, made)).document);
    for (const { item } of made) {
      const now = after.items[item.id]!;
      const out = now.kind === 'framed' ? wordsOutside(context, now) : 0;
      expect([picture.n, item.text?.paragraphs[0]?.runs[0]?.text, out <= WORDS_OUT ? 'in' : out]).toEqual([
        picture.n,
        item.text?.paragraphs[0]?.runs[0]?.text,
        'in',
      ]);
    }
  }
});
