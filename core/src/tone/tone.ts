import { channels } from '../colour';
import { clamp } from '../geometry/numeric';
import type { Pixels } from '../analysis/subject';
import type { Frame, Size, Tone } from '../model/frame';
import { deriveView } from '../placement/view';

/**
 * Tone as a chain of steps that SVG filters know too, all on sRGB values 0..1 (`color-interpolation-filters: sRGB`), in
 * this order: brightness, contrast, bright and dark parts, amount of colour, warmth and tint, one or two colours only;
 * then softness; then fading, which the painter does. Values are held to 0..1 after each step, as Filter Effects 1 asks.
 */
export type ToneStep =
  /** Rows of a 3 × 3 matrix (feColorMatrix, Filter Effects 1 §9.6). */
  | { kind: 'matrix'; rows: readonly [readonly number[], readonly number[], readonly number[]] }
  /** Tables for red, green and blue, read with straight lines between (feComponentTransfer, type table, §9.7). */
  | { kind: 'tables'; tables: readonly [readonly number[], readonly number[], readonly number[]] };

/** Luma weights of feColorMatrix `saturate` (Filter Effects 1 §9.6: 0.213, 0.715, 0.072). */
const LUMA = [0.213, 0.715, 0.072] as const;

/** A table of 33 values of a curve, the same for all three channels. */
function curve(f: (x: number) => number): ToneStep {
  const table = Array.from({ length: 33 }, (_, i) => clamp(f(i / 32), 0, 1));
  return { kind: 'tables', tables: [table, table, table] };
}

/** A straight line as a table; two entries are enough, but it must be held to 0..1 where it leaves it. */
const line = (slope: number, intercept: number): ToneStep =>
  // 256 steps, so that the corner where the line is held falls within one level.
  ({
    kind: 'tables',
    tables: Array.from({ length: 3 }, () =>
      Array.from({ length: 256 }, (_, i) => clamp((slope * i) / 255 + intercept, 0, 1)),
    ) as unknown as [number[], number[], number[]],
  });

/** The steps of a tone; none for one at rest. */
export function toneSteps(tone: Tone | undefined): ToneStep[] {
  const steps: ToneStep[] = [];
  const { light, colour } = tone ?? {};
  if (light) {
    // Brightness: linear transfer with slope 1 + b (Filter Effects 1 §13.1.4, brightness()).
    if (light.brightness !== 0) steps.push(line(1 + light.brightness, 0));
    // Contrast: slope 1 + c about the middle (§13.1.5, contrast()).
    if (light.contrast !== 0) steps.push(line(1 + light.contrast, -light.contrast / 2));
    // Bright and dark parts: x + b·x²(1 − x) and x + d·x(1 − x)². Each moves its own end by 4/27 (38 of 255) at the most,
    // leaves black and white where they are and never turns back. Our own choice.
    const { bright, dark } = light;
    if (bright !== 0 || dark !== 0)
      steps.push(curve((x) => x + bright * x * x * (1 - x) + dark * x * (1 - x) * (1 - x)));
  }
  if (colour) {
    // Amount: feColorMatrix type saturate (§9.6).
    if (colour.amount !== 1) steps.push({ kind: 'matrix', rows: saturation(colour.amount) });
    // Warmth and tint: gains on red, green and blue (von Kries' diagonal scaling, on sRGB values), such that a grey keeps
    // its luma. Full warmth raises red by a quarter over blue's fall; full tint lowers green by a fifth.
    if (colour.warmth !== 0 || colour.tint !== 0) {
      const gains = [1 + colour.warmth * 0.25, 1 - colour.tint * 0.2, 1 - colour.warmth * 0.25];
      const grey = gains.reduce((sum, g, i) => sum + g * LUMA[i]!, 0);
      const [r, g, b] = gains.map((v) => v / grey) as [number, number, number];
      steps.push({
        kind: 'matrix',
        rows: [
          [r, 0, 0],
          [0, g, 0],
          [0, 0, b],
        ],
      });
    }
    if (colour.only) {
      steps.push({ kind: 'matrix', rows: [LUMA, LUMA, LUMA] });
      const ends = colour.only.map((c) => channels(c).map((v) => v / 255));
      const stops = ends.length === 1 ? [[0, 0, 0], ends[0]!, [1, 1, 1]] : ends;
      const table = (i: number): number[] => stops.map((s) => s[i]!);
      steps.push({ kind: 'tables', tables: [table(0), table(1), table(2)] });
    }
  }
  return steps;
}

/** feColorMatrix `saturate`: Filter Effects 1 §9.6. */
function saturation(s: number): readonly [readonly number[], readonly number[], readonly number[]] {
  const [r, g, b] = LUMA;
  return [
    [r + (1 - r) * s, g - g * s, b - b * s],
    [r - r * s, g + (1 - g) * s, b - b * s],
    [r - r * s, g - g * s, b + (1 - b) * s],
  ];
}

/** One step on one colour, in place. */
function apply(step: ToneStep, c: Float32Array): void {
  const [r, g, b] = c as unknown as [number, number, number];
  if (step.kind === 'matrix')
    step.rows.forEach((row, i) => {
      c[i] = clamp(row[0]! * r + row[1]! * g + row[2]! * b, 0, 1);
    });
  else
    step.tables.forEach((table, i) => {
      c[i] = interpolate(table, c[i]!);
    });
}

/** feComponentTransfer type table: n entries, n − 1 equal parts (Filter Effects 1 §9.7.1). */
function interpolate(table: readonly number[], x: number): number {
  const n = table.length - 1;
  const k = Math.min(n - 1, Math.floor(x * n));
  return table[k]! + (x * n - k) * (table[k + 1]! - table[k]!);
}

/** A colour under a tone, `#rrggbb`. */
export function toneColour(tone: Tone | undefined, hex: string): string {
  const c = Float32Array.from(channels(hex), (v) => v / 255);
  for (const step of toneSteps(tone)) apply(step, c);
  return `#${[...c]
    .map((v) =>
      Math.round(v * 255)
        .toString(16)
        .padStart(2, '0'),
    )
    .join('')}`;
}

/** Does a tone change the pixels of a picture? (Fading is done in painting.) */
export const changesPixels = (tone: Tone | undefined): boolean =>
  toneSteps(tone).length > 0 || (tone?.softness?.blur ?? 0) > 0;

/**
 * The blur of a frame's tone in the pixels of a copy of its picture: so many points on the page are so many of these.
 * @param size the stored picture, in pixels @param copy the copy's own size
 */
export function blurSigma(
  frame: Pick<Frame, 'box' | 'placement' | 'tone'>,
  size: Size,
  copy: Size,
): { x: number; y: number } {
  const { scale } = deriveView(frame.placement, frame.box, size);
  const blur = frame.tone?.softness?.blur ?? 0;
  return { x: ((blur / scale.x) * copy.width) / size.width, y: ((blur / scale.y) * copy.height) / size.height };
}

/**
 * Colours per side of the table by which pixels are toned. Reading between its entries is off by less than a level on
 * average; near colours that are held to their range by up to a few.
 */
const SIDE = 33;

/**
 * Light, colour and softness of a tone on pixels (sRGB, not premultiplied). The pixels given are not changed.
 * @param sigma standard deviation of the blur across and down, in these pixels
 */
export function tonePixels(pixels: Pixels, tone: Tone | undefined, sigma: { x: number; y: number }): Pixels {
  const steps = toneSteps(tone);
  let data = new Uint8ClampedArray(pixels.data);
  if (steps.length > 0) toneInPlace(data, steps);
  if (sigma.x > 0.05 || sigma.y > 0.05) data = blurred(data, pixels.width, pixels.height, sigma);
  return { width: pixels.width, height: pixels.height, data };
}

/** Tables before the first matrix act on each channel alone and are exact; the rest goes through one colour cube. */
function toneInPlace(data: Uint8ClampedArray, steps: readonly ToneStep[]): void {
  const firstMatrix = steps.findIndex((s) => s.kind === 'matrix');
  const separate = firstMatrix < 0 ? steps : steps.slice(0, firstMatrix);
  const mixed = firstMatrix < 0 ? [] : steps.slice(firstMatrix);
  const tables = [0, 1, 2].map((channel) =>
    Float32Array.from({ length: 256 }, (_, i) =>
      separate.reduce((x, s) => (s.kind === 'tables' ? interpolate(s.tables[channel]!, x) : x), i / 255),
    ),
  ) as [Float32Array, Float32Array, Float32Array];
  if (mixed.length === 0) {
    for (let i = 0; i < data.length; i += 4) for (let k = 0; k < 3; k++) data[i + k] = tables[k]![data[i + k]!]! * 255;
    return;
  }
  const linear = mixed.every((s) => s.kind === 'matrix') ? mixed : null;
  const only = linear?.length === 1 ? linear[0] : undefined;
  if (only?.kind === 'matrix') {
    const [a, b, c] = only.rows;
    for (let i = 0; i < data.length; i += 4) {
      const r = tables[0][data[i]!]! * 255;
      const g = tables[1][data[i + 1]!]! * 255;
      const bl = tables[2][data[i + 2]!]! * 255;
      data[i] = a[0]! * r + a[1]! * g + a[2]! * bl;
      data[i + 1] = b[0]! * r + b[1]! * g + b[2]! * bl;
      data[i + 2] = c[0]! * r + c[1]! * g + c[2]! * bl;
    }
    return;
  }
  throughCube(data, tables, mixed);
}

/** A cube of 33³ toned colours, read with straight lines between its corners. */
function throughCube(
  data: Uint8ClampedArray,
  tables: readonly [Float32Array, Float32Array, Float32Array],
  steps: readonly ToneStep[],
): void {
  const n = SIDE - 1;
  const cube = new Float32Array(SIDE ** 3 * 3);
  const c = new Float32Array(3);
  for (let r = 0, at = 0; r < SIDE; r++)
    for (let g = 0; g < SIDE; g++)
      for (let b = 0; b < SIDE; b++, at += 3) {
        c.set([r / n, g / n, b / n]);
        for (const s of steps) apply(s, c);
        cube.set(c, at);
      }
  const rowR = SIDE * SIDE * 3;
  const rowG = SIDE * 3;
  for (let i = 0; i < data.length; i += 4) {
    const x = tables[0][data[i]!]! * n;
    const y = tables[1][data[i + 1]!]! * n;
    const z = tables[2][data[i + 2]!]! * n;
    const r = Math.min(n - 1, x | 0);
    const g = Math.min(n - 1, y | 0);
    const b = Math.min(n - 1, z | 0);
    const fx = x - r;
    const fy = y - g;
    const fz = z - b;
    const at = r * rowR + g * rowG + b * 3;
    for (let k = 0; k < 3; k++) {
      const p = at + k;
      const near =
        (cube[p]! * (1 - fz) + cube[p + 3]! * fz) * (1 - fy) +
        (cube[p + rowG]! * (1 - fz) + cube[p + rowG + 3]! * fz) * fy;
      const q = p + rowR;
      const far =
        (cube[q]! * (1 - fz) + cube[q + 3]! * fz) * (1 - fy) +
        (cube[q + rowG]! * (1 - fz) + cube[q + rowG + 3]! * fz) * fy;
      data[i + k] = (near * (1 - fx) + far * fx) * 255;
    }
  }
}

/**
 * Three box blurs one after the other, as Filter Effects 1 §9.14 (feGaussianBlur) allows for a standard deviation: box
 * width d = ⌊σ · 3√(2π)/4 + ½⌋, with two shifted boxes and one of d + 1 where d is even. Small σ use the kernel itself.
 * The rim is repeated outwards (edgeMode duplicate), so that a softened picture does not fade at its edges.
 */
function blurred(
  data: Uint8ClampedArray<ArrayBuffer>,
  width: number,
  height: number,
  sigma: { x: number; y: number },
): Uint8ClampedArray<ArrayBuffer> {
  // Premultiplied, so that the colour of transparent pixels does not bleed.
  const values = new Float32Array(data.length);
  for (let i = 0; i < data.length; i += 4) {
    const a = data[i + 3]! / 255;
    values[i] = data[i]! * a;
    values[i + 1] = data[i + 1]! * a;
    values[i + 2] = data[i + 2]! * a;
    values[i + 3] = data[i + 3]!;
  }
  const pass = (n: number, lines: number, step: number, stride: number, s: number): void => {
    const kernels = kernelsFor(s);
    const pad = Math.max(0, ...kernels.map(({ offset, weights }) => Math.max(-offset, offset + lengthOf(weights))));
    const line = new Float32Array(n + 2 * pad);
    for (let l = 0; l < lines * 4; l++) {
      const start = (l >> 2) * stride + (l & 3);
      for (const { offset, weights } of kernels) {
        for (let i = 0; i < n; i++) line[pad + i] = values[start + i * step]!;
        line.fill(line[pad]!, 0, pad);
        line.fill(line[pad + n - 1]!, pad + n);
        convolve(line, n, pad + offset, weights, values, start, step);
      }
    }
  };
  pass(width, height, 4, width * 4, sigma.x);
  pass(height, width, width * 4, 4, sigma.y);
  for (let i = 0; i < data.length; i += 4) {
    const a = values[i + 3]!;
    const k = a > 0 ? 255 / a : 0;
    data[i] = values[i]! * k;
    data[i + 1] = values[i + 1]! * k;
    data[i + 2] = values[i + 2]! * k;
    data[i + 3] = a;
  }
  return data;
}

interface Kernel {
  offset: number;
  /** Null for a box of `width` equal weights, which a running sum does in one go. */
  weights: Float32Array | number;
}

function kernelsFor(sigma: number): Kernel[] {
  if (sigma <= 0.05) return [];
  if (sigma < 2) {
    const r = Math.ceil(sigma * 3);
    const weights = Float32Array.from({ length: 2 * r + 1 }, (_, i) => Math.exp(-((i - r) ** 2) / (2 * sigma * sigma)));
    const sum = weights.reduce((a, b) => a + b, 0);
    return [{ offset: -r, weights: weights.map((w) => w / sum) }];
  }
  const d = Math.floor((sigma * 3 * Math.sqrt(2 * Math.PI)) / 4 + 0.5);
  return d % 2 === 1
    ? [d, d, d].map((w) => ({ offset: -(w - 1) / 2, weights: w }))
    : [
        { offset: -d / 2, weights: d },
        { offset: -d / 2 + 1, weights: d },
        { offset: -d / 2, weights: d + 1 },
      ];
}

const lengthOf = (weights: Float32Array | number): number => (typeof weights === 'number' ? weights : weights.length);

/** One kernel along one line; `first` is where its left end lies for the first value. */
function convolve(
  from: Float32Array,
  n: number,
  first: number,
  weights: Float32Array | number,
  to: Float32Array,
  start: number,
  step: number,
): void {
  if (typeof weights !== 'number') {
    for (let i = 0; i < n; i++) {
      let sum = 0;
      for (let j = 0; j < weights.length; j++) sum += from[first + i + j]! * weights[j]!;
      to[start + i * step] = sum;
    }
    return;
  }
  let sum = 0;
  for (let j = 0; j < weights; j++) sum += from[first + j]!;
  for (let i = 0; i < n; i++) {
    to[start + i * step] = sum / weights;
    sum += from[first + i + weights]! - from[first + i]!;
  }
}
