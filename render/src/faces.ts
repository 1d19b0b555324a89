import { FaceSchema, findSubject, withSharpness, type Face, type Pixels, type Size, type Subject } from '@gable/core';
import { readFile } from 'node:fs/promises';
import { createRequire } from 'node:module';
import path from 'node:path';
import { pathToFileURL } from 'node:url';
import type { Config, Human, Result } from '@vladmandic/human';
import { decode, decodeSmall } from './decode';

/** Longer side in pixels at which faces are looked for: the finder itself works at 256, and looks closer at what it found. */
const FACE_SIDE = 512;
/** Faces in one picture at most. */
const MOST_FACES = 40;
/** How sure the finder must be at the first look, and at the second, closer one, which takes pots and dogs out. */
const FIRST_LOOK = 0.4;
const SECOND_LOOK = 0.6;

/** What lies round a picture, and behind its clear parts: a level of 255. */
const GROUND = 128;

const OFF = { enabled: false };

/** `blazeface` finds candidates and `facemesh` looks at each of them; all else that the library can do stays off. */
const config = (models: string, wasm: string): Partial<Config> => ({
  backend: 'wasm',
  wasmPath: wasm,
  modelBasePath: models,
  debug: false,
  // Each picture is another one, not the next of a film.
  cacheSensitivity: 0,
  filter: OFF,
  face: {
    enabled: true,
    detector: { rotation: false, maxDetected: MOST_FACES, minConfidence: FIRST_LOOK, modelPath: 'blazeface.json' },
    mesh: { enabled: true },
    iris: OFF,
    emotion: OFF,
    description: OFF,
    antispoof: OFF,
    liveness: OFF,
  },
  body: OFF,
  hand: OFF,
  object: OFF,
  gesture: OFF,
  segmentation: OFF,
});

let finder: Promise<Human> | null = null;
let turn: Promise<unknown> = Promise.resolve();

/** The finder with its models, which come inside its package: nothing is fetched from anywhere. */
async function loaded(): Promise<Human> {
  const from = createRequire(import.meta.url);
  const folder = path.dirname(from.resolve('@vladmandic/human'));
  const wasm = path.dirname(from.resolve('@tensorflow/tfjs-backend-wasm'));
  // Its build for Node with WebAssembly is not among the names that the package exports (3.3.6).
  const { Human: Made } = from(path.join(folder, 'human.node-wasm.js')) as { Human: typeof Human };
  const models = pathToFileURL(path.join(folder, '../models')).href;
  const human = new Made(config(`${models}/`, `${wasm}/`));
  const fetched = globalThis.fetch;
  // Node's own fetch reads no files.
  globalThis.fetch = async (what, how) => {
    const address = what instanceof Request ? what.url : String(what);
    if (!address.startsWith(models)) return fetched(what, how);
    const type = address.endsWith('.json') ? 'application/json' : 'application/octet-stream';
    return new Response(await readFile(new URL(address)), { headers: { 'Content-Type': type } });
  };
  try {
    await human.load();
  } finally {
    globalThis.fetch = fetched;
  }
  return human;
}

/**
 * The faces in a picture, the surest first; drawn ones, too.
 * @param pixels best at most 512 on the longer side: larger ones are only slower
 */
function facesIn(pixels: Pixels): Promise<Face[]> {
  // One at a time: the finder keeps what it is looking at.
  const found = turn.then(() => find(pixels));
  turn = found.catch(() => undefined);
  return found;
}

async function find({ width, height, data }: Pixels): Promise<Face[]> {
  if (Math.min(width, height) < 16) return [];
  finder ??= loaded();
  const human = await finder;
  // The finder looks at squares: an oblong picture is given room, so that faces keep their ratio.
  const side = Math.max(width, height);
  const colours = new Float32Array(side * side * 3).fill(GROUND);
  for (let y = 0, i = 0; y < height; y++)
    for (let k = y * side * 3, end = k + width * 3; k < end; i += 4) {
      const alpha = data[i + 3]! / 255;
      for (let c = 0; c < 3; c++) colours[k++] = data[i + c]! * alpha + GROUND * (1 - alpha);
    }
  const tensor = human.tf.tensor4d(colours, [1, side, side, 3], 'float32');
  let result: Result;
  try {
    result = await human.detect(tensor as unknown as Parameters<Human['detect']>[0]);
  } finally {
    human.tf.dispose(tensor);
  }
  const faces = result.face
    .filter((f) => f.faceScore >= SECOND_LOOK)
    .flatMap((f) => {
      const [x, y, w, h] = f.boxRaw;
      const [across, down] = [side / width, side / height];
      const box = { u: x * across, v: y * down, width: w * across, height: h * down };
      // Of an oblong picture the room beside it was looked at, too.
      const face = FaceSchema.safeParse({ ...box, score: Math.min(1, f.boxScore) });
      return face.success ? [face.data] : [];
    })
    .sort((a, b) => b.score - a.score);
  return withSharpness(faces, { width, height, data });
}

/** The faces in a picture. @throws GableError `broken-picture` */
export async function findFaces(bytes: Uint8Array, size: Size): Promise<Face[]> {
  const k = Math.min(1, FACE_SIDE / Math.max(size.width, size.height));
  return facesIn(await decode(bytes, { width: size.width * k, height: size.height * k }));
}

/** A look at a picture: small pixels of it, its faces, and what it is about. @throws GableError `broken-picture` */
export async function lookAt(
  bytes: Uint8Array,
  size: Size,
): Promise<{ pixels: Pixels; faces: readonly Face[]; subject: Subject }> {
  const [pixels, faces] = await Promise.all([decodeSmall(bytes, size), findFaces(bytes, size)]);
  return { pixels, faces, subject: await findSubject(pixels, faces) };
}
