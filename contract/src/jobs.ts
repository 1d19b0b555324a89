import { FrameSchema } from '@gable/core';
import { z } from 'zod';
import { TextSchema } from './common';

const Point = z.number().min(-20_000).max(20_000);
const Length = z.number().positive().max(20_000);

/** A page as the browser lays it out, without its pictures, and where frames stand on it; in points. */
export const PageShotSchema = z.strictObject({
  png: z.base64().max(4 * 1024 * 1024),
  width: Length,
  height: Length,
  frames: z
    .array(z.strictObject({ n: z.number().int().positive(), x: Point, y: Point, k: z.number().positive().max(100) }))
    .max(500),
});
export type PageShot = z.infer<typeof PageShotSchema>;

export const ShotPairSchema = z.strictObject({
  caption: TextSchema.trim().min(1).max(120),
  before: PageShotSchema,
  after: PageShotSchema,
});
export type ShotPair = z.infer<typeof ShotPairSchema>;

/** What may go from a file when it is handed over. */
export const SlimSchema = z.strictObject({
  crop: z.boolean(),
  ppi: z.number().int().min(72).max(1200).nullable().describe('pixels to the inch at most; null leaves them'),
  strip: z.boolean(),
});
export type SlimWish = z.infer<typeof SlimSchema>;

const CssLength = z.number().min(0).max(100_000);
/** What makes the pages of a site faster, and how their pictures are laid out in windows of some widths, in CSS pixels. */
export const ScreensSchema = z.strictObject({
  copies: z.boolean().describe('smaller copies, for windows that need no more'),
  lazy: z.boolean().describe('pictures below the first screen are fetched later'),
  pictures: z
    .array(
      z.strictObject({
        n: z.number().int().positive(),
        below: z.boolean().describe('the first screen, in every window'),
        boxes: z
          .array(
            z.strictObject({
              window: z.number().int().min(100).max(10_000),
              width: CssLength,
              height: CssLength,
            }),
          )
          .min(1)
          .max(40),
      }),
    )
    .max(5000),
});
export type ScreensWish = z.infer<typeof ScreensSchema>;

/** Kinds of file that a work from nothing can be handed over as. */
export const HANDED_AS = ['docx', 'odt', 'pptx', 'odp', 'odg', 'svg', 'html', 'pdf', 'png'] as const;
export const HandedAsSchema = z.enum(HANDED_AS);
export type HandedAs = z.infer<typeof HandedAsSchema>;
/** Of these each has one page: several are handed over in a zip. */
export const PAGE_BY_PAGE: readonly HandedAs[] = ['svg', 'png'];
const AsSchema = z.strictObject({
  kind: HandedAsSchema,
  ppi: z.number().int().min(36).max(600).default(300).describe('of pages that are painted: PNG, PDF'),
});

/** The file with its frames, a sheet of them before and after, or every frame as pictures. */
export const JobWishSchema = z.discriminatedUnion('kind', [
  z.strictObject({
    kind: z.literal('hand-over'),
    slim: SlimSchema.optional(),
    screens: ScreensSchema.optional().describe('of a site'),
    grouped: z.boolean().optional().describe('each picture in one group with what follows it'),
    as: AsSchema.optional().describe('of a work from nothing'),
  }),
  z.strictObject({
    kind: z.literal('proof'),
    shots: z.array(ShotPairSchema).max(40).readonly().optional().describe('pages that only a browser can lay out'),
  }),
  z.strictObject({
    kind: z.literal('set'),
    format: z.enum(['png', 'webp', 'jpg', 'avif', 'svg']),
    widths: z.array(z.number().int().min(16).max(8000)).min(1).max(8).describe('pixels across'),
    sizes: TextSchema.trim().min(1).max(500).optional().describe('how wide it is on the page'),
    frames: z
      .array(FrameSchema)
      .min(1)
      .max(5000)
      .optional()
      .describe('as they are on the screen; without them, all of the work'),
  }),
]);
export type JobWish = z.infer<typeof JobWishSchema>;

/** A long job: `done` of `total` frames are ready. */
export const JobSchema = z.object({
  id: z.uuid(),
  kind: z.enum(['hand-over', 'proof', 'set', 'folder']),
  work: z.uuid(),
  revision: z.number().int(),
  name: z.string(),
  state: z.enum(['waiting', 'running', 'done', 'failed', 'cancelled']),
  done: z.number().int(),
  total: z.number().int(),
  size: z.number().nullable().describe('of what was made, in bytes'),
  said: z.string().nullable().describe('what was done to make it smaller'),
  problem: z.object({ code: z.string(), title: z.string(), remedy: z.string() }).nullable(),
  createdAt: z.iso.datetime(),
});
export type Job = z.infer<typeof JobSchema>;
export const JobsSchema = z.object({
  jobs: z.array(JobSchema),
  size: z.number().nullable().describe('of the file as it came, in bytes'),
});
