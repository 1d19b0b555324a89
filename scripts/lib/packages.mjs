// Installs what is missing: node_modules by the lock file, PostgreSQL and Chromium from Debian's packages.
import { createHash } from 'node:crypto';
import { existsSync, mkdirSync, readFileSync, readdirSync, writeFileSync } from 'node:fs';
import path from 'node:path';
import { at, has, isRoot, run, StepError } from './steps.mjs';

/** node_modules as the lock file has it; nothing is done when that is so already. */
export async function ensureModules() {
  const digest = createHash('sha256')
    .update(readFileSync(at('package-lock.json')))
    .digest('hex');
  const mark = at('node_modules', '.gable-installed');
  if (existsSync(mark) && readFileSync(mark, 'utf8') === digest) return;
  console.log('Installing the packages of the lock file …');
  // Not `npm ci`: it refuses a lock file that lacks builds for other platforms which the registry did not serve. The
  // versions and digests of the lock file hold here too, and --no-save leaves the file as it is.
  await run('npm', ['install', '--no-save', '--no-audit', '--no-fund', '--loglevel=error'], {
    step: 'Installing packages',
    remedy: 'check the connection to the npm registry and the room on the disk, then start again.',
  });
  writeFileSync(mark, digest);
}

async function apt(packages, what) {
  const step = `Installing ${what}`;
  if (!has('apt-get'))
    throw new StepError(
      step,
      'there is no apt-get on this machine',
      `install ${packages.join(' ')} by hand, then start again.`,
    );
  const asRoot = isRoot() ? [] : ['sudo', '-n'];
  if (!isRoot() && !has('sudo'))
    throw new StepError(
      step,
      'this needs root, and there is no sudo',
      `run as root once, or install ${packages.join(' ')} by hand.`,
    );
  const env = { ...process.env, DEBIAN_FRONTEND: 'noninteractive' };
  const call = (args) => {
    const [command, ...rest] = [
      ...asRoot,
      ...(isRoot() ? [] : ['env', 'DEBIAN_FRONTEND=noninteractive']),
      'apt-get',
      ...args,
    ];
    return run(command, rest, {
      env,
      quiet: true,
      step,
      remedy: `check that you may use sudo and that Debian's packages can be reached, or install ${packages.join(' ')} by hand.`,
    });
  };
  console.log(`Installing ${what} from Debian's packages …`);
  await call(['update', '-q']);
  // --force-confold keeps the file that stops Debian from starting a cluster of its own.
  await call(['install', '-y', '-q', '--no-install-recommends', '-o', 'Dpkg::Options::=--force-confold', ...packages]);
}

const PG_ROOT = '/usr/lib/postgresql';

/** Folders of PostgreSQL programs by major version, newest first. */
export function postgresVersions() {
  if (!existsSync(PG_ROOT)) return [];
  return readdirSync(PG_ROOT)
    .filter(
      (v) =>
        /^\d+$/.test(v) &&
        ['initdb', 'postgres', 'pg_ctl', 'psql'].every((p) => existsSync(path.join(PG_ROOT, v, 'bin', p))),
    )
    .map(Number)
    .sort((a, b) => b - a)
    .map((version) => ({ version, bin: path.join(PG_ROOT, String(version), 'bin') }));
}

export async function ensurePostgres() {
  if (postgresVersions().length > 0) return;
  const conf = '/etc/postgresql-common/createcluster.conf';
  if (isRoot() && !existsSync(conf)) {
    mkdirSync(path.dirname(conf), { recursive: true });
    writeFileSync(
      conf,
      "# Written by Gable: it runs a cluster of its own.\ncreate_main_cluster = false\nstart_conf = 'manual'\n",
    );
  }
  await apt(['postgresql'], 'PostgreSQL');
  if (postgresVersions().length === 0)
    throw new StepError(
      'Installing PostgreSQL',
      `its programs are not in ${PG_ROOT}`,
      'install the package postgresql by hand.',
    );
}

export async function ensureChromium() {
  if (!existsSync('/usr/bin/chromium')) await apt(['chromium', 'fonts-dejavu-core'], 'Chromium for the browser tests');
}
