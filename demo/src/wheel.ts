/**
 * A bowl on a turning wheel, one turn in four seconds, into demo/files/pictures: every picture of it is rendered, and `ffmpeg` (Debian) makes
 * a video of them, and a poster of that.
 * `npm run wheel -w @gable/demo`
 */
import { spawn, type ChildProcessByStdio } from 'node:child_process';
import { once } from 'node:events';
import os from 'node:os';
import type { Writable } from 'node:stream';
import { isMainThread, parentPort, Worker } from 'node:worker_threads';
import sharp from 'sharp';
import { mixVec, smooth, type Vec } from './marcher/maths';
import { develop, median, renderRows, type Scene } from './marcher/render';
import { plaster, pot, wood, type Solid, type Surface } from './marcher/solids';

const [WIDTH, HEIGHT, RATE, SECONDS] = [854, 480, 20, 4];
/** Light is traced at this share of the width. */
const SHARE = 0.6;
const SAMPLES = 5;
const FRAMES = RATE * SECONDS;
const OUT = 'files/pictures/turning-wheel';

/** The same pictures give the same file. */
const BITEXACT = ['-fflags', '+bitexact', '-flags:v', '+bitexact'];

/** A solid as it is after a turn about an upright axis. */
function turned(solid: Solid, { x: ax, z: az }: { x: number; z: number }, angle: number): Solid {
  const [c, s] = [Math.cos(angle), Math.sin(angle)];
  const back = (x: number, z: number): [number, number] => [
    ax + (x - ax) * c + (z - az) * s,
    az - (x - ax) * s + (z - az) * c,
  ];
  return {
    ...solid,
    distance(x, y, z) {
      const [u, v] = back(x, z);
      return solid.distance(u, y, v);
    },
    surface(x, y, z) {
      const [u, v] = back(x, z);
      return solid.surface(u, y, v);
    },
  };
}

/** The head of the wheel: a round plate with rings of splashes, and three pegs' holes that show how it turns. */
function head(): Solid {
  const plate = pot(
    [0, 0, 0],
    {
      wall: [
        [1.9, 0],
        [1.95, 0.05],
        [1.95, 0.16],
        [1.9, 0.2],
      ],
      thickness: 0.1,
      closed: true,
    },
    { clay: [0.3, 0.3, 0.29], coat: [0.3, 0.3, 0.29], gloss: 0.4, speckle: 0 },
  );
  const clay: Vec = [0.5, 0.3, 0.18];
  const surface = (x: number, y: number, z: number): Surface => {
    const [r, a] = [Math.hypot(x, z), Math.atan2(z, x)];
    const splash =
      smooth(0.35, 0.6, Math.sin(a * 3 + r * 2) * 0.5 + Math.sin(a * 7 - r * 5) * 0.3) * smooth(1.9, 1.2, r);
    const hole = [0, 1, 2].some((i) => {
      const at = (i * 2 * Math.PI) / 3;
      return Math.hypot(x - 1.66 * Math.cos(at), z - 1.66 * Math.sin(at)) < 0.09;
    });
    const own = plate.surface(x, y, z);
    return { ...own, albedo: hole ? [0.04, 0.04, 0.04] : mixVec(own.albedo, clay, splash * 0.9) };
  };
  return { ...plate, surface };
}

function sceneAt(frame: number): Scene {
  const angle = (frame / FRAMES) * 2 * Math.PI;
  const axis = { x: 0, z: 0 };
  const bowl = pot(
    [0, 0.2, 0],
    {
      wall: [
        [0.5, 0],
        [0.56, 0.08],
        [0.86, 0.36],
        [1.06, 0.72],
        [1.12, 1.02],
        [1.14, 1.1],
      ],
      thickness: 0.09,
      rings: 0.014,
    },
    {
      ...{ clay: [0.52, 0.33, 0.21], coat: [0.52, 0.33, 0.21], second: [0.4, 0.22, 0.13] },
      ...{ dip: -1, gloss: 0.55, speckle: 0.25, seed: 5 },
    },
  );
  return {
    name: 'wheel',
    width: WIDTH,
    height: HEIGHT,
    solids: [turned(head(), axis, angle), turned(bowl, axis, angle)],
    table: { y: -0.35, paint: wood([0.3, 0.2, 0.13]) },
    wall: { z: 4.4, paint: plaster([0.46, 0.49, 0.47]) },
    camera: { from: [0.3, 3.1, -6.2], to: [0.05, 0.5, 0], fov: 30, aperture: 0.05 },
    light: { at: [-5, 7, -3], size: 2.4, colour: [2.5, 2.35, 2.1] },
    sky: { top: [0.5, 0.55, 0.62], side: [0.3, 0.27, 0.24] },
    exposure: 0.5,
    // The same grain in each: what flickers is the wheel.
    seed: 41,
  };
}

if (!isMainThread)
  parentPort!.on('message', (frame: number) => {
    const [width, height] = [Math.round(WIDTH * SHARE), Math.round(HEIGHT * SHARE)];
    const scene = sceneAt(frame);
    const light = median(renderRows(scene, width, height, 0, height, SAMPLES), width, height);
    const pixels = develop(light, scene.exposure);
    parentPort!.postMessage({ frame, pixels, width, height }, [pixels.buffer as ArrayBuffer]);
  });
else await main();

async function main(): Promise<void> {
  const done = new Map<number, Buffer>();
  const workers = Array.from({ length: os.availableParallelism() }, () => new Worker(new URL(import.meta.url)));
  let next = 0;
  await Promise.all(
    workers.map(async (worker) => {
      while (next < FRAMES) {
        worker.postMessage(next++);
        const [{ frame, pixels, width, height }] = (await once(worker, 'message')) as [
          { frame: number; pixels: Uint8Array; width: number; height: number },
        ];
        const large = sharp(pixels, { raw: { width, height, channels: 3 } }).resize(WIDTH, HEIGHT, {
          kernel: 'lanczos3',
        });
        done.set(frame, await large.sharpen({ sigma: 0.8 }).raw().toBuffer());
      }
      await worker.terminate();
    }),
  );
  const size = ['-f', 'rawvideo', '-pix_fmt', 'rgb24', '-s', `${WIDTH}x${HEIGHT}`, '-r', String(RATE), '-i', '-'];
  const made = ['-c:v', 'libx264', '-preset', 'slow', '-crf', '24', '-pix_fmt', 'yuv420p', '-movflags', '+faststart'];
  const plain = ['-map_metadata', '-1', ...BITEXACT, '-an'];
  const ffmpeg = begun([...size, ...made, ...plain, `${OUT}.mp4`]);
  for (let frame = 0; frame < FRAMES; frame++)
    if (!ffmpeg.stdin.write(done.get(frame)!)) await once(ffmpeg.stdin, 'drain');
  ffmpeg.stdin.end();
  await ended(ffmpeg);
  await ended(begun(['-ss', '1', '-i', `${OUT}.mp4`, '-frames:v', '1', '-q:v', '3', ...BITEXACT, `${OUT}.jpg`]));
  console.log(`${OUT}.mp4: ${FRAMES} pictures of ${WIDTH} × ${HEIGHT}`);
}

function begun(words: readonly string[]): ChildProcessByStdio<Writable, null, null> {
  return spawn('ffmpeg', ['-y', '-loglevel', 'error', ...words], { stdio: ['pipe', 'inherit', 'inherit'] });
}

async function ended(ffmpeg: ReturnType<typeof begun>): Promise<void> {
  const [code] = (await once(ffmpeg, 'exit')) as [number];
  if (code !== 0) throw new Error(`ffmpeg ended with ${code}.`);
}
