import { z } from 'zod';
import { parseColour } from './colour';
import { wellFormed } from './cut';
import { GableError } from './errors';

const Name = z.string().trim().min(1).max(80).overwrite(wellFormed);

/** So many colours a palette has at most. */
export const MAX_COLOURS = 60;

/** Colours under a name: a company's, a project's. */
export const PaletteSchema = z.object({
  name: Name,
  colours: z.array(z.object({ name: Name, hex: z.string().regex(/^#[0-9a-f]{6}$/) })).max(MAX_COLOURS),
});
export type ColourPalette = z.infer<typeof PaletteSchema>;

/** A name as CSS takes it for a property (CSS Syntax 3 §4.3.11), and back. */
const asIdent = (name: string): string =>
  name
    .normalize('NFKD')
    .toLowerCase()
    .replace(/[^a-z0-9]+/g, '-')
    .replace(/^-+|-+$/g, '') || 'colour';
const asName = (ident: string): string => {
  const words = ident.replace(/[-_]+/g, ' ').trim();
  return words.slice(0, 1).toUpperCase() + words.slice(1);
};

/** The palette as a style sheet of custom properties (CSS Custom Properties 1), each colour's name in a comment behind it. */
export function writePalette({ name, colours }: ColourPalette): string {
  const plain = (text: string): string => text.replace(/\*\//g, '* /');
  const used = new Set<string>();
  const lines = colours.map((c) => {
    const base = asIdent(c.name);
    let ident = base;
    for (let i = 2; used.has(ident); i++) ident = `${base}-${i}`;
    used.add(ident);
    return `  --${ident}: ${c.hex}; /* ${plain(c.name)} */`;
  });
  return `/* ${plain(name)} */\n:root {\n${lines.join('\n')}\n}\n`;
}

/**
 * Reads colours with their names from a style sheet (custom properties that are colours), or from lines such as
 * `Kiln red #b5482a`.
 * @param name of the palette, where the text has none
 * @throws GableError `bad-palette` where there is no colour in it, or too many
 */
export function readPalette(text: string, name: string): ColourPalette {
  const css = /--[\w-]+\s*:/.test(text);
  const colours = css ? fromProperties(text) : fromLines(text);
  const remedy =
    'Use a style sheet with lines such as --kiln-red: #b5482a; or a text with lines such as Kiln red #b5482a.';
  if (colours.length === 0) throw new GableError('bad-palette', 'There are no colours in this file.', remedy, { name });
  if (colours.length > MAX_COLOURS)
    throw new GableError(
      'bad-palette',
      `This file has ${colours.length} colours; a palette takes ${MAX_COLOURS}.`,
      'Split it into several files.',
      { name },
    );
  const title = css ? /^\s*\/\*\s*([^*\n]{1,80}?)\s*\*\//.exec(text)?.[1] : undefined;
  return { name: title ?? name.slice(0, 80), colours };
}

type Colours = ColourPalette['colours'];

const colourOf = (text: string): string | null => {
  try {
    return parseColour(text);
  } catch {
    return null;
  }
};

function fromProperties(text: string): Colours {
  const found = [...text.matchAll(/--([\w-]+)\s*:\s*([^;}]+)[;}]?[ \t]*(?:\/\*\s*([^*\n]+?)\s*\*\/)?/g)];
  return found.flatMap(([, ident, value, comment]) => {
    const hex = colourOf(value!);
    return hex ? [{ name: (comment ?? asName(ident!)).slice(0, 80), hex }] : [];
  });
}

function fromLines(text: string): Colours {
  return text.split(/\r?\n/).flatMap((line) => {
    const at = /#[0-9a-f]{3}(?:[0-9a-f]{3})?\b|(?:rgb|hsl|hwb|lab|lch|oklab|oklch)\([^)]*\)/i.exec(line);
    const hex = at && colourOf(at[0]);
    if (!hex) return [];
    const words = (line.slice(0, at.index) + line.slice(at.index + at[0].length)).replace(/[\s,;:=]+/g, ' ').trim();
    return [{ name: (words || hex).slice(0, 80), hex }];
  });
}
