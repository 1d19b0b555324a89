import type { NewWorkSchema } from '@gable/contract';
import { parseColour, parsePage } from '@gable/core';
import { BLANKS } from '@gable/formats';
import type { z } from 'zod';
import type { AppContext } from '../context';
import type { Work } from '../db/models';
import { createWork } from './open';

const NAMES = {
  docx: 'New document',
  odt: 'New document',
  pptx: 'New slides',
  odp: 'New slides',
  odg: 'New drawing',
  svg: 'New graphic',
  html: 'New page',
} as const;

/** A work with a file of one empty page. @throws GableError `bad-size`, `bad-colour` */
export function newWork(
  context: AppContext,
  { format, page, ground, name }: z.output<typeof NewWorkSchema>,
): Promise<Work> {
  const made = BLANKS[format]!({ size: parsePage(page), ground: ground === null ? null : parseColour(ground) });
  return createWork(context, Buffer.from(made), name ?? `${NAMES[format]}.${format}`);
}
