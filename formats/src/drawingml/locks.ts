import { child, type Element } from '../xml/located';
import type { Splice } from '../xml/splice';
import type { Naming } from './look-text';

/** What keeps a shape or a picture where it is, and as large (ISO/IEC 29500-1 §20.1.2.2.34, spLocks; §20.1.2.2.31, picLocks; numbers from memory). */
const LOCKS = ['noMove', 'noResize'] as const;
/** What a part says where anything in it may be locked. */
export const LOCKED = /\bnoMove=/;
const ON = new Set(['1', 'true']);

/** The properties of a shape or a picture that are not drawn, and its locks among them. */
function locksIn(e: Element): { holder: Element; name: string; locks: Element | undefined } | null {
  const [nv, holder, name] =
    e.local === 'pic' ? (['nvPicPr', 'cNvPicPr', 'picLocks'] as const) : (['nvSpPr', 'cNvSpPr', 'spLocks'] as const);
  const properties = child(child(e, nv), holder);
  return properties ? { holder: properties, name, locks: child(properties, name) } : null;
}

/** Can a shape or a picture not be moved? */
export const isLocked = (e: Element): boolean => ON.has(locksIn(e)?.locks?.attributes['noMove'] ?? '');

/** Locks a shape or a picture, or lets it go; what else is locked of it stays so. */
export function setLocked(splice: Splice, e: Element, { locked, a }: { locked: boolean; a: Naming }): void {
  const at = locksIn(e);
  if (!at || isLocked(e) === locked) return;
  const { holder, name, locks } = at;
  if (locks) {
    for (const lock of LOCKS) splice.attribute(locks, lock, locked ? '1' : null);
    return;
  }
  const text = `<${a.name(name)}${a.declare} ${LOCKS.map((lock) => `${lock}="1"`).join(' ')}/>`;
  const [first] = holder.children;
  if (first) splice.before(first, text);
  else splice.append(holder, text);
}
