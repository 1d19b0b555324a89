import type { ParseArgsConfig } from 'node:util';

/** What was given after `--`, by name. */
export type Values = Readonly<Record<string, string | boolean | undefined>>;

/** A command of `gable`: a file in `commands/`, and a line in its list. */
export interface Command {
  name: string;
  /** Its lines in `gable help`, from its own name on. */
  usage: string;
  options: NonNullable<ParseArgsConfig['options']>;
  /** Does a file or folder follow its name? */
  takesFile: boolean;
  /** What is named before the file, if anything: `a piece`. */
  names?: string;
  /** @param file the file or folder; empty where it takes none @param named what is named before it */
  run(file: string, values: Values, named: string): void | Promise<void>;
}

export const TEXT = { type: 'string' } as const;
export const FLAG = { type: 'boolean' } as const;
