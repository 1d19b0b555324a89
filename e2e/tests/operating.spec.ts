import { execFileSync, spawn } from 'node:child_process';
import { chmodSync, mkdirSync, mkdtempSync, readFileSync, rmSync, statSync, writeFileSync } from 'node:fs';
import path from 'node:path';
import { expect, handbook, test } from './steps';

/** The commands of docs/operating.md, as they stand there. */
const root = path.resolve(__dirname, '../..');
const guide = readFileSync(path.join(root, 'docs/operating.md'), 'utf8');
const command = (name: string): string => {
  const found = new RegExp(`^npm run ${name} -- (.*)$`, 'm').exec(guide);
  if (!found) throw new Error(`docs/operating.md does not say how to ${name}.`);
  return found[1]!;
};

test('a backup, taken as the guide says, brings everything back as the guide says', async ({ request }) => {
  // The guide's own words run, with a data folder and a file of this test.
  test.setTimeout(180_000);
  // PostgreSQL's own user must be able to reach it.
  const folder = mkdtempSync('/tmp/gable-operating-');
  chmodSync(folder, 0o755);
  const data = path.join(folder, 'data');
  mkdirSync(data, { mode: 0o755 });
  const file = path.join(folder, 'gable.backup');
  const run = (name: string): string => {
    const args = command(name)
      .replace(/\S+\.backup/, file)
      .split(/\s+/);
    return execFileSync('node', [path.join(root, `scripts/${name}.mjs`), ...args, '--data', data], {
      encoding: 'utf8',
    });
  };
  const serve = async (work: (url: string) => Promise<void>): Promise<void> => {
    const child = spawn('node', [path.join(root, 'scripts/start.mjs'), '--data', data], {
      stdio: ['ignore', 'pipe', 'inherit'],
    });
    try {
      const url = await new Promise<string>((resolve, reject) => {
        let said = '';
        child.stdout.on('data', (d: Buffer) => {
          said += String(d);
          const ready = /Gable is ready: (\S+)/.exec(said);
          if (ready) resolve(ready[1]!);
        });
        child.once('exit', (code) => reject(new Error(`It ended with ${code}: ${said}`)));
      });
      await work(url);
    } finally {
      const gone = new Promise((resolve) => child.once('exit', resolve));
      child.kill('SIGTERM');
      await gone;
    }
  };
  try {
    let id = '';
    await serve(async (url) => {
      const headers = { 'Content-Type': 'application/octet-stream' };
      const created = await request.post(`${url}/api/works?name=kept.docx`, { headers, data: handbook });
      id = ((await created.json()) as { id: string }).id;
      // It may run meanwhile.
      expect(run('backup')).toContain(file);
      await request.delete(`${url}/api/works/${id}`);
      expect((await request.get(`${url}/api/works/${id}`)).status()).toBe(404);
      // While it runs nothing is put in the place of what it has.
      expect(() => run('restore')).toThrow(/running/);
    });
    expect(statSync(file).mode & 0o077).toBe(0);
    expect(run('restore')).toContain(file);
    await serve(async (url) => {
      const taken = await request.get(`${url}/api/works/${id}/file`);
      expect((await taken.body()).equals(handbook)).toBe(true);
    });
    writeFileSync(file, 'no backup');
    expect(() => run('restore')).toThrow(/npm run backup/);
  } finally {
    rmSync(folder, { recursive: true, force: true });
  }
});
