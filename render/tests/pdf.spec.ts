import { execFileSync } from 'node:child_process';
import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import { CENTRED, solidOutline, type Frame } from '@gable/core';
import { encode, renderFrame } from '@gable/render';
import sharp, { type Sharp } from 'sharp';
import { frameOf } from '../../core/tests/frames';

/** A PDF as poppler's `pdftoppm` draws it, against our own painter on white. Only where Debian's package is installed. */
const poppler = ((): boolean => {
  try {
    execFileSync('pdftoppm', ['-v'], { stdio: 'ignore' });
    return true;
  } catch {
    return false;
  }
})();
const PPI = 150;
const FINER = 6;
const [MEAN, MOST] = [0.9, 45];

(poppler ? describe : describe.skip)('a frame as PDF', () => {
  const picture = readFileSync('demo/files/pictures/three-bowls.jpg');
  const soft = { kind: 'outer', dx: 2, dy: 3, blur: 8, spread: 0, colour: '#000000', opacity: 0.4 } as const;
  const round = { shape: { name: 'circle', knobs: {} }, outline: solidOutline(6, '#b5482a'), shadow: soft } as const;

  /** What poppler draws on the page, and what the painter does, both on white. */
  async function drawn(asked: Partial<Frame>, painted = asked): Promise<{ theirs: Buffer; ours: Buffer }> {
    const { width = 0, height = 0 } = await sharp(picture).metadata();
    const canvasOf = (more: Partial<Frame>): ReturnType<typeof renderFrame> =>
      renderFrame(frameOf(120, 90, more), { width, height }, picture, PPI / 72);
    const canvas = await canvasOf(asked);
    const other = await canvasOf(painted);
    const folder = mkdtempSync(path.join(os.tmpdir(), 'gable-pdf-'));
    try {
      writeFileSync(path.join(folder, 'a.pdf'), await encode(canvas, 'pdf', PPI));
      // Poppler lets a picture cover every pixel that it touches, up to one too many: that weighs little on many pixels.
      const pixels = ['-scale-to-x', String(canvas.width * FINER), '-scale-to-y', String(canvas.height * FINER)];
      execFileSync('pdftoppm', [...pixels, '-png', '-singlefile', 'a.pdf', 'a'], { cwd: folder });
      const flat = (image: Sharp): Promise<Buffer> =>
        image
          .flatten({ background: '#ffffff' })
          .removeAlpha()
          .resize(canvas.width, canvas.height, { kernel: 'linear' })
          .raw()
          .toBuffer();
      return {
        theirs: await flat(sharp(path.join(folder, 'a.png'))),
        ours: await flat(sharp(await encode(other, 'png', PPI))),
      };
    } finally {
      rmSync(folder, { recursive: true, force: true });
    }
  }

  const errors = ({ theirs, ours }: { theirs: Buffer; ours: Buffer }): { mean: number; most: number } => {
    let sum = 0;
    let most = 0;
    theirs.forEach((v, i) => {
      const off = Math.abs(v - ours[i]!);
      sum += off;
      most = Math.max(most, off);
    });
    return { mean: sum / theirs.length, most };
  };

  test.each<[string, Partial<Frame>]>([
    ['a circle with an outline and a shadow', round],
    ['turned, with the picture turned in it', { ...round, turn: 12, placement: { ...CENTRED, turn: 20, zoom: 1.5 } }],
    ['toned', { tone: { colour: { amount: 0, warmth: 0, tint: 0, only: null } } }],
  ])('%s is drawn as our painter paints it', async (_, frame) => {
    const { mean, most } = errors(await drawn(frame));
    // Measured: at most 0.6, and 30 along the edges.
    expect(mean).toBeLessThan(MEAN);
    expect(most).toBeLessThan(MOST);
  });

  test('a line one device pixel thinner, or no shadow, would be seen', async () => {
    const thin = errors(await drawn(round, { ...round, outline: solidOutline(6 - 72 / PPI, '#b5482a') }));
    expect(thin.mean).toBeGreaterThan(2 * MEAN);
    expect(thin.most).toBeGreaterThan(2 * MOST);
    const bare = errors(await drawn(round, { ...round, shadow: { ...soft, opacity: 0.001 } }));
    expect(bare.mean).toBeGreaterThan(2 * MEAN);
  });
});
