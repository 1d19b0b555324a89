import { strToU8, unzipSync, zipSync } from 'fflate';
import { expect, handbook, openOnBench, test } from './steps';

const parts = (): Record<string, Uint8Array> => unzipSync(handbook);
const repacked = (change: (p: Record<string, Uint8Array>) => void): Buffer => {
  const p = parts();
  change(p);
  return Buffer.from(zipSync(p));
};
const document = (p: Record<string, Uint8Array>): string => Buffer.from(p['word/document.xml']!).toString();

const cases: [string, () => Buffer, RegExp][] = [
  ['not a zip', () => Buffer.from('Dear members'), /not an office document/],
  ['a zip that is no document', () => Buffer.from(zipSync({ 'a.txt': strToU8('a') })), /not an office document/],
  ['a truncated document', () => handbook.subarray(0, 3_000_000), /cut off/],
  [
    'a bomb',
    () =>
      repacked((p) => {
        for (const name of Object.keys(p)) if (name.startsWith('word/media/')) delete p[name];
        p['word/fat.bin'] = new Uint8Array(80_000_000);
      }),
    /times its size/,
  ],
  ['a part that points outside', () => repacked((p) => (p['../../etc/x'] = new Uint8Array(3))), /outside of it/],
  [
    'a document type',
    () =>
      repacked(
        (p) =>
          (p['word/document.xml'] = strToU8(
            document(p).replace('<w:document', '<!DOCTYPE x [<!ENTITY a "b">]><w:document'),
          )),
      ),
    /document type/,
  ],
];

for (const [name, make, words] of cases)
  test(`${name} is told on the Shelf with what to do, and nothing stays behind`, async ({ page }) => {
    await page.goto('/');
    const before = ((await (await page.request.get('/api/works')).json()) as { works: unknown[] }).works.length;
    const chooser = page.waitForEvent('filechooser');
    await page.getByRole('button', { name: 'Open a file' }).click();
    await (await chooser).setFiles({ name: 'bad.docx', mimeType: 'application/octet-stream', buffer: make() });
    await expect(page.getByRole('alert')).toContainText(words);
    expect(((await (await page.request.get('/api/works')).json()) as { works: unknown[] }).works.length).toBe(before);
    await page.getByRole('button', { name: 'Close this message' }).click();
    await expect(page.getByRole('alert')).toHaveCount(0);
  });

test('linked, broken and far too large pictures are listed with their reason; nothing is fetched; the rest works', async ({
  page,
}) => {
  const asked: string[] = [];
  page.on('request', (r) => asked.push(r.url()));
  const buffer = repacked((p) => {
    const rels = 'word/_rels/document.xml.rels';
    p[rels] = strToU8(
      Buffer.from(p[rels]!)
        .toString()
        .replace('Target="media/three-bowls.jpg"', 'Target="http://pictures.example/bowls.jpg" TargetMode="External"'),
    );
    p['word/media/portrait-maren.jpg'] = strToU8('not a picture');
    const huge = p['word/media/logo.png']!.slice();
    new DataView(huge.buffer).setUint32(16, 10_100);
    new DataView(huge.buffer).setUint32(20, 10_000);
    p['word/media/logo.png'] = huge;
  });
  await openOnBench(page, { name: 'odd.docx', mimeType: 'application/octet-stream', buffer });
  for (const [n, words] of [
    [1, 'linked from'],
    [2, 'not a picture'],
    [17, '101 megapixels'],
  ] as const) {
    await page.locator(`#run-${n}`).click();
    await expect(page.getByRole('note')).toContainText(words);
  }
  await page.locator('#run-3').click();
  await expect(page.getByRole('note')).toHaveCount(0);
  expect(asked.filter((u) => u.includes('pictures.example'))).toEqual([]);
});

test('a file dropped onto the Shelf opens', async ({ page }) => {
  await page.goto('/');
  const data = await page.evaluateHandle((bytes) => {
    const transfer = new DataTransfer();
    transfer.items.add(new File([Uint8Array.from(atob(bytes), (c) => c.charCodeAt(0))], 'dropped.docx'));
    return transfer;
  }, handbook.toString('base64'));
  await page.dispatchEvent('gable-shelf', 'drop', { dataTransfer: data });
  await page.waitForURL(/\/work\//);
  await expect(page.getByRole('heading', { name: 'dropped' })).toBeVisible();
});

test('a work that is not there says so', async ({ page }) => {
  await page.goto('/work/3f0e3c52-6a39-4d9c-9b6e-000000000000');
  await expect(page.getByRole('alert')).toContainText('This work does not exist');
});
