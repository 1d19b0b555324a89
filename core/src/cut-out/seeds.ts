import { foremost, type Face } from '../analysis/faces';
import { salientMap } from '../analysis/salient';
import type { Region } from '../model/frame';
import type { Pixels } from '../model/pixels';
import { underStroke, type Mask, type BrushStroke } from './mask';

/** What is believed of each pixel before it is looked at. */
export const SEED = { background: 0, subject: 1, maybeBackground: 2, maybeSubject: 3 } as const;

/** A belief for each pixel, one of `SEED`. */
export type Seeds = Mask;

/** How far round a face a person reaches, in its widths and heights (common practice of drawing: shoulders are three heads wide). */
const PERSON = { beside: 1.15, above: 0.55 };
const HAIR = { beside: 0.22, above: 0.35 };
const SHOULDERS = { beside: 0.8, below: 0.35 };

/** Where nothing stands out the subject is believed to be in the middle. */
const MIDDLE: Region = { u: 0.15, v: 0.12, width: 0.7, height: 0.76 };

/** What is known of the subject of a picture. */
export interface SubjectHints {
  faces: readonly Face[];
  /** A box that holds all of it. */
  region?: Region | undefined;
}

/**
 * Where a search for the outline of a subject begins: in a box that was given; in persons about their faces; in the thing
 * that stands out; else in the middle.
 * @param pixels of the size at which it is looked for
 */
export function seedsOf(pixels: Pixels, { faces, region }: SubjectHints): Seeds {
  const { width, height } = pixels;
  const seeds: Seeds = { width, height, data: new Uint8Array(width * height) };
  const fill = (part: Region, seed: number, round = false): void => {
    const [cx, cy] = [(part.u + part.width / 2) * width, (part.v + part.height / 2) * height];
    const [rx, ry] = [(part.width / 2) * width, (part.height / 2) * height];
    for (let y = Math.max(0, Math.floor(cy - ry)); y < Math.min(height, cy + ry); y++)
      for (let x = Math.max(0, Math.floor(cx - rx)); x < Math.min(width, cx + rx); x++)
        if (!round || ((x + 0.5 - cx) / rx) ** 2 + ((y + 0.5 - cy) / ry) ** 2 <= 1) seeds.data[y * width + x] = seed;
  };
  const people = foremost(faces);
  if (region) {
    fill(region, SEED.maybeSubject);
  } else if (people.length > 0) {
    for (const f of people) {
      const u = f.u - PERSON.beside * f.width;
      const v = f.v - PERSON.above * f.height;
      fill({ u, v, width: f.width * (1 + 2 * PERSON.beside), height: 1 - v }, SEED.maybeBackground);
    }
    for (const f of people) {
      const chin = f.v + f.height;
      const shoulders = f.u - SHOULDERS.beside * f.width;
      const top = chin + SHOULDERS.below * f.height;
      fill({ u: shoulders, v: top, width: f.width * (1 + 2 * SHOULDERS.beside), height: 1 - top }, SEED.maybeSubject);
      const neck = { u: f.u + 0.2 * f.width, v: chin - 0.1 * f.height, width: 0.6 * f.width, height: 0.6 * f.height };
      fill(neck, SEED.maybeSubject);
      const head = {
        u: f.u - HAIR.beside * f.width,
        v: f.v - HAIR.above * f.height,
        width: f.width * (1 + 2 * HAIR.beside),
        height: f.height * (1.05 + HAIR.above),
      };
      fill(head, SEED.maybeSubject, true);
      const inner = { u: f.u + 0.2 * f.width, v: f.v + 0.2 * f.height, width: 0.6 * f.width, height: 0.7 * f.height };
      fill(inner, SEED.subject, true);
    }
  } else {
    const map = salientMap(pixels);
    if (map) standingOut(seeds, map);
    else fill(MIDDLE, SEED.maybeSubject);
  }
  return seeds;
}

/** How far about what stands out its outline may be, in shares of its box. */
const ROOM = 0.08;

function standingOut(seeds: Seeds, { map, bounds }: NonNullable<ReturnType<typeof salientMap>>): void {
  const { width, height } = seeds;
  const left = (bounds.u - ROOM * bounds.width) * width;
  const right = (bounds.u + (1 + ROOM) * bounds.width) * width;
  const top = (bounds.v - ROOM * bounds.height) * height;
  const bottom = (bounds.v + (1 + ROOM) * bounds.height) * height;
  for (let y = Math.max(0, Math.floor(top)); y < Math.min(height, bottom); y++)
    for (let x = Math.max(0, Math.floor(left)); x < Math.min(width, right); x++) {
      const mx = Math.min(map.width - 1, Math.floor((x * map.width) / width));
      const my = Math.min(map.height - 1, Math.floor((y * map.height) / height));
      seeds.data[y * width + x] = map.data[my * map.width + mx]! > 0 ? SEED.maybeSubject : SEED.maybeBackground;
    }
}

/** The seeds with what the author painted: that is sure. */
export function withStrokes(seeds: Seeds, strokes: readonly BrushStroke[]): Seeds {
  const data = Uint8Array.from(seeds.data);
  for (const stroke of strokes)
    underStroke(stroke, seeds.width, seeds.height, (i) => {
      data[i] = SEED[stroke.brush];
    });
  return { ...seeds, data };
}
