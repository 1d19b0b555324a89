import type { SceneExport } from '@gable/contract';
import { GableError, itemIdOf, pieceDocument, withChanges, type Changes } from '@gable/core';
import { openFile, type Source } from '@gable/formats';
import { outputTypeOf, saveRasterised } from '@gable/render';
import { paintScene, pieceDrawing } from '@gable/render/piece';
import { sceneOf, sceneOfPiece } from '@gable/render/scene';
import { originalsOf } from './originals';
import { withVideos } from './save';
import { openRef, task, weighFile, type FileRef, type Made } from './task';

/** A picture of a web page with all that stands around it, for another page. @throws GableError `bad-output` */
function snippetIn(page: Source, n: number): string {
  const snippet = page.snippet?.(n) ?? null;
  if (snippet !== null) return snippet;
  throw new GableError(
    'bad-output',
    page.snippet
      ? `Picture ${n} is not framed yet.`
      : 'Only pictures of web pages become HTML with what stands around them.',
    page.snippet ? 'Give it a shape, or make it a section.' : 'Choose SVG.',
    { n },
  );
}

/** A whole page, or a picture with what stands around it, as a file of its own. */
export const exportScene = task({
  lane: 'paint',
  setsWords: true,
  seconds: 120,
  alone: true,
  weigh: weighFile,
  async run({ file, changes, ...wish }: SceneExport & { file: FileRef; changes: Changes }, context): Promise<Made> {
    const source = await openRef(file, context);
    const document = withChanges(source.document, changes);
    const original = originalsOf(source, context);
    const { format, ppi, width } = wish;
    const type = format === 'svg' || format === 'html' ? null : outputTypeOf(format);
    if (wish.what === 'page') {
      if (!source.sheets[wish.page - 1])
        throw new GableError(
          'no-such-page',
          `There is no page ${wish.page} that can be painted.`,
          `There are ${source.sheets.length}.`,
          { page: wish.page },
        );
      if (!type)
        throw new GableError(
          'bad-output',
          'A page cannot be saved as SVG.',
          'Choose PNG or PDF, or hand it over as a drawing.',
        );
      const scene = await sceneOf(source, document, wish.page);
      return context.made(await paintScene(scene, original, { type, ppi, width }));
    }
    if (format === 'html') {
      const saved = openFile(await saveRasterised(source, document, { original }), {
        ...(source.known && { known: source.known }),
      });
      return context.made(withVideos(new TextEncoder().encode(snippetIn(saved, wish.n)), context));
    }
    const piece = pieceDocument(document, itemIdOf(wish));
    if (!piece)
      throw new GableError(
        'nothing-around',
        `Nothing stands around picture ${wish.n}.`,
        'Export the picture by itself.',
        { n: wish.n },
      );
    if (!type) return context.made(await pieceDrawing(source, piece, original));
    return context.made(await paintScene(sceneOfPiece(source, piece), original, { type, ppi, width }));
  },
});
