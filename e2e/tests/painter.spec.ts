import {
  CENTRED,
  deriveView,
  frameToCss,
  frameToSvg,
  paintedBounds,
  paintFrame,
  SHAPES,
  solidOutline,
  type Frame,
} from '@gable/core';
import { decode, onWholePixels, renderFrame, surfaceOf, toCanvas, toned } from '@gable/render';
import { createCanvas } from '@napi-rs/canvas';
import { build } from 'esbuild';
import { readFileSync } from 'node:fs';
import path from 'node:path';
import sharp from 'sharp';
import { frameOf } from '../../core/tests/frames';
import { MATRIX } from '../../core/tests/matrix';
import { expect, test } from './steps';

/** The same frame painted by the same painter in a browser worker and by Skia on the server, from the same pixels. */
const root = path.resolve(__dirname, '../..');
const photo = readFileSync(path.join(root, 'demo/files/pictures/three-bowls.jpg'));
const size = { width: 3000, height: 2000 };
const SCALE = 3;

const worker = `
  import { deriveView, paintFrame, tonePixels } from '@gable/core';
  self.onmessage = async ({ data }) => {
    const { frame, size, width, height, target, pixels, pixelWidth, pixelHeight } = data;
    const surface = () => new OffscreenCanvas(width, height);
    const view = deriveView(frame.placement, frame.box, size);
    const blur = frame.tone?.softness?.blur ?? 0;
    const plain = { width: pixelWidth, height: pixelHeight, data: new Uint8ClampedArray(pixels) };
    const sigma = { x: blur / view.scale.x * pixelWidth / size.width, y: blur / view.scale.y * pixelHeight / size.height };
    const toned = tonePixels(plain, frame.tone, sigma);
    const image = await createImageBitmap(new ImageData(toned.data, pixelWidth, pixelHeight));
    const canvas = surface();
    const layer = (_, w, h) => { const image = new OffscreenCanvas(w, h); return { image, context: image.getContext('2d') }; };
    paintFrame({ context: canvas.getContext('2d'), width, height, layer }, frame, { image, size }, target);
    const result = canvas.getContext('2d').getImageData(0, 0, width, height).data;
    postMessage(result, [result.buffer]);
  };`;

const frames: readonly (readonly [string, Partial<Frame>])[] = [
  // Every sixth shape stands for its family; the matrix has the rest.
  ...SHAPES.filter((_, i) => i % 6 === 0).map((s): [string, Partial<Frame>] => [
    s.name,
    { shape: { name: s.name, knobs: {} }, outline: solidOutline(4, '#b5482a') },
  ]),
  ...MATRIX,
  ['toned', { tone: { light: { brightness: 0.1, contrast: 0.2, bright: 0.3, dark: -0.2 }, softness: { blur: 1.5 } } }],
  ['tiled, mirrored rows', { placement: { ...CENTRED, fit: 'tile', zoom: 0.4, mirrored: 'both' } }],
];

/**
 * Bounds of the agreement, in levels of 255, inside the painted rectangle. Measured: mean 0.13, most 2; the server decodes no
 * more of the picture than is in sight, and a picture drawn in part is smoothed to another level here and there.
 */
const MEAN = 0.2;
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
    const frame = onWholePixels(frameOf(90, 90, more), SCALE);
    const canvas = await renderFrame(frame, size, photo, SCALE);
    const { width, height } = canvas;
    const server = canvas.data;
    // The pixels that the server has scaled beforehand, exactly.
    const view = deriveView(frame.placement, frame.box, size);
    const pixels = await decode(photo, {
      width: size.width * view.scale.x * SCALE,
      height: size.height * view.scale.y * SCALE,
    });
    const b = paintedBounds(frame);
    const answer = await page.evaluate(
      async ({ code, task }) => {
        // One worker for all: it is made once.
        const kept = window as unknown as { painter?: Worker };
        const w = (kept.painter ??= new Worker(URL.createObjectURL(new Blob([code], { type: 'text/javascript' }))));
        const bytes = Uint8Array.from(atob(task.pixels), (c) => c.charCodeAt(0));
        const result = await new Promise<Uint8ClampedArray>((resolve, reject) => {
          w.onmessage = (e: MessageEvent<Uint8ClampedArray>) => resolve(e.data);
          w.onerror = (e) => reject(new Error(e.message));
          w.postMessage({ ...task, pixels: bytes });
        });
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
      paintFrame(surfaceOf(wrong), worse, { image: toCanvas(toned(pixels, worse, size)), size }, target);
      const spoilt = wrong.getContext('2d').getImageData(0, 0, width, height).data;
      expect.soft(difference(browser, spoilt).most, `${name}, spoilt`).toBeGreaterThan(MOST);
    }
    if (frame.outline && frame.shape.name === 'circle' && frame.placement.turn === 0) {
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

/** A smooth picture: what is compared is geometry, not how a browser resamples. */
async function smoothPicture(): Promise<{ png: Buffer; href: string; size: { width: number; height: number } }> {
  const smooth = { width: 600, height: 400 };
  const raw = Buffer.alloc(smooth.width * smooth.height * 4);
  for (let y = 0; y < smooth.height; y++)
    for (let x = 0; x < smooth.width; x++)
      raw.set([60 + x / 4, 220 - y / 3, 90 + (x + y) / 8, 255], (y * smooth.width + x) * 4);
  const png = await sharp(raw, { raw: { ...smooth, channels: 4 } })
    .png()
    .toBuffer();
  return { png, href: `data:image/png;base64,${png.toString('base64')}`, size: smooth };
}

/** Mean error of our markup in Chromium against the painter. Measured: at most 0.4 (SVG) and 0.5 (CSS). */
const MARKUP_MEAN = 0.8;

for (const kind of ['svg', 'css'] as const)
  test(`our ${kind} in Chromium is what the painter paints`, async ({ browser }) => {
    const { png, href, size: smooth } = await smoothPicture();
    const page = await browser.newPage({ deviceScaleFactor: SCALE, viewport: { width: 400, height: 400 } });
    const report: string[] = [];
    const picture = { image: toCanvas(await decode(png, smooth)), size: smooth };
    for (const [name, more] of MATRIX) {
      const frame = frameOf(90, 90, more);
      const b = paintedBounds(frame);
      // The box stands on whole CSS pixels: a drawing is moved to the nearest device pixel, a clip is not.
      const origin = { x: Math.ceil(-b.x), y: Math.ceil(-b.y) };
      const [across, down] = [Math.ceil(origin.x + b.x + b.width), Math.ceil(origin.y + b.y + b.height)];
      const paint = (of: Frame): Uint8ClampedArray => {
        const canvas = createCanvas(across * SCALE, down * SCALE);
        paintFrame(surfaceOf(canvas), of, picture, { x: origin.x * SCALE, y: origin.y * SCALE, scale: SCALE });
        return canvas.getContext('2d').getImageData(0, 0, canvas.width, canvas.height).data;
      };
      const painted = paint(frame);
      const pad = 'margin:0;background:transparent';
      if (kind === 'svg') {
        const box = `width="${across}" height="${down}" viewBox="${-origin.x} ${-origin.y} ${across} ${down}"`;
        const svg = frameToSvg(frame, { href, size: smooth }).replace(
          /width="[^"]*" height="[^"]*" viewBox="[^"]*"/,
          box,
        );
        await page.setContent(`<body style="${pad}">${svg.replace('<svg', '<svg style="display:block"')}</body>`);
      } else {
        const { html, css } = frameToCss(frame, { src: href, size: smooth });
        // The column is as wide as the box, one CSS pixel a point.
        await page.setContent(
          `<style>${css.replace('max-width: 90pt', 'max-width: none')}</style><body style="${pad}"><div style="position:absolute;left:${origin.x}px;top:${origin.y}px;width:90px">${html}</div></body>`,
        );
      }
      await page.waitForFunction(() => [...document.images].every((i) => i.complete));
      const clip = { x: 0, y: 0, width: across, height: down };
      const shot = await page.screenshot({ omitBackground: true, clip });
      const fitted = await sharp(shot).ensureAlpha().raw().toBuffer();
      const { mean, most } = difference(fitted, painted);
      report.push(`${name}: mean ${mean.toFixed(3)}, most ${most.toFixed(0)}`);
      expect.soft(mean, name).toBeLessThan(MARKUP_MEAN);
      if (frame.shadow) {
        const without = paint({ ...frame, shadow: { ...frame.shadow, opacity: 0 } });
        expect.soft(difference(fitted, without).mean, `${name}, without its shadow`).toBeGreaterThan(1.5 * mean);
      }
    }
    await page.close();
    console.log(report.join('\n'));
  });
