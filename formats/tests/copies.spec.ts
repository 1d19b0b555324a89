/** Copies of pictures beside them, as the pages of a site name them (HTML §4.8.3, §4.8.4.2): nothing else of the site is written anew. */
import { strFromU8, strToU8, unzipSync, zipSync } from 'fflate';
import { parse, type DefaultTreeAdapterTypes } from 'parse5';
import { openFile, withFrames, type SitePicture } from '../src/index';
import { png } from './support/build';

type Element = DefaultTreeAdapterTypes.Element;
const images = (html: string): Record<string, string>[] => {
  const out: Record<string, string>[] = [];
  const visit = (node: DefaultTreeAdapterTypes.Node): void => {
    if ('tagName' in node && node.tagName === 'img')
      out.push(Object.fromEntries((node as Element).attrs.map((a) => [a.name, a.value])));
    if ('childNodes' in node) node.childNodes.forEach(visit);
  };
  visit(parse(html));
  return out;
};
const HTML =
  '<!doctype html><html><body><h1>Pots</h1><p><img src="img/blue%20pot,%20large.png" alt="Blue"></p>' +
  '<p><img loading="eager" src="img/blue%20pot,%20large.png" alt="Again"></p>' +
  '<picture><source srcset="a.webp"><img src="img/red.png" alt="Red"></picture><img src="img/red.png" srcset="img/red.png 40w" alt="Red again"></body></html>';
const site = async (): Promise<Uint8Array> =>
  zipSync({
    'index.html': strToU8(HTML),
    'img/blue pot, large.png': await png(60, 40),
    'img/red.png': await png(40, 40),
    'img/blue pot, large-30.webp': strToU8('taken'),
  });
const copy = (width: number): { width: number; bytes: Uint8Array } => ({ width, bytes: strToU8(`webp ${width}`) });
const told = (n: number, more: Partial<SitePicture> = {}): SitePicture => ({
  ...{ n, copies: [copy(30), copy(20)], sizes: '100vw', self: 60, lazy: false, first: false },
  ...more,
});
const partsOf = (bytes: Uint8Array): Record<string, Uint8Array> => unzipSync(bytes);

test('a picture names its copies and itself; one that two show stands there once; what a page says already stays', async () => {
  const bytes = await site();
  const file = openFile(bytes);
  const out = partsOf(file.withCopies!([told(1, { first: true }), told(2, { lazy: true }), told(3), told(4)]));
  expect(Object.keys(out).sort()).toEqual(
    [...Object.keys(partsOf(bytes)), 'img/blue pot, large-30-1.webp', 'img/blue pot, large-20.webp'].sort(),
  );
  expect(strFromU8(out['img/blue pot, large-30.webp']!)).toBe('taken');
  expect(strFromU8(out['img/blue pot, large-30-1.webp']!)).toBe('webp 30');
  const [blue, again, red, redAgain] = images(strFromU8(out['index.html']!));
  const srcset =
    'img/blue%20pot%2C%20large-30-1.webp 30w, img/blue%20pot%2C%20large-20.webp 20w, img/blue%20pot%2C%20large.png 60w';
  expect(blue).toEqual({
    src: 'img/blue%20pot,%20large.png',
    alt: 'Blue',
    srcset,
    sizes: '100vw',
    fetchpriority: 'high',
  });
  // It is loaded eagerly, as its page says.
  expect(again).toMatchObject({ loading: 'eager', decoding: 'async', srcset });
  for (const own of [red, redAgain]) expect(own).not.toHaveProperty('sizes');
  const bare = strFromU8(out['index.html']!).replace(
    / (srcset="img\/blue[^"]*"|sizes="100vw"|fetchpriority="high"|decoding="async")/g,
    '',
  );
  expect(bare).toBe(HTML);
});

test('frames are what they were, and what needs nothing gets nothing', async () => {
  const file = openFile(await site());
  const framed = openFile(
    file.write(withFrames(file, [{ ...file.pictures[0]!.frame, shape: { name: 'ellipse', knobs: {} } }])),
  );
  const again = openFile(framed.withCopies!([told(1)]));
  expect(again.pictures.map((p) => p.frame)).toEqual(framed.pictures.map((p) => p.frame));
  const bytes = await site();
  const nothing = openFile(bytes).withCopies!([told(1, { copies: [], sizes: null, self: null })]);
  expect(partsOf(nothing)).toEqual(partsOf(bytes));
});

test('only pictures that lie in files have copies beside them', async () => {
  const file = openFile(await site());
  expect([1, 2, 3, 4].map((n) => file.besidePage!(n)?.name ?? null)).toEqual([
    ...['img/blue pot, large.png', 'img/blue pot, large.png'],
    ...[null, null],
  ]);
  expect(openFile(strToU8('<!doctype html><body><img src="data:,"></body>')).withCopies).toBeUndefined();
});
