/** Words along a circle, held against text on a path (SVG 2 §11.8.1, textPath) as `@resvg/resvg-js` sets it in the same font. */
import { bounds, flatten, framePath, FULL_SEAT, reachOf, transform, type ShapeChoice } from '@gable/core';
import { alongShape, readFont } from '@gable/core/silhouette';
import { plainFont } from '../src/own-font';
import { Resvg } from '@resvg/resvg-js';
import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { createRequire } from 'node:module';
import { tmpdir } from 'node:os';
import path from 'node:path';

const woff2 = createRequire(__filename).resolve('@fontsource/arimo/files/arimo-latin-400-normal.woff2');
const folder = mkdtempSync(path.join(tmpdir(), 'gable-along-'));
afterAll(() => rmSync(folder, { recursive: true }));
const SIDE = 1600;
const R = 480;

async function arimo(): Promise<{ font: ReturnType<typeof readFont>; file: string }> {
  const { bytes } = await plainFont(readFileSync(woff2));
  const file = path.join(folder, 'arimo.ttf');
  writeFileSync(file, bytes);
  return { font: readFont(bytes), file };
}
const drawn = (inner: string, fontFiles: string[] = []): Uint8Array => {
  const svg = `<svg xmlns="http://www.w3.org/2000/svg" width="${SIDE}" height="${SIDE}">${inner}</svg>`;
  return new Resvg(svg, { font: { fontFiles, loadSystemFonts: false } }).render().pixels;
};
/** The ink that two drawings share, of all that either has. */
function overlap(a: Uint8Array, b: Uint8Array): number {
  let [both, either] = [0, 0];
  for (let i = 3; i < a.length; i += 4) {
    both += Math.min(a[i]!, b[i]!);
    either += Math.max(a[i]!, b[i]!);
  }
  return both / either;
}
const boxOf = (share: number): { x: number; y: number; width: number; height: number } => {
  const half = R * reachOf(share);
  return { x: SIDE / 2 - half, y: SIDE / 2 - half, width: 2 * half, height: 2 * half };
};
const inBox = (shape: ShapeChoice, share: number): string => {
  const { x, y, width } = boxOf(share);
  return `<path transform="translate(${x} ${y}) scale(${width})" fill-rule="evenodd" d="${shape.drawn!.path}"/>`;
};

test.each([
  ['top', 'HOLD THE LINE', R, 1],
  ['top', 'round the kiln, twice a week', R, 1],
  // Below, letters stand on a circle that is larger by their capitals, the other way round.
  ['bottom', 'HOLD THE LINE', R + 0.688 * 0.12 * 2 * R, 0],
] as const)('%s: “%s”', async (side, words, r, sweep) => {
  const { font, file } = await arimo();
  const share = 0.12;
  const c = SIDE / 2;
  const [from, to] = side === 'top' ? [c + r, c - r] : [c - r, c + r];
  const circle = `M${c} ${from}A${r} ${r} 0 0 ${sweep} ${c} ${to}A${r} ${r} 0 0 ${sweep} ${c} ${from}`;
  const text =
    `<defs><path id="c" d="${circle}"/></defs><text font-family="Arimo" font-size="${share * 2 * R}" text-anchor="middle">` +
    `<textPath href="#c" startOffset="50%">${words}</textPath></text>`;
  const theirs = drawn(text, [file]);
  const ours = drawn(inBox(alongShape(font, words, { share, side }), share));
  expect(overlap(ours, theirs)).toBeGreaterThan(0.97);
});

test('what would go round more than once is set smaller; all of it lies in its box', async () => {
  const { font } = await arimo();
  for (const side of ['top', 'bottom'] as const)
    for (const words of ['É', 'a'.repeat(80), 'Ågpj'.repeat(12)]) {
      const shape = alongShape(font, words, { share: 0.2, side });
      const frame = { box: { x: 0, y: 0, width: 2, height: 2 }, shape, seat: FULL_SEAT };
      const ownPath = transform(framePath(frame), [1, 0, 0, 1, -1, -1]);
      const points = flatten(ownPath, 1e-4).flat();
      const ink = bounds(ownPath);
      expect(Math.max(-ink.x, -ink.y, ink.x + ink.width, ink.y + ink.height)).toBeLessThanOrEqual(1);
      // Its beginning and its end are apart: nothing stands within a hundredth of the circle, opposite to its middle.
      const free = points.filter((p) => (side === 'top' ? p.y : -p.y) > 0 && Math.abs(p.x) < 0.01);
      expect(words.length > 1 ? free : []).toEqual([]);
    }
  expect(() => alongShape(font, '  ', { share: 0.1, side: 'top' })).toThrow(/room for 1 to 80/);
  expect(() => alongShape(font, 'b'.repeat(81), { share: 0.1, side: 'top' })).toThrow(/room for 1 to 80/);
  expect(() => alongShape(font, '漢字', { share: 0.1, side: 'top' })).toThrow(/has no “漢”/);
});
