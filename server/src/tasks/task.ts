import type { FontsOf } from '@gable/render';
import { openFile, type Known, type OpenOptions, type Source } from '@gable/formats';

/** Bytes that a task reads by itself, so that they pass through no other process: a kept blob or a part of one, or a spooled file. */
export type BytesRef =
  { sha256: string; size: number; range?: { from: number; to: number } } | { file: string; size: number };

/** A file with pictures, and what they are called where that is not their order in it. */
export type FileRef = BytesRef & {
  known?: readonly Known[] | undefined;
  /** What its pages are called, where that is not their order. */
  pages?: readonly string[] | undefined;
};

/** Bytes that a task has made, in a spooled file; the receiver removes it. */
export interface Made {
  file: string;
  size: number;
  sha256: string;
}

/** What a task may do beyond computing. */
export interface TaskContext {
  read(ref: BytesRef): Promise<Uint8Array>;
  /** All of a kept blob, by its digest alone. */
  blob(sha256: string): Promise<Uint8Array>;
  /** The same in pieces, for what is too large to be held. */
  pieces(sha256: string): AsyncIterable<Uint8Array>;
  /** Files of the author's own fonts among these families, as far as they may go into files. */
  fonts: FontsOf;
  /** Spools what it made, piece by piece. */
  made(pieces: Uint8Array | Iterable<Uint8Array> | AsyncIterable<Uint8Array>): Promise<Made>;
  /** Says how far it is; throws where it can only be stopped that way. */
  progress(done: number, total: number): void;
}

/**
 * Where a task runs: `quick` is what people wait for (opening, saving), `paint` pictures for the screen and exports, `look`
 * what is in pictures, which nobody waits for, `long` jobs with progress. One of a lane never waits for those of another.
 */
export type Lane = 'quick' | 'paint' | 'look' | 'long';

/** Work too heavy for the process that answers requests. */
export interface Task<In, Out> {
  lane: Lane;
  /** It is given up after so long, counted from when it begins. */
  seconds: number;
  /** It sets words: fonts of the author's own are at hand when it begins. */
  setsWords?: true;
  /** Only one of this kind runs at a time, so that the others of its lane go on. */
  alone?: boolean;
  /** Bytes of memory that it is likely to take beyond what an idle process has. */
  weigh?(input: NoInfer<In>): number;
  run(input: In, context: TaskContext): Promise<Out> | Out;
}

/** Gives a task its types. */
export const task = <In, Out>(t: Task<In, Out>): Task<In, Out> => t;

/** What a file takes in memory while it is worked on, per byte: itself, its copy as it is written, and its markup as a tree. */
const FILE_FACTOR = 4;
export const weighFile = ({ file }: { file: FileRef | null }): number => (file?.size ?? 0) * FILE_FACTOR;

/** What a picture takes while it is decoded and painted, per pixel. */
const BYTES_A_PIXEL = 10;
export const weighPixels = (width: number, height: number): number => width * height * BYTES_A_PIXEL;

/** Opens a file with its pictures called as they are in its work. @throws GableError as `openFile` does */
export const openRef = async (
  file: FileRef,
  { read }: Pick<TaskContext, 'read'>,
  options: Omit<OpenOptions, 'known' | 'pages'> = {},
): Promise<Source> => openFile(await read(file), { ...options, known: file.known, pages: file.pages });
