import { band } from './band';
import { blockBehind } from './block-behind';
import { headingOver } from './heading-over';
import { letterhead } from './letterhead';
import { letters } from './letters';
import { lowerThird } from './lower-third';
import { nameBelow } from './name-below';
import { nameBeside } from './name-beside';
import type { Piece } from './piece';
import { quote } from './quote';
import { ring } from './ring';

/** What can be put round a picture, in the order in which it is offered: a new piece is one file and one line. */
export const PIECES: readonly Piece[] = [
  nameBeside,
  nameBelow,
  lowerThird,
  headingOver,
  quote,
  letterhead,
  letters,
  ring,
  blockBehind,
  band,
];
export type { Piece, PieceContext, PieceItem } from './piece';
export { isDecoration } from './quote';
export { accentOn, heightOfWords, inkOn } from './piece';
export { pieceDocument } from './document';
export { shapedFor } from './shaped';
export { coloursOf, groundOf, pieceContext, puttingPiece, renamedPieces, type Laid } from './context';
