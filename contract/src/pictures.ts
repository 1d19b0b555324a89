import {
  BrushStrokeSchema,
  FaceSchema,
  FrameSchema,
  KeptVideoSchema,
  RegionSchema,
  ShapeSchema,
  type ShapeChoice,
} from '@gable/core';
import { z } from 'zod';
import { DigestSchema, NameSchema, PixelSideSchema, SizeSchema } from './common';

export const PictureQuerySchema = z.object({ side: PixelSideSchema, revision: z.coerce.number().int().optional() });
export const ProxyQuerySchema = z.object({ side: PixelSideSchema });

export const EXPORT_FORMATS = ['png', 'jpg', 'webp', 'avif', 'pdf', 'svg', 'html'] as const;
export type ExportFormat = (typeof EXPORT_FORMATS)[number];
export const ExportSchema = z.object({
  frame: FrameSchema,
  format: z.enum(EXPORT_FORMATS),
  ppi: z
    .number()
    .min(1)
    .max(2400)
    .optional()
    .describe('pixels to the inch; without it and a width, as the picture has'),
  width: z.number().int().min(1).max(20_000).optional().describe('pixels'),
});

const SceneSize = {
  ppi: z.number().min(1).max(2400).optional().describe('pixels to the inch; without it and a width, 300'),
  width: z.number().int().min(1).max(20_000).optional().describe('pixels'),
};
/** A whole page, or a picture with what stands around it, as a file of its own. */
export const SceneExportSchema = z.discriminatedUnion('what', [
  z.object({
    what: z.literal('page'),
    page: z.number().int().positive(),
    format: z.enum(['png', 'jpg', 'webp', 'avif', 'pdf']),
    ...SceneSize,
  }),
  z.object({
    what: z.literal('piece'),
    n: z.number().int().positive(),
    format: z.enum(['png', 'jpg', 'webp', 'avif', 'pdf', 'svg', 'html']),
    ...SceneSize,
  }),
]);
export type SceneExport = z.infer<typeof SceneExportSchema>;

/** What is in a picture. */
export const PictureContentsSchema = z.object({ faces: z.array(FaceSchema) });
export type PictureContents = z.infer<typeof PictureContentsSchema>;

/** What of a picture may be worth keeping visible, beside its faces, and what the author refused. */
export const SuggestionsSchema = z.object({
  words: z.array(RegionSchema.extend({ text: z.string() })),
  refused: z.array(RegionSchema),
});
export type Suggestions = z.infer<typeof SuggestionsSchema>;
export const RefusedSchema = z.object({ refused: z.array(RegionSchema).max(200) });

/** What is to be cut out of a picture. */
export const CutOutWishSchema = z.object({
  strokes: z
    .array(BrushStrokeSchema)
    .max(200)
    .default([])
    .describe('of the author, in their order: what they cover is sure'),
  fine: z.boolean().default(false).describe('at 1,024 pixels, after a first look at 512'),
});
export type CutOutWish = z.input<typeof CutOutWishSchema>;
/** The subject of a picture. */
export const CutOutSchema = z.object({
  mask: z.string().describe('how much of each pixel belongs to it: a PNG of one channel, in Base64'),
  outline: z
    .object({ shape: ShapeSchema, region: RegionSchema.describe('the box of the outline') })
    .nullable()
    .describe('null where nothing was found'),
});
export type CutOut = z.infer<typeof CutOutSchema>;

/** A picture of the stock, or one the author brought. */
export const LibraryPictureSchema = z.object({
  sha256: DigestSchema,
  name: z.string(),
  kind: z.enum(['own', 'stock']),
  type: z.string(),
  size: SizeSchema,
  orientation: z.number().int().describe('as its EXIF data have it'),
  video: KeptVideoSchema.optional().describe('what it is seen of before that plays'),
});
export type LibraryPicture = z.infer<typeof LibraryPictureSchema>;
export const LibraryQuerySchema = z.object({ q: z.string().max(200).default('') });
export const PictureNameSchema = NameSchema.default('Picture');

/** A shape made from the author's own drawing. */
export const OwnShapeSchema = z.object({ id: z.uuid(), name: z.string(), shape: FrameSchema.shape.shape });
export const MadeShapeSchema = OwnShapeSchema.extend({
  /** False where the author had this very shape already: the kept one is answered, under its name. */
  isNew: z.boolean(),
  /** Text in the drawing, which is no part of the shape. */
  textLeftOut: z.boolean(),
});
export interface OwnShape {
  id: string;
  name: string;
  shape: ShapeChoice;
}
export interface MadeShape extends OwnShape {
  isNew: boolean;
  textLeftOut: boolean;
}
