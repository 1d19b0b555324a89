import type { Options } from 'css-select';
import { compiled, declared, inherit, Rules, rulesOf, type TreeAdapter } from '../css/rules';
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

const LOOK: TreeAdapter<Element> = {
  tagOf: (e) => e.local,
  parentOf: (e) => e.parent,
  idOf: (e) => e.attributes['id'],
  nameOf: (name) => name,
  classesOf: classes,
  styleText: (e) => e.attributes['style'] ?? '',
  matcher: (selector) => compiled<Element, Element>(selector, { adapter: TREE, xmlMode: true }),
};

/**
 * Properties that what is in an element takes from it (SVG 2 §6.6), and what is usual for them (SVG 2, property
 * definitions): those of fills and strokes.
 */
export const FILL_AND_STROKE: Readonly<Record<string, string>> = {
  fill: '#000',
  'fill-opacity': '1',
  'fill-rule': 'nonzero',
  stroke: 'none',
  'stroke-width': '1',
  'stroke-opacity': '1',
  'stroke-dasharray': 'none',
  'stroke-dashoffset': '0',
  'stroke-linejoin': 'miter',
  'stroke-linecap': 'butt',
  'stroke-miterlimit': '4',
};

/** The same with what is not handed down, for what must not take it from anywhere. */
export const USUAL: Readonly<Record<string, string>> = {
  'clip-path': 'none',
  mask: 'none',
  filter: 'none',
  opacity: '1',
  ...FILL_AND_STROKE,
};

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
    const above = this.above(e);
    const all = above.size === 0 ? own : new Map([...above, ...own]);
    this.known.set(e, all);
    return all;
  }

  /** What those round an element hand down to it. */
  above(e: Element): Style {
    return inherit(
      e.parent,
      (from) => from.parent,
      this.down,
      NONE,
      (from, style) => {
        const own = [...this.ownOf(from)].filter(
          ([name, value]) => Object.hasOwn(FILL_AND_STROKE, name) && value !== 'inherit',
        );
        return own.length > 0 ? new Map([...style, ...own]) : style;
      },
    );
  }

  /** What style sheets say of an element: an attribute cannot take it back. */
  bySheets(e: Element): ReadonlySet<string> {
    const rules = this.rules.matching(e, LOOK);
    return new Set(rules.flatMap((r) => [...r.declarations, ...r.important].map(([property]) => property)));
  }

  private ownOf(e: Element): Map<string, string> {
    const out = new Map(Object.entries(e.attributes));
    if (this.rules.size > 0 || e.attributes['style'])
      for (const [property, value] of declared(e, this.rules.matching(e, LOOK), LOOK)) out.set(property, value);
    return out;
  }
}

const NONE: Style = new Map();
