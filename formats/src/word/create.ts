import { noSuchBlock, noSuchPlace, type NewPicture } from '../codec/contract';
import { Additions } from '../ooxml/additions';
import type { Found } from '../ooxml/found';
import { freeId } from '../ooxml/ids';
import { isStrict } from '../ooxml/names';
import type { Package } from '../ooxml/package';
import { child, type Element } from '../xml/located';
import { Splices } from '../xml/splices';
import { plainDrawing } from './plain-drawing';

/** Paragraphs and tables, which the places of a text are counted by (ISO/IEC 29500-1 §17.2.2, body). */
const isBlock = (e: Element): boolean => e.local === 'p' || e.local === 'tbl' || e.local === 'sdt';

/** The words of each block of the body, which places are counted by. */
export const blocksOfText = (pack: Package, main: string): string[] =>
  (child(pack.part(main).root, 'body')?.children.filter(isBlock) ?? []).map(wordsIn);

/** Words of text runs (§17.3.3.31, t) within an element. */
const wordsIn = (e: Element): string =>
  (e.local === 't' ? e.text : e.children.map(wordsIn).join(e.local === 'tc' || e.local === 'tr' ? ' ' : '')) +
  (e.local === 'p' ? ' ' : '');

/** Puts a plain picture into the body of a text, in a paragraph of its own. @throws GableError `no-such-page` */
export function insertInText(
  pack: Package,
  main: string,
  found: readonly Found[],
  { image, alt, place }: NewPicture,
): { bytes: Uint8Array; n: number } {
  if (place.in !== 'text') throw noSuchPlace();
  const { root } = pack.part(main);
  const body = child(root, 'body');
  const blocks = body?.children.filter(isBlock) ?? [];
  if (!body || place.after > blocks.length) throw noSuchBlock(place.after, blocks.length);
  const splices = new Splices((name) => pack.part(name));
  const additions = new Additions(pack, main, splices);
  const strict = isStrict(root.uri);
  const rid = additions.relateTo({ part: main, strict }, image);
  const id = freeId(root, 'docPr');
  const w = root.name.slice(0, root.name.length - root.local.length);
  const { size, floats, after } = place;
  const drawing = plainDrawing({ id, name: `Picture ${id}`, alt, rid, size, floats }, w, root.uri);
  const run = `<${w}r>${drawing}</${w}r>`;
  const paragraph = floats ? blocks[after - 1] : undefined;
  // What floats is tied to a paragraph that is there, before its words.
  const tied = paragraph?.local === 'p' ? paragraph : undefined;
  const next = tied ? tied.children.find((c) => c.local !== 'pPr') : (blocks[after] ?? child(body, 'sectPr'));
  const xml = tied ? run : `<${w}p>${run}</${w}p>`;
  if (next) splices.of(main).before(next, xml);
  else splices.of(main).append(tied ?? body, xml);
  const at = next?.start ?? (tied ?? body).closeStart;
  const n = 1 + found.filter(({ site }) => site.part === main && site.pic.start < at).length;
  return { bytes: additions.write(splices.changed()), n };
}
