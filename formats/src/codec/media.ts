import { LIMITS } from './limits';
import { readDensity } from '../raster/density';
import { readHeader, type PictureHeader } from '../raster/header';
import type { Media, Problem } from './contract';
import { readHead, type Archive, type Entry } from '../zip/reader';

export const problemsIn = {
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
    remedy: 'It can be framed all the same; a placeholder stands in for it here.',
  }),
};

/** Pixels to the inch by a picture's own header; null where it names none, or there is no picture. */
export function densityIn(archive: Archive, entry: Entry | undefined): { x: number; y: number } | null {
  try {
    return entry ? readDensity(readHead(archive, entry, 4096)) : null;
  } catch {
    return null;
  }
}

/** Where the data of a part stand in its package, and how they are packed. */
export const rangeOf = ({
  dataOffset: from,
  compressedSize,
  method,
  size,
}: Entry): { from: number; to: number; method: number; size: number } => ({
  ...{ from, to: from + compressedSize },
  method,
  size,
});

/** A picture's data, and why it cannot be shown. */
export interface Described {
  media: Media | null;
  problem: Problem | null;
}

/** What is known of a picture by its header; null for data that is no picture. */
function describeHead(part: string, range: Media['range'], header: PictureHeader | null): Described {
  if (!header)
    return {
      media: { part, range, type: 'unknown', pixels: null, orientation: 1, drawable: false },
      problem: problemsIn.broken(part),
    };
  const media = { part, range, ...header };
  const megapixels = header.pixels ? (header.pixels.width * header.pixels.height) / 1e6 : 0;
  if (megapixels > LIMITS.megapixels)
    return { media: { ...media, drawable: false }, problem: problemsIn.large(megapixels) };
  return { media, problem: header.drawable ? null : problemsIn.undrawable(header.type) };
}

/** A picture by an address in a drawing or a page. @param bytes of a `data:` address; null for others */
export function describeAddress(address: string, bytes: Uint8Array | null): Described {
  if (bytes) return describeHead('data', null, readHeader(bytes));
  if (/^\s*data:/i.test(address)) return { media: null, problem: problemsIn.broken('data') };
  return { media: null, problem: address === '' ? problemsIn.missing() : problemsIn.linked(address) };
}

/** The pictures of a package by part; each header is read once. */
export class MediaParts {
  private readonly heads = new Map<string, Described>();

  constructor(private readonly archive: Archive) {}

  /** @param entry the part, or nothing where the package lacks it */
  describe(entry: Entry | undefined): Described {
    if (!entry) return { media: null, problem: problemsIn.missing() };
    const known = this.heads.get(entry.name);
    if (known) return known;
    const range = rangeOf(entry);
    const { media, problem } = describeHead(entry.name, range, this.read(entry));
    const described = { media: media && { ...media, crc: entry.crc }, problem };
    this.heads.set(entry.name, described);
    return described;
  }

  private read(entry: Entry): PictureHeader | null {
    try {
      // Most sizes stand in the first few kB; a colour profile or a preview can push a JPEG's further back.
      for (const bytes of [8192, 65_536, 1_048_576, entry.size]) {
        const header = readHeader(readHead(this.archive, entry, bytes));
        if (header) return header;
        if (bytes >= entry.size) break;
      }
    } catch {
      // Damaged data: a broken picture, which must not keep the rest of the file closed.
    }
    return null;
  }
}
