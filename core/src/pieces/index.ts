import { along } from './along';
import { band } from './band';
import { blockBehind } from './block-behind';
import { captionedCircle } from './captioned-circle';
import { figurePanel } from './figure-panel';
import { headingOver } from './heading-over';
import { letterhead } from './letterhead';
import { letters } from './letters';
import { lowerThird } from './lower-third';
import { nameBelow } from './name-below';
import { nameBeside } from './name-beside';
import { overTheEdge } from './over-the-edge';
import type { Piece } from './piece';
import { print } from './print';
import { quote } from './quote';
import { ring } from './ring';
import { section } from './section';

/** What can be put round a picture, in the order in which it is offered: a new piece is one file and one line. */
export const PIECES: readonly Piece[] = [
  nameBeside,
  nameBelow,
  captionedCircle,
  overTheEdge,
  lowerThird,
  headingOver,
  section,
  figurePanel,
  quote,
  letterhead,
  letters,
  along,
  ring,
  print,
  blockBehind,
  band,
];
export type { Piece, PieceContext, PieceItem, PieceWords } from './piece';
export { shareAlong } from './along';
export { isDecoration } from './quote';
export { accentOn, heightOfWords, inkOn, PiecesSchema, retyped, WAITING, withLines } from './piece';
export { leadsTo, pieceDocument } from './document';
export { canStand, shapedFor } from './shaped';
export { cellNamed, nameOfCell, showingCell, wordsInCell, type CellName, type SheetLines } from './show-cell';
export {
  coloursOf,
  groundOf,
  pieceContext,
  piecesAround,
  puttingPiece,
  renamedPieces,
  takesPieces,
  type Laid,
} from './context';
