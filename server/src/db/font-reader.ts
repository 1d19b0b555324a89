import type { FontFacts } from '@gable/core/silhouette';
import { registerOwnFont } from '@gable/render';
import type { BlobReader, Connect } from './blob-reader';

/** Lets this process set words in the author's own fonts. */
export class FontReader {
  private readonly known = new Set<string>();

  constructor(
    private readonly connect: Connect,
    private readonly blobs: BlobReader,
  ) {}

  /** Fetches those that have come since it was asked last. */
  async ready(): Promise<void> {
    const { client, release } = await this.connect();
    let rows: { sha256: string; facts: FontFacts }[];
    try {
      ({ rows } = await client.query<{ sha256: string; facts: FontFacts }>('SELECT sha256, facts FROM fonts'));
    } catch (error) {
      release(error);
      throw error;
    }
    release();
    for (const { sha256, facts } of rows)
      if (!this.known.has(sha256)) {
        registerOwnFont(await this.blobs.readAll(sha256), facts);
        this.known.add(sha256);
      }
  }
}
