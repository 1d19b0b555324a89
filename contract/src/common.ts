import { wellFormed } from '@gable/core';
import { z } from 'zod';

/** A whole number as the database keeps it. */
export const WholeSchema = z
  .number()
  .int()
  .max(2 ** 31 - 1);
/** Text that people typed: characters that no text may hold are taken out. */
export const TextSchema = z.string().overwrite(wellFormed);
export const NameSchema = TextSchema.trim().min(1).max(255);
/** SHA-256 in hexadecimal: what bytes are known by. */
export const DigestSchema = z.string().regex(/^[0-9a-f]{64}$/);
export const SizeSchema = z.object({ width: z.number(), height: z.number() });
export const PixelSideSchema = z.coerce.number().int().min(16).max(2048).default(2048);
const FactsSchema = z.record(z.string(), z.union([z.string(), z.number(), z.boolean(), z.null()]));

/** What is wrong, where, and what to do (RFC 9457). */
export const ProblemSchema = z
  .object({
    type: z.string().describe('`urn:gable:` and the code'),
    title: z.string().describe('what is wrong, and where'),
    status: z.number().int(),
    detail: z.string().describe('what to do'),
    code: z.string(),
    facts: FactsSchema,
  })
  .meta({ id: 'Problem' });

/** Largest number of pictures that a file, and so a work, may have. */
export const MAX_PICTURES = 5000;
