/** Writes the page of all shapes: `docs/shapes.md` and a drawing for each family. `npm run shapes`. */
import { defaultKnobs, FAMILIES, SHAPES, toSvgPath, trimNumber, type Shape } from '@gable/core';
import { mkdirSync, writeFileSync } from 'node:fs';
import path from 'node:path';

/** npm runs a workspace's scripts in its own folder. */
const docs = process.cwd();
const CELL = { width: 132, height: 124, art: 88 };
const COLUMNS = 7;

function cell(s: Shape, x: number, y: number): string {
  const ratio = s.locked ?? 1;
  const width = ratio >= 1 ? CELL.art : CELL.art * ratio;
  const height = width / ratio;
  const left = x + (CELL.width - width) / 2;
  const top = y + 8 + (CELL.art - height) / 2;
  const knobs = defaultKnobs(s);
  const dots = s.knobs
    .map((k) => k.handle?.(width, height, knobs[k.name]!))
    .filter((p) => p !== undefined && p !== null)
    .map((p) => `<circle class="knob" cx="${trimNumber(left + p.x, 2)}" cy="${trimNumber(top + p.y, 2)}" r="3"/>`);
  return [
    `<path d="${toSvgPath(s.path(width, height, knobs), 2)}" transform="translate(${trimNumber(left, 2)} ${trimNumber(top, 2)})"/>`,
    ...dots,
    `<text x="${x + CELL.width / 2}" y="${y + CELL.height - 8}">${s.name}</text>`,
  ].join('\n');
}

function drawing(shapes: readonly Shape[]): string {
  const rows = Math.ceil(shapes.length / COLUMNS);
  const width = Math.min(shapes.length, COLUMNS) * CELL.width;
  const height = rows * CELL.height;
  const cells = shapes.map((s, i) => cell(s, (i % COLUMNS) * CELL.width, Math.floor(i / COLUMNS) * CELL.height));
  return `<svg xmlns="http://www.w3.org/2000/svg" width="${width}" height="${height}" viewBox="0 0 ${width} ${height}">
<style>rect{fill:#fbf9f4}path{fill:#5f7f86}.knob{fill:#b5482a;stroke:#fbf9f4}text{font:12px sans-serif;fill:#22302f;text-anchor:middle}</style>
<rect width="100%" height="100%"/>
${cells.join('\n')}
</svg>
`;
}

const knobs = (s: Shape): string =>
  s.knobs
    .map(
      (k) =>
        `\`${k.name}\` ${k.label.toLowerCase()} ${trimNumber(k.min, 3)}–${trimNumber(k.max, 3)} (${trimNumber(k.default, 3)})`,
    )
    .join('<br>') || '–';

const lines = [
  '# Every shape',
  '',
  `${SHAPES.length} shapes, drawn at their defaults; a dot marks the handle of a knob. “Ratio” is width over height where a shape insists`,
  'on it. “Preset” is the shape of ISO/IEC 29500 it is written as; the others become a custom geometry. Made by `npm run shapes`.',
  '',
];
mkdirSync(path.join(docs, 'shapes'), { recursive: true });
for (const family of FAMILIES) {
  const members = SHAPES.filter((s) => s.family === family);
  writeFileSync(path.join(docs, 'shapes', `${family}.svg`), drawing(members));
  lines.push(`## ${family[0]!.toUpperCase()}${family.slice(1)}`, '', `![${family}](shapes/${family}.svg)`, '');
  lines.push('| name | label | ratio | preset | knobs: range (default) |', '| --- | --- | --- | --- | --- |');
  for (const s of members)
    lines.push(
      `| \`${s.name}\` | ${s.label} | ${s.locked === null ? 'free' : trimNumber(s.locked, 3)} | ${s.preset ? `\`${s.preset.name}\`` : '–'} | ${knobs(s)} |`,
    );
  lines.push('');
}
writeFileSync(path.join(docs, 'shapes.md'), lines.join('\n'));
console.log(`${SHAPES.length} shapes`);
