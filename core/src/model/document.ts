import { z } from 'zod';
import { wellFormed } from '../cut';
import { AnchorSchema, ParagraphSchema } from './anchor';
import { BOUNDS } from './bounds';
import {
  BoxSchema,
  KeepSchema,
  MOST_MARKS,
  OutlineSchema,
  OverstepSchema,
  HoverSchema,
  SectionSchema,
  VideoSchema,
  PositionsSchema,
  PaintSchema,
  PlacementSchema,
  SeatSchema,
  ShadowSchema,
  ShapeSchema,
  SizeSchema,
  SourceSchema,
  ToneSchema,
} from './frame';

/**
 * A document as pages and items by stable id, with their order kept apart. Lengths are points, angles degrees clockwise,
 * shares 0..1, colours sRGB. Ids are given once, when a file is opened (`p4` for its fourth picture), and never again.
 */
export const MAX_ITEMS = 20_000;
const share = z.number().min(0).max(1);
const length = z.number().min(-BOUNDS.place).max(BOUNDS.place);
const colour = z.string().regex(/^#[0-9a-f]{6}$/);
const text = (most: number): z.ZodString => z.string().max(most).overwrite(wellFormed);
const IdSchema = z.string().regex(/^[A-Za-z0-9][\w.-]{0,79}$/);

/** What an added item is called: words, blocks, whatever is put round a picture. It stands in the work until a file is written. */
export const addedId = (name: string): string => `add-${name}`;
export const isAdded = (id: string): boolean => /^add-/.test(id);

/** Where a picture for the margins of pages goes. Lengths in points. */
export const MarginPlaceSchema = z.object({
  into: z.enum(['header', 'footer']),
  pages: z.enum(['all', 'first']),
  align: z.enum(['left', 'center', 'right']),
  /** From the picture to the text of the page; null leaves the margins as they are. */
  gap: length.nullable(),
  /** At a place of the page, by its box, instead of in a paragraph of its own. */
  anchor: AnchorSchema.optional(),
});

/** A length of a web page: what CSS says, which only a window turns into points. */
const CssLength = z.string().min(1).max(200);

/** Which of the cells and text boxes of a story, counted from 0 in their order. */
const WithinSchema = z.number().int().min(0);

/** Of a new one: right behind this picture, in what that stands in. */
const BesideSchema = IdSchema;

/** Where an item stands. The box is in points of its page, or of its group's own space. */
export const PositionSchema = z.discriminatedUnion('on', [
  z.object({
    on: z.literal('page'),
    box: BoxSchema,
    /** Of a new one: into the shape or the empty placeholder that has this box. Once it is there, it is that. */
    fills: z.literal(true).optional(),
  }),
  z.object({ on: z.literal('group'), box: BoxSchema }),
  z
    .object({
      on: z.literal('line'),
      box: BoxSchema,
      /** Of a new one: behind so many paragraphs and tables of its story, or of a cell or text box in it. */
      after: z.number().int().min(0).optional(),
      within: WithinSchema.optional(),
      /** In the last of these, behind so many of its letters (spaces are not counted); in a paragraph of its own where it is not said. */
      letters: z.number().int().min(0).optional(),
      beside: BesideSchema.optional(),
    })
    .describe('in the text like a letter'),
  z
    .object({
      on: z.literal('anchor'),
      box: BoxSchema,
      after: z.number().int().min(0).optional(),
      within: WithinSchema.optional(),
      beside: BesideSchema.optional(),
      /** What the box counts from, and how the text goes round it; as the file has it where that is not said. */
      anchor: AnchorSchema.optional(),
      /** Of one of the file: another paragraph that it is tied to. */
      paragraph: ParagraphSchema.optional(),
    })
    .describe('beside the text, tied to a place in it'),
  z.object({
    on: z.literal('cells'),
    box: BoxSchema,
    /** Of one that was added: its box counts from the cell that this picture stands in. */
    beside: BesideSchema.optional(),
    /** Cells from 0, and how far into them; as the file has it where that is not said. */
    cells: z
      .object({
        start: z.object({ row: z.number().int(), column: z.number().int(), dx: length, dy: length }),
        end: z.object({ row: z.number().int(), column: z.number().int(), dx: length, dy: length }).nullable(),
        moves: z.boolean(),
        sizes: z.boolean(),
      })
      .optional(),
  }),
  MarginPlaceSchema.extend({ on: z.literal('margin'), box: BoxSchema }).describe(
    'a new one, in the header or footer of pages: once it is there, it stands in the text of that',
  ),
  z.object({
    on: z.literal('element'),
    /** For the window that pages are read for. */
    box: BoxSchema,
    /** Of a new one: behind so many blocks of its page. */
    after: z.number().int().min(0).optional(),
    /** In the last of these, behind all that is in it. */
    inside: z.literal(true).optional(),
    beside: BesideSchema.optional(),
    fluid: z
      .object({ width: CssLength.optional(), height: CssLength.optional(), most: CssLength.optional() })
      .optional(),
  }),
]);

const FilePicture = z.object({ from: z.literal('file'), key: IdSchema, size: SizeSchema });
const KeptPicture = SourceSchema.extend({ from: z.literal('kept') });
export const PictureSourceSchema = z.discriminatedUnion('from', [FilePicture, KeptPicture]);

const PictureFill = z.object({
  kind: z.literal('picture'),
  source: PictureSourceSchema,
  placement: PlacementSchema,
  /** What shows where the picture does not. */
  backing: PaintSchema.nullable(),
  tone: ToneSchema.optional(),
  /** What must stay visible. */
  keep: z.array(KeepSchema).max(MOST_MARKS),
  overstep: OverstepSchema.optional(),
  positions: PositionsSchema.optional(),
  hover: HoverSchema.optional(),
  section: SectionSchema.optional(),
  video: VideoSchema.optional(),
});
const PaintFill = z.object({
  kind: z.literal('paint'),
  paint: PaintSchema,
  /** A veil: what lies beneath it shows through blurred, by this standard deviation in points. */
  blur: z.number().positive().max(BOUNDS.blur).optional(),
});
export const FillSchema = z.discriminatedUnion('kind', [PictureFill, PaintFill]);

const Run = z.object({
  text: text(10_000),
  font: z.string().max(200),
  /** In points. */
  size: z.number().positive().max(4000),
  weight: z.number().int().min(1).max(1000),
  italic: z.boolean(),
  underline: z.boolean(),
  paint: PaintSchema,
});
export const TextSchema = z.object({
  paragraphs: z
    .array(
      z.object({
        align: z.enum(['start', 'centre', 'end', 'justify']),
        runs: z.array(Run).max(1000),
        /** On a web page: it is a heading of this level (HTML §4.3.6). */
        level: z.number().int().min(1).max(6).optional(),
        /** What stands before its first line. */
        bullet: z.string().max(20).optional(),
        /** From the edge of the text to its lines, and how much further in the first one begins. */
        indent: z.object({ left: length, first: length }).optional(),
        /** Above it, in points, and from line to line, as a share of the font's own lines. */
        spacing: z.object({ before: length, lines: z.number().min(0.1).max(20) }).optional(),
      }),
    )
    .max(2000),
  anchor: z.enum(['top', 'middle', 'bottom']),
  inset: z.object({ top: length, right: length, bottom: length, left: length }),
  /** The cell of a workbook whose content they show: `B4` of their own sheet, `'Two words'!B4`, or a name of the file. */
  cell: z.string().min(1).max(255).optional(),
});

/** A rule by which an item follows another; its box comes of it. */
export const TieSchema = z.object({
  to: IdSchema,
  as: z.enum(['behind', 'around', 'beside', 'over', 'inside', 'along']),
  side: z.enum(['top', 'right', 'bottom', 'left']).optional(),
  align: z.enum(['start', 'centre', 'end']).optional(),
  gap: length,
  /** Of its own size in that of what it follows. */
  share: z.number().min(0).max(10).optional(),
  /** How far it was moved along that side by hand. */
  along: length.optional(),
});

const base = {
  id: IdSchema,
  name: text(255).optional(),
  at: PositionSchema,
  turn: z.number().min(-BOUNDS.degrees).max(BOUNDS.degrees),
  flip: z.object({ horizontal: z.boolean(), vertical: z.boolean() }),
  opacity: share,
  alt: text(BOUNDS.alt),
  tie: TieSchema.optional(),
  /** By hand it is neither moved, sized nor deleted. */
  locked: z.literal(true).optional(),
};
const look = {
  shape: ShapeSchema,
  seat: SeatSchema,
  outline: OutlineSchema.nullable(),
  shadow: ShadowSchema.nullable(),
  /** The finish it was laid with, and follows. */
  finish: z.string().min(1).max(80).optional(),
};

/** A shape with a picture, a paint or nothing in it, and words or none: one thing, as it is in every format. */
export const FramedSchema = z.object({
  kind: z.literal('framed'),
  ...base,
  ...look,
  fill: FillSchema.nullable(),
  text: TextSchema.nullable(),
  /** An empty placeholder: what is put there takes its place. */
  awaits: z.literal('picture').optional(),
});
/** Items that are kept together, in a space of their own that its box shows. */
export const GroupSchema = z.object({
  kind: z.literal('group'),
  ...base,
  children: z.array(IdSchema).max(MAX_ITEMS),
  space: BoxSchema,
});
/** A line on a side of something. */
const EdgeSchema = z.object({ weight: z.number().positive().max(BOUNDS.place), colour });
/** A box with words, by which something is shown that is not edited. In points of the page. */
export const MarkSchema = z.object({
  box: BoxSchema,
  turn: z.number(),
  fill: colour.nullable(),
  text: text(10_000),
  /** Of its letters. */
  size: z.number().positive().max(4000),
  colour,
  align: z.enum(['left', 'center', 'right']),
  /** From the edge to the words, which stand at the foot then: those of a cell. */
  inset: length.optional(),
  font: z.string().max(200).optional(),
  weight: z.number().int().min(1).max(1000).optional(),
  italic: z.literal(true).optional(),
  /** Words with all their looks, in place of the plain ones. */
  words: TextSchema.optional(),
  /** Lines on its sides. */
  edges: z.object({ top: EdgeSchema, right: EdgeSchema, bottom: EdgeSchema, left: EdgeSchema }).partial().optional(),
});
/** How something is drawn that is not edited. */
export const LookSchema = z.object({
  shape: ShapeSchema,
  outline: OutlineSchema.nullable(),
  paint: PaintSchema.nullable(),
  /** Has its line tips at its ends? */
  tips: z.object({ start: z.boolean(), end: z.boolean() }).optional(),
});
/** What a file holds and Gable does not edit: kept, and shown as well as can be. */
export const ForeignSchema = z.object({
  kind: z.literal('foreign'),
  ...base,
  what: z.enum(['chart', 'table', 'diagram', 'connector', 'control', 'ink', 'object', 'other']),
  look: LookSchema.optional(),
  /** The file holds a picture of what cannot be shown. */
  likeness: z.literal(true).optional(),
  preview: z.array(MarkSchema).max(MAX_ITEMS).optional(),
});
export const ItemSchema = z.discriminatedUnion('kind', [FramedSchema, GroupSchema, ForeignSchema]);

const Items = z.array(IdSchema).max(MAX_ITEMS);
/** What pages share: a master, a layout, a header. */
export const LayerSchema = z.object({ id: IdSchema, name: text(255), items: Items });
const Margins = z.object({ top: length, right: length, bottom: length, left: length });
/** The paper of a text, in points. */
export const PaperSchema = SizeSchema.extend({
  margins: Margins,
  /** What is behind all of its pages; nothing where its file does not say it. */
  ground: FillSchema.optional(),
});
/** A text that flows, with the items that stand in it in their order. */
export const StorySchema = z.object({
  id: IdSchema,
  kind: z.enum(['body', 'header', 'footer', 'footnote', 'endnote', 'comment']),
  items: Items,
  /** The paper that it is set on: that of its last section, where there are several. */
  page: PaperSchema.optional(),
});
export const PageSchema = z.object({
  id: IdSchema,
  name: text(255).optional(),
  size: SizeSchema,
  ground: FillSchema.nullable(),
  margins: Margins,
  /** From the back. */
  layers: z.array(IdSchema).max(100),
  /** From the back to the front. */
  items: Items,
  /** Edges of the columns and rows of a sheet. */
  grid: z.object({ x: z.array(length), y: z.array(length) }).optional(),
});

export const DOCUMENT_VERSION = 1;
export const DocumentSchema = z.object({
  version: z.literal(DOCUMENT_VERSION),
  /** Does text flow from page to page? Then its pages are laid out, and not stored. */
  flows: z.boolean(),
  pages: z.array(PageSchema).max(10_000),
  layers: z.array(LayerSchema).max(10_000),
  stories: z.array(StorySchema).max(10_000),
  items: z.record(IdSchema, ItemSchema),
  /** Colours that its pages are painted with, for what is made anew. */
  palette: z.array(colour).max(20).optional(),
});

export type Position = z.infer<typeof PositionSchema>;
export type PictureSource = z.infer<typeof PictureSourceSchema>;
export type Fill = z.infer<typeof FillSchema>;
export type Text = z.infer<typeof TextSchema>;
export type Tie = z.infer<typeof TieSchema>;
export type FramedItem = z.infer<typeof FramedSchema>;
export type GroupItem = z.infer<typeof GroupSchema>;
export type ForeignItem = z.infer<typeof ForeignSchema>;
export type Item = z.infer<typeof ItemSchema>;
export type Mark = z.infer<typeof MarkSchema>;
export type ItemId = string;
export type Layer = z.infer<typeof LayerSchema>;
export type Paper = z.infer<typeof PaperSchema>;
export type Story = z.infer<typeof StorySchema>;
export type Page = z.infer<typeof PageSchema>;
export type Document = z.infer<typeof DocumentSchema>;

/** One colour behind a page. @param colour `#rrggbb` */
export const plainGround = (colour: string): Fill => ({ kind: 'paint', paint: { kind: 'solid', colour, opacity: 1 } });

/** What has a ground, by its name: the pages of a document, or the paper that its text is set on. */
export const papersOf = ({ pages, stories }: Document): { id: string; ground: Fill | null }[] => [
  ...pages.map(({ id, ground }) => ({ id, ground })),
  ...stories.flatMap(({ id, kind, page }) => (page && kind === 'body' ? { id, ground: page.ground ?? null } : [])),
];

/** The words of a text in one line. */
export const plainWords = (words: Text | null): string =>
  (words?.paragraphs ?? [])
    .map((p) => p.runs.map((r) => r.text).join(''))
    .join(' ')
    .replace(/\s+/g, ' ')
    .trim();

/** The fonts that words name, each once. */
export const fontsIn = (words: Text | null): string[] => [
  ...new Set((words?.paragraphs ?? []).flatMap((p) => p.runs.map((r) => r.font)).filter(Boolean)),
];

export const emptyDocument = (flows = false): Document => ({
  version: DOCUMENT_VERSION,
  flows,
  pages: [],
  layers: [],
  stories: [],
  items: {},
});
