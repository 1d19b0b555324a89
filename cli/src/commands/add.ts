import {
  addedId,
  canStand,
  applyAll,
  GableError,
  heightOfWords,
  itemIdOf,
  pieceContext,
  PIECES,
  puttingPiece,
  resolveTies,
  shapedFor,
  subjectOf,
  takesPieces,
  WAITING,
  withLines,
  type FramedItem,
  type PieceItem,
} from '@gable/core';
import { openFile, withFrames } from '@gable/formats';
import { saveRasterised } from '@gable/render';
import { TEXT, type Command } from '../command';
import { readWhole, writeWhole } from '../files';
import { originalsOf } from '../originals';
import { alongOf, letterOf } from '../silhouette';
import { cutOut } from '../subject';

interface AddOptions {
  out?: string;
  to?: string;
  words?: string;
}

/** A piece with the author's words in the place of those that wait: a line for each that waits, parted by `|`. */
function withWords(made: readonly PieceItem[], to: string, words: string): PieceItem[] {
  // First those of the words that are tied to the picture itself, then of what follows them; a name is no word.
  const inOrder = made
    .filter(({ item }) => item.text !== null && item.name === undefined)
    .sort((a, b) => Number(b.item.tie?.to === to) - Number(a.item.tie?.to === to));
  let left = words.split('|').map((line) => line.trim());
  const texts = new Map<string, string[]>();
  for (const [i, { item }] of inOrder.entries()) {
    const count = i === inOrder.length - 1 ? left.length : item.text!.paragraphs.length;
    texts.set(item.id, left.slice(0, count));
    left = left.slice(count);
  }
  const inWords = (item: FramedItem): FramedItem => {
    const own = texts.get(item.id);
    const { text } = item;
    if (!text || !own || own.length === 0) return item;
    const said = withLines(text, own);
    const { box } = item.at;
    const height = Math.max(box.height, heightOfWords(said, box.width));
    return { ...item, text: said, at: { on: 'page', box: { ...box, height } } };
  };
  return made.map((p) => ({ ...p, item: inWords(p.item) }));
}

/** `gable add`: words, a block or a ring round a picture. */
async function add(name: string, file: string, { out, to, words }: AddOptions): Promise<void> {
  if (!out) throw new GableError('bad-call', 'The name of the new file is missing.', 'Add --out FILE2.');
  const piece = PIECES.find((p) => p.name === name) ?? PIECES.find((p) => p.synonyms.includes(name.toLowerCase()));
  if (!piece) throw new GableError('bad-call', `There is no piece “${name}”.`, 'See: gable pieces', { name });
  const n = Number(to ?? 1);
  const opened = openFile(await readWhole(file));
  const picture = opened.pictures.find((p) => p.n === n);
  if (!picture)
    throw new GableError(
      'no-such-picture',
      `There is no picture ${to} in this file.`,
      `It has ${opened.pictures.length}.`,
      { n },
    );
  let count = 0;
  const { document } = opened;
  const letters = piece.name === 'letters' ? await letterOf(words ?? 'A') : null;
  const along = piece.name === 'along' ? await alongOf(words ?? WAITING.name, picture.frame.box) : null;
  const newId = (): string => addedId(String(++count));
  const context = takesPieces(document, picture.where)
    ? pieceContext(document, itemIdOf(picture), {
        words: WAITING,
        letters,
        along,
        newId,
        sections: picture.sections ?? false,
      })
    : null;
  if (!context)
    throw new GableError(
      'cannot-write',
      `Nothing can stand around picture ${n}: it is on no page, in a group or in a text box.`,
      'Use a picture of a page or of a text.',
      { n },
    );
  const found = piece.oversteps ? await cutOut(n, opened.pictureBytes(n), picture.size) : null;
  const outline = found && subjectOf(found.shape, found.region);
  const { frame, context: around } = shapedFor(piece, context, { ...picture, outline });
  const made = piece.items(around);
  if (!canStand(piece, context) || made.length === 0)
    throw new GableError(
      'cannot-write',
      `“${piece.label}” cannot stand around picture ${n} of this file.`,
      piece.section
        ? 'A section is for a picture that stands between the paragraphs of a web page.'
        : 'Choose another piece.',
      { n },
    );
  const operations = puttingPiece(
    document,
    around,
    words === undefined || letters || along ? made : withWords(made, itemIdOf(picture), words),
  );
  const framed = withFrames(opened, [frame]);
  const bytes = await saveRasterised(opened, resolveTies(applyAll(framed, operations).document), {
    original: originalsOf(opened),
  });
  await writeWhole(out, bytes);
  console.log(`Added ${piece.label.toLowerCase()} to picture ${n}; wrote ${out}.`);
}

export const addCommand: Command = {
  name: 'add',
  usage: `add    PIECE FILE --out FILE2 --to N [--words "Name|A second line"]     (gable pieces lists them)`,
  options: { out: TEXT, to: TEXT, words: TEXT },
  takesFile: true,
  names: 'a piece',
  run: (file, values, piece) => add(piece, file, values as AddOptions),
};
