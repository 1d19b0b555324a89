import { HANDED_AS, PAGE_BY_PAGE, type HandedKind } from '@gable/contract';
import { itemIdOf, type Frame } from '@gable/core';
import { CAPABILITIES, drawnAs, withFrames } from '@gable/formats';
import { fateOf } from './fidelity';
import { openRef, task, weighFile, type FileRef } from './task';

/** What a work from nothing would be as a file of each kind: what native, and what painted into pixels. */
export const kinds = task({
  lane: 'quick',
  seconds: 60,
  weigh: weighFile,
  async run({ file, frames }: { file: FileRef; frames: Frame[] }, context): Promise<HandedKind[]> {
    const source = await openRef(file, context);
    const document = withFrames(source, frames);
    const numbers = source.pictures.map((p) => p.n);
    return HANDED_AS.map((as): HandedKind => {
      if (as === 'pdf' || as === 'png') return { as, slim: 'none', fonts: true, groups: false, fidelity: [] };
      const pages = PAGE_BY_PAGE.includes(as) ? source.sheets.map((_, i) => i + 1) : [undefined];
      const fidelity = pages.flatMap((page) => {
        const drawn = drawnAs(as, document, page);
        const told = drawn.file.fidelity(drawn.document);
        return numbers.flatMap((n) => (told.has(itemIdOf({ n })) ? [fateOf(n, told.get(itemIdOf({ n })))] : []));
      });
      const { slim, fonts, arrange } = CAPABILITIES[as];
      return { as, slim, fonts, groups: arrange, fidelity };
    });
  },
});
