import { parse, type DefaultTreeAdapterTypes } from 'parse5';

export type Tag = DefaultTreeAdapterTypes.Element;
type Node = DefaultTreeAdapterTypes.Node;

/** The elements of a page as a parser of the standard (HTML §13.2) sees them. */
export function tags(html: string): Tag[] {
  const out: Tag[] = [];
  const visit = (n: Node): void => {
    if ('tagName' in n) out.push(n);
    if ('childNodes' in n) n.childNodes.forEach(visit);
  };
  visit(parse(html));
  return out;
}

export const attribute = (e: Tag, name: string): string | undefined => e.attrs.find((a) => a.name === name)?.value;

/** What is said in a page or an element, without its style sheets. */
export const words = (n: Node): string =>
  'value' in n
    ? n.value
    : 'tagName' in n && n.tagName === 'style'
      ? ''
      : 'childNodes' in n
        ? n.childNodes.map(words).join('')
        : '';
