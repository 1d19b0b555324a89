import { readFile } from 'node:fs/promises';
import path from 'node:path';
import { z } from 'zod';
import { Setting } from '../db/models';
import { keepPicture } from './pictures';
import type { AppContext } from '../context';

const List = z.array(z.object({ file: z.string().regex(/^[\w-]+\.\w+$/), name: z.string(), words: z.string() }));

/** Ready pictures that ship with the program, by a list in their folder; loaded once for each state of the list. */
export async function loadStock(context: AppContext, folder: string): Promise<void> {
  const text = await readFile(path.join(folder, 'stock.json'), 'utf8');
  if ((await Setting.findByPk('stock'))?.value === text) return;
  for (const { file, name, words } of List.parse(JSON.parse(text))) {
    const made = await context.spool.write([await readFile(path.join(folder, file))]);
    await keepPicture(context, made, name, 'stock', words).finally(() => context.spool.remove(made));
  }
  await Setting.upsert({ key: 'stock', value: text });
}
