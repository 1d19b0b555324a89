import { fileRoom, GableError, itemIdOf, NO_CHANGES, withChanges, type Changes, type Frame } from '@gable/core';
import { openFile, withFrames, withLaidNames, type Source } from '@gable/formats';

/** What is shown of a file. */
export interface PageWish {
  /** Those that have changed. */
  frames: readonly Frame[];
  page: number;
  /** What was put round the pictures of a text: it takes its room there, and is painted by those who show the pages. */
  added?: Changes | undefined;
  /** What was added over pictures is seen, too. */
  whole?: boolean | undefined;
}

/**
 * A page of the web, or a text, as HTML for showing it with frames on it.
 * @throws GableError `no-such-page`
 */
export function pageOf(file: Source, { frames, page, added, whole = false }: PageWish): Uint8Array {
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
  const framed = withFrames(file, roomy);
  const next = withChanges(framed, added ?? NO_CHANGES);
  const { bytes, order } = file.arranged(whole ? next : withLaidNames(next), new Map());
  const numbers = new Map([...pictures.values()].map((p) => [itemIdOf(p), p.n]));
  const opened = openFile(bytes, { known: order.map((id) => ({ n: numbers.get(id!)! })) });
  const html = opened.markup?.(page, painted) ?? null;
  if (html === null)
    throw new GableError('no-such-page', `There is no page ${page} in this file.`, `It has ${file.pages}.`, { page });
  return new TextEncoder().encode(html);
}
