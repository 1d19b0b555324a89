/**
 * Photographs that are not ours to ship, fetched by apt once: Debian's source package of `dlib` has some with boxes round
 * their faces (`examples/faces`), and `mate-backgrounds` has landscapes and textures (`nature`).
 */
import type { Region, Size } from '@gable/core';
import { spawnSync } from 'node:child_process';
import { existsSync, mkdirSync, readdirSync, readFileSync, writeFileSync } from 'node:fs';
import os from 'node:os';
import path from 'node:path';

const folder = path.join(os.homedir(), '.cache', 'gable-photographs');

function sh(command: string, ...args: string[]): void {
  const { status, stderr } = spawnSync(command, args, { cwd: folder, encoding: 'utf8' });
  if (status !== 0) throw new Error(`${command} ${args.join(' ')} failed: ${stderr}`);
}

function fetchPhotographs(): void {
  mkdirSync(path.join(folder, 'lists', 'partial'), { recursive: true });
  const list = path.join(folder, 'sources.sources');
  const from = readFileSync('/etc/apt/sources.list.d/debian.sources', 'utf8');
  const suite = /^Suites:\s*(\S+)/m.exec(from)?.[1] ?? 'bookworm';
  const uri = /^URIs:\s*(\S+)/m.exec(from)?.[1] ?? '';
  const key = '/usr/share/keyrings/debian-archive-keyring.gpg';
  writeFileSync(list, `Types: deb-src deb\nURIs: ${uri}\nSuites: ${suite}\nComponents: main\nSigned-By: ${key}\n`);
  const apt = ['sourcelist', 'sourceparts'].map((name, i) => `-oDir::Etc::${name}=${[list, '/dev/null'][i]}`);
  const lists = `-oDir::State::lists=${path.join(folder, 'lists')}`;
  sh('apt-get', ...apt, lists, 'update');
  sh('apt-get', ...apt, lists, 'source', '--download-only', 'dlib');
  sh('apt-get', ...apt, lists, 'download', 'mate-backgrounds');
  const names = readdirSync(folder);
  const source = names.find((n) => /^dlib_.*orig\.tar/.test(n))!;
  sh('tar', 'xf', source, '--wildcards', '*/examples/faces/*', '--strip-components=2');
  sh(
    'dpkg',
    '-x',
    names.find((n) => n.endsWith('.deb'))!,
    'backgrounds',
  );
}

export interface Photograph {
  file: string;
  size: Size;
  faces: Region[];
}

/** Those with faces, and boxes round them. */
export function annotated(): Photograph[] {
  if (!existsSync(path.join(folder, 'backgrounds'))) fetchPhotographs();
  const at = path.join(folder, 'faces');
  const xml = ['training', 'testing'].map((n) => readFileSync(path.join(at, `${n}.xml`), 'utf8')).join('');
  const images = [...xml.matchAll(/<image file='([^']+)' width='(\d+)' height='(\d+)'>([\s\S]*?)<\/image>/g)];
  return images.map(([, file, w, h, body]) => {
    const size = { width: Number(w), height: Number(h) };
    const faces = [...body!.matchAll(/<box top='(-?\d+)' left='(-?\d+)' width='(\d+)' height='(\d+)'/g)].map((m) => {
      const [top, left, width, height] = m.slice(1).map(Number) as [number, number, number, number];
      return {
        u: left / size.width,
        v: top / size.height,
        width: width / size.width,
        height: height / size.height,
      };
    });
    return { file: path.join(at, file!), size, faces };
  });
}

/** Files of landscapes and textures. */
export function landscapes(): string[] {
  if (!existsSync(path.join(folder, 'backgrounds'))) fetchPhotographs();
  const nature = path.join(folder, 'backgrounds/usr/share/backgrounds/mate/nature');
  return readdirSync(nature)
    .filter((n) => n.endsWith('.jpg'))
    .map((n) => path.join(nature, n));
}
