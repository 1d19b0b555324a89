import { GableError, type Paint } from '@gable/core';
import { behindText } from '../codec/contract';
import { child, type Element } from '../xml/located';
import type { Splice } from '../xml/splice';
import { is, Names } from './names';

const HEX = /^#[0-9a-f]{6}$/i;

/** The colour behind pages of a layout (ODF 1.2 Part 1 §20.175, fo:background-color; draw:fill of ODF 1.3, from memory). */
export function groundOfLayout(properties: Element): string | null {
  const n = new Names(properties);
  const fill = n.get(properties, 'draw:fill');
  if (fill !== undefined && fill !== 'solid') return null;
  const said = n.get(properties, 'draw:fill-color') ?? n.get(properties, 'fo:background-color') ?? '';
  return HEX.test(said) ? said.toLowerCase() : null;
}

/**
 * Gives all pages of a text another colour behind them: it is said in the layout of each master page (§16.5, style:page-layout).
 * @param common the root of `styles.xml`
 * @throws GableError `cannot-write` for a gradient, and for a text without a layout of pages
 */
export function writeGround(splice: Splice, common: Element | undefined, paint: Paint): void {
  const colour = behindText(paint);
  const named = new Set(
    (child(common, 'master-styles')?.children ?? []).flatMap((m) =>
      is(m, 'style', 'master-page') ? (new Names(m).get(m, 'style:page-layout-name') ?? []) : [],
    ),
  );
  const layouts = (child(common, 'automatic-styles')?.children ?? []).filter(
    (l) => is(l, 'style', 'page-layout') && named.has(new Names(l).get(l, 'style:name') ?? ''),
  );
  if (layouts.length === 0)
    throw new GableError(
      'cannot-write',
      'This text does not say how its pages are laid out, so they can have no background.',
      'Save it once in the program that you write with.',
    );
  for (const layout of layouts) {
    const n = new Names(layout);
    const properties = child(layout, 'page-layout-properties');
    if (!properties) {
      const xml = `<${n.of('style:page-layout-properties')}${n.declare('fo')} ${n.of('fo:background-color')}="${colour}"/>`;
      splice.slot(layout, ['page-layout-properties'], ['header-style', 'footer-style'], xml);
      continue;
    }
    const own = new Names(properties);
    splice.attribute(properties, own.of('fo:background-color'), colour);
    // Where the fill is said in the newer words, these count.
    const fill = own.find('draw:fill');
    if (fill) {
      splice.attribute(properties, fill, 'solid');
      splice.attribute(properties, own.of('draw:fill-color'), colour);
    }
    const image = child(properties, 'background-image');
    if (image) splice.replace(image, '');
  }
}
