/** Copies of a site's pictures, made and measured: their pixels as `sharp` reads them again, their bytes against those of the originals. */
import { strFromU8, strToU8, unzipSync, zipSync } from 'fflate';
import sharp from 'sharp';
import { forScreens, screensWords } from '../src/index';

/** A picture with detail, so that fewer pixels are fewer bytes. */
async function noise(width: number, height: number, orientation?: number): Promise<Uint8Array> {
  const data = Buffer.alloc(width * height * 3);
  for (let i = 0, v = 7; i < data.length; i++) data[i] = v = (v * 73 + (i % 251) * 3 + 11) % 256;
  const image = sharp(data, { raw: { width, height, channels: 3 } })
    .blur(1.2)
    .jpeg({ quality: 90 });
  return (orientation ? image.withMetadata({ orientation }) : image).toBuffer();
}
const HTML =
  '<!doctype html><html><body><img src="wide.jpg" alt=""><img src="tall.jpg" alt=""><img src="small.jpg" alt=""><img src="moves.gif" alt=""></body></html>';
const WINDOWS = [320, 390, 1280, 2560];
const boxes = (width: (window: number) => number, ratio: number) =>
  WINDOWS.map((window) => ({ window, width: width(window), height: width(window) / ratio }));

test('each gets the copies that its windows need, upright, and no others; what they save on a telephone is told', async () => {
  const pictures = {
    'wide.jpg': await noise(2400, 1600),
    'tall.jpg': await noise(1200, 800, 6),
    'small.jpg': await noise(90, 60),
  };
  const gif = await sharp({ create: { width: 8, height: 16, channels: 3, background: '#b5482a' } })
    .gif()
    .toBuffer();
  const bytes = zipSync({ 'index.html': strToU8(HTML), ...pictures, 'moves.gif': gif });
  const made = await forScreens(bytes, {
    ...{ copies: true, lazy: true },
    pictures: [
      { n: 1, below: false, boxes: boxes((w) => w, 1.5) },
      { n: 2, below: true, boxes: boxes(() => 300, 2 / 3) },
      { n: 3, below: true, boxes: boxes(() => 60, 1.5) },
      { n: 4, below: true, boxes: boxes(() => 200, 0.5) },
    ],
  });
  const out = unzipSync(made.bytes);
  const copies = Object.keys(out).filter((name) => name.endsWith('.webp'));
  const sizes = await Promise.all(copies.map(async (name) => [name, await sharp(out[name]).metadata()] as const));
  for (const [name, { width, height, format, orientation }] of sizes) {
    expect(format).toBe('webp');
    expect(orientation ?? 1).toBe(1);
    expect(width).toBe(Number(/-(\d+)\.webp$/.exec(name)![1]));
    // The tall one is stored on its side, and shown upright.
    expect(width! / height!).toBeCloseTo(name.startsWith('tall') ? 2 / 3 : 1.5, 1);
  }
  const widthsOf = (base: string): number[] =>
    copies.flatMap((name) => (name.startsWith(base) ? [Number(/-(\d+)\./.exec(name)![1])] : [])).sort((a, b) => b - a);
  // 2,560 px at most need up to 5,120: the picture itself is the widest choice, and 320 the least that is needed.
  expect(widthsOf('wide')).toEqual([1600, 1067, 711, 474]);
  // Drawn 300 px wide, on dense screens 600; it has 800 across.
  expect(widthsOf('tall')).toEqual([600, 400]);
  expect(widthsOf('small')).toEqual([]);
  const html = strFromU8(out['index.html']!);
  expect(html).toContain('wide.jpg 2400w');
  expect(html).toMatch(/<img srcset="wide[^>]* sizes="100vw" fetchpriority="high" src="wide.jpg"/);
  expect(html).toMatch(/<img srcset="tall[^>]* sizes="300px" loading="lazy" decoding="async" src="tall.jpg"/);
  expect(html).not.toContain('tall.jpg 800w');
  expect(html).toMatch(/<img loading="lazy" decoding="async" src="moves.gif"/);
  expect(made).toMatchObject({
    copied: 2,
    later: 3,
    before: pictures['wide.jpg'].length + pictures['tall.jpg'].length,
  });
  // At two pixels to each of 390 the copies of 1,067 and of 600 suffice.
  const bytesOf = (name: string): number => out[name]!.length;
  expect(made.after).toBe(bytesOf('wide-1067.webp') + bytesOf('tall-600.webp'));
  expect(screensWords(made)).toMatch(
    /^smaller copies of 2 pictures, a telephone fetches [\d.]+ (kB|MB) instead of [\d.]+ MB, 3 pictures loaded later$/,
  );
});

test('what is no site comes back as it is, and a damaged picture stays what it is', async () => {
  const page = strToU8('<!doctype html><body><img src="data:,"></body>');
  expect((await forScreens(page, { copies: true, lazy: true, pictures: [] })).bytes).toBe(page);
  const good = await noise(600, 400);
  const bytes = zipSync({
    'index.html': strToU8('<!doctype html><img src="a.jpg" alt="">'),
    'a.jpg': good.slice(0, good.length / 3),
  });
  const made = await forScreens(bytes, {
    copies: true,
    lazy: false,
    pictures: [{ n: 1, below: false, boxes: boxes(() => 200, 1.5) }],
  });
  expect(Object.keys(unzipSync(made.bytes)).sort()).toEqual(['a.jpg', 'index.html']);
  expect(screensWords(made)).toBe('no picture that needs copies');
});
