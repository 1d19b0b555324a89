import { compile, type Options } from 'css-select';
import { generate, parse, walk, type CssNode } from 'css-tree';
import { GableError } from '@gable/core';
import { cssColour } from '../css-colour';
import { LIMITS } from '../limits';
import { PIXEL } from './lengths';
import { isOn } from './media';
import { longhands } from './shorthands';
import { attributesOf, parentTag, TREE, type Node, type Tag } from './tree';
import { lengthIn, settled, split, substitute, type Fonts } from './values';

type Declaration = readonly [property: string, value: string];

/** A rule with one selector, for elements of some kind of tree. */
export interface Rule<E = Tag> {
  matches(e: E): boolean;
  /** What its last part asks for first: `.` and a class, a name, or nothing. */
  key: string;
  /** Does it look at siblings, too? */
  dear: boolean;
  /** What must be found among the elements round it: classes, ids and names, by their marks. */
  needs: readonly string[];
  /** Specificity (Selectors 4 §17) as one number. */
  weight: number;
  /** In their order. */
  declarations: Declaration[];
  /** Those marked `!important`. */
  pressing: Declaration[];
}

/** How elements of a tree are looked at. */
export interface Looker<E> {
  tagOf(e: E): string;
  parentOf(e: E): E | null;
  idOf(e: E): string | undefined;
  /** A name of a selector as `tagOf` has it: in small letters where capitals do not count. */
  nameOf(name: string): string;
  classesOf(e: E): ReadonlySet<string>;
  styleText(e: E): string;
  matcher(selector: string): (e: E) => boolean;
}

type Declared = Pick<Rule, 'declarations' | 'pressing'>;

function declarationsIn(nodes: Iterable<CssNode>): Declared {
  const out: Declared = { declarations: [], pressing: [] };
  for (const d of nodes)
    if (d.type === 'Declaration') {
      // Names of variables differ by capitals (CSS Variables 1 §2).
      const property = d.property.startsWith('--') ? d.property : d.property.toLowerCase();
      const value = generate(d.value).replace(/\/\*[\s\S]*?\*\//g, ' ');
      (d.important ? out.pressing : out.declarations).push([property, value.trim()]);
    }
  return out;
}

/** Declarations of a `style` attribute, or between the brackets of a rule. Nonsense is passed over, as browsers do. */
export function ownDeclarations(text: string): Declared {
  const tree = parse(text, { context: 'declarationList', parseValue: false, onParseError: () => undefined });
  return declarationsIn(tree.type === 'DeclarationList' ? tree.children.toArray() : []);
}

/** So much less than any other weighs a rule in a layer (CSS Cascade 5 §6.4.3); the order of layers is not reckoned with. */
const LAYERED = 1e9;

/**
 * Rules of a style sheet in their order (CSS Cascade 5 §6), with those whose conditions hold on a usual screen; those that
 * hang on a container or on what somebody does are left out of account.
 */
export function rulesOf<E>(sheet: string, look: Looker<E>): Rule<E>[] {
  const out: Rule<E>[] = [];
  let tree: CssNode;
  try {
    tree = parse(sheet, { parseValue: false, onParseError: () => undefined });
  } catch {
    return out;
  }
  if (tree.type !== 'StyleSheet') return out;
  const add = (node: CssNode, layered: boolean): void => {
    if (node.type === 'Atrule') {
      const name = node.name.toLowerCase();
      if (node.block && isOn(name, node.prelude))
        node.block.children.forEach((n) => add(n, layered || name === 'layer'));
      return;
    }
    if (node.type !== 'Rule' || node.prelude.type !== 'SelectorList') return;
    const declared = declarationsIn(node.block.children.toArray());
    node.prelude.children.forEach((selector) => {
      if (selector.type !== 'Selector') return;
      const { weight, ...matcher } = matcherOf(selector, look);
      out.push({ ...matcher, weight: layered ? weight - LAYERED : weight, ...declared });
    });
  };
  tree.children.forEach((node) => add(node, false));
  return out;
}

function matcherOf<E>(
  selector: CssNode & { type: 'Selector' },
  { nameOf, matcher }: Looker<E>,
): Pick<Rule<E>, 'matches' | 'dear' | 'key' | 'needs' | 'weight'> {
  let weight = 0;
  walk(selector, (n: CssNode) => {
    if (n.type === 'IdSelector') weight += 10_000;
    else if (n.type === 'ClassSelector' || n.type === 'AttributeSelector') weight += 100;
    else if (n.type === 'PseudoClassSelector' && !/^(is|not|has|where)$/i.test(n.name)) weight += 100;
    else if (n.type === 'TypeSelector' && n.name !== '*') weight += 1;
    return n.type === 'PseudoClassSelector' && /^where$/i.test(n.name) ? walk.skip : undefined;
  });
  let key = '';
  const needs: string[] = [];
  let compound: string[] = [];
  selector.children.forEach((part) => {
    if (part.type === 'Combinator') {
      key = '';
      // What stands before a sibling combinator is beside an element, not round it.
      if (part.name === ' ' || part.name === '>') needs.push(...compound);
      compound = [];
    } else if (part.type === 'ClassSelector') {
      key = key.startsWith('.') ? key : `.${part.name}`;
      compound.push(`.${part.name}`);
    } else if (part.type === 'IdSelector') compound.push(`#${part.name}`);
    else if (part.type === 'TypeSelector' && part.name !== '*') {
      key = nameOf(part.name);
      compound.push(nameOf(part.name));
    }
  });
  let whole: ((e: E) => boolean) | null = null;
  const text = generate(selector);
  // Most selectors are never asked: they are made ready when they are.
  return { weight, key, needs, dear: /[:~+]/.test(text), matches: (e) => (whole ??= matcher(text))(e) };
}

const known = new WeakMap<Tag, ReadonlySet<string>>();

function classesOf(e: Tag): ReadonlySet<string> {
  const own = known.get(e) ?? new Set((attributesOf(e)['class'] ?? '').split(/\s+/));
  known.set(e, own);
  return own;
}

/** A selector that nobody understands matches nothing, as in browsers. */
export function compiled<N, E extends N>(selector: string, options: Options<N, E>): (e: E) => boolean {
  try {
    return compile<N, E>(selector, options);
  } catch {
    return () => false;
  }
}

/** Elements of a page. */
export const TAGS: Looker<Tag> = {
  tagOf: (e) => e.tagName,
  parentOf: parentTag,
  idOf: (e) => attributesOf(e)['id'],
  nameOf: (name) => name.toLowerCase(),
  classesOf,
  styleText: (e) => attributesOf(e)['style'] ?? '',
  matcher: (selector) => compiled<Node, Tag>(selector, { adapter: TREE }),
};

/** What an element has from those above it. */
interface Inherited {
  variables: ReadonlyMap<string, string>;
  colour: string;
  fonts: Fonts;
}

/** CSS Color 4 §6.2 and CSS Fonts 4 §2.5.1: what is usual on a screen. */
const ROOT: Inherited = { variables: new Map(), colour: '#000000', fonts: { em: 16, rem: 16 } };
/** Sizes of letters by name, of the usual one (CSS Fonts 4 §2.5.1). */
const LETTERS: Readonly<Record<string, number>> = {
  'xx-small': 0.6,
  'x-small': 0.75,
  small: 8 / 9,
  medium: 1,
  large: 1.2,
  'x-large': 1.5,
  'xx-large': 2,
};

const MARGINS = [
  ['margin-left', '40px'],
  ['margin-right', '40px'],
] as const;
const INDENT = [['padding-left', '40px']] as const;
/** Room that elements take to their sides without being told (HTML §15.3). */
const USUAL: Readonly<Record<string, readonly Declaration[]>> = {
  figure: MARGINS,
  blockquote: MARGINS,
  dd: [['margin-left', '40px']],
  ul: INDENT,
  ol: INDENT,
};

const isInherited = (property: string): boolean =>
  property.startsWith('--') || property === 'color' || property === 'font-size' || property === 'font';

/** The colour of what is a link without anybody having said so (HTML §15.3.8). */
const LINK = '#0000ee';
const isLink = (e: Tag): boolean => e.tagName === 'a' && attributesOf(e)['href'] !== undefined;

/** What hangs on the window is written back as such (CSS Values 4 §6.1.2, viewport units). */
const VIEWPORT = /\d[sld]?v(w|h|i|b|min|max)\b/i;
export const WRITTEN_HEIGHT = 'height, as written';

/** The rules of a page, and what they come to for its elements (CSS Cascade 5). */
export class Cascade {
  private readonly above = new WeakMap<Tag, Inherited>();
  private readonly known = new WeakMap<Tag, ReadonlyMap<string, string>>();
  private readonly alike = new WeakMap<Inherited, Map<string, ReadonlyMap<string, string>>>();
  private readonly rules: Rules<Tag>;
  private readonly inheriting: Rules<Tag>;

  constructor(rules: readonly Rule[]) {
    this.rules = new Rules(rules);
    this.inheriting = new Rules(
      rules.filter((r) => [...r.declarations, ...r.pressing].some(([property]) => isInherited(property))),
    );
  }

  /**
   * What the rules and the element's own `style` say of it: by longhand, variables put in, lengths that hang on letters
   * or on the window in pixels. `color` is there when anything says it, for what takes its colour from it.
   */
  styleOf(element: Tag): ReadonlyMap<string, string> {
    const known = this.known.get(element) ?? this.read(element);
    this.known.set(element, known);
    return known;
  }

  /** Many elements are under the same rules: what those come to is worked out once. */
  private read(element: Tag): ReadonlyMap<string, string> {
    const above = this.inherited(element);
    const rules = this.rules.matching(element, TAGS);
    const key = `${element.tagName} ${rules.map((r) => this.rules.orderOf(r)).join(' ')} ${TAGS.styleText(element)}`;
    const alike = this.alike.get(above) ?? new Map<string, ReadonlyMap<string, string>>();
    this.alike.set(above, alike);
    const style = alike.get(key) ?? this.workOut(element, above, declared(element, rules, TAGS));
    alike.set(key, style);
    return style;
  }

  private workOut(
    { tagName }: Tag,
    { variables, colour, fonts }: Inherited,
    said: readonly Declaration[],
  ): ReadonlyMap<string, string> {
    const out = new Map([['color', colour], ...(USUAL[tagName] ?? [])]);
    for (const [property, value] of said) {
      if (isInherited(property)) continue;
      const text = substitute(value, variables);
      // A value that cannot be told, or that stands for the usual one, is as good as none (CSS Variables 1 §3.1).
      const gone = text === null || /^(initial|inherit|unset|revert|revert-layer)$/i.test(text);
      for (const [name, v] of longhands(property, text ?? ''))
        if (gone) out.delete(name);
        else {
          out.set(name, settled(v, fonts));
          if (name === 'height' && VIEWPORT.test(v)) out.set(WRITTEN_HEIGHT, v);
        }
    }
    return out;
  }

  private inherited(element: Tag): Inherited {
    return handedDown(element, parentTag, this.above, ROOT, (e, from) => this.inheritedBy(e, from));
  }

  private inheritedBy(element: Tag, from: Inherited): Inherited {
    const own = declared(element, this.inheriting.matching(element, TAGS), TAGS).filter(([property]) =>
      isInherited(property),
    );
    if (own.length === 0) return isLink(element) ? { ...from, colour: LINK } : from;
    const given = new Map(from.variables);
    for (const [property, value] of own) if (property.startsWith('--')) given.set(property, value);
    // What leads to other variables is settled where it is said (CSS Variables 1 §2.2); one without a value is none.
    const variables = new Map(given);
    for (const name of new Set(own.map(([property]) => property))) {
      const value = name.startsWith('--') ? substitute(given.get(name)!, given) : undefined;
      if (value === null) variables.delete(name);
      else if (value !== undefined) variables.set(name, value);
    }
    let { colour, fonts } = from;
    if (isLink(element)) colour = LINK;
    for (const [property, value] of own) {
      const text = property.startsWith('--') ? null : substitute(value, variables);
      if (text === null) continue;
      if (property === 'color') colour = cssColour(text) ? text : colour;
      else fonts = { ...fonts, em: letters(property, text, from.fonts) ?? fonts.em };
    }
    if (!parentTag(element)) fonts = { em: fonts.em, rem: fonts.em };
    return { variables, colour, fonts };
  }
}

/** The size of letters in pixels that `font-size` or `font` says. */
function letters(property: string, text: string, from: Fonts): number | null {
  const words = property === 'font' ? split(text).flatMap((w) => split(w, /\//).slice(0, 1)) : [text];
  for (const word of words) {
    const named = LETTERS[word.toLowerCase()];
    if (named !== undefined) return named * 16;
    const length = lengthIn(settled(word, from), from.em * PIXEL);
    if (length !== null && length > 0) return length / PIXEL;
  }
  return null;
}

/**
 * What an element has from those above it, worked out from the outermost inwards, each once.
 * @param known what is known by now
 * @param outside what the outermost takes
 * @param step what an element makes of what it takes
 */
export function handedDown<E extends object, T>(
  element: E | null,
  parentOf: (e: E) => E | null,
  known: WeakMap<E, T>,
  outside: T,
  step: (e: E, from: T) => T,
): T {
  const chain: E[] = [];
  let e = element;
  for (; e && !known.has(e); e = parentOf(e)) chain.push(e);
  let now = e ? known.get(e)! : outside;
  for (const inner of chain.reverse()) known.set(inner, (now = step(inner, now)));
  return now;
}

/** How much dearer it is to look at siblings. */
const DEAR = 10;
const NO_MARKS: ReadonlySet<string> = new Set();
const NOTHING: Declared = { declarations: [], pressing: [] };

/** Rules in their order, by what they ask for first: most have nothing to do with most elements. */
export class Rules<E> {
  /** By what the last part asks for first, then by one thing that must be found round the element. */
  private readonly by = new Map<string, Map<string, Rule<E>[]>>();
  private readonly orders = new Map<Rule<E>, number>();
  private readonly marks = new WeakMap<E & object, ReadonlySet<string>>();
  private tests = 0;

  constructor(rules: readonly Rule<E>[]) {
    for (const [order, rule] of rules.entries()) {
      const inner = this.by.get(rule.key) ?? new Map<string, Rule<E>[]>();
      this.by.set(rule.key, inner);
      // Classes and ids tell more than names do.
      const need = rule.needs.find((mark) => /^[.#]/.test(mark)) ?? rule.needs[0] ?? '';
      const list = inner.get(need) ?? [];
      inner.set(need, list);
      list.push(rule);
      this.orders.set(rule, order);
    }
  }

  get size(): number {
    return this.orders.size;
  }

  orderOf(rule: Rule<E>): number {
    return this.orders.get(rule)!;
  }

  /** Those that match an element, the stronger later. */
  matching(e: E, look: Looker<E>): Rule<E>[] {
    if (this.size === 0) return [];
    const keys = ['', look.tagOf(e), ...[...look.classesOf(e)].map((c) => `.${c}`)];
    const round = this.marksRound(e, look);
    const lists: (Rule<E>[] | undefined)[] = [];
    for (const key of keys) {
      const inner = this.by.get(key);
      if (!inner) continue;
      lists.push(inner.get(''));
      if (inner.size <= round.size) for (const [need, list] of inner) lists.push(round.has(need) ? list : undefined);
      else for (const mark of round) lists.push(inner.get(mark));
    }
    return lists
      .flatMap((list) => list ?? [])
      .filter((rule) => rule.needs.every((mark) => round.has(mark)) && this.test(rule, e))
      .sort((a, b) => a.weight - b.weight || this.orderOf(a) - this.orderOf(b));
  }

  private test(rule: Rule<E>, e: E): boolean {
    if ((this.tests += rule.dear ? DEAR : 1) > LIMITS.ruleTests)
      throw new GableError(
        'too-many-rules',
        `The style sheets have too many rules for so many elements: more than ${LIMITS.ruleTests / 1e6} million comparisons.`,
        'Split the page, or take out the rules that it does not use.',
      );
    return rule.matches(e);
  }

  /** Classes, ids and names of the elements round one: most rules ask for something that is not there. */
  private marksRound(e: E, look: Looker<E>): ReadonlySet<string> {
    return handedDown(
      look.parentOf(e) as (E & object) | null,
      (p) => look.parentOf(p) as (E & object) | null,
      this.marks,
      NO_MARKS,
      (p, from) => {
        const id = look.idOf(p);
        const own = [look.tagOf(p), ...[...look.classesOf(p)].map((c) => `.${c}`), ...(id ? [`#${id}`] : [])];
        return own.every((mark) => from.has(mark)) ? from : new Set([...from, ...own]);
      },
    );
  }
}

/** All that is said of an element, the stronger later (CSS Cascade 5 §6.1). @param matching the rules that match it */
export function declared<E>(element: E, matching: readonly Rule<E>[], look: Looker<E>): Declaration[] {
  const text = look.styleText(element);
  const own = text ? ownDeclarations(text) : NOTHING;
  return [
    ...matching.flatMap((r) => r.declarations),
    ...own.declarations,
    ...matching.flatMap((r) => r.pressing),
    ...own.pressing,
  ];
}
