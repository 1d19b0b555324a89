import { blockOf, type Paragraph } from '@gable/core';
import { orderAfter, taken } from '../codec/reanchor';
import { Additions } from '../ooxml/additions';
import type { Found } from '../ooxml/found';
import type { Package } from '../ooxml/package';
import { wholeOf } from '../ooxml/remove-picture';
import { ancestor, child, type Element } from '../xml/located';
import { Splices } from '../xml/splices';
import { blocksIn, wordsOfBlock } from './blocks';
import { holdsOnlyAnchors } from './create';

/** The anchor of a picture beside a text (ISO/IEC 29500-1 §20.4.2.3, anchor): in a run of its own, or with others in one. */
const isAnchored = (whole: Element, pic: Element): boolean =>
  (whole.local === 'r' || whole.parent?.local === 'r') &&
  ancestor(pic, (e) => e.local === 'anchor') !== undefined &&
  ancestor(pic, (e) => /^(wgp|txbxContent)$/.test(e.local)) === undefined;

/** Ties pictures beside the body of a text to other paragraphs (`Opened.reanchor`): before their words, behind what is tied to them. */
export const reanchoring =
  (pack: Package, main: string, found: readonly Found[]) =>
  (to: ReadonlyMap<number, Paragraph>): { bytes: Uint8Array; order: number[] } => {
    const splices = new Splices((name) => pack.part(name));
    const splice = splices.of(main);
    const { root, text } = pack.part(main);
    const body = child(root, 'body');
    const blocks = body ? blocksIn(body) : [];
    const told = blocks.map((b) => ({ words: wordsOfBlock(b) }));
    const places = new Map<number, number>();
    for (const [n, wished] of to) {
      const { site } = found[n - 1]!;
      const whole = wholeOf(site.pic);
      const block = blockOf(wished, told);
      const paragraph = block === null ? undefined : blocks[block];
      if (site.part !== main || paragraph?.local !== 'p' || !isAnchored(whole, site.pic)) continue;
      if (ancestor(whole, (e) => e === paragraph)) continue;
      const xml = taken(text, whole);
      const w = root.name.slice(0, root.name.length - root.local.length);
      const run = whole.local === 'r' ? xml : `<${w}r>${xml}</${w}r>`;
      const next = paragraph.children.find((c) => c.local !== 'pPr' && !holdsOnlyAnchors(c));
      if (next) splice.before(next, run);
      else splice.append(paragraph, run);
      splice.replace(whole, '');
      places.set(n, next?.start ?? paragraph.closeStart);
    }
    const from = found.map(({ site }, i) => ({ n: i + 1, part: site.part, start: site.pic.start }));
    const bytes = new Additions(pack, main, splices).write(splices.changed());
    return { bytes, order: orderAfter({ from, part: main, to: places }) };
  };
