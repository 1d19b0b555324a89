import { InjectionToken, type Type } from '@angular/core';
import type { Frame, Item } from '@gable/core';
import type { ShapeFilter, Try, TryContext } from '../tries';

/** A step of the bench: one thing about a frame, with its alternatives and its controls. None of them locks another. */
export interface Step {
  name: string;
  label: string;
  /** What its controls are about, where that is more than its label. */
  title?(frame: Frame): string;
  /** Kinds of items that it is for. */
  for: readonly Item['kind'][];
  /** Only for frames that have something of their own; for all of them where it is not there. */
  applies?(frame: Frame): boolean;
  /** Do its tries cut the picture? Then they say what is cut, and wait for the subject. */
  cuts: boolean;
  tries(context: TryContext, filter: ShapeFilter): readonly Try[];
  /** Does the step differ from how the frame came? */
  changed(frame: Frame, original: Frame): boolean;
  /** The frame with this step as it came. */
  reset(frame: Frame, original: Frame): Frame;
  /** A component with its controls: cells of a grid of seven rows, filled column by column. */
  controls: Type<unknown>;
}

/** The steps of the bench, in the order in which people work. */
export const STEP_LIST = new InjectionToken<readonly Step[]>('The steps of the bench');
