import { GableError } from '@gable/core';
import { LRUCache } from 'lru-cache';

/** A small picture for the screen. */
export interface SmallPicture {
  type: string;
  data: Buffer;
}

/** What was made for a name, or why it could not be. */
type Kept = { made: SmallPicture } | { failed: GableError };

/** Refusals that may be others the next time. */
const PASSING: ReadonlySet<string> = new Set(['busy', 'not-found']);
const ROOM = 48 * 1024 * 1024;
/** A failure is asked for again after so long, in milliseconds: a server that was busy may have ended it. */
const FAILED = 3600_000;

/** Keeps what was made lately, up to a number of bytes; what cannot be made is remembered as such and not tried again. */
export class PictureCache {
  private readonly kept: LRUCache<string, Kept, () => Promise<SmallPicture>>;

  constructor(room = ROOM) {
    this.kept = new LRUCache({
      maxSize: room,
      sizeCalculation: (kept) => ('made' in kept ? kept.made.data.length + 1 : 1000),
      fetchMethod: async (_name, _stale, { context: make, options }) => {
        try {
          return { made: await make() };
        } catch (error) {
          if (!(error instanceof GableError) || PASSING.has(error.code)) throw error;
          options.ttl = FAILED;
          return { failed: error };
        }
      },
    });
  }

  /** What goes by this name, made once for all who ask. @throws GableError why it cannot be made */
  async get(name: string, make: () => Promise<SmallPicture>): Promise<SmallPicture> {
    const kept = await this.kept.fetch(name, { context: make, ignoreFetchAbort: true, allowStaleOnFetchAbort: true });
    if (!kept) return make();
    if ('failed' in kept) throw kept.failed;
    return kept.made;
  }
}

/** Smaller copies made lately: the same file is often opened again, and every window asks for the same ones. */
export const pictureCache = new PictureCache();
