import type { Splice } from '../xml/splice';
import { styleAttribute } from './restyle';
import type { Site } from './site';
import { basedStyle, type StyleWriter } from './write-frame';

/** What of a shape nobody may change (ODF 1.2 Part 1 §20, style:protect; from memory): its place and its size are what a lock is. */
const LOCK = ['position', 'size'];

const protectedIn = ({ styles, style }: Site): string[] =>
  (styles.property(style, 'style:protect') ?? '').split(/\s+/).filter((word) => word !== '' && word !== 'none');

/** Can a shape not be moved? */
export const isLocked = (site: Site): boolean => protectedIn(site).includes('position');

/** Locks a shape, or lets it go, by a style of its own; what else is protected of it stays so. */
export function setLocked(
  splice: Splice,
  site: Site,
  { locked, styles }: { locked: boolean; styles: StyleWriter },
): void {
  if (isLocked(site) === locked) return;
  const others = protectedIn(site).filter((word) => !LOCK.includes(word));
  const value = [...others, ...(locked ? LOCK : [])].join(' ') || 'none';
  const name = styles.style(site.part, (fresh) => basedStyle(splice, site, fresh, [['style:protect', value]]));
  splice.attribute(site.element, site.names.of(styleAttribute(site)), name);
}
