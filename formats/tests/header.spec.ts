import { strToU8 } from 'fflate';
import { readFileSync } from 'node:fs';
import sharp from 'sharp';
import { readHeader } from '../src/index';

const made = sharp({ create: { width: 37, height: 21, channels: 3, background: '#456' } });

describe('what the first bytes of a picture tell', () => {
  test.each(['jpeg', 'png', 'gif', 'webp', 'tiff', 'avif'] as const)(
    '%s: type and size, as sharp wrote them',
    async (type) => {
      expect(readHeader(new Uint8Array(await made.clone().toFormat(type).toBuffer()))).toMatchObject({
        type,
        pixels: { width: 37, height: 21 },
        drawable: true,
      });
    },
  );

  test.each([1, 2, 3, 4, 5, 6, 7, 8])('EXIF orientation %d (TIFF 6.0 tag 274)', async (orientation) => {
    const bytes = await made.clone().jpeg().withMetadata({ orientation }).toBuffer();
    expect(readHeader(new Uint8Array(bytes))).toMatchObject({ orientation, pixels: { width: 37, height: 21 } });
  });

  test('the demo’s turned picture is known as such', () => {
    expect(readHeader(readFileSync('demo/files/pictures/breakfast-jug.jpg'))).toMatchObject({
      orientation: 6,
      pixels: { width: 2400, height: 1800 },
    });
  });

  test('drawings without pixels are undrawable, not broken', () => {
    const emf = new Uint8Array(88);
    new DataView(emf.buffer).setUint32(0, 1, true);
    emf.set(strToU8(' EMF'), 40);
    expect(readHeader(emf)).toMatchObject({ type: 'emf', pixels: null, drawable: false });
    const wmf = new Uint8Array(60);
    new DataView(wmf.buffer).setUint32(0, 0x9ac6cdd7, true);
    expect(readHeader(wmf)).toMatchObject({ type: 'wmf', drawable: false });
  });

  test('text, nothing, and half a header are no picture', () => {
    for (const bytes of [
      new Uint8Array(),
      strToU8('Dear members, the kiln is warm tonight.'),
      readFileSync('demo/files/pictures/logo.png').subarray(0, 12),
    ])
      expect(readHeader(bytes)).toBeNull();
  });
});
