/** Pages of a proof sheet; read as text (ISO 32000-1 §7.7.3.3, §8.9.5) and, where poppler is installed, painted by it. */
import { solidOutline, withShape, type Frame } from '@gable/core';
import { openFile } from '@gable/formats';
import { execFileSync } from 'node:child_process';
import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import sharp from 'sharp';
import { FontReader } from '../src/db/font-reader';
import { proof as proofTask } from '../src/tasks/proof';
import { Spool } from '../src/tasks/spool';
import { contextOf } from '../src/tasks/context';

const talk = new Uint8Array(readFileSync('demo/files/open-day-talk.pptx'));

const spool = new Spool(mkdtempSync(path.join(tmpdir(), 'gable-spool-')));
afterAll(() => rmSync(spool.folder, { recursive: true, force: true }));
type Pairs = Parameters<typeof proofTask.run>[0]['pairs'];

async function sheet(pairs: Pairs, progress: (done: number, total: number) => void = () => undefined): Promise<Buffer> {
  const nothing = {
    read: () => Promise.reject(new Error('no blobs')),
    readAll: () => Promise.reject(new Error('no blobs')),
    pieces: () => {
      throw new Error('no blobs');
    },
  };
  const file = await spool.write([talk]);
  const { made } = await proofTask.run(
    { file, title: 'Talk', pairs },
    contextOf(
      nothing,
      { spool, fonts: new FontReader(() => Promise.reject(new Error('no database')), nothing as never) },
      progress,
    ),
  );
  return spool.take(made);
}

function poppler(): boolean {
  try {
    execFileSync('pdftoppm', ['-v'], { stdio: 'ignore' });
    return true;
  } catch {
    return false;
  }
}

/** The last picture of the talk, in a circle with a broad green line. */
function proof(): { pairs: { before: Frame; after: Frame; caption: string }[]; page: number } {
  const p = openFile(talk).pictures.at(-1)!;
  const round = withShape(p.frame, { name: 'circle', knobs: {} }, p.size);
  const after = { ...round, outline: solidOutline(24, '#00ff00') };
  return { pairs: [{ before: p.frame, after, caption: 'Picture' }], page: p.where.page! };
}

test('slides with changed frames follow whole, before and after', async () => {
  const { pairs, page } = proof();
  const told: [number, number][] = [];
  const pdf = await sheet(pairs, (...at) => told.push(at));
  const text = pdf.toString('latin1');
  expect(text.match(/\/Type \/Page\b(?!s)/g)).toHaveLength(2);
  expect(told.at(-1)).toEqual([2, 2]);
  expect(page).toBeGreaterThan(0);
});

(poppler() ? test : test.skip)('the new line is on the right side of the page only', async () => {
  const pdf = await sheet(proof().pairs);
  const folder = mkdtempSync(path.join(tmpdir(), 'proof-'));
  try {
    writeFileSync(path.join(folder, 'a.pdf'), pdf);
    execFileSync('pdftoppm', ['-r', '72', '-f', '2', '-png', 'a.pdf', 'page'], { cwd: folder });
    const { data, info } = await sharp(path.join(folder, 'page-2.png'))
      .removeAlpha()
      .raw()
      .toBuffer({ resolveWithObject: true });
    const green = { left: 0, right: 0 };
    for (let i = 0; i < info.width * info.height; i++) {
      const [r, g, b] = data.subarray(i * 3, i * 3 + 3);
      if (g! > 200 && r! < 90 && b! < 90) green[i % info.width < info.width / 2 ? 'left' : 'right']++;
    }
    expect(green.left).toBe(0);
    expect(green.right).toBeGreaterThan(60);
  } finally {
    rmSync(folder, { recursive: true });
  }
});
