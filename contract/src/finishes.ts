import { FinishSchema } from '@gable/core';
import { z } from 'zod';

export const FinishIdSchema = z.string().regex(/^[a-z0-9][a-z0-9-]{0,79}$/);

/** A finish by its id. */
export const KeptFinishSchema = z.object({
  id: FinishIdSchema,
  finish: FinishSchema,
  shipped: z.boolean().describe('did it come with Gable?'),
});
export type KeptFinish = z.infer<typeof KeptFinishSchema>;

export const NewFinishSchema = z.object({ finish: FinishSchema });
export const ChangeFinishSchema = NewFinishSchema.extend({
  open: z.uuid().optional().describe('the work that is open where it was changed: its frames are followed there'),
});
