import { CENTRED, deriveView, paintedBounds, paintFrame, solidOutline, type Frame, type Shadow } from '@gable/core';
import { decode, onWholePixels, proxy, renderFrame, surfaceOf, toCanvas, toned } from '@gable/render';
import { lookAt } from '@gable/render/faces';
import { createCanvas } from '@napi-rs/canvas';
import { readFileSync } from 'node:fs';
import sharp from 'sharp';
import { frameOf as plainFrame } from '../../core/tests/frames';

const size = { width: 600, height: 400 };
/** Left half red, right half blue. */
const halves = sharp({ create: { ...size, channels: 3, background: '#ff0000' } })
  .composite([
    { input: { create: { width: 300, height: 400, channels: 3, background: '#0000ff' } }, left: 300, top: 0 },
  ])
  .png()
  .toBuffer();

const frameOf = (more: Partial<Frame> = {}): Frame =>
  plainFrame(100, 100, { shape: { name: 'circle', knobs: {} }, ...more });

interface Painted {
  width: number;
  height: number;
  at(x: number, y: number): number[];
}

async function paint(frame: Frame, scale = 4): Promise<Painted> {
  const canvas = await renderFrame(frame, size, await halves, scale);
  const { data } = canvas;
  return {
    width: canvas.width,
    height: canvas.height,
    at: (x, y) => [...data.subarray((y * canvas.width + x) * 4, (y * canvas.width + x) * 4 + 4)],
  };
}

const alphaSum = (p: Painted): number => {
  let sum = 0;
  for (let y = 0; y < p.height; y++) for (let x = 0; x < p.width; x++) sum += p.at(x, y)[3]! / 255;
  return sum;
};

describe('the painter on the server', () => {
  test('a circle’s painted area is π/4 of its box within 0.2 % (Euclid)', async () => {
    const p = await paint(frameOf());
    expect([p.width, p.height]).toEqual([400, 400]);
    expect(Math.abs(alphaSum(p) / 160_000 / (Math.PI / 4) - 1)).toBeLessThan(0.002);
  });

  test('the whole picture is where the view says: the border of red and blue at the middle of the box', async () => {
    const p = await paint(frameOf());
    expect(p.at(190, 200)).toEqual([255, 0, 0, 255]);
    expect(p.at(210, 200)).toEqual([0, 0, 255, 255]);
    const moved = await paint(frameOf({ placement: { ...CENTRED, aim: { u: 0.4, v: 0.5 } } }));
    const { matrix } = deriveView({ ...CENTRED, aim: { u: 0.4, v: 0.5 } }, { width: 100, height: 100 }, size);
    const border = Math.round((matrix[0] * 300 + matrix[4]) * 4);
    expect(moved.at(border - 6, 200)).toEqual([255, 0, 0, 255]);
    expect(moved.at(border + 6, 200)).toEqual([0, 0, 255, 255]);
  });

  // Common practice: what has straight edges ends where pixels do.
  test.each([
    ['1,000 pixels wide at 3:2', { box: { x: 0, y: 0, width: 300, height: 200 } }, 1000 / 300, [1000, 667]],
    [
      'a tiled square of 48 mm at 1,200 ppi',
      {
        box: { x: 0, y: 0, width: (48 / 25.4) * 72, height: (48 / 25.4) * 72 },
        placement: { ...CENTRED, fit: 'tile' as const, zoom: 0.3 },
      },
      1200 / 72,
      [2268, 2268],
    ],
    [
      'with an outline',
      {
        box: { x: 0, y: 0, width: 101.3, height: 77.7 },
        outline: { ...solidOutline(3.3, '#00ff00'), side: 'outside' as const },
      },
      2.1,
      [227, 177],
    ],
  ])('pixel sizes are whole and edges opaque: %s', async (_, more, scale, wanted) => {
    const p = await paint(frameOf({ shape: { name: 'rectangle', knobs: {} }, ...more }), scale);
    expect([p.width, p.height]).toEqual(wanted);
    for (const [x, y] of [
      [0, 5],
      [5, 0],
      [p.width - 1, p.height - 5],
      [p.width - 5, p.height - 1],
    ])
      expect([x, y, p.at(x!, y!)[3]]).toEqual([x, y, 255]);
  });

  // Only what is in sight is decoded; the painter given all of the picture must come to the same.
  test.each<[string, Partial<Frame>]>([
    ['close', { placement: { ...CENTRED, zoom: 3.1, aim: { u: 0.3, v: 0.6 } } }],
    ['turned', { placement: { ...CENTRED, zoom: 2, turn: 27, mirror: true } }],
    ['soft', { placement: { ...CENTRED, zoom: 2.4 }, tone: { softness: { blur: 3 } } }],
    ['at the rim', { placement: { ...CENTRED, zoom: 4, aim: { u: 0, v: 1 } }, outline: solidOutline(4, '#ffffff') }],
    ['inverted', { placement: { ...CENTRED, zoom: 2 }, tone: { given: { inverted: true } } }],
  ])('a picture in part is painted as from the whole: %s', async (_, more) => {
    const frame = onWholePixels(frameOf(more), 2);
    const bytes = readFileSync('demo/files/pictures/glaze-tests.jpg');
    const { width = 0, height = 0 } = await sharp(bytes).metadata();
    const all = { width, height };
    const canvas = await renderFrame(frame, all, bytes, 2);
    const view = deriveView(frame.placement, frame.box, all);
    const k = { x: Math.min(1, view.scale.x * 2), y: Math.min(1, view.scale.y * 2) };
    const whole = await decode(bytes, { width: width * k.x, height: height * k.y });
    const b = paintedBounds(frame);
    const other = createCanvas(canvas.width, canvas.height);
    const image = toCanvas(toned(whole, frame, all));
    paintFrame(surfaceOf(other), frame, { image, size: all }, { x: -b.x * 2, y: -b.y * 2, scale: 2 });
    const mine = canvas.data;
    const want = other.getContext('2d').getImageData(0, 0, other.width, other.height).data;
    let most = 0;
    for (let i = 0; i < mine.length; i++) most = Math.max(most, Math.abs(mine[i]! - want[i]!));
    expect(most).toBeLessThanOrEqual(3);
    expect(new Set(want).size).toBeGreaterThan(100);
  });

  /** Width of the ring along the middle row, in device pixels, by how much of each pixel it covers. */
  const ring = (p: Painted): number => {
    let sum = 0;
    for (let x = 0; x < p.width / 2; x++) {
      const [, g, , a] = p.at(x, Math.floor(p.height / 2)) as [number, number, number, number];
      // The ring is green on red: its green tells how much of the pixel it takes.
      sum += (g / 255) * (a / 255);
    }
    return sum;
  };

  test.each([
    ['on', 6, 6],
    ['inside', 5, 5],
    ['outside', 7, 7],
  ] as const)('a ring %s the edge, %d pt, measures that much', async (side, weight, expected) => {
    const p = await paint(frameOf({ outline: { ...solidOutline(weight, '#00ff00'), side } }));
    expect(ring(p) / 4).toBeCloseTo(expected, 1);
    // A ring one pixel thinner must not pass.
    expect(Math.abs(ring(p) - (expected * 4 - 1))).toBeGreaterThan(0.5);
  });

  test('nothing is painted beyond the outline, and no gap opens between it and the picture', async () => {
    const p = await paint(frameOf({ outline: { ...solidOutline(6, '#00ff00'), side: 'outside' } }));
    const row = Array.from({ length: p.width / 2 }, (_, x) => p.at(x, p.height / 2));
    const first = row.findIndex((c) => c[3]! > 250);
    expect(row.slice(0, Math.max(0, first - 2)).every((c) => c[3] === 0)).toBe(true);
    expect(row.slice(first).every((c) => c[3]! >= 250)).toBe(true);
  });

  test('a faint shadow is there, where and as far as it should be', async () => {
    const shadow: Shadow = { kind: 'outer', dx: 6, dy: 0, blur: 8, spread: 0, colour: '#000000', opacity: 0.2 };
    const bare = await paint(frameOf());
    const p = await paint(frameOf({ shadow }));
    expect(p.width).toBeGreaterThan(bare.width);
    const right = p.at(
      Math.round(bare.width + 2 * 4 + (p.width - bare.width - (8 * 1.45 + 6) * 4)),
      Math.floor(p.height / 2),
    );
    expect(right[3]!).toBeGreaterThan(5);
    expect(alphaSum(p) - alphaSum(bare)).toBeGreaterThan(400);
    const inner = await paint(frameOf({ shadow: { ...shadow, kind: 'inner', dx: 10 } }));
    expect(inner.at(12, 200)[0]!).toBeLessThan(240);
    expect(alphaSum(inner)).toBeCloseTo(alphaSum(bare), -2);
  });

  test('a turned and flipped frame is turned and flipped about its middle', async () => {
    const p = await paint(frameOf({ turn: 90, flip: { horizontal: true, vertical: false } }));
    // Flipped, blue is left; turned clockwise, left goes up.
    expect(p.at(200, 150)).toEqual([0, 0, 255, 255]);
    expect(p.at(200, 250)).toEqual([255, 0, 0, 255]);
  });

  test('gradients run across the box, dashes leave gaps, backings fill behind', async () => {
    const stops = [
      { at: 0, colour: '#000000', opacity: 1 },
      { at: 1, colour: '#00ff00', opacity: 1 },
    ];
    const p = await paint(
      frameOf({
        shape: { name: 'rectangle', knobs: {} },
        outline: { ...solidOutline(4, '#ffffff'), side: 'inside', paint: { kind: 'linear', angle: 0, stops } },
      }),
    );
    expect(p.at(20, 4)[1]!).toBeLessThan(30);
    expect(p.at(380, 4)[1]!).toBeGreaterThan(225);
    const dashed = await paint(
      frameOf({ shape: { name: 'rectangle', knobs: {} }, outline: { ...solidOutline(4, '#00ff00'), dash: 'dash' } }),
    );
    const edge = Array.from({ length: 300 }, (_, x) => dashed.at(x + 50, 4)[1]! > 200);
    expect(edge).toContain(true);
    expect(edge).toContain(false);
    const small = await paint(
      frameOf({
        placement: { ...CENTRED, fit: 'contain', zoom: 0.4 },
        backing: { kind: 'solid', colour: '#123456', opacity: 1 },
      }),
    );
    expect(small.at(200, 40)).toEqual([0x12, 0x34, 0x56, 255]);
  });
});

describe('decoding', () => {
  test('shows a turned picture as it is stored, and never enlarges', async () => {
    const jug = readFileSync('demo/files/pictures/breakfast-jug.jpg');
    const whole = await decode(jug);
    expect([whole.width, whole.height]).toEqual([2400, 1800]);
    const small = await decode(await halves, { width: 9000, height: 6000 });
    expect([small.width, small.height]).toEqual([600, 400]);
  });

  test('a copy for the screen is small, keeps transparency and carries no orientation', async () => {
    const jug = await proxy(readFileSync('demo/files/pictures/breakfast-jug.jpg'), 256);
    const meta = await sharp(jug.data).metadata();
    expect([jug.type, meta.width, meta.height, meta.orientation]).toEqual(['image/jpeg', 256, 192, undefined]);
    expect((await proxy(readFileSync('demo/files/pictures/logo.png'), 100)).type).toBe('image/png');
  });

  test('what is no picture is refused with what to do', async () => {
    await expect(decode(Buffer.from('no picture'))).rejects.toMatchObject({ code: 'broken-picture' });
    await expect(proxy(readFileSync('demo/files/pictures/logo.png').subarray(0, 400), 64)).rejects.toMatchObject({
      code: 'broken-picture',
    });
  });

  // Where each portrait’s face lies is known from the script that draws it (demo/src/portraits.ts).
  test.each([
    ['maren', 0.33, 0.43, 2000, 1333],
    ['tobias', 0.55, 0.36, 1600, 2000],
    ['ines', 0.67, 0.45, 2100, 1400],
    ['sunniva', 0.4, 0.46, 1920, 1440],
  ])('the subject of the portrait of %s is the face', async (name, u, v, width, height) => {
    const found = (await lookAt(readFileSync(`demo/files/pictures/portrait-${name}.jpg`), { width, height })).subject;
    expect(Math.abs(found.u - u)).toBeLessThan(0.09);
    expect(Math.abs(found.v - v)).toBeLessThan(0.12);
  });

  test('more pixels than Gable makes are refused', async () => {
    await expect(renderFrame(frameOf(), size, await halves, 200)).rejects.toMatchObject({ code: 'too-many-pixels' });
  });
});
