import type { Box, Finish, Frame, ShapeChoice, Size } from '@gable/core';

/** What the server says of a work; see `/api/openapi.json`. */
export interface WorkSummary {
  id: string;
  name: string;
  /** A file's format; `pictures` for a work that began with pictures, `folder` for works that are seen together. */
  format: string;
  revision: number;
  demo: boolean;
  pictures: number;
  framed: number;
  faces: number[];
  updatedAt: string;
}

export interface WorkPicture {
  n: number;
  where: { place: string; table: boolean; textBox: boolean; group: boolean; page: number | null; near: string };
  /** In a folder: the file it is in, and what it is there. */
  file?: string;
  member?: { id: string; n: number };
  /** What the place of its box counts from on its sheet, where that is not the sheet's corner. */
  origin?: { x: number; y: number };
  /** Can it be taken out of the text, and put back? */
  freeable?: boolean;
  /** The frame as the file has it. */
  frame: Frame;
  size: Size;
  media: {
    type: string;
    pixels: Size | null;
    orientation: number;
    drawable: boolean;
    /** Of its data in the file; null where it has none of its own there. */
    bytes?: number | null;
    /** What its data are known by: the same in frames that show the same picture. */
    data?: string | null;
  } | null;
  problem: { code: string; message: string; remedy: string } | null;
  /** A second shape behind it that stands in for an outline. */
  faked?: { weight: number; colour: string };
}

/** A kept picture for the header or footer of a document. Lengths in points. */
export interface MarginWish {
  sha256: string;
  into: 'header' | 'footer';
  pages: 'all' | 'first';
  align: 'left' | 'center' | 'right';
  width: number;
  /** From the picture to the text; null leaves the margins as they are. */
  gap: number | null;
}

/** Lengths in points. */
export interface Sheet {
  width: number;
  height: number;
  background: string;
  pieces: {
    box: Box;
    turn: number;
    fill: string | null;
    text: string;
    size: number;
    colour: string;
    align: 'left' | 'center' | 'right';
    inset?: number;
  }[];
  /** Is there a picture behind it? */
  backdrop?: true;
  /** Edges of columns and rows. */
  lines?: { x: number[]; y: number[] };
}

export interface Work extends Omit<WorkSummary, 'pictures'> {
  signed: boolean;
  pages: number;
  /** Pages of a fixed size, with what else is on them; empty where text flows. */
  sheets?: Sheet[];
  /** Pictures of the file that are not listed, and why. */
  leftOut?: { why: string; count: number }[];
  pictures: WorkPicture[];
  frames: Record<string, Frame>;
  marks?: Marks;
}

/** What became of one frame. Null stands for the frame as it came. */
export interface Change {
  n: number;
  before: Frame | null;
  after: Frame | null;
}

/** One thing done, to one frame or to more at once, named so that undoing can say what it undoes. */
export interface Deed extends Change {
  name: string;
  more?: Change[];
}

/** A finish by its id. */
export interface KeptFinish {
  id: string;
  finish: Finish;
  /** Did it come with Gable? */
  shipped: boolean;
}

/** What a long job is to make: the file with its frames, a sheet of them before and after, or every frame as pictures. */
export type JobWish =
  | { kind: 'hand-over'; slim?: SlimWish }
  | { kind: 'proof'; shots?: readonly ShotPair[] }
  | { kind: 'set'; format: 'png' | 'webp' | 'jpg' | 'avif' | 'svg'; widths: number[]; sizes?: string };

/** A page as the browser lays it out, without its pictures: a PNG in base64, and where frames stand; in points. */
export interface PageShot {
  png: string;
  width: number;
  height: number;
  frames: { n: number; x: number; y: number; k: number }[];
}
export interface ShotPair {
  caption: string;
  before: PageShot;
  after: PageShot;
}

/** What may go from a file when it is handed over. */
export interface SlimWish {
  crop: boolean;
  /** Pixels to the inch at most; null leaves them. */
  ppi: number | null;
  strip: boolean;
}

/** A long job: `done` of `total` frames are ready. */
export interface Job {
  id: string;
  kind: JobWish['kind'];
  revision: number;
  name: string;
  state: 'waiting' | 'running' | 'done' | 'failed' | 'cancelled';
  done: number;
  total: number;
  /** Of what was made, in bytes. */
  size: number | null;
  /** What was done to make it smaller, in words. */
  said: string | null;
  problem: { code: string; title: string; remedy: string } | null;
}

/** What was said of a work as a whole. */
export interface Marks {
  deliberate?: string[];
  finish?: string;
}

/** Deeds from number `from` on; the first `done` of all are done, the rest have been undone. */
export interface History {
  from: number;
  done: number;
  deeds: Deed[];
}

/** A picture of the stock, or one the author brought. */
export interface LibraryPicture {
  sha256: string;
  name: string;
  kind: 'own' | 'stock';
  type: string;
  size: Size;
  orientation: number;
}

/** A shape made from the author's own drawing. */
export interface OwnShape {
  id: string;
  name: string;
  shape: ShapeChoice;
}

/** How a frame is written: in the file's own terms, or with what those lack painted into pixels. */
export interface FrameFidelity {
  n: number;
  fidelity: 'native' | 'rasterised-fill' | 'rasterised';
  reasons: string[];
  /** It becomes a drawing shape, which other programs may not take for a picture. */
  shape?: boolean;
}

export type ExportFormat = 'png' | 'jpg' | 'webp' | 'avif' | 'pdf' | 'svg' | 'html';
