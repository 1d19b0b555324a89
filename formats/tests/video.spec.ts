/**
 * Videos in files: what says so is written and nothing else, others find them (`pptxtojson`, `fflate`, parse5), and taken out again the
 * file says what it said. Elements of slides by ISO/IEC 29500-1 §19.3.1.33 (nvPr), §19.5; attributes by HTML §4.8.8 and §4.8.11;
 * addresses by Media Fragments 1.0 §4.2.1.
 */
import { apply, type Frame, type Video } from '@gable/core';
import { Resvg } from '@resvg/resvg-js';
import { strFromU8, unzipSync } from 'fflate';
import { createHash } from 'node:crypto';
import { readFileSync } from 'node:fs';
import { parse as parseHtml, serialize } from 'parse5';
import { parse } from 'pptxtojson';
import { crc32, FEATURES, filled, openFile, readArchive, readEntry, withFrames, type Source } from '../src/index';

/** Not a video: no codec looks into its data. */
const DATA = Uint8Array.from({ length: 200_001 }, (_, i) => (i * 7919) % 251);
const sha256 = createHash('sha256').update(DATA).digest('hex');
const REST = { automatic: false, loop: false, muted: false, controls: false };
/** Programs for slides show by themselves what a video is steered by. */
const SHOWN = { ...REST, controls: true };
const kept = (more: Partial<Video> = {}): Video => ({
  source: {
    ...{ from: 'kept', sha256, name: 'wheel.mp4', type: 'mp4', bytes: DATA.length, crc: crc32(DATA), seconds: 12 },
    size: { width: 1280, height: 720 },
  },
  play: SHOWN,
  ...more,
});

async function* inPieces(): AsyncGenerator<Uint8Array> {
  for (let at = 0; at < DATA.length; at += 65_536) yield DATA.subarray(at, at + 65_536);
}
async function done(bytes: Uint8Array): Promise<Uint8Array> {
  const pieces: Uint8Array[] = [];
  const all = filled(bytes, (asked) => {
    expect(asked).toBe(sha256);
    return inPieces();
  });
  if (all instanceof Uint8Array) return all;
  for await (const piece of all) pieces.push(piece);
  return new Uint8Array(Buffer.concat(pieces));
}

const demo = (name: string): Source => openFile(new Uint8Array(readFileSync(`demo/files/${name}`)));
const frameOf = (file: Source, n: number): Frame => file.pictures.find((p) => p.n === n)!.frame;
const withVideo = (file: Source, n: number, video: Video | undefined): Uint8Array => {
  const { video: was, ...frame } = frameOf(file, n);
  void was;
  return file.write(withFrames(file, [{ ...frame, ...(video && { video }) }]));
};
/** A picture of a slide that can be a video: no shape with a fill. */
const onSlide = (file: Source): number =>
  file.pictures.find(
    (p) =>
      p.where.place === 'slide' &&
      !file.fidelity(withFrames(file, [{ ...p.frame, video: kept() }])).get(`p${p.n}`)!.unsupported.length,
  )!.n;

describe('in slides', () => {
  const file = demo('open-day-talk.pptx');
  const n = onSlide(file);
  const { part } = file.pictures.find((p) => p.n === n)!.where;

  test('a picture becomes a video: its data, two relationships, its poster and its place, and nothing else changes', async () => {
    const out = await done(withVideo(file, n, kept({ start: 2, end: 10.5 })));
    const [was, is] = [unzipSync(file.write(file.document)), unzipSync(out)] as [
      Record<string, Uint8Array>,
      Record<string, Uint8Array>,
    ];
    const changed = Object.keys(is).filter((name) => !was[name] || strFromU8(was[name]) !== strFromU8(is[name]!));
    const rels = part.replace('slides/', 'slides/_rels/') + '.rels';
    expect(new Set(changed)).toEqual(new Set(['[Content_Types].xml', part, rels, 'ppt/media/gable-video1.mp4']));
    expect(Buffer.from(is['ppt/media/gable-video1.mp4']!).equals(Buffer.from(DATA))).toBe(true);
    // Its own sums are told truly: they are counted again on reading.
    const archive = readArchive(out);
    const entry = archive.entries.find((e) => e.name === 'ppt/media/gable-video1.mp4')!;
    expect(readEntry(archive, entry)).toHaveLength(DATA.length);
    expect(strFromU8(is['[Content_Types].xml']!)).toContain('Extension="mp4" ContentType="video/mp4"');
    const [link, embed] = ['/relationships/video"', '/2007/relationships/media"'].map(
      (type) => new RegExp(`Id="([^"]+)" Type="[^"]*${type}[^>]*gable-video1.mp4`).exec(strFromU8(is[rels]!))![1]!,
    );
    const xml = strFromU8(is[part]!);
    expect(xml).toMatch(new RegExp(`<p:nvPr[^>]*>(<p:ph[^>]*>)?<a:videoFile r:link="${link}"/><p:extLst><p:ext `));
    expect(xml).toMatch(new RegExp(`<p14:media [^>]*r:embed="${embed}"><p14:trim st="2000" end="1500"/></p14:media>`));
    // Behind the colour map and a transition comes the timing (§19.3.1.38).
    expect(xml).toMatch(/<\/p:cSld>(<p:clrMapOvr>.*?<\/p:clrMapOvr>)?(<p:transition.*?)?<p:timing>/s);
  });

  test('another reader finds the video in the picture’s place, with its data', async () => {
    const out = await done(withVideo(file, n, kept()));
    const { slides } = (await parse(Uint8Array.from(out).buffer)) as unknown as {
      slides: { elements: { type: string; left: number; top: number; width: number; blob?: string; src?: string }[] }[];
    };
    const page = file.pictures.find((p) => p.n === n)!.where.page!;
    const videos = slides[page - 1]!.elements.filter((e) => e.type === 'video');
    expect(videos).toHaveLength(1);
    const { box } = frameOf(file, n);
    expect(videos[0]!.left).toBeCloseTo(box.x, 1);
    expect(videos[0]!.top).toBeCloseTo(box.y, 1);
    expect(videos[0]!.width).toBeCloseTo(box.width, 1);
  });

  test.each([
    ['waits for a click', SHOWN],
    ['begins by itself', { ...SHOWN, automatic: true }],
    ['goes on without a sound', { ...SHOWN, automatic: true, loop: true, muted: true }],
    ['is not heard', { ...SHOWN, muted: true }],
  ])('read again it %s', async (_what, play) => {
    const again = openFile(await done(withVideo(file, n, kept({ play, start: 1.5 }))));
    expect(frameOf(again, n).video).toEqual({
      source: { from: 'file', key: 'ppt/media/gable-video1.mp4', type: 'video/mp4' },
      play,
      start: 1.5,
    });
    // All else of it is as it was.
    expect({ ...frameOf(again, n), video: undefined }).toEqual({ ...frameOf(file, n), video: undefined });
  });

  /** An element that was filled and emptied has a closing tag. */
  const plain = (xml: string): string => xml.replaceAll('></p:cNvPr>', '/>');

  test('a video that becomes a picture again leaves its slide as it was', async () => {
    const moving = openFile(await done(withVideo(file, n, kept({ play: { ...SHOWN, automatic: true } }))));
    const out = unzipSync(withVideo(moving, n, undefined));
    expect(plain(strFromU8(out[part]!))).toBe(strFromU8(unzipSync(file.write(file.document))[part]!));
  });

  test('how it plays is changed alone; where it was cut off stays', async () => {
    const moving = openFile(await done(withVideo(file, n, kept({ start: 2, end: 10 }))));
    const { video } = frameOf(moving, n);
    const out = withVideo(moving, n, { ...video!, play: { ...SHOWN, loop: true } });
    const xml = strFromU8(unzipSync(out)[part]!);
    expect(xml).toContain('<p14:trim st="2000" end="2000"/>');
    expect(xml.match(/repeatCount="indefinite"/g)).toHaveLength(1);
    expect(xml.match(/<p:cMediaNode/g)).toHaveLength(1);
    expect(frameOf(openFile(out), n).video).toEqual({ ...video, play: { ...SHOWN, loop: true } });
  });

  test('a video is deleted with what is said of how it plays', async () => {
    const moving = openFile(await done(withVideo(file, n, kept({ play: { ...SHOWN, automatic: true } }))));
    const { document } = apply(moving.document, { op: 'remove', id: `p${n}` });
    const xml = strFromU8(unzipSync(moving.write(document))[part]!);
    expect(xml).not.toMatch(/p:timing|videoFile/);
  });

  test('steps that a slide has for other shapes stay, with numbers that are used once', async () => {
    // A shape that comes in with the talk, as in §19.5 (anim); its number is no picture's.
    const timing =
      '<p:timing><p:tnLst><p:par><p:cTn id="1" dur="indefinite" restart="never" nodeType="tmRoot"><p:childTnLst>' +
      '<p:seq concurrent="1" nextAc="seek"><p:cTn id="2" dur="indefinite" nodeType="mainSeq"><p:childTnLst>' +
      '<p:par><p:cTn id="3" fill="hold"><p:stCondLst><p:cond delay="indefinite"/></p:stCondLst><p:childTnLst>' +
      '<p:set><p:cBhvr><p:cTn id="4" dur="1"/><p:tgtEl><p:spTgt spid="9001"/></p:tgtEl></p:cBhvr></p:set>' +
      '</p:childTnLst></p:cTn></p:par></p:childTnLst></p:cTn></p:seq></p:childTnLst></p:cTn></p:par></p:tnLst></p:timing>';
    const { zipSync } = await import('fflate');
    const parts = unzipSync(file.write(file.document));
    const before = strFromU8(parts[part]!).replace(/(<\/p:clrMapOvr>|<p:clrMapOvr\/>)/, `$1${timing}`);
    expect(before).toContain('spid="9001"');
    const stepped = openFile(zipSync({ ...parts, [part]: Buffer.from(before) }, { mtime: new Date(2020, 1, 1) }));
    const moving = openFile(await done(withVideo(stepped, n, kept({ play: { ...SHOWN, automatic: true } }))));
    const xml = strFromU8(unzipSync(moving.write(moving.document))[part]!);
    const numbers = [...xml.matchAll(/<p:cTn id="(\d+)"/g)].map((m) => m[1]);
    expect(new Set(numbers).size).toBe(numbers.length);
    expect(xml).toContain('spid="9001"');
    expect(xml).toContain('<p:tn val="2"/>');
    expect(frameOf(moving, n).video!.play.automatic).toBe(true);
    expect(plain(strFromU8(unzipSync(withVideo(moving, n, undefined))[part]!))).toBe(before);
  });
});

describe('on web pages', () => {
  const site = demo('visit-us.zip');
  const pageOf = (bytes: Uint8Array): string =>
    strFromU8(Object.entries(unzipSync(bytes)).find(([name]) => name.endsWith('index.html'))![1]);
  const videosIn = (html: string): string[] => /<video[^>]*>/g.exec(serialize(parseHtml(html))) as unknown as string[];

  test('an image becomes a video in its place, with its poster, its words and its data beside the page', async () => {
    const play = { automatic: true, loop: true, muted: true, controls: true };
    const before = frameOf(site, 1);
    const out = await done(withVideo(site, 1, kept({ play, start: 1, end: 4.5 })));
    const [tag] = videosIn(pageOf(out));
    expect(tag).toMatch(/src="gable1\.mp4#t=1,4\.5"/);
    expect(tag).toMatch(/ poster="[^"]+"/);
    expect(tag).toContain(`aria-label="${before.alt}"`);
    for (const flag of ['autoplay', 'loop', 'muted', 'controls', 'playsinline']) expect(tag).toContain(` ${flag}=""`);
    const data = Object.entries(unzipSync(out)).find(([name]) => name.endsWith('gable1.mp4'))!;
    expect(Buffer.from(data[1]).equals(Buffer.from(DATA))).toBe(true);
    const again = openFile(out);
    expect(again.pictures).toHaveLength(site.pictures.length);
    expect(frameOf(again, 1)).toEqual({
      ...before,
      video: { source: { from: 'file', key: 'gable1.mp4', type: '' }, play, start: 1, end: 4.5 },
    });
    expect(again.pictureBytes(1)).toEqual(site.pictureBytes(1));
    // The way back.
    const still = withVideo(again, 1, undefined);
    expect(pageOf(still)).not.toContain('<video');
    expect(frameOf(openFile(still), 1)).toEqual(before);
  });

  test('a page of one file has its video in its address', async () => {
    const page = openFile(
      new TextEncoder().encode(
        `<!doctype html><title>A</title><p><img class="own" src="data:image/gif;base64,R0lGODlhAQABAAAAACH5BAEKAAEALAAAAAABAAEAAAICTAEAOw==" alt="A wheel" width="320" height="180">`,
      ),
    );
    const out = new TextDecoder().decode(await done(withVideo(page, 1, kept())));
    const [, data] = / src="data:video\/mp4;base64,([^"#]+)"/.exec(out)!;
    expect(Buffer.from(data!, 'base64').equals(Buffer.from(DATA))).toBe(true);
    expect(out).toMatch(/<video [^>]*class="own"[^>]*width="320"[^>]*><\/video>/);
    expect(out).toContain(' preload="none"');
  });

  test('videos that a page has itself stay as they are, and pictures keep their numbers', () => {
    const own =
      '<!doctype html><title>A</title><video poster="a.png" controls><source src="a.webm"><track src="a.vtt"></video>' +
      '<img src="data:image/gif;base64,R0lGODlhAQABAAAAACH5BAEKAAEALAAAAAABAAEAAAICTAEAOw==" alt="A wheel" width="320" height="180">';
    const file = openFile(new TextEncoder().encode(own));
    expect(file.pictures.map((p) => [p.n, p.frame.alt])).toEqual([[1, 'A wheel']]);
    const out = new TextDecoder().decode(withVideo(file, 1, kept()));
    expect(out).toContain(own.slice(own.indexOf('<video'), own.indexOf('<img')));
    expect(openFile(new TextEncoder().encode(out)).pictures).toHaveLength(1);
  });

  test('one in a frame gets another shape; its data, its tracks and what it does stay', async () => {
    const play = { ...REST, loop: true, controls: true };
    const parts = unzipSync(await done(withVideo(site, 1, kept({ play, start: 2 }))));
    const name = Object.keys(parts).find((n) => n.endsWith('index.html'))!;
    // Captions that somebody added by hand.
    const told = strFromU8(parts[name]!).replace('</video>', '<track src="a.vtt"></video>');
    const { zipSync } = await import('fflate');
    const again = openFile(zipSync({ ...parts, [name]: Buffer.from(told) }, { mtime: new Date(2020, 1, 1) }));
    const before = frameOf(again, 1);
    const shaped = again.write(withFrames(again, [{ ...before, shape: { name: 'hexagon', knobs: {} } }]));
    expect(pageOf(shaped)).toMatch(/<video src="gable1\.mp4#t=2" [^>]*><track src="a\.vtt"><\/video>/);
    expect(frameOf(openFile(shaped), 1)).toMatchObject({ shape: { name: 'hexagon' }, video: { play, start: 2 } });
    const still = { ...before.video!, play: { ...play, loop: false } };
    const other = again.write(withFrames(again, [{ ...before, video: still }]));
    expect(pageOf(other)).toMatch(/<video [^>]*><track src="a\.vtt"><\/video>/);
    expect(frameOf(openFile(other), 1)).toEqual({ ...before, video: still });
  });

  const captions = { language: 'en', text: 'WEBVTT\n\n00:01.000 --> 00:03.000\nThe wheel “turns”.\n' };

  test('captions are a track of it, whose words are beside the page (HTML §4.8.11.1); other ones, and none, change that alone', async () => {
    const out = await done(withVideo(site, 1, kept({ captions })));
    const tracks = (bytes: Uint8Array): string[] =>
      /<video[^>]*>(.*?)<\/video>/s.exec(pageOf(bytes))![1]!.match(/<track[^>]*>/g) ?? [];
    expect(tracks(out)).toEqual(['<track kind="captions" src="gable1.vtt" srclang="en">']);
    const words = Object.entries(unzipSync(out)).find(([name]) => name.endsWith('gable1.vtt'))!;
    expect(strFromU8(words[1])).toBe(captions.text);
    const again = openFile(out);
    const before = frameOf(again, 1);
    expect(before.video!.captions).toEqual(captions);
    // Another language changes that, and nothing of how it lies.
    const german = again.write(
      withFrames(again, [{ ...before, video: { ...before.video!, captions: { ...captions, language: 'de' } } }]),
    );
    expect(tracks(german)).toEqual(['<track kind="captions" src="gable2.vtt" srclang="de">']);
    const shown = (bytes: Uint8Array): string => pageOf(bytes).replace(/data-gable="[^"]*"/g, '');
    expect(shown(german).replace('gable2.vtt" srclang="de"', 'gable1.vtt" srclang="en"')).toBe(shown(out));
    expect(shown(out)).toContain('object-fit: cover !important');
    const { captions: was, ...silent } = before.video!;
    void was;
    const none = again.write(withFrames(again, [{ ...before, video: silent }]));
    expect(tracks(none)).toEqual([]);
    expect(frameOf(openFile(none), 1)).toEqual({ ...before, video: silent });
    // Taken away with the picture that it was.
    expect(pageOf(withVideo(again, 1, undefined))).not.toMatch(/<video|<track/);
  });

  test('on a page of one file their words are in the address; tracks of other kinds stay', async () => {
    const page = openFile(
      new TextEncoder().encode(
        `<!doctype html><title>A</title><p><img src="data:image/gif;base64,R0lGODlhAQABAAAAACH5BAEKAAEALAAAAAABAAEAAAICTAEAOw==" alt="A wheel" width="320" height="180">`,
      ),
    );
    const out = new TextDecoder().decode(await done(withVideo(page, 1, kept({ captions }))));
    const [, data] = /<track kind="captions" src="data:text\/vtt;base64,([^"]+)" srclang="en">/.exec(out)!;
    expect(Buffer.from(data!, 'base64').toString()).toBe(captions.text);
    const chapters = openFile(
      new TextEncoder().encode(out.replace('<track', '<track kind="chapters" src="c.vtt"><track')),
    );
    const before = frameOf(chapters, 1);
    expect(before.video!.captions).toEqual(captions);
    const { captions: was, ...silent } = before.video!;
    void was;
    const left = new TextDecoder().decode(chapters.write(withFrames(chapters, [{ ...before, video: silent }])));
    expect(left.match(/<track[^>]*>/g)).toEqual(['<track kind="chapters" src="c.vtt">']);
  });

  test('it is refused where a page of one file cannot hold it, and says what to do', () => {
    const page = openFile(new TextEncoder().encode('<!doctype html><title>A</title><img src="a.png" alt="">'));
    const { source, ...rest } = kept();
    const large = { ...rest, source: { ...source, bytes: 80 * 1024 * 1024 } as Video['source'] };
    expect(() => withVideo(page, 1, large)).toThrow('has 80 MB; a page of one file holds videos of up to 50 MB');
  });
});

describe('in drawings', () => {
  const board = demo('firing-day-board.svg');

  test('a video stands in the place of its picture, which stays for readers without videos, and comes back out', async () => {
    const before = frameOf(board, 1);
    const play = { automatic: true, loop: true, muted: true, controls: false };
    const out = await done(withVideo(board, 1, kept({ play, end: 3 })));
    const text = new TextDecoder().decode(out);
    const [, data] = / src="data:video\/mp4;base64,([^"#]+)#t=,3"/.exec(text)!;
    expect(Buffer.from(data!, 'base64').equals(Buffer.from(DATA))).toBe(true);
    const again = openFile(out);
    expect(again.pictures).toHaveLength(board.pictures.length);
    const { video, ...rest } = frameOf(again, 1);
    expect(video).toMatchObject({ source: { from: 'file' }, play, end: 3 });
    expect(rest).toEqual(before);
    expect(again.pictureBytes(1)).toEqual(board.pictureBytes(1));
    // Painted by a reader that has no videos (resvg), it is the picture.
    const [was, is] = [board.write(withFrames(board, [{ ...before, turn: before.turn + 1e-4 }])), out].map(
      (bytes) => new Resvg(Buffer.from(bytes)).render().pixels,
    );
    expect(is!.length).toBe(was!.length);
    let sum = 0;
    for (let i = 0; i < is!.length; i++) sum += Math.abs(is![i]! - was![i]!);
    expect(sum / is!.length).toBeLessThan(0.01);
    // Another shape, the same video; and the way back.
    const shaped = withFrames(again, [{ ...frameOf(again, 1), shape: { name: 'hexagon', knobs: {} } }]);
    const other = openFile(again.write(shaped));
    expect(frameOf(other, 1)).toMatchObject({ shape: { name: 'hexagon' }, video: { play, end: 3 } });
    expect(new TextDecoder().decode(other.write(other.document))).toContain(data!.slice(0, 400));
    expect(new TextDecoder().decode(withVideo(again, 1, undefined))).not.toContain('<video');
  });
});

test.each(['season-handbook.docx'])('elsewhere its picture stands for it: %s', (name) => {
  const file = demo(name);
  const next = withFrames(file, [{ ...frameOf(file, 1), video: kept() }]);
  const { unsupported } = file.fidelity(next).get('p1')!;
  expect(unsupported).toEqual(['video']);
  expect(FEATURES[unsupported[0]!]).toBe('a video');
});

test('a file without stand-ins comes back as the very same bytes', () => {
  const bytes = new Uint8Array(readFileSync('demo/files/open-day-talk.pptx'));
  expect(filled(bytes, () => inPieces())).toBe(bytes);
});
