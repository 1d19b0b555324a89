import { CENTRED, deriveView, paintedBounds, paintFrame, SHAPES, solidOutline, type Frame } from '@gable/core';
import { decode, renderFrame, surfaceOf, toCanvas } from '@gable/cli/render';
import { createCanvas } from '@napi-rs/canvas';
import { expect, test } from '@playwright/test';
import { build } from 'esbuild';
import { readFileSync } from 'node:fs';
import path from 'node:path';
import { frameOf } from '../../core/tests/frames';

/** The same frame painted by the same painter in a browser worker and by Skia on the server, from the same pixels. */
const root = path.resolve(__dirname, '../..');
const photo = readFileSync(path.join(root, 'demo/files/pictures/three-bowls.jpg'));
const size = { width: 3000, height: 2000 };
const SCALE = 3;

const worker = `
  import { paintFrame } from '@gable/core';
  self.onmessage = async ({ data }) => {
    const { frame, size, width, height, target, pixels, pixelWidth, pixelHeight } = data;
    const surface = () => new OffscreenCanvas(width, height);
    const image = await createImageBitmap(new ImageData(new Uint8ClampedArray(pixels), pixelWidth, pixelHeight));
    const canvas = surface();
    const layer = () => { const image = surface(); return { image, context: image.getContext('2d') }; };
    paintFrame({ context: canvas.getContext('2d'), width, height, layer }, frame, { image, size }, target);
    const result = canvas.getContext('2d').getImageData(0, 0, width, height).data;
    postMessage(result, [result.buffer]);
  };`;

const frames: [string, Partial<Frame>][] = [
  ...SHAPES.map((s): [string, Partial<Frame>] => [
    s.name,
    { shape: { name: s.name, knobs: {} }, outline: solidOutline(4, '#b5482a') },
  ]),
  ['ring inside', { shape: { name: 'circle', knobs: {} }, outline: { ...solidOutline(5, '#ffffff'), side: 'inside' } }],
  [
    'ring outside, half seen through',
    { shape: { name: 'circle', knobs: {} }, outline: { ...solidOutline(5, '#22302f', 0.5), side: 'outside' } },
  ],
  ['dashes', { shape: { name: 'heart', knobs: {} }, outline: { ...solidOutline(3, '#22302f'), dash: 'dash-dot' } }],
  [
    'faint shadow',
    {
      shape: { name: 'circle', knobs: {} },
      shadow: { kind: 'outer', dx: 4, dy: 5, blur: 8, spread: 0, colour: '#000000', opacity: 0.2 },
    },
  ],
  [
    'inner shadow',
    {
      shape: { name: 'rounded', knobs: {} },
      shadow: { kind: 'inner', dx: 3, dy: 3, blur: 6, spread: 0, colour: '#000000', opacity: 0.6 },
    },
  ],
  [
    'turned frame, zoomed and aimed',
    {
      shape: { name: 'hexagon', knobs: {} },
      turn: 20,
      placement: { ...CENTRED, zoom: 1.7, aim: { u: 0.4, v: 0.6 } },
      outline: solidOutline(2, '#ffffff'),
    },
  ],
];

/** Bounds of the agreement, in levels of 255, inside the painted rectangle. Measured: mean 0.000, most 1. */
const MEAN = 0.02;
const MOST = 4;

/** Difference of premultiplied colours: that of a pixel nobody sees does not count. */
function difference(a: ArrayLike<number>, b: ArrayLike<number>): { mean: number; most: number } {
  let sum = 0;
  let most = 0;
  for (let i = 0; i < a.length; i += 4)
    for (let k = 0; k < 4; k++) {
      const of = (data: ArrayLike<number>): number => (k === 3 ? data[i + 3]! : (data[i + k]! * data[i + 3]!) / 255);
      const d = Math.abs(of(a) - of(b));
      sum += d;
      most = Math.max(most, d);
    }
  return { mean: sum / a.length, most };
}

test('browser worker and server paint the same, ring for ring', async ({ page }) => {
  const bundle = await build({
    stdin: { contents: worker, resolveDir: root, loader: 'ts' },
    bundle: true,
    write: false,
    format: 'iife',
    tsconfig: path.join(root, 'tsconfig.json'),
  });
  await page.goto('about:blank');
  const report: string[] = [];
  for (const [name, more] of frames) {
    const frame = frameOf(90, 90, more);
    const canvas = await renderFrame(frame, size, photo, SCALE);
    const { width, height } = canvas;
    const server = canvas.getContext('2d').getImageData(0, 0, width, height).data;
    // The pixels that the server has scaled beforehand, exactly.
    const view = deriveView(frame.placement, frame.box, size);
    const pixels = await decode(photo, {
      width: size.width * view.scale.x * SCALE,
      height: size.height * view.scale.y * SCALE,
    });
    const b = paintedBounds(frame);
    const answer = await page.evaluate(
      async ({ code, task }) => {
        const w = new Worker(URL.createObjectURL(new Blob([code], { type: 'text/javascript' })));
        const bytes = Uint8Array.from(atob(task.pixels), (c) => c.charCodeAt(0));
        const result = await new Promise<Uint8ClampedArray>((resolve, reject) => {
          w.onmessage = (e: MessageEvent<Uint8ClampedArray>) => resolve(e.data);
          w.onerror = (e) => reject(new Error(e.message));
          w.postMessage({ ...task, pixels: bytes });
        });
        w.terminate();
        let text = '';
        for (let i = 0; i < result.length; i += 8192) text += String.fromCharCode(...result.subarray(i, i + 8192));
        return btoa(text);
      },
      {
        code: bundle.outputFiles[0]!.text,
        task: {
          frame,
          size,
          width,
          height,
          target: { x: -b.x * SCALE, y: -b.y * SCALE, scale: SCALE },
          pixels: Buffer.from(pixels.data).toString('base64'),
          pixelWidth: pixels.width,
          pixelHeight: pixels.height,
        },
      },
    );
    const browser = Buffer.from(answer, 'base64');
    const { mean, most } = difference(browser, server);
    report.push(`${name}: mean ${mean.toFixed(4)}, most ${most.toFixed(0)}`);
    expect.soft(mean, name).toBeLessThan(MEAN);
    expect.soft(most, name).toBeLessThan(MOST);
    // The bounds are worth something: a ring one device pixel thinner, or no shadow at all, breaks them.
    const worse: Frame | null = frame.outline
      ? { ...frame, outline: { ...frame.outline, weight: frame.outline.weight - 1 / SCALE } }
      : frame.shadow
        ? { ...frame, shadow: { ...frame.shadow, opacity: 0 } }
        : null;
    if (worse) {
      const wrong = createCanvas(width, height);
      const target = { x: -b.x * SCALE, y: -b.y * SCALE, scale: SCALE };
      paintFrame(surfaceOf(wrong), worse, { image: toCanvas(pixels), size }, target);
      const spoilt = wrong.getContext('2d').getImageData(0, 0, width, height).data;
      expect.soft(difference(browser, spoilt).most, `${name}, spoilt`).toBeGreaterThan(MOST);
    }
    if (frame.outline && frame.shape.name === 'circle') {
      const ring = (data: ArrayLike<number>): number => {
        let w = 0;
        for (let x = 0; x < width / 2; x++) w += data[(Math.floor(height / 2) * width + x) * 4 + 3]! / 255;
        return w;
      };
      // A ring one pixel thinner, or one row of shadow less, would differ by a whole pixel.
      expect.soft(Math.abs(ring(browser) - ring(server)), name).toBeLessThan(0.1);
    }
  }
  console.log(report.join('\n'));
});
