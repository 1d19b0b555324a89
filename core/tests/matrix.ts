import { CENTRED, solidOutline, type Frame, type Outline, type Overstep, type Paint, type Shadow } from '../src/index';

/** Frames on which the renderers are held against each other: shapes × outlines × shadows × placements. */

const line = (weight: number, more: Partial<Outline> = {}): Outline => ({
  ...solidOutline(weight, '#22302f'),
  ...more,
});
const shape = (name: string): Pick<Frame, 'shape'> => ({ shape: { name, knobs: {} } });
const gradient: Paint = {
  kind: 'linear',
  angle: 30,
  stops: [
    { at: 0, colour: '#b5482a', opacity: 1 },
    { at: 0.4, colour: '#f4f0e7', opacity: 1 },
    { at: 1, colour: '#2b6a73', opacity: 1 },
  ],
};
const radial: Paint = { kind: 'radial', stops: gradient.stops };
const sides: Paint = { kind: 'rectangular', stops: gradient.stops };
const soft: Shadow = { kind: 'outer', dx: 3, dy: 4, blur: 8, spread: 0, colour: '#000000', opacity: 0.4 };

/** A head and its shoulders, in shares of a picture of 600 × 400 pixels. */
const subject =
  'M0.5 0.05C0.58 0.05 0.6 0.2 0.58 0.35C0.56 0.45 0.64 0.5 0.7 0.6L0.74 0.95L0.26 0.95L0.3 0.6C0.36 0.5 0.44 0.45 0.42 0.35C0.4 0.2 0.42 0.05 0.5 0.05Z';
const over = (lines: Overstep['lines'], shadow?: Shadow): { overstep: Overstep } => ({
  overstep: { subject, picture: { width: 600, height: 400 }, lines, ...(shadow && { shadow }) },
});
/** The head above the box. */
const head = { ...CENTRED, zoom: 1.6, aim: { u: 0.5, v: 0.62 } };

export const MATRIX: readonly (readonly [name: string, more: Partial<Frame>])[] = [
  ['circle, ring on the edge', { ...shape('circle'), outline: line(4) }],
  ['circle, white ring inside', { ...shape('circle'), outline: { ...solidOutline(5, '#ffffff'), side: 'inside' } }],
  ['circle, ring outside', { ...shape('circle'), outline: line(5, { side: 'outside' }) }],
  ['circle, ring with a gap', { ...shape('circle'), outline: line(3, { side: 'outside', gap: 3 }) }],
  ['circle, ring inside with a gap', { ...shape('circle'), outline: line(3, { side: 'inside', gap: 4 }) }],
  ['heart, double outside', { ...shape('heart'), outline: line(8, { side: 'outside', lines: 'double' }) }],
  ['star-5, thick and thin', { ...shape('star-5'), outline: line(7, { lines: 'thick-thin', join: 'mitre' }) }],
  ['gable, triple inside', { ...shape('gable'), outline: line(9, { side: 'inside', lines: 'triple' }) }],
  ['rounded, dashes', { ...shape('rounded'), outline: line(4, { dash: 'dash' }) }],
  ['cloud, round dots', { ...shape('cloud'), outline: line(3, { dash: 'dot', cap: 'round' }) }],
  ['hexagon, gradient', { ...shape('hexagon'), outline: line(6, { paint: gradient, side: 'outside' }) }],
  ['quatrefoil, radial, faded', { ...shape('quatrefoil'), outline: line(6, { paint: radial, opacity: 0.6 }) }],
  ['rectangle, to four sides', { ...shape('rectangle'), outline: line(14, { paint: sides, side: 'inside' }) }],
  ['star-5, to four sides, faded', { ...shape('star-5'), outline: line(6, { paint: sides, opacity: 0.6 }) }],
  ['ring, with its hole', { ...shape('ring'), outline: line(2) }],
  ['star-12, sharp mitres', { ...shape('star-12'), outline: line(4, { side: 'outside' }) }],
  ['soft shadow', { ...shape('rounded'), shadow: soft }],
  ['faint shadow', { ...shape('circle'), shadow: { ...soft, opacity: 0.2 } }],
  ['shadow of a ring', { ...shape('circle'), outline: line(4, { side: 'outside' }), shadow: { ...soft, spread: 2 } }],
  ['inner shadow', { ...shape('rounded'), shadow: { ...soft, kind: 'inner', opacity: 0.6 } }],
  ['zoomed and aimed', { ...shape('diamond'), placement: { ...CENTRED, zoom: 1.7, aim: { u: 0.4, v: 0.6 } } }],
  ['turned picture', { ...shape('circle'), placement: { ...CENTRED, turn: 30 }, outline: line(3) }],
  ['mirrored picture', { ...shape('leaf'), placement: { ...CENTRED, mirror: true } }],
  [
    'contained on a backing',
    {
      ...shape('circle'),
      placement: { ...CENTRED, fit: 'contain', zoom: 0.6 },
      backing: { kind: 'solid', colour: '#c28a2c', opacity: 1 },
    },
  ],
  [
    'turned and flipped frame',
    { ...shape('speech-round'), turn: 20, flip: { horizontal: true, vertical: false }, shadow: soft },
  ],
  [
    'subject over the top of a ring',
    { ...shape('circle'), placement: head, outline: line(4), shadow: soft, ...over({ top: 0.5 }) },
  ],
  [
    'subject over the top of a ring outside',
    { ...shape('circle'), placement: head, outline: line(5, { side: 'outside' }), ...over({ top: 0.5 }) },
  ],
  [
    'subject over all sides, with a shadow of its own',
    {
      ...shape('rounded'),
      placement: { ...head, zoom: 1.2, turn: 12, mirror: true },
      outline: { ...solidOutline(5, '#ffffff'), side: 'inside' },
      ...over({ top: 0.5, right: 0.5, bottom: 0.5, left: 0.5 }, { ...soft, opacity: 0.7 }),
    },
  ],
  ['seated shape', { ...shape('star-6'), seat: { fit: 'keep', anchor: 'left', repeat: false }, outline: line(2) }],
];
