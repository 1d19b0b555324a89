import { FAMILIES, SHAPES, trimNumber } from '@gable/core';
import { FLAG, type Command } from '../command';

/** `gable shapes [--json]`: every shape by family, with its knobs. */
function listShapes(json: boolean): void {
  if (json) {
    const list = SHAPES.map((s) => ({
      name: s.name,
      label: s.label,
      family: s.family,
      ratio: s.locked,
      preset: s.preset?.name ?? null,
      knobs: s.knobs.map(({ name, label, min, max, default: initial }) => ({
        name,
        label,
        min,
        max,
        default: initial,
      })),
    }));
    console.log(JSON.stringify(list, null, 2));
    return;
  }
  for (const family of FAMILIES) {
    console.log(`${family}`);
    for (const s of SHAPES.filter((x) => x.family === family)) {
      const knobs = s.knobs.map(
        (k) => `${k.name} ${trimNumber(k.min, 2)}–${trimNumber(k.max, 2)} (${trimNumber(k.default, 2)})`,
      );
      console.log(`  ${s.name.padEnd(18)} ${knobs.join(', ')}`.trimEnd());
    }
  }
}

export const shapesCommand: Command = {
  name: 'shapes',
  usage: 'shapes [--json]',
  options: { json: FLAG },
  takesFile: false,
  run: (_file, { json }) => listShapes(json === true),
};
