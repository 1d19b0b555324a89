import { z } from 'zod';

/** Settings from the environment; a wrong one stops the start with its name. */
const Environment = z.object({
  GABLE_DATABASE_URL: z.string().min(1),
  GABLE_HOST: z.string().default('127.0.0.1'),
  GABLE_PORT: z.coerce.number().int().min(0).max(65535).default(0),
  GABLE_WEB: z.string().optional(),
  /** Files to load once as works to try things on, separated as in a search path. */
  GABLE_DEMO: z.string().default(''),
  GABLE_STOCK: z.string().optional(),
  /** A folder for bytes on their way; by default one of this process among the system's temporary files. */
  GABLE_SPOOL: z.string().optional(),
  /** Further host names to answer to, with commas; by default only this machine's. */
  GABLE_HOSTS: z.string().default(''),
  /** Addresses or ranges of reverse proxies that tell a client's address (`X-Forwarded-For`), with commas; `loopback` is one. */
  GABLE_PROXY: z.string().default(''),
});

export type Config = z.infer<typeof Environment>;

export function readConfig(env: NodeJS.ProcessEnv): Config {
  const read = Environment.safeParse(env);
  if (read.success) return read.data;
  throw new Error(`Wrong settings: ${read.error.issues.map((i) => `${i.path.join('.')} ${i.message}`).join('; ')}`);
}
