import {
  concernsOf,
  addedId,
  applyAll,
  containZoom,
  type Document,
  equal,
  type Finding,
  findShape,
  type Finish,
  FINISHES,
  keepInView,
  type Frame,
  freed,
  GableError,
  itemIdOf,
  type KeepMark,
  type KeepWish,
  layAround,
  layFinish,
  markName,
  mendPlainly,
  type Outline,
  type OverstepWish,
  parseAim,
  parseKeep,
  parseOutline,
  parseOverstep,
  parsePick,
  parseRatio,
  parseShadow,
  parseSize,
  parseTone,
  type PictureFacts,
  type Placement,
  readFinish,
  resolveTies,
  type Severity,
  type Shadow,
  type ShapeChoice,
  type Size,
  type Subject,
  takesPieces,
  type Tone,
  withKeepMarks,
  withRatio,
  withShape,
  withSize,
} from '@gable/core';
import {
  FEATURES,
  paintedOf,
  surveyPicture,
  withFrames,
  type OpenedPicture,
  type Source,
  type SlimWish,
} from '@gable/formats';
import { parseSlim, saveRasterised, slim, slimWords } from '@gable/render';
import { lookAt } from '@gable/render/faces';
import { FLAG, TEXT, type Command } from '../command';
import { openPath, readWhole, writeWhole } from '../files';
import { isWithin, jobsIn, parseSeverity, placeIn, Progress, type Job } from '../folder';
import { marksOf } from '../keep';
import { originalsOf } from '../originals';
import { readChoice, type ShapeOptions } from '../shape-choice';
import { alone, overstepping, withOwnShadow } from '../subject';
import { anyAtLeast, look, REMAIN } from './survey';

/** The options of `gable frame` as typed. */
interface FrameOptions extends ShapeOptions {
  out?: string | undefined;
  pick?: string | undefined;
  ratio?: string | undefined;
  size?: string | undefined;
  aim?: string | undefined;
  zoom?: string | undefined;
  fit?: string | undefined;
  outline?: string | undefined;
  shadow?: string | undefined;
  tone?: string | undefined;
  keep?: string | undefined;
  overstep?: string | undefined;
  'overstep-shadow'?: string | undefined;
  finish?: string | undefined;
  fix?: boolean | undefined;
  slim?: string | undefined;
  fail?: string | undefined;
  'dry-run'?: boolean | undefined;
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
  keep: readonly KeepWish[] | null;
  /** Only the subject, in its own outline. */
  alone: boolean;
  /** Where the subject reaches over the edge; nothing takes it away. */
  overstep: OverstepWish | null;
  overstepShadow: Shadow | null | undefined;
  finish: Finish | null;
  fix: boolean;
  slim: SlimWish | null;
  fail: Severity | null;
  dry: boolean;
}

async function readWish(o: FrameOptions): Promise<Wish> {
  if (!o.out && !o['dry-run'])
    throw new GableError('bad-call', 'The name of the new file is missing.', 'Add --out FILE2, or --dry-run.');
  const shape = await readChoice(o);
  const zoom = o.zoom === undefined ? null : Number(o.zoom);
  if (zoom !== null && !(zoom > 0 && zoom <= 100))
    throw new GableError('bad-zoom', `“${o.zoom}” is not a zoom.`, 'Give a number above 0; 1 just covers the shape.');
  if (o.fit !== undefined && !['cover', 'contain', 'stretch', 'tile'].includes(o.fit))
    throw new GableError('bad-fit', `“${o.fit}” is not a fit.`, 'Choose cover, contain, stretch or tile.');
  const wish: Wish = {
    out: o.out ?? '',
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
    alone: o.alone ?? false,
    overstep: o.overstep === undefined ? null : parseOverstep(o.overstep),
    overstepShadow: o['overstep-shadow'] === undefined ? undefined : parseShadow(o['overstep-shadow']),
    finish: o.finish === undefined ? null : await readNamedFinish(o.finish),
    fix: o.fix ?? false,
    slim: o.slim === undefined ? null : parseSlim(o.slim),
    fail: parseSeverity(o.fail),
    dry: o['dry-run'] ?? false,
  };
  const { locked } = wish;
  const ratio = wish.size ? wish.size.width / wish.size.height : wish.ratio;
  if (locked !== null && ratio !== null && (ratio === 'picture' || Math.abs(ratio / locked - 1) > 1e-3))
    throw new GableError(
      'bad-call',
      `A ${wish.choice!.name} has a fixed ratio of ${locked.toFixed(3)} : 1.`,
      `Leave --ratio out, give a size that fits${wish.choice!.name === 'circle' ? ', or use --shape ellipse' : ''}.`,
    );
  const anything =
    [wish.choice, wish.ratio, wish.size, wish.aim, wish.zoom, wish.fit].some((v) => v !== null) ||
    [wish.tone, wish.keep, wish.overstep, wish.finish].some((v) => v !== null) ||
    wish.overstepShadow !== undefined ||
    wish.fix ||
    wish.alone ||
    wish.slim !== null ||
    wish.outline !== undefined ||
    wish.shadow !== undefined;
  if (!anything)
    throw new GableError(
      'bad-call',
      'Nothing was asked for.',
      'Add --finish, --fix, --slim, --shape, --silhouette, --letter, --alone, --ratio, --size, --aim, --keep, --overstep, --zoom, --fit, --outline, --shadow or --tone.',
    );
  return wish;
}

/** A finish that ships, by its name, or one from a file. */
async function readNamedFinish(text: string): Promise<Finish> {
  const shipped = FINISHES.find((f) => f.id === text);
  if (shipped) return shipped.finish;
  if (/\.json$/i.test(text)) return readFinish((await readWhole(text)).toString('utf8'));
  throw new GableError(
    'bad-finish',
    `There is no finish “${text}”.`,
    `Name a .json file, or one of ${FINISHES.map((f) => f.id).join(', ')}.`,
  );
}

/** `gable frame FILE|FOLDER --out FILE2|FOLDER2 …` */
async function frame(where: string, options: FrameOptions): Promise<void> {
  const wish = await readWish(options);
  const { folder, jobs } = await jobsIn(where);
  if (folder && !wish.dry && isWithin(wish.out, where))
    throw new GableError('bad-call', 'The new folder is inside the old one.', 'Name another folder with --out.');
  const progress = new Progress(jobs.length);
  const found: Finding[] = [];
  let failed = 0;
  for (const [i, job] of jobs.entries()) {
    progress.at(i, job.name);
    try {
      found.push(...(await frameFile(job, folder, wish)));
    } catch (error) {
      if (!folder || !(error instanceof GableError)) throw error;
      progress.end();
      failed++;
      console.error(`${job.name}: ${error.full}`);
    }
  }
  progress.end();
  if (failed > 0) process.exitCode = 1;
  else if (wish.fail && anyAtLeast(found, wish.fail)) process.exitCode = REMAIN;
}

/** @returns the findings of all its pictures afterwards */
async function frameFile(job: Job, folder: boolean, wish: Wish): Promise<Finding[]> {
  const opened = await openPath(job.path, wish.finish?.around === undefined ? 'pictures' : 'all');
  const out = folder && !wish.dry ? await placeIn(wish.out, job) : wish.out;
  const label = folder ? `${job.name}: ` : '';
  if (opened.pictures.length === 0) {
    if (!folder)
      throw new GableError('no-pictures', `“${job.name}” has no pictures.`, 'Put one in first, with gable put.');
    // A folder comes out whole.
    if (!wish.dry) await writeWhole(out, await readWhole(job.path));
    console.log(`${label}no pictures${wish.dry ? '' : '; copied as it is'}.`);
    return [];
  }
  const picked = parsePick(
    wish.pick,
    opened.pictures.map((p) => p.n),
  );
  const frames = new Map<number, Frame>();
  // Who asks for all of them gets those that can be had.
  const asked = wish.pick !== 'all';
  const passOver = (n: number, reason: GableError): void => {
    if (asked) throw reason;
    frames.delete(n);
    console.error(`${label}Picture ${n} is left as it is: ${reason.full}`);
  };
  const subjects: Subjects = new Map();
  for (const n of picked)
    try {
      frames.set(n, await apply(wish, opened, opened.pictures[n - 1]!, subjects));
    } catch (error) {
      if (!(error instanceof GableError)) throw error;
      passOver(n, error);
    }
  const changed = [...frames.values()].filter((f) => !equal(f, opened.pictures[f.n - 1]!.frame));
  if (!wish.dry) {
    const numbers = new Map(opened.pictures.map((p) => [itemIdOf(p), p.n]));
    const bytes = await saveRasterised(opened, withFinish(opened, frames, wish.finish), {
      original: originalsOf(opened),
      passOver: (id, reason) => passOver(numbers.get(id)!, reason),
    });
    const slimmed = wish.slim && (await slim(bytes, wish.slim));
    await writeWhole(out, slimmed?.bytes ?? bytes);
    if (slimmed)
      console.log(
        `${label}${slimWords(slimmed)}: ${kilobytes(bytes.length)} before, ${kilobytes(slimmed.after)} after.`,
      );
  }
  console.log(
    wish.dry
      ? `${label}${changed.length} of ${opened.pictures.length} pictures would change: ${changed.map((f) => f.n).join(', ') || 'none'}.`
      : `${label}${frames.size} of ${opened.pictures.length} pictures framed; wrote ${out}.`,
  );
  const fidelity = opened.fidelity(withFrames(opened, frames.values()));
  for (const p of opened.pictures) {
    const unsupported = paintedOf(fidelity.get(itemIdOf(p))?.unsupported ?? []);
    if (unsupported.length > 0)
      console.error(
        `${label}Picture ${p.n} has ${unsupported.map((m) => FEATURES[m]).join(' and ')}: painted into its pixels; the original stays in the file.`,
      );
  }
  if (opened.signed && !wish.dry)
    console.error(`${label}The document was signed; changing it has broken the signature. Sign it again.`);
  return opened.pictures.flatMap((p) => surveyPicture(p, frames.get(p.n) ?? p.frame).findings);
}

const kilobytes = (bytes: number): string => `${Math.ceil(bytes / 1000).toLocaleString('en')} kB`;

/** Subjects that were found, by the data they were found in and its size. */
type Subjects = Map<string, Promise<Subject | undefined>>;

async function apply(wish: Wish, file: Source, picture: OpenedPicture, subjects: Subjects): Promise<Frame> {
  const { size } = picture;
  let f = picture.frame;
  const { finish } = wish;
  const recut =
    [wish.locked, wish.ratio, wish.size].some((v) => v !== null) || !!(finish?.shape ?? finish?.ratio ?? finish?.size);
  const seen = wish.fix ? await look(file, picture) : {};
  const subject =
    (wish.aim === 'subject' || (wish.aim === null && recut)) && picture.problem === null
      ? (seen.subject ?? (await find(file, picture, subjects)))
      : undefined;
  if (wish.fix) f = mendPlainly(f, { ...factsOf(picture), ...seen });
  if (finish) {
    const before = f;
    f = layFinish(f, finish, { picture: size, subject, centred: wish.aim === null || wish.aim === 'subject' });
    for (const { finding } of concernsOf(before, f, factsOf(picture)))
      console.error(`Picture ${f.n}: with this finish it is “${finding.code}”.`);
  }
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
  else if (!finish && findShape(f.shape.name)) f = freed(f);
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
  if (wish.keep) f = keeping(f, await marksOf(wish.keep, () => file.pictureBytes(picture.n), size), size);
  if (wish.alone) f = await alone(f, file.pictureBytes(picture.n), size);
  if (wish.overstep) f = await overstepping(f, wish.overstep, () => file.pictureBytes(picture.n), size);
  if (wish.overstepShadow !== undefined) f = withOwnShadow(f, wish.overstepShadow);
  if (wish.outline !== undefined) f = { ...f, outline: wish.outline };
  if (wish.shadow !== undefined) f = { ...f, shadow: wish.shadow };
  if (wish.tone) {
    f = { ...f };
    if (wish.tone.tone) f.tone = wish.tone.tone;
    else delete f.tone;
  }
  return f;
}

/** The file with its frames, and what a finish puts around them. */
function withFinish(opened: Source, frames: ReadonlyMap<number, Frame>, finish: Finish | null): Document {
  let document = withFrames(opened, frames.values());
  let count = 0;
  for (const n of frames.keys()) {
    const picture = opened.pictures[n - 1]!;
    if (!takesPieces(document, picture.where)) continue;
    const round = layAround(resolveTies(document), itemIdOf(picture), finish?.around, () => addedId(String(++count)));
    document = applyAll(document, round).document;
  }
  return resolveTies(document);
}

/** The frame with these marks on its picture, and as many of them in view as its shape can show. */
function keeping(frame: Frame, marks: readonly KeepMark[], size: Size): Frame {
  const fit = keepInView(frame, marks, size);
  if (!fit)
    throw new GableError(
      'bad-keep',
      `Picture ${frame.n}: this shape has no room for what must stay visible.`,
      'Choose another shape.',
    );
  if (fit.lost.length > 0) {
    const names = fit.lost.map((i) => markName(marks, i)).join(', ');
    console.error(`Picture ${frame.n}: this shape cannot keep ${names} without empty corners.`);
  }
  return withKeepMarks({ ...frame, placement: fit.placement }, marks);
}

const factsOf = (p: OpenedPicture): PictureFacts => ({
  pixels: p.media?.pixels ?? null,
  orientation: p.media?.orientation ?? 1,
  faked: p.faked,
});

/** The subject, where the picture can be read; a damaged one is framed by its middle. */
function find(file: Source, picture: OpenedPicture, subjects: Subjects): Promise<Subject | undefined> {
  const { media, size } = picture;
  // A logo may stand on every page: it is looked at once.
  const name = media?.range ? `${media.part} ${media.range.from} ${size.width} ${size.height}` : `n ${picture.n}`;
  const known = subjects.get(name) ?? findAnew(file, picture);
  subjects.set(name, known);
  return known;
}

async function findAnew(file: Source, picture: OpenedPicture): Promise<Subject | undefined> {
  try {
    return (await lookAt(file.pictureBytes(picture.n), picture.size)).subject;
  } catch (error) {
    console.error(
      `Picture ${picture.n}: ${error instanceof GableError ? error.full : String(error)} Its middle is taken as its subject.`,
    );
    return undefined;
  }
}

export const frameCommand: Command = {
  name: 'frame',
  usage: `frame  FILE|FOLDER --out FILE2|FOLDER2 [--dry-run] [--fail hint|flaw|fault]
               [--finish NAME|file.json] [--fix] [--pick all|1,3-5] [--shape NAME] [--knobs name=value,…] [--ratio W:H|picture]
               [--size 50mmx50mm] [--aim u,v|subject|centre] [--zoom Z] [--fit cover|contain|stretch|tile]
               [--keep left,top,width,height|faces|words, several with +] [--silhouette drawing.svg|logo.png] [--letter A [--font F.ttf]] [--alone]
               [--overstep top|right|bottom|left|top@40%, several with +, all|none] [--overstep-shadow soft|none|…]
               [--outline "6pt #ffffff outside gap 2pt double dash"|none] [--shadow soft|none|"2pt 3pt 8pt #000000 35%"]
               [--tone brightness=0.1,warmth=0.3,blur=2pt|none]
               [--slim crop,ppi=220,private]`,
  options: {
    out: TEXT,
    pick: TEXT,
    shape: TEXT,
    knobs: TEXT,
    ratio: TEXT,
    size: TEXT,
    aim: TEXT,
    zoom: TEXT,
    fit: TEXT,
    outline: TEXT,
    shadow: TEXT,
    tone: TEXT,
    keep: TEXT,
    overstep: TEXT,
    'overstep-shadow': TEXT,
    silhouette: TEXT,
    letter: TEXT,
    font: TEXT,
    finish: TEXT,
    slim: TEXT,
    fail: TEXT,
    alone: FLAG,
    fix: FLAG,
    'dry-run': FLAG,
  },
  takesFile: true,
  run: (where, values) => frame(where, values as FrameOptions),
};
