import type { Paint } from '@gable/core';

type Stops = Exclude<Paint, { kind: 'solid' }>['stops'];

const through = (...colours: string[]): Stops =>
  colours.map((colour, i) => ({ at: i / (colours.length - 1), colour, opacity: 1 }));

/** From quiet to loud. */
export const READY_GRADIENTS: readonly { name: string; stops: Stops }[] = [
  { name: 'Chalk', stops: through('#ffffff', '#d9d2c3') },
  { name: 'Slate', stops: through('#8d979b', '#3b4548') },
  { name: 'Night', stops: through('#3c4a63', '#151b2b') },
  { name: 'Sand', stops: through('#efe2c8', '#b99b6b') },
  { name: 'Moss', stops: through('#c3d1a8', '#4d6a3f') },
  { name: 'Lagoon', stops: through('#9fd3d0', '#1f5a66') },
  { name: 'Copper', stops: through('#f0cdb0', '#a85a32', '#f0cdb0') },
  { name: 'Brass', stops: through('#7a5a1e', '#f1dc92', '#a67c2d') },
  { name: 'Steel', stops: through('#6d7579', '#eef2f3', '#8b9498') },
  { name: 'Dusk', stops: through('#f2b880', '#b0506a', '#3d2c5a') },
  { name: 'Kiln', stops: through('#ffd166', '#ef6c2f', '#8f1d2c') },
  { name: 'Glaze', stops: through('#12c2a9', '#3565d8', '#9c3fd0') },
];
