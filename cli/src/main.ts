import { exitCodeOf, GableError } from '@gable/core';
import { parseArgs } from 'node:util';
import { COMMANDS } from './commands';

const HELP = `gable puts the pictures of a document into shapes and gives the same file back.

${COMMANDS.map(({ usage }) => `  gable ${usage}`).join('\n')}

Exit 0: done. 1: a problem with a file. 2: a wrong call. 3: findings of the severity given by --fail, or worse, remain.`;

async function main([name, ...rest]: string[]): Promise<void> {
  if (name === undefined || name === 'help' || name === '--help' || name === '-h') {
    console.log(HELP);
    if (name === undefined) process.exitCode = 2;
    return;
  }
  const command = COMMANDS.find((c) => c.name === name);
  if (!command) throw new GableError('bad-call', `There is no command “${name}”.`, 'Try: gable help');
  let parsed;
  try {
    parsed = parseArgs({ args: rest, options: command.options, allowPositionals: true });
  } catch (cause) {
    throw new GableError('bad-call', `${(cause as Error).message.split('. ')[0]}.`, 'Try: gable help', {}, { cause });
  }
  const words = [...parsed.positionals];
  const named = command.names === undefined ? '' : (words.shift() ?? '');
  if (command.names !== undefined && !named)
    throw new GableError('bad-call', `Name ${command.names} first.`, 'Try: gable help');
  const [file = '', ...more] = words;
  if (command.takesFile && (!file || more.length > 0))
    throw new GableError('bad-call', 'Name exactly one file.', 'Try: gable help');
  await command.run(file, parsed.values as Record<string, string | boolean | undefined>, named);
}

/**
 * Calls a command.
 * @param args what stands behind the command's name
 * @returns the exit code
 */
export async function run(args: string[]): Promise<number> {
  try {
    await main(args);
  } catch (error) {
    if (!(error instanceof GableError)) throw error;
    console.error(`gable: ${error.full}`);
    process.exitCode = exitCodeOf(error.code);
  }
  return Number(process.exitCode ?? 0);
}
