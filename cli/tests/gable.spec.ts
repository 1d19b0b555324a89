/** The command as it is called, from its built form (`npm run build`). */
import { spawnSync } from 'node:child_process';
import { mkdtempSync, readdirSync, readFileSync, rmSync, statSync, writeFileSync } from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import sharp from 'sharp';
import { bounds, silhouettePath } from '@gable/core';
import { openFile } from '@gable/formats';
import { strFromU8, strToU8, unzipSync, zipSync } from 'fflate';
import { gable } from './support/gable';

const handbook = path.resolve('demo/files/season-handbook.docx');
const site = path.resolve('demo/files/visit-us.zip');
let folder: string;
beforeEach(() => (folder = mkdtempSync(path.join(os.tmpdir(), 'gable-cli-'))));
afterEach(() => rmSync(folder, { recursive: true }));

interface Row {
  n: number;
  shape: string;
  distortion: number;
  box: { width: number; height: number };
  crop: Record<string, number>;
  outline: { weight: number } | null;
  findings: { code: string }[];
}
const survey = (file: string): Row[] =>
  (JSON.parse(gable('survey', file, '--json').out) as { format: string; pictures: Row[] }).pictures;

describe('gable survey', () => {
  test('tells every picture with what design and checks promise', () => {
    const { out, status } = gable('survey', handbook, '--json');
    const result = JSON.parse(out) as { format: string; pictures: Record<string, unknown>[] };
    expect(status).toBe(0);
    expect(result.format).toBe('docx');
    expect(result.pictures).toHaveLength(18);
    for (const key of [
      'n',
      'where',
      'box',
      'pixels',
      'shape',
      'knobs',
      'crop',
      'distortion',
      'turn',
      'ppi',
      'outline',
      'shadow',
      'alt',
      'findings',
    ])
      expect(result.pictures[0]).toHaveProperty(key);
  });

  test('without --json prints a table for people', () => {
    const { out } = gable('survey', handbook);
    expect(out.split('\n')[0]).toMatch(/^n +where +size +shape +ppi +outline +findings/);
    expect(out).toContain('distorted 50 %');
  });
});

describe('gable frame', () => {
  test('makes true circles of chosen size with a 6 pt outline, and leaves the rest', () => {
    const out = path.join(folder, 'out.docx');
    const r = gable(
      'frame',
      handbook,
      '--out',
      out,
      '--pick',
      '2,4-5',
      '--shape',
      'circle',
      '--size',
      '30mm',
      '--outline',
      '6pt #ffffff',
    );
    expect([r.status, r.err]).toEqual([0, '']);
    const rows = survey(out);
    for (const n of [2, 4, 5]) {
      const row = rows[n - 1]!;
      expect(row.shape).toBe('circle');
      expect(row.box.width).toBeCloseTo((30 / 25.4) * 72, 3);
      expect(row.box.height).toBeCloseTo(row.box.width, 6);
      expect(row.distortion).toBeCloseTo(1, 3);
      expect(row.outline?.weight).toBe(6);
    }
    expect(rows[0]).toEqual(survey(handbook)[0]);
  });

  test('aims and zooms as told', () => {
    const out = path.join(folder, 'out.docx');
    gable('frame', handbook, '--out', out, '--pick', '1', '--ratio', '1:1', '--aim', '0.6,0.45', '--zoom', '2');
    const { crop } = survey(out)[0]!;
    // A square of half the height: a third of the width of a 3:2 picture, round 0.6.
    expect(crop['left']).toBeCloseTo(0.6 - 1 / 6, 4);
    expect(crop['right']).toBeCloseTo(0.4 - 1 / 6, 4);
    expect(crop['top']).toBeCloseTo(0.45 - 0.25, 4);
  });

  test('the subject is centred unless told otherwise', () => {
    const [a, b] = ['a.docx', 'b.docx'].map((f) => path.join(folder, f)) as [string, string];
    gable('frame', handbook, '--out', a, '--pick', '4', '--shape', 'circle');
    gable('frame', handbook, '--out', b, '--pick', '4', '--shape', 'circle', '--aim', 'centre');
    expect(survey(a)[3]!.crop['left']).toBeGreaterThan(0.25);
    expect(survey(b)[3]!.crop['left']).toBeCloseTo(1 / 6, 4);
  });

  test('the file framed over itself is the new one, whole', () => {
    const out = path.join(folder, 'same.docx');
    writeFileSync(out, readFileSync(handbook));
    expect(gable('frame', out, '--out', out, '--shape', 'heart').status).toBe(0);
    expect(survey(out).every((p) => p.shape === 'heart')).toBe(true);
  });
});

describe('gable render', () => {
  test('paints a picture at the asked resolution and notes it in the file (PNG §11.3.5.3: 300 ppi are 11,811 px/m)', async () => {
    const out = path.join(folder, 'x.png');
    expect(gable('render', handbook, '--pick', '2', '--out', out).status).toBe(0);
    const meta = await sharp(out).metadata();
    expect(meta.width).toBe(Math.ceil((32 / 25.4) * 300));
    const bytes = readFileSync(out);
    expect(bytes.readUInt32BE(bytes.indexOf('pHYs') + 4)).toBe(11_811);
  });

  test('writes WebP and JPEG too', async () => {
    for (const [name, format] of [
      ['x.webp', 'webp'],
      ['x.jpg', 'jpeg'],
    ] as const) {
      gable('render', handbook, '--pick', '3', '--out', path.join(folder, name), '--ppi', '72');
      expect((await sharp(path.join(folder, name)).metadata()).format).toBe(format);
    }
  });
});

describe('shapes from the command line', () => {
  const framed = (...args: string[]): { shape: string; findings: unknown[] } => {
    const out = path.join(folder, 'shaped.docx');
    const done = gable('frame', handbook, '--out', out, '--pick', '2', ...args);
    expect([done.status, done.err]).toEqual([0, '']);
    return (JSON.parse(gable('survey', out, '--json').out) as { pictures: { shape: string; findings: unknown[] }[] })
      .pictures[1]!;
  };

  test('a named shape with knobs, a letter, and silhouettes of a drawing and of a picture', () => {
    expect(framed('--shape', 'star-8', '--knobs', 'depth=0.3').shape).toBe('star-8');
    expect(framed('--letter', 'M').shape).toBe('letter');
    const drawing = path.join(folder, 'blob.svg');
    writeFileSync(drawing, '<svg xmlns="http://www.w3.org/2000/svg"><circle cx="9" cy="9" r="8"/></svg>');
    expect(framed('--silhouette', drawing).shape).toBe('silhouette');
    expect(framed('--silhouette', 'demo/files/pictures/logo.png').shape).toBe('silhouette');
    expect(framed('--shape', 'circle', '--shadow', 'soft', '--outline', '6pt #b5482a triple').shape).toBe('circle');
  });

  test('what every shape keeps, and a list of them', () => {
    const ranked = JSON.parse(gable('rank', handbook, '--pick', '2', '--json').out) as {
      name: string;
      share: number;
      band: string;
    }[];
    expect(ranked[0]!.name).toBe('circle');
    expect(ranked.every((r) => r.share >= 0 && r.share <= 1)).toBe(true);
    expect(JSON.parse(gable('shapes', '--json').out)).toHaveLength(ranked.length);
  });

  test('with --look the pixels are looked at: an off-centre subject and a faint outline are found', () => {
    const out = path.join(folder, 'faint.docx');
    // The face of this portrait lies at a third of its width (demo/src/portraits.ts); the ground is pale.
    gable(
      'frame',
      handbook,
      '--out',
      out,
      '--pick',
      '2',
      '--shape',
      'square',
      '--zoom',
      '2',
      '--aim',
      '0.85,0.5',
      '--outline',
      '3pt #c9c0b4',
    );
    const codes = (...more: string[]): string[] =>
      (JSON.parse(gable('survey', out, '--json', ...more).out) as { pictures: Row[] }).pictures[1]!.findings.map(
        (f) => f.code,
      );
    expect(codes()).not.toContain('off-centre');
    expect(codes('--look')).toContain('off-centre');
  });

  test('a frame as SVG and as HTML holds the whole picture', () => {
    for (const [file, words] of [
      ['x.svg', '<mask'],
      ['x.html', '<figure class="framed">'],
    ] as const) {
      const out = path.join(folder, file);
      expect(gable('render', handbook, '--pick', '2', '--out', out).status).toBe(0);
      const text = readFileSync(out, 'utf8');
      expect(text).toContain(words);
      expect(text.length).toBeGreaterThan(statSync('demo/files/pictures/portrait-maren.jpg').size);
    }
  });
});

describe('faults', () => {
  const out = (): string => path.join(folder, 'out.docx');
  test.each<[string, () => string[], RegExp]>([
    ['no command', () => [], /gable survey FILE/],
    ['an unknown command', () => ['paint', 'x'], /no command “paint”/],
    ['no file', () => ['survey'], /exactly one file/],
    ['a file that is not there', () => ['survey', 'nowhere.docx'], /no file “nowhere\.docx”/],
    ['an unknown option', () => ['survey', handbook, '--yaml'], /--yaml/],
    ['no --out', () => ['frame', handbook, '--shape', 'circle'], /--out/],
    ['nothing to do', () => ['frame', handbook, '--out', out()], /Nothing was asked for/],
    ['an unknown shape', () => ['frame', handbook, '--out', out(), '--shape', 'blob'], /no shape called “blob”/],
    [
      'a picture that is not there',
      () => ['frame', handbook, '--out', out(), '--shape', 'circle', '--pick', '19'],
      /no picture 19/,
    ],
    [
      'an oblong circle',
      () => ['frame', handbook, '--out', out(), '--shape', 'circle', '--size', '30x40mm'],
      /ellipse/,
    ],
    ['a bad outline', () => ['frame', handbook, '--out', out(), '--outline', 'thick'], /not an outline/],
    [
      'a folder that is not there',
      () => ['frame', handbook, '--out', path.join(folder, 'no', 'x.docx'), '--shape', 'circle'],
      /could not be written/,
    ],
    [
      'an unknown kind of picture',
      () => ['render', handbook, '--pick', '1', '--out', path.join(folder, 'x.bmp')],
      /“\.bmp”/,
    ],
  ])('of the call exit with 2: %s', (_name, args, words) => {
    const r = gable(...args());
    expect(r.status).toBe(2);
    expect(r.err + r.out).toMatch(words);
    expect(readdirSync(folder)).toEqual([]);
  });

  test('of the file exit with 1 and leave nothing behind', () => {
    const bad = path.join(folder, 'bad.docx');
    writeFileSync(bad, readFileSync(handbook).subarray(0, 100_000));
    for (const args of [
      ['survey', bad, '--json'],
      ['frame', bad, '--out', out(), '--shape', 'circle'],
      ['render', bad, '--pick', '1', '--out', path.join(folder, 'x.png')],
    ]) {
      const r = gable(...args);
      expect(r.status).toBe(1);
      expect(r.err).toMatch(/^gable: The file is cut off/);
      expect(r.out).toBe('');
    }
    expect(readdirSync(folder)).toEqual(['bad.docx']);
  });

  test('help is no fault', () => {
    expect(gable('help')).toMatchObject({ status: 0, err: '' });
  });
});

describe('gable look', () => {
  test('tells faces and subject of a picture; where nothing stands out it claims none', () => {
    const at = (name: string): string => path.resolve(`demo/files/pictures/${name}`);
    const maren = JSON.parse(gable('look', at('portrait-maren.jpg'), '--json').out) as {
      size: object;
      faces: { u: number; width: number }[];
      subject: { u: number } | null;
    };
    expect(maren.size).toEqual({ width: 2000, height: 1333 });
    expect(maren.faces).toHaveLength(1);
    // The script that draws her has her face at a third of the width (demo/src/portraits.ts).
    expect(Math.abs(maren.subject!.u - 0.33)).toBeLessThan(0.06);
    expect(JSON.parse(gable('look', at('glaze-tests.jpg'), '--json').out)).toMatchObject({ faces: [], subject: null });
    expect(gable('look', handbook).status).toBe(1);
  });
});

describe('gable cut', () => {
  test('writes the subject without its background, or its mask; a box says where it is', async () => {
    const odd = path.resolve('demo/files/pictures/portrait-odd.jpg');
    const out = path.join(folder, 'odd.png');
    expect(gable('cut', odd, '--out', out)).toMatchObject({ status: 0, err: '' });
    const { data, info } = await sharp(out).raw().toBuffer({ resolveWithObject: true });
    expect([info.width, info.height, info.channels]).toEqual([1500, 2250, 4]);
    const alpha = (u: number, v: number): number =>
      data[(Math.floor(v * info.height) * info.width + Math.floor(u * info.width)) * 4 + 3]!;
    // His face is in the middle, the shelves beside it are not him (demo/src/portraits.ts).
    expect(alpha(0.5, 0.35)).toBeGreaterThan(250);
    expect(alpha(0.06, 0.2)).toBeLessThan(5);
    const plates = path.resolve('demo/files/pictures/plates-thumbnail.jpg');
    const masked = gable('cut', plates, '--out', path.join(folder, 'mask.png'), '--mask', '--box', '10%,20%,80%,70%');
    expect(masked.out).toMatch(/the subject is \d+ % wide/);
    expect((await sharp(path.join(folder, 'mask.png')).metadata()).channels).toBe(1);
  }, 60_000);

  test('a wrong call says what to do, and writes nothing', () => {
    const odd = path.resolve('demo/files/pictures/portrait-odd.jpg');
    expect(gable('cut', odd)).toMatchObject({ status: 2 });
    expect(gable('cut', odd, '--out', 'x.png', '--box', 'faces').err).toContain('is not a box');
  });
});

test('gable frame keeps what it finds: faces and words become marks of the file', () => {
  const out = path.join(folder, 'kept.docx');
  const { status, err } = gable(
    'frame',
    handbook,
    '--pick',
    '2,10',
    '--shape',
    'circle',
    '--keep',
    'faces+words',
    '--out',
    out,
  );
  expect(status).toBe(0);
  expect(err).toMatch(/Picture 10: this shape cannot keep “Open shelves/);
  const { pictures } = openFile(readFileSync(out));
  expect(pictures[1]!.frame.keep!.map((m) => m.name)).toEqual(['Face']);
  expect(pictures[9]!.frame.keep).toHaveLength(2);
}, 60_000);

test('gable frame --alone gives the subject its own outline, in the file’s own terms', () => {
  const out = path.join(folder, 'alone.docx');
  const call = ['--pick', '6', '--alone', '--outline', '3pt #ffffff outside', '--shadow', 'soft'];
  expect(gable('frame', handbook, ...call, '--out', out)).toMatchObject({ status: 0 });
  const { frame } = openFile(readFileSync(out)).pictures[5]!;
  expect(frame.shape.drawn).toBeDefined();
  expect(frame.outline!.weight).toBeCloseTo(3, 6);
  expect(Math.max(frame.box.width / frame.box.height, frame.box.height / frame.box.width)).toBeGreaterThan(1.05);
}, 60_000);

test('gable new and gable put: from nothing to a round picture, and into places of files that are there', () => {
  const portrait = 'demo/files/pictures/portrait-maren.jpg';
  const at = (name: string): string => path.join(folder, name);
  expect(gable('new', '--out', at('new.pptx'), '--page', '16:9', '--ground', '#22302f')).toMatchObject({ status: 0 });
  const call = ['--picture', portrait, '--shape', 'circle', '--size', '40mm', '--alt', 'Maren'];
  gable('put', at('new.pptx'), '--out', at('slide.pptx'), ...call, '--at', '20mm,30mm', '--outline', '3pt #ffffff');
  const [slide] = openFile(readFileSync(at('slide.pptx'))).pictures;
  expect(slide!.frame).toMatchObject({ shape: { name: 'circle' }, alt: 'Maren', outline: { weight: 3 } });
  expect(slide!.frame.box.x).toBeCloseTo((20 / 25.4) * 72, 3);
  expect(slide!.frame.box.width).toBeCloseTo((40 / 25.4) * 72, 3);

  // Behind the paragraph with these words, which the demo's author wrote (demo/src/handbook.ts).
  gable('put', handbook, '--out', at('put.docx'), ...call, '--after', 'celadon is  patient');
  const before = openFile(readFileSync(handbook)).pictures;
  const after = openFile(readFileSync(at('put.docx'))).pictures;
  expect(after).toHaveLength(before.length + 1);
  const n = after.findIndex((p) => p.frame.alt === 'Maren');
  // The picture of celadon floats beside that paragraph: the new one comes next.
  expect(after[n - 1]!.where.near).toContain('Celadon is patient');
  // Among the letters, right behind the words.
  gable('put', handbook, '--out', at('behind.docx'), ...call, '--behind', 'celadon is');
  const behind = strFromU8(unzipSync(readFileSync(at('behind.docx')))['word/document.xml']!);
  expect(behind).toMatch(
    /Celadon is <\/w:t><w:drawing .*?descr="Maren".*?<\/w:drawing><w:t xml:space="preserve">patient/s,
  );
  const into = gable('put', 'demo/files/open-day-talk.pptx', '--out', at('x.pptx'), ...call, '--into', 'placeholder');
  expect([into.status, into.err]).toEqual([2, expect.stringContaining('The page has no empty placeholder')]);
  gable('put', handbook, '--out', at('head.docx'), ...call, '--header', '--align', 'right');
  const inHead = openFile(readFileSync(at('head.docx'))).pictures.find((p) => p.frame.alt === 'Maren')!;
  expect([inHead.where.place, inHead.frame.flow, inHead.frame.shape.name]).toEqual(['header', 'inline', 'circle']);
  const every = gable('put', handbook, '--out', at('every.docx'), ...call, '--header', '--at', '150mm,10mm');
  expect(every.status).toBe(0);
  const onPage = openFile(readFileSync(at('every.docx'))).pictures.find((p) => p.frame.alt === 'Maren')!;
  expect([onPage.where.place, onPage.frame.anchor?.from]).toEqual(['header', { x: 'page', y: 'page' }]);
  expect(onPage.frame.box.x).toBeCloseTo((150 / 25.4) * 72, 2);
  const beside = ['--wrap', 'tight', '--from', 'margin', '--align', 'top-right', '--sides', 'left', '--lock'];
  gable('put', handbook, '--out', at('aligned.docx'), ...call, '--after', 'celadon is', ...beside);
  const aligned = openFile(readFileSync(at('aligned.docx'))).pictures.find((p) => p.frame.alt === 'Maren')!;
  expect(aligned.frame.anchor).toMatchObject({
    from: { x: 'margin', y: 'margin' },
    align: { x: 'right', y: 'top' },
    ...{ wrap: 'tight', sides: 'left', locked: true },
  });

  for (const [wrong, said] of [
    [['--cell', 'B4'], '--cell is no place in this kind of file (docx)'],
    [['--after', 'no such words'], 'No paragraph has the words'],
    [['--header', '--after', 'x'], 'is no place in a header'],
  ] as const) {
    const { status, err } = gable('put', handbook, '--out', at('x.docx'), ...call, ...wrong);
    expect([status, err]).toEqual([2, expect.stringContaining(said)]);
  }
  expect(gable('new', '--out', at('new.xyz')).status).toBe(2);
}, 120_000);

test('as it is called: a process with an exit code, which writes where it should', () => {
  const call = (...args: string[]): unknown[] => {
    const { status, stdout, stderr } = spawnSync(process.execPath, ['cli/bin/gable.mjs', ...args], {
      encoding: 'utf8',
    });
    return [status, stdout !== '', stderr !== ''];
  };
  expect(call('shapes')).toEqual([0, true, false]);
  expect(call('look', handbook)).toEqual([1, false, true]);
  expect(call('shape')).toEqual([2, false, true]);
  expect(call('survey', handbook, '--fail', 'fault')).toEqual([3, true, false]);
}, 60_000);

test('gable frame --overstep lets the subject reach over the edge, moves its line, and takes it back', () => {
  const [out, next] = [path.join(folder, 'over.docx'), path.join(folder, 'over-2.docx')];
  const call = ['--pick', '8', '--shape', 'circle', '--overstep', 'top', '--outline', '3pt #ffffff'];
  expect(gable('frame', handbook, ...call, '--out', out)).toMatchObject({ status: 0 });
  const first = openFile(readFileSync(out)).pictures[7]!.frame;
  expect(first.shape.name).toBe('circle');
  expect(bounds(silhouettePath(first)).y).toBeLessThan(-0.04 * first.box.height);
  // The same cut-out, from another line on.
  gable('frame', out, '--pick', '8', '--overstep', 'top@20%', '--out', next);
  const second = openFile(readFileSync(next)).pictures[7]!.frame;
  expect(second.overstep).toEqual({ ...first.overstep, lines: { top: 0.2 } });
  gable('frame', next, '--pick', '8', '--overstep', 'none', '--out', out);
  const { overstep, ...plain } = openFile(readFileSync(out)).pictures[7]!.frame;
  expect([overstep, plain.shape.name]).toEqual([undefined, 'circle']);
  const wrong = gable('frame', handbook, '--overstep', 'up', '--out', out);
  expect([wrong.status, wrong.err]).toEqual([2, expect.stringContaining('Write top, right, bottom, left')]);
}, 120_000);

test('gable add on a text: a letterhead, which makes its picture round; gable page: a slide as a picture', async () => {
  const at = (name: string): string => path.join(folder, name);
  const words = 'Maren Holt|12 Kiln Lane|0117 496 0234';
  const made = gable('add', 'letterhead', handbook, '--out', at('letter.docx'), '--to', '1', '--words', words);
  expect([made.status, made.err]).toEqual([0, '']);
  const { document, pictures } = openFile(readFileSync(at('letter.docx')));
  expect(pictures[0]!.frame.shape.name).toBe('circle');
  const texts = Object.values(document.items).flatMap((i) =>
    i.kind === 'framed' && i.text ? [i.text.paragraphs.map((p) => p.runs.map((r) => r.text).join('')).join('|')] : [],
  );
  expect(texts).toContain(words);
  const talk = 'demo/files/open-day-talk.pptx';
  expect(gable('page', talk, '--page', '2', '--out', at('two.png'), '--width', '800')).toMatchObject({ status: 0 });
  expect(await sharp(at('two.png')).metadata()).toMatchObject({ width: 800, height: 450 });
  const none = gable('page', talk, '--page', '99', '--out', at('x.png'));
  expect([none.status, none.err]).toEqual([1, expect.stringContaining('It has')]);
  const flows = gable('page', handbook, '--out', at('x.png'));
  expect([flows.status, flows.err]).toEqual([1, expect.stringContaining('only a browser')]);
  expect(readdirSync(folder).sort()).toEqual(['letter.docx', 'two.png']);
});

test('gable add and gable pieces: a name beside a portrait of a deck, and a ring', () => {
  const at = (name: string): string => path.join(folder, name);
  const { out, status } = gable('pieces', '--json');
  expect(status).toBe(0);
  expect((JSON.parse(out) as { name: string }[]).map((p) => p.name)).toContain('name-beside');
  const talk = 'demo/files/open-day-talk.pptx';
  const named = gable(
    'add',
    'name-beside',
    talk,
    '--out',
    at('named.pptx'),
    '--to',
    '2',
    '--words',
    'Maren Holt|wheels',
  );
  expect([named.status, named.err]).toEqual([0, '']);
  const { document, pictures } = openFile(readFileSync(at('named.pptx')));
  const texts = Object.values(document.items).flatMap((i) =>
    i.kind === 'framed' && i.text ? [i.text.paragraphs.map((p) => p.runs.map((r) => r.text).join(''))] : [],
  );
  expect(texts).toContainEqual(['Maren Holt', 'wheels']);
  expect(pictures.map((p) => p.frame)).toEqual(openFile(readFileSync(talk)).pictures.map((p) => p.frame));
  // Together in a group of the slide they are where they were.
  const together = gable('group', at('named.pptx'), '--out', at('grouped.pptx'));
  expect(together.out).toContain('Grouped');
  const grouped = openFile(readFileSync(at('grouped.pptx')));
  const groupsIn = (items: object): number =>
    Object.values(items).filter((i: { kind: string }) => i.kind === 'group').length;
  expect(groupsIn(grouped.document.items)).toBe(groupsIn(document.items) + 1);
  expect(grouped.pictures.map((p) => p.frame)).toEqual(pictures.map((p) => p.frame));
  expect(gable('group', at('grouped.pptx'), '--out', at('again.pptx')).out).toContain('Nothing to group');
  expect(gable('group', at('named.pptx')).status).toBe(2);
  // In the colour of the slide nobody can read them, which a look at the pixels tells.
  const parts = unzipSync(readFileSync(at('named.pptx')));
  const ground = openFile(readFileSync(talk)).sheets[1]!.background.slice(1).toUpperCase();
  const pale = strFromU8(parts['ppt/slides/slide2.xml']!).replace(
    /(<a:srgbClr val=")[^"]*("\/><\/a:solidFill>(?:<a:latin[^>]*>)?<\/a:rPr><a:t>(?:Maren Holt|wheels)<)/g,
    `$1${ground}$2`,
  );
  writeFileSync(at('pale.pptx'), zipSync({ ...parts, 'ppt/slides/slide2.xml': strToU8(pale) }));
  const hard = (file: string): unknown[] => {
    const { pictures } = JSON.parse(gable('survey', at(file), '--look', '--json').out) as {
      pictures: { findings: { code: string }[] }[];
    };
    return pictures.flatMap((p) => p.findings.filter((f) => f.code === 'hard-to-read'));
  };
  expect(hard('named.pptx')).toEqual([]);
  expect(hard('pale.pptx')).toMatchObject([{ words: 'Maren Holt wheels', contrast: 1 }]);
  rmSync(at('pale.pptx'));
  expect(gable('add', 'halo', at('named.pptx'), '--out', at('ring.pptx'), '--to', '2')).toMatchObject({ status: 0 });
  // Along a circle they are outlines, and told as their description.
  const round = gable('add', 'along', talk, '--out', at('round.pptx'), '--to', '2', '--words', 'Maren Holt, wheels');
  expect([round.status, round.err]).toEqual([0, '']);
  const along = Object.values(openFile(readFileSync(at('round.pptx'))).document.items).find(
    (i) => i.tie?.as === 'along',
  );
  expect(along).toMatchObject({ alt: 'Maren Holt, wheels', text: null });
  // Refused, with what to do, and nothing written.
  const wrong = gable('add', 'hat', talk, '--out', at('x.pptx'));
  expect([wrong.status, wrong.err]).toEqual([2, expect.stringContaining('gable pieces')]);
  expect(gable('add', 'ring', site, '--out', at('ring.zip'), '--to', '1')).toMatchObject({ status: 0, err: '' });
  const none = gable('add', 'ring', talk, '--out', at('x.pptx'), '--to', '99');
  expect([none.status, none.err]).toEqual([2, expect.stringContaining('It has')]);
  expect(readdirSync(folder).sort()).toEqual([
    'again.pptx',
    'grouped.pptx',
    'named.pptx',
    'ring.pptx',
    'ring.zip',
    'round.pptx',
  ]);
});
