/// <reference lib="webworker" />
import {
  blurSigma,
  changesPixels,
  deriveView,
  findSubject,
  paintedBounds,
  paintFrame,
  paintGhost,
  SUBJECT_SIDE,
  tonePixels,
  type Context,
  type Surface,
  type Frame,
  type PaintPicture,
  type Size,
  type Subject,
} from '@gable/core';
import type { Reply, Request } from './protocol';

/** The painter's home in the browser: decodes, scales and paints, so that the interface thread never waits. */

interface Picture {
  size: Size;
  /** The same picture at falling sizes, each about half the one before. */
  levels: ImageBitmap[];
  subject: Subject | null;
}

const pictures = new Map<string, Picture>();
let board: OffscreenCanvas | null = null;
let lastBoard: Extract<Request, { kind: 'board' }> | null = null;

async function load(request: Extract<Request, { kind: 'load' }>): Promise<Subject | null> {
  const response = await fetch(request.url);
  if (!response.ok) throw new Error(`${response.status}`);
  // The copy carries no orientation; it is shown as stored, as office programs do.
  const first = await createImageBitmap(await response.blob(), {
    imageOrientation: 'none',
    premultiplyAlpha: 'default',
  });
  const levels = [first];
  for (let last = first; Math.max(last.width, last.height) > 192;) {
    last = await createImageBitmap(last, {
      resizeWidth: Math.max(1, Math.round(last.width / 2)),
      resizeHeight: Math.max(1, Math.round(last.height / 2)),
      resizeQuality: 'high',
    });
    levels.push(last);
  }
  const known = pictures.get(request.key);
  const subject = known?.subject ?? (await subjectOf(levels));
  // A larger copy replaces a smaller one, never the other way round.
  if (!known || known.levels[0]!.width < first.width)
    pictures.set(request.key, { size: request.size, levels, subject });
  if (lastBoard?.key === request.key) paintBoard(lastBoard);
  return subject;
}

async function subjectOf(levels: ImageBitmap[]): Promise<Subject> {
  const small = levels.find((l) => Math.max(l.width, l.height) <= SUBJECT_SIDE) ?? levels[levels.length - 1]!;
  const canvas = new OffscreenCanvas(small.width, small.height);
  const ctx = canvas.getContext('2d')!;
  ctx.drawImage(small, 0, 0);
  return findSubject(ctx.getImageData(0, 0, small.width, small.height));
}

/** The smallest level that need not be enlarged; at most a halving is left to the canvas. */
function levelFor(picture: Picture, frame: Frame, scale: number): PaintPicture {
  const view = deriveView(frame.placement, frame.box, picture.size);
  const wanted = picture.size.width * view.scale.x * scale;
  const fits = [...picture.levels].reverse().find((l) => l.width >= wanted);
  const level = fits ?? picture.levels[0]!;
  return { image: changesPixels(frame.tone) ? toned(level, frame, picture.size) : level, size: picture.size };
}

/** Levels under a tone, made once for each tone that is being looked at. */
const tones = new Map<string, OffscreenCanvas>();
const names = new WeakMap<ImageBitmap, number>();
let lastName = 0;

function toned(level: ImageBitmap, frame: Frame, size: Size): OffscreenCanvas {
  const sigma = blurSigma(frame, size, level);
  if (!names.has(level)) names.set(level, ++lastName);
  const key = JSON.stringify([names.get(level), frame.tone, sigma]);
  let canvas = tones.get(key);
  if (!canvas) {
    if (tones.size > 24) tones.clear();
    canvas = new OffscreenCanvas(level.width, level.height);
    const ctx = canvas.getContext('2d')!;
    ctx.drawImage(level, 0, 0);
    const { data } = tonePixels(ctx.getImageData(0, 0, level.width, level.height), frame.tone, sigma);
    ctx.putImageData(new ImageData(new Uint8ClampedArray(data), level.width, level.height), 0, 0);
    tones.set(key, canvas);
  }
  return canvas;
}

/** Spare canvases of the last size, wiped before each use: the board asks for the same ones at every movement. */
const spares: (OffscreenCanvas | undefined)[] = [];

function surfaceOf(canvas: OffscreenCanvas): Surface {
  const { width, height } = canvas;
  return {
    context: canvas.getContext('2d') as unknown as Context,
    width,
    height,
    layer(depth) {
      let spare = spares[depth];
      if (spare?.width !== width || spare.height !== height) spare = spares[depth] = new OffscreenCanvas(width, height);
      const context = spare.getContext('2d')!;
      context.clearRect(0, 0, width, height);
      return { context: context as unknown as Context, image: spare };
    },
  };
}

const PLATE = { kind: 'solid', colour: '#c9c4b8', opacity: 1 } as const;

function paintTry(request: Extract<Request, { kind: 'try' }>): ImageBitmap {
  const { frame, width, height, margin } = request;
  const canvas = new OffscreenCanvas(width, height);
  const surface = surfaceOf(canvas);
  const b = paintedBounds(frame);
  const scale = Math.min((width - 2 * margin) / b.width, (height - 2 * margin) / b.height);
  const target = {
    x: (width - b.width * scale) / 2 - b.x * scale,
    y: (height - b.height * scale) / 2 - b.y * scale,
    scale,
  };
  const picture = pictures.get(request.key);
  if (picture) paintFrame(surface, frame, levelFor(picture, frame, scale), target);
  else paintFrame(surface, { ...frame, backing: PLATE }, null, target);
  return canvas.transferToImageBitmap();
}

function paintBoard(request: Extract<Request, { kind: 'board' }>): void {
  lastBoard = request;
  if (!board) return;
  if (board.width !== request.width) board.width = request.width;
  if (board.height !== request.height) board.height = request.height;
  const surface = surfaceOf(board);
  board.getContext('2d')!.clearRect(0, 0, board.width, board.height);
  const target = { x: request.x, y: request.y, scale: request.scale };
  const picture = pictures.get(request.key);
  if (!picture) {
    paintFrame(surface, { ...request.frame, backing: PLATE }, null, target);
    return;
  }
  const paint = levelFor(picture, request.frame, request.scale);
  if (request.ghost > 0) paintGhost(surface.context, request.frame, paint, target, request.ghost);
  paintFrame(surface, edged(request.frame, request.scale), paint, target);
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

self.addEventListener('message', ({ data }: MessageEvent<Request>) => {
  switch (data.kind) {
    case 'load':
      load(data).then(
        (subject) => answer({ id: data.id, subject }),
        (error: unknown) => answer({ id: data.id, failed: String(error) }),
      );
      break;
    case 'try': {
      const bitmap = paintTry(data);
      answer({ id: data.id, bitmap }, [bitmap]);
      break;
    }
    case 'attach':
      board = data.canvas;
      if (lastBoard) paintBoard(lastBoard);
      break;
    case 'board':
      paintBoard(data);
      break;
  }
});
