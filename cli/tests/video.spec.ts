/** `gable video` as it is called, from its built form: the demo's own video, in files that hold some and in those that do not. */
import { openFile } from '@gable/formats';
import { existsSync, mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import { strFromU8, unzipSync } from 'fflate';
import { gable } from './support/gable';

const WHEEL = path.resolve('demo/files/pictures/turning-wheel.mp4');
const POSTER = path.resolve('demo/files/pictures/turning-wheel.jpg');
const demo = (name: string): string => path.resolve('demo/files', name);
let folder: string;
beforeEach(() => (folder = mkdtempSync(path.join(os.tmpdir(), 'gable-video-'))));
afterEach(() => rmSync(folder, { recursive: true }));
const opened = (file: string): ReturnType<typeof openFile> => openFile(new Uint8Array(readFileSync(file)));

test('a picture of a talk becomes a video with its poster, and a picture again', () => {
  const out = path.join(folder, 'moving.pptx');
  const said = gable(
    ...['video', demo('open-day-talk.pptx'), '--out', out, '--video', WHEEL, '--poster', POSTER],
    ...['--pick', '1', '--start', '0.5', '--end', '3', '--auto', '--loop', '--muted'],
  );
  expect([said.status, said.out]).toEqual([0, `Picture 1 is a video now; wrote ${out}.\n`]);
  const parts = unzipSync(readFileSync(out));
  expect(Buffer.from(parts['ppt/media/gable-video1.mp4']!).equals(readFileSync(WHEEL))).toBe(true);
  const file = opened(out);
  expect(file.pictures[0]!.frame.video).toMatchObject({
    play: { automatic: true, loop: true, muted: true },
    start: 0.5,
  });
  expect(Buffer.from(file.pictureBytes(1)).equals(readFileSync(POSTER))).toBe(true);
  // What is left off at the end is told from there: the video has four seconds.
  const slide = Object.keys(parts).find(
    (n) => /slides\/slide\d+\.xml$/.test(n) && strFromU8(parts[n]!).includes('p14:media'),
  );
  expect(strFromU8(parts[slide!]!)).toContain('<p14:trim st="500" end="1000"/>');
  const still = path.join(folder, 'still.pptx');
  expect(gable('video', out, '--out', still, '--remove').status).toBe(0);
  expect(opened(still).pictures[0]!.frame.video).toBeUndefined();
});

test('a page of one file and a drawing have it within', () => {
  for (const [name, at] of [
    ['firing-day-board.svg', 1],
    ['visit-us.zip', 2],
  ] as const) {
    const out = path.join(folder, name);
    const call = ['video', demo(name), '--out', out, '--video', WHEEL, '--poster', POSTER, '--pick', String(at)];
    expect(gable(...call, '--no-controls').status).toBe(0);
    expect(opened(out).pictures[at - 1]!.frame.video!.play.controls).toBe(false);
    const data = readFileSync(out);
    const held = name.endsWith('.zip')
      ? Buffer.from(Object.entries(unzipSync(data)).find(([n]) => n.endsWith('.mp4'))![1])
      : Buffer.from(/base64,([^"#]+)" poster/.exec(data.toString('utf8'))![1]!, 'base64');
    expect(held.equals(readFileSync(WHEEL))).toBe(true);
  }
});

/** By WebVTT §1.1: the name of the format, and a caption with its times. */
const VTT = 'WEBVTT\n\n00:00.000 --> 00:02.000\nThe wheel turns.\n';
const captions = (text = VTT): string => {
  const file = path.join(folder, 'wheel.vtt');
  writeFileSync(file, text);
  return file;
};

test('a video of a web page gets captions, with it or later, and keeps its data', () => {
  const [both, later, out] = ['both.zip', 'plain.zip', 'later.zip'].map((name) => path.join(folder, name)) as [
    string,
    string,
    string,
  ];
  const call = ['video', demo('visit-us.zip'), '--video', WHEEL, '--poster', POSTER, '--pick', '2', '--out'];
  expect(gable(...call, both, '--captions', captions(), '--language', 'en-GB').status).toBe(0);
  expect(opened(both).pictures[1]!.frame.video!.captions).toEqual({ language: 'en-GB', text: VTT });
  expect(gable(...call, later).status).toBe(0);
  const said = gable('video', later, '--captions', captions(), '--pick', '2', '--out', out);
  expect([said.status, said.out]).toEqual([0, `Picture 2 is captioned; wrote ${out}.\n`]);
  expect(opened(out).pictures[1]!.frame.video!.captions).toEqual({ language: 'en', text: VTT });
  const parts = unzipSync(readFileSync(out));
  const clip = Object.entries(parts).find(([name]) => name.endsWith('.mp4'))![1];
  expect(Buffer.from(clip).equals(readFileSync(WHEEL))).toBe(true);
});

test.each([
  ['in slides', ['open-day-talk.pptx', '--video', WHEEL, '--poster', POSTER], VTT, 'Captions cannot go into', 1],
  ['of a picture', ['visit-us.zip', '--pick', '1'], VTT, 'Picture 1 is no video', 2],
  ['that are none', ['visit-us.zip', '--video', WHEEL, '--poster', POSTER], 'Words', 'is not a WebVTT file', 1],
  ['in no language', ['visit-us.zip', '--language', '?'], VTT, '“?” is no language', 2],
])('captions %s are refused, and nothing is written', (_what, [name, ...more], text, words, status) => {
  const out = path.join(folder, 'none');
  const said = gable('video', demo(name!), '--out', out, '--captions', captions(text), ...more);
  expect(said.err).toContain(words);
  expect([said.status, existsSync(out)]).toEqual([status, false]);
});

test.each([
  ['another ratio', ['open-day-talk.pptx', '--video', WHEEL, '--pick', '2'], 'one of them would be squashed', 2],
  [
    'a text',
    ['season-handbook.docx', '--video', WHEEL, '--poster', POSTER],
    'cannot be a video in this kind of file (docx)',
    1,
  ],
  ['no video', ['open-day-talk.pptx', '--video', POSTER], 'is not a video that Gable can use', 1],
  ['no such file', ['open-day-talk.pptx', '--video', 'nowhere.mp4'], 'There is no file “nowhere.mp4”', 2],
  ['nothing', ['open-day-talk.pptx'], 'The video is missing', 2],
  [
    'an end before its start',
    ['open-day-talk.pptx', '--video', WHEEL, '--start', '3', '--end', '1'],
    'end before it begins',
    2,
  ],
  [
    'a moment behind its end',
    ['open-day-talk.pptx', '--video', WHEEL, '--start', '9'],
    '“9” is no moment of the video',
    2,
  ],
])('%s is refused, and nothing is written', (_what, [name, ...more], words, status) => {
  const out = path.join(folder, 'none');
  const said = gable('video', demo(name!), '--out', out, ...more);
  expect(said.err).toContain(words);
  expect([said.status, existsSync(out)]).toEqual([status, false]);
});
