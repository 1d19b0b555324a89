import type { FontFacts } from '@gable/core/silhouette';
import type { FontFile } from '@gable/formats';
import { fontFile, registerOwnFont } from '@gable/render';
import type { BlobReader, Connect } from './blob-reader';

interface Row {
  sha256: string;
  facts: FontFacts;
}

/** The author's own fonts, for a process that sets words or writes them into files. */
export class FontReader {
  private readonly known = new Set<string>();

  constructor(
    private readonly connect: Connect,
    private readonly blobs: BlobReader,
  ) {}

  /** Lets this process set words in them: fetches those that have come since it was asked last. */
  async ready(): Promise<void> {
    for (const { sha256, facts } of await this.all())
      if (!this.known.has(sha256)) {
        registerOwnFont(await this.blobs.readAll(sha256), facts);
        this.known.add(sha256);
      }
  }

  /** Those of some families that may go into files. @param packed as WOFF2, too */
  async files(families: readonly string[], packed: boolean): Promise<FontFile[]> {
    if (families.length === 0) return [];
    const rows = (await this.all()).filter(({ facts }) => facts.embeds && families.includes(facts.family));
    return Promise.all(
      rows.map(async ({ sha256, facts }) => fontFile({ bytes: await this.blobs.readAll(sha256), facts }, packed)),
    );
  }

  private async all(): Promise<Row[]> {
    const { client, release } = await this.connect();
    try {
      const { rows } = await client.query<Row>('SELECT sha256, facts FROM fonts ORDER BY created_at');
      release();
      return rows;
    } catch (error) {
      release(error);
      throw error;
    }
  }
}
