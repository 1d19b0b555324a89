import { createCanvas, loadImage } from '@napi-rs/canvas';
import type { Region } from '@gable/core';
import { registerFonts } from '../src/fonts';

/** Words of one line, set where its baseline begins, in pixels. */
export interface SetLine {
  text: string;
  x: number;
  y: number;
  size: number;
  weight?: number;
  colour?: string;
}

export interface Poster {
  bytes: Buffer;
  size: { width: number; height: number };
  /** The box round the ink of each word, in shares of the poster. */
  boxes: Region[];
}

/** A poster made for a test: its words are where they were set, by the metrics of the font itself. */
export async function poster(
  width: number,
  height: number,
  ground: string | Buffer,
  lines: readonly SetLine[],
): Promise<Poster> {
  registerFonts();
  const canvas = createCanvas(width, height);
  const pen = canvas.getContext('2d');
  if (typeof ground === 'string') {
    pen.fillStyle = ground;
    pen.fillRect(0, 0, width, height);
  } else pen.drawImage(await loadImage(ground), 0, 0, width, height);
  const boxes: Region[] = [];
  for (const { text, x, y, size, weight = 700, colour = '#22302f' } of lines) {
    pen.font = `${weight} ${size}px "Bricolage Grotesque"`;
    pen.fillStyle = colour;
    let left = x;
    for (const word of text.split(' ')) {
      pen.fillText(word, left, y);
      const m = pen.measureText(word);
      boxes.push({
        u: (left - m.actualBoundingBoxLeft) / width,
        v: (y - m.actualBoundingBoxAscent) / height,
        width: (m.actualBoundingBoxLeft + m.actualBoundingBoxRight) / width,
        height: (m.actualBoundingBoxAscent + m.actualBoundingBoxDescent) / height,
      });
      left += m.width + pen.measureText(' ').width;
    }
  }
  return { bytes: canvas.toBuffer('image/jpeg', 90), size: { width, height }, boxes };
}

/** Share of the words' area inside marks, and the marks' area over that of the words. */
export function coverOf(boxes: readonly Region[], marks: readonly Region[]): { inside: number; ratio: number } {
  const area = ({ width, height }: Region): number => width * height;
  const shared = (a: Region, b: Region): number =>
    Math.max(0, Math.min(a.u + a.width, b.u + b.width) - Math.max(a.u, b.u)) *
    Math.max(0, Math.min(a.v + a.height, b.v + b.height) - Math.max(a.v, b.v));
  const total = boxes.reduce((sum, b) => sum + area(b), 0);
  // Marks of different blocks do not overlap by more than a hair: the best one counts for each word.
  const inside = boxes.reduce((sum, b) => sum + Math.max(0, ...marks.map((m) => shared(b, m))), 0);
  return { inside: inside / total, ratio: marks.reduce((sum, m) => sum + area(m), 0) / total };
}
