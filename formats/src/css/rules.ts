import { GableError } from '@gable/core';
import { compile, type Options } from 'css-select';
import { generate, parse, walk, type CssNode } from 'css-tree';
import { LIMITS } from '../codec/limits';
import { isOn } from './media-queries';
import { split } from './values';

export type Declaration = readonly [property: string, value: string];

/** A rule with one selector, for elements of some kind of tree. */
export interface Rule<E> {
  matches(e: E): boolean;
  /** What its last part asks for first: `.` and a class, a name, or nothing. */
  key: string;
  /** Has it a sibling combinator or a pseudo-class? */
  looksAtSiblings: boolean;
  /** Classes, ids and names that its ancestors must have, by their marks. */
  needs: readonly string[];
  /** Specificity (Selectors 4 §17) as one number. */
  specificity: number;
  /** The at-rules that it stands in and that may not hold, the outer ones first; only where all rules are asked for. */
  conditions?: readonly string[];
  /** In their order. */
  declarations: Declaration[];
  important: Declaration[];
}

/** How the cascade reads elements of some kind of tree. */
export interface TreeAdapter<E> {
  tagOf(e: E): string;
  parentOf(e: E): E | null;
  idOf(e: E): string | undefined;
  /** A name of a selector as `tagOf` has it: in small letters where capitals do not count. */
  nameOf(name: string): string;
  classesOf(e: E): ReadonlySet<string>;
  styleText(e: E): string;
  matcher(selector: string): (e: E) => boolean;
}

type Declared = Pick<Rule<unknown>, 'declarations' | 'important'>;

function declarationsIn(nodes: Iterable<CssNode>): Declared {
  const out: Declared = { declarations: [], important: [] };
  for (const d of nodes)
    if (d.type === 'Declaration') {
      // Names of variables differ by capitals (CSS Variables 1 §2).
      const property = d.property.startsWith('--') ? d.property : d.property.toLowerCase();
      const value = generate(d.value).replace(/\/\*[\s\S]*?\*\//g, ' ');
      (d.important ? out.important : out.declarations).push([property, value.trim()]);
    }
  return out;
}

/** Declarations of a `style` attribute, or between the brackets of a rule. Nonsense is passed over, as browsers do. */
export function ownDeclarations(text: string): Declared {
  const tree = parse(text, { context: 'declarationList', parseValue: false, onParseError: () => undefined });
  return declarationsIn(tree.type === 'DeclarationList' ? tree.children.toArray() : []);
}

/** The text of a `style` attribute that says these as well, in the place of what it said of the same. */
export function styleWith(style: string, looks: readonly Declaration[]): string {
  const names = new Set(looks.map(([name]) => name));
  const kept = split(style, /;/).filter((d) => !names.has(d.slice(0, d.indexOf(':')).trim().toLowerCase()));
  return [...kept, ...looks.map(([name, value]) => `${name}:${value}`)].join(';');
}

const CONDITIONAL = /^(media|supports|container|layer)$/;

/** So much less than any other weighs a rule in a layer (CSS Cascade 5 §6.4.3); the order of layers is not reckoned with. */
const LAYERED = 1e9;

/**
 * Rules of a style sheet in their order (CSS Cascade 5 §6), with those whose conditions hold on a usual screen; those that
 * hang on a container or on what somebody does are left out of account.
 * @param which all rules whatever they hang on, each with its conditions, or those that hold
 */
export function rulesOf<E>(sheet: string, look: TreeAdapter<E>, which: 'all' | 'holding' = 'holding'): Rule<E>[] {
  const out: Rule<E>[] = [];
  let tree: CssNode;
  try {
    tree = parse(sheet, { parseValue: false, onParseError: () => undefined });
  } catch {
    return out;
  }
  if (tree.type !== 'StyleSheet') return out;
  const add = (node: CssNode, layered: boolean, conditions: readonly string[]): void => {
    if (node.type === 'Atrule') {
      const name = node.name.toLowerCase();
      const isAsked = which === 'all' ? CONDITIONAL.test(name) : isOn(name, node.prelude);
      const own = name === 'layer' ? [] : [`@${name} ${node.prelude ? generate(node.prelude) : ''}`.trim()];
      if (node.block && isAsked)
        node.block.children.forEach((n) => add(n, layered || name === 'layer', [...conditions, ...own]));
      return;
    }
    if (node.type !== 'Rule' || node.prelude.type !== 'SelectorList') return;
    const declared = declarationsIn(node.block.children.toArray());
    node.prelude.children.forEach((selector) => {
      if (selector.type !== 'Selector') return;
      const { specificity, ...matcher } = matcherOf(selector, look);
      const weight = layered ? specificity - LAYERED : specificity;
      out.push({ ...matcher, specificity: weight, ...declared, ...(which === 'all' && { conditions }) });
    });
  };
  tree.children.forEach((node) => add(node, false, []));
  return out;
}

function matcherOf<E>(
  selector: CssNode & { type: 'Selector' },
  { nameOf, matcher }: TreeAdapter<E>,
): Pick<Rule<E>, 'matches' | 'looksAtSiblings' | 'key' | 'needs' | 'specificity'> {
  let specificity = 0;
  walk(selector, (n: CssNode) => {
    if (n.type === 'IdSelector') specificity += 10_000;
    else if (n.type === 'ClassSelector' || n.type === 'AttributeSelector') specificity += 100;
    else if (n.type === 'PseudoClassSelector' && !/^(is|not|has|where)$/i.test(n.name)) specificity += 100;
    else if (n.type === 'TypeSelector' && n.name !== '*') specificity += 1;
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
  return { specificity, key, needs, looksAtSiblings: /[:~+]/.test(text), matches: (e) => (whole ??= matcher(text))(e) };
}

/** Tests elements against a selector; invalid selectors match nothing (Selectors 4 §3.9). */
export function compiled<N, E extends N>(selector: string, options: Options<N, E>): (e: E) => boolean {
  try {
    return compile<N, E>(selector, options);
  } catch {
    return () => false;
  }
}

/**
 * The inherited value of an element, computed from the root inwards, each element once.
 * @param known values computed so far
 * @param outside the value that the root inherits
 * @param step computes an element's value from its parent's
 */
export function inherit<E extends object, T>(
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
const SIBLING_COST = 10;
const NO_MARKS: ReadonlySet<string> = new Set();
const NOTHING: Declared = { declarations: [], important: [] };

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
  matching(e: E, look: TreeAdapter<E>): Rule<E>[] {
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
      .sort((a, b) => a.specificity - b.specificity || this.orderOf(a) - this.orderOf(b));
  }

  private test(rule: Rule<E>, e: E): boolean {
    if ((this.tests += rule.looksAtSiblings ? SIBLING_COST : 1) > LIMITS.ruleTests)
      throw new GableError(
        'too-many-rules',
        `The style sheets have too many rules for so many elements: more than ${LIMITS.ruleTests / 1e6} million comparisons.`,
        'Split the page, or take out the rules that it does not use.',
      );
    return rule.matches(e);
  }

  /** Classes, ids and names of the elements round one: most rules ask for something that is not there. */
  private marksRound(e: E, look: TreeAdapter<E>): ReadonlySet<string> {
    return inherit(
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
export function declared<E>(element: E, matching: readonly Rule<E>[], look: TreeAdapter<E>): Declaration[] {
  const text = look.styleText(element);
  const own = text ? ownDeclarations(text) : NOTHING;
  return [
    ...matching.flatMap((r) => r.declarations),
    ...own.declarations,
    ...matching.flatMap((r) => r.important),
    ...own.important,
  ];
}
