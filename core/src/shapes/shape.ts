import type { Path, Point } from '../geometry/path';

/** A number that bends a shape. */
export interface Knob {
  name: string;
  label: string;
  min: number;
  max: number;
  default: number;
  /** Where its handle lies on a box of this size. */
  handle(width: number, height: number, value: number): Point;
}

export type Knobs = Readonly<Record<string, number>>;

/** The same outline among the preset shapes of ISO/IEC 29500-1 §20.1.10.56, with the adjust values of Annex D. */
export interface Preset {
  name: string;
  /** Adjust values (1/100,000) for a box of this size, in the order of the standard. */
  toAdjust(knobs: Knobs, width: number, height: number): Record<string, number>;
  fromAdjust(adjust: Record<string, number>, width: number, height: number): Knobs;
}

/** A named parametric outline. Members of a family live in one file. */
export interface Shape {
  name: string;
  label: string;
  family: 'round' | 'corners' | 'polygons' | 'nature';
  /** Width over height when the shape insists on it; choosing the shape gives the box this ratio. */
  locked: number | null;
  knobs: readonly Knob[];
  /** The outline filling a box `width` × `height` points, origin at its top left. */
  path(width: number, height: number, knobs: Knobs): Path;
  preset: Preset | null;
}

/** A preset without adjust values. */
export const plainPreset = (name: string): Preset => ({ name, toAdjust: () => ({}), fromAdjust: () => ({}) });
