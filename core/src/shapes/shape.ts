import { clamp } from '../geometry/numeric';
import { pen, type Pen } from '../geometry/pen';
import type { Path, Point } from '../geometry/path';
import { transform } from '../geometry/transform';
import { drawGeometry, handleAt, silhouetteOf } from '../presets/geometry';
import { presetGeometry } from '../presets/index';

/** A number that bends a shape. */
export interface Knob {
  name: string;
  label: string;
  min: number;
  max: number;
  default: number;
  /** What its number is: a share of a side, degrees, or a plain number; a share where nothing is said. */
  unit?: 'degree' | 'number';
  /** A whole number, such as a count of points or the seed of a rough edge. */
  whole?: boolean;
  /** Where its handle lies on a box of this size; null for a knob that has none (a seed). */
  handle: ((width: number, height: number, value: number) => Point) | null;
}

export type Knobs = Readonly<Record<string, number>>;

/** The same outline among the preset shapes of ISO/IEC 29500-1 §20.1.10.56, with the adjust values of Annex D. */
export interface Preset {
  name: string;
  /** Adjust values (1/100,000 or 1/60,000°) for a box of this size, in the order of the standard. */
  toAdjust(knobs: Knobs, width: number, height: number): Record<string, number>;
  fromAdjust(adjust: Record<string, number>, width: number, height: number): Knobs;
}

export const FAMILIES = [
  'round',
  'corners',
  'polygons',
  'windows',
  'arrows',
  'stars',
  'speech',
  'nature',
  'signs',
  'banners',
  'rough',
] as const;
export type Family = (typeof FAMILIES)[number];

/** A named parametric outline. Members of a family live in one file. */
export interface Shape {
  name: string;
  label: string;
  family: Family;
  /** Width over height when the shape insists on it; choosing the shape gives the box this ratio. */
  locked: number | null;
  knobs: readonly Knob[];
  /** The outline filling a box `width` × `height` points, origin at its top left. */
  path(width: number, height: number, knobs: Knobs): Path;
  preset: Preset | null;
}

/** A preset without adjust values. */
export const plainPreset = (name: string): Preset => ({ name, toAdjust: () => ({}), fromAdjust: () => ({}) });

type Handle = (width: number, height: number, value: number) => readonly [number, number];

/** A knob; its handle is given as a pair of coordinates. */
export function knob(
  name: string,
  label: string,
  range: readonly [min: number, max: number],
  initial: number,
  handle: Handle | null,
): Knob {
  const at =
    handle &&
    ((w: number, h: number, v: number): Point => {
      const [x, y] = handle(w, h, v);
      return { x, y };
    });
  return { name, label, min: range[0], max: range[1], default: initial, handle: at };
}

/** A count: points of a star, petals of a flower. It has no place on the shape, only a number. */
export const count = (name: string, label: string, range: readonly [number, number], initial: number): Knob => ({
  ...knob(name, label, range, initial, null),
  unit: 'number',
  whole: true,
});

/** The value of a knob inside its range; its default where none is given. */
export const knobValue = (k: Knob, knobs: Knobs): number =>
  clamp(k.whole ? Math.round(knobs[k.name] ?? k.default) : (knobs[k.name] ?? k.default), k.min, k.max);

/** A shape of our own. `draw` gets the knobs in the order in which they are listed. */
export function shape(
  family: Family,
  name: string,
  label: string,
  knobs: readonly Knob[],
  draw: (w: number, h: number, ...values: number[]) => Path,
  more: { locked?: number; preset?: Preset } = {},
): Shape {
  return {
    name,
    label,
    family,
    locked: more.locked ?? null,
    knobs,
    path: (w, h, values) => draw(w, h, ...knobs.map((k) => knobValue(k, values))),
    preset: more.preset ?? null,
  };
}

/** A drawing on a board of 100 × 100, stretched to the box. */
export const onBoard =
  (draw: (p: Pen, ...values: number[]) => Pen): ((w: number, h: number, ...values: number[]) => Path) =>
  (w, h, ...values) =>
    transform(draw(pen(), ...values).path, [w / 100, 0, 0, h / 100, 0, 0]);

/** A knob of a preset: which adjust value it is, its range in shares (or degrees), and the guides its handle lies on. */
export interface PresetKnob {
  name: string;
  label: string;
  adjust: string;
  range: readonly [min: number, max: number];
  at: string;
  unit?: 'share' | 'degree';
  /** Where it rests with us, when that is not the standard's default. */
  initial?: number;
}

/** A shape that is drawn as the preset of the standard is defined. */
export function presetShape(
  family: Family,
  name: string,
  label: string,
  preset: string,
  knobs: readonly PresetKnob[] = [],
  locked: number | null = null,
): Shape {
  const geometry = presetGeometry(preset);
  if (!geometry) throw new RangeError(`There is no preset ${preset}`);
  const unit = (k: PresetKnob): number => (k.unit === 'degree' ? 60_000 : 100_000);
  const initial = (k: PresetKnob): number => (geometry.adjust.find(([a]) => a === k.adjust)?.[1] ?? 0) / unit(k);
  const toAdjust = (values: Knobs): Record<string, number> =>
    Object.fromEntries(knobs.map((k) => [k.adjust, Math.round((values[k.name] ?? k.initial ?? initial(k)) * unit(k))]));
  return {
    name,
    label,
    family,
    locked,
    knobs: knobs.map((k) => ({
      name: k.name,
      label: k.label,
      min: k.range[0],
      max: k.range[1],
      default: k.initial ?? initial(k),
      ...(k.unit === 'degree' ? { unit: 'degree' as const } : {}),
      handle: (w, h, value) => handleAt(geometry, w, h, toAdjust({ [k.name]: value }), k.at),
    })),
    path: (w, h, values) => silhouetteOf(drawGeometry(geometry, w, h, toAdjust(values))),
    preset: {
      name: preset,
      toAdjust,
      fromAdjust: (adjust) =>
        Object.fromEntries(
          knobs.map((k) => {
            const value = adjust[k.adjust];
            return [k.name, value === undefined ? initial(k) : clamp(value / unit(k), ...k.range)];
          }),
        ),
    },
  };
}
