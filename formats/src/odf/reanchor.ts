import { blockOf, type Paragraph } from '@gable/core';
import { orderAfter, taken } from '../codec/reanchor';
import { ancestor, type Element } from '../xml/located';
import type { Splice } from '../xml/splice';
import { beginWith, blockElements, blocksOf, floatingFirst, frameAlone } from './insert';
import { is, Names } from './names';
import type { Site } from './site';

/** Is it tied to a paragraph, or to a place in one (ODF 1.2 Part 1 §19.753, text:anchor-type)? */
const isTied = (element: Element): boolean => {
  const tie = new Names(element).get(element, 'text:anchor-type');
  return (
    (tie === 'paragraph' || tie === 'char') &&
    ancestor(element, (e) => is(e, 'draw', 'text-box') || is(e, 'draw', 'g')) === undefined
  );
};

/**
 * Ties frames beside a text to other paragraphs: before their words, behind what is tied to them.
 * @param body `office:text` @param text of its part
 * @returns the numbers that the pictures had, in their order then
 */
export function reanchor(
  splice: Splice,
  { body, text, found }: { body: Element; text: string; found: readonly { site: Site }[] },
  to: ReadonlyMap<number, Paragraph>,
): number[] {
  const all = blockElements(body);
  const words = blocksOf(body, text);
  const top = all.flatMap(({ element, within }, i) => (within === null ? [{ element, words: words[i]!.words }] : []));
  const places = new Map<number, number>();
  const coming = new Map<Element, string>();
  for (const [n, wished] of to) {
    const { element, part } = found[n - 1]!.site;
    const block = blockOf(wished, top);
    const paragraph = block === null ? undefined : top[block]!.element;
    if (part !== 'content.xml' || !paragraph || !is(paragraph, 'text', 'p', 'h') || !isTied(element)) continue;
    const whole = frameAlone(element);
    if (ancestor(whole, (e) => e === paragraph)) continue;
    coming.set(paragraph, (coming.get(paragraph) ?? '') + taken(text, whole));
    splice.replace(whole, '');
    places.set(n, floatingFirst(paragraph)?.end ?? paragraph.openEnd);
  }
  for (const [paragraph, xml] of coming) {
    const there = floatingFirst(paragraph);
    if (there) splice.at(there.end, xml);
    else beginWith(splice, paragraph, xml);
  }
  const from = found.map(({ site }, i) => ({ n: i + 1, part: site.part, start: site.element.start }));
  return orderAfter({ from, part: 'content.xml', to: places });
}
