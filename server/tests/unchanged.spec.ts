import { equal, solidOutline, withShape, type Frame } from '@gable/core';
import { openFile, withFrames, readArchive, readEntry, type Archive, type Entry } from '@gable/formats';
import type { Express } from 'express';
import { readFileSync } from 'node:fs';
import request from 'supertest';
import { fileOfWork, testServer, upload } from './support/server';
import { entryOf, saveOf, type ToldWork } from './support/entries';

let app: Express;
let close: () => Promise<void>;
beforeAll(async () => ({ app, close } = await testServer()));
afterAll(() => close());

interface Picture {
  n: number;
  frame: Frame;
  size: { width: number; height: number };
}

/** The tags of a text, each once for each time it stands there. */
function tags(text: string): Map<string, number> {
  const out = new Map<string, number>();
  for (const [tag] of text.matchAll(/<[^>]*>/g)) out.set(tag, (out.get(tag) ?? 0) + 1);
  return out;
}

const nameOf = (tag: string): string => /^<\/?([^\s/>]+)/.exec(tag)?.[1] ?? tag;
const attributesOf = (tag: string): Map<string, string> =>
  new Map([...tag.matchAll(/([^\s=]+)="([^"]*)"/g)].map(([, name, value]) => [name!, value!]));

/** Which words of the markup differ: `element@attribute` where a tag stayed, `element` where one came or went. */
function changedWords(before: string, after: string): string[] {
  const [was, now] = [tags(before), tags(after)];
  const only = (a: Map<string, number>, b: Map<string, number>): string[] =>
    [...a].flatMap(([tag, n]) => Array.from({ length: Math.max(0, n - (b.get(tag) ?? 0)) }, () => tag));
  const [gone, come] = [only(was, now), only(now, was)];
  const words = new Set<string>();
  for (const tag of gone) {
    const i = tag.startsWith('</') ? -1 : come.findIndex((t) => nameOf(t) === nameOf(tag) && !t.startsWith('</'));
    if (i < 0) {
      words.add(nameOf(tag));
      continue;
    }
    const [a, b] = [attributesOf(tag), attributesOf(come.splice(i, 1)[0]!)];
    for (const name of new Set([...a.keys(), ...b.keys()]))
      if (a.get(name) !== b.get(name)) words.add(`${nameOf(tag)}@${name}`);
  }
  for (const tag of come) words.add(nameOf(tag));
  return [...words].sort();
}

/** Words that a property may change, by kind of file; a name of an element stands for all of its attributes. */
interface Allowed {
  alt: RegExp;
  outline: RegExp;
  shadow: RegExp;
  crop: RegExp;
  turn: RegExp;
  shape: RegExp;
}

/** DrawingML, by clause of ISO/IEC 29500-1: what each property is called there. */
const DRAWINGML: Allowed = {
  // §20.1.2.2.8, descr
  alt: /^(wp:docPr|p:cNvPr|pic:cNvPr)@descr$/,
  // §20.1.2.2.24; a line reaches beyond the box: §20.4.2.6, effectExtent
  outline: /^(a:ln(@w)?|a:miter|a:prstDash|a:solidFill|a:srgbClr|wp:effectExtent@[ltrb])$/,
  // §20.1.8.45
  shadow: /^(a:effectLst|a:outerShdw|a:srgbClr|a:alpha(@val)?|wp:effectExtent@[ltrb])$/,
  // §20.1.8.55
  crop: /^a:srcRect(@[ltrb])?$/,
  // §20.1.7.6; a turned box reaches farther; a placeholder's own transform holds its box, too (§20.1.7.6, off and ext)
  turn: /^(a:xfrm(@rot)?|a:off|a:ext|wp:effectExtent@[ltrb])$/,
  // §20.1.9; a locked shape has a box and a crop of its own, and text runs round it
  shape:
    /^(a:(prstGeom(@prst)?|custGeom|avLst|gd|srcRect(@[ltrb])?|(off|ext)@\w+)|wp:(extent|effectExtent|posOffset|wrapPolygon|lineTo|start)(@\w+)?)$/,
};
/** An `image` has no words for looks: what frames it goes round it (SVG 2 §14, masking). */
const FRAMED =
  /^(defs|frame|g|mask|metadata|path|filter|feGaussianBlur|title|image@(aria-label|clip-path|height|preserveAspectRatio|transform|width|x|y))$/;
const SVG: Allowed = {
  // SVG 2 §5.7
  alt: /^image@aria-label$/,
  ...{ outline: FRAMED, shadow: FRAMED, crop: FRAMED, turn: FRAMED, shape: FRAMED },
};
/** Only images keep their tag; what frames one goes round it, and its rules into the head. */
const WRAPPED = /^(span|style|svg|path|g|defs|mask|filter|fe\w+|clipPath)$/;
const HTML: Allowed = {
  // HTML §4.8.3, alt
  alt: /^img@alt$/,
  ...{ outline: WRAPPED, shadow: WRAPPED, crop: WRAPPED, turn: WRAPPED, shape: WRAPPED },
};

const DEMO: [string, Allowed][] = [
  ['season-handbook.docx', DRAWINGML],
  ['open-day-talk.pptx', DRAWINGML],
  ['firing-day-board.svg', SVG],
  ['visit-us.zip', HTML],
];

const PROPERTIES: Record<keyof Allowed, (frame: Frame, p: Picture) => Frame> = {
  alt: (f) => ({ ...f, alt: 'Other words' }),
  outline: (f) => ({ ...f, outline: { ...(f.outline ?? solidOutline(2, '#b5482a')), weight: 3.5 } }),
  shadow: (f) => ({
    ...f,
    shadow: f.shadow
      ? { ...f.shadow, opacity: 0.2 }
      : { kind: 'outer', dx: 2, dy: 2, blur: 4, spread: 0, colour: '#000000', opacity: 0.3 },
  }),
  crop: (f) => ({ ...f, placement: { ...f.placement, fit: 'cover', zoom: f.placement.zoom * 1.25 } }),
  turn: (f) => ({ ...f, turn: (f.turn + 5) % 360 }),
  shape: (f, p) => withShape(f, { name: 'heart', knobs: {} }, p.size),
};

const packed = ({ bytes }: Archive, { dataOffset, compressedSize }: Entry): Buffer =>
  Buffer.from(bytes.buffer, bytes.byteOffset + dataOffset, compressedSize);

/** The parts of a file that differ, as they were and as they are. */
function changedParts(before: Buffer, after: Buffer): { name: string; was: Buffer; now: Buffer }[] {
  if (before[0] !== 0x50) return [{ name: '', was: before, now: after }];
  const [a, b] = [readArchive(before), readArchive(after)];
  expect(b.entries.map((e) => e.name)).toEqual(a.entries.map((e) => e.name));
  return b.entries.flatMap((entry, i) => {
    // What was not written anew is packed as it was.
    if (packed(a, a.entries[i]!).equals(packed(b, entry))) return [];
    const [was, now] = [Buffer.from(readEntry(a, a.entries[i]!)), Buffer.from(readEntry(b, entry))];
    return was.equals(now) ? [] : [{ name: entry.name, was, now }];
  });
}

describe.each(DEMO)('%s, from the browser through PostgreSQL to bytes', (name, allowed) => {
  const original = readFileSync(`demo/files/${name}`);
  let work: ToldWork;
  let pictures: Picture[];
  beforeAll(async () => {
    const { body } = await upload(app, original, name).expect(201);
    work = body as ToldWork;
    ({ pictures } = body as { pictures: Picture[] });
  });

  const saved = async (frames: Record<string, Frame>): Promise<Buffer> => {
    const save = saveOf(work, frames);
    if (entryOf(work, frames).operations.length > 0)
      await request(app).post(`/api/works/${work.id}/entries`).send(save).expect(200);
    work = (await request(app).get(`/api/works/${work.id}`).expect(200)).body as ToldWork;
    return fileOfWork(app, work.id);
  };

  test('frames as they came give the very same bytes', async () => {
    const all = (alt?: string): Record<string, Frame> =>
      Object.fromEntries(pictures.map((p) => [p.n, { ...p.frame, alt: alt ?? p.frame.alt }]));
    expect((await saved(all('Other words'))).equals(original)).toBe(false);
    expect((await saved(all())).equals(original)).toBe(true);
  });

  test.each(Object.keys(PROPERTIES) as (keyof Allowed)[])('%s: only the words that say it differ', async (property) => {
    const file = openFile(original);
    const unsupported = (next: Frame): number =>
      file.fidelity(withFrames(file, [next])).get(`p${next.n}`)?.unsupported.length ?? 0;
    const changed: number[] = [];
    for (const p of pictures) {
      const next = PROPERTIES[property](p.frame, p);
      // A real outline takes the place of a shape behind the picture that stood in for one.
      const removes = property === 'outline' && file.pictures[p.n - 1]!.faked;
      if (equal(next, p.frame) || unsupported(next) > 0 || removes) continue;
      const parts = changedParts(original, await saved({ [p.n]: next }));
      expect(parts).toHaveLength(1);
      const words = changedWords(parts[0]!.was.toString(), parts[0]!.now.toString());
      expect(words).not.toEqual([]);
      expect({ n: p.n, other: words.filter((w) => !allowed[property].test(w)) }).toEqual({ n: p.n, other: [] });
      changed.push(p.n);
    }
    expect(changed.length).toBeGreaterThan(pictures.length / 2);
  });
});

test('another alternative text leaves a shadow as it was written', async () => {
  const name = 'season-handbook.docx';
  const original = readFileSync(`demo/files/${name}`);
  const work = (await upload(app, original, name).expect(201)).body as ToldWork;
  const { id, pictures } = work;
  const frame = { ...pictures[6]!.frame, alt: 'Glaze tests' };
  await request(app)
    .post(`/api/works/${id}/entries`)
    .send(saveOf(work, { 7: frame }))
    .expect(200);
  const [part, ...more] = changedParts(original, await fileOfWork(app, id));
  expect(more).toEqual([]);
  const text = part!.now.toString();
  expect(text).toContain('algn="tl" rotWithShape="0"');
  expect(text.replace('Glaze tests', pictures[6]!.frame.alt)).toBe(part!.was.toString());
});
