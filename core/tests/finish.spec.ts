import {
  concernsOf,
  deltaE,
  deriveView,
  evened,
  familyKey,
  findings,
  FINISHES,
  finishOf,
  FinishSchema,
  layFinish,
  POINTS,
  readFinish,
  solidOutline,
  toLab,
  unevenFamilies,
  wears,
  writeFinish,
  type Frame,
} from '../src/index';
import { frameOf } from './frames';

const mm = (v: number): number => v * POINTS.mm;
const picture = { width: 3000, height: 2000 };
const finish = (id: string): (typeof FINISHES)[number]['finish'] => FINISHES.find((f) => f.id === id)!.finish;
const laid = (frame: Frame, id: string, more = {}): Frame => layFinish(frame, finish(id), { picture, ...more });

describe('finishes', () => {
  test('a dozen ship, under names of their own, and each is what its file says', () => {
    expect(FINISHES.length).toBeGreaterThanOrEqual(12);
    expect(new Set(FINISHES.map((f) => f.id)).size).toBe(FINISHES.length);
    for (const f of FINISHES) expect(readFinish(writeFinish(f.finish))).toEqual(f.finish);
  });

  test.each([
    ['text that is no JSON', '{', 'not a JSON file'],
    ['another file', '{"name":"x"}', 'not a finish'],
    [
      'a wrong colour',
      writeFinish({ name: 'x', outline: solidOutline(1, 'red') }),
      'finish › outline › paint › colour',
    ],
    ['a placement', '{"gable":"finish","version":1,"finish":{"name":"x","placement":{}}}', 'placement'],
    ['nothing but a name', '{"gable":"finish","version":1,"finish":{"name":"x"}}', 'nothing but a name'],
    [
      'ratio and size',
      '{"gable":"finish","version":1,"finish":{"name":"x","ratio":1,"size":{"width":9,"height":9}}}',
      'both',
    ],
  ])('%s is refused with where and why', (_, text, words) => {
    expect(() => readFinish(text)).toThrow(words);
  });

  test('a portrait squashed in the file comes out a true circle about its own subject', () => {
    const squashed = frameOf(100, 100, { placement: { ...frameOf(1, 1).placement, fit: 'stretch' } });
    const f = laid(squashed, 'round-portrait', { subject: { u: 0.3, v: 0.5 }, centred: true });
    expect(f.shape.name).toBe('circle');
    expect(f.box.width).toBe(f.box.height);
    const { scale, placement } = deriveView(f.placement, f.box, picture);
    expect(scale.x / scale.y).toBeCloseTo(1, 9);
    // 3 : 2 in a square shows two thirds of the width: the aim can reach a third from the left.
    expect(placement.aim.u).toBeCloseTo(1 / 3, 9);
    expect([f.outline?.weight, f.shadow?.kind]).toEqual([3, 'outer']);
  });

  test('each picture keeps its own aim, place and keep mark', () => {
    const keep = { u: 0.7, v: 0.4, width: 0.2, height: 0.2 };
    const frame = frameOf(mm(60), mm(40), {
      flow: 'floating',
      box: { x: 10, y: 20, width: mm(60), height: mm(40) },
      placement: { ...frameOf(1, 1).placement, aim: { u: 0.3, v: 0.5 } },
      keep: [keep],
    });
    const f = laid(frame, 'square');
    expect(f.keep).toEqual([keep]);
    expect([f.box.x + f.box.width / 2, f.box.y + f.box.height / 2]).toEqual([10 + mm(30), 20 + mm(20)]);
    // Left of the middle the mark would be cut: it is moved in.
    expect(findings(f, { pixels: picture, orientation: 1 }).map((x) => x.code)).not.toContain('keep-cut');
    const plain = laid({ ...frame, keep: undefined } as Frame, 'double-rule');
    expect(plain.placement).toEqual(frame.placement);
    expect(plain.box).toEqual(frame.box);
  });

  test('what is left out stays, null takes off', () => {
    const tone = { softness: { blur: 1 } };
    const frame = frameOf(100, 80, { outline: solidOutline(2, '#123456'), tone, shadow: null });
    expect(laid(frame, 'lifted')).toMatchObject({ outline: frame.outline, tone, shadow: { dy: 4 } });
    const bare = laid(frame, 'bare');
    expect([bare.outline, bare.shadow, bare.tone]).toEqual([null, null, undefined]);
  });

  test('a frame wears what was laid on it until it is changed', () => {
    for (const { id } of FINISHES) {
      const f = laid(frameOf(mm(60), mm(40)), id);
      expect([id, wears(f, finish(id))]).toEqual([id, true]);
    }
    const f = laid(frameOf(mm(60), mm(40)), 'round-portrait');
    expect(wears({ ...f, outline: null }, finish('round-portrait'))).toBe(false);
    expect(wears(laid(f, 'square'), finish('round-portrait'))).toBe(false);
  });

  test('a frame’s own finish, laid on another frame, gives it all of it', () => {
    const first = laid(frameOf(mm(60), mm(40)), 'arched-window');
    const own = FinishSchema.parse(finishOf(first, 'Mine'));
    const f = layFinish(frameOf(mm(50), mm(50)), own, { picture });
    expect(f.shape.name).toBe('round-arch');
    expect(f.box.width / f.box.height).toBeCloseTo(0.75, 9);
    expect(f.outline).toEqual(first.outline);
  });

  test('what a file did to the colours of its picture is no part of a frame’s own finish', () => {
    const grey = { colour: { amount: 0, warmth: 0, tint: 0, only: null } };
    const given = { ...frameOf(mm(60), mm(40)), tone: { ...grey, given: { lift: 0.2 } } };
    const own = finishOf(given, 'Mine');
    expect(own.tone).toEqual(grey);
    expect(wears(given, own)).toBe(true);
    expect(finishOf({ ...given, tone: { given: { lift: 0.2 } } }, 'Mine').tone).toBeNull();
  });

  test('what it would spoil is said, with the nearest that does not', () => {
    const facts = { pixels: picture, orientation: 1, rim: '#fafafa', page: '#ffffff' };
    const frame = frameOf(mm(60), mm(40), { alt: 'A bowl' });
    const white = laid(frame, 'round-portrait');
    const [faint] = concernsOf(frame, white, facts);
    expect(faint?.finding.code).toBe('faint-outline');
    expect(findings(faint!.variant!, facts)).toEqual([]);
    const large = layFinish(frame, { name: 'Large', size: { width: mm(800), height: mm(600) } }, { picture });
    const [soft] = concernsOf(frame, large, facts);
    expect(soft?.finding.code).toBe('soft');
    expect(soft!.variant!.box.width).toBeLessThan(mm(800));
    expect(concernsOf(frame, frame, facts)).toEqual([]);
  });
});

describe('unevenness, against families made by hand', () => {
  const at = (n: number, width: number, height: number, more: Partial<Frame> = {}): Frame =>
    frameOf(mm(width), mm(height), { n, ...more });
  const round = { shape: { name: 'circle', knobs: {} } };
  const egg = { shape: { name: 'ellipse', knobs: {} } };
  const found = (frames: Frame[]): [string, number[], number][] =>
    unevenFamilies(frames).map((f) => [f.kind, [...f.members], f.different]);

  test('seven portraits, six sizes: all 32 mm circles', () => {
    const portraits = [
      at(1, 32, 32, round),
      at(2, 32, 32, round),
      at(3, 31.2, 31.2, round),
      at(4, 32.6, 32.6, round),
      at(5, 33, 33, round),
      at(6, 32, 33.1, egg),
      at(7, 32.3, 32.3, round),
    ];
    const others = [at(8, 60, 40), at(9, 120, 80), at(10, 45, 45, round)];
    const families = unevenFamilies([...portraits, ...others]);
    expect(families.map((f) => [f.kind, f.members, f.different])).toEqual([['size', [1, 2, 3, 4, 5, 6, 7], 6]]);
    expect(families[0]!.target).toMatchObject({ kind: 'size', round: true });
    for (const f of portraits) {
      const e = evened(f, families[0]!, picture);
      expect([e.shape.name, e.box.width / POINTS.mm, e.box.height / POINTS.mm]).toEqual(['circle', 32, 32]);
    }
    expect(unevenFamilies(portraits.map((f) => evened(f, families[0]!, picture)))).toEqual([]);
  });

  test('two sizes that are far apart are two families, however many lie between', () => {
    // 40 to 43 is within 8 %, 43 to 46 too; 40 to 46 is not.
    expect(found([at(1, 40, 30), at(2, 40.5, 30), at(3, 45.5, 34), at(4, 46, 34.5)])).toEqual([
      ['size', [1, 2], 2],
      ['size', [3, 4], 2],
    ]);
  });

  test('nearly one ratio in different sizes', () => {
    const frames = [at(1, 60, 40), at(2, 90, 61), at(3, 120, 79)];
    expect(found(frames)).toEqual([['ratio', [1, 2, 3], 3]]);
    const [family] = unevenFamilies(frames);
    expect(family!.target).toEqual({ kind: 'ratio', ratio: 1.5 });
    expect(unevenFamilies(frames.map((f) => evened(f, family!, picture)))).toEqual([]);
  });

  test('outlines of nearly one weight and colour, corners of nearly one roundness', () => {
    const frames = [
      at(1, 60, 40, { outline: solidOutline(1, '#223344') }),
      at(2, 120, 20, { outline: solidOutline(1.25, '#223344') }),
      at(3, 30, 90, { outline: solidOutline(1, '#243546') }),
      at(4, 30, 200, { outline: solidOutline(6, '#ffffff') }),
      at(5, 200, 100, { shape: { name: 'rounded', knobs: { radius: 0.1 } } }),
      at(6, 100, 100, { shape: { name: 'rounded', knobs: { radius: 0.13 } } }),
    ];
    expect(found(frames)).toEqual([
      ['weight', [1, 2, 3], 2],
      ['colour', [1, 2, 3], 2],
      ['corners', [5, 6], 2],
    ]);
    const families = unevenFamilies(frames);
    const even = frames.map((f) =>
      families.filter((x) => x.members.includes(f.n)).reduce((g, x) => evened(g, x, picture), f),
    );
    expect(unevenFamilies(even)).toEqual([]);
    expect(even.slice(0, 3).map((f) => [f.outline!.weight, f.outline!.paint])).toEqual(
      Array(3).fill([1, { kind: 'solid', colour: '#223344', opacity: 1 }]),
    );
  });

  test('alike frames, and rounding in a file, are no unevenness', () => {
    expect(found([at(1, 60, 40), at(2, 60, 40), at(3, 60.01, 40)])).toEqual([]);
  });

  test('a family is known again by what it is about', () => {
    expect(familyKey({ kind: 'size', members: [3, 5] })).toBe('size:3,5');
  });

  test('a thousand frames of fifty sizes take no time to speak of, and the same families in any order', () => {
    const frames = Array.from({ length: 1000 }, (_, i) => at(i + 1, 30 + (i % 50), 30 + (i % 50)));
    const families = unevenFamilies(frames);
    expect(unevenFamilies([...frames].reverse())).toEqual(families);
    for (const f of families) expect(f.different).toBeGreaterThan(1);
  });
});

test('Lab of sRGB’s primaries and distances (values as commonly tabulated for D65, from memory)', () => {
  const near = (hex: string, l: number, a: number, b: number): void => {
    const lab = toLab(hex);
    expect(Math.hypot(lab.l - l, lab.a - a, lab.b - b)).toBeLessThan(0.05);
  };
  near('#ff0000', 53.24, 80.09, 67.2);
  near('#00ff00', 87.74, -86.18, 83.18);
  near('#0000ff', 32.3, 79.19, -107.86);
  near('#ffffff', 100, 0, 0);
  expect(deltaE('#000000', '#ffffff')).toBeCloseTo(100, 1);
});
