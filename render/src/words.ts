import { WordSchema, type Size, type Word } from '@gable/core';
import { createRequire } from 'node:module';
import path from 'node:path';
import sharp from 'sharp';
import type Tesseract from 'tesseract.js';
import { decode } from './decode';

/** Longer side in pixels at which words are read: those of a 72nd of the height are still 20 px high. */
const READING_SIDE = 1600;

/** A reader runs in a thread of its own, which must not keep the process alive while nothing is read. */
type Threaded = Tesseract.Worker & { worker: { ref(): void; unref(): void } };

let reader: Promise<Threaded> | null = null;
let turn: Promise<unknown> = Promise.resolve();

/** The reader with its data, which comes inside a package: nothing is fetched from anywhere. */
async function loaded(): Promise<Threaded> {
  const from = createRequire(import.meta.url);
  // Only where words are read: the command line starts faster without it.
  const { createWorker, OEM, PSM } = from('tesseract.js') as typeof Tesseract;
  const data = path.join(path.dirname(from.resolve('@tesseract.js-data/eng/package.json')), '4.0.0');
  const made = await createWorker('eng', OEM.LSTM_ONLY, { langPath: data, cacheMethod: 'none', gzip: true });
  // Words on a picture stand anywhere, in no order.
  await made.setParameters({
    tessedit_pageseg_mode: PSM.SPARSE_TEXT,
    // It would say on the console what it makes of the resolution.
    debug_file: '/dev/null',
  });
  return made as Threaded;
}

/**
 * The words in a picture, in no order, sure and less sure ones.
 * @throws GableError `broken-picture`
 */
export function findWords(bytes: Uint8Array, size: Size): Promise<Word[]> {
  // One at a time: a reader keeps what it is reading.
  const found = turn.then(() => read(bytes, size));
  turn = found.catch(() => undefined);
  return found;
}

async function read(bytes: Uint8Array, size: Size): Promise<Word[]> {
  if (Math.min(size.width, size.height) < 16) return [];
  const k = Math.min(1, READING_SIDE / Math.max(size.width, size.height));
  const { width, height, data } = await decode(bytes, { width: size.width * k, height: size.height * k });
  const image = await sharp(data, { raw: { width, height, channels: 4 } })
    .flatten({ background: '#ffffff' })
    .greyscale()
    .png({ compressionLevel: 1 })
    .toBuffer();
  reader ??= loaded();
  const { worker, recognize } = await reader;
  worker.ref();
  try {
    const { data: found } = await recognize(image, {}, { blocks: true, text: false });
    return (found.blocks ?? [])
      .flatMap((b) => b.paragraphs.flatMap((p) => p.lines.flatMap((l) => l.words)))
      .flatMap(({ text, confidence, bbox: { x0, y0, x1, y1 } }) => {
        const box = { u: x0 / width, v: y0 / height, width: (x1 - x0) / width, height: (y1 - y0) / height };
        const word = WordSchema.safeParse({ ...box, text: text.trim(), score: confidence / 100 });
        return word.success ? [word.data] : [];
      });
  } finally {
    worker.unref();
  }
}
