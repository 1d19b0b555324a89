import { PAGE_BY_PAGE, type JobWish, type PageShot, type ShotPair as ShotPairJson } from '@gable/contract';
import { cut, GableError, readChanges, type Frame } from '@gable/core';
import { readHeader } from '@gable/formats';
import { bytesOf } from '../db/blobs';
import type { JobPlan, Shot, ShotPair, Work } from '../db/models';
import { worksIn } from '../works/folders';
import { checkFrames, fileOf } from '../works/find';
import { fileNameOf, isFile } from '../works/kinds';
import { changedFrames } from '../works/state';

/** Of a page in the proof sheet. */
const MAX_PAGE_PIXELS = 16e6;

/** What a job is to make, and what the file that comes of it is called. */
export interface NamedPlan {
  plan: JobPlan;
  name: string;
}

/** Where a picture stands, for a sheet on paper. */
function caption({ n, where, frame }: Work['opened']['pictures'][number]): string {
  const page =
    where.page === null
      ? where.place
      : where.place === 'body'
        ? `about page ${where.page}`
        : `${where.place} ${where.page}`;
  return cut(`Picture ${n}, ${page}${frame.alt ? `: ${frame.alt}` : ''}`, 300, '…');
}

/** The frames of a work as it was saved, those that can be shown. */
function showable(work: Work): Frame[] {
  const changed = changedFrames(work);
  return work.opened.pictures
    .map((p) => ({ picture: p, frame: changed.get(p.n) ?? p.frame }))
    .filter(({ picture, frame }) => frame.source ?? (!picture.problem && picture.media?.drawable))
    .map(({ frame }) => frame);
}

/** What a work's pictures are called, where that is not their order. */
const numbered = ({ opened: { known } }: Work): Pick<Work['opened'], 'known'> => (known ? { known } : {});

/** The files of a folder, each with its frames as they are. */
export async function folderPlan(folder: Work, wish: JobWish): Promise<NamedPlan> {
  if (wish.kind !== 'hand-over')
    throw new GableError(
      'folder',
      'Pictures and proof sheets are made for one file at a time.',
      'Open one file of the folder.',
    );
  const works = await worksIn(folder);
  const files = (folder.opened.members ?? []).flatMap((id) =>
    works
      .filter((w) => w.id === id && w.sha256 !== null)
      .map((w) => ({ sha256: w.sha256!, name: fileNameOf(w), changes: readChanges(w.changes), ...numbered(w) })),
  );
  return {
    plan: { kind: 'folder', files, ...(wish.slim && { slim: wish.slim }), ...(wish.grouped && { grouped: true }) },
    name: `${folder.name}.zip`,
  };
}

export function planFor(work: Work, wish: JobWish): NamedPlan {
  if (wish.kind === 'hand-over') {
    fileOf(work);
    const changes = readChanges(work.changes);
    const { slim, screens, grouped } = wish;
    const plan: JobPlan = {
      ...{ kind: 'hand-over', changes, ...numbered(work) },
      ...(slim && { slim }),
      ...(screens && work.opened.format === 'site' && { screens }),
      ...(grouped && { grouped: true as const }),
    };
    if (!wish.as) return { plan, name: fileNameOf(work) };
    if (!work.begun) throw isFile();
    const several = work.summary.sheetCount > 1 && PAGE_BY_PAGE.includes(wish.as.kind);
    return { plan: { ...plan, as: wish.as }, name: `${work.name}.${several ? 'zip' : wish.as.kind}` };
  }
  if (wish.kind === 'proof') {
    const changed = changedFrames(work);
    const frames = showable(work).filter((f) => changed.has(f.n));
    const byNumber = new Map(work.opened.pictures.map((p) => [p.n, p]));
    const came = frames.map((f) => byNumber.get(f.n)!);
    // An empty frame had nothing to show before: it is shown as it is now.
    const before = came.map((p, i) => (p.problem ? frames[i]! : p.frame));
    const name = `${work.name.replace(/\.\w+$/, '')}, proof.pdf`;
    return { plan: { kind: 'proof', frames, before, captions: came.map(caption), ...numbered(work) }, name };
  }
  const { format, widths, sizes, frames = showable(work) } = wish;
  checkFrames(frames, work);
  if (frames.length === 0)
    throw new GableError('no-pictures', 'This work has no picture that can be shown.', 'Put one into a frame first.');
  const name = `${work.name.replace(/\.\w+$/, '')}, pictures.zip`;
  return { plan: { kind: 'set', frames, set: { format, widths, ...(sizes && { sizes }) }, ...numbered(work) }, name };
}

/** Pages of a proof sheet, checked: nothing is kept when one of them is no picture. */
export function readShots(shots: readonly ShotPairJson[]): { shots: ShotPair[]; bytes: Buffer[] } {
  const bytes: Buffer[] = [];
  const read = ({ png, width, height, frames }: PageShot): Shot => {
    const picture = Buffer.from(png, 'base64');
    const header = readHeader(picture);
    if (header?.type !== 'png' || !header.pixels || header.pixels.width * header.pixels.height > MAX_PAGE_PIXELS)
      throw new GableError(
        'bad-page',
        'A page of the proof sheet could not be read.',
        'Reload the page and try again.',
      );
    bytes.push(picture);
    return { width, height, frames, ground: bytesOf(picture).sha256 };
  };
  return {
    shots: shots.map(({ caption, before, after }) => ({ caption, before: read(before), after: read(after) })),
    bytes,
  };
}
