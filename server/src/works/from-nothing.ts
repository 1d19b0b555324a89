import type { NewWorkSchema } from '@gable/contract';
import { parseColour, parsePage } from '@gable/core';
import { BLANKS, type Format } from '@gable/formats';
import type { z } from 'zod';
import type { AppContext } from '../context';
import type { Work } from '../db/models';
import { createWork } from './open';

type Wish = z.output<typeof NewWorkSchema>;

/** What each is called, and the kind of file that it is worked on in: one whose pages hold pictures anywhere. */
const KINDS: Record<Wish['kind'], { name: string; format: Format }> = {
  paper: { name: 'New pages', format: 'odg' },
  slides: { name: 'New slides', format: 'pptx' },
  graphic: { name: 'New graphic', format: 'svg' },
  web: { name: 'New web page.html', format: 'html' },
};

/** A work of one empty page. @throws GableError `bad-size`, `bad-colour` */
export function newWork(context: AppContext, { kind, page, ground, name }: Wish): Promise<Work> {
  const { name: usual, format } = KINDS[kind];
  const made = BLANKS[format]!({ size: parsePage(page), ground: ground === null ? null : parseColour(ground) });
  const begun = kind === 'web' ? null : kind;
  return createWork(context, Buffer.from(made), name ?? usual, { begun });
}
