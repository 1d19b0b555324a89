import type { Options } from 'css-select';
import { compiled, declared, Rules, rulesOf, type Looker } from '../html/styles';
import type { Element } from '../xml/located';

const classes = (e: Element): ReadonlySet<string> => new Set((e.attributes['class'] ?? '').split(/\s+/));

const TREE: NonNullable<Options<Element, Element>['adapter']> = {
  isTag: (e): e is Element => e !== undefined,
  getAttributeValue: (e, name) => e.attributes[name],
  hasAttrib: (e, name) => e.attributes[name] !== undefined,
  getName: (e) => e.local,
  getChildren: (e) => e.children,
  getParent: (e) => e.parent,
  getSiblings: (e) => e.parent?.children ?? [e],
  getText: (e) => e.text,
  removeSubsets: (all) => all,
};

const LOOK: Looker<Element> = {
  tagOf: (e) => e.local,
  nameOf: (name) => name,
  classesOf: classes,
  styleText: (e) => e.attributes['style'] ?? '',
  matcher: (selector) => compiled<Element, Element>(selector, { adapter: TREE, xmlMode: true }),
};

/** Properties that what is in an element takes from it (SVG 2 §6.6 and the property definitions there). */
const INHERITED =
  /^(color|fill|fill-opacity|fill-rule|clip-rule|stroke|stroke-(width|opacity|dasharray|dashoffset|linejoin|linecap|miterlimit))$/;

type Style = ReadonlyMap<string, string>;

/** How the elements of a drawing look: presentation attributes, style sheets, and `style`, each over the one before (SVG 2 §6.6). */
export class Presentation {
  private readonly rules: Rules<Element>;
  private readonly known = new WeakMap<Element, Style>();
  private readonly down = new WeakMap<Element, Style>();

  /** @param root with its `style` elements, of which those in CSS count */
  constructor(root: Element) {
    const sheets: string[] = [];
    const stack = [root];
    while (stack.length > 0) {
      const e = stack.pop()!;
      if (e.local === 'style' && /^(text\/css)?$/i.test(e.attributes['type']?.trim() ?? '')) sheets.push(e.text);
      for (let i = e.children.length - 1; i >= 0; i--) stack.push(e.children[i]!);
    }
    this.rules = new Rules(sheets.flatMap((sheet) => rulesOf(sheet, LOOK)));
  }

  /** What is said of an element, and what it takes from those round it. */
  of(e: Element): Style {
    const known = this.known.get(e);
    if (known) return known;
    const own = this.ownOf(e);
    const above = e.parent ? this.handedDown(e.parent) : NONE;
    const all = above.size === 0 ? own : new Map([...above, ...own]);
    this.known.set(e, all);
    return all;
  }

  /** What those round an element hand down to it. */
  above(e: Element): Style {
    return e.parent ? this.handedDown(e.parent) : NONE;
  }

  /** Is a property of an element said by a style sheet, which an attribute cannot take back? */
  bySheet(e: Element, property: string): boolean {
    return this.rules
      .matching(e, LOOK)
      .some((r) => [r.declarations, r.pressing].some((d) => d.some(([name]) => name === property)));
  }

  private ownOf(e: Element): Map<string, string> {
    const out = new Map(Object.entries(e.attributes));
    if (this.rules.size > 0 || e.attributes['style'])
      for (const [property, value] of declared(e, this.rules.matching(e, LOOK), LOOK)) out.set(property, value);
    return out;
  }

  private handedDown(from: Element): Style {
    const chain: Element[] = [];
    let style = NONE;
    for (let e: Element | null = from; e; e = e.parent) {
      const known = this.down.get(e);
      if (known) {
        style = known;
        break;
      }
      chain.push(e);
    }
    for (const e of chain.reverse()) {
      const own = [...this.ownOf(e)].filter(([name, value]) => INHERITED.test(name) && value !== 'inherit');
      if (own.length > 0) style = new Map([...style, ...own]);
      this.down.set(e, style);
    }
    return style;
  }
}

const NONE: Style = new Map();

/** What is usual for each property, for what must not take it from anywhere (SVG 2, property definitions). */
export const USUAL: Readonly<Record<string, string>> = {
  'clip-path': 'none',
  mask: 'none',
  filter: 'none',
  opacity: '1',
  fill: '#000',
  'fill-opacity': '1',
  'fill-rule': 'nonzero',
  'clip-rule': 'nonzero',
  stroke: 'none',
  'stroke-width': '1',
  'stroke-opacity': '1',
  'stroke-dasharray': 'none',
  'stroke-dashoffset': '0',
  'stroke-linejoin': 'miter',
  'stroke-linecap': 'butt',
  'stroke-miterlimit': '4',
};
