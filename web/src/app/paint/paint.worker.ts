/// <reference lib="webworker" />
import { LRUCache } from 'lru-cache';
import {
  blurSigma,
  boxMatrix,
  changesPixels,
  deriveView,
  findSubject,
  framePath,
  keptOfMarks,
  keptShare,
  paintFrame,
  paintGhost,
  hasClearParts,
  paletteOf,
  rankShapes,
  rimOfFrame,
  SHAPES,
  SUBJECT_SIDE,
  tonePixels,
  toSvgPath,
  weigh,
  type Context,
  type Face,
  type Frame,
  type KeepMark,
  type PaintPicture,
  type PaintTarget,
  type Pixels,
  type Size,
  type Surface,
  type Weights,
} from '@gable/core';
import type { BoardPaint, Reply, Request, Seen, TryCell } from './protocol';
import { targetOf } from './try-target';
import { noise, warmUps } from './warm-up';

/** The painter's home in the browser: decodes, scales and paints, so that the interface thread never waits. */

interface Picture {
  size: Size;
  /** The same picture at falling sizes, each about half the one before. */
  levels: ImageBitmap[];
  seen: Looked;
}

/** What was found by looking at a small copy. */
interface Looked extends Seen {
  pixels: Pixels;
  weights: Weights;
  /** What matters, as a drawing in the accent, at falling sizes; made when it is needed. */
  costs: ImageBitmap[] | null;
}

const pictures = new Map<string, Picture>();
let board: OffscreenCanvas | null = null;
let lastBoard: BoardPaint | null = null;

type Load = Extract<Request, { kind: 'load' }>;

async function load(request: Load): Promise<Looked> {
  const fetched = fetch(request.url);
  void warmUp();
  const response = await fetched;
  if (!response.ok) throw new Error(`${response.status}`);
  const bytes = await response.blob();
  if (request.patient) await pauseInPainting();
  // The copy carries no orientation; it is shown as stored, as office programs do.
  const first = await createImageBitmap(bytes, {
    imageOrientation: 'none',
    premultiplyAlpha: 'default',
  });
  const levels = [first];
  for (let last = first; Math.max(last.width, last.height) > 192;) {
    last = await createImageBitmap(last, {
      resizeWidth: Math.max(1, Math.round(last.width / 2)),
      resizeHeight: Math.max(1, Math.round(last.height / 2)),
      // Between four pixels lies their mean: at half the size the quick way is the exact one.
      resizeQuality: 'low',
    });
    levels.push(last);
  }
  const known = pictures.get(request.key);
  const seen = known?.seen ?? (await lookAt(levels));
  // A larger copy replaces a smaller one, never the other way round.
  if (!known || known.levels[0]!.width < first.width) pictures.set(request.key, { size: request.size, levels, seen });
  return seen;
}

const sleep = (ms: number): Promise<void> => new Promise((resolve) => setTimeout(resolve, ms));

/** Small copies on their way, and when there was last something to do for the tries. */
let small = 0;
let lastPainted = -Infinity;
/** Milliseconds without tries that count as a pause, and the longest that is waited for one. */
const PAUSE = 40;
const LARGE_COPY_WAIT_MS = 500;

/** Decoding a large copy takes from the tries what they need to be there at once. */
async function pauseInPainting(): Promise<void> {
  const end = performance.now() + LARGE_COPY_WAIT_MS;
  const busy = (): boolean => small > 0 || performance.now() - lastPainted < PAUSE;
  while (busy() && performance.now() < end) await sleep(PAUSE / 2);
}

/** A long way from every key there can be. */
const WARM = '\0warm';
let warm = false;

/** What has never run runs several times slower: tries are painted while the first picture is on its way, until it is here. */
async function warmUp(): Promise<void> {
  if (warm) return;
  warm = true;
  const size = { width: SUBJECT_SIDE, height: Math.round(SUBJECT_SIDE / 1.5) };
  const levels = [await createImageBitmap(noise(size))];
  const seen = await lookAt(levels);
  pictures.set(WARM, { size, levels, seen });
  for (const tries of warmUps(WARM, size)) {
    if (pictures.size > 1) break;
    paintTries(tries).close();
    await sleep(0);
  }
  pictures.delete(WARM);
}

/** What is in a picture besides what its colours say. */
async function know(key: string, faces: readonly Face[]): Promise<Looked> {
  const picture = pictures.get(key);
  if (!picture) throw new Error('not loaded');
  const { pixels } = picture.seen;
  const subject = await findSubject(pixels, faces);
  picture.seen = { ...picture.seen, subject, weights: weigh(pixels, faces), costs: null };
  return picture.seen;
}

async function lookAt(levels: ImageBitmap[]): Promise<Looked> {
  const small = levels.find((l) => Math.max(l.width, l.height) <= SUBJECT_SIDE) ?? levels[levels.length - 1]!;
  const canvas = new OffscreenCanvas(small.width, small.height);
  const ctx = canvas.getContext('2d')!;
  ctx.drawImage(small, 0, 0);
  const pixels = ctx.getImageData(0, 0, small.width, small.height);
  return {
    pixels,
    subject: await findSubject(pixels),
    palette: paletteOf(pixels).map((p) => p.colour),
    clear: hasClearParts(pixels),
    weights: weigh(pixels),
    costs: null,
  };
}

const ACCENT = [169, 65, 36, 235];

/** Thin bars of the accent over the densest third of the weight: what a cut would cost; as finely as it is shown. */
function costOf(seen: Looked, width: number): ImageBitmap {
  seen.costs ??= costsOf(seen);
  return smallestFor(seen.costs, width);
}

/** Of weights in steps of a thousandth of the largest, the one above which a third of their sum lies. */
function denseThird(data: Float32Array): number {
  let most = 0;
  let total = 0;
  for (const w of data) {
    most = Math.max(most, w);
    total += w;
  }
  const steps = new Float64Array(1001);
  for (const w of data) steps[Math.floor((1000 * w) / most)]! += w;
  let sum = 0;
  let step = 1000;
  while (step > 0 && (sum += steps[step]!) < total / 3) step--;
  return (step * most) / 1000;
}

function costsOf(seen: Looked): ImageBitmap[] {
  const { width, height, data } = seen.weights;
  const threshold = denseThird(data);
  const canvas = new OffscreenCanvas(width, height);
  const image = new ImageData(width, height);
  const step = Math.max(4, Math.round(Math.max(width, height) / 24));
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++)
      if (data[y * width + x]! >= threshold && data[y * width + x]! > 0 && (x + y) % step < step * 0.4)
        image.data.set(ACCENT, (y * width + x) * 4);
  canvas.getContext('2d')!.putImageData(image, 0, 0);
  const costs = [canvas.transferToImageBitmap()];
  while (costs[costs.length - 1]!.width > 48) {
    const last = costs[costs.length - 1]!;
    const half = new OffscreenCanvas(Math.ceil(last.width / 2), Math.ceil(last.height / 2));
    half.getContext('2d')!.drawImage(last, 0, 0, half.width, half.height);
    costs.push(half.transferToImageBitmap());
  }
  return costs;
}

/** The smallest of falling sizes that need not be enlarged. */
const smallestFor = (sizes: readonly ImageBitmap[], width: number): ImageBitmap =>
  [...sizes].reverse().find((s) => s.width >= width) ?? sizes[0]!;

/** How wide the whole picture is painted, in device pixels. @param scale device pixels to the point */
const widthOf = ({ size }: Picture, frame: Frame, scale: number): number =>
  size.width * deriveView(frame.placement, frame.box, size).scale.x * scale;

/** The smallest level that need not be enlarged; at most a halving is left to the canvas. */
function levelFor(picture: Picture, frame: Frame, scale: number): PaintPicture {
  const level = smallestFor(picture.levels, widthOf(picture, frame, scale));
  return { image: changesPixels(frame.tone) ? toned(level, frame, picture.size) : level, size: picture.size };
}

/** Levels under a tone, made once for each tone that is being looked at. */
const tones = new LRUCache<string, OffscreenCanvas>({ max: 24 });
const names = new WeakMap<ImageBitmap, number>();
let lastName = 0;

function toned(level: ImageBitmap, frame: Frame, size: Size): OffscreenCanvas {
  const sigma = blurSigma(frame, size, level);
  if (!names.has(level)) names.set(level, ++lastName);
  const key = JSON.stringify([names.get(level), frame.tone, sigma]);
  let canvas = tones.get(key);
  if (!canvas) {
    canvas = new OffscreenCanvas(level.width, level.height);
    const ctx = canvas.getContext('2d')!;
    ctx.drawImage(level, 0, 0);
    const { data } = tonePixels(ctx.getImageData(0, 0, level.width, level.height), frame.tone, sigma);
    ctx.putImageData(new ImageData(new Uint8ClampedArray(data), level.width, level.height), 0, 0);
    tones.set(key, canvas);
  }
  return canvas;
}

/** For canvases in plain memory, whose pixels are read. */
const SOFT = { willReadFrequently: true } as const;

/** Spare canvases, wiped before each use: the board asks for the same ones at every movement. */
const spares: (OffscreenCanvas | undefined)[] = [];
/** For tries, of all sizes up to theirs. */
const smallSpares: (OffscreenCanvas | undefined)[] = [];
const SPARE_STEP = 64;

function spareOf(small: boolean, depth: number, width: number, height: number): OffscreenCanvas {
  const kept = small ? smallSpares : spares;
  const spare = kept[depth];
  if (
    spare &&
    (small ? spare.width >= width && spare.height >= height : spare.width === width && spare.height === height)
  )
    return spare;
  const up = (n: number): number => (small ? Math.ceil(n / SPARE_STEP) * SPARE_STEP : n);
  return (kept[depth] = new OffscreenCanvas(up(width), up(height)));
}

function surfaceOf(canvas: OffscreenCanvas, small = false): Surface {
  const settings = { willReadFrequently: small };
  return {
    context: canvas.getContext('2d', settings) as unknown as Context,
    width: canvas.width,
    height: canvas.height,
    layer(depth, width, height) {
      const spare = spareOf(small, depth, width, height);
      const context = spare.getContext('2d', settings)!;
      context.clearRect(0, 0, spare.width, spare.height);
      return { context: context as unknown as Context, image: spare };
    },
  };
}

const PLATE = { kind: 'solid', colour: '#c9c4b8', opacity: 1 } as const;

/** One canvas for each size of row: to get a new one from the browser takes longer than to paint it. */
const rows = new LRUCache<string, OffscreenCanvas>({ max: 16 });

function rowCanvas(width: number, height: number): OffscreenCanvas {
  const key = `${width} ${height}`;
  let canvas = rows.get(key);
  if (!canvas) {
    rows.set(key, (canvas = new OffscreenCanvas(width, height)));
  }
  return canvas;
}

function paintTries(tries: readonly TryCell[]): ImageBitmap {
  const canvas = rowCanvas(Math.max(...tries.map((t) => t.x + t.width)), Math.max(...tries.map((t) => t.height)));
  const ctx = canvas.getContext('2d', SOFT)!;
  const surface = surfaceOf(canvas, true);
  for (const t of tries) {
    ctx.save();
    ctx.beginPath();
    ctx.rect(t.x, 0, t.width, t.height);
    ctx.clip();
    paintTry(surface, ctx, t);
    ctx.restore();
  }
  return canvas.transferToImageBitmap();
}

function paintTry(surface: Surface, ctx: OffscreenCanvasRenderingContext2D, cell: TryCell): void {
  const { frame } = cell;
  const target = targetOf(cell);
  const { scale } = target;
  const picture = pictures.get(cell.key);
  if (!picture) {
    paintFrame(surface, { ...frame, backing: PLATE }, null, target);
    return;
  }
  // The level is at most twice as large: scaled quickly it looks the same, in a quarter of the time.
  const paint = { ...levelFor(picture, frame, scale), draft: true };
  if (cell.cut && frame.placement.fit !== 'tile') {
    paintGhost(surface.context, frame, paint, target, 0.2);
    if (keptOf(cell.key, picture, frame) < 0.995) {
      const cost = { image: costOf(picture.seen, widthOf(picture, frame, scale)), size: picture.size, draft: true };
      paintGhost(surface.context, untoned(frame), cost, target, 0.75);
    }
  }
  paintFrame(surface, frame, paint, target);
  if (cell.cut && frame.keep) paintKeep(ctx, frame, frame.keep, picture.size, target);
}

function untoned(frame: Frame): Frame {
  const plain = { ...frame };
  delete plain.tone;
  return plain;
}

/** Shares that were found: the same frame is asked about for its words and for its picture. */
const shares = new LRUCache<string, number>({ max: 1000 });

/** The share of what matters that a frame keeps: of its keep marks where it has any. */
function keptOf(key: string, picture: Picture, frame: Frame): number {
  const { box, seat, shape, placement, keep } = frame;
  const name = JSON.stringify([key, box.width, box.height, seat, shape, placement, keep]);
  let share = shares.get(name);
  if (share === undefined) {
    share = keep ? keptOfMarks(frame, picture.size, keep) : keptShare(frame, picture.size, picture.seen.weights);
    shares.set(name, share);
  }
  return share;
}

/** Keep marks as boxes of broken lines. */
function paintKeep(
  ctx: OffscreenCanvasRenderingContext2D,
  frame: Frame,
  marks: readonly KeepMark[],
  size: Size,
  at: { x: number; y: number; scale: number },
): void {
  const { matrix } = deriveView(frame.placement, frame.box, size);
  ctx.save();
  ctx.translate(at.x, at.y);
  ctx.scale(at.scale, at.scale);
  ctx.transform(...matrix);
  ctx.beginPath();
  for (const { u, v, width, height } of marks)
    ctx.rect(u * size.width, v * size.height, width * size.width, height * size.height);
  ctx.restore();
  ctx.lineWidth = 2;
  ctx.strokeStyle = '#ffffff';
  ctx.stroke();
  ctx.setLineDash([4, 3]);
  ctx.strokeStyle = '#a94124';
  ctx.stroke();
}

function paintBoard(request: BoardPaint): void {
  lastBoard = request;
  if (!board) return;
  if (board.width !== request.width) board.width = request.width;
  if (board.height !== request.height) board.height = request.height;
  const surface = surfaceOf(board);
  board.getContext('2d')!.clearRect(0, 0, board.width, board.height);
  const { frame, target } = request;
  const picture = pictures.get(request.key);
  if (!picture) {
    paintFrame(surface, { ...frame, backing: PLATE }, null, target);
    return;
  }
  const paint = { ...levelFor(picture, frame, target.scale), draft: request.draft };
  if (request.ghost > 0) paintGhost(surface.context, frame, paint, target, request.ghost);
  const open = !frame.backing && (frame.placement.fit === 'contain' || picture.seen.clear);
  if (open) paintChecks(board.getContext('2d')!, frame, target);
  paintFrame(surface, open ? frame : edged(frame, target.scale), paint, target);
}

/** Side of a square of the pattern that stands for nothing, in device pixels. */
const CHECK = 8;
let checks: OffscreenCanvas | null = null;

/** Where a shape may be empty: a quiet check pattern, and the shape's edge. */
function paintChecks(ctx: OffscreenCanvasRenderingContext2D, frame: Frame, { x, y, scale }: PaintTarget): void {
  if (!checks) {
    checks = new OffscreenCanvas(2 * CHECK, 2 * CHECK);
    const small = checks.getContext('2d')!;
    small.fillStyle = 'rgba(102, 113, 108, 0.22)';
    small.fillRect(0, 0, CHECK, CHECK);
    small.fillRect(CHECK, CHECK, CHECK, CHECK);
  }
  ctx.save();
  ctx.translate(x, y);
  ctx.scale(scale, scale);
  ctx.transform(...boxMatrix(frame));
  const edge = new Path2D(toSvgPath(framePath(frame)));
  ctx.strokeStyle = 'rgba(102, 113, 108, 0.7)';
  ctx.lineWidth = 1 / scale;
  ctx.stroke(edge);
  ctx.clip(edge);
  ctx.setTransform(1, 0, 0, 1, 0, 0);
  ctx.fillStyle = ctx.createPattern(checks, 'repeat')!;
  ctx.fillRect(0, 0, ctx.canvas.width, ctx.canvas.height);
  ctx.restore();
}

/** A breath of shade round an outline, on the board only: a white one would end nowhere on pale paper. */
function edged(frame: Frame, scale: number): Frame {
  if (frame.shadow || !frame.outline) return frame;
  const shade = {
    kind: 'outer',
    dx: 0,
    dy: 0,
    blur: 2.5 / scale,
    spread: 0,
    colour: '#22302f',
    opacity: 0.45,
  } as const;
  return { ...frame, shadow: shade };
}

const answer = (reply: Reply, transfer: Transferable[] = []): void =>
  (self as unknown as DedicatedWorkerGlobalScope).postMessage(reply, transfer);

async function handle(data: Request): Promise<void> {
  switch (data.kind) {
    case 'load': {
      if (!data.patient) small++;
      const { subject, palette, clear } = await load(data).finally(() => {
        if (!data.patient) small--;
        lastPainted = performance.now();
      });
      answer({ id: data.id, subject, palette, clear });
      break;
    }
    case 'know': {
      const { subject, palette, clear } = await know(data.key, data.faces);
      answer({ id: data.id, subject, palette, clear });
      break;
    }
    case 'tries': {
      const bitmap = paintTries(data.tries);
      lastPainted = performance.now();
      answer({ id: data.id, bitmap }, [bitmap]);
      break;
    }
    case 'rim': {
      const picture = pictures.get(data.key);
      answer({ id: data.id, colour: picture ? rimOfFrame(picture.seen.pixels, data.frame, picture.size) : null });
      break;
    }
    case 'kept': {
      const picture = pictures.get(data.key);
      answer(
        picture
          ? { id: data.id, shares: data.frames.map((f) => keptOf(data.key, picture, f)) }
          : { id: data.id, failed: 'not loaded' },
      );
      break;
    }
    case 'rank':
      answer({
        id: data.id,
        ranking: rankShapes(data.frame, data.size, data.keep, SHAPES).map(({ name, frame }) => ({ name, frame })),
      });
      break;
    case 'attach':
      board = data.canvas;
      if (lastBoard) paintBoard(lastBoard);
      break;
    case 'board':
      paintBoard(data.paint);
      break;
  }
}

// Every request is answered, also on failure: one without an answer would keep its place for good.
self.addEventListener('message', ({ data }: MessageEvent<Request>) => {
  handle(data).catch((error: unknown) => {
    if (!('id' in data)) throw error;
    answer({ id: data.id, failed: String(error) });
  });
});
