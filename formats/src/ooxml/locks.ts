import type { PageLocks } from '../codec/contract';
import { tellLocks } from '../codec/staying';
import type { ItemsOnPages } from '../codec/tied';
import { isLocked, LOCKED, setLocked } from '../drawingml/locks';
import { namingAt } from '../drawingml/look-text';
import type { Element } from '../xml/located';
import { Splices } from '../xml/splices';
import { Additions } from './additions';
import { isStrict } from './names';
import type { Package } from './package';

/** Is anything locked in some parts of a package? */
export const hasLocks = (pack: Package, parts: readonly string[]): boolean =>
  parts.some((part) => LOCKED.test(pack.part(part).text));

/** A package whose shapes and pictures are locked as they are told. @param partOf the part that one of them stands in */
export function putLocks(
  { pack, main }: { pack: Package; main: string },
  told: PageLocks,
  { partOf, ...where }: ItemsOnPages & { partOf: (e: Element) => string | undefined },
): Uint8Array {
  const splices = new Splices((name) => pack.part(name));
  tellLocks(told, where, (e, locked) => {
    if (!/^(sp|pic)$/.test(e.local) || isLocked(e) === locked) return;
    const part = partOf(e);
    if (part !== undefined) setLocked(splices.of(part), e, { locked, a: namingAt(e, isStrict(e.uri)) });
  });
  return new Additions(pack, main, splices).write(splices.changed());
}
