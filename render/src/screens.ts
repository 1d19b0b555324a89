import {
  copyWidths,
  drawnIn,
  sizesOf,
  uprightSize,
  type BoxInWindow,
  type DrawnInWindow,
  type Size,
} from '@gable/core';
import { LIMITS, openFile, type OpenedPicture, type SitePicture } from '@gable/formats';
import sharp from 'sharp';

/** What makes the pages of a site faster, and how their pictures are laid out, as a browser has measured it. */
export interface ScreensWish {
  /** Smaller copies, for windows that need no more. */
  copies: boolean;
  /** Pictures below the first screen are fetched once readers come near. */
  lazy: boolean;
  pictures: readonly {
    n: number;
    /** Does it lie below the first screen in every window? */
    below: boolean;
    boxes: readonly BoxInWindow[];
  }[];
}

/** What was done, and what it saves. */
export interface Screens {
  bytes: Uint8Array;
  /** Pictures that have copies now, and those that are fetched later. */
  copied: number;
  later: number;
  /** Bytes of the former on a telephone, before and after. */
  before: number;
  after: number;
}

/** Quality of copies as WebP has it: the difference is hard to see (common practice). */
const QUALITY = 82;
/** A picture of fewer bytes is fetched in no time as it is (common practice). */
const LEAST_BYTES = 10_000;
/** A telephone: its window in CSS pixels, with two pixels to each (common practice). */
const TELEPHONE = { window: 390, dense: 2 };

/** A site whose browsers fetch no more than they need. One that is none comes back as it is. */
export async function forScreens(
  bytes: Uint8Array,
  wish: ScreensWish,
  progress: (done: number, total: number) => void = () => undefined,
): Promise<Screens> {
  const site = openFile(bytes);
  const out: Screens = { bytes, copied: 0, later: 0, before: 0, after: 0 };
  if (!site.withCopies || !site.besidePage) return out;
  const pictures = new Map(site.pictures.map((p) => [p.n, p]));
  const known = wish.pictures.flatMap((told) => {
    const picture = pictures.get(told.n);
    return picture && told.boxes.length > 0 ? [{ told, picture }] : [];
  });
  const first = firstOf(known);
  // One file that several pictures show is encoded once for a width.
  const done = new Map<string, Uint8Array | null>();
  const list: SitePicture[] = [];
  for (const [i, { told, picture }] of known.entries()) {
    progress(i, known.length);
    const made = wish.copies ? await copiesOf(picture, told.boxes, () => site.besidePage!(told.n), done) : null;
    const lazy = wish.lazy && told.below;
    list.push({
      ...{ n: told.n, lazy, first: wish.lazy && first.has(told.n) },
      ...{ copies: made?.copies ?? [], sizes: made?.sizes ?? null, self: made?.self ?? null },
    });
    if (lazy) out.later++;
    if (!made) continue;
    out.copied++;
    out.before += made.before;
    out.after += made.after;
  }
  progress(known.length, known.length);
  return { ...out, bytes: site.withCopies(list) };
}

interface Made extends Pick<SitePicture, 'copies' | 'sizes' | 'self'> {
  before: number;
  after: number;
}

/** Copies of a picture that are smaller than it; null where there are none. */
async function copiesOf(
  { frame, size, media }: OpenedPicture,
  boxes: readonly BoxInWindow[],
  read: () => { name: string; bytes: Uint8Array } | null,
  done: Map<string, Uint8Array | null>,
): Promise<Made | null> {
  const still = media?.drawable && (media.type === 'jpeg' || media.type === 'png' || media.type === 'webp');
  if (!still || frame.placement.fit === 'tile') return null;
  const upright: Size = uprightSize(size, media.orientation);
  const drawn = boxes.map((box) => drawnIn(frame, upright, box));
  const { copies, self } = copyWidths(drawn, upright.width);
  const own = copies.length > 0 ? read() : null;
  if (!own || own.bytes.length < LEAST_BYTES) return null;
  const made: { width: number; bytes: Uint8Array }[] = [];
  for (const width of copies) {
    const key = `${own.name} ${width}`;
    const bytes = done.has(key) ? done.get(key)! : await copyOf(own.bytes, width);
    done.set(key, bytes);
    if (bytes && bytes.length < own.bytes.length) made.push({ width, bytes });
  }
  if (made.length === 0) return null;
  // Where the widest copy was not worth it, the picture itself is the choice for wide screens.
  const isChoice = self || made.length < copies.length;
  const all = [
    ...made.map(({ width, bytes }) => ({ width, bytes: bytes.length })),
    ...(isChoice ? [{ width: upright.width, bytes: own.bytes.length }] : []),
  ];
  return {
    ...{ copies: made, sizes: sizesOf(drawn), self: isChoice ? upright.width : null },
    ...{ before: own.bytes.length, after: fetchedFor(TELEPHONE.dense * nearest(drawn).width, all) },
  };
}

const nearest = (drawn: readonly DrawnInWindow[]): DrawnInWindow =>
  drawn.reduce((a, b) => (Math.abs(b.window - TELEPHONE.window) < Math.abs(a.window - TELEPHONE.window) ? b : a));

/** What is fetched for a width in pixels: the least that suffices, or the widest there is. */
function fetchedFor(width: number, all: readonly { width: number; bytes: number }[]): number {
  const enough = all.filter((c) => c.width >= width).toSorted((a, b) => a.width - b.width);
  return (enough[0] ?? all.toSorted((a, b) => b.width - a.width)[0]!).bytes;
}

/** A copy as WebP, upright; null for one that moves, and for one that cannot be read. */
async function copyOf(bytes: Uint8Array, width: number): Promise<Uint8Array | null> {
  try {
    const image = sharp(bytes, { limitInputPixels: LIMITS.megapixels * 1e6 });
    if (((await image.metadata()).pages ?? 1) > 1) return null;
    return await image.rotate().resize({ width }).webp({ quality: QUALITY }).toBuffer();
  } catch {
    // A damaged picture stays what it is.
    return null;
  }
}

/** The largest picture of each page that is seen at once: it is fetched first. */
function firstOf(
  known: readonly { told: ScreensWish['pictures'][number]; picture: OpenedPicture }[],
): ReadonlySet<number> {
  const best = new Map<string, { n: number; area: number }>();
  for (const { told, picture } of known) {
    if (told.below) continue;
    const area = Math.max(...told.boxes.map((b) => b.width * b.height));
    const { part } = picture.where;
    if (area > (best.get(part)?.area ?? 0)) best.set(part, { n: told.n, area });
  }
  return new Set([...best.values()].map(({ n }) => n));
}

const shownSize = (bytes: number): string =>
  bytes >= 1e6 ? `${(bytes / 1e6).toFixed(1)} MB` : `${Math.max(1, Math.round(bytes / 1000))} kB`;

/** What was done, in words. */
export function screensWords({ copied, later, before, after }: Omit<Screens, 'bytes'>): string {
  const pictures = (n: number): string => (n === 1 ? '1 picture' : `${n} pictures`);
  const words = [
    copied > 0
      ? `smaller copies of ${pictures(copied)}, a telephone fetches ${shownSize(after)} instead of ${shownSize(before)}`
      : '',
    later > 0 ? `${pictures(later)} loaded later` : '',
  ].filter(Boolean);
  return words.length > 0 ? words.join(', ') : 'no picture that needs copies';
}
