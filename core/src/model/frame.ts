import { z } from 'zod';
import { wellFormed } from '../cut';
import { ANCHORS, AnchorSchema, ParagraphSchema } from './anchor';
import { BOUNDS, pathWithinBounds } from './bounds';

// Compiled parsers need `eval`, which the screens' content policy forbids.
z.config({ jitless: true });

/** Lengths are points (1/72 in), angles degrees clockwise, shares 0..1, colours sRGB `#rrggbb` with an opacity 0..1. */
const within = (most: number): z.ZodNumber => z.number().min(-most).max(most);
const ranged = ({ min, max }: { min: number; max: number }): z.ZodNumber => z.number().min(min).max(max);
const degrees = within(BOUNDS.degrees);
const share = z.number().min(0).max(1);
const colour = z.string().regex(/^#[0-9a-f]{6}$/);

export const SizeSchema = z.object({
  width: z.number().positive().max(BOUNDS.pixels),
  height: z.number().positive().max(BOUNDS.pixels),
});
export const BoxSchema = z.object({
  width: ranged(BOUNDS.side),
  height: ranged(BOUNDS.side),
  x: within(BOUNDS.place),
  y: within(BOUNDS.place),
});

/** How the picture lies in the box; see `placement/view.ts` for what it means. */
export const PlacementSchema = z.object({
  fit: z.enum(['cover', 'contain', 'stretch', 'tile']),
  /** The point of the picture at the centre of the box, in shares of the picture. */
  aim: z.object({ u: within(BOUNDS.aim), v: within(BOUNDS.aim) }),
  /** Magnification relative to just covering the (turned) box. */
  zoom: ranged(BOUNDS.zoom),
  /** Turn of the picture inside the upright frame. */
  turn: degrees,
  mirror: z.boolean(),
  /** Horizontal over vertical scale of the picture; 1 is true. */
  distortion: ranged(BOUNDS.distortion),
  /** Which rows of a tiled picture are mirrored, so that its tiles join without a seam. */
  mirrored: z.enum(['none', 'across', 'down', 'both']).optional(),
});

export const SeatSchema = z.object({
  fit: z.enum(['fill', 'keep']),
  anchor: z.enum(ANCHORS),
  repeat: z.boolean(),
  /** The size of the box before a shape with a ratio of its own took it: another shape has it back. No format has words for it. */
  free: BoxSchema.pick({ width: true, height: true }).optional(),
});

export const ShapeSchema = z.object({
  name: z.string().min(1).max(80),
  knobs: z.record(z.string().max(80), within(BOUNDS.knob)),
  /**
   * An outline drawn elsewhere (silhouette, letter, custom geometry): SVG path data in a box of 1 × 1, and the ratio it
   * insists on, if any.
   */
  drawn: z
    .object({
      path: z.string().min(1).max(BOUNDS.path.text).refine(pathWithinBounds, 'has too many or too large numbers'),
      ratio: ranged(BOUNDS.ratio).nullable(),
      label: z.string().min(1).max(80).overwrite(wellFormed),
    })
    .optional(),
});

const Stop = z.object({ at: share, colour, opacity: share });
export const PaintSchema = z.discriminatedUnion('kind', [
  z.object({ kind: z.literal('solid'), colour, opacity: share }),
  z.object({ kind: z.literal('linear'), angle: degrees, stops: z.array(Stop).min(2).max(10) }),
  z.object({ kind: z.literal('radial'), stops: z.array(Stop).min(2).max(10) }),
  /** From the middle of the box to its four sides. */
  z.object({ kind: z.literal('rectangular'), stops: z.array(Stop).min(2).max(10) }),
]);

export const DASHES = ['solid', 'dot', 'dash', 'long-dash', 'dash-dot', 'long-dash-dot', 'long-dash-dot-dot'] as const;

export const LINES = ['single', 'double', 'thick-thin', 'thin-thick', 'triple'] as const;

export const OutlineSchema = z.object({
  paint: PaintSchema,
  weight: ranged(BOUNDS.weight),
  side: z.enum(['inside', 'on', 'outside']),
  /** Clear space between the edge of the shape and the line; not for a line on the edge. */
  gap: z.number().min(0).max(BOUNDS.weight.max).optional(),
  /** One line, or several that share the weight; the first word names the outer one. */
  lines: z.enum(LINES).optional(),
  /** Opacity of the whole outline, on top of that of its paint. */
  opacity: share.optional(),
  dash: z.enum(DASHES),
  join: z.enum(['mitre', 'round', 'bevel']),
  cap: z.enum(['butt', 'round', 'square']),
});

export const ShadowSchema = z.object({
  kind: z.enum(['outer', 'inner']),
  dx: within(BOUNDS.shadow),
  dy: within(BOUNDS.shadow),
  /** Full width of the soft edge; the Gaussian's standard deviation is half of it. */
  blur: z.number().min(0).max(BOUNDS.shadow),
  spread: within(BOUNDS.shadow),
  colour,
  opacity: share,
});

/**
 * Light, colour, softness and fading of a picture; what each means is in `tone/tone.ts`. Every control rests at the value
 * given here, so that a tone can be taken back by leaving it out.
 */
const signed = z.number().min(-1).max(1);
/** What a file did to a picture's colours that the other groups of a tone do not say: shown, kept, and taken away as a whole. */
export const GivenSchema = z.object({
  /** One colour of the picture that became another one, or clear. */
  swap: z.object({ from: colour, to: colour, opacity: share }).optional(),
  /** Stretched about the middle: −1 all grey, 0 at rest, 1 only the darkest and the lightest. */
  contrast: signed.optional(),
  /** Added to every value: −1 all black, 1 all white. */
  lift: signed.optional(),
  /** Added to red, green and blue. */
  channels: z.tuple([signed, signed, signed]).optional(),
  /** Above 1 lighter, below darker. */
  gamma: z.number().min(0.1).max(10).optional(),
  inverted: z.boolean().optional(),
  /** Black below this lightness, white from it on. */
  threshold: share.optional(),
});
export const ToneSchema = z.object({
  light: z.object({ brightness: signed, contrast: signed, bright: signed, dark: signed }).optional(),
  colour: z
    .object({
      amount: z.number().min(0).max(3),
      warmth: signed,
      tint: signed,
      /** Only these colours: one between black and white, or two, for dark and for light. */
      only: z.array(colour).min(1).max(2).nullable(),
    })
    .optional(),
  /** Standard deviation of the Gaussian, in points on the page. */
  softness: z.object({ blur: z.number().min(0).max(BOUNDS.blur) }).optional(),
  fading: z.object({ opacity: share, multiply: z.boolean() }).optional(),
  given: GivenSchema.optional(),
});

/** A part of a picture, in shares of it. */
export const RegionSchema = z.object({ u: share, v: share, width: share, height: share });
/** A region of the picture that must stay visible. */
export const KeepSchema = RegionSchema.extend({ name: z.string().min(1).max(80).overwrite(wellFormed).optional() });
/** More marks than this on one picture keep nothing any more. */
export const MOST_MARKS = 20;

/** Lines of a box that something reaches over, each in shares of its height or width from the top or the left. */
const line = z.number().min(-1).max(2);
/** The subject, cut out, where it reaches over the edge of its shape. */
export const OverstepSchema = z.object({
  /** Its outline: SVG path data in shares of the picture. */
  subject: z.string().min(1).max(BOUNDS.path.subject).refine(pathWithinBounds, 'has too many or too large numbers'),
  /** Of the picture that it was cut from, stored pixels. */
  picture: SizeSchema,
  /** It reaches over above the line `top`, to the left of `left`, and so on. */
  lines: z
    .object({ top: line, right: line, bottom: line, left: line })
    .partial()
    .refine((lines) => Object.keys(lines).length > 0, 'reaches over no side'),
  /** Of the subject on the rest of the picture, within the shape. */
  shadow: ShadowSchema.optional(),
});

/** A picture that is kept beside the works. */
export const SourceSchema = z.object({
  sha256: z.string().regex(/^[0-9a-f]{64}$/),
  name: z.string().min(1).max(255).overwrite(wellFormed),
  /** `jpeg`, `png`, `svg`, … */
  type: z.string().min(1).max(20),
  /** Stored pixels. */
  size: SizeSchema,
  orientation: z.number().int().min(1).max(8),
});

/**
 * Where the picture lies on a web page, whose box hangs on the window: shares as `object-position` has them (CSS Images 3 §5.5), in
 * windows up to so many CSS pixels wide, the last one in all that are wider.
 */
export const PositionsSchema = z.object({
  /** They count while the picture lies so in the frame's own box. */
  lies: PlacementSchema,
  at: z
    .array(z.object({ upTo: z.number().int().positive().max(20_000).nullable(), x: share, y: share }))
    .min(1)
    .max(40),
});

/** On a web page: the picture grows in its shape by so much while it is pointed at, or its link has the focus. */
export const HoverSchema = z.object({ zoom: z.number().min(1).max(2) });

/** What a section of a web page ends in: a silhouette in the colour of what lies beyond it. */
export const SectionEdgeSchema = z.object({
  shape: z.enum(['wave', 'slope', 'arch', 'hill']),
  /** How high it is, in points. */
  size: z.number().min(1).max(1000),
  colour,
  mirrored: z.literal(true).optional(),
});

/**
 * On a web page: the picture is the ground of a section, which is as high as its box at least; words that lie over it stand in the flow
 * of that.
 */
export const SectionSchema = z.object({
  /** At least so much of the height of the window. */
  share,
  /** From edge to edge of the window? Otherwise it is as wide as its column. */
  wide: z.boolean(),
  above: SectionEdgeSchema.optional(),
  below: SectionEdgeSchema.optional(),
});

/** How a video begins, and whether it is heard and goes on. */
export const PlaySchema = z.object({
  automatic: z.boolean(),
  loop: z.boolean(),
  muted: z.boolean(),
  controls: z.boolean(),
});
/** How a video plays that has just come in. */
export const PLAYED = { automatic: false, loop: false, muted: false, controls: true };
export const VIDEO_TYPES = ['mp4', 'webm'] as const;
/** A video that is kept beside the works. */
export const KeptVideoSchema = z.object({
  sha256: z.string().regex(/^[0-9a-f]{64}$/),
  name: z.string().min(1).max(255).overwrite(wellFormed),
  type: z.enum(VIDEO_TYPES),
  bytes: z.number().int().positive(),
  /** CRC-32, by which packages know it. */
  crc: z.number().int().min(0).max(0xffffffff),
  seconds: z.number().positive().max(1e6),
  /** As it is shown, in pixels. */
  size: SizeSchema,
});
/** Bytes of captions at most. */
export const MAX_CAPTIONS = 200_000;
/** What is said in a video, for readers who do not hear it: WebVTT, and its language (BCP 47). */
export const CaptionsSchema = z.object({
  language: z
    .string()
    .max(35)
    .regex(/^[A-Za-z]{2,8}(-[A-Za-z0-9]{1,8})*$/),
  text: z.string().min(1).max(MAX_CAPTIONS).overwrite(wellFormed),
});
/** A video that plays in the place of the picture, lying as that does: the picture is what is seen of it before, and where nothing plays. */
export const VideoSchema = z.object({
  source: z.discriminatedUnion('from', [
    KeptVideoSchema.extend({ from: z.literal('kept') }),
    /** One that the file has itself, by its part or its address. */
    z.object({ from: z.literal('file'), key: z.string().min(1).max(2000), type: z.string().max(80) }),
  ]),
  play: PlaySchema,
  /** From where and up to where it plays, in seconds; all of it where nothing is said. */
  start: z.number().min(0).max(1e6).optional(),
  end: z.number().positive().max(1e6).optional(),
  /** On web pages. */
  captions: CaptionsSchema.optional(),
});

export const FrameSchema = z.object({
  /** Number of the picture in the opened file, from 1, in document order. */
  n: z.number().int().positive(),
  /** Does it sit in the text like a letter, or lie freely on the page? */
  flow: z.enum(['inline', 'floating']),
  /** Beside a text: how it is tied to that. As the file has it where it is not said. */
  anchor: AnchorSchema.optional(),
  /** The paragraph that it is tied to, where that is another than in the file. */
  paragraph: ParagraphSchema.optional(),
  box: BoxSchema,
  /** Turn and flip of the whole frame; the picture's own are in `placement`. */
  turn: degrees,
  flip: z.object({ horizontal: z.boolean(), vertical: z.boolean() }),
  seat: SeatSchema,
  shape: ShapeSchema,
  placement: PlacementSchema,
  backing: PaintSchema.nullable(),
  outline: OutlineSchema.nullable(),
  shadow: ShadowSchema.nullable(),
  tone: ToneSchema.optional(),
  /** What must stay visible; where not all can, the first of them come first. Left out where there is none. */
  keep: z.array(KeepSchema).min(1).max(MOST_MARKS).optional(),
  overstep: OverstepSchema.optional(),
  positions: PositionsSchema.optional(),
  hover: HoverSchema.optional(),
  section: SectionSchema.optional(),
  video: VideoSchema.optional(),
  /** Another picture in the place of the file's own; its bytes are kept under their digest. */
  source: SourceSchema.optional(),
  /** The finish it was laid with, and follows; left out where it follows none. */
  finish: z.string().min(1).max(80).optional(),
  alt: z.string().max(BOUNDS.alt).overwrite(wellFormed),
});

export type Size = z.infer<typeof SizeSchema>;
export type Box = z.infer<typeof BoxSchema>;
export type Play = z.infer<typeof PlaySchema>;
export type KeptVideo = z.infer<typeof KeptVideoSchema>;
export type Video = z.infer<typeof VideoSchema>;
export type Captions = z.infer<typeof CaptionsSchema>;
export type Section = z.infer<typeof SectionSchema>;
export type SectionEdge = z.infer<typeof SectionEdgeSchema>;
export type Placement = z.infer<typeof PlacementSchema>;
export type Seat = z.infer<typeof SeatSchema>;
export type ShapeChoice = z.infer<typeof ShapeSchema>;
export type Paint = z.infer<typeof PaintSchema>;
export type Outline = z.infer<typeof OutlineSchema>;
export type Shadow = z.infer<typeof ShadowSchema>;
export type Tone = z.infer<typeof ToneSchema>;
export type Given = z.infer<typeof GivenSchema>;
export type KeepMark = z.infer<typeof KeepSchema>;
export type Region = z.infer<typeof RegionSchema>;
/** A paint that runs from colour to colour. */
export type Gradation = Exclude<Paint, { kind: 'solid' }>;
export type Overstep = z.infer<typeof OverstepSchema>;
export type Source = z.infer<typeof SourceSchema>;
export type Frame = z.infer<typeof FrameSchema>;

export const FULL_SEAT: Seat = { fit: 'fill', anchor: 'centre', repeat: false };
export const CENTRED: Placement = {
  fit: 'cover',
  aim: { u: 0.5, v: 0.5 },
  zoom: 1,
  turn: 0,
  mirror: false,
  distortion: 1,
};

/** A plain line of one colour, centred on the edge of the shape. */
export function solidOutline(weight: number, colour: string, opacity = 1): Outline {
  return { paint: { kind: 'solid', colour, opacity }, weight, side: 'on', dash: 'solid', join: 'mitre', cap: 'butt' };
}

/** The stops of a gradient in the order in which formats want them (SVG 2 §14.2.4: offsets that grow). */
export const stopsInOrder = ({ stops }: Gradation): readonly z.infer<typeof Stop>[] =>
  stops.toSorted((a, b) => a.at - b.at);

/** How opaque a paint is where it is densest. */
export const densest = (paint: Paint): number =>
  paint.kind === 'solid' ? paint.opacity : Math.max(...paint.stops.map((s) => s.opacity));

/** How opaque an outline is where it is densest, whether it or its paint says so. */
export const outlineOpacity = ({ paint, opacity = 1 }: Outline): number => opacity * densest(paint);

/** The outline with another opacity: what its paint had in common becomes its own; stops keep their relation. */
export function withOutlineOpacity(outline: Outline, opacity: number): Outline {
  const most = densest(outline.paint);
  if (most === 0) return { ...outline, opacity };
  const { paint } = outline;
  const full: Paint =
    paint.kind === 'solid'
      ? { ...paint, opacity: 1 }
      : { ...paint, stops: paint.stops.map((s) => ({ ...s, opacity: Math.min(1, s.opacity / most) })) };
  return { ...outline, paint: full, opacity };
}

export const keepMarks = ({ keep }: Pick<Frame, 'keep'>): readonly KeepMark[] => keep ?? [];

/** The frame with these marks, or with none. */
export function withKeepMarks(frame: Frame, marks: readonly KeepMark[]): Frame {
  const { keep, ...rest } = frame;
  void keep;
  return marks.length > 0 ? { ...rest, keep: [...marks] } : rest;
}

/** The frame with its subject reaching over the edge in this way, or not at all. */
export function withOverstep(frame: Frame, next: Overstep | null): Frame {
  const { overstep, ...rest } = frame;
  void overstep;
  return next ? { ...rest, overstep: next } : rest;
}

/** What a keep mark is called: by its name, or by its place in the list. */
export const markName = (marks: readonly KeepMark[], index: number): string =>
  marks[index]?.name ?? (marks.length === 1 ? 'Keep mark' : `Mark ${index + 1}`);
