import type { Options } from 'css-select';
import { defaultTreeAdapter, parse, type DefaultTreeAdapterTypes } from 'parse5';
import { refuseBeyond } from '../codec/limits';

export type Node = DefaultTreeAdapterTypes.Node;
export type Tag = DefaultTreeAdapterTypes.Element;

/**
 * A page as a tree, with the places of its elements.
 * @throws GableError `too-many-elements`, `too-deep` while it is read: some pages of a few kB become millions of elements
 */
export function parsePage(text: string): DefaultTreeAdapterTypes.Document {
  let elements = 0;
  let open = 0;
  return parse(text, {
    sourceCodeLocationInfo: true,
    treeAdapter: {
      ...defaultTreeAdapter,
      createElement(name, namespace, attributes) {
        refuseBeyond('htmlElements', ++elements);
        return defaultTreeAdapter.createElement(name, namespace, attributes);
      },
      onItemPush() {
        refuseBeyond('htmlDepth', ++open);
      },
      onItemPop() {
        open--;
      },
    },
  });
}

export const attributesOf = (e: Tag): Record<string, string> =>
  Object.fromEntries(e.attrs.map((a) => [a.name, a.value]));
const isTag = (n: Node): n is Tag => 'tagName' in n;
const childrenOf = (n: Node): Node[] => ('childNodes' in n ? n.childNodes : []);
const parentOf = (n: Node): Node | null => ('parentNode' in n ? n.parentNode : null);
/** The element that an element stands in. */
export const parentTag = (e: Tag): Tag | null => (e.parentNode && isTag(e.parentNode) ? e.parentNode : null);
const textOf = (n: Node): string => ('value' in n ? n.value : childrenOf(n).map(textOf).join(''));
const valueOf = (e: Tag, name: string): string | undefined => e.attrs.find((a) => a.name === name)?.value;

/** A page as `parse5` reads it, for those who match selectors (Selectors 4). */
export const TREE: NonNullable<Options<Node, Tag>['adapter']> = {
  isTag,
  getAttributeValue: valueOf,
  hasAttrib: (e, name) => valueOf(e, name) !== undefined,
  getName: (e) => e.tagName,
  getChildren: childrenOf,
  getParent: parentOf,
  getSiblings: (n) => {
    const parent = parentOf(n);
    return parent ? childrenOf(parent) : [n];
  },
  getText: textOf,
  removeSubsets: (nodes) =>
    nodes.filter((n, i) => {
      if (nodes.indexOf(n) !== i) return false;
      for (let p = parentOf(n); p; p = parentOf(p)) if (nodes.includes(p)) return false;
      return true;
    }),
};

/** Everything beyond ASCII as a reference, so that it means the same in every encoding. */
export const ascii = (text: string): string => text.replace(/[\u0080-\u{10ffff}]/gu, (c) => `&#${c.codePointAt(0)};`);

export const escapeHtml = (text: string): string =>
  ascii(text.replace(/[&<>"]/g, (c) => `&${{ '&': 'amp', '<': 'lt', '>': 'gt', '"': 'quot' }[c]};`));
