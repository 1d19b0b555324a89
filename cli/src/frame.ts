import {
  containZoom,
  findShape,
  freed,
  GableError,
  parseAim,
  parseKnobs,
  parseOutline,
  parsePick,
  parseRatio,
  parseShape,
  parseSize,
  withRatio,
  withShape,
  withSize,
  type Frame,
  type Outline,
  type Shape,
  type Size,
  type Subject,
} from '@gable/core';
import type { OpenedFile, OpenedPicture } from '@gable/formats';
import { openPath, writeWhole } from './files';
import { subjectOf } from './render';

/** The options of `gable frame` as typed. */
export interface FrameOptions {
  out?: string | undefined;
  pick?: string | undefined;
  shape?: string | undefined;
  knobs?: string | undefined;
  ratio?: string | undefined;
  size?: string | undefined;
  aim?: string | undefined;
  zoom?: string | undefined;
  fit?: string | undefined;
  outline?: string | undefined;
}

/** What is to be done, read and checked before any file is opened. */
interface Wish {
  out: string;
  pick: string;
  shape: Shape | null;
  knobs: Record<string, number>;
  ratio: number | null;
  size: Size | null;
  aim: Subject | 'subject' | 'centre' | null;
  zoom: number | null;
  fit: 'cover' | 'contain' | 'stretch' | null;
  outline: Outline | null | undefined;
}

function readWish(o: FrameOptions): Wish {
  if (!o.out) throw new GableError('bad-call', 'The new file is not named.', 'Add --out FILE2.');
  const shape = o.shape === undefined ? null : parseShape(o.shape);
  if (o.knobs !== undefined && !shape)
    throw new GableError('bad-call', 'Knobs belong to a shape.', 'Add --shape NAME.');
  const zoom = o.zoom === undefined ? null : Number(o.zoom);
  if (zoom !== null && !(zoom > 0 && zoom <= 100))
    throw new GableError('bad-zoom', `“${o.zoom}” is not a zoom.`, 'Give a number above 0; 1 just covers the shape.');
  if (o.fit !== undefined && !['cover', 'contain', 'stretch'].includes(o.fit))
    throw new GableError('bad-fit', `“${o.fit}” is not a fit.`, 'Choose cover, contain or stretch.');
  const wish: Wish = {
    out: o.out,
    pick: o.pick ?? 'all',
    shape,
    knobs: shape ? parseKnobs(o.knobs ?? '', shape) : {},
    ratio: o.ratio === undefined ? null : parseRatio(o.ratio),
    size: o.size === undefined ? null : parseSize(o.size),
    aim: o.aim === undefined ? null : parseAim(o.aim),
    zoom,
    fit: (o.fit ?? null) as Wish['fit'],
    outline: o.outline === undefined ? undefined : parseOutline(o.outline),
  };
  const locked = shape?.locked ?? null;
  const ratio = wish.size ? wish.size.width / wish.size.height : wish.ratio;
  if (locked !== null && ratio !== null && Math.abs(ratio / locked - 1) > 1e-3)
    throw new GableError(
      'bad-call',
      `A ${shape!.name} has a ratio of its own (${locked.toFixed(3)} : 1), and another was asked for.`,
      `Leave --ratio out, give a size that fits${shape!.name === 'circle' ? ', or use --shape ellipse' : ''}.`,
    );
  const anything =
    [wish.shape, wish.ratio, wish.size, wish.aim, wish.zoom, wish.fit].some((v) => v !== null) ||
    wish.outline !== undefined;
  if (!anything)
    throw new GableError(
      'bad-call',
      'Nothing was asked for.',
      'Add --shape, --ratio, --size, --aim, --zoom, --fit or --outline.',
    );
  return wish;
}

/** `gable frame FILE --out FILE2 …` */
export async function frame(file: string, options: FrameOptions): Promise<void> {
  const wish = readWish(options);
  const opened = await openPath(file);
  if (opened.pictures.length === 0)
    throw new GableError('no-pictures', `“${file}” has no pictures.`, 'Put one into the document first.');
  const picked = parsePick(
    wish.pick,
    opened.pictures.map((p) => p.n),
  );
  const frames: Frame[] = [];
  for (const n of picked) frames.push(await apply(wish, opened, opened.pictures[n - 1]!));
  const bytes = opened.save(frames);
  await writeWhole(wish.out, bytes);
  console.log(`${frames.length} of ${opened.pictures.length} pictures framed; wrote ${wish.out}.`);
  if (opened.signed) console.error('The document was signed; changing it has broken the signature. Sign it again.');
}

async function apply(wish: Wish, file: OpenedFile, picture: OpenedPicture): Promise<Frame> {
  const { size } = picture;
  let f = picture.frame;
  const recut = wish.shape?.locked != null || wish.ratio !== null || wish.size !== null;
  const subject =
    (wish.aim === 'subject' || (wish.aim === null && recut)) && picture.problem === null
      ? await find(file, picture)
      : undefined;
  if (wish.size)
    f = withSize(
      wish.ratio === null ? withRatio(f, wish.size.width / wish.size.height, size, subject) : f,
      wish.size,
      size,
      'zoom',
    );
  else if (wish.ratio !== null) f = withRatio(f, wish.ratio, size, subject);
  if (wish.shape) f = withShape(f, { name: wish.shape.name, knobs: wish.knobs }, size, subject);
  else if (findShape(f.shape.name)) f = { ...f, shape: freed(f.shape, f.box) };
  if (wish.fit)
    f = {
      ...f,
      placement: {
        ...f.placement,
        fit: wish.fit,
        zoom: wish.fit === 'contain' ? containZoom(f.placement, f.box, size) : f.placement.zoom,
      },
    };
  if (wish.zoom !== null) f = { ...f, placement: { ...f.placement, zoom: wish.zoom } };
  const aim = wish.aim === 'centre' ? { u: 0.5, v: 0.5 } : wish.aim === 'subject' ? subject : wish.aim;
  if (aim) f = { ...f, placement: { ...f.placement, aim } };
  if (wish.outline !== undefined) f = { ...f, outline: wish.outline };
  return f;
}

/** The subject, where the picture can be read; a damaged one is framed by its middle. */
async function find(file: OpenedFile, picture: OpenedPicture): Promise<Subject | undefined> {
  try {
    return await subjectOf(file.pictureBytes(picture.n), picture.size);
  } catch (error) {
    console.error(
      `Picture ${picture.n}: ${error instanceof GableError ? error.full : String(error)} Its middle is taken as its subject.`,
    );
    return undefined;
  }
}
