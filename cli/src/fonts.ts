import { GableError } from '@gable/core';
import { fontFile, plainFont, registerOwnFont, type FontsOf, type PlainFont } from '@gable/render';
import path from 'node:path';
import { readWhole } from './files';

/**
 * Lets words be set in fonts of files.
 * @param names of files, from a folder
 * @returns the fonts among some families that may go into a file
 * @throws GableError `bad-font` with the name of the file
 */
export async function fontsFrom(names: readonly string[], folder: string): Promise<FontsOf> {
  const fonts: PlainFont[] = [];
  for (const name of names) {
    const bytes = await readWhole(path.resolve(folder, name));
    const font = await plainFont(bytes).catch((cause: unknown) => {
      if (!(cause instanceof GableError)) throw cause;
      throw new GableError(cause.code, `“${name}” is not a font that can be read.`, cause.remedy, { name }, { cause });
    });
    registerOwnFont(font.bytes, font.facts);
    fonts.push(font);
  }
  return (families, packed) =>
    Promise.all(
      fonts
        .filter(({ facts }) => facts.embeds && families.includes(facts.family))
        .map((font) => fontFile(font, packed)),
    );
}
