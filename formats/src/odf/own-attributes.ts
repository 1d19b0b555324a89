import { prefixFor, type Element } from '../xml/located';
import type { Splice } from '../xml/splice';

/** An attribute of a namespace of our own, which other programs pass over (ODF 1.2 Part 1 §1.4, foreign attributes). */
export function ownName(element: Element, uri: string, local: string): string | undefined {
  const prefix = prefixFor(element, uri);
  return prefix && element.attributes[`${prefix}:${local}`] !== undefined ? `${prefix}:${local}` : undefined;
}

/** What such an attribute says. */
export const ownValue = (element: Element, uri: string, local: string): string | undefined =>
  element.attributes[ownName(element, uri, local) ?? ''];

/** Sets such an attribute, its namespace bound in place, or takes it away with null. @param name with its prefix */
export function setOwn(splice: Splice, element: Element, uri: string, name: string, value: string | null): void {
  const [prefix, local] = name.split(':') as [string, string];
  const known = ownName(element, uri, local);
  if (known) return splice.attribute(element, known, value);
  if (value === null) return;
  splice.attribute(element, `xmlns:${prefix}`, uri);
  splice.attribute(element, name, value);
}
