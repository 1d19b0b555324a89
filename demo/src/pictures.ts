/**
 * Renders the still lifes into demo/files/pictures as JPEG with EXIF.
 * `npm run pictures -w @gable/demo [-- NAME …] [--quick]`; without names, all of them.
 */
import { mkdir } from 'node:fs/promises';
import os from 'node:os';
import { isMainThread, parentPort, Worker, workerData } from 'node:worker_threads';
import sharp from 'sharp';
import { develop, median, renderRows } from './marcher/render';
import { random } from './marcher/maths';
import { scenes } from './scenes';

const OUT = 'files/pictures';
/** Light is traced at this share of the final width; grain is added at full size. */
const SHARE = 0.42;

interface Task {
  name: string;
  width: number;
  height: number;
  from: number;
  to: number;
  samples: number;
}

if (!isMainThread) {
  parentPort!.on('message', (task: Task) => {
    const scene = scenes.find((s) => s.name === task.name)!;
    const rows = renderRows(scene, task.width, task.height, task.from, task.to, task.samples);
    parentPort!.postMessage({ task, rows }, [rows.buffer as ArrayBuffer]);
  });
} else {
  void workerData;
  await main();
}

async function main(): Promise<void> {
  const quick = process.argv.includes('--quick');
  const names = process.argv.slice(2).filter((a) => !a.startsWith('--'));
  await mkdir(OUT, { recursive: true });
  const workers = Array.from({ length: os.availableParallelism() }, () => new Worker(new URL(import.meta.url)));
  for (const scene of scenes) {
    if (names.length > 0 && !names.includes(scene.name)) continue;
    const share = quick ? 0.16 : SHARE;
    const width = Math.round(scene.width * share);
    const height = Math.round(scene.height * share);
    const started = Date.now();
    const light = await trace(workers, scene.name, width, height, quick ? 6 : 12);
    await write(scene.name, median(light, width, height), width, height, scene);
    console.log(`${scene.name}: ${width} × ${height} traced in ${((Date.now() - started) / 1000).toFixed(0)} s`);
  }
  await Promise.all(workers.map((w) => w.terminate()));
}

function trace(workers: Worker[], name: string, width: number, height: number, samples: number): Promise<Float32Array> {
  const all = new Float32Array(width * height * 3);
  const band = 8;
  let next = 0;
  let open = Math.ceil(height / band);
  return new Promise((resolve, reject) => {
    for (const w of workers) {
      w.removeAllListeners();
      const give = (): void => {
        if (next >= height) return;
        const from = next;
        next = Math.min(height, next + band);
        w.postMessage({ name, width, height, from, to: next, samples } satisfies Task);
      };
      w.on('error', reject);
      w.on('message', ({ task, rows }: { task: Task; rows: Float32Array }) => {
        all.set(rows, task.from * width * 3);
        if (--open === 0) resolve(all);
        else give();
      });
      give();
    }
  });
}

async function write(
  name: string,
  light: Float32Array,
  width: number,
  height: number,
  scene: { width: number; height: number; exposure: number; seed: number },
): Promise<void> {
  const big = await sharp(develop(light, scene.exposure), { raw: { width, height, channels: 3 } })
    .resize(scene.width, scene.height, { kernel: 'lanczos3' })
    .sharpen({ sigma: 1.1, m1: 0.6, m2: 1.6 })
    .raw()
    .toBuffer();
  const rnd = random(scene.seed);
  for (let y = 0; y < scene.height; y++)
    for (let x = 0; x < scene.width; x++) {
      const dx = x / scene.width - 0.5;
      const dy = y / scene.height - 0.5;
      const falloff = 1 - 0.32 * (dx * dx + dy * dy);
      const grain = (rnd() + rnd() + rnd() - 1.5) * 9;
      const k = (y * scene.width + x) * 3;
      for (let c = 0; c < 3; c++) big[k + c] = Math.min(255, Math.max(0, Math.round(big[k + c]! * falloff + grain)));
    }
  // The jug was taken with the camera on its side: stored turned, with the orientation in its EXIF data.
  const turned = name === 'breakfast-jug';
  let image = sharp(big, { raw: { width: scene.width, height: scene.height, channels: 3 } });
  if (turned) image = image.rotate(270);
  await image
    .jpeg({ quality: 80, mozjpeg: true })
    .withExif({
      IFD0: {
        Make: 'Fennick Clayworks',
        Model: 'Studio camera',
        Artist: 'Fennick Clayworks (made up)',
        ImageDescription: name.replaceAll('-', ' '),
      },
      IFD2: { DateTimeOriginal: '2026:03:14 10:20:00' },
    })
    .withMetadata({ orientation: turned ? 6 : 1, density: 300 })
    .toFile(`${OUT}/${name}.jpg`);
}
