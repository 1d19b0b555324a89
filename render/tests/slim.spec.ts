/**
 * A file made smaller: every frame must go on showing what it showed, and what is gone must be gone. The pictures are read
 * by `sharp` (libvips), the packages by `fflate`.
 */
import { renderFrame, slim } from '@gable/render';
import { openFile, withoutPrivate, type Source } from '@gable/formats';
import type { Frame } from '@gable/core';
import { unzipSync, zipSync } from 'fflate';
import { readFileSync } from 'node:fs';
import sharp from 'sharp';
import { buildDocument, inlined } from '../../formats/tests/support/build';
import { buildOpen } from '../../formats/tests/support/open';

const ALL = { crop: true, ppi: 150, strip: true };

/** The largest mean difference of any frame painted before and after, in levels of 255. */
async function difference(a: Source, b: Source): Promise<number> {
  let worst = 0;
  for (const { n, frame, size } of a.pictures) {
    const other = b.pictures[n - 1]!;
    if (!a.pictures[n - 1]!.media?.drawable) continue;
    const paint = async (f: Frame, s: typeof size, bytes: Uint8Array): Promise<Uint8ClampedArray> => {
      const canvas = await renderFrame(f, s, bytes, 2);
      return canvas.data as Uint8ClampedArray;
    };
    const was = await paint(frame, size, a.pictureBytes(n));
    const is = await paint(other.frame, other.size, b.pictureBytes(n));
    expect(is.length).toBe(was.length);
    let sum = 0;
    for (let i = 0; i < was.length; i++) sum += Math.abs(was[i]! - is[i]!);
    worst = Math.max(worst, sum / was.length);
  }
  return worst;
}

/** Soft noise, as a photograph has it. */
async function photograph(width: number, height: number): Promise<Uint8Array> {
  const raw = { width: 24, height: 16, channels: 3 as const };
  const seeds = Buffer.from(Array.from({ length: 24 * 16 * 3 }, (_, i) => (i * 2_654_435_761) >>> 24));
  return sharp(seeds, { raw }).resize(width, height, { kernel: 'cubic' }).jpeg({ quality: 95 }).toBuffer();
}

const withPart = (file: Uint8Array, name: string, data: Uint8Array): Uint8Array =>
  zipSync({ ...unzipSync(file), [name]: data });

describe('a file made smaller', () => {
  test.each(['season-handbook.docx', 'open-day-talk.pptx'])('%s shows what it showed', async (name) => {
    const bytes = new Uint8Array(readFileSync(`demo/files/${name}`));
    const { bytes: next, before, after, cut } = await slim(bytes, ALL);
    expect(after).toBe(next.length);
    expect(after).toBeLessThan(before * 0.8);
    expect(cut).toBeGreaterThan(0);
    const [a, b] = [openFile(bytes), openFile(next)];
    expect(await difference(a, b)).toBeLessThan(4);
    // Boxes, shapes, outlines and words are the same; only the pictures and how they lie in their frames differ.
    const rest = (f: Source): unknown[] => f.pictures.map(({ frame }) => ({ ...frame, placement: null, keep: null }));
    expect(rest(b)).toEqual(rest(a));
    const [was, is] = [unzipSync(bytes), unzipSync(next)];
    expect(Object.keys(is)).toEqual(Object.keys(was));
    for (const part of Object.keys(was).filter((p) => /(styles|settings|theme\d*)\.xml$/.test(p)))
      expect(Buffer.from(is[part]!).equals(Buffer.from(was[part]!))).toBe(true);
  });

  test('what no frame shows is gone: the left half, in a document and in an OpenDocument text', async () => {
    const jpeg = await photograph(1200, 800);
    const half = inlined({ src: '<a:srcRect l="50000"/>', cx: 1_371_600 });
    const docx = withPart(
      await buildDocument({ body: half }),
      'word/media/one.png',
      await sharp(jpeg).png().toBuffer(),
    );
    const styles =
      '<style:style style:name="g" style:family="graphic"><style:graphic-properties fo:clip="rect(0in, 0in, 0in, 6.25in)"/></style:style>';
    const body =
      '<text:p><draw:frame draw:style-name="g" svg:width="1.5in" svg:height="2in" text:anchor-type="as-char"><draw:image xlink:href="Pictures/one.png" xlink:type="simple"/></draw:frame></text:p>';
    const odt = withPart(
      await buildOpen({ styles, body }),
      'Pictures/one.png',
      await sharp(jpeg).png().withMetadata({ density: 96 }).toBuffer(),
    );
    for (const [file, part] of [
      [docx, 'word/media/one.png'],
      [odt, 'Pictures/one.png'],
    ] as const) {
      const { bytes } = await slim(file, { crop: true, ppi: null, strip: false });
      const { width, height } = await sharp(unzipSync(bytes)[part]).metadata();
      // Two pixels more than the half that is shown.
      expect([width, height]).toEqual([602, 800]);
      expect(await difference(openFile(file), openFile(bytes))).toBeLessThan(1);
    }
  });

  test('fewer pixels: as many to the inch as were asked for, where it is shown largest', async () => {
    const jpeg = await photograph(1800, 1200);
    const large = inlined({ cx: 5_486_400, cy: 3_657_600 });
    const file = withPart(await buildDocument({ body: large + inlined() }), 'word/media/one.png', jpeg);
    const { bytes, fewer } = await slim(file, { crop: false, ppi: 150, strip: false });
    expect(fewer).toBe(1);
    // Six inches across at 150 to the inch.
    expect((await sharp(unzipSync(bytes)['word/media/one.png']).metadata()).width).toBe(900);
    expect(await difference(openFile(file), openFile(bytes))).toBeLessThan(1.5);
  });

  test('a picture that something else shows too is not cut; one that would grow stays', async () => {
    const png = await sharp(await photograph(1200, 800))
      .png()
      .toBuffer();
    const half = inlined({ src: '<a:srcRect l="50000"/>', cx: 1_371_600 });
    const alone = withPart(await buildDocument({ body: half }), 'word/media/one.png', png);
    expect((await slim(alone, ALL)).cut).toBe(1);
    const rule = '<w:p><w:r><w:object r:id="rId1"/></w:r></w:p>';
    const shared = withPart(await buildDocument({ body: half + rule }), 'word/media/one.png', png);
    expect(openFile(shared).pictures).toHaveLength(1);
    expect((await slim(shared, { ...ALL, strip: false })).bytes === shared).toBe(true);
    // Encoded once more, this one would only grow.
    const coarse = withPart(
      alone,
      'word/media/one.png',
      await sharp({ create: { width: 1200, height: 800, channels: 3, background: '#888' } })
        .png({ palette: true, colours: 2 })
        .toBuffer(),
    );
    expect((await slim(coarse, { crop: true, ppi: 400, strip: false })).bytes === coarse).toBe(true);
  });
});

describe('private data', () => {
  const exif = {
    IFD0: { Copyright: 'Someone', Model: 'A camera' },
    IFD3: { GPSLatitudeRef: 'N', GPSLatitude: '51/1 30/1 0/1' },
  };

  test.each(['jpeg', 'png', 'webp'] as const)('goes from a %s, without a pixel being touched', async (kind) => {
    const bytes = await sharp(await photograph(120, 80))
      .withExif(exif)
      .withIccProfile('p3')
      .toFormat(kind, { lossless: true })
      .toBuffer();
    expect(Buffer.from(bytes).includes('A camera')).toBe(true);
    const bare = withoutPrivate(bytes)!;
    expect(bare.placed).toBe(true);
    const now = await sharp(bare.bytes).metadata();
    expect(now.exif).toBeUndefined();
    expect(now.icc).toBeDefined();
    for (const words of ['A camera', 'Someone']) expect(Buffer.from(bare.bytes).includes(words)).toBe(false);
    const pixels = async (b: Uint8Array): Promise<Buffer> => sharp(b).raw().toBuffer();
    expect((await pixels(bare.bytes)).equals(await pixels(bytes))).toBe(true);
    expect(withoutPrivate(bare.bytes)).toBeNull();
  });

  test('a JPEG stays turned as it was; words and XMP go too', async () => {
    const bytes = await sharp(await photograph(60, 40))
      .withExif(exif)
      .withXmp('<meta><a>Who took it</a></meta>')
      .withMetadata({ orientation: 6 })
      .jpeg()
      .toBuffer();
    const bare = withoutPrivate(bytes)!.bytes;
    expect((await sharp(bare).metadata()).orientation).toBe(6);
    expect(Buffer.from(bare).includes('Who took it')).toBe(false);
    expect(withoutPrivate(bare)).toBeNull();
  });

  test('a damaged one is left alone, or loses what is damaged', async () => {
    const bytes = await sharp(await photograph(60, 40))
      .withExif(exif)
      .jpeg()
      .toBuffer();
    expect(withoutPrivate(bytes.subarray(0, 40))).toBeNull();
    const at = bytes.indexOf('Exif');
    const odd = Buffer.from(bytes);
    odd.fill(0xff, at + 6, at + 40);
    expect(Buffer.from(withoutPrivate(odd)!.bytes).includes('A camera')).toBe(false);
  });
});
