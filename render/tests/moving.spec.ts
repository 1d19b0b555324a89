/**
 * Pictures that move, put into files: what the readers of a format show goes in byte for byte, so that it goes on moving (GIF 89a
 * everywhere; WebP and APNG by what browsers show, common practice); elsewhere one picture of it, as PNG. Frames are counted by `sharp`.
 */
import type { Frame } from '@gable/core';
import { openFile, withFrames } from '@gable/formats';
import { createHash } from 'node:crypto';
import { readFileSync } from 'node:fs';
import sharp from 'sharp';
import { saveRasterised } from '../src/index';

const SIZE = { width: 48, height: 32 };
async function moving(type: 'webp' | 'gif'): Promise<Buffer> {
  const frames = await Promise.all(
    [20, 120, 220].map((shade) =>
      sharp({ create: { ...SIZE, channels: 3, background: { r: shade, g: 80, b: 60 } } })
        .png()
        .toBuffer(),
    ),
  );
  const joined = sharp(frames, { join: { animated: true } });
  return type === 'webp'
    ? joined.webp({ lossless: true, delay: 200 }).toBuffer()
    : joined.gif({ delay: 200 }).toBuffer();
}

async function putInto(name: string, type: 'webp' | 'gif', orientation = 1): Promise<{ came: Buffer; is: Buffer }> {
  const bytes = await moving(type);
  const file = openFile(new Uint8Array(readFileSync(`demo/files/${name}`)));
  const sha256 = createHash('sha256').update(bytes).digest('hex');
  const frame: Frame = { ...file.pictures[0]!.frame, source: { sha256, name: 'a', type, size: SIZE, orientation } };
  const out = await saveRasterised(file, withFrames(file, [frame]), { original: () => ({ bytes, size: SIZE }) });
  return { came: bytes, is: Buffer.from(openFile(out).pictureBytes(1)) };
}
const pagesOf = async (bytes: Buffer): Promise<number> =>
  (await sharp(bytes, { animated: true }).metadata()).pages ?? 1;

test.each([
  ['visit-us.zip', 'webp'],
  ['visit-us.zip', 'gif'],
  ['season-handbook.docx', 'gif'],
  ['open-day-talk.pptx', 'gif'],
] as const)('goes on moving in %s as %s', async (name, type) => {
  const { came, is } = await putInto(name, type);
  expect(is.equals(came)).toBe(true);
  expect(await pagesOf(is)).toBe(3);
});

test('is one picture where its kind is not shown', async () => {
  const { is } = await putInto('season-handbook.docx', 'webp');
  expect([await pagesOf(is), (await sharp(is).metadata()).format]).toEqual([1, 'png']);
});

test('one that is stored turned is put in as it was counted: not turned', async () => {
  const { is } = await putInto('visit-us.zip', 'webp', 6);
  expect((await sharp(is).metadata()).format).toBe('png');
});
