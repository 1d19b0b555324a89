import type { Restyling } from '../codec/contract';
import { namingAt, paintFill } from '../drawingml/look-text';
import { Additions } from '../ooxml/additions';
import { isStrict } from '../ooxml/names';
import { restyleItems } from '../ooxml/restyle-items';
import { child, type Element } from '../xml/located';
import { Splices } from '../xml/splices';
import type { DeckParts } from './arrange';

/**
 * Shapes, words and grounds of slides that look otherwise.
 * @param partOf the part that an element stands in
 */
export function restyle(
  { pack, main, slides, elements, theme }: DeckParts,
  partOf: (e: Element) => string | undefined,
  { items, grounds, veils }: Restyling,
): Uint8Array {
  const splices = new Splices((name) => pack.part(name));
  const additions = new Additions(pack, main, splices);
  restyleItems({ elements, partOf, fontsOf: (part) => theme(part).fonts, splices, additions }, { items, veils });
  for (const [page, paint] of grounds) {
    const part = slides[page - 1]!;
    const slide = child(pack.part(part).root, 'cSld')!;
    const p = slide.name.slice(0, slide.name.length - slide.local.length);
    const { declare, ...naming } = namingAt(slide, isStrict(slide.uri));
    // The slide's own background (ISO/IEC 29500-1 §19.3.1.1, bg; §19.3.1.2, bgPr).
    const fill = paintFill(naming, paint);
    const xml = `<${p}bg${declare}><${p}bgPr>${fill}<${naming.name('effectLst')}/></${p}bgPr></${p}bg>`;
    splices.of(part).slot(slide, ['bg'], ['spTree', 'custDataLst', 'controls', 'extLst'], xml);
  }
  return additions.write(splices.changed());
}
