import { channels } from '../colour';
import { clamp } from '../geometry/numeric';
import type { Pixels } from '../model/pixels';
import type { Frame, Given, Size, Tone } from '../model/frame';
import { deriveView } from '../placement/view';

/**
 * Tone as a chain of steps that SVG filters know too, all on sRGB values 0..1 (`color-interpolation-filters: sRGB`), in
 * this order: what a file gave it, brightness, contrast, bright and dark parts, amount of colour, warmth and tint, one or two colours only;
 * then softness; then fading, which the painter does. Values are held to 0..1 after each step, as Filter Effects 1 asks.
 */
export type ToneStep =
  /** Rows of a 3 × 3 matrix (feColorMatrix, Filter Effects 1 §9.6). */
  | { kind: 'matrix'; rows: readonly [readonly number[], readonly number[], readonly number[]] }
  /** Tables for red, green and blue, read with straight lines between (feComponentTransfer, type table, §9.7). */
  | {
      kind: 'tables';
      tables: readonly [readonly number[], readonly number[], readonly number[]];
      /** The line that all three follow, where they follow one (type linear). */
      line?: { slope: number; intercept: number };
    };

/** Luma weights of feColorMatrix `saturate` (Filter Effects 1 §9.6: 0.213, 0.715, 0.072). */
const LUMA = [0.213, 0.715, 0.072] as const;

/** A table of 33 values of a curve, the same for all three channels. */
function curve(f: (x: number) => number): ToneStep {
  return same(Array.from({ length: 33 }, (_, i) => clamp(f(i / 32), 0, 1)));
}

/** A table of 256 values, so that a corner, where a line is held to 0..1, falls within one level. */
const levels = (f: (x: number) => number): number[] => Array.from({ length: 256 }, (_, i) => clamp(f(i / 255), 0, 1));

const eachOf = <T, U>([r, g, b]: readonly [T, T, T], f: (v: T) => U): [U, U, U] => [f(r), f(g), f(b)];

const same = (table: number[]): ToneStep => ({ kind: 'tables', tables: [table, table, table] });

const line = (slope: number, intercept: number): ToneStep => {
  const table = levels((x) => slope * x + intercept);
  return { kind: 'tables', tables: [table, table, table], line: { slope, intercept } };
};

/** The steps of a tone; none for one at rest. */
export function toneSteps(tone: Tone | undefined): ToneStep[] {
  const { light, colour, given } = tone ?? {};
  const steps = given ? givenSteps(given) : [];
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

/** No file format says by which sums its recolouring is done: these are common practice. */
function givenSteps({ contrast = 0, lift = 0, channels, gamma = 1, inverted, threshold }: Given): ToneStep[] {
  const steps: ToneStep[] = [];
  if (contrast !== 0 || lift !== 0) {
    const slope = contrast < 0 ? 1 + contrast : 1 / Math.max(1 / 256, 1 - contrast);
    steps.push(line(slope, (1 - slope) / 2 + lift));
  }
  if (channels) steps.push({ kind: 'tables', tables: eachOf(channels, (c) => levels((x) => x + c)) });
  if (gamma !== 1) steps.push(same(levels((x) => x ** (1 / gamma))));
  if (inverted) steps.push(line(-1, 1));
  if (threshold !== undefined)
    steps.push({ kind: 'matrix', rows: [LUMA, LUMA, LUMA] }, same(levels((x) => (x < threshold ? 0 : 1))));
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
  !!tone?.given?.swap || toneSteps(tone).length > 0 || (tone?.softness?.blur ?? 0) > 0;

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

/** A tone without what a file gave it; undefined where nothing else is left. */
export function ownTone(tone: Tone | undefined): Tone | undefined {
  if (!tone?.given) return tone;
  const own = { ...tone };
  delete own.given;
  return Object.keys(own).length > 0 ? own : undefined;
}

/**
 * Light, colour and softness of a tone on pixels (sRGB, not premultiplied). The pixels given are not changed.
 * @param sigma standard deviation of the blur across and down, in these pixels
 */
export function tonePixels(pixels: Pixels, tone: Tone | undefined, sigma: { x: number; y: number }): Pixels {
  const steps = toneSteps(tone);
  let data = new Uint8ClampedArray(pixels.data);
  if (tone?.given?.swap) swapInPlace(data, tone.given.swap);
  if (steps.length > 0) toneInPlace(data, steps);
  if (sigma.x > 0.05 || sigma.y > 0.05) data = blurred(data, pixels.width, pixels.height, sigma);
  return { width: pixels.width, height: pixels.height, data };
}

/**
 * So many levels off a swapped colour a pixel is still of it, and from so many on no more. Copies are resampled and may be
 * JPEG: the same flat colour comes out a few levels off, and a rim mixes it with what lies beside. Our own choice.
 */
const SWAPPED = { all: 4, none: 24 };

function swapInPlace(data: Uint8ClampedArray, { from, to, opacity }: NonNullable<Given['swap']>): void {
  const old = channels(from);
  const now = channels(to);
  for (let i = 0; i < data.length; i += 4) {
    const off = Math.max(...old.map((v, k) => Math.abs(data[i + k]! - v)));
    const share = clamp((SWAPPED.none - off) / (SWAPPED.none - SWAPPED.all), 0, 1);
    if (share === 0) continue;
    now.forEach((v, k) => {
      // Where it becomes clear, what is left of the rim keeps its colour.
      if (opacity > 0) data[i + k] = data[i + k]! + (v - data[i + k]!) * share;
    });
    data[i + 3] = data[i + 3]! * (1 + (opacity - 1) * share);
  }
}

/** Entries of the tables that end a chain: a value between two levels is read within an eighth of one. */
const FINE = 2041;

/**
 * Tables before the first matrix act on each channel alone; matrices that follow are done pixel by pixel, and the tables
 * behind them are one table again. What comes after those goes through the same once more.
 */
function toneInPlace(data: Uint8ClampedArray, steps: readonly ToneStep[]): void {
  const until = (from: number, kind: ToneStep['kind']): number => {
    const at = steps.findIndex((s, i) => i >= from && s.kind === kind);
    return at < 0 ? steps.length : at;
  };
  const tablesOf = (from: number, to: number, length: number): readonly Float32Array[] =>
    [0, 1, 2].map((channel) =>
      Float32Array.from({ length }, (_, i) =>
        steps
          .slice(from, to)
          .reduce((x, s) => (s.kind === 'tables' ? interpolate(s.tables[channel]!, x) : x), i / (length - 1)),
      ),
    );
  const start = until(0, 'matrix');
  const [r0, g0, b0] = tablesOf(0, start, 256) as [Float32Array, Float32Array, Float32Array];
  const rounds: { matrices: Float32Array[]; tables: readonly Float32Array[] | null }[] = [];
  for (let from = start; from < steps.length;) {
    const mid = until(from, 'tables');
    const end = until(mid, 'matrix');
    const matrices = steps
      .slice(from, mid)
      .flatMap((s) => (s.kind === 'matrix' ? Float32Array.from(s.rows.flat()) : []));
    rounds.push({ matrices, tables: end > mid ? tablesOf(mid, end, FINE) : null });
    from = end;
  }
  for (let i = 0; i < data.length; i += 4) {
    let r = r0[data[i]!]!;
    let g = g0[data[i + 1]!]!;
    let b = b0[data[i + 2]!]!;
    for (let k = 0; k < rounds.length; k++) {
      const { matrices, tables } = rounds[k]!;
      for (let j = 0; j < matrices.length; j++) {
        const m = matrices[j]!;
        const x = m[0]! * r + m[1]! * g + m[2]! * b;
        const y = m[3]! * r + m[4]! * g + m[5]! * b;
        const z = m[6]! * r + m[7]! * g + m[8]! * b;
        r = x < 0 ? 0 : x > 1 ? 1 : x;
        g = y < 0 ? 0 : y > 1 ? 1 : y;
        b = z < 0 ? 0 : z > 1 ? 1 : z;
      }
      if (!tables) continue;
      r = tables[0]![(r * (FINE - 1) + 0.5) | 0]!;
      g = tables[1]![(g * (FINE - 1) + 0.5) | 0]!;
      b = tables[2]![(b * (FINE - 1) + 0.5) | 0]!;
    }
    data[i] = r * 255;
    data[i + 1] = g * 255;
    data[i + 2] = b * 255;
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
