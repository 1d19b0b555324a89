import { z } from 'zod';

// Compiled parsers need `eval`, which the screens' content policy forbids.
z.config({ jitless: true });

/** Lengths are points (1/72 in), angles degrees clockwise, shares 0..1, colours sRGB `#rrggbb` with an opacity 0..1. */
const length = z.number().finite();
const share = z.number().min(0).max(1);
const colour = z.string().regex(/^#[0-9a-f]{6}$/);

export const SizeSchema = z.object({ width: length.positive(), height: length.positive() });
export const BoxSchema = SizeSchema.extend({ x: length, y: length });

/** How the picture lies in the box; see `placement/view.ts` for what it means. */
export const PlacementSchema = z.object({
  fit: z.enum(['cover', 'contain', 'stretch', 'tile']),
  /** The point of the picture at the centre of the box, in shares of the picture. */
  aim: z.object({ u: z.number().finite(), v: z.number().finite() }),
  /** Magnification relative to just covering the (turned) box. */
  zoom: z.number().positive().max(1000),
  /** Turn of the picture inside the upright frame. */
  turn: z.number().finite(),
  mirror: z.boolean(),
  /** Horizontal over vertical scale of the picture; 1 is true. */
  distortion: z.number().positive(),
});

export const ANCHORS = [
  'top-left',
  'top',
  'top-right',
  'left',
  'centre',
  'right',
  'bottom-left',
  'bottom',
  'bottom-right',
] as const;

export const SeatSchema = z.object({ fit: z.enum(['fill', 'keep']), anchor: z.enum(ANCHORS), repeat: z.boolean() });

export const ShapeSchema = z.object({
  name: z.string().min(1).max(80),
  knobs: z.record(z.string(), z.number().finite()),
});

const Stop = z.object({ at: share, colour, opacity: share });
export const PaintSchema = z.discriminatedUnion('kind', [
  z.object({ kind: z.literal('solid'), colour, opacity: share }),
  z.object({ kind: z.literal('linear'), angle: z.number().finite(), stops: z.array(Stop).min(2).max(10) }),
  z.object({ kind: z.literal('radial'), stops: z.array(Stop).min(2).max(10) }),
]);

export const DASHES = ['solid', 'dot', 'dash', 'long-dash', 'dash-dot', 'long-dash-dot', 'long-dash-dot-dot'] as const;

export const OutlineSchema = z.object({
  paint: PaintSchema,
  weight: length.positive().max(1584),
  side: z.enum(['inside', 'on', 'outside']),
  dash: z.enum(DASHES),
  join: z.enum(['mitre', 'round', 'bevel']),
  cap: z.enum(['butt', 'round', 'square']),
});

export const ShadowSchema = z.object({
  kind: z.enum(['outer', 'inner']),
  dx: length,
  dy: length,
  /** Full width of the soft edge; the Gaussian's standard deviation is half of it. */
  blur: length.min(0),
  spread: length,
  colour,
  opacity: share,
});

export const FrameSchema = z.object({
  /** Number of the picture in the opened file, from 1, in document order. */
  n: z.number().int().positive(),
  /** Does it sit in the text like a letter, or lie freely on the page? */
  flow: z.enum(['inline', 'floating']),
  box: BoxSchema,
  /** Turn and flip of the whole frame; the picture's own are in `placement`. */
  turn: z.number().finite(),
  flip: z.object({ horizontal: z.boolean(), vertical: z.boolean() }),
  seat: SeatSchema,
  shape: ShapeSchema,
  placement: PlacementSchema,
  backing: PaintSchema.nullable(),
  outline: OutlineSchema.nullable(),
  shadow: ShadowSchema.nullable(),
  alt: z.string().max(10_000),
});

export type Size = z.infer<typeof SizeSchema>;
export type Box = z.infer<typeof BoxSchema>;
export type Placement = z.infer<typeof PlacementSchema>;
export type Seat = z.infer<typeof SeatSchema>;
export type ShapeChoice = z.infer<typeof ShapeSchema>;
export type Paint = z.infer<typeof PaintSchema>;
export type Outline = z.infer<typeof OutlineSchema>;
export type Shadow = z.infer<typeof ShadowSchema>;
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
