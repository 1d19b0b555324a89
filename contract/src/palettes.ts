import { PaletteSchema } from '@gable/core';
import { z } from 'zod';

/** A palette of one's own by its id. */
export const KeptPaletteSchema = PaletteSchema.extend({ id: z.uuid() });
export type KeptPalette = z.infer<typeof KeptPaletteSchema>;

export const PalettesSchema = z.object({ palettes: z.array(KeptPaletteSchema) });
