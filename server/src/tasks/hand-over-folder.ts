import { slim, slimWords } from '@gable/render';
import { withTiedGrouped } from '@gable/formats';
import { Zip, ZipPassThrough } from 'fflate';
import { fileName } from '../http/file-name';
import { PassedOver, type HandedOver, type Said } from './hand-over';
import { savedBytes, withVideos, type ChangedFile } from './save';
import { task } from './task';

/** A file of a folder, under its name. */
export interface FolderFile extends ChangedFile {
  name: string;
}

/** The files of a folder as their works are now in a zip, which is written while they are made: one of them is held at a time. */
export const handOverFolder = task({
  lane: 'long',
  setsWords: true,
  seconds: 60 * 60,
  weigh: ({ files }: { files: FolderFile[] }) => Math.max(0, ...files.map((f) => f.file.size)) * 4,
  async run({ files, slim: wish, grouped }: { files: FolderFile[] } & HandedOver, context): Promise<Said> {
    const countOf = ({ changes }: FolderFile): number => Object.keys(changes.items).length;
    const total = files.reduce((sum, f) => sum + countOf(f), 0);
    const passed = new PassedOver();
    const sums = { before: 0, after: 0, cut: 0, fewer: 0, bared: 0, placed: 0 };
    async function* pieces(): AsyncGenerator<Uint8Array> {
      let ready: Uint8Array[] = [];
      let failed: Error | null = null;
      const zip = new Zip((error, data) => {
        failed ??= error;
        ready.push(data);
      });
      const taken = new Set<string>();
      let begun = 0;
      for (const file of files) {
        const before = begun;
        const progress = (done: number): void => context.progress(Math.min(total, before + done), total);
        let bytes = await savedBytes(file, context, progress, passed.add);
        if (grouped) bytes = withTiedGrouped(bytes);
        if (wish) {
          const slimmed = await slim(bytes, wish);
          bytes = slimmed.bytes;
          for (const key of Object.keys(sums) as (keyof typeof sums)[]) sums[key] += slimmed[key];
        }
        // Office files are packed already.
        const entry = new ZipPassThrough(fileName(file.name, taken));
        entry.mtime = new Date(1980, 0, 1);
        zip.add(entry);
        const whole = withVideos(bytes, context);
        if (whole instanceof Uint8Array) entry.push(whole, true);
        else {
          for await (const piece of whole) {
            entry.push(piece);
            yield* ready;
            ready = [];
          }
          entry.push(new Uint8Array(0), true);
        }
        begun += countOf(file);
        if (failed) throw failed as Error;
        yield* ready;
        ready = [];
      }
      zip.end();
      yield* ready;
    }
    const made = await context.made(pieces());
    context.progress(total, total);
    return { made, said: passed.words(wish ? slimWords(sums) : null) };
  },
});
