import { effectivePpi, ontoPart, shownPart, type Frame, type Rect, type Size } from '@gable/core';
import { CAPABILITIES } from './codec/capabilities';
import { openFile, withFrames } from './codec/source';
import { Package } from './ooxml/package';
import type { OpenedPicture, Source } from './codec/contract';
import { withoutPrivate, type Bared } from './raster/private';
import { readHeader } from './raster/header';
import { readArchive, readEntry, type Archive, type Entry } from './zip/reader';
import { spliceArchive } from './zip/writer';

/** What may go from a file to make it smaller, or to keep a secret. */
export interface SlimWish {
  /** Cut off what no frame shows. */
  crop: boolean;
  /** No more pixels to the inch than this, as they are shown; null leaves them. */
  ppi: number | null;
  /** Take out where and when a picture was taken, with what and by whom. */
  strip: boolean;
}

/** A picture that gets fewer pixels: `part` of it, in its own pixels, stored at `size`. */
export interface SlimStep {
  name: string;
  type: 'jpeg' | 'png';
  picture: Size;
  part: Rect;
  size: Size;
  bytes: Uint8Array;
  /** All frames that show it. */
  frames: readonly Frame[];
}

export interface SlimPlan {
  steps: readonly SlimStep[];
  /** Parts that lose private data, by name. */
  bared: ReadonlyMap<string, Bared>;
}

/** A cut, or a change of size, that saves less than this share of the pixels is not worth another encoding. */
const WORTH = 0.1;
/** Pixels that are kept beyond what is shown, so that the edge is blended from the same neighbours. */
const SPARE = 2;
/** No side gets shorter than this. */
const LEAST_SIDE = 64;

/**
 * What can go from a file. Office files and OpenDocument lose pixels; on web pages and in drawings the number of pixels can
 * be the size on the page, so there only private data goes.
 */
export function planSlim(bytes: Uint8Array, wish: SlimWish): SlimPlan {
  const file = openFile(bytes);
  if (bytes[0] !== 0x50) return { steps: [], bared: new Map() };
  const archive = readArchive(bytes);
  const pixels = CAPABILITIES[file.format].slim === 'all' && (wish.crop || wish.ppi !== null);
  return {
    steps: pixels ? stepsOf(file, archive, wish) : [],
    bared: wish.strip ? baredOf(archive) : new Map<string, Bared>(),
  };
}

function stepsOf(file: Source, archive: Archive, wish: SlimWish): SlimStep[] {
  const shown = new Map<string, OpenedPicture[]>();
  for (const p of file.pictures) {
    const { media } = p;
    if (!media?.range || !media.pixels || !media.drawable || (media.type !== 'jpeg' && media.type !== 'png')) continue;
    shown.set(media.part, [...(shown.get(media.part) ?? []), p]);
  }
  const uses = usesOf(archive, file.format);
  const entries = new Map(archive.entries.map((e) => [e.name, e]));
  const steps: SlimStep[] = [];
  for (const [name, pictures] of shown) {
    // Laid in tiles, or shown by something that is no frame: its pixels are its size there.
    if (pictures.some((p) => p.frame.placement.fit === 'tile') || uses(name) > pictures.length) continue;
    const { type, pixels: picture } = pictures[0]!.media!;
    const part = wish.crop ? shownOfAll(pictures, picture!) : whole(picture!);
    const size = sizeFor(pictures, picture!, part, wish.ppi);
    const share = (size.width * size.height) / (picture!.width * picture!.height);
    if (share > 1 - WORTH) continue;
    steps.push({
      name,
      type: type as 'jpeg' | 'png',
      picture: picture!,
      part,
      size,
      bytes: readEntry(archive, entries.get(name)!),
      frames: pictures.map((p) => p.frame),
    });
  }
  return steps;
}

const whole = ({ width, height }: Size): Rect => ({ x: 0, y: 0, width, height });

/** All that any of these frames can show, in whole pixels. */
function shownOfAll(pictures: readonly OpenedPicture[], picture: Size): Rect {
  if (pictures.some((p) => p.frame.placement.fit === 'stretch')) return whole(picture);
  const parts = pictures.map((p) => shownPart(p.frame, picture));
  const least = (at: number): number => Math.max(0, Math.floor(at) - SPARE);
  const most = (at: number, end: number): number => Math.min(end, Math.ceil(at) + SPARE);
  const x = least(Math.min(...parts.map((r) => r.x)) * picture.width);
  const y = least(Math.min(...parts.map((r) => r.y)) * picture.height);
  const right = most(Math.max(...parts.map((r) => r.x + r.width)) * picture.width, picture.width);
  const bottom = most(Math.max(...parts.map((r) => r.y + r.height)) * picture.height, picture.height);
  // A frame that shows nothing of its picture keeps it whole.
  if (right - x < LEAST_SIDE || bottom - y < LEAST_SIDE) return whole(picture);
  return { x, y, width: right - x, height: bottom - y };
}

/** The size in pixels that gives the frame which needs most of them as many as are wished. */
function sizeFor(pictures: readonly OpenedPicture[], picture: Size, part: Rect, ppi: number | null): Size {
  const has = Math.min(...pictures.map((p) => effectivePpi(p.frame, picture)));
  const k = Math.min(1, Math.max(ppi === null ? 1 : ppi / has, LEAST_SIDE / Math.min(part.width, part.height)));
  return { width: Math.max(1, Math.round(part.width * k)), height: Math.max(1, Math.round(part.height * k)) };
}

/** How often the other parts of a package name each part; more often than frames show it, something else does too. */
function usesOf(archive: Archive, format: Source['format']): (part: string) => number {
  const uses = new Map<string, number>();
  const add = (part: string, count: number): void => void uses.set(part, (uses.get(part) ?? 0) + count);
  const texts = archive.entries.filter((e) => /\.(xml|rels|vml)$/i.test(e.name));
  if (format === 'docx' || format === 'pptx' || format === 'xlsx') {
    const pack = Package.of(archive);
    for (const { name } of texts.filter((e) => !/\.rels$/i.test(e.name))) {
      const related = pack.relationships(name).filter((r) => !r.external);
      if (related.length === 0) continue;
      const text = pack.text(name);
      for (const { id, target } of related) add(target, occurrences(text, `"${id}"`) + occurrences(text, `'${id}'`));
    }
  } else {
    const decoder = new TextDecoder();
    const pictures = archive.entries.filter((e) => /^(Pictures|media)\//i.test(e.name)).map((e) => e.name);
    for (const e of texts.filter((t) => !/^META-INF\//i.test(t.name))) {
      const text = decoder.decode(readEntry(archive, e));
      for (const part of pictures) add(part, occurrences(text, part));
    }
  }
  return (part) => uses.get(part) ?? 0;
}

const occurrences = (text: string, words: string): number => text.split(words).length - 1;

function baredOf(archive: Archive): Map<string, Bared> {
  const bared = new Map<string, Bared>();
  for (const e of archive.entries.filter(isPicture)) {
    const bytes = readEntry(archive, e);
    const header = readHeader(bytes);
    const without = header && withoutPrivate(bytes);
    if (without) bared.set(e.name, without);
  }
  return bared;
}

const isPicture = ({ name }: Entry): boolean => /\.(jpe?g|png|webp)$/i.test(name);

/**
 * Carries a plan out: the frames go on showing what they showed.
 * @param made the new data of the steps that were worth it
 */
export function applySlim(
  bytes: Uint8Array,
  { steps, bared }: SlimPlan,
  made: ReadonlyMap<SlimStep, Uint8Array>,
): Uint8Array {
  const parts = new Map([...bared].map(([name, b]) => [name, b.bytes]));
  for (const [step, data] of made) parts.set(step.name, data);
  if (parts.size === 0) return bytes;
  const next = spliceArchive(readArchive(bytes), parts);
  const frames = steps
    .filter((s) => made.has(s))
    .flatMap((s) => s.frames.map((f) => ontoPart(f, s.picture, s.part, s.size)));
  if (frames.length === 0) return next;
  const file = openFile(next);
  return file.write(withFrames(file, frames));
}
