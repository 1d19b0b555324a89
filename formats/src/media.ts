import { LIMITS } from './limits';
import { readHeader } from './raster/header';
import type { Media, Problem } from './opened';
import { readHead, type Archive, type Entry } from './zip/reader';

export const problems = {
  linked: (address: string): Problem => ({
    code: 'linked-picture',
    message: `The picture is not in the file; it is linked from ${address}.`,
    remedy: 'Gable never fetches linked pictures. Insert the picture itself in the file.',
  }),
  missing: (): Problem => ({
    code: 'missing-picture',
    message: 'The file names a picture that is not in it.',
    remedy: 'Insert the picture again in the file.',
  }),
  broken: (part: string): Problem => ({
    code: 'broken-picture',
    message: `The part “${part}” is not a picture, or it is damaged.`,
    remedy: 'It is left as it is. Insert the picture again in the file.',
  }),
  large: (megapixels: number): Problem => ({
    code: 'too-many-pixels',
    message: `The picture has ${megapixels.toFixed(0)} megapixels; Gable shows up to ${LIMITS.megapixels}.`,
    remedy: 'It is left as it is. Make the picture smaller and insert it again.',
  }),
  undrawable: (type: string): Problem => ({
    code: 'undrawable-picture',
    message: `Gable cannot show ${type.toUpperCase()} pictures.`,
    remedy: 'It can be framed all the same; a plate stands in for it here.',
  }),
};

type Head = Omit<Media, 'part'> | null;

/** The pictures of a package by part; each header is read once. */
export class MediaParts {
  private readonly heads = new Map<string, Head>();

  constructor(private readonly archive: Archive) {}

  /** @param entry the part, or nothing where the package lacks it */
  describe(entry: Entry | undefined): { media: Media | null; problem: Problem | null } {
    if (!entry) return { media: null, problem: problems.missing() };
    const part = entry.name;
    if (!this.heads.has(part)) this.heads.set(part, this.read(entry));
    const known = this.heads.get(part);
    if (!known)
      return {
        media: { part, type: 'unknown', pixels: null, orientation: 1, drawable: false, range: rangeOf(entry) },
        problem: problems.broken(part),
      };
    const media = { part, ...known };
    const megapixels = known.pixels ? (known.pixels.width * known.pixels.height) / 1e6 : 0;
    if (megapixels > LIMITS.megapixels)
      return { media: { ...media, drawable: false }, problem: problems.large(megapixels) };
    return { media, problem: known.drawable ? null : problems.undrawable(known.type) };
  }

  private read(entry: Entry): Head {
    try {
      // Most headers stand in the first 64 kB; a large colour profile or preview can push a JPEG's size further back.
      for (const bytes of [65_536, 1_048_576, entry.size]) {
        const header = readHeader(readHead(this.archive, entry, bytes));
        if (header) return { ...header, range: rangeOf(entry) };
        if (bytes >= entry.size) break;
      }
    } catch {
      // Damaged data: a broken picture, which must not keep the rest of the file closed.
    }
    return null;
  }
}

const rangeOf = (entry: Entry): Media['range'] => ({
  from: entry.dataOffset,
  to: entry.dataOffset + entry.compressedSize,
  method: entry.method,
  size: entry.size,
});
