import { readFile } from 'node:fs/promises';
import path from 'node:path';
import { z } from 'zod';
import { Setting } from '../db/models';
import type { Made } from '../tasks/task';
import { keepPicture, keepVideo } from './pictures';
import type { AppContext } from '../context';

const File = z.string().regex(/^[\w-]+\.\w+$/);
const List = z.array(z.object({ file: File, name: z.string(), words: z.string(), video: File.optional() }));

/** Ready pictures, and videos that some of them are seen of, that ship with the program, by a list in their folder; loaded once for each state of the list. */
export async function loadStock(context: AppContext, folder: string): Promise<void> {
  const text = await readFile(path.join(folder, 'stock.json'), 'utf8');
  if ((await Setting.findByPk('stock'))?.value === text) return;
  const spooled = async (file: string): Promise<Made> => context.spool.write([await readFile(path.join(folder, file))]);
  for (const { file, name, words, video } of List.parse(JSON.parse(text))) {
    const made = await spooled(file);
    const picture = await keepPicture(context, made, name, 'stock', words).finally(() => context.spool.remove(made));
    if (video === undefined) continue;
    const data = await spooled(video);
    await keepVideo(context, picture, { file: data, name: video }).finally(() => context.spool.remove(data));
  }
  await Setting.upsert({ key: 'stock', value: text });
}
