/**
 * Videos in frames: Chromium plays them in their shape in the bench and on the page that is handed over. What moves moves inside the
 * shape (pixels that differ over time), and the corners stay clear; boxes at six widths are those of the page before; axe-core, WCAG 2.2.
 */
import type { Locator, Page } from '@playwright/test';
import { openFile } from '@gable/formats';
import { unzipSync, zipSync } from 'fflate';
import { createHash } from 'node:crypto';
import { readFileSync } from 'node:fs';
import { createServer, type Server } from 'node:http';
import type { AddressInfo } from 'node:net';
import path from 'node:path';
import sharp from 'sharp';
import { expect, openOnBench, saved, test, violations } from './steps';

const pictures = path.resolve(__dirname, '../../demo/files/pictures');
const WHEEL = path.join(pictures, 'turning-wheel.mp4');
const TALK = path.resolve(__dirname, '../../demo/files/open-day-talk.pptx');
const SIX = [320, 390, 768, 1280, 1920, 2560];
const AA = ['wcag2a', 'wcag2aa', 'wcag21a', 'wcag21aa', 'wcag22aa'];

/** Replaces the chosen picture by a file from disk. */
async function replaceBy(page: Page, file: string): Promise<void> {
  const chosen = page.waitForEvent('filechooser');
  await page.getByRole('button', { name: 'Replace picture' }).click();
  await page.getByRole('dialog').filter({ visible: true }).getByRole('button', { name: 'From this computer' }).click();
  await (await chosen).setFiles(file);
  await expect(page.getByRole('tab', { name: 'Video' })).toBeVisible();
}

/** Mean difference of two shots, in values of 255. */
async function differ(a: Buffer, b: Buffer): Promise<number> {
  const [p, q] = await Promise.all([a, b].map((shot) => sharp(shot).removeAlpha().raw().toBuffer()));
  let sum = 0;
  for (let i = 0; i < p!.length; i++) sum += Math.abs(p![i]! - q![i]!);
  return sum / p!.length;
}

/** What is seen in the lower middle of a box, and in its corner. */
async function seen(page: Page, at: Locator): Promise<{ inside: Buffer; corner: Buffer }> {
  const box = (await at.boundingBox())!;
  const clip = (x: number, y: number, share: number): { x: number; y: number; width: number; height: number } => ({
    ...{ x: box.x + x * box.width, y: box.y + y * box.height },
    ...{ width: share * box.width, height: share * box.height },
  });
  return {
    inside: await page.screenshot({ clip: clip(0.35, 0.55, 0.3) }),
    corner: await page.screenshot({ clip: clip(0.01, 0.01, 0.04) }),
  };
}

test('a video is put into a slide, plays in its shape by mouse and keyboard, and another moment of it becomes its poster', async ({
  page,
}) => {
  const id = await openOnBench(page, TALK);
  await replaceBy(page, WHEEL);
  await page.locator('#try-ellipse').click();
  await page.getByRole('tab', { name: 'Video' }).click();
  const settings = page.getByRole('region', { name: 'Settings' });
  const playing = page.locator('[data-playing]');
  await expect(playing).toHaveCount(0);
  await page.getByRole('button', { name: 'Play', exact: true }).click();
  await expect(page.locator('video')).toHaveJSProperty('paused', false);
  // It goes on, within its shape.
  const first = await seen(page, playing);
  await expect(async () =>
    expect(await differ(first.inside, (await seen(page, playing)).inside)).toBeGreaterThan(1),
  ).toPass();
  expect(await differ(first.corner, (await seen(page, playing)).corner)).toBeLessThan(0.5);
  expect(await violations(page, AA)).toEqual([]);
  await page.getByRole('button', { name: 'Pause' }).click();
  await expect(page.locator('video')).toHaveJSProperty('paused', true);

  // On the board with the keyboard.
  await page.getByRole('radio', { name: 'Close-up' }).click();
  await page.getByRole('application').focus();
  await page.keyboard.press('Space');
  await expect(page.locator('video')).toHaveJSProperty('paused', false);
  await page.keyboard.press('Space');
  await expect(page.locator('video')).toHaveJSProperty('paused', true);

  // Another moment is seen before it plays.
  const time = settings.getByRole('slider', { name: 'Time' });
  await time.fill('3');
  await settings.getByRole('button', { name: 'Use as poster' }).click();
  await expect(page.getByRole('button', { name: 'Undo “poster”' })).toBeVisible();
  await expect(playing).toHaveCount(0);
  await page.getByRole('option', { name: /^Loop/ }).click();
  await settings.getByRole('textbox', { name: 'Start' }).fill('0.5');
  await page.keyboard.press('Enter');
  await saved(page);

  const file = openFile(new Uint8Array(await (await page.request.get(`/api/works/${id}/file`)).body()));
  const { frame } = file.pictures[0]!;
  expect(frame.shape.name).toBe('ellipse');
  expect(frame.video).toEqual({
    source: { from: 'file', key: expect.stringMatching(/\.mp4$/), type: 'video/mp4' },
    play: { automatic: true, loop: true, muted: true, controls: true },
    start: 0.5,
  });
  // Its poster is the picture at three seconds, decoded by the browser itself.
  const at = await page.evaluate(
    async (address) => {
      const video = document.createElement('video');
      video.src = address;
      await new Promise((done) => video.addEventListener('loadeddata', done, { once: true }));
      video.currentTime = 3;
      await new Promise((done) => video.addEventListener('seeked', done, { once: true }));
      const canvas = Object.assign(document.createElement('canvas'), {
        width: video.videoWidth,
        height: video.videoHeight,
      });
      canvas.getContext('2d')!.drawImage(video, 0, 0);
      return canvas.toDataURL('image/png');
    },
    `/api/videos/${digestOf(WHEEL)}`,
  );
  expect(await differ(Buffer.from(at.split(',')[1]!, 'base64'), Buffer.from(file.pictureBytes(1)))).toBeLessThan(1);

  // Without it its poster stays.
  await settings.getByRole('button', { name: 'Remove the video, keep its poster' }).click();
  await expect(page.getByRole('tab', { name: 'Video' })).toHaveCount(0);
});

const digestOf = (file: string): string => createHash('sha256').update(readFileSync(file)).digest('hex');

const HTML =
  '<!doctype html><html lang="en"><head><meta charset="utf-8"><meta name="viewport" content="width=device-width"><title>Wheel</title>' +
  '<style>body{margin:0 auto;max-width:60em;padding:0 1em;background:#f4f0e7;font:17px/1.5 sans-serif}.i{display:block;width:100%;height:300px;object-fit:cover}</style>' +
  '</head><body><main><h1>The wheel</h1><p><img class="i" src="jug.jpg" alt="A turning wheel"></p><p>Come and try it.</p></main></body></html>';

/** Serves the files of a site. */
async function serve(files: Record<string, Uint8Array>): Promise<{ server: Server; address: string }> {
  const TYPES: Record<string, string> = {
    svg: 'image/svg+xml',
    html: 'text/html',
    mp4: 'video/mp4',
    jpg: 'image/jpeg',
    png: 'image/png',
    vtt: 'text/vtt',
  };
  const server = createServer((req, res) => {
    const name = decodeURIComponent((req.url ?? '/').slice(1).replace(/[?#].*$/, '')) || 'index.html';
    const data = files[name];
    if (!data) return void res.writeHead(404).end();
    res.writeHead(200, { 'Content-Type': TYPES[name.split('.').at(-1)!] ?? 'application/octet-stream' }).end(data);
  });
  await new Promise<void>((done) => server.listen(0, '127.0.0.1', done));
  return { server, address: `http://127.0.0.1:${(server.address() as AddressInfo).port}/` };
}

test('on a web page a video plays in its shape at every width, as large as the picture was', async ({
  page,
  context,
}) => {
  const before = {
    'index.html': new TextEncoder().encode(HTML),
    'jug.jpg': new Uint8Array(readFileSync(path.join(pictures, 'teapot.jpg'))),
  };
  const id = await openOnBench(page, {
    name: 'wheel.zip',
    mimeType: 'application/zip',
    buffer: Buffer.from(zipSync(before)),
  });
  await replaceBy(page, WHEEL);
  await page.locator('#try-ellipse').click();
  await page.getByRole('tab', { name: 'Video' }).click();
  await page.getByRole('option', { name: /^Loop/ }).click();
  // What is said can be read, too; what is no such file is refused, with what to do.
  const captioned = async (name: string, text: string): Promise<void> => {
    const asked = page.waitForEvent('filechooser');
    await page.getByRole('button', { name: 'Add captions' }).click();
    await (await asked).setFiles({ name, mimeType: 'text/vtt', buffer: Buffer.from(text) });
  };
  await captioned('wheel.srt', '1\n00:00:01,000 --> 00:00:03,000\nRound it goes.\n');
  await expect(page.getByText('“wheel.srt” is not a WebVTT file.')).toBeVisible();
  await captioned('wheel.vtt', 'WEBVTT\n\n00:00.100 --> 00:03.000\nRound it goes.\n');
  await expect(page.getByText('1 line', { exact: true })).toBeVisible();
  await page.getByRole('combobox', { name: 'Language of the captions' }).selectOption('fr');
  await expect(page.getByRole('button', { name: 'Undo “captions”' })).toBeVisible();
  expect(await violations(page, AA)).toEqual([]);
  await saved(page);
  const after = unzipSync(new Uint8Array(await (await page.request.get(`/api/works/${id}/file`)).body()));
  const [old, now] = await Promise.all([serve(before), serve(after)]);
  try {
    const shown = await context.newPage();
    for (const width of SIX) {
      await shown.setViewportSize({ width, height: 800 });
      await shown.goto(old.address);
      const was = (await shown.locator('img').boundingBox())!;
      await shown.goto(now.address);
      const video = shown.locator('video');
      await expect(video).toHaveJSProperty('paused', false);
      const is = (await video.boundingBox())!;
      for (const side of ['x', 'y', 'width', 'height'] as const)
        expect(Math.abs(is[side] - was[side]), `${side} at ${width}`).toBeLessThan(0.5);
      await expect.poll(() => video.evaluate((v: HTMLVideoElement) => v.currentTime)).toBeGreaterThan(0);
      const first = await seen(shown, video);
      await expect(async () =>
        expect(await differ(first.inside, (await seen(shown, video)).inside)).toBeGreaterThan(1),
      ).toPass();
      // Its corners are the page.
      const { data } = await sharp(first.corner).removeAlpha().raw().toBuffer({ resolveWithObject: true });
      expect([data[0], data[1], data[2]]).toEqual([0xf4, 0xf0, 0xe7]);
      expect(await shown.evaluate(() => document.documentElement.scrollWidth <= innerWidth)).toBe(true);
    }
    expect(await violations(shown, AA)).toEqual([]);
    // A reader asks for the captions, and the browser shows them.
    const words = shown.locator('video').evaluate(async (video: HTMLVideoElement) => {
      const track = video.textTracks[0]!;
      track.mode = 'showing';
      while (!track.cues?.length) await new Promise((done) => setTimeout(done, 20));
      return [track.kind, track.language, (track.cues[0] as VTTCue).text];
    });
    expect(await words).toEqual(['captions', 'fr', 'Round it goes.']);
  } finally {
    old.server.close();
    now.server.close();
  }
});

test('in a drawing a video plays in its shape, and drawings of others show its poster', async ({ page, context }) => {
  const id = await openOnBench(page, path.resolve(__dirname, '../../demo/files/firing-day-board.svg'));
  await replaceBy(page, WHEEL);
  await page.locator('#try-ellipse').click();
  await page.getByRole('tab', { name: 'Video' }).click();
  await page.getByRole('option', { name: /^Loop/ }).click();
  await saved(page);
  const drawing = new Uint8Array(await (await page.request.get(`/api/works/${id}/file`)).body());
  const { server, address } = await serve({ 'board.svg': drawing });
  try {
    const shown = await context.newPage();
    await shown.goto(`${address}board.svg`);
    const video = shown.locator('video');
    await expect(video).toHaveJSProperty('paused', false);
    await expect.poll(() => video.evaluate((v: HTMLVideoElement) => v.currentTime)).toBeGreaterThan(0);
    // Of its picture the shape shows a part: the middle of that moves, and what is cut off does not.
    const box = (await video.boundingBox())!;
    const shot = (x: number, y: number): Promise<Buffer> =>
      shown.screenshot({ clip: { x: box.x + x * box.width, y: box.y + y * box.height, width: 30, height: 16 } });
    const [middle, corner] = [await shot(0.45, 0.6), await shot(0, 0)];
    await expect(async () => expect(await differ(middle, await shot(0.45, 0.6))).toBeGreaterThan(1)).toPass();
    expect(await differ(corner, await shot(0, 0))).toBeLessThan(0.5);
  } finally {
    server.close();
  }
});

/** A GIF of two pictures, one after the other, for ever. */
async function blinking(first: string, second: string): Promise<Buffer> {
  const [width, height] = [240, 160];
  const each = await Promise.all(
    [first, second].map((background) =>
      sharp({ create: { width, height, channels: 3, background } })
        .raw()
        .toBuffer(),
    ),
  );
  return sharp(Buffer.concat(each), { raw: { width, height: 2 * height, channels: 3, pageHeight: height } })
    .gif({ delay: [200, 200], loop: 0 })
    .toBuffer();
}

test('a picture that moves by itself is played in its shape, in its tone and beneath its outline, by mouse and keyboard', async ({
  page,
}) => {
  await openOnBench(page, TALK);
  const chosen = page.waitForEvent('filechooser');
  await page.getByRole('button', { name: 'Replace picture' }).click();
  await page.getByRole('dialog').filter({ visible: true }).getByRole('button', { name: 'From this computer' }).click();
  await (
    await chosen
  ).setFiles({ name: 'blink.gif', mimeType: 'image/gif', buffer: await blinking('#ff0000', '#00ff00') });
  const play = page.getByRole('button', { name: 'Play', exact: true });
  await expect(play).toBeVisible();
  await page.locator('#try-ellipse').click();
  const playing = page.locator('[data-playing]');
  await expect(playing).toHaveCount(0);
  await page.getByRole('application').focus();
  await page.keyboard.press('Space');
  await expect(playing).toBeVisible();
  const middle = async (): Promise<number[]> => {
    const png = (await seen(page, playing)).inside;
    const { channels } = await sharp(png).removeAlpha().stats();
    return channels.map((c) => Math.round(c.mean));
  };
  const first = await seen(page, playing);
  await expect.poll(middle).toEqual([255, 0, 0]);
  await expect.poll(middle).toEqual([0, 255, 0]);
  expect(await differ(first.corner, (await seen(page, playing)).corner)).toBeLessThan(0.5);
  expect(await violations(page, AA)).toEqual([]);
  await page.keyboard.press('Space');
  await expect(playing).toHaveCount(0);
  // Without colour it plays without colour (equal channels are grey; sRGB, IEC 61966-2-1).
  await page.getByRole('tab', { name: 'Tone' }).click();
  await page.getByRole('textbox', { name: 'Saturation' }).fill('0');
  await page.keyboard.press('Enter');
  await play.click();
  await expect
    .poll(async () => {
      const [r, g, b] = await middle();
      return r === g && g === b;
    })
    .toBe(true);
  // Another picture: nothing goes on.
  await page.getByRole('option', { name: /^Picture 2/ }).click();
  await expect(playing).toHaveCount(0);
  await expect(play).toHaveCount(0);
});
