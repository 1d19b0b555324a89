import { GableError } from '@gable/core';
import type { Work } from '../db/models';

/** What the file of a work is called: one that began here is not called by its kind until it is handed over. */
export const fileNameOf = ({ begun, name, opened }: Pick<Work, 'begun' | 'name' | 'opened'>): string =>
  begun ? `${name}.${opened.format}` : name;

/** A file is handed over as the kind that it is. */
export const isFile = (): GableError =>
  new GableError('has-file', 'This work is a file of its own kind.', 'Hand it over as it is.');
