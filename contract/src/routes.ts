import { PaletteSchema } from '@gable/core';
import { z } from 'zod';
import { DigestSchema } from './common';
import { ChangeFinishSchema, KeptFinishSchema, NewFinishSchema } from './finishes';
import { JobSchema, JobsSchema, JobWishSchema } from './jobs';
import { KeptPaletteSchema, PalettesSchema } from './palettes';
import {
  CutOutSchema,
  CutOutWishSchema,
  ExportSchema,
  LibraryPictureSchema,
  LibraryQuerySchema,
  MadeShapeSchema,
  OwnShapeSchema,
  PictureContentsSchema,
  PictureQuerySchema,
  ProxyQuerySchema,
  RefusedSchema,
  SuggestionsSchema,
} from './pictures';
import {
  BlockSchema,
  CoverQuerySchema,
  FolderSchema,
  RenameSchema,
  WorkSummarySchema,
  FrameFidelitySchema,
  FramesSchema,
  HistoryQuerySchema,
  KindsSchema,
  HistorySchema,
  MarksSchema,
  PageQuerySchema,
  PagesQuerySchema,
  NewWorkSchema,
  PictureRowSchema,
  SavedSchema,
  SaveEntriesSchema,
  ShelfQuerySchema,
  ShelfSchema,
  VersionsSchema,
  WorkSchema,
} from './works';

/** One request that the server answers. */
export interface Route {
  method: 'get' | 'post' | 'put' | 'patch' | 'delete';
  /** With its parameters in braces, as OpenAPI has them. */
  path: string;
  summary: string;
  query?: z.ZodObject;
  /** JSON, or any bytes. */
  body?: z.ZodType | 'bytes';
  answer: { status: 200 | 201 | 204; what: string; json?: z.ZodType; type?: string };
  /** Statuses of errors beside those that every request may get. */
  problems?: readonly number[];
}

/** What a parameter of a path is. */
export const PARAMETERS: Readonly<Record<string, z.ZodType>> = {
  id: z.uuid(),
  n: z.coerce.number().int().min(1),
  sha256: DigestSchema,
  finish: z.string(),
  palette: z.uuid(),
};

const Name = z.object({ name: z.string().optional() });
const done = { status: 204, what: 'Done' } as const;
const work = { status: 200, what: 'The work', json: WorkSchema } as const;
const made = { ...work, status: 201 } as const;
const picture = { status: 200, what: 'The picture', type: 'image/*' } as const;
const suggestions = {
  status: 200,
  what: 'Blocks of words in shares of the picture, the largest first, and what was refused',
  json: SuggestionsSchema,
} as const;

/** What is known of a picture, under its address: a work's picture has the same as a kept one. */
const factsOf = (at: string, what: string): Route[] => [
  {
    method: 'get',
    path: `${at}/contents`,
    summary: `What is in ${what}: its faces`,
    answer: { status: 200, what: 'Faces in shares of the picture, the surest first', json: PictureContentsSchema },
    problems: [404, 422],
  },
  {
    method: 'get',
    path: `${at}/suggestions`,
    summary: `What of ${what} may be worth keeping visible: its words`,
    answer: suggestions,
    problems: [404, 422],
  },
  {
    method: 'put',
    path: `${at}/suggestions/refused`,
    summary: 'Refuse suggestions, in every use of the picture',
    body: RefusedSchema,
    answer: done,
    problems: [400, 404],
  },
  {
    method: 'post',
    path: `${at}/cut-out`,
    summary: 'Find the outline of the subject',
    body: CutOutWishSchema,
    answer: { status: 200, what: 'Its mask and its outline', json: CutOutSchema },
    problems: [400, 404, 422],
  },
];

/** Everything that the server answers; OpenAPI is made from it, and a test holds it against the server. */
export const ROUTES: readonly Route[] = [
  {
    method: 'get',
    path: '/api/health',
    summary: 'Is the server up?',
    answer: { status: 200, what: 'It is' },
    problems: [503],
  },
  {
    method: 'get',
    path: '/api/openapi.json',
    summary: 'This description',
    answer: { status: 200, what: 'OpenAPI 3.1', type: 'application/json' },
  },
  {
    method: 'get',
    path: '/api/works',
    summary: 'Works, the latest first, a page at a time; `next` of the answer asks for those after them',
    query: ShelfQuerySchema,
    answer: { status: 200, what: 'Works', json: ShelfSchema },
    problems: [400],
  },
  {
    method: 'post',
    path: '/api/works',
    summary: 'Open a file as a work',
    query: Name,
    body: 'bytes',
    answer: made,
    problems: [413, 422],
  },
  {
    method: 'post',
    path: '/api/works/new',
    summary: 'A work from nothing: one empty page',
    body: NewWorkSchema,
    answer: { status: 201, what: 'The work', json: WorkSchema },
    problems: [400],
  },
  {
    method: 'post',
    path: '/api/works/pictures',
    summary: 'Begin a work with kept pictures, in a row; null is an empty frame',
    body: PictureRowSchema,
    answer: made,
    problems: [400, 404],
  },
  {
    method: 'post',
    path: '/api/works/folders',
    summary: 'Look at several works together',
    body: FolderSchema,
    answer: made,
    problems: [400, 404],
  },
  {
    method: 'get',
    path: '/api/works/{id}',
    summary: 'A work with its pictures and frames',
    answer: work,
    problems: [404],
  },
  {
    method: 'patch',
    path: '/api/works/{id}',
    summary: 'Rename a work',
    body: RenameSchema,
    answer: { status: 200, what: 'The work', json: WorkSummarySchema },
    problems: [404],
  },
  {
    method: 'post',
    path: '/api/works/{id}/copies',
    summary: 'Duplicate a work: the same file with the same changes, with a history of its own',
    answer: { status: 201, what: 'The copy', json: WorkSummarySchema },
    problems: [404],
  },
  {
    method: 'delete',
    path: '/api/works/{id}',
    summary: 'Remove a work; it can be brought back for ten minutes',
    answer: done,
    problems: [404],
  },
  {
    method: 'post',
    path: '/api/works/{id}/restore',
    summary: 'Bring back a work that was removed a short while ago',
    answer: work,
    problems: [404],
  },
  {
    method: 'post',
    path: '/api/works/{id}/entries',
    summary: 'Save what was done; it joins what others did since, where that is about something else',
    body: SaveEntriesSchema,
    answer: { status: 200, what: 'The new revision', json: SavedSchema },
    problems: [400, 404, 409],
  },
  {
    method: 'put',
    path: '/api/works/{id}/marks',
    summary: 'Say what is deliberate, and which finish comes first',
    body: MarksSchema,
    answer: { status: 200, what: 'The marks', json: z.object({ marks: MarksSchema }) },
    problems: [404, 422],
  },
  {
    method: 'get',
    path: '/api/works/{id}/history',
    summary: 'What was done, the latest 300 entries; earlier ones before a number',
    query: HistoryQuerySchema,
    answer: { status: 200, what: 'Entries', json: HistorySchema },
    problems: [404],
  },
  {
    method: 'get',
    path: '/api/works/{id}/versions',
    summary: 'States set aside when two windows disagreed',
    answer: { status: 200, what: 'Versions', json: VersionsSchema },
    problems: [404],
  },
  {
    method: 'get',
    path: '/api/works/{id}/file',
    summary: 'The file with its frames',
    answer: { status: 200, what: 'The file', type: 'application/octet-stream' },
    problems: [404, 422],
  },
  {
    method: 'post',
    path: '/api/works/{id}/fidelity',
    summary: 'How frames will be written: natively, or painted into pixels',
    body: FramesSchema,
    answer: { status: 200, what: 'Of each frame', json: z.object({ fidelity: z.array(FrameFidelitySchema) }) },
    problems: [404, 409],
  },
  {
    method: 'post',
    path: '/api/works/{id}/kinds',
    summary: 'What a work from nothing would be as a file of each kind',
    body: FramesSchema,
    answer: { status: 200, what: 'The kinds', json: KindsSchema },
    problems: [404, 409, 422],
  },
  {
    method: 'get',
    path: '/api/works/{id}/ground',
    summary: 'A drawing without its pictures, or the picture behind a slide, as a PNG',
    query: PageQuerySchema,
    answer: { status: 200, what: 'The ground', type: 'image/png' },
    problems: [404, 422],
  },
  {
    method: 'get',
    path: '/api/works/{id}/cover',
    summary: 'The first pages beside each other, as they are now, small, as a PNG',
    query: CoverQuerySchema,
    answer: { status: 200, what: 'The pages', type: 'image/png' },
    problems: [404, 422],
  },
  {
    method: 'get',
    path: '/api/works/{id}/blocks',
    summary: 'The paragraphs, lists and tables of a text or web page, which places for new pictures are counted by',
    query: PageQuerySchema,
    answer: { status: 200, what: 'Their words, in their order', json: z.object({ blocks: z.array(BlockSchema) }) },
    problems: [404, 422],
  },
  {
    method: 'post',
    path: '/api/works/{id}/pages',
    summary: 'A web page or a text as HTML, for laying out its pages',
    body: PagesQuerySchema,
    answer: { status: 200, what: 'A document', type: 'application/octet-stream' },
    problems: [404, 409],
  },
  {
    method: 'post',
    path: '/api/works/{id}/pictures',
    summary: 'Add kept pictures to a work of pictures',
    body: PictureRowSchema,
    answer: made,
    problems: [404, 409],
  },
  ...factsOf('/api/works/{id}/pictures/{n}', 'a picture'),
  {
    method: 'get',
    path: '/api/works/{id}/pictures/{n}/proxy',
    summary: 'A smaller copy of a picture, as stored',
    query: PictureQuerySchema,
    answer: picture,
    problems: [404, 422],
  },
  {
    method: 'get',
    path: '/api/works/{id}/pictures/{n}/framed',
    summary: 'The framed picture',
    query: PictureQuerySchema,
    answer: { ...picture, type: 'image/png' },
    problems: [404, 422],
  },
  {
    method: 'post',
    path: '/api/works/{id}/pictures/{n}/export',
    summary: 'One framed picture as PNG, JPEG, WebP, AVIF, PDF, SVG or HTML',
    body: ExportSchema,
    answer: picture,
    problems: [400, 404, 422],
  },
  {
    method: 'post',
    path: '/api/works/{id}/pictures/{n}/keep',
    summary: "Keep the data of a file's picture among the author's own pictures",
    answer: { status: 201, what: 'The picture', json: LibraryPictureSchema },
    problems: [404, 422],
  },
  {
    method: 'get',
    path: '/api/works/{id}/jobs',
    summary: 'Long jobs of a work, the latest first',
    answer: { status: 200, what: 'Jobs', json: JobsSchema },
    problems: [404],
  },
  {
    method: 'post',
    path: '/api/works/{id}/jobs',
    summary: 'Hand over the file, or every frame as pictures, as a long job',
    body: JobWishSchema,
    answer: { status: 201, what: 'The job', json: JobSchema },
    problems: [404, 422],
  },
  {
    method: 'get',
    path: '/api/jobs/{id}',
    summary: 'A job',
    answer: { status: 200, what: 'The job', json: JobSchema },
    problems: [404],
  },
  {
    method: 'delete',
    path: '/api/jobs/{id}',
    summary: 'Cancel a job, or forget one that is over',
    answer: done,
    problems: [404],
  },
  {
    method: 'get',
    path: '/api/jobs/{id}/events',
    summary: 'The job whenever it has changed, as server-sent events',
    answer: { status: 200, what: 'Events', type: 'text/event-stream' },
    problems: [404],
  },
  {
    method: 'get',
    path: '/api/jobs/{id}/file',
    summary: 'What the job made',
    answer: { status: 200, what: 'The file', type: 'application/octet-stream' },
    problems: [404, 409],
  },
  {
    method: 'get',
    path: '/api/pictures',
    summary: 'The stock and kept pictures, by words',
    query: LibraryQuerySchema,
    answer: { status: 200, what: 'Pictures', json: z.object({ pictures: z.array(LibraryPictureSchema) }) },
  },
  {
    method: 'post',
    path: '/api/pictures',
    summary: 'Keep a picture',
    query: Name,
    body: 'bytes',
    answer: { status: 201, what: 'The picture', json: LibraryPictureSchema },
    problems: [413, 422],
  },
  ...factsOf('/api/pictures/{sha256}', 'a kept picture'),
  {
    method: 'get',
    path: '/api/pictures/{sha256}/proxy',
    summary: 'A smaller copy of a kept picture',
    query: ProxyQuerySchema,
    answer: picture,
    problems: [404],
  },
  {
    method: 'delete',
    path: '/api/pictures/{sha256}',
    summary: 'Offer a picture no longer; works that show it go on showing it',
    answer: done,
    problems: [404],
  },
  {
    method: 'get',
    path: '/api/silhouettes',
    summary: 'Shapes made from drawings',
    answer: { status: 200, what: 'Silhouettes', json: z.object({ silhouettes: z.array(OwnShapeSchema) }) },
  },
  {
    method: 'post',
    path: '/api/silhouettes',
    summary: 'Make a shape from an SVG or a picture',
    query: Name,
    body: 'bytes',
    answer: { status: 200, what: 'The silhouette, or the same one that was kept before', json: MadeShapeSchema },
    problems: [413, 422],
  },
  {
    method: 'patch',
    path: '/api/silhouettes/{id}',
    summary: 'Rename a silhouette',
    body: RenameSchema,
    answer: { status: 200, what: 'The silhouette', json: OwnShapeSchema },
    problems: [404],
  },
  {
    method: 'delete',
    path: '/api/silhouettes/{id}',
    summary: 'Remove a silhouette',
    answer: done,
    problems: [404],
  },
  {
    method: 'get',
    path: '/api/finishes',
    summary: 'All finishes: those that ship, then one’s own',
    answer: { status: 200, what: 'Finishes', json: z.object({ finishes: z.array(KeptFinishSchema) }) },
  },
  {
    method: 'post',
    path: '/api/finishes',
    summary: 'Keep a finish',
    body: NewFinishSchema,
    answer: { status: 201, what: 'The finish with its id', json: KeptFinishSchema },
    problems: [422],
  },
  {
    method: 'post',
    path: '/api/finishes/shipped',
    summary: 'The shipped finishes as they came',
    answer: { status: 200, what: 'Finishes', json: z.object({ finishes: z.array(KeptFinishSchema) }) },
  },
  {
    method: 'put',
    path: '/api/finishes/{finish}',
    summary: 'Change a finish; frames that have it follow',
    body: ChangeFinishSchema,
    answer: {
      status: 200,
      what: 'The finish, and how many other works followed',
      json: KeptFinishSchema.extend({ followed: z.number().int() }),
    },
    problems: [404, 422],
  },
  {
    method: 'delete',
    path: '/api/finishes/{finish}',
    summary: 'Remove a finish; frames that have it stay as they are',
    answer: done,
    problems: [404],
  },
  {
    method: 'get',
    path: '/api/palettes',
    summary: 'Palettes of one’s own',
    answer: { status: 200, what: 'Palettes', json: PalettesSchema },
  },
  {
    method: 'post',
    path: '/api/palettes',
    summary: 'Keep a palette',
    body: PaletteSchema,
    answer: { status: 201, what: 'The palette with its id', json: KeptPaletteSchema },
  },
  {
    method: 'put',
    path: '/api/palettes/{palette}',
    summary: 'Change a palette',
    body: PaletteSchema,
    answer: { status: 200, what: 'The palette', json: KeptPaletteSchema },
    problems: [404],
  },
  {
    method: 'delete',
    path: '/api/palettes/{palette}',
    summary: 'Remove a palette',
    answer: done,
    problems: [404],
  },
];
