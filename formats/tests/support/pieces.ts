import {
  addedId,
  applyAll,
  itemIdOf,
  pieceContext,
  PIECES,
  puttingPiece,
  resolveTies,
  WAITING,
  type Document,
  type FramedItem,
  type PieceWords,
} from '@gable/core';
import type { Source } from '../../src/index';

export const WORDS: PieceWords = {
  ...{ name: 'Maren Holt', more: '12 Kiln Lane', contact: '0117 496 0234' },
  ...{ heading: 'Open day', quote: 'Clay remembers', figures: WAITING.figures },
};
export const LETTER = { name: 'letter', knobs: {}, drawn: { path: 'M0 0L1 0L.5 1Z', ratio: 0.8, label: 'M' } };
/** What stands at the top of a circle: the rest of its box has no ink. */
export const ROUND = {
  share: 0.13,
  shape: { name: 'letter', knobs: {}, drawn: { path: 'M.35 .1L.65 .1L.5 .02Z', ratio: 1, label: 'Maren Holt' } },
};

/** A document with a piece round a picture of its file, by its number. */
export function withPiece(file: Source, n: number, name: string, from: Document = file.document): Document {
  let count = 0;
  const picture = file.pictures.find((p) => p.n === n)!;
  const newId = (): string => addedId(`${name}-${n}-${count++}`);
  const context = pieceContext(from, itemIdOf(picture), { words: WORDS, letters: LETTER, along: ROUND, newId })!;
  const made = PIECES.find((p) => p.name === name)!.items(context);
  return resolveTies(applyAll(from, puttingPiece(from, context, made)).document);
}

/** What was added to it. */
export const added = (document: Document): FramedItem[] =>
  Object.values(document.items).filter((i): i is FramedItem => i.kind === 'framed' && i.id.startsWith('add-'));
