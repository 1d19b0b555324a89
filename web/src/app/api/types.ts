import type { Frame, Size } from '@gable/core';

/** What the server says of a work; see `/api/openapi.json`. */
export interface WorkSummary {
  id: string;
  name: string;
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
  /** The frame as the file has it. */
  frame: Frame;
  size: Size;
  media: { type: string; pixels: Size | null; orientation: number; drawable: boolean } | null;
  problem: { code: string; message: string; remedy: string } | null;
}

export interface Work extends Omit<WorkSummary, 'pictures'> {
  signed: boolean;
  pages: number;
  pictures: WorkPicture[];
  frames: Record<string, Frame>;
}
