import { besideOf } from '../codec/beside-items';
import type { AroundPicture } from '../codec/contract';
import { ITEM_NAMESPACE, type BesideItem } from '../metadata/items';
import type { Element } from '../xml/located';
import { Splices } from '../xml/splices';
import { Additions } from './additions';
import type { Found } from './found';
import type { Package } from './package';

/**
 * A text or a workbook without what was put beside its pictures, and that.
 * @param numberOf the number of a picture's drawing
 * @param ownItem what an element holds that was put beside a picture; null for any other
 * @see Opened.takeBeside
 */
export function takeBeside(
  { pack, main, found }: { pack: Package; main: string; found: readonly Found[] },
  numberOf: (site: Found['site']) => string | undefined,
  ownItem: (e: Element) => BesideItem | null,
): { bytes: Uint8Array; around: AroundPicture[] } | null {
  const splices = new Splices((name) => pack.part(name));
  const around: AroundPicture[] = [];
  for (const part of new Set(found.map(({ site }) => site.part))) {
    if (!pack.part(part).text.includes(ITEM_NAMESPACE)) continue;
    const numbers = new Map(
      found.flatMap(({ site }, i) => (site.part === part ? [[numberOf(site) ?? '', i + 1] as const] : [])),
    );
    const taken = new Map<number, BesideItem[]>();
    const visit = (e: Element): void => {
      const own = ownItem(e);
      const n = own && numbers.get(own.of);
      if (!own || n === null || n === undefined) return e.children.forEach(visit);
      taken.set(n, [...(taken.get(n) ?? []), own]);
      splices.of(part).replace(e, '');
    };
    visit(pack.part(part).root);
    for (const [n, own] of taken) around.push({ n, ...besideOf(n, own) });
  }
  if (around.length === 0) return null;
  return {
    bytes: new Additions(pack, main, splices).write(splices.changed()),
    around: around.sort((a, b) => a.n - b.n),
  };
}
