import { GableError } from '@gable/core';
import { ancestor, child, descend, type Element } from '../xml/located';
import { Splices } from '../xml/splices';
import { noPicture } from '../codec/contract';
import { Additions } from './additions';
import type { Found } from './found';
import { NS } from './names';
import type { Package } from './package';

/** What a run of text may hold beside a drawing and still be empty without it (ISO/IEC 29500-1 §17.3.2.25). */
const isFormatting = (e: Element): boolean => e.local === 'rPr' || e.local === 'lastRenderedPageBreak';

/** Takes pictures out of a package, one at a time (`Opened.remove`). */
export const removal =
  (pack: Package, main: string, found: readonly Found[]) =>
  (n: number): Uint8Array => {
    const at = found[n - 1] ?? noPicture(n, found.length);
    const splices = new Splices((name) => pack.part(name));
    removePicture(splices, n, at, pack.part(at.site.part).root);
    return new Additions(pack, main, splices).write(splices.changed());
  };

/**
 * Takes a picture out of its part, in every branch of alternate content, with a second shape that imitates its outline. An
 * emptied run goes with it; its paragraph stays.
 * @throws GableError `cannot-write` for one that holds words, or that an animation moves
 */
function removePicture(splices: Splices, n: number, { site, twins, fauxOutline, legacy }: Found, root: Element): void {
  const refuse = (why: string, remedy: string): never => {
    throw new GableError('cannot-write', `Picture ${n} cannot be removed: ${why}.`, remedy, { n });
  };
  if (legacy) refuse('it is in an older markup', 'Save the file again in its program, then remove it.');
  if (descend(site.pic, 'txbx') ?? descend(site.pic, 'txBody', 'p', 'r'))
    refuse('its shape holds words', 'Remove the words first.');
  const id = descend(site.pic, 'nvPicPr', 'cNvPr') ?? descend(site.pic, 'nvSpPr', 'cNvPr');
  if (isAnimated(root, id?.attributes['id'])) refuse('an animation moves it', 'Remove the animation first.');
  const gone = new Set([site, ...twins].map(({ pic }) => wholeOf(pic)));
  for (const element of gone) splices.of(site.part).replace(element, '');
  if (fauxOutline) splices.of(fauxOutline.part).replace(fauxOutline.element, '');
}

/** A slide's timing refers to shapes by id (§19.5.72, spTgt); what only plays there is not moved. */
export function isAnimated(root: Element, id: string | undefined): boolean {
  const visit = (e: Element): boolean =>
    !/^(video|audio|cmd)$/.test(e.local) &&
    ((e.local === 'spTgt' && e.attributes['spid'] === id) || e.children.some(visit));
  const timing = child(root, 'timing');
  return id !== undefined && timing !== undefined && visit(timing);
}

/** All of a picture: its drawing and its alternate content, and its run where nothing else is in it. */
export function wholeOf(pic: Element): Element {
  // A member of a group goes alone.
  const inGroup = ancestor(pic, (e) => /^(wgp|grpSp)$/.test(e.local)) !== undefined;
  let whole = inGroup ? pic : (ancestor(pic, (e) => e.local === 'drawing' && NS.word.has(e.uri)) ?? pic);
  const branch = whole.parent;
  // All branches show the same: with the only thing in one of them, they all go.
  if (branch && /^(Choice|Fallback)$/.test(branch.local) && branch.children.length === 1) whole = branch.parent!;
  const { parent } = whole;
  // A sheet's anchor holds one thing (§20.5.2.33, twoCellAnchor).
  if (parent && /^(twoCell|oneCell|absolute)Anchor$/.test(parent.local)) return parent;
  if (parent?.local === 'r' && NS.word.has(parent.uri) && parent.children.every((c) => c === whole || isFormatting(c)))
    return parent;
  return whole;
}
