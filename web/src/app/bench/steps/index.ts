import { around } from './around';
import { outline } from './outline';
import { place } from './place';
import { position } from './position';
import { ratio } from './ratio';
import { shadow } from './shadow';
import { shape } from './shape';
import type { Step } from './step';
import { tone } from './tone';
import { video } from './video';

/** The steps, in the order in which people work: a new one is one file and one line. */
export const STEPS: readonly Step[] = [shape, ratio, position, outline, shadow, tone, place, around, video];
