/**
 * A subject that reaches over the edge. In office files it is one shape with the picture in it, whole and once: a geometry of
 * two paths (ISO/IEC 29500-1 §20.1.9.8, ODF 1.2 Part 1 §19.145), what the picture fills and the way of the line. What the
 * file's own terms say is held against the asked frame by where points of the picture and of the silhouette lie on the page,
 * with what only we know taken out.
 */
import {
  bounds,
  CENTRED,
  flatten,
  framePath,
  fileRoom,
  overstepPath,
  solidOutline,
  windingNumber,
  withLine,
  type Frame,
  type Overstep,
  type Shadow,
} from '@gable/core';
import { strFromU8, strToU8, unzipSync } from 'fflate';
import { anchored, buildDocument, inlined } from './support/build';
import { buildDeck, PLACED, slidePic } from './support/deck';
import { openFile, type FramedFile } from './support/frames';
import { apart, stripped } from './support/on-page';
import { buildOpen, openFrame } from './support/open';

const SUBJECT = 'M0.5 0.05C0.6 0.05 0.62 0.2 0.58 0.4L0.74 0.95L0.26 0.95L0.42 0.4C0.38 0.2 0.4 0.05 0.5 0.05Z';
const SHADOW: Shadow = { kind: 'outer', dx: 1, dy: 2, blur: 0, spread: 0, colour: '#000000', opacity: 0.5 };

const deck = async (): Promise<FramedFile> => openFile(await buildDeck([slidePic(PLACED)]));
const document = (body: string) => async (): Promise<FramedFile> => openFile(await buildDocument({ body }));
const drawing = async (): Promise<FramedFile> =>
  openFile(
    await buildOpen({ kind: 'graphics', body: `<draw:page>${openFrame('svg:x="2cm" svg:y="3cm"')}</draw:page>` }),
  );
const OFFICE: [string, () => Promise<FramedFile>][] = [
  ['a slide', deck],
  ['the text of a document', document(inlined())],
  ['a document, before its text', document(anchored())],
  ['a drawing of OpenDocument', drawing],
];

/** The frame of a file's first picture with its subject over the edge. */
function oversteppedIn(file: FramedFile, more: Partial<Frame> = {}, overstep: Partial<Overstep> = {}): Frame {
  const { frame, size } = file.pictures[0]!;
  const side = Math.min(frame.box.width, frame.box.height);
  return {
    ...frame,
    box: { ...frame.box, width: side, height: side },
    shape: { name: 'circle', knobs: {} },
    placement: { ...CENTRED, zoom: 1.8, aim: { u: 0.5, v: 0.62 } },
    overstep: { subject: SUBJECT, picture: size, lines: { top: 0.5 }, ...overstep },
    ...more,
  };
}

const line = solidOutline(4, '#b5482a');
const CASES: [string, Partial<Frame>, Partial<Overstep>][] = [
  ['over the top', {}, {}],
  ['over the top, under a shadow', { shadow: { ...SHADOW } }, {}],
  ['over all sides', {}, { lines: { top: 0.5, right: 0.5, bottom: 0.5, left: 0.5 } }],
  ['of a turned frame', { turn: 30 }, { lines: { top: 0.4, left: 0.3 } }],
];

describe.each(OFFICE)('in %s', (_, open) => {
  test.each(CASES)('%s: native, in register, and one frame again', async (_name, more, overstep) => {
    const file = await open();
    const asked = oversteppedIn(file, more, overstep);
    expect(bounds(overstepPath(asked)!).y).toBeLessThan(-5);
    expect(file.unsupported(asked)).toEqual([]);
    const saved = file.save([asked]);
    const again = openFile(saved);
    expect(again.pictures).toHaveLength(1);
    // What is over is as it was; where a text has the picture, its place is the text's.
    expect({ ...again.pictures[0]!.frame, box: null }).toEqual({ ...asked, box: null });
    const native = openFile(stripped(saved)).pictures[0]!.frame;
    expect(native.overstep).toBeUndefined();
    if (asked.flow === 'inline') native.box = { ...native.box, ...fileRoomAt(asked) };
    expect(apart(asked, native, file.pictures[0]!.size)).toBeLessThan(0.05);
    // The picture is there once, as it was.
    const media = (bytes: Uint8Array): string[] =>
      Object.entries(unzipSync(bytes)).flatMap(([name, data]) =>
        /\.(png|jpe?g)$/.test(name) ? [`${name} ${data.length}`] : [],
      );
    expect(media(saved)).toEqual(media(file.save([])));
  });

  test('the line goes round the shape and not over the subject', async () => {
    const file = await open();
    const asked = oversteppedIn(file, { outline: line });
    const saved = file.save([asked]);
    expect(openFile(saved).pictures[0]!.frame.outline).toEqual(asked.outline);
    const way = lineIn(saved, fileRoom(asked).box);
    const corner = fileRoom(asked);
    const over = flatten(overstepPath(asked)!, 0.01);
    const { width } = asked.box;
    expect(way.length).toBeGreaterThan(50);
    for (const p of way) {
      const at = { x: p.x - (corner.middle.x - width / 2), y: p.y - (corner.middle.y - width / 2) };
      // On the circle, and not under the head.
      expect(Math.abs(Math.hypot(at.x - width / 2, at.y - width / 2) - width / 2)).toBeLessThan(0.05);
      const toMiddle = { x: at.x + (width / 2 - at.x) * 1e-3, y: at.y };
      const deep = [-0.1, 0.1].every((dx) => windingNumber(over, { x: toMiddle.x + dx, y: toMiddle.y }) !== 0);
      expect(deep).toBe(false);
    }
    // A full circle has a point straight above its middle; this one has none there.
    expect(way.some((p) => Math.hypot(p.x - corner.middle.x, p.y - corner.middle.y + width / 2) < 2)).toBe(false);
  });

  test('a line moved in the file is a geometry anew, and nothing else', async () => {
    const file = await open();
    const first = openFile(file.save([oversteppedIn(file, { shadow: SHADOW })]));
    const { frame } = first.pictures[0]!;
    const moved = withLine(frame, 'top', 0.3);
    const saved = first.save([moved]);
    expect(openFile(saved).pictures[0]!.frame).toEqual(moved);
    const off = openFile(first.save([{ ...frame, alt: 'A jug' }]));
    // Another alternative text is all that is written.
    expect(geometryIn(off.save([]))).toEqual(geometryIn(first.save([])));
    expect(off.pictures[0]!.frame).toEqual({ ...frame, alt: 'A jug' });
  });

  test('what cannot be said is named: a shadow of its own, a gradient along the line, what would be painted into the box', async () => {
    const file = await open();
    expect(file.unsupported(oversteppedIn(file, {}, { shadow: SHADOW }))).toContain('cast');
    const stops = [
      { at: 0, colour: '#000000', opacity: 1 },
      { at: 1, colour: '#ffffff', opacity: 1 },
    ];
    const gradient = { ...line, paint: { kind: 'linear' as const, angle: 0, stops } };
    expect(file.unsupported(oversteppedIn(file, { outline: gradient }))).toContain('overstep');
    const backing = { kind: 'solid' as const, colour: '#ffffff', opacity: 1 };
    expect(file.unsupported(oversteppedIn(file, { backing }))).toEqual(expect.arrayContaining(['backing', 'overstep']));
  });
});

/** Of a picture in a text its place on the page is not known: the room is put where the box counts from. */
function fileRoomAt(frame: Frame): { x: number; y: number } {
  const { x, y } = fileRoom(frame).box;
  return { x, y };
}

const PARTS = /(document|slide1|content)\.xml$/;
const partOf = (bytes: Uint8Array): string =>
  strFromU8(Object.entries(unzipSync(bytes)).find(([name]) => PARTS.test(name))![1]);
const geometryIn = (bytes: Uint8Array): string | undefined =>
  /<a:custGeom.*?<\/a:custGeom>|<draw:enhanced-geometry[^>]*>/s.exec(partOf(bytes))?.[0];

/** Points along the second path of the geometry, in points of the box. */
function lineIn(bytes: Uint8Array, box: { width: number; height: number }): { x: number; y: number }[] {
  const text = geometryIn(bytes)!;
  const second = /<a:path [^>]*fill="none".*?<\/a:path>/s.exec(text)?.[0];
  if (second)
    return [...second.matchAll(/x="(-?\d+)" y="(-?\d+)"/g)].map(([, x, y]) => ({
      x: Number(x) / 12_700,
      y: Number(y) / 12_700,
    }));
  const [, width, height] = /viewBox="0 0 (\d+) (\d+)"/.exec(text)!.map(Number) as [number, number, number];
  const steps = /S N (.*) F N/.exec(text)![1]!;
  return [...steps.matchAll(/[ML] (-?\d+) (-?\d+)/g)].map(([, x, y]) => ({
    x: (Number(x) / width) * box.width,
    y: (Number(y) / height) * box.height,
  }));
}

const PIXEL =
  'data:image/png;base64,iVBORw0KGgoAAAANSUhEUgAAAAYAAAAECAIAAAAiZtkUAAAAEklEQVR4nGNk+M+ABBgZGBgAAAwAAf8AbQkAAAAASUVORK5CYII=';

describe('on the web', () => {
  test.each([
    [
      'svg',
      `<svg xmlns="http://www.w3.org/2000/svg" width="400" height="300"><image href="${PIXEL}" x="50" y="60" width="120" height="80"/></svg>`,
    ],
    [
      'html',
      `<!doctype html><html><head><title>x</title></head><body><p><img src="${PIXEL}" width="120" height="80" alt=""></p></body></html>`,
    ],
  ])('%s has the same picture once, and all of the frame, with the shadow', (_, text) => {
    const file = openFile(strToU8(text));
    const { size } = file.pictures[0]!;
    const asked = oversteppedIn(file, { outline: line }, { picture: size, shadow: SHADOW });
    expect(file.unsupported(asked)).toEqual([]);
    const saved = file.save([asked]);
    expect(openFile(saved).pictures[0]!.frame).toEqual(asked);
    expect(strFromU8(saved).split(PIXEL)).toHaveLength(2);
  });
});

test('an image that sizes itself on its page is drawn beyond its box, not cut by covering it', () => {
  const page = `<!doctype html><html><head></head><body><p><img src="elsewhere.png" alt=""></p></body></html>`;
  const file = openFile(strToU8(page));
  const { frame, size } = file.pictures[0]!;
  const overstep = { subject: SUBJECT, picture: size, lines: { top: 0.5 } };
  const asked: Frame = { ...frame, placement: { ...CENTRED, zoom: 1.8, aim: { u: 0.5, v: 0.62 } }, overstep };
  const rules = /<style[^>]*>([^]*?)<\/style>/.exec(strFromU8(file.save([asked])))![1]!;
  expect(rules).toMatch(/overflow: visible/);
  expect(rules).toMatch(/object-fit: fill/);
  // The zoom beyond covering is its scale, both ways (CSS Transforms 1 §13): box and picture have one ratio.
  expect(rules).toMatch(/transform: translate\([^)]*\) scale\(1\.8, 1\.8\)/);
  const plain = /<style[^>]*>([^]*?)<\/style>/.exec(strFromU8(file.save([{ ...asked, overstep: undefined }])))![1]!;
  expect(plain).toMatch(/object-fit: cover/);
});

test('a subject that stays within its shape is a plain frame in the file', async () => {
  const file = await deck();
  const { frame } = file.pictures[0]!;
  const asked = oversteppedIn(file, {}, { lines: { top: -0.9 } });
  expect(flatten(framePath(asked), 0.1)).toHaveLength(1);
  const saved = file.save([asked]);
  expect(partOf(saved)).toContain('prst="ellipse"');
  expect(openFile(saved).pictures[0]!.frame).toEqual({ ...asked, n: frame.n });
});
