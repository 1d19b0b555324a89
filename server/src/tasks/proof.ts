import { GableError, type Frame, type Item } from '@gable/core';
import { makeProof, type OnPage, type ProofPage, type ProofPair, type ProofSide } from '@gable/render/proof';
import { openFile, stackOf, type OpenedPicture, type Source, type Sheet } from '@gable/formats';
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
    const pages = !opened ? [] : shots ? shotPages(opened, pairs, laid) : await proofPages(opened, pairs);
    const bytes = await makeProof(title, pairs, originalsOf(opened, context), context.progress, pages);
    return { made: await context.made(bytes), said: null };
  },
});

/** The pictures of a file that can be shown. */
function shownIn(file: Source, changed: ReadonlyMap<number, Frame>): OpenedPicture[] {
  return file.pictures.filter((p) => changed.get(p.n)?.source ?? (!p.problem && p.media?.drawable));
}

function shotPages(file: Source, pairs: readonly ProofPair[], shots: readonly ReadPair[]): ProofPage[] {
  const changed = new Map(pairs.map((p) => [p.after.n, p.after]));
  const shown = new Map(shownIn(file, changed).map((p) => [p.n, p]));
  const side = (
    { ground, width, height, frames }: ReadShot,
    frameOf: (p: OpenedPicture) => Frame | null,
  ): ProofSide => ({
    sheet: { width, height, background: '#ffffff', items: [] },
    ground,
    frames: frames.flatMap(({ n, x, y, k }) => {
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
async function proofPages(file: Source, pairs: readonly ProofPair[]): Promise<ProofPage[]> {
  const changed = new Map(pairs.map((p) => [p.after.n, p.after]));
  const shown = shownIn(file, changed);
  const pages = new Set(shown.filter((p) => changed.has(p.n)).flatMap((p) => p.where.page ?? []));
  const grounds = new Map<number, Uint8Array | null>();
  for (const page of pages)
    if (file.format === 'svg' || file.sheets[page - 1]?.backdrop) grounds.set(page, await groundOf(file, page));
  return [...pages]
    .sort((a, b) => a - b)
    .flatMap((page): ProofPage[] => {
      const ground = grounds.get(page) ?? null;
      const shared = file.sheets[page - 1];
      if (!shared) return [];
      const whole = { ...shared, items: stackOf(shared, file.layers) };
      const on = shown.filter((p) => p.where.page === page);
      const placed = (frame: Frame): OnPage => {
        const { x, y } = file.pictures[frame.n - 1]!.origin ?? { x: 0, y: 0 };
        return { frame, x: frame.box.x + x, y: frame.box.y + y, k: 1 };
      };
      const after = on.map((p) => placed(changed.get(p.n) ?? p.frame));
      const tops = after.filter((f) => changed.has(f.frame.n)).map((f) => f.y);
      const { sheet, top } = partOf(whole, Math.min(...tops));
      const within = (frames: OnPage[]): OnPage[] =>
        frames.map((f) => ({ ...f, y: f.y - top })).filter((f) => f.y + f.frame.box.height > 0 && f.y < sheet.height);
      const name = file.sheets.length > 1 ? `page ${page}` : 'the page';
      const before = on.filter((p) => !p.problem).map((p) => placed(p.frame));
      return [
        {
          caption: `${sheet === whole ? 'The whole' : 'A part'} of ${name}`,
          before: { sheet, ground, frames: within(before) },
          after: { sheet, ground, frames: within(after) },
        },
      ];
    });
}

/** A picture behind a page that cannot be painted is left out. */
const groundOf = (file: Source, page: number): Promise<Uint8Array | null> =>
  paintGround(file, page).catch((error: unknown) => {
    if (error instanceof GableError) return null;
    throw error;
  });

/** A page may be so many times as high as wide in the proof: of a longer one the part with the first change is shown. */
const TALLEST = 1.4;

function partOf(sheet: Sheet, first: number): { sheet: Sheet; top: number } {
  const height = TALLEST * sheet.width;
  if (sheet.height <= height) return { sheet, top: 0 };
  const top = Math.max(0, Math.min(first - 0.1 * height, sheet.height - height));
  const items = sheet.items.map((item) => ('picture' in item ? item : lifted(item, top, height)));
  const y = sheet.lines?.y.map((v) => v - top).filter((v) => v >= 0 && v <= height) ?? [];
  return { sheet: { ...sheet, height, items, ...(sheet.lines && { lines: { ...sheet.lines, y } }) }, top };
}

/** An item of a page of which a part is shown; of cells, those that are within it. */
function lifted(item: Item, by: number, height: number): Item {
  const { box } = item.at;
  const next = { ...item, at: { ...item.at, box: { ...box, y: box.y - by } } };
  if (next.kind !== 'foreign' || !next.preview) return next;
  const preview = next.preview
    .map((m) => ({ ...m, box: { ...m.box, y: m.box.y - by } }))
    .filter((m) => m.box.y >= 0 && m.box.y + m.box.height <= height);
  return { ...next, preview };
}
