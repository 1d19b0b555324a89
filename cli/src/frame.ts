import {
  containZoom,
  findShape,
  fitKeepMark,
  freed,
  GableError,
  parseAim,
  parseKeep,
  parseKnobs,
  parseOutline,
  parsePick,
  parseRatio,
  parseShadow,
  parseShape,
  parseSize,
  parseTone,
  withRatio,
  withShape,
  withSize,
  type Frame,
  type KeepMark,
  type Outline,
  type Placement,
  type Shadow,
  type ShapeChoice,
  type Size,
  type Subject,
  type Tone,
} from '@gable/core';
import { MISFITS, type OpenedFile, type OpenedPicture } from '@gable/formats';
import { saveBaked } from './bake';
import { openPath, writeWhole } from './files';
import { subjectOf } from './render';
import { letterOf, silhouetteOf } from './shapes';

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
  shadow?: string | undefined;
  tone?: string | undefined;
  keep?: string | undefined;
  silhouette?: string | undefined;
  letter?: string | undefined;
  font?: string | undefined;
}

/** What is to be done, read and checked before any file is opened. */
interface Wish {
  out: string;
  pick: string;
  choice: ShapeChoice | null;
  locked: number | null;
  /** Width over height, or that of each picture. */
  ratio: number | 'picture' | null;
  size: Size | null;
  aim: Subject | 'subject' | 'centre' | null;
  zoom: number | null;
  fit: Placement['fit'] | null;
  outline: Outline | null | undefined;
  shadow: Shadow | null | undefined;
  tone: { tone: Tone | undefined } | null;
  keep: KeepMark | null;
}

/** The shape that was named, or made from a file or letters. */
async function readChoice(o: FrameOptions): Promise<{ choice: ShapeChoice; locked: number | null } | null> {
  const ways = [o.shape, o.silhouette, o.letter].filter((w) => w !== undefined).length;
  if (ways > 1) throw new GableError('bad-call', 'A frame has one shape.', 'Give --shape, --silhouette or --letter.');
  if (o.shape !== undefined) {
    const shape = parseShape(o.shape);
    return { choice: { name: shape.name, knobs: parseKnobs(o.knobs ?? '', shape) }, locked: shape.locked };
  }
  if (o.knobs !== undefined) throw new GableError('bad-call', 'Knobs belong to a shape.', 'Add --shape NAME.');
  const choice =
    o.silhouette !== undefined
      ? await silhouetteOf(o.silhouette)
      : o.letter !== undefined
        ? await letterOf(o.letter, o.font)
        : null;
  return choice && { choice, locked: choice.drawn?.ratio ?? null };
}

async function readWish(o: FrameOptions): Promise<Wish> {
  if (!o.out) throw new GableError('bad-call', 'The new file is not named.', 'Add --out FILE2.');
  const shape = await readChoice(o);
  const zoom = o.zoom === undefined ? null : Number(o.zoom);
  if (zoom !== null && !(zoom > 0 && zoom <= 100))
    throw new GableError('bad-zoom', `“${o.zoom}” is not a zoom.`, 'Give a number above 0; 1 just covers the shape.');
  if (o.fit !== undefined && !['cover', 'contain', 'stretch', 'tile'].includes(o.fit))
    throw new GableError('bad-fit', `“${o.fit}” is not a fit.`, 'Choose cover, contain, stretch or tile.');
  const wish: Wish = {
    out: o.out,
    pick: o.pick ?? 'all',
    choice: shape?.choice ?? null,
    locked: shape?.locked ?? null,
    ratio: o.ratio === undefined ? null : o.ratio.trim().toLowerCase() === 'picture' ? 'picture' : parseRatio(o.ratio),
    size: o.size === undefined ? null : parseSize(o.size),
    aim: o.aim === undefined ? null : parseAim(o.aim),
    zoom,
    fit: (o.fit ?? null) as Wish['fit'],
    outline: o.outline === undefined ? undefined : parseOutline(o.outline),
    shadow: o.shadow === undefined ? undefined : parseShadow(o.shadow),
    tone: o.tone === undefined ? null : { tone: parseTone(o.tone) },
    keep: o.keep === undefined ? null : parseKeep(o.keep),
  };
  const { locked } = wish;
  const ratio = wish.size ? wish.size.width / wish.size.height : wish.ratio;
  if (locked !== null && ratio !== null && (ratio === 'picture' || Math.abs(ratio / locked - 1) > 1e-3))
    throw new GableError(
      'bad-call',
      `A ${wish.choice!.name} has a ratio of its own (${locked.toFixed(3)} : 1), and another was asked for.`,
      `Leave --ratio out, give a size that fits${wish.choice!.name === 'circle' ? ', or use --shape ellipse' : ''}.`,
    );
  const anything =
    [wish.choice, wish.ratio, wish.size, wish.aim, wish.zoom, wish.fit, wish.tone, wish.keep].some((v) => v !== null) ||
    wish.outline !== undefined ||
    wish.shadow !== undefined;
  if (!anything)
    throw new GableError(
      'bad-call',
      'Nothing was asked for.',
      'Add --shape, --silhouette, --letter, --ratio, --size, --aim, --keep, --zoom, --fit, --outline, --shadow or --tone.',
    );
  return wish;
}

/** `gable frame FILE --out FILE2 …` */
export async function frame(file: string, options: FrameOptions): Promise<void> {
  const wish = await readWish(options);
  const opened = await openPath(file);
  if (opened.pictures.length === 0)
    throw new GableError('no-pictures', `“${file}” has no pictures.`, 'Put one into the document first.');
  const picked = parsePick(
    wish.pick,
    opened.pictures.map((p) => p.n),
  );
  const frames: Frame[] = [];
  for (const n of picked) frames.push(await apply(wish, opened, opened.pictures[n - 1]!));
  const bytes = await saveBaked(opened, frames, ({ n }) => ({
    bytes: opened.pictureBytes(n),
    size: opened.pictures[n - 1]!.size,
  }));
  await writeWhole(wish.out, bytes);
  console.log(`${frames.length} of ${opened.pictures.length} pictures framed; wrote ${wish.out}.`);
  for (const f of frames) {
    const misfits = opened.misfits(f);
    if (misfits.length > 0)
      console.error(
        `Picture ${f.n} has ${misfits.map((m) => MISFITS[m]).join(' and ')}: painted into its pixels; the original stays in the file.`,
      );
  }
  if (opened.signed) console.error('The document was signed; changing it has broken the signature. Sign it again.');
}

async function apply(wish: Wish, file: OpenedFile, picture: OpenedPicture): Promise<Frame> {
  const { size } = picture;
  let f = picture.frame;
  const recut = wish.locked !== null || wish.ratio !== null || wish.size !== null;
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
  else if (wish.ratio !== null)
    f = withRatio(f, wish.ratio === 'picture' ? size.width / size.height : wish.ratio, size, subject);
  if (wish.choice) f = withShape(f, wish.choice, size, subject);
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
  if (wish.keep) {
    const fit = fitKeepMark(f, wish.keep, size);
    if (!fit)
      throw new GableError('bad-keep', `Picture ${f.n}: nothing can be kept in this shape.`, 'Choose another shape.');
    if (!fit.filled)
      console.error(`Picture ${f.n}: this shape keeps the whole mark only with empty corners; it is cut instead.`);
    f = { ...f, keep: wish.keep, placement: fit.filled ? fit.placement : f.placement };
  }
  if (wish.outline !== undefined) f = { ...f, outline: wish.outline };
  if (wish.shadow !== undefined) f = { ...f, shadow: wish.shadow };
  if (wish.tone) {
    f = { ...f };
    if (wish.tone.tone) f.tone = wish.tone.tone;
    else delete f.tone;
  }
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
