/** The heart of Gable: no interface, no input or output. */
export * from './errors';
export * from './units';
export * from './colour';

// Geometry
export * from './geometry/path';
export { clamp, cosSin, radians, turnOf } from './geometry/numeric';

// The model of a frame
export * from './model/frame';

// Shapes
export { anchorShares, defaultKnobs, findShape, framePath, seatRect, SHAPES } from './shapes/index';
export type { Knob, Knobs, Preset, Shape } from './shapes/shape';

// Placement
export * from './placement/view';
export * from './placement/reframe';

// Looking at pictures
export { findSubject, SUBJECT_SIDE, type Pixels } from './analysis/subject';
export * from './analysis/findings';

// Painting
export type { Context, Gradient, Surface } from './paint/context';
export * from './paint/painter';

// Reading what people type
export * from './text';
