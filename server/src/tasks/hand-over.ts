import type { GableError } from '@gable/core';
import { forScreens, screensWords, slim, slimWords, type ScreensWish } from '@gable/render';
import { withTiedGrouped, type SlimWish } from '@gable/formats';
import { savedBytes, withVideos, type ChangedFile } from './save';
import { task, weighFile, type Made } from './task';

/** A long job's result: the file, and what was done to make it smaller, in words. */
export interface Said {
  made: Made;
  said: string | null;
}

/** Pictures that could not be framed: one of them does not keep the file from being handed over. */
export class PassedOver {
  private readonly reasons: string[] = [];
  readonly add = (n: number, { message }: GableError): void =>
    void this.reasons.push(`picture ${n} is as it was (${message.replace(/\.$/, '')})`);

  /** What is said of a file that is ready. @param done what else was done */
  words(done: string | null = null): string | null {
    const said = [...(done ? [done] : []), ...this.reasons.slice(0, MAX_REASONS)];
    if (this.reasons.length > MAX_REASONS)
      said.push(`${this.reasons.length - MAX_REASONS} more pictures are as they were`);
    return said.length > 0 ? said.join('; ') : null;
  }
}
const MAX_REASONS = 5;

/** What else is to be done to a file that is handed over. */
export interface HandedOver {
  slim?: SlimWish | undefined;
  /** Of a site: what makes its pages faster. */
  screens?: ScreensWish | undefined;
  /** Each picture in one group with what follows it. */
  grouped?: boolean | undefined;
}

/** The file with its frames, smaller if that was asked for; says how far it is. */
export const handOver = task({
  lane: 'long',
  setsWords: true,
  seconds: 30 * 60,
  weigh: weighFile,
  async run({ slim: wish, screens, grouped, ...changed }: ChangedFile & HandedOver, context): Promise<Said> {
    const passed = new PassedOver();
    const written = await savedBytes(changed, context, context.progress, passed.add);
    const saved = grouped ? withTiedGrouped(written) : written;
    const slimmed = wish && (await slim(saved, wish, context.progress));
    const bytes = slimmed?.bytes ?? saved;
    const quick = screens && (await forScreens(bytes, screens, context.progress));
    const said = [slimmed && slimWords(slimmed), quick && screensWords(quick)].filter(Boolean).join('; ');
    return { made: await context.made(withVideos(quick?.bytes ?? bytes, context)), said: passed.words(said || null) };
  },
});
