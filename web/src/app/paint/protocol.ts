import type { Face, Frame, KeepMark, PaintTarget, Size, Subject } from '@gable/core';

/** What the screens ask of the painting worker. `key` names a picture; sizes are device pixels. */
export type Request =
  /** `patient`: it waits for a pause in the painting, for a while. */
  | { kind: 'load'; id: number; key: string; url: string; size: Size; patient: boolean }
  /** These faces are in a picture: its subject and what matters in it are found anew. */
  | { kind: 'know'; id: number; key: string; faces: readonly Face[] }
  /** Tries beside each other on one bitmap, each at `x`. */
  | { kind: 'tries'; id: number; tries: readonly TryCell[] }
  | { kind: 'rim'; id: number; key: string; frame: Frame }
  /** How much of what matters each of these frames keeps. */
  | { kind: 'kept'; id: number; key: string; frames: readonly Frame[] }
  /** For each shape by name the placement that keeps most of these marks. */
  | { kind: 'rank'; id: number; key: string; frame: Frame; size: Size; keep: readonly KeepMark[] }
  | { kind: 'attach'; canvas: OffscreenCanvas }
  | { kind: 'board'; paint: BoardPaint };

/** A frame painted to fit a rectangle of device pixels. */
export interface TryCell {
  key: string;
  frame: Frame;
  x: number;
  width: number;
  height: number;
  margin: number;
  /** Does it fill the rectangle with all that it paints, shadow and all? Then it has the size that was asked for. */
  whole: boolean;
  /** Mark what the shape cuts of what matters. */
  cut: boolean;
}

/** All that the board's canvas shows. */
export interface BoardPaint {
  width: number;
  height: number;
  /** Quick rather than fine: for what is being moved. */
  draft: boolean;
  /** Is the rest of the picture shown round the shape? 0 for no. */
  ghost: number;
  key: string;
  frame: Frame;
  target: PaintTarget;
}

export interface Ranking {
  name: string;
  frame: Frame;
}

/** What was found by looking at a picture. */
export interface Seen {
  subject: Subject;
  /** Colours in it, the most used first. */
  palette: readonly string[];
  /** Has it clear parts, as marks and cut-outs have? */
  clear: boolean;
  /** Has the server looked for faces in it, too? Until then its subject may still change. */
  known?: boolean;
  /** Those that it found. */
  faces?: readonly Face[];
}

export type Reply = { id: number } & (
  | Seen
  | { bitmap: ImageBitmap | null }
  | { colour: string | null }
  | { shares: number[] }
  | { ranking: Ranking[] }
  | { failed: string }
);
