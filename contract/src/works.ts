import {
  ChangesSchema,
  EntrySchema,
  FrameSchema,
  PageItemSchema,
  type Entry,
  type NewEntry,
  TextSchema as ShapeTextSchema,
  PaperSchema,
} from '@gable/core';
import { z } from 'zod';
import { HandedAsSchema } from './jobs';
import { DigestSchema, MAX_PICTURES, NameSchema, SizeSchema, TextSchema, WholeSchema } from './common';

/** What a work from nothing begins as. */
export const NEW_KINDS = ['paper', 'slides', 'graphic', 'web'] as const;

/** Of these the kind of file is chosen when they are handed over; a web page is a file at once. */
export const BegunSchema = z.enum(NEW_KINDS).exclude(['web']);
export type Begun = z.infer<typeof BegunSchema>;

export const WorkSummarySchema = z.object({
  id: z.uuid(),
  name: z.string(),
  format: z
    .string()
    .describe('of its file; `pictures` for a work that began with pictures, `folder` for works that are seen together'),
  begun: BegunSchema.nullable().describe('what it began as, where its kind of file is chosen when it is handed over'),
  revision: z.number().int(),
  demo: z.boolean(),
  pictures: z.number().int(),
  framed: z.number().int(),
  faces: z.array(z.number().int()).describe('pictures that can be shown'),
  sheetCount: z.number().int().describe('pages of a fixed size'),
  createdAt: z.iso.datetime(),
  updatedAt: z.iso.datetime(),
});
export type WorkSummary = z.infer<typeof WorkSummarySchema>;

export const ShelfQuerySchema = z.object({
  limit: z.coerce.number().int().min(1).max(500).default(100),
  after: z
    .string()
    .regex(/^(\d{1,16}_[0-9a-f-]{36}|\d{1,6})$/)
    .optional()
    .describe('where the page before ended'),
  words: z.string().trim().max(80).default('').describe('only works whose name has these words'),
  order: z.enum(['latest', 'name']).default('latest'),
});
export const RenameSchema = z.object({ name: NameSchema });
export const ShelfSchema = z.object({ works: z.array(WorkSummarySchema), next: z.string().nullable() });
export type Shelf = z.infer<typeof ShelfSchema>;

/** Where a picture stands. */
const WhereSchema = z.object({
  part: z.string(),
  place: z.string(),
  table: z.boolean(),
  textBox: z.boolean(),
  group: z.boolean(),
  page: z.number().int().nullable(),
  near: z.string().describe('words beside it'),
});

export const WorkPictureSchema = z.object({
  n: z.number().int().positive(),
  where: WhereSchema,
  file: z.string().optional().describe('in a folder: the file it is in'),
  member: z.object({ id: z.string(), n: z.number().int() }).optional().describe('in a folder: what it is in its file'),
  origin: z.object({ x: z.number(), y: z.number() }).optional().describe('what its box counts from on its sheet'),
  freeable: z.boolean().optional().describe('can it leave the text, or go back into it?'),
  sections: z.literal(true).optional().describe('on a web page: can it be the ground of a section there?'),
  plays: z.literal(true).optional().describe('its video is in the file, and can be played from there'),
  frame: FrameSchema.describe('as the file has it'),
  size: SizeSchema,
  media: z
    .object({
      type: z.string(),
      pixels: SizeSchema.nullable(),
      orientation: z.number().int(),
      drawable: z.boolean(),
      bytes: z.number().nullable().optional().describe('of its data in the file'),
      data: z.string().nullable().optional().describe('the same in frames that show the same picture'),
    })
    .nullable(),
  problem: z.object({ code: z.string(), message: z.string(), remedy: z.string() }).nullable(),
  words: ShapeTextSchema.optional().describe('that its shape has in front of the picture'),
  faked: z
    .object({ weight: z.number(), colour: z.string() })
    .optional()
    .describe('a second shape behind it that imitates an outline'),
});
export type WorkPicture = z.infer<typeof WorkPictureSchema>;

/** A page of a fixed size with what lies on it. Lengths in points. */
export const SheetSchema = z.object({
  id: z.string().optional().describe('what it is called, where that is not its place'),
  width: z.number(),
  height: z.number(),
  background: z.string(),
  layers: z.array(z.string()).readonly().optional().describe('under it, from the back'),
  items: z.array(PageItemSchema).readonly().describe('from the back to the front'),
  backdrop: z.literal(true).optional().describe('there is a picture behind all of it'),
  drawn: z.literal(true).optional().describe('that picture shows all that is no picture itself'),
  apart: z
    .array(z.string())
    .readonly()
    .optional()
    .describe('items that it does not show: those that Gable has put there'),
  stays: z
    .array(z.string())
    .readonly()
    .optional()
    .describe('items that can neither come into a group nor be taken apart'),
  locked: z.array(z.string()).readonly().optional().describe('items that are neither moved, sized nor deleted by hand'),
  lines: z
    .object({ x: z.array(z.number()).readonly(), y: z.array(z.number()).readonly() })
    .optional()
    .describe('edges of columns and rows'),
});
export type Sheet = z.infer<typeof SheetSchema>;

/** What was said of a work as a whole. */
export const MarksSchema = z.strictObject({
  deliberate: z.array(TextSchema.min(1).max(40_000)).max(1000).optional(),
  finish: TextSchema.min(1).max(80).optional().describe('the finish that comes first'),
});
export type Marks = z.infer<typeof MarksSchema>;

/** What can be done with a work of this kind. */
export const CapabilitiesSchema = z.object({
  pages: z
    .enum(['fixed', 'text', 'web', 'row', 'none'])
    .describe('of a fixed size; laid out as a text or for a window; a row of pictures; none of its own'),
  insert: z
    .enum(['page', 'text', 'web', 'cell'])
    .nullable()
    .describe('pictures can be put in: on a page, in the text, on a web page, at a cell'),
  turns: z.boolean().describe('its pages can come, go and move'),
  around: z.boolean().describe('words and blocks can be put round its pictures'),
  restyles: z
    .enum(['shapes', 'all'])
    .nullable()
    .describe('what can look otherwise: its own shapes and words, or these and the colour behind its pages'),
  order: z.boolean().describe('what lies on its pages can come forward and go back'),
  groups: z.boolean().describe('what lies on one of its pages can be put together in groups'),
  margin: z.boolean().describe('its headers and footers can get pictures'),
  fonts: z.boolean().describe('fonts can be put into its file'),
  cells: z.boolean().describe('words around pictures can show what stands in a cell'),
  slim: z.enum(['all', 'private', 'none']).describe('what can go to make its file smaller'),
});

export const WorkSchema = WorkSummarySchema.omit({ pictures: true }).extend({
  signed: z.boolean(),
  can: CapabilitiesSchema,
  pages: z.number().int(),
  sheets: z.array(SheetSchema).readonly().optional().describe('pages of a fixed size; none where text flows'),
  layers: z
    .array(z.object({ id: z.string(), name: z.string(), items: z.array(PageItemSchema).readonly() }))
    .readonly()
    .optional()
    .describe('masters and layouts, which pages share'),
  stories: z
    .array(
      z.object({
        ...{ place: z.string(), part: z.string(), items: z.array(PageItemSchema).readonly() },
        page: PaperSchema.optional().describe('the paper of a text, in points'),
      }),
    )
    .readonly()
    .optional()
    .describe('texts that flow, with what stands in them'),
  leftOut: z
    .array(z.object({ why: z.string(), count: z.number().int() }))
    .readonly()
    .optional()
    .describe('pictures of the file that are not listed, and why'),
  pictures: z
    .array(WorkPictureSchema)
    .describe('in the order of the file; they keep their numbers when others come or go'),
  next: z.number().int().positive().describe('the number of the next picture that is put in'),
  came: z.number().int().describe('pictures that were put into the file here'),
  gone: z.number().int().describe('pictures of the file that were deleted here'),
  changes: ChangesSchema.describe('what differs from the file'),
  marks: MarksSchema.optional(),
});
export type Work = z.infer<typeof WorkSchema>;

/** What was done, as it is logged. Of a folder: what was done to its works. */
export const LoggedEntrySchema = EntrySchema.extend({
  seq: WholeSchema.positive().describe('rises with every entry of all works'),
  at: z.iso.datetime(),
  inverse: EntrySchema.shape.operations.describe('what takes it back'),
});
export interface LoggedEntry extends Entry {
  seq: number;
  /** ISO 8601 */
  at: string;
}
export const HistorySchema = z.object({
  entries: z.array(LoggedEntrySchema),
  more: z.boolean().describe('are there earlier ones?'),
});
export interface LoggedHistory {
  entries: LoggedEntry[];
  more: boolean;
}
export const HistoryQuerySchema = z.object({
  before: z.coerce.number().pipe(WholeSchema.positive()).optional().describe('of the first entry that is known'),
});

/** How many entries are saved at once. */
export const MAX_ENTRIES = 500;
export const SaveEntriesSchema = z.object({
  base: WholeSchema.positive().describe('the revision that the entries were made from'),
  entries: z.array(EntrySchema).min(1).max(MAX_ENTRIES),
  over: z
    .boolean()
    .default(false)
    .describe('also where others have changed the same meanwhile; that state is kept as a version'),
});
export interface SaveEntries {
  base: number;
  entries: readonly NewEntry[];
  over?: boolean;
}
export const SavedSchema = z.object({
  revision: z.number().int(),
  others: z.array(LoggedEntrySchema).describe('what others did since `base`: the new entries come after it'),
});
export interface Saved {
  revision: number;
  others: LoggedEntry[];
}

export const VersionsSchema = z.object({
  versions: z.array(
    z.object({
      id: z.uuid(),
      reason: z.enum(['stale', 'replaced']),
      revision: z.number().int(),
      changes: ChangesSchema,
      createdAt: z.iso.datetime(),
    }),
  ),
});

export const FramesSchema = z.object({ frames: z.array(FrameSchema).max(MAX_PICTURES) });
export const PagesQuerySchema = FramesSchema.extend({
  page: WholeSchema.positive().default(1),
  added: ChangesSchema.optional().describe('what was put round the pictures of a text'),
  whole: z.boolean().optional().describe('what was added over pictures is seen, too, and not left to the asker'),
});
export type PagesQuery = z.input<typeof PagesQuerySchema>;
/** @param revision an address with that of now never shows anything else */
export const CoverQuerySchema = z.object({ revision: z.coerce.number().int().optional() });
export const PageQuerySchema = z.object({ page: z.coerce.number().pipe(WholeSchema.positive()).default(1) });
/** Which ground: as the file came, or with its own shapes and words as they are now, in a state of these that has this name. */
export const GroundQuerySchema = PageQuerySchema.extend({
  state: z
    .string()
    .regex(/^\w{1,20}$/)
    .optional(),
});

/** How a frame is written: in the file's own terms, or with what those lack painted into pixels. */
export const FrameFidelitySchema = z.object({
  n: z.number().int(),
  fidelity: z.enum(['native', 'rasterised-fill', 'rasterised']),
  reasons: z.array(z.string()),
  shape: z.boolean().optional().describe('it becomes a drawing shape, which other programs may not take for a picture'),
  still: z.literal(true).optional().describe('its video is left out, and its poster stands for it'),
});
export type FrameFidelity = z.infer<typeof FrameFidelitySchema>;

/** What a work from nothing would be as a file of each kind. */
export const KindsSchema = z.object({
  kinds: z.array(
    z.object({
      as: HandedAsSchema,
      slim: z.enum(['all', 'private', 'none']).describe('what can go from it to make it smaller'),
      fonts: z.boolean().describe('fonts can be put into it; true where its words are painted'),
      groups: z.boolean().describe('a picture and what follows it can be one group of its own'),
      fidelity: z.array(FrameFidelitySchema).describe('of each frame'),
    }),
  ),
});
export type HandedKind = z.infer<typeof KindsSchema>['kinds'][number];

/** Kept pictures in a row; null for an empty frame that waits for one. */
export const PictureRowSchema = z.object({
  name: NameSchema.optional(),
  pictures: z.array(DigestSchema.nullable()).min(1).max(200),
});
export type PictureRow = z.infer<typeof PictureRowSchema>;

/** A work of one page: empty, or with the pictures of a work that has no page. */
export const NewWorkSchema = z.object({
  kind: z.enum(NEW_KINDS),
  of: z.uuid().optional().describe('the work whose pictures come onto the page, as they are framed there'),
  page: TextSchema.max(80).describe('A4, A4 landscape, letter, 16:9, 4:3, or a size such as 1080x1080px'),
  ground: z.string().max(80).nullable().default(null).describe('a colour'),
  name: NameSchema.optional(),
});
export type NewWork = z.input<typeof NewWorkSchema>;

/** How many works can be looked at together. */
export const FOLDER_FILES = { min: 2, max: 200 } as const;
export const FolderSchema = z.object({
  name: NameSchema,
  works: z.array(z.uuid()).min(FOLDER_FILES.min).max(FOLDER_FILES.max),
});

/** A block of a text, and the cell or text box that it stands in, counted from 0 through the text. */
export const BlockSchema = z.object({
  words: z.string(),
  in: z.enum(['text', 'cell', 'box']),
  within: z.number().int().min(0).nullable(),
});
export type Block = z.infer<typeof BlockSchema>;
