import type { Frame } from '@gable/core';
import type { PageScene } from '@gable/render/page';
import { makeProof, type ProofPage, type ProofPair } from '@gable/render/proof';
import { withFrames, type OpenedPicture, type Source } from '@gable/formats';
import type { Shot, ShotPair } from '../db/models';
import type { Said } from './hand-over';
import { originalsOf } from './originals';
import { canShow, layersOf, partOf, sceneOf } from '@gable/render/scene';
import { openRef, task, weighFile, type FileRef } from './task';

/** A sheet of frames before and after. */
export interface ProofWish {
  title: string;
  pairs: ProofPair[];
  /** The pages with changed frames, where only a browser can lay them out. */
  shots?: ShotPair[];
}

/** A page as a browser has laid it out, with its picture read. */
type ReadShot = Omit<Shot, 'ground'> & { ground: Uint8Array };
interface ReadPair {
  caption: string;
  before: ReadShot;
  after: ReadShot;
}

/** Frames before and after, and the pages they are on, as one PDF. */
export const proof = task({
  lane: 'long',
  seconds: 30 * 60,
  weigh: weighFile,
  async run({ file, title, pairs, shots }: ProofWish & { file: FileRef | null }, context): Promise<Said> {
    const opened = file && (await openRef(file, context));
    const read = async ({ ground, ...rest }: Shot): Promise<ReadShot> => ({
      ...rest,
      ground: await context.blob(ground),
    });
    const laid: ReadPair[] = [];
    for (const { caption, before, after } of shots ?? [])
      laid.push({ caption, before: await read(before), after: await read(after) });
    const pages = !opened ? [] : shots ? shotPages(opened, pairs, laid) : await fixedPages(opened, pairs);
    const bytes = await makeProof(title, pairs, originalsOf(opened, context), context.progress, pages);
    return { made: await context.made(bytes), said: null };
  },
});

/** The pictures of a file that can be shown. */
function shownIn(file: Source, changed: ReadonlyMap<number, Frame>): OpenedPicture[] {
  return file.pictures.filter((p) => canShow(p, changed.get(p.n)));
}

/** Pages as a browser laid them out. */
function shotPages(file: Source, pairs: readonly ProofPair[], shots: readonly ReadPair[]): ProofPage[] {
  const changed = new Map(pairs.map((p) => [p.after.n, p.after]));
  const shown = new Map(shownIn(file, changed).map((p) => [p.n, p]));
  const side = (
    { ground, width, height, frames }: ReadShot,
    frameOf: (p: OpenedPicture) => Frame | null,
  ): PageScene => ({
    size: { width, height },
    ground: '#ffffff',
    backdrop: ground,
    layers: frames.flatMap(({ n, x, y, k }) => {
      const p = shown.get(n);
      const frame = p && frameOf(p);
      return frame ? [{ frame, x, y, k }] : [];
    }),
  });
  return shots.map(({ caption, before, after }) => ({
    caption,
    before: side(before, (p) => (p.problem ? null : p.frame)),
    after: side(after, (p) => changed.get(p.n) ?? p.frame),
  }));
}

/** The pages with changed frames, where they have a fixed size: slides, drawings and sheets. */
async function fixedPages(file: Source, pairs: readonly ProofPair[]): Promise<ProofPage[]> {
  const frames = pairs.map((p) => p.after);
  const changed = new Map(frames.map((f) => [f.n, f]));
  const numbers = [
    ...new Set(
      shownIn(file, changed)
        .filter((p) => changed.has(p.n))
        .flatMap((p) => p.where.page ?? []),
    ),
  ];
  const next = withFrames(file, frames);
  const pages: ProofPage[] = [];
  for (const number of numbers.sort((a, b) => a - b)) {
    if (!file.sheets[number - 1]) continue;
    const whole = await sceneOf(file, next, number);
    const tops = whole.layers.flatMap((l) => ('frame' in l && changed.has(l.frame.n) ? l.y : []));
    const name = file.sheets.length > 1 ? `page ${number}` : 'the page';
    const part = partOf(whole, Math.min(...tops));
    pages.push({
      caption: `${part === whole ? 'The whole' : 'A part'} of ${name}`,
      before: partOf({ ...whole, layers: layersOf(file, file.document, number) }, Math.min(...tops)),
      after: part,
    });
  }
  return pages;
}
