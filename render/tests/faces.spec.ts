import { foremost, type Face } from '@gable/core';
import { readFileSync } from 'node:fs';
import sharp from 'sharp';
import { findFaces } from '../src/faces';

const file = (name: string): Buffer => readFileSync(`demo/files/pictures/${name}.jpg`);
const faces = async (bytes: Buffer): Promise<Face[]> => {
  const { width, height } = await sharp(bytes).metadata();
  return findFaces(bytes, { width: width!, height: height! });
};

describe('faces', () => {
  // Where each portrait’s face lies is known from the script that draws it (demo/src/portraits.ts).
  test.each([
    ['maren', 0.33, 0.44],
    ['ines', 0.66, 0.45],
  ] as const)('in the drawn portrait of %s there is one, round the middle of the drawn one', async (name, u, v) => {
    const found = await faces(file(`portrait-${name}`));
    expect(found).toHaveLength(1);
    const [f] = found;
    expect(Math.abs(f!.u + f!.width / 2 - u)).toBeLessThan(0.06);
    expect(Math.abs(f!.v + f!.height / 2 - v)).toBeLessThan(0.1);
  });

  test.each(['kiln-glow', 'teapot', 'three-bowls', 'tall-bottles', 'breakfast-jug', 'glaze-tests'])(
    'in the picture of pots “%s” there is none',
    async (name) => {
      expect(await faces(file(name))).toEqual([]);
    },
  );

  test('beside a portrait in focus the same one out of focus does not count', async () => {
    const maren = sharp(file('portrait-maren'))
      .extract({ left: 200, top: 150, width: 1000, height: 1000 })
      .resize(500, 500);
    const sharpOne = await maren.clone().png().toBuffer();
    const softOne = await sharp(sharpOne).blur(9).png().toBuffer();
    const pair = await sharp({ create: { width: 1000, height: 500, channels: 3, background: '#888' } })
      .composite([
        { input: softOne, left: 0, top: 0 },
        { input: sharpOne, left: 500, top: 0 },
      ])
      .png()
      .toBuffer();
    const found = await faces(pair);
    expect(found).toHaveLength(2);
    const counting = foremost(found);
    expect(counting).toHaveLength(1);
    expect(counting[0]!.u).toBeGreaterThan(0.5);
  });

  test('several beside each other are all found, each in its own part', async () => {
    const names = ['maren', 'ines', 'odd', 'sunniva'];
    const parts = await Promise.all(
      names.map((n) =>
        sharp(file(`portrait-${n}`))
          .resize(400, 400)
          .toBuffer(),
      ),
    );
    const row = await sharp({ create: { width: 1600, height: 400, channels: 3, background: '#fff' } })
      .composite(parts.map((input, i) => ({ input, left: 400 * i, top: 0 })))
      .jpeg()
      .toBuffer();
    const found = await faces(row);
    expect(found.map((f) => Math.floor(4 * (f.u + f.width / 2))).sort()).toEqual([0, 1, 2, 3]);
  });

  test('a clear picture and a tiny one have none, and nothing fails', async () => {
    const clear = await sharp({ create: { width: 64, height: 64, channels: 4, background: '#0000' } })
      .png()
      .toBuffer();
    expect(await faces(clear)).toEqual([]);
    expect(await faces(await sharp(clear).resize(4, 4).png().toBuffer())).toEqual([]);
  });
});
