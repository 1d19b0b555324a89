import { GlobalFonts } from '@napi-rs/canvas';
import { GableError, knowFonts, type OwnFont } from '@gable/core';
import { fontFacts, type FontFacts } from '@gable/core/silhouette';
import type { FontFile } from '@gable/formats';

/** A font of the author's own as a plain font file. */
export interface PlainFont {
  bytes: Uint8Array;
  facts: FontFacts;
}

const startsWith = (bytes: Uint8Array, ...tags: readonly string[]): boolean =>
  tags.includes(Buffer.from(bytes.subarray(0, 4)).toString('latin1'));

/**
 * Reads a TrueType, OpenType or WOFF2 file; the last is unpacked.
 * @throws GableError `bad-font` for anything else
 */
export async function plainFont(file: Uint8Array): Promise<PlainFont> {
  const bytes = startsWith(file, 'wOF2') ? await unpacked(file) : file;
  if (!startsWith(bytes, '\0\u0001\0\0', 'OTTO', 'true')) throw notOne();
  return { bytes, facts: fontFacts(bytes) };
}

/** A font as it goes into files. @param packed as WOFF2, too, for what is sent to browsers */
export async function fontFile({ bytes, facts }: PlainFont, packed: boolean): Promise<FontFile> {
  const { family, weight, italic } = facts;
  if (!packed) return { family, weight, italic, bytes };
  const { compress } = await import('wawoff2');
  return { family, weight, italic, bytes, packed: await alone(() => compress(bytes)) };
}

let last: Promise<unknown> = Promise.resolve();
/** The library gives back a view of its own memory, which its next work writes over: one at a time, and a copy. */
function alone(work: () => Promise<Uint8Array>): Promise<Uint8Array> {
  const next = last.then(async () => Uint8Array.from(await work()));
  last = next.catch(() => undefined);
  return next;
}

async function unpacked(file: Uint8Array): Promise<Uint8Array> {
  // Rarely asked for: it is not loaded before.
  const { decompress } = await import('wawoff2');
  try {
    return await alone(() => decompress(file));
  } catch (cause) {
    throw notOne(cause);
  }
}

const notOne = (cause?: unknown): GableError =>
  new GableError(
    'bad-font',
    'This is not a font that can be read.',
    'Choose a file that ends in .ttf, .otf or .woff2. Of a collection (.ttc), save one font as a file of its own.',
    {},
    { cause },
  );

/** Lets canvases set type in a font of the author's own. @param font as it is called in files */
export function registerOwnFont(bytes: Uint8Array, font: OwnFont): void {
  GlobalFonts.register(Buffer.from(bytes), font.family);
  knowFonts([font]);
}
