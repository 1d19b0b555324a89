import { PAGE_BY_PAGE, type HandedAs } from '@gable/contract';
import { GableError, itemIdOf, withChanges } from '@gable/core';
import { CAPABILITIES, drawnAs, LIMITS, withTiedGrouped } from '@gable/formats';
import { saveRasterised, slim, slimWords } from '@gable/render';
import { paintPages, type PaintedKind } from '@gable/render/pages';
import { zipSync } from 'fflate';
import type { As } from '../db/models';
import { PassedOver, type HandedOver, type Said } from './hand-over';
import { originalsOf } from './originals';
import { sceneOf } from '@gable/render/scene';
import { withVideos, type ChangedFile } from './save';
import { openRef, task, weighFile } from './task';

const isPainted = (kind: HandedAs): kind is PaintedKind & HandedAs => kind === 'png' || kind === 'pdf';

/** The pages of a work from nothing as a file of the kind that was chosen; says how far it is. */
export const handOverAs = task({
  lane: 'long',
  setsWords: true,
  seconds: 30 * 60,
  weigh: weighFile,
  async run(
    { file, changes, as: { kind, ppi }, slim: wish, grouped }: ChangedFile & HandedOver & { as: As },
    context,
  ): Promise<Said> {
    const source = await openRef(file, context);
    const document = withChanges(source.document, changes);
    const original = originalsOf(source, context);
    const pages = source.sheets.map((_, i) => i + 1);
    if (isPainted(kind)) {
      const scenes = [];
      for (const page of pages) scenes.push(await sceneOf(source, document, page));
      for (const { size } of scenes)
        if (size.width * size.height * (ppi / 72) ** 2 > LIMITS.megapixels * 1e6)
          throw new GableError(
            'too-large',
            `A page would have more than ${LIMITS.megapixels} megapixels.`,
            'Choose a lower resolution.',
          );
      const painted = await paintPages(scenes, original, { kind, ppi }, context.progress);
      return { made: await context.made(asOne(kind, painted)), said: null };
    }
    const numbers = new Map(source.pictures.map((p) => [itemIdOf(p), p.n]));
    const passed = new PassedOver();
    const saved = async (only?: number): Promise<Uint8Array> => {
      const drawn = drawnAs(kind, document, only);
      const written = await saveRasterised(drawn.file, drawn.document, {
        original,
        fonts: context.fonts,
        progress: context.progress,
        passOver: (id, reason) => passed.add(numbers.get(id)!, reason),
      });
      return grouped ? withTiedGrouped(written) : written;
    };
    const parts = PAGE_BY_PAGE.includes(kind) ? pages : [undefined];
    const files = [];
    for (const page of parts) files.push(await saved(page));
    const bytes = asOne(kind, files);
    if (!wish || CAPABILITIES[kind].slim === 'none')
      return { made: await context.made(withVideos(bytes, context)), said: passed.words() };
    const slimmed = await slim(bytes, wish, context.progress);
    return { made: await context.made(withVideos(slimmed.bytes, context)), said: passed.words(slimWords(slimmed)) };
  },
});

/** One file as it is, several in a zip; they are packed already. */
function asOne(kind: HandedAs, files: readonly Uint8Array[]): Uint8Array {
  if (files.length === 1) return files[0]!;
  const names = files.map((bytes, i) => [`Page ${i + 1}.${kind}`, bytes] as const);
  return zipSync(Object.fromEntries(names), { level: 0, mtime: new Date(1980, 0, 1) });
}
