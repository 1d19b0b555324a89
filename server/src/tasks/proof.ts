import {
  frameOfItem,
  GableError,
  isPictureItem,
  itemIdOf,
  stackOf,
  type Document,
  type Frame,
  type Item,
  type ItemId,
  type Placed,
} from '@gable/core';
import { makeProof, type OnPage, type PageScene, type ProofPage, type ProofPair } from '@gable/render/proof';
import { openFile, withFrames, type OpenedPicture, type Sheet, type Source } from '@gable/formats';
import type { Shot, ShotPair } from '../db/models';
import { paintGround } from './ground';
import type { Said } from './hand-over';
import { originalsOf } from './originals';
import { task, weighFile, type BytesRef } from './task';

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
  async run({ file, title, pairs, shots }: ProofWish & { file: BytesRef | null }, context): Promise<Said> {
    const opened = file && openFile(await context.read(file));
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
  return file.pictures.filter((p) => changed.get(p.n)?.source ?? (!p.problem && p.media?.drawable));
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
  const shown = shownIn(file, changed);
  const numbers = [...new Set(shown.filter((p) => changed.has(p.n)).flatMap((p) => p.where.page ?? []))];
  const before = new Map(shown.filter((p) => !p.problem).map((p) => [itemIdOf(p), p]));
  const after = new Map(shown.map((p) => [itemIdOf(p), p]));
  const next = withFrames(file, frames);
  const pages: ProofPage[] = [];
  for (const number of numbers.sort((a, b) => a - b)) {
    const sheet = file.sheets[number - 1];
    if (!sheet) continue;
    const whole: PageScene = {
      size: { width: sheet.width, height: sheet.height },
      ground: sheet.background,
      grid: sheet.lines,
      backdrop: sheet.backdrop ? await backdropOf(file, number) : null,
      layers: layersOf(next, sheet, number, after),
    };
    const tops = whole.layers.flatMap((l) => ('frame' in l && changed.has(l.frame.n) ? l.y : []));
    const name = file.sheets.length > 1 ? `page ${number}` : 'the page';
    const part = partOf(whole, Math.min(...tops));
    pages.push({
      caption: `${part === whole ? 'The whole' : 'A part'} of ${name}`,
      before: partOf({ ...whole, layers: layersOf(file.document, sheet, number, before) }, Math.min(...tops)),
      after: part,
    });
  }
  return pages;
}

/** What lies on a page, from the back to the front. @param pictures those that can be shown */
function layersOf(
  document: Document,
  { drawn }: Sheet,
  page: number,
  pictures: ReadonlyMap<ItemId, OpenedPicture>,
): (Placed | OnPage)[] {
  return stackOf(document, document.pages[page - 1]!).flatMap((placed): (Placed | OnPage)[] => {
    const { item, box, turn, flip } = placed;
    if (!isPictureItem(item)) return drawn ? [] : [placed];
    const picture = pictures.get(item.id);
    if (!picture) return [];
    const { x, y } = picture.origin ?? { x: 0, y: 0 };
    return [{ frame: { ...frameOfItem(item, picture.n), box, turn, flip }, x: box.x + x, y: box.y + y, k: 1 }];
  });
}

/** A picture behind a page that cannot be painted is left out. */
const backdropOf = (file: Source, page: number): Promise<Uint8Array | null> =>
  paintGround(file, page).catch((error: unknown) => {
    if (error instanceof GableError) return null;
    throw error;
  });

/** A page may be so many times as high as wide in the proof: of a longer one the part with the first change is shown. */
const TALLEST = 1.4;

function partOf(scene: PageScene, first: number): PageScene {
  const height = TALLEST * scene.size.width;
  if (scene.size.height <= height) return scene;
  const top = Math.max(0, Math.min(first - 0.1 * height, scene.size.height - height));
  const layers = scene.layers.map((layer) =>
    'frame' in layer ? { ...layer, y: layer.y - top } : { ...layer, ...lifted(layer, top) },
  );
  const y = scene.grid?.y.map((v) => v - top).filter((v) => v >= 0 && v <= height) ?? [];
  return { ...scene, size: { ...scene.size, height }, layers, ...(scene.grid && { grid: { ...scene.grid, y } }) };
}

/** An item on a page of which a part is shown. */
function lifted({ item, box }: Placed, by: number): Pick<Placed, 'item' | 'box'> {
  const up = <T extends { box: Item['at']['box'] }>(of: T): T => ({ ...of, box: { ...of.box, y: of.box.y - by } });
  const preview = item.kind === 'foreign' ? item.preview?.map(up) : undefined;
  return { item: preview ? ({ ...item, preview } as typeof item) : item, box: { ...box, y: box.y - by } };
}
