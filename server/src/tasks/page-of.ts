import { fileRoom, GableError, itemIdOf, type Frame } from '@gable/core';
import { openFile, withFrames, type Source } from '@gable/formats';

/**
 * A page of the web, or a text, as HTML for showing it with frames on it.
 * @param frames those that have changed
 * @throws GableError `no-such-page`
 */
export function pageOf(file: Source, frames: readonly Frame[], page: number): Uint8Array {
  // Only room is made for the frames: what the file cannot say of them need not be said.
  const plain = frames.map((f): Frame => {
    const { source, ...rest } = f;
    void source;
    return rest;
  });
  const wished = withFrames(file, plain);
  const fidelity = file.fidelity(wished);
  const pictures = new Map(file.pictures.map((p) => [p.n, p]));
  const isSaid = (f: Frame): boolean => (fidelity.get(itemIdOf(pictures.get(f.n)!))?.unsupported ?? []).length === 0;
  const roomy = plain.map((f): Frame => {
    const { frame, freeable } = pictures.get(f.n)!;
    return isSaid(f)
      ? f
      : {
          ...frame,
          box: fileRoom(f).box,
          turn: f.turn,
          flow: freeable ? f.flow : frame.flow,
          ...(f.anchor && { anchor: f.anchor }),
          ...(f.paragraph && { paragraph: f.paragraph }),
        };
  });
  const painted = new Set(frames.filter((f, i) => f.source !== undefined || !isSaid(plain[i]!)).map((f) => f.n));
  // Tied to other paragraphs, pictures come in another order.
  const { bytes, order } = file.arranged(withFrames(file, roomy), new Map());
  const numbers = new Map([...pictures.values()].map((p) => [itemIdOf(p), p.n]));
  const opened = openFile(bytes, { known: order.map((id) => ({ n: numbers.get(id!)! })) });
  const html = opened.markup?.(page, painted) ?? null;
  if (html === null)
    throw new GableError('no-such-page', `There is no page ${page} in this file.`, `It has ${file.pages}.`, { page });
  return new TextEncoder().encode(html);
}
