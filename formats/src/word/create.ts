import { GableError, type Size } from '@gable/core';
import { noPicture, noSuchBlock, noSuchPlace, type Floating, type NewPicture, type NewPlace } from '../codec/contract';
import { Additions } from '../ooxml/additions';
import type { Found } from '../ooxml/found';
import { frontHeight } from '../ooxml/ids';
import { isStrict, NS } from '../ooxml/names';
import type { Package } from '../ooxml/package';
import { behindLetters } from '../xml/letters';
import { ancestor, child, type Element } from '../xml/located';
import type { Splice } from '../xml/splice';
import { Splices } from '../xml/splices';
import { blocksIn, blocksOfText, holderAt, textsOf } from './blocks';
import { freeDrawingId, plainDrawing } from './plain-drawing';

/** The blocks of a document, which places are counted by. */
export const blocksOfDocument = (pack: Package, main: string): ReturnType<typeof blocksOfText> => {
  const body = child(pack.part(main).root, 'body');
  return body ? blocksOfText(body) : [];
};

type InText = Extract<NewPlace, { in: 'text' }>;

/**
 * Puts a plain picture into a text: in a paragraph of its own, among the letters of one that is there, or beside the text.
 * @throws GableError `no-such-page`
 */
export function insertInText(
  pack: Package,
  main: string,
  found: readonly Found[],
  { image, alt, place }: NewPicture,
): { bytes: Uint8Array; n: number } {
  if (place.in === 'beside') return insertBeside(pack, main, found, { image, alt, place });
  if (place.in !== 'text') throw noSuchPlace();
  const { root } = pack.part(main);
  const body = child(root, 'body');
  if (!body) throw noSuchBlock(place.after, 0);
  const { elements } = holderAt(body, place.within);
  const coming = drawingIn(pack, main, { part: main, image, alt, ...place });
  const [at] = elements.map((holder) => insertInHolder(coming, holder, place, coming.drawing));
  return written(coming, found, main, at!);
}

/** Right behind a picture that is there, in its line or beside it. */
function insertBeside(
  pack: Package,
  main: string,
  found: readonly Found[],
  { image, alt, place }: NewPicture & { place: Extract<NewPlace, { in: 'beside' }> },
): { bytes: Uint8Array; n: number } {
  const { site } = found[place.n - 1] ?? noPicture(place.n, found.length);
  const { part } = site;
  const run = ancestor(site.pic, (e) => e.local === 'r' && NS.word.has(e.uri));
  if (!run)
    throw new GableError('cannot-write', `Nothing can be put beside picture ${place.n}.`, 'Choose another place.', {
      n: place.n,
    });
  const coming = drawingIn(pack, main, { part, image, alt, ...place });
  coming.splice.at(run.end, `<${coming.w}r>${coming.drawing}</${coming.w}r>`);
  return written(coming, found, part, run.end);
}

interface Coming extends Written {
  drawing: string;
  additions: Additions;
  splices: Splices;
}

/** A drawing for a part, and what it is written with. */
function drawingIn(
  pack: Package,
  main: string,
  { part, image, alt, size, floats }: { part: string; size: Size; floats: Floating | null } & Omit<NewPicture, 'place'>,
): Coming {
  const { root, text } = pack.part(part);
  const splices = new Splices((name) => pack.part(name));
  const additions = new Additions(pack, main, splices);
  const strict = isStrict(root.uri);
  const rid = additions.relateTo({ part, strict }, image);
  const id = freeDrawingId(pack, main);
  const w = root.name.slice(0, root.name.length - root.local.length);
  const drawing = plainDrawing(
    { id, name: `Picture ${id}`, alt, rid, size, floats, height: frontHeight(root) },
    w,
    root.uri,
  );
  return { splice: splices.of(part), text, w, drawing, additions, splices };
}

function written(
  { additions, splices }: Coming,
  found: readonly Found[],
  part: string,
  at: number,
): { bytes: Uint8Array; n: number } {
  const before = found.findLastIndex(({ site }) => site.part === part && site.pic.start < at);
  const first = found.findIndex(({ site }) => site.part === part);
  // The main part comes first.
  const n = before >= 0 ? before + 2 : first >= 0 ? first + 1 : 1;
  return { bytes: additions.write(splices.changed()), n };
}

interface Written {
  splice: Splice;
  text: string;
  /** The prefix of the text's own elements. */
  w: string;
}

/** @returns where it stands in the part */
function insertInHolder(
  written: Written,
  holder: Element,
  { after, letters, floats }: InText,
  drawing: string,
): number {
  const { splice, w } = written;
  const blocks = blocksIn(holder);
  if (after > blocks.length) throw noSuchBlock(after, blocks.length);
  const run = `<${w}r>${drawing}</${w}r>`;
  const last = blocks[after - 1];
  if (letters !== null && last?.local === 'p') return insertAmongLetters(written, last, letters, drawing);
  // What floats is tied to a paragraph that is there, before its words, behind what floats there already.
  const tied = floats && last?.local === 'p' ? last : undefined;
  const next = tied
    ? tied.children.find((c) => c.local !== 'pPr' && !holdsOnlyAnchors(c))
    : (blocks[after] ?? child(holder, 'sectPr'));
  const xml = tied ? run : `<${w}p>${run}</${w}p>`;
  if (next) splice.before(next, xml);
  else splice.append(tied ?? holder, xml);
  return next?.start ?? (tied ?? holder).closeStart;
}

/** A run with nothing but drawings beside the text. */
export const holdsOnlyAnchors = (run: Element): boolean => {
  const said = run.local === 'r' ? run.children.filter((c) => c.local !== 'rPr') : [];
  return said.length > 0 && said.every((c) => c.local === 'drawing' && c.children.every((d) => d.local === 'anchor'));
};

/** Between the letters of a run (ISO/IEC 29500-1 §17.3.2.25, r): its text is parted, and both parts stay in it. */
function insertAmongLetters(
  { splice, text, w }: Written,
  paragraph: Element,
  letters: number,
  drawing: string,
): number {
  const texts = textsOf(paragraph);
  const stretches = texts.map((t) => ({ start: t.openEnd, end: Math.max(t.openEnd, t.closeStart) }));
  const found = behindLetters(text, stretches, letters);
  if (!found) {
    splice.append(paragraph, `<${w}r>${drawing}</${w}r>`);
    return paragraph.closeStart;
  }
  const t = texts[stretches.indexOf(found.stretch)]!;
  if (found.place === found.stretch.start) splice.before(t, drawing);
  else if (found.place === found.stretch.end) splice.at(t.end, drawing);
  else {
    // A space at the cut would be lost otherwise (§17.3.3.31).
    splice.attribute(t, 'xml:space', 'preserve');
    splice.at(found.place, `</${t.name}>${drawing}<${t.name} xml:space="preserve">`);
  }
  return found.place;
}
