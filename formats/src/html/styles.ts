import { compile } from 'css-select';
import { generate, parse, walk, type CssNode } from 'css-tree';
import { isOn } from './media';
import { attributesOf, TREE, type Node, type Tag } from './tree';

/** A rule with one selector. */
interface Rule {
  matches(e: Tag): boolean;
  /** Specificity (Selectors 4 §17) as one number. */
  weight: number;
  declarations: Map<string, string>;
  /** Those marked `!important`. */
  pressing: Map<string, string>;
}

/** Declarations of a `style` attribute or a rule, by property. Nonsense is passed over, as browsers do. */
export function declarationsOf(text: string): Map<string, string> {
  const out = new Map<string, string>();
  const tree = parse(text, { context: 'declarationList', onParseError: () => undefined });
  walk(tree, (node: CssNode) => {
    if (node.type === 'Declaration') out.set(node.property.toLowerCase(), generate(node.value));
  });
  return out;
}

/** So much less than any other weighs a rule in a layer (CSS Cascade 5 §6.4.3); the order of layers is not reckoned with. */
const LAYERED = 1e9;

/**
 * Rules of a style sheet in their order (CSS Cascade 5 §6), with those whose conditions hold on a usual screen; those that
 * hang on a container or on what somebody does are left out of account.
 */
export function rulesOf(sheet: string): Rule[] {
  const out: Rule[] = [];
  let tree: CssNode;
  try {
    tree = parse(sheet, { onParseError: () => undefined });
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
    const declarations = new Map<string, string>();
    const pressing = new Map<string, string>();
    node.block.children.forEach((d) => {
      if (d.type !== 'Declaration') return;
      (d.important ? pressing : declarations).set(d.property.toLowerCase(), generate(d.value));
    });
    node.prelude.children.forEach((selector) => {
      if (selector.type !== 'Selector') return;
      const { matches, weight } = matcherOf(selector);
      out.push({ matches, weight: layered ? weight - LAYERED : weight, declarations, pressing });
    });
  };
  tree.children.forEach((node) => add(node, false));
  return out;
}

/** What an element must be for a selector to be worth a closer look: its last part is quick to test. */
function matcherOf(selector: CssNode & { type: 'Selector' }): Pick<Rule, 'matches' | 'weight'> {
  let weight = 0;
  walk(selector, (n: CssNode) => {
    if (n.type === 'IdSelector') weight += 10_000;
    else if (n.type === 'ClassSelector' || n.type === 'AttributeSelector') weight += 100;
    else if (n.type === 'PseudoClassSelector' && !/^(is|not|has|where)$/i.test(n.name)) weight += 100;
    else if (n.type === 'TypeSelector' && n.name !== '*') weight += 1;
    return n.type === 'PseudoClassSelector' && /^where$/i.test(n.name) ? walk.skip : undefined;
  });
  let tag: string | null = null;
  let classes: string[] = [];
  selector.children.forEach((part) => {
    if (part.type === 'Combinator') [tag, classes] = [null, []];
    else if (part.type === 'TypeSelector' && part.name !== '*') tag = part.name.toLowerCase();
    else if (part.type === 'ClassSelector') classes.push(part.name);
  });
  let whole: ((e: Tag) => boolean) | null = null;
  return {
    weight,
    matches(e) {
      if (tag !== null && tag !== e.tagName) return false;
      const own = (attributesOf(e)['class'] ?? '').split(/\s+/);
      if (!classes.every((c) => own.includes(c))) return false;
      whole ??= compiled(generate(selector));
      return whole(e);
    },
  };
}

/** A selector that nobody understands matches nothing, as in browsers. */
function compiled(selector: string): (e: Tag) => boolean {
  try {
    return compile<Node, Tag>(selector, { adapter: TREE });
  } catch {
    return () => false;
  }
}

/** What the rules and the element's own `style` say of it. */
export function styleOf(element: Tag, rules: readonly Rule[]): Map<string, string> {
  const matching = rules.filter((r) => r.matches(element)).sort((a, b) => a.weight - b.weight);
  const out = new Map<string, string>();
  const add = (declarations: Map<string, string>): void => {
    for (const [k, v] of declarations) out.set(k, v);
  };
  for (const r of matching) add(r.declarations);
  add(declarationsOf(attributesOf(element)['style'] ?? ''));
  for (const r of matching) add(r.pressing);
  return out;
}
