/**
 * Cut-outs against known masks: heads of annotated photographs, cut out with a soft edge and laid on landscapes. At most three
 * strokes are drawn, each by one rule (`render/tests/strokes.ts`). `npm run cut-outs -w @gable/benchmarks`.
 */
import { overlap, type BrushStroke, type Mask } from '@gable/core';
import { cutOut, FINE_SIDE } from '@gable/render/cut-out';
import { findFaces } from '@gable/render/faces';
import sharp from 'sharp';
import { strokeThroughWrong } from '../../render/tests/strokes';
import { annotated, landscapes } from './photographs';

const SIZE = { width: 1200, height: 800 };
/** A head is about so much wider and higher than the box round its face that these photographs have. */
const [WIDER, HIGHER] = [1.15, 1.4];
/** Faces with fewer pixels are no photographs of a person. */
const LEAST = 70;

/** Heads on landscapes, each with its mask. */
async function composed(): Promise<{ bytes: Buffer; alpha: Buffer }[]> {
  const grounds = landscapes();
  const out: { bytes: Buffer; alpha: Buffer }[] = [];
  for (const { file, size, faces } of annotated())
    for (const face of faces) {
      const width = Math.round(face.width * size.width * WIDER);
      const height = Math.round(face.height * size.height * HIGHER);
      const left = Math.round((face.u + face.width / 2) * size.width - width / 2);
      const top = Math.round((face.v + face.height * 0.45) * size.height - height / 2);
      const inside = left >= 0 && top >= 0 && left + width <= size.width && top + height <= size.height;
      if (!inside || width < LEAST) continue;
      const k = (0.55 * SIZE.height) / height;
      const [w, h] = [Math.round(width * k), Math.round(height * k)];
      const ellipse = `<svg xmlns="http://www.w3.org/2000/svg" width="${w}" height="${h}"><ellipse cx="${w / 2}" cy="${h / 2}" rx="${w / 2 - 1.5}" ry="${h / 2 - 1.5}" fill="#fff"/></svg>`;
      const soft = await sharp(Buffer.from(ellipse)).blur(0.8).png().toBuffer();
      const head = await sharp(file).extract({ left, top, width, height }).resize(w, h).toBuffer();
      const cut = await sharp(head)
        .composite([{ input: soft, blend: 'dest-in' }])
        .png()
        .toBuffer();
      const at = { left: Math.round(SIZE.width * (0.3 + 0.1 * (out.length % 4)) - w / 2), top: 180 };
      const ground = await sharp(grounds[out.length % grounds.length])
        .resize(SIZE.width, SIZE.height)
        .toBuffer();
      const clear = { create: { ...SIZE, channels: 4 as const, background: '#00000000' } };
      out.push({
        bytes: await sharp(ground)
          .composite([{ input: cut, ...at }])
          .jpeg({ quality: 92 })
          .toBuffer(),
        alpha: await sharp(clear)
          .composite([{ input: soft, ...at }])
          .extractChannel('alpha')
          .png()
          .toBuffer(),
      });
    }
  return out;
}

async function maskLike({ width, height }: Mask, alpha: Buffer): Promise<Mask> {
  const data = await sharp(alpha).resize(width, height, { fit: 'fill' }).extractChannel(0).raw().toBuffer();
  return { width, height, data: Uint8Array.from(data) };
}

const median = (values: readonly number[]): number => values.toSorted((a, b) => a - b)[values.length >> 1] ?? 0;

const scenes = await composed();
const scores: number[][] = [];
const times = { first: [] as number[], stroke: [] as number[], fine: [] as number[] };
for (const { bytes, alpha } of scenes) {
  const faces = await findFaces(bytes, SIZE);
  const strokes: BrushStroke[] = [];
  let begun = performance.now();
  let mask = await cutOut(bytes, SIZE, { faces, strokes });
  times.first.push(performance.now() - begun);
  const truth = await maskLike(mask, alpha);
  const row = [overlap(mask, truth)];
  for (let i = 0; i < 3; i++) {
    const stroke = strokeThroughWrong(mask, truth);
    if (stroke && row.at(-1)! < 0.97) {
      strokes.push(stroke);
      begun = performance.now();
      mask = await cutOut(bytes, SIZE, { faces, strokes, before: mask });
      times.stroke.push(performance.now() - begun);
    }
    row.push(overlap(mask, truth));
  }
  begun = performance.now();
  const fine = await cutOut(bytes, SIZE, { faces, strokes, before: mask }, FINE_SIDE);
  times.fine.push(performance.now() - begun);
  row.push(overlap(fine, await maskLike(fine, alpha)));
  scores.push(row);
}
const names = ['without a stroke', 'after one', 'after two', 'after three', 'at the finer look'];
names.forEach((name, i) => {
  const all = scores.map((row) => row[i]!);
  const good = all.filter((s) => s >= 0.9).length;
  console.log(
    `${name}: intersection over union ${median(all).toFixed(3)} in the middle, at least 0.90 in ${good} of ${all.length}`,
  );
});
console.log(
  `first look ${Math.round(median(times.first))} ms, after a stroke ${Math.round(median(times.stroke))} ms, finer look ${Math.round(median(times.fine))} ms`,
);
process.exit(0);
