// As root the server runs under a user of its own, as PostgreSQL does: whoever broke into it would be nobody of importance.
import { spawnSync } from 'node:child_process';
import { chmodSync, chownSync, mkdirSync } from 'node:fs';
import { isRoot, StepError } from './steps.mjs';

const USER = 'gable';

const idOf = (flag) => {
  const { status, stdout } = spawnSync('id', [flag, USER], { encoding: 'utf8' });
  return status === 0 ? Number(stdout) : null;
};

/** The user to run as, made when it is missing; null where this is not root. @returns uid and gid */
export function serverUser() {
  if (!isRoot()) return null;
  if (idOf('-u') === null) {
    const options = ['--system', '--user-group', '--no-create-home', '--shell', '/usr/sbin/nologin', USER];
    const { status, stderr } = spawnSync('useradd', options, { encoding: 'utf8' });
    if (status !== 0)
      throw new StepError(
        'Making a user for the server',
        stderr?.trim() || 'there is no useradd on this machine',
        `add a user named ${USER} by hand, or start Gable as a user that is not root.`,
      );
  }
  return { uid: idOf('-u'), gid: idOf('-g') };
}

/** Can a user read a file? */
export const canRead = ({ uid, gid }, file) =>
  spawnSync(process.execPath, ['-e', 'require("fs").accessSync(process.argv[1], 4)', file], { uid, gid, cwd: '/' })
    .status === 0;

/** A folder that belongs to the user the server runs as. */
export function ownFolder(folder, user) {
  mkdirSync(folder, { recursive: true, mode: 0o700 });
  chmodSync(folder, 0o700);
  if (user?.uid !== undefined) chownSync(folder, user.uid, user.gid);
  return folder;
}
