import { deriveView, frameToSvg, paintedBounds, type Frame, type Size } from '@gable/core';
import { decode, renderFrame, toned } from '@gable/render';
import { Resvg } from '@resvg/resvg-js';
import sharp from 'sharp';
import { frameOf } from '../../core/tests/frames';
import { MATRIX } from '../../core/tests/matrix';

/**
 * Our SVG as `@resvg/resvg-js` draws it, against our own painter on Skia: a renderer and a rasteriser that share no code.
 * What they cannot share: the smoothing of edges (resvg takes 4 × 4 samples a pixel) and the resampling of pictures, which
 * is why the picture here is a smooth one; and resvg crops what a filter works on to the canvas, hence the margin.
 */
const SCALE = 3;
const MARGIN = 16;
const size: Size = { width: 600, height: 400 };
/** Mean error in levels of 255 over all pixels and channels, premultiplied. Measured: at most 0.35. */
const MEAN = 0.5;

const smooth = (async () => {
  const raw = Buffer.alloc(size.width * size.height * 4);
  for (let y = 0; y < size.height; y++)
    for (let x = 0; x < size.width; x++)
      raw.set([60 + x / 4, 220 - y / 3, 90 + (x + y) / 8, 255], (y * size.width + x) * 4);
  return sharp(raw, { raw: { ...size, channels: 4 } })
    .png()
    .toBuffer();
})();

interface Raster {
  width: number;
  height: number;
  /** Premultiplied. */
  data: Float32Array;
}

/** The painter's result, with the margin round it. */
async function ours(frame: Frame): Promise<Raster> {
  const canvas = await renderFrame(frame, size, await smooth, SCALE);
  const { data } = canvas;
  const pad = MARGIN * SCALE;
  const width = canvas.width + 2 * pad;
  const height = canvas.height + 2 * pad;
  const out = new Float32Array(width * height * 4);
  for (let y = 0; y < canvas.height; y++)
    for (let x = 0; x < canvas.width; x++) {
      const from = (y * canvas.width + x) * 4;
      const to = ((y + pad) * width + x + pad) * 4;
      for (let k = 0; k < 4; k++) out[to + k] = k === 3 ? data[from + 3]! : (data[from + k]! * data[from + 3]!) / 255;
    }
  return { width, height, data: out };
}

/** The drawing, drawn by resvg on the same pixels. */
async function theirs(frame: Frame, more: Partial<Parameters<typeof frameToSvg>[1]> = {}): Promise<Raster> {
  const { scale } = deriveView(frame.placement, frame.box, size);
  const plain = await decode(await smooth, {
    width: size.width * scale.x * SCALE,
    height: size.height * scale.y * SCALE,
  });
  const pixels = more?.toned ? toned(plain, frame, size) : plain;
  const png = await sharp(pixels.data, { raw: { width: pixels.width, height: pixels.height, channels: 4 } })
    .png()
    .toBuffer();
  const b = paintedBounds(frame);
  const width = Math.ceil(b.width * SCALE - 1e-6) + 2 * MARGIN * SCALE;
  const height = Math.ceil(b.height * SCALE - 1e-6) + 2 * MARGIN * SCALE;
  const view = `width="${width}" height="${height}" viewBox="${b.x - MARGIN} ${b.y - MARGIN} ${width / SCALE} ${height / SCALE}"`;
  const svg = frameToSvg(frame, { href: `data:image/png;base64,${png.toString('base64')}`, size, ...more });
  const image = new Resvg(svg.replace(/width="[^"]*" height="[^"]*" viewBox="[^"]*"/, view)).render();
  return { width, height, data: new Float32Array(image.pixels) };
}

function difference(a: Raster, b: Raster): number {
  expect([a.width, a.height]).toEqual([b.width, b.height]);
  let sum = 0;
  for (let i = 0; i < a.data.length; i++) sum += Math.abs(a.data[i]! - b.data[i]!);
  return sum / a.data.length;
}

/** Opaque pixels along the middle row, in parts of them: the width of what is painted there. */
function paintedWidth(r: Raster): number {
  const row = Math.floor(r.height / 2) * r.width;
  let sum = 0;
  for (let x = 0; x < r.width; x++) sum += r.data[(row + x) * 4 + 3]! / 255;
  return sum;
}

/** How far paint reaches to each side from the middle, in pixels, down to 2 of 255. */
function reach(r: Raster): number[] {
  let [left, top, right, bottom] = [r.width, r.height, 0, 0];
  for (let y = 0; y < r.height; y++)
    for (let x = 0; x < r.width; x++)
      if (r.data[(y * r.width + x) * 4 + 3]! >= 2) {
        left = Math.min(left, x);
        right = Math.max(right, x);
        top = Math.min(top, y);
        bottom = Math.max(bottom, y);
      }
  return [left, top, right, bottom];
}

describe('our SVG in another renderer', () => {
  test.each(MATRIX)('%s: the same, and the bound can fail', async (_name, more) => {
    const frame = frameOf(90, 90, more);
    const painted = await ours(frame);
    const drawn = await theirs(frame);
    expect(difference(painted, drawn)).toBeLessThan(MEAN);
    if (frame.shadow?.kind !== 'outer' && (frame.outline?.dash ?? 'solid') === 'solid')
      expect(Math.abs(paintedWidth(painted) - paintedWidth(drawn))).toBeLessThan(0.35);
    // A line one device pixel thinner, or a missing shadow, must not pass.
    const { outline, shadow } = frame;
    if (outline) {
      const thinner = { ...frame, outline: { ...outline, weight: outline.weight - 1 / SCALE } };
      const wrong = await theirs({ ...thinner });
      const [a, b] = [
        difference(painted, drawn),
        wrong.width === painted.width ? difference(painted, wrong) : Infinity,
      ];
      expect(b).toBeGreaterThan(a * 1.5 + 0.02);
    }
    // Shadows reach as far, within three device pixels (a Gaussian against three boxes).
    const theirsReach = reach(drawn);
    reach(painted).forEach((v, i) =>
      expect(Math.abs(v - theirsReach[i]!)).toBeLessThanOrEqual(shadow?.kind === 'outer' ? 3 : 1),
    );
    if (shadow) {
      const without = await theirs({ ...frame, shadow: { ...shadow, opacity: 0 } });
      expect(difference(painted, without)).toBeGreaterThan(2 * difference(painted, drawn));
    }
  });

  const tones: [string, NonNullable<Frame['tone']>][] = [
    ['light', { light: { brightness: 0.2, contrast: 0.3, bright: -0.5, dark: 0.6 } }],
    ['colour', { colour: { amount: 0.4, warmth: 0.5, tint: -0.3, only: null } }],
    ['two colours', { colour: { amount: 1, warmth: 0, tint: 0, only: ['#22302f', '#f4e0b0'] } }],
    ['fading', { fading: { opacity: 0.5, multiply: false } }],
    ['a watermark of the file', { given: { contrast: -0.7, lift: 0.35 } }],
    ['a negative with shifted colours', { given: { inverted: true, channels: [0.1, 0, -0.1], gamma: 1.4 } }],
  ];
  test.each(tones)('tone as a filter is tone on pixels: %s', async (_name, tone) => {
    const frame = frameOf(90, 90, { tone });
    const painted = await ours(frame);
    expect(difference(painted, await theirs(frame))).toBeLessThan(1);
    expect(difference(painted, await theirs({ ...frame, tone: {} }))).toBeGreaterThan(4);
  });

  test('a softened picture does not fade at its rim, and is as soft as a Gaussian of that size', async () => {
    const frame = frameOf(90, 90, { tone: { softness: { blur: 4 } } });
    expect(difference(await ours(frame), await theirs(frame, { toned: true }))).toBeLessThan(0.3);
    const painted = await ours(frame);
    expect(paintedWidth(painted)).toBeCloseTo(270, 0);
  });

  test('a drawing carries the alternative text, and nothing of it is markup', async () => {
    const svg = frameToSvg(frameOf(20, 20, { alt: '<script>&"' }), null);
    expect(svg).toContain('<title>&#60;script&#62;&#38;&#34;</title>');
  });
});

test('no seam opens between picture and outline at any size (a line outside, seen through where there is a gap)', async () => {
  for (const scale of [0.7, 1, 1.37, 3.3]) {
    const frame = frameOf(60, 60, {
      shape: { name: 'circle', knobs: {} },
      outline: {
        paint: { kind: 'solid', colour: '#000000', opacity: 1 },
        weight: 6,
        side: 'outside',
        dash: 'solid',
        join: 'round',
        cap: 'butt',
      },
    });
    const canvas = await renderFrame(frame, size, await smooth, scale);
    const { data } = canvas;
    const c = 36 * scale;
    let least = 255;
    for (let y = 0; y < canvas.height; y++)
      for (let x = 0; x < canvas.width; x++)
        if (Math.hypot(x + 0.5 - c, y + 0.5 - c) / scale < 36 - 1.5 / scale)
          least = Math.min(least, data[(y * canvas.width + x) * 4 + 3]!);
    expect(least).toBeGreaterThan(250);
  }
});

test('no hairline of picture shows outside a line on its inside', async () => {
  const red = await sharp({ create: { width: 60, height: 40, channels: 3, background: '#ff0000' } })
    .png()
    .toBuffer();
  for (const scale of [0.8, 1, 2.3]) {
    const frame = frameOf(60, 60, {
      shape: { name: 'circle', knobs: {} },
      outline: {
        paint: { kind: 'solid', colour: '#0000ff', opacity: 1 },
        weight: 8,
        side: 'inside',
        dash: 'solid',
        join: 'round',
        cap: 'butt',
      },
    });
    const canvas = await renderFrame(frame, { width: 60, height: 40 }, red, scale);
    const { data } = canvas;
    const c = 30 * scale;
    let most = 0;
    for (let y = 0; y < canvas.height; y++)
      for (let x = 0; x < canvas.width; x++) {
        const i = (y * canvas.width + x) * 4;
        if (Math.hypot(x + 0.5 - c, y + 0.5 - c) / scale > 22 + 1.5 / scale)
          most = Math.max(most, (data[i]! * data[i + 3]!) / 255);
      }
    expect(most).toBeLessThan(4);
  }
});
