// What every command shares: running programs, and failing with words that help. Node alone, no packages.
import { spawn, spawnSync } from 'node:child_process';
import net from 'node:net';
import path from 'node:path';
import { fileURLToPath } from 'node:url';

export const root = path.resolve(path.dirname(fileURLToPath(import.meta.url)), '..', '..');
export const at = (...parts) => path.join(root, ...parts);

/** A step that could not be done: which, why, and what to do. */
export class StepError extends Error {
  constructor(step, why, remedy) {
    super(`${step} could not be done: ${why}\n  What to do: ${remedy}`);
    this.name = 'StepError';
  }
}

/** Tells a StepError in its words and anything else in full; then ends with 1. */
export function fail(error) {
  console.error(error instanceof StepError ? `\n${error.message}\n` : error);
  process.exit(1);
}

/** Runs a program to its end; its output is shown unless `quiet`, then it is in the error. */
export function run(command, args, options = {}) {
  const { quiet = false, step = command, remedy = 'See the messages above.', ...rest } = options;
  return new Promise((resolve, reject) => {
    const child = spawn(command, args, {
      cwd: root,
      ...rest,
      stdio: quiet ? ['ignore', 'pipe', 'pipe'] : ['ignore', 'inherit', 'inherit'],
    });
    let output = '';
    child.stdout?.on('data', (d) => (output += d));
    child.stderr?.on('data', (d) => (output += d));
    child.on('error', (e) => reject(new StepError(step, e.message, remedy)));
    child.on('close', (code, signal) => {
      if (code === 0) resolve(output);
      else
        reject(
          new StepError(
            step,
            quiet && output.trim()
              ? output.trim().split('\n').slice(-12).join('\n  ')
              : `it ended with ${signal ?? code}`,
            remedy,
          ),
        );
    });
  });
}

export const has = (command) => spawnSync('sh', ['-c', `command -v ${command}`], { stdio: 'ignore' }).status === 0;
export const isRoot = () => process.getuid?.() === 0;

/** Can this port be listened on? */
export function portFree(port, host = '127.0.0.1') {
  return new Promise((resolve) => {
    const probe = net.createServer();
    probe.once('error', () => resolve(false));
    probe.listen({ port, host, exclusive: true }, () => probe.close(() => resolve(true)));
  });
}

/** Any free port. */
export function anyPort(host = '127.0.0.1') {
  return new Promise((resolve, reject) => {
    const probe = net.createServer();
    probe.once('error', reject);
    probe.listen({ port: 0, host }, () => {
      const { port } = probe.address();
      probe.close(() => resolve(port));
    });
  });
}

export function checkNode() {
  const [major, minor] = process.versions.node.split('.').map(Number);
  if (major < 20 || (major === 20 && minor < 19))
    throw new StepError('Starting', `this is Node ${process.versions.node}`, 'install Node 20.19 or newer.');
}
