import type { Frame, Size, Subject } from '@gable/core';

/** What the screens ask of the painting worker. `key` names a picture; sizes are device pixels. */
export type Request =
  | { kind: 'load'; id: number; key: string; url: string; size: Size }
  | { kind: 'try'; id: number; key: string; frame: Frame; width: number; height: number; margin: number }
  | { kind: 'attach'; canvas: OffscreenCanvas }
  | {
      kind: 'board';
      key: string;
      frame: Frame;
      width: number;
      height: number;
      x: number;
      y: number;
      scale: number;
      ghost: number;
    };

export type Reply =
  { id: number; subject: Subject | null } | { id: number; bitmap: ImageBitmap | null } | { id: number; failed: string };
