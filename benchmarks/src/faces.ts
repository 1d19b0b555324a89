/** Faces in photographs that others have annotated, and landscapes without any subject. `npm run faces -w @gable/benchmarks`. */
import { aimAt, deriveView, ontoBox, withShape, type Frame, type Region, type Size, type Subject } from '@gable/core';
import { findFaces, lookAt } from '@gable/render/faces';
import { readFileSync } from 'node:fs';
import path from 'node:path';
import sharp from 'sharp';
import smartcrop from 'smartcrop';
import { frameOf } from '../../core/tests/frames';
import { annotated, landscapes } from './photographs';

/** A portrait cut round each face in turn, 3 : 2, with the face in another place of it; about half as high as it is. */
async function portraits(): Promise<{ bytes: Buffer; size: Size; face: Region }[]> {
  const out: { bytes: Buffer; size: Size; face: Region }[] = [];
  for (const { file, size, faces } of annotated())
    for (const [i, face] of faces.entries()) {
      const side = face.height * size.height;
      const height = Math.min(2.1 * side, size.height);
      const width = Math.min(1.5 * height, size.width);
      const [x, y] = [(face.u + face.width / 2) * size.width, (face.v + face.height / 2) * size.height];
      const places = [0.3, 0.4, 0.6, 0.7];
      const left = Math.round(Math.max(0, Math.min(size.width - width, x - places[i % 4]! * width)));
      const top = Math.round(Math.max(0, Math.min(size.height - height, y - 0.45 * height)));
      const [w, h] = [Math.floor(width), Math.floor(height)];
      const cut = { u: left / size.width, v: top / size.height, width: w / size.width, height: h / size.height };
      // Only those in which this face is the only one.
      const others = faces.filter((f) => {
        const [u, v] = [f.u + f.width / 2 - cut.u, f.v + f.height / 2 - cut.v];
        return f !== face && u > -0.02 && v > -0.02 && u < cut.width + 0.02 && v < cut.height + 0.02;
      });
      if (others.length > 0) continue;
      const bytes = await sharp(file).extract({ left, top, width: w, height: h }).resize(1200).jpeg().toBuffer();
      const inside = {
        u: (face.u - cut.u) / cut.width,
        v: (face.v - cut.v) / cut.height,
        width: face.width / cut.width,
        height: face.height / cut.height,
      };
      out.push({ bytes, size: { width: 1200, height: Math.round((1200 * h) / w) }, face: inside });
    }
  return out;
}

/** A picture in a circle, about a subject. */
function circleAbout(subject: Subject, size: Size): Frame {
  const made = withShape(frameOf(150, (150 * size.height) / size.width), { name: 'circle', knobs: {} }, size);
  return { ...made, placement: { ...made.placement, aim: aimAt(subject, made, size) } };
}

/** Do the corners of a region lie in the circle, but for a hair? */
function holds(frame: Frame, { u, v, width, height }: Region, size: Size): boolean {
  const { matrix } = deriveView(frame.placement, frame.box, size);
  const radius = frame.box.width / 2;
  return [0, 1].every((i) =>
    [0, 1].every((k) => {
      const at = ontoBox(matrix, { u: u + i * width, v: v + k * height }, size);
      return Math.hypot(at.x - radius, at.y - radius) <= radius * 1.02;
    }),
  );
}

/** Is the face wholly in the circle, and within 15 % of the best place that its middle can have? */
function isGood(size: Size, face: Region, subject: Subject): boolean {
  const middle = { u: face.u + face.width / 2, v: face.v + face.height / 2 };
  const off = (frame: Frame): number => {
    const at = ontoBox(deriveView(frame.placement, frame.box, size).matrix, middle, size);
    return Math.hypot(at.x - frame.box.width / 2, at.y - frame.box.height / 2) / frame.box.width;
  };
  const [frame, best] = [circleAbout(subject, size), circleAbout(middle, size)];
  return holds(frame, face, size) && off(frame) - off(best) <= 0.15;
}

async function crop(bytes: Buffer, size: Size): Promise<Subject> {
  const { data, info } = await sharp(bytes).resize(256).ensureAlpha().raw().toBuffer({ resolveWithObject: true });
  const image = { width: info.width, height: info.height, data };
  const operations = {
    open: (i: unknown) => Promise.resolve(i),
    resample: (i: unknown) => Promise.resolve(i),
    getData: (i: unknown) => Promise.resolve(i),
  };
  const options: Record<string, unknown> = { width: 16, height: 16, prescale: false, imageOperations: operations };
  const { topCrop } = await smartcrop.crop(image as never, options as never);
  const k = size.width / info.width;
  return {
    u: ((topCrop.x + topCrop.width / 2) * k) / size.width,
    v: ((topCrop.y + topCrop.height / 2) * k) / size.height,
  };
}

let [found, all, extra] = [0, 0, 0];
const times: number[] = [];
for (const { file, size, faces } of annotated()) {
  const bytes = readFileSync(file);
  const begun = performance.now();
  const seen = await findFaces(bytes, size);
  times.push(performance.now() - begun);
  const hits = faces.filter((f) =>
    seen.some(
      (s) =>
        Math.abs(s.u + s.width / 2 - f.u - f.width / 2) < 0.4 * f.width &&
        Math.abs(s.v + s.height / 2 - f.v - f.height / 2) < 0.4 * f.height,
    ),
  ).length;
  [found, all, extra] = [found + hits, all + faces.length, extra + seen.length - hits];
}
console.log(`annotated faces found: ${found} of ${all}; found where none is: ${extra}`);

let [ours, theirs, plain] = [0, 0, 0];
const cuts = await portraits();
for (const { bytes, size, face } of cuts) {
  const begun = performance.now();
  const subject = (await lookAt(bytes, size)).subject;
  times.push(performance.now() - begun);
  if (isGood(size, face, subject)) ours++;
  if (isGood(size, face, await crop(bytes, size))) theirs++;
  if (isGood(size, face, { u: 0.5, v: 0.5 })) plain++;
}
console.log(
  `faces well placed in a circle, of ${cuts.length}: ${ours}; by smartcrop ${theirs}, by the middle ${plain}`,
);
let [groups, held] = [0, 0];
for (const { file, size, faces } of annotated()) {
  if (faces.length < 2) continue;
  const steps = Array.from({ length: 41 }, (_, i) => i / 40);
  const possible = steps.some((u) =>
    steps.some((v) => faces.every((f) => holds(circleAbout({ u, v }, size), f, size))),
  );
  if (!possible) continue;
  groups++;
  const frame = circleAbout((await lookAt(readFileSync(file), size)).subject, size);
  if (faces.every((f) => holds(frame, f, size))) held++;
  else console.log(`  not held: ${path.basename(file)}`);
}
console.log(`groups that a circle can hold: ${held} of ${groups} are held whole`);
console.log(`a look at a picture: median ${Math.round(times.sort((a, b) => a - b)[times.length >> 1]!)} ms`);

const claimed: string[] = [];
const files = landscapes();
for (const file of files) {
  const bytes = readFileSync(file);
  const { width, height } = await sharp(bytes).metadata();
  if (!(await lookAt(bytes, { width: width!, height: height! })).subject.guessed) claimed.push(path.basename(file));
}
console.log(`landscapes and textures without a claimed subject: ${files.length - claimed.length} of ${files.length}`);
for (const name of claimed) console.log(`  claimed in ${name}`);
process.exit(0);
