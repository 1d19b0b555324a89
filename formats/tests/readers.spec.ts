/**
 * What we write, read by others: `pptxtojson` reads slides; python-docx and odfpy, where Debian's packages are installed, read
 * documents. Their figures are held against the frames that were asked for.
 */
import { deriveView, solidOutline, viewCrop, withShape, type Frame } from '@gable/core';
import { execFileSync } from 'node:child_process';
import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import { parse } from 'pptxtojson';
import { strFromU8, unzipSync } from 'fflate';
import { parseXml, type OpenedPicture } from '../src/index';
import { openFile } from './support/frames';
import { find } from './support/find';
import { buildOpen, openFrame } from './support/open';

const circle = (p: OpenedPicture): Frame => withShape(p.frame, { name: 'circle', knobs: {} }, p.size);
const EMU = 12_700;
/** Debian's own, which sees Debian's packages. */
const PYTHON = '/usr/bin/python3';

test('a reader of slides finds box, shape, crop and outline as they were asked for', async () => {
  const file = openFile(readFileSync('demo/files/open-day-talk.pptx'));
  const wished = file.pictures
    .filter((p) => p.where.place === 'slide' && p.media?.drawable)
    .map((p): Frame => {
      const f = circle(p);
      const zoomed = { ...f.placement, zoom: 1.4, aim: { u: 0.45, v: 0.52 } };
      return { ...f, placement: zoomed, outline: solidOutline(3, '#a94124'), shadow: null };
    });
  const saved = file.save(wished);
  const { slides } = await parse(saved.buffer.slice(saved.byteOffset, saved.byteOffset + saved.length) as ArrayBuffer);
  interface Image {
    type: string;
    left: number;
    top: number;
    width: number;
    height: number;
    geom?: string;
    rect?: Partial<Record<'l' | 't' | 'r' | 'b', number>>;
    borderColor?: string;
    borderWidth?: number;
  }
  let seen = 0;
  for (const f of wished) {
    const p = file.pictures[f.n - 1]!;
    const all = slides[p.where.page! - 1]!.elements as unknown as Image[];
    const near = (e: Image): boolean => Math.hypot(e.left - f.box.x, e.top - f.box.y) < 0.01;
    const image = all.find((e) => e.type === 'image' && near(e));
    // Those of groups are told with their group's own measure.
    if (!image) continue;
    seen++;
    expect(image.geom).toBe('ellipse');
    expect([image.width, image.height]).toEqual([
      expect.closeTo(f.box.width, 2) as number,
      expect.closeTo(f.box.height, 2) as number,
    ]);
    const crop = viewCrop(deriveView(f.placement, f.box, p.size));
    const { l = 0, t = 0, r = 0, b = 0 } = image.rect ?? {};
    for (const [is, asked] of [
      [l, crop.left],
      [t, crop.top],
      [r, crop.right],
      [b, crop.bottom],
    ] as const)
      expect(is).toBeCloseTo(asked * 100, 2);
    expect(image.borderColor?.toLowerCase()).toBe('#a94124');
    expect(image.borderWidth).toBeCloseTo(3, 1);
  }
  expect(seen).toBeGreaterThan(5);
});

test.each(['open-day-talk.pptx', 'season-handbook.docx'])(
  'every shape’s properties in %s stand once each, in the order of CT_ShapeProperties (ISO/IEC 29500-1 §20.1.2.2.35)',
  (name) => {
    const order =
      'xfrm custGeom prstGeom noFill solidFill gradFill blipFill pattFill grpFill ln effectLst effectDag scene3d sp3d extLst'.split(
        ' ',
      );
    const file = openFile(readFileSync(`demo/files/${name}`));
    const ways: ((p: OpenedPicture) => Frame)[] = [
      circle,
      (p) => ({ ...p.frame, box: { ...p.frame.box, x: p.frame.box.x + 9, width: p.frame.box.width * 0.8 }, turn: 12 }),
      (p) => ({
        ...withShape(p.frame, { name: 'heart', knobs: {} }, p.size),
        outline: { ...solidOutline(2, '#123456'), side: 'outside' },
      }),
      (p) => ({
        ...p.frame,
        outline: null,
        shadow: { kind: 'outer', dx: 2, dy: 2, blur: 4, spread: 0, colour: '#000000', opacity: 0.4 },
      }),
    ];
    for (const way of ways) {
      const parts = unzipSync(file.save(file.pictures.filter((p) => p.media?.drawable).map(way)));
      for (const [part, data] of Object.entries(parts).filter(([n]) => /(slides|word)\/[^/]+\.xml$/.test(n)))
        for (const spPr of find(parseXml(strFromU8(data), part), 'spPr')) {
          const places = spPr.children.map((c) => order.indexOf(c.local));
          expect(places).toEqual([...new Set(places)].sort((a, b) => a - b));
        }
    }
  },
);

function python(module: string): boolean {
  try {
    execFileSync(PYTHON, ['-c', `import ${module}`], { stdio: 'ignore' });
    return true;
  } catch {
    return false;
  }
}

/** What a Python script prints as JSON about a file. */
function told<T>(bytes: Uint8Array, name: string, script: string): T {
  const folder = mkdtempSync(path.join(os.tmpdir(), 'gable-readers-'));
  try {
    writeFileSync(path.join(folder, name), bytes);
    return JSON.parse(execFileSync(PYTHON, ['-c', script, name], { cwd: folder, encoding: 'utf8' })) as T;
  } finally {
    rmSync(folder, { recursive: true });
  }
}

(python('docx') ? test : test.skip)(
  'python-docx finds every inline picture at its new size, and the words as they were',
  () => {
    const script =
      'import docx,json,sys; d=docx.Document(sys.argv[1]); print(json.dumps({"sizes":[[s.width,s.height] for s in d.inline_shapes],"words":[p.text for p in d.paragraphs]}))';
    interface Told {
      sizes: [number, number][];
      words: string[];
    }
    const bytes = readFileSync('demo/files/season-handbook.docx');
    const file = openFile(bytes);
    const wished = file.pictures.filter((p) => p.media?.drawable).map(circle);
    const was = told<Told>(bytes, 'a.docx', script);
    const is = told<Told>(file.save(wished), 'b.docx', script);
    expect(is.words).toEqual(was.words);
    expect(is.sizes).toHaveLength(was.sizes.length);
    const asked = new Set(wished.map((f) => Math.round(f.box.width * EMU)));
    for (const [width, height] of is.sizes) {
      expect(width).toBe(height);
      expect([...asked].some((a) => Math.abs(a - width) <= 1)).toBe(true);
    }
  },
);

(python('odf') ? test : test.skip)(
  'odfpy finds the shape that took the place of the picture, at its size',
  async () => {
    const script = [
      'import json,sys',
      'from odf.opendocument import load',
      'from odf.draw import CustomShape,EnhancedGeometry',
      'd=load(sys.argv[1])',
      's=d.getElementsByType(CustomShape)',
      'print(json.dumps([[e.getAttribute("width"),e.getAttribute("height"),[g.getAttribute("viewbox") for g in e.getElementsByType(EnhancedGeometry)]] for e in s]))',
    ].join('\n');
    // It reads the parts that the manifest names.
    const manifest = ['content.xml', 'styles.xml']
      .map((name) => `<manifest:file-entry manifest:full-path="${name}" manifest:media-type="text/xml"/>`)
      .join('');
    const body = `<text:p>before ${openFrame()} and after</text:p>`;
    const file = openFile(await buildOpen({ body, manifest }));
    const f = circle(file.pictures[0]!);
    const shapes = told<[string, string, string[]][]>(file.save([f]), 'a.odt', script);
    expect(shapes).toHaveLength(1);
    const [width, height, boxes] = shapes[0]!;
    for (const side of [width, height]) expect(parseFloat(side)).toBeCloseTo(f.box.width, 3);
    expect(width).toMatch(/pt$/);
    expect(boxes).toHaveLength(1);
  },
);
