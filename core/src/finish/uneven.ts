import { deltaE } from '../colour-space';
import type { Frame, Size } from '../model/frame';
import { withRatio, withShape, withSize } from '../placement/reframe';
import type { Subject } from '../model/subject';
import { POINTS } from '../units';

/**
 * Frames that are nearly but not quite alike. Two are nearly alike in size when neither side differs by more than 8 %, in
 * ratio within 5 %, in the weight of their outlines within a third, in colour within ΔE*ab 5, in the roundness of their
 * corners within 0.06 of the shorter side. A family is a set of frames of one kind of shape of which every two are nearly
 * alike (complete linkage), and not all are alike.
 */
export const NEAR = { size: 0.08, ratio: 0.05, weight: 1 / 3, colour: 5, corners: 0.06 } as const;
export type UnevenKind = 'size' | 'ratio' | 'weight' | 'colour' | 'corners';

/** What is alike: rounding in a file is no difference. Lengths in points. */
const ALIKE = { size: 0.06, ratio: 0.002, weight: 0.02, corners: 0.002 } as const;

export interface Uneven {
  kind: UnevenKind;
  /** Numbers of the pictures, rising. */
  members: readonly number[];
  /** How many different ones there are. */
  different: number;
  /** What they would all be. Lengths in points. */
  target:
    | { kind: 'size'; size: Size; round: boolean }
    | { kind: 'ratio'; ratio: number }
    | { kind: 'weight'; weight: number }
    | { kind: 'colour'; colour: string }
    | { kind: 'corners'; radius: number };
}

/** A family by what it is about: the same while its members and what they differ in are the same. */
export const familyKey = ({ kind, members }: Pick<Uneven, 'kind' | 'members'>): string =>
  `${kind}:${members.join(',')}`;

/** Shapes that are meant alike: an egg is a circle that went wrong. */
const KINDS: Record<string, string> = {
  circle: 'round',
  ellipse: 'round',
  rectangle: 'box',
  square: 'box',
  rounded: 'box',
};
const kindOf = ({ shape, box }: Frame): string => {
  const kind = KINDS[shape.name] ?? shape.name;
  // A wide ellipse is no circle that went wrong.
  return kind === 'round' && Math.abs(Math.log(box.width / box.height)) > 0.2 ? 'ellipse' : kind;
};

/** How frames are compared for one kind of family. */
interface Comparison {
  kind: UnevenKind;
  distance: (a: Frame, b: Frame) => number;
  limit: number;
  alike: (a: Frame, b: Frame) => boolean;
  target: (members: readonly Frame[]) => Uneven['target'];
}

const ratioOf = (f: Frame): number => f.box.width / f.box.height;
const weightOf = (f: Frame): number => f.outline!.weight;
const colourOf = ({ outline }: Frame): string => (outline?.paint.kind === 'solid' ? outline.paint.colour : '');
const radiusOf = (f: Frame): number => f.shape.knobs['radius']!;
/** How far apart two positive figures are, in the terms of a limit such as 8 %. */
const off = (a: number, b: number): number => Math.abs(Math.log(a / b));

const SIZE: Comparison = {
  kind: 'size',
  distance: (a, b) => Math.max(off(a.box.width, b.box.width), off(a.box.height, b.box.height)),
  limit: Math.log(1 + NEAR.size),
  alike: (a, b) => alikeSize(a.box, b.box),
  target: (of) => {
    const round = kindOf(of[0]!) === 'round';
    return { kind: 'size', size: commonSize(of, round), round };
  },
};
const RATIO: Comparison = {
  kind: 'ratio',
  distance: (a, b) => off(ratioOf(a), ratioOf(b)),
  limit: Math.log(1 + NEAR.ratio),
  alike: (a, b) => Math.abs(ratioOf(a) / ratioOf(b) - 1) < ALIKE.ratio,
  target: (of) => ({ kind: 'ratio', ratio: sayableRatio(middle(of.map(ratioOf))) }),
};
const WEIGHT: Comparison = {
  kind: 'weight',
  distance: (a, b) => off(weightOf(a), weightOf(b)),
  limit: Math.log(1 + NEAR.weight),
  alike: (a, b) => Math.abs(weightOf(a) - weightOf(b)) < ALIKE.weight,
  target: (of) => ({ kind: 'weight', weight: commonest(of.map(weightOf)) }),
};
const COLOUR: Comparison = {
  kind: 'colour',
  distance: (a, b) => deltaE(colourOf(a), colourOf(b)),
  limit: NEAR.colour,
  alike: (a, b) => colourOf(a) === colourOf(b),
  target: (of) => ({ kind: 'colour', colour: commonest(of.map(colourOf)) }),
};
const CORNERS: Comparison = {
  kind: 'corners',
  distance: (a, b) => Math.abs(radiusOf(a) - radiusOf(b)),
  limit: NEAR.corners,
  alike: (a, b) => Math.abs(radiusOf(a) - radiusOf(b)) < ALIKE.corners,
  target: (of) => ({ kind: 'corners', radius: commonest(of.map(radiusOf)) }),
};

function familiesBy({ kind, distance, limit, alike, target }: Comparison, frames: readonly Frame[]): Uneven[] {
  return clusters(frames, distance, limit).flatMap((of) => {
    const different = distinct(of, alike);
    return different > 1 ? [{ kind, members: numbers(of), different, target: target(of) }] : [];
  });
}

/** Families of frames, those with most members first. Frames of the page's margins are left out by the caller. */
export function unevenFamilies(frames: readonly Frame[]): Uneven[] {
  const out: Uneven[] = [];
  for (const group of grouped(frames, kindOf)) {
    const sizes = familiesBy(SIZE, group);
    const sized = new Set(sizes.flatMap((f) => f.members));
    // Those that differ in size anyway are asked for their ratio.
    out.push(
      ...sizes,
      ...familiesBy(
        RATIO,
        group.filter((f) => !sized.has(f.n)),
      ),
    );
  }
  const lined = frames.filter((f) => f.outline !== null);
  out.push(...familiesBy(WEIGHT, lined));
  out.push(
    ...familiesBy(
      COLOUR,
      lined.filter((f) => f.outline!.paint.kind === 'solid'),
    ),
  );
  const cornered = frames.filter((f) => f.shape.knobs['radius'] !== undefined);
  for (const group of grouped(cornered, (f) => f.shape.name)) out.push(...familiesBy(CORNERS, group));
  return out.sort((a, b) => b.members.length - a.members.length || a.members[0]! - b.members[0]!);
}

/** A frame as its family would have it. @param picture stored pixels */
export function evened(frame: Frame, { target }: Uneven, picture: Size, subject?: Subject): Frame {
  switch (target.kind) {
    case 'size': {
      const { width, height } = target.size;
      const cut = target.round
        ? withShape(frame, { name: 'circle', knobs: {} }, picture, subject)
        : withRatio(frame, width / height, picture, subject);
      return withSize(cut, target.size, picture, 'zoom');
    }
    case 'ratio':
      return withRatio(frame, target.ratio, picture, subject);
    case 'weight':
      return frame.outline ? { ...frame, outline: { ...frame.outline, weight: target.weight } } : frame;
    case 'colour': {
      const { outline } = frame;
      if (outline?.paint.kind !== 'solid') return frame;
      return { ...frame, outline: { ...outline, paint: { ...outline.paint, colour: target.colour } } };
    }
    case 'corners':
      return { ...frame, shape: { ...frame.shape, knobs: { ...frame.shape.knobs, radius: target.radius } } };
  }
}

const numbers = (frames: readonly Frame[]): number[] => frames.map((f) => f.n).sort((a, b) => a - b);
const alikeSize = (a: Size, b: Size): boolean =>
  Math.abs(a.width - b.width) < ALIKE.size && Math.abs(a.height - b.height) < ALIKE.size;

function grouped(frames: readonly Frame[], by: (f: Frame) => string): Frame[][] {
  const groups = new Map<string, Frame[]>();
  for (const f of frames) {
    const key = by(f);
    groups.set(key, [...(groups.get(key) ?? []), f]);
  }
  return [...groups.values()];
}

/**
 * Complete linkage: the two nearest clusters are joined while no two of their members are farther apart than the limit.
 * Ties go to the lower picture numbers, so that the same frames always give the same families.
 */
function clusters(frames: readonly Frame[], distance: (a: Frame, b: Frame) => number, limit: number): Frame[][] {
  // Alike frames are one to begin with: there are few different ones even where there are a thousand.
  const kinds: Frame[][] = [];
  for (const f of [...frames].sort((a, b) => a.n - b.n)) {
    const same = kinds.find((k) => distance(k[0]!, f) < 1e-9);
    if (same) same.push(f);
    else kinds.push([f]);
  }
  const far: number[][] = kinds.map((a) => kinds.map((b) => distance(a[0]!, b[0]!)));
  const live = kinds.map((_, i) => i);
  for (;;) {
    let best: [number, number, number] | null = null;
    for (const [p, i] of live.entries())
      for (const j of live.slice(p + 1)) {
        const d = far[i]![j]!;
        if (d <= limit + 1e-12 && (!best || d < best[2] - 1e-12)) best = [i, j, d];
      }
    if (!best) break;
    const [i, j] = best;
    kinds[i]!.push(...kinds[j]!);
    for (const k of live) far[i]![k] = far[k]![i] = Math.max(far[i]![k]!, far[j]![k]!);
    live.splice(live.indexOf(j), 1);
  }
  return live.map((i) => kinds[i]!).filter((c) => c.length > 1);
}

function distinct(frames: readonly Frame[], alike: (a: Frame, b: Frame) => boolean): number {
  const seen: Frame[] = [];
  for (const f of frames) if (!seen.some((s) => alike(s, f))) seen.push(f);
  return seen.length;
}

/** The value most have; of several, the one nearest to the middle. */
function commonest<T extends number | string>(values: readonly T[]): T {
  const count = new Map<T, number>();
  for (const v of values) count.set(v, (count.get(v) ?? 0) + 1);
  const most = Math.max(...count.values());
  const best = [...count].filter(([, n]) => n === most).map(([v]) => v);
  return best.sort()[Math.floor((best.length - 1) / 2)]!;
}

const middle = (values: readonly number[]): number =>
  [...values].sort((a, b) => a - b)[Math.floor((values.length - 1) / 2)]!;

/** The size most of them have, else the middle one in whole millimetres; a round one has equal sides. */
function commonSize(frames: readonly Frame[], round: boolean): Size {
  const mm = (v: number): number => Math.max(1, Math.round(v / POINTS.mm)) * POINTS.mm;
  if (round) {
    const side = mm(middle(frames.map((f) => Math.min(f.box.width, f.box.height))));
    return { width: side, height: side };
  }
  const same = frames.map((f) => frames.filter((g) => alikeSize(f.box, g.box)).length);
  const most = Math.max(...same);
  if (most > frames.length / 2) {
    const { width, height } = frames[same.indexOf(most)]!.box;
    return { width, height };
  }
  return { width: mm(middle(frames.map((f) => f.box.width))), height: mm(middle(frames.map((f) => f.box.height))) };
}

/** Ratios that people say: of whole numbers to sixteen, where one is near. */
function sayableRatio(ratio: number): number {
  let best = ratio;
  let off = 0.03;
  for (let h = 1; h <= 16; h++)
    for (let w = 1; w <= 16; w++) {
      const d = Math.abs(Math.log(w / h / ratio)) + (w + h) * 1e-4;
      if (d < off) [best, off] = [w / h, d];
    }
  return best;
}
