import { z } from 'zod';
import { GableError } from '../errors';
import { findings, remedy, type Finding, type PictureFacts } from '../analysis/findings';
import {
  OutlineSchema,
  ShadowSchema,
  ShapeSchema,
  SizeSchema,
  solidOutline,
  ToneSchema,
  type Frame,
  type Size,
} from '../model/frame';
import { equal } from '../model/equal';
import { keepInView } from '../placement/keep';
import { aimAt } from '../placement/aim';
import { mended, withRatio, withShape, withSize, freed } from '../placement/reframe';
import type { Subject } from '../model/subject';
import { deriveView } from '../placement/view';
import { shapeOf } from '../shapes/index';
import { ownTone } from '../tone/tone';
import { AroundSchema, type AroundPart } from './around';

/**
 * What a frame has, under a name, to lay on many frames: any of shape, ratio or size, outline, shadow, tone, and what stands
 * around it; never a placement. What is left out stays as it is on each frame; `null` takes it off. Also the file that is read and written:
 * JSON, lengths in points.
 */
export const FinishSchema = z
  .strictObject({
    name: z.string().trim().min(1).max(80),
    shape: ShapeSchema.optional(),
    /** Width over height. Not beside a size. */
    ratio: z.number().positive().finite().optional(),
    size: SizeSchema.optional(),
    outline: OutlineSchema.nullable().optional(),
    shadow: ShadowSchema.nullable().optional(),
    tone: ToneSchema.nullable().optional(),
    around: AroundSchema.nullable().optional(),
  })
  .refine((f) => !(f.ratio && f.size), { message: 'has both a ratio and a size; leave one out' })
  .refine((f) => Object.keys(f).length > 1, { message: 'has nothing but a name' });
export type Finish = z.infer<typeof FinishSchema>;

/** A finish by the name it is called by on the command line and in the database. */
export interface NamedFinish {
  id: string;
  finish: Finish;
}

/** The file of a finish, in words of its own so that nobody takes it for something else. */
const FinishFile = z.strictObject({ gable: z.literal('finish'), version: z.literal(1), finish: FinishSchema });

/** @throws GableError `bad-finish` for text that is no finish, with the place of the fault */
export function readFinish(text: string): Finish {
  let data: unknown;
  try {
    data = JSON.parse(text);
  } catch (cause) {
    throw new GableError('bad-finish', 'This is not a JSON file.', 'Choose a file that Gable wrote.', {}, { cause });
  }
  const read = FinishFile.safeParse(data);
  if (read.success) return read.data.finish;
  const [issue] = read.error.issues;
  const at = (issue?.path ?? []).join(' › ');
  throw new GableError(
    'bad-finish',
    `This is not a finish${at ? `: ${at}` : ''}: ${issue?.message ?? 'unreadable'}.`,
    'Lengths are points, colours “#rrggbb”, shares 0 to 1; docs/finishes.md shows one.',
    { at },
  );
}

export const writeFinish = (finish: Finish): string =>
  `${JSON.stringify({ gable: 'finish', version: 1, finish }, null, 2)}\n`;

const soft = { kind: 'outer', dx: 0, dy: 2, blur: 8, spread: 0, colour: '#000000', opacity: 0.3 } as const;
const shape = (name: string, knobs: Record<string, number> = {}): Pick<Finish, 'shape'> => ({
  shape: { name, knobs },
});

/** The finishes that ship. */
export const FINISHES: readonly NamedFinish[] = [
  { id: 'plain-round', finish: { name: 'Plain round', ...shape('circle'), outline: null, shadow: null } },
  {
    id: 'round-portrait',
    finish: { name: 'Round portrait', ...shape('circle'), outline: solidOutline(3, '#ffffff'), shadow: soft },
  },
  {
    id: 'inked-round',
    finish: { name: 'Inked round', ...shape('circle'), outline: solidOutline(1.5, '#22302f'), shadow: null },
  },
  {
    id: 'ringed-round',
    finish: {
      name: 'Ringed round',
      ...shape('circle'),
      outline: { ...solidOutline(2, '#22302f'), side: 'outside', gap: 3 },
      shadow: null,
    },
  },
  { id: 'soft-corners', finish: { name: 'Soft corners', ...shape('rounded', { radius: 0.08 }), outline: null } },
  {
    id: 'print',
    finish: {
      name: 'Print with a border',
      ...shape('rectangle'),
      ratio: 1.5,
      outline: { ...solidOutline(7, '#ffffff'), side: 'inside' },
      shadow: soft,
    },
  },
  { id: 'square', finish: { name: 'Plain square', ...shape('square'), outline: null, shadow: null } },
  {
    id: 'arched-window',
    finish: { name: 'Arched window', ...shape('round-arch'), ratio: 0.75, outline: solidOutline(2, '#22302f') },
  },
  { id: 'honeycomb', finish: { name: 'Honeycomb', ...shape('hexagon'), outline: null } },
  {
    id: 'double-rule',
    finish: {
      name: 'Double rule',
      outline: { ...solidOutline(4.5, '#22302f'), lines: 'double' },
    },
  },
  {
    id: 'quiet-grey',
    finish: { name: 'Quiet grey', tone: { colour: { amount: 0, warmth: 0, tint: 0, only: null } } },
  },
  { id: 'lifted', finish: { name: 'Lifted', shadow: { ...soft, dy: 4, blur: 14, opacity: 0.35 } } },
  { id: 'bare', finish: { name: 'Bare', outline: null, shadow: null, tone: null } },
];

/** The finish of a frame: all that it has, but its placement and its size. @param around what stands around it */
export function finishOf(frame: Frame, name: string, around: readonly AroundPart[] = []): Finish {
  const { outline, shadow, tone } = frame;
  return {
    name,
    shape: frame.shape,
    ...(shapeOf(frame.shape)?.locked ? {} : { ratio: frame.box.width / frame.box.height }),
    outline,
    shadow,
    // What a file did to one picture's colours concerns no other.
    tone: ownTone(tone) ?? null,
    ...(around.length > 0 && { around: [...around] }),
  };
}

export interface Laying {
  /** Stored pixels. */
  picture: Size;
  subject?: Subject | undefined;
  /** Bring the subject to the middle, rather than leave each picture's own aim. */
  centred?: boolean;
}

/**
 * Lays a finish on a frame. Its place, its picture and its keep mark stay; a picture that was distorted comes out true
 * where shape, ratio or size are part of the finish. What is cut for the first time is cut about the subject; a keep mark
 * that would be cut is moved in.
 */
export function layFinish(frame: Frame, finish: Finish, { picture, subject, centred = false }: Laying): Frame {
  let f = frame;
  const cuts = finish.shape ?? finish.ratio ?? finish.size;
  if (finish.size) {
    const { width, height } = finish.size;
    f = withSize(withRatio(f, width / height, picture, subject), finish.size, picture, 'zoom');
  } else if (finish.ratio) f = withRatio(f, finish.ratio, picture, subject);
  if (finish.shape) f = withShape(f, finish.shape, picture, subject);
  else if (cuts) f = freed(f);
  if (cuts) {
    f = mended(f, picture);
    if (f.placement.fit === 'stretch') f = { ...f, placement: { ...f.placement, fit: 'cover' } };
    f = { ...f, placement: settled(f, picture, centred ? subject : undefined) };
  }
  if (finish.outline !== undefined) f = { ...f, outline: finish.outline };
  if (finish.shadow !== undefined) f = { ...f, shadow: finish.shadow };
  if (finish.tone !== undefined) {
    const { tone, ...rest } = f;
    void tone;
    f = finish.tone ? { ...rest, tone: finish.tone } : rest;
  }
  return f;
}

function settled(f: Frame, picture: Size, middle: Subject | undefined): Frame['placement'] {
  const placement = middle ? { ...f.placement, aim: aimAt(middle, f, picture) } : f.placement;
  const kept = f.keep && keepInView({ ...f, placement }, f.keep, picture);
  if (kept && kept.lost.length < f.keep!.length) return kept.placement;
  // The aim as it is shown: a subject at the rim cannot come to the middle.
  return middle ? { ...placement, aim: deriveView(placement, f.box, picture).placement.aim } : placement;
}

/** A finding that a finish brings to a frame, and the nearest frame without it, where there is one. */
export interface Concern {
  finding: Finding;
  variant: Frame | null;
}

/** What of a finish may not suit a picture. */
const CONCERNS: ReadonlySet<Finding['code']> = new Set([
  'keep-cut',
  'soft',
  'faint-outline',
  'hairline',
  'empty-corner',
]);

/**
 * What laying a finish would bring that was not there before: a keep mark that is cut, a picture that goes soft, an outline
 * that vanishes on its background.
 */
export function concernsOf(before: Frame, after: Frame, facts: PictureFacts): Concern[] {
  const had = new Set(findings(before, facts).map((f) => f.code));
  return findings(after, facts)
    .filter((f) => CONCERNS.has(f.code) && !had.has(f.code))
    .map((finding) => {
      if (finding.code === 'soft' && facts.pixels) {
        const size = { width: Number(finding['goodWidth']), height: Number(finding['goodHeight']) };
        return { finding, variant: withSize(after, size, facts.pixels, 'zoom') };
      }
      return { finding, variant: remedy(finding, after, facts) };
    });
}

/** Has a frame still all that a finish gives? Then it can follow when the finish changes. */
export function wears(frame: Frame, finish: Finish): boolean {
  const same = (a: unknown, b: unknown): boolean => equal(a ?? null, b ?? null);
  const ratio = frame.box.width / frame.box.height;
  const near = (a: number, b: number): boolean => Math.abs(a / b - 1) < 1e-4;
  return (
    (!finish.shape || (frame.shape.name === finish.shape.name && knobsAlike(frame.shape.knobs, finish.shape.knobs))) &&
    (!finish.ratio || near(ratio, finish.ratio)) &&
    (!finish.size || (near(frame.box.width, finish.size.width) && near(frame.box.height, finish.size.height))) &&
    (finish.outline === undefined || same(frame.outline, finish.outline)) &&
    (finish.shadow === undefined || same(frame.shadow, finish.shadow)) &&
    (finish.tone === undefined || same(ownTone(frame.tone), finish.tone))
  );
}

/** Knobs that a finish leaves out rest where the shape has them. */
const knobsAlike = (has: Record<string, number>, asked: Record<string, number>): boolean =>
  Object.entries(asked).every(([k, v]) => has[k] !== undefined && Math.abs(has[k] - v) < 1e-6);
