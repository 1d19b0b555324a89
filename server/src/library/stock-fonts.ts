import { readFile } from 'node:fs/promises';
import { createRequire } from 'node:module';
import { Setting } from '../db/models';
import type { AppContext } from '../context';
import { keepFont } from './fonts';

const UPRIGHT = ['400Regular', '700Bold'] as const;
const ALL = [...UPRIGHT, '400Regular_Italic', '700Bold_Italic'] as const;

/** Open fonts that ship with the program, each of another kind; a new one is a package and one line. */
const FONTS: readonly { name: string; looks: readonly string[] }[] = [
  // For reading, with soft serifs.
  { name: 'Lora', looks: ALL },
  // For headings, with thin and thick strokes.
  { name: 'Playfair Display', looks: ALL },
  // With strong slabs.
  { name: 'Bitter', looks: ALL },
  // Without serifs, and rounded.
  { name: 'Nunito', looks: ALL },
  // Narrow.
  { name: 'Oswald', looks: UPRIGHT },
  // As if by hand.
  { name: 'Caveat', looks: UPRIGHT },
];

/** Where a font's file lies in its package. */
function fileOf(name: string, look: string): string {
  const folder = name.toLowerCase().replaceAll(' ', '-');
  const file = `@expo-google-fonts/${folder}/${look}/${name.replaceAll(' ', '')}_${look}.ttf`;
  return createRequire(import.meta.url).resolve(file);
}

/** Keeps the fonts that ship with the program beside those of the author's own; once for each state of the list. */
export async function loadStockFonts(context: AppContext): Promise<void> {
  const list = JSON.stringify(FONTS);
  if ((await Setting.findByPk('stock-fonts'))?.value === list) return;
  for (const { name, looks } of FONTS)
    for (const look of looks) {
      const file = await context.spool.write([await readFile(fileOf(name, look))]);
      await keepFont(context, file, { ships: true }).finally(() => context.spool.remove(file));
    }
  await Setting.upsert({ key: 'stock-fonts', value: list });
}
