import { z } from 'zod';

/** A font of one's own, under the name that files call it by. */
export const KeptFontSchema = z.object({
  id: z.uuid(),
  family: z.string(),
  weight: z.union([z.literal(400), z.literal(700)]),
  italic: z.boolean(),
  /** From line to line, in ems. */
  line: z.number(),
  /** May it be put into files? */
  embeds: z.boolean(),
  /** It comes with the program. */
  ships: z.literal(true).optional(),
});
export type KeptFont = z.infer<typeof KeptFontSchema>;

export const FontsSchema = z.object({ fonts: z.array(KeptFontSchema) });
