import {
  applyAll,
  CENTRED,
  frameOfItem,
  GableError,
  itemsOf,
  likeTarget,
  newPicture,
  parseOutline,
  parseShadow,
  parseSize,
  sizeWithin,
  uprightSize,
  withFrame,
  withShape,
  type Frame,
  type Outline,
  type Shadow,
  type ShapeChoice,
} from '@gable/core';
import { openFile, type Source } from '@gable/formats';
import { saveRasterised, type Original } from '@gable/render';
import { lookAt } from '@gable/render/faces';
import { FLAG, TEXT, type Command } from '../command';
import { readWhole, writeWhole } from '../files';
import { readPicture } from '../picture-file';
import { placeFor, roomIn, type PlaceOptions } from '../place';
import { readChoice, type ShapeOptions } from '../shape-choice';
import { alone } from '../subject';

interface PutOptions extends PlaceOptions, ShapeOptions {
  out?: string;
  picture?: string;
  size?: string;
  alt?: string;
  outline?: string;
  shadow?: string;
}

/** How the picture will look. */
interface Look {
  shape: ShapeChoice | null;
  /** Only the subject, in its own outline. */
  alone: boolean;
  outline: Outline | null;
  shadow: Shadow | null;
}

const readLook = async (o: PutOptions): Promise<Look> => ({
  shape: (await readChoice(o))?.choice ?? null,
  alone: o.alone ?? false,
  outline: o.outline === undefined ? null : parseOutline(o.outline),
  shadow: o.shadow === undefined ? null : parseShadow(o.shadow),
});

/** The frame with its look, its own subject in the shape. */
async function dressed(
  frame: Frame,
  { shape, alone: bare, outline, shadow }: Look,
  { bytes, size }: Original,
): Promise<Frame> {
  const whole = { ...frame, placement: { ...CENTRED, turn: frame.placement.turn, mirror: frame.placement.mirror } };
  const shaped = bare
    ? await alone(whole, bytes, size)
    : shape
      ? withShape(whole, shape, size, (await lookAt(bytes, size)).subject)
      : whole;
  return { ...shaped, outline: outline ?? frame.outline, shadow: shadow ?? frame.shadow };
}

/** `gable put`: a picture put into a file, where it is wanted. */
async function put(file: string, o: PutOptions): Promise<void> {
  if (!o.out) throw new GableError('bad-call', 'The name of the new file is missing.', 'Add --out FILE2.');
  if (!o.picture) throw new GableError('bad-call', 'The picture is missing.', 'Add --picture FILE.');
  const look = await readLook(o);
  const { original, kept } = await readPicture(o.picture);
  const opened = openFile(await readWhole(file));
  const { made, where } = await inPlace(opened, { original, look, o }, kept);
  await writeWhole(o.out, made);
  console.log(`Put ${kept.name} ${where}; wrote ${o.out}.`);
}

/** The file with the picture in it, and where it is, in words. */
async function inPlace(
  file: Source,
  { original, look, o }: { original: Original; look: Look; o: PutOptions },
  kept: Parameters<typeof newPicture>[2],
): Promise<{ made: Uint8Array; where: string }> {
  const place = placeOptions(o);
  const size =
    o.size === undefined
      ? sizeWithin(uprightSize(original.size, kept.orientation), roomIn(file, place))
      : parseSize(o.size);
  const { holder, at } = placeFor(file, place, size);
  // What of the look of a shape is not asked for anew stays.
  const plain = likeTarget(file.document, holder, newPicture('new', at, kept, o.alt));
  const item = withFrame(plain, await dressed(frameOfItem(plain, 1), look, original), original.size);
  const slot = { in: holder, index: itemsOf(file.document, holder).length };
  const { document } = applyAll(file.document, [{ op: 'add', item, slot }]);
  const made = await saveRasterised(file, document, { original: () => original });
  const words = {
    line: 'into the text',
    anchor: 'beside the text',
    margin: `into the ${o.footer ? 'footer' : 'header'} of ${o.first ? 'the first page' : 'every page'}`,
    cells: `at cell ${o.cell ?? 'A1'}`,
    element: 'into the page',
    page: `${o.into === undefined ? '' : 'into a shape '}on page ${o.page ?? 1}`,
    group: '',
  };
  return { made, where: words[at.on] };
}

/** What of the options is about the place. */
const placeOptions = (o: PutOptions): PlaceOptions => ({
  page: o.page,
  at: o.at,
  after: o.after,
  behind: o.behind,
  cell: o.cell,
  into: o.into,
  follows: o.follows,
  wrap: o.wrap,
  from: o.from,
  distance: o.distance,
  header: o.header,
  footer: o.footer,
  first: o.first,
  align: o.align,
  sides: o.sides,
  lock: o.lock,
});

export const putCommand: Command = {
  name: 'put',
  usage: `put    FILE --out FILE2 --picture PICTURE [--size 50mmx50mm] [--alt WORDS]
               texts:            [--after "words of a paragraph" | --behind "words in it"] [--wrap inline|square|tight|through|top-bottom|front|behind]
                                 [--at x,y | --align top-right|…] [--from page|margin|column|character] [--distance 9pt] [--sides both|left|right|larger] [--lock]
                                 or --header|--footer [--first] [--align left|center|right | --at x,y]
               slides, drawings: [--page N] [--at 20mm,30mm] or [--into placeholder|"words of a shape"]     sheets: [--page N] --cell B4 [--follows nothing|place|size] or --into "words"
               web pages:        [--page N] [--after "words"]
               [--shape NAME] [--knobs name=value,…] [--silhouette drawing.svg|logo.png] [--letter A [--font F.ttf]] [--alone] [--outline …] [--shadow …]`,
  options: {
    out: TEXT,
    picture: TEXT,
    size: TEXT,
    alt: TEXT,
    page: TEXT,
    at: TEXT,
    after: TEXT,
    behind: TEXT,
    cell: TEXT,
    into: TEXT,
    follows: TEXT,
    wrap: TEXT,
    from: TEXT,
    distance: TEXT,
    alone: FLAG,
    header: FLAG,
    footer: FLAG,
    first: FLAG,
    align: TEXT,
    sides: TEXT,
    lock: FLAG,
    shape: TEXT,
    knobs: TEXT,
    silhouette: TEXT,
    letter: TEXT,
    font: TEXT,
    outline: TEXT,
    shadow: TEXT,
  },
  takesFile: true,
  run: (file, values) => put(file, values as PutOptions),
};
