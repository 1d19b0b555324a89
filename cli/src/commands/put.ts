import {
  applyAll,
  CENTRED,
  frameOfItem,
  GableError,
  itemsOf,
  newPicture,
  parseOutline,
  parseShadow,
  parseSize,
  POINTS,
  withFrame,
  withShape,
  type Frame,
  type Outline,
  type Shadow,
  type ShapeChoice,
  type Size,
} from '@gable/core';
import { openFile, readDrawable, withFrames, type Source } from '@gable/formats';
import { saveRasterised, storable, type Original } from '@gable/render';
import { lookAt } from '@gable/render/faces';
import { createHash } from 'node:crypto';
import path from 'node:path';
import { FLAG, TEXT, type Command } from '../command';
import { readWhole, writeWhole } from '../files';
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
  header?: boolean;
  footer?: boolean;
  first?: boolean;
  align?: string;
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

/** The picture's own ratio, at a size that was typed for its box, or as large as it is on the web and the room allows. */
function sizeFor(asked: string | undefined, pixels: Size, room: Size): Size {
  if (asked !== undefined) return parseSize(asked);
  const k = Math.min(POINTS.px, room.width / pixels.width, room.height / pixels.height);
  return { width: pixels.width * k, height: pixels.height * k };
}

/** The frame with its look, its own subject in the shape. */
async function dressed(
  frame: Frame,
  { shape, alone: bare, outline, shadow }: Look,
  { bytes, size }: Original,
): Promise<Frame> {
  const whole = { ...frame, placement: CENTRED };
  const shaped = bare
    ? await alone(whole, bytes, size)
    : shape
      ? withShape(whole, shape, size, (await lookAt(bytes, size)).subject)
      : whole;
  return { ...shaped, outline, shadow };
}

/** `gable put`: a picture put into a file, where it is wanted. */
async function put(file: string, o: PutOptions): Promise<void> {
  if (!o.out) throw new GableError('bad-call', 'The name of the new file is missing.', 'Add --out FILE2.');
  if (!o.picture) throw new GableError('bad-call', 'The picture is missing.', 'Add --picture FILE.');
  const look = await readLook(o);
  const bytes = await readWhole(o.picture);
  const { pixels: size, type, orientation } = readDrawable(bytes, o.picture);
  const original = { bytes, size };
  const name = path.basename(o.picture);
  const kept = { sha256: createHash('sha256').update(bytes).digest('hex'), name, type, size, orientation };
  if (orientation > 1) console.error(`${name} is stored on its side; gable frame … --fix turns it upright.`);
  const opened = openFile(await readWhole(file));
  const wanted = { ...o, type, original, look, alt: o.alt ?? '' };
  const { made, where } = o.header || o.footer ? await inMargin(opened, wanted) : await inPlace(opened, wanted, kept);
  await writeWhole(o.out, made);
  console.log(`Put ${name} ${where}; wrote ${o.out}.`);
}

interface Wanted extends PutOptions {
  /** Of the picture: `jpeg`, `png`, … */
  type: string;
  original: Original;
  look: Look;
  alt: string;
}

async function inPlace(
  file: Source,
  { original, look, alt, size: asked, page, at: spot, after, cell, follows, wrap, from, distance }: Wanted,
  kept: Parameters<typeof newPicture>[2],
): Promise<{ made: Uint8Array; where: string }> {
  const size = sizeFor(asked, original.size, roomIn(file, page));
  const { holder, at } = placeFor(file, { page, at: spot, after, cell, follows, wrap, from, distance }, size);
  const plain = newPicture('new', at, kept, alt);
  const item = withFrame(plain, await dressed(frameOfItem(plain, 1), look, original), original.size);
  const slot = { in: holder, index: itemsOf(file.document, holder).length };
  const { document } = applyAll(file.document, [{ op: 'add', item, slot }]);
  const made = await saveRasterised(file, document, { original: () => original });
  const words = {
    line: 'into the text',
    anchor: 'beside the text',
    cells: `at cell ${cell ?? 'A1'}`,
    element: 'into the page',
    page: `on page ${page ?? 1}`,
    group: '',
  };
  return { made, where: words[at.on] };
}

async function inMargin(
  file: Source,
  { type, original, look, alt, size: asked, align = 'left', ...o }: Wanted,
): Promise<{ made: Uint8Array; where: string }> {
  const into = o.footer ? 'footer' : 'header';
  if (o.header && o.footer) throw new GableError('bad-place', 'A picture has one place.', 'Give --header or --footer.');
  for (const name of ['page', 'at', 'after', 'cell', 'follows', 'wrap', 'from', 'distance'] as const)
    if (o[name] !== undefined)
      throw new GableError('bad-place', `--${name} is no place in a ${into}.`, `Leave it out, or --${into}.`);
  if (!file.putInMargin)
    throw new GableError(
      'no-margin',
      'Only text documents (.docx) get pictures in their headers and footers.',
      'Give another place.',
    );
  if (align !== 'left' && align !== 'center' && align !== 'right')
    throw new GableError('bad-place', `“${align}” is no alignment.`, 'Choose left, center or right.');
  const size = sizeFor(asked, original.size, { width: 91, height: 91 });
  const pages = o.first ? 'first' : 'all';
  const picture = await storable(original, type);
  const { bytes, parts } = file.putInMargin({ into, pages, align, ...size, alt, gap: null, picture });
  const again = openFile(bytes);
  const frames: Frame[] = [];
  for (const part of parts) {
    const picture = again.pictures.find((p) => p.where.part === part)!;
    frames.push(await dressed(picture.frame, look, original));
  }
  const made = await saveRasterised(again, withFrames(again, frames), { original: () => original });
  return { made, where: `into the ${into} of ${o.first ? 'the first page' : 'every page'}` };
}

export const putCommand: Command = {
  name: 'put',
  usage: `put    FILE --out FILE2 --picture PICTURE [--size 50mmx50mm] [--alt WORDS]
               texts:            [--after "words of a paragraph"] [--wrap inline|square|tight|top-bottom|front|behind]
                                 [--at x,y] [--from page|margin|column] [--distance 9pt], or --header|--footer [--first] [--align left|center|right]
               slides, drawings: [--page N] [--at 20mm,30mm]     sheets: [--page N] --cell B4 [--follows nothing|place|size]
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
    cell: TEXT,
    follows: TEXT,
    wrap: TEXT,
    from: TEXT,
    distance: TEXT,
    alone: FLAG,
    header: FLAG,
    footer: FLAG,
    first: FLAG,
    align: TEXT,
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
