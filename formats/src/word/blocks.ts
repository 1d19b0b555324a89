import { noSuchCell, type Block } from '../codec/contract';
import { NS } from '../ooxml/names';
import type { Element } from '../xml/located';

/** Paragraphs and tables, which the places of a text are counted by (ISO/IEC 29500-1 §17.2.2, body). */
const isBlock = (e: Element): boolean => e.local === 'p' || e.local === 'tbl' || e.local === 'sdt';

/** What blocks stand in: the body, a cell (§17.4.65, tc), the words of a text box. */
export interface TextHolder {
  /** The first is what is counted; what stands in for a text box in older programs has the same blocks. */
  elements: readonly Element[];
  blocks: readonly Element[];
}

export const blocksIn = (e: Element): Element[] => e.children.filter(isBlock);

const isHolder = (e: Element): boolean => NS.word.has(e.uri) && (e.local === 'tc' || e.local === 'txbxContent');

/** The cells and text boxes of a body, in their order. */
export function holdersIn(body: Element): TextHolder[] {
  const holders: TextHolder[] = [];
  const visit = (e: Element): void => {
    if (e.local === 'AlternateContent' && NS.compatibility.has(e.uri)) {
      const [first, ...others] = e.children;
      const from = holders.length;
      first?.children.forEach(visit);
      // The words of a text box are there a second time, for programs that do not know the first (ISO/IEC 29500-3 §7.2).
      const twins = others.map((branch) => holdersIn(branch));
      for (let i = from; i < holders.length; i++) {
        const same = twins.flatMap((t) => (t.length === holders.length - from ? t[i - from]!.elements : []));
        holders[i] = { ...holders[i]!, elements: [...holders[i]!.elements, ...same] };
      }
      return;
    }
    if (isHolder(e)) holders.push({ elements: [e], blocks: blocksIn(e) });
    e.children.forEach(visit);
  };
  body.children.forEach(visit);
  return holders;
}

/** The body, or one of its cells and text boxes. @throws GableError `no-such-page` */
export function holderAt(body: Element, within: number | null): TextHolder {
  if (within === null) return { elements: [body], blocks: blocksIn(body) };
  const holders = holdersIn(body);
  const found = holders[within];
  if (!found) throw noSuchCell(within, holders.length);
  return found;
}

/** The blocks of a body, those of its cells and text boxes behind the blocks that these are in. */
export const blocksOfText = (body: Element): Block[] =>
  blockElements(body).map(({ element, ...holder }) => ({ words: wordsOfBlock(element), ...holder }));

/** The elements of the blocks of a body, in their order. */
export function blockElements(body: Element): ({ element: Element } & Pick<Block, 'in' | 'within'>)[] {
  const order = new Map(holdersIn(body).map(({ elements: [e] }, i) => [e!, i]));
  const out: ({ element: Element } & Pick<Block, 'in' | 'within'>)[] = [];
  const visit = (e: Element, of: Pick<Block, 'in' | 'within'> | null): void => {
    const own = order.get(e);
    const holder = own === undefined ? of : ({ in: e.local === 'tc' ? 'cell' : 'box', within: own } as const);
    for (const c of e.children) {
      if (holder && isBlock(c)) out.push({ element: c, ...holder });
      visit(c, null);
    }
  };
  visit(body, { in: 'text', within: null });
  return out;
}

/** What floats in a paragraph, and what is gone from it, is no part of its words. */
const isAside = (e: Element): boolean => /^(drawing|pict|object|AlternateContent|del|moveFrom)$/.test(e.local);

/** Words of text runs (§17.3.3.31, t) within an element. */
export const wordsOfBlock = (e: Element): string =>
  isAside(e)
    ? ''
    : (e.local === 't' ? e.text : e.children.map(wordsOfBlock).join(e.local === 'tc' || e.local === 'tr' ? ' ' : '')) +
      (e.local === 'p' ? ' ' : '');

/** The texts of a paragraph's own runs: not those of what floats in it. */
export function textsOf(paragraph: Element): Element[] {
  if (paragraph.local === 't' && NS.word.has(paragraph.uri)) return [paragraph];
  if (isAside(paragraph)) return [];
  return paragraph.children.flatMap(textsOf);
}
