import { clone, generate, List, parse, walk, type CssNode } from 'css-tree';
import { compiled } from '../css/rules';
import { TREE, type Node, type Tag } from './tree';

/** A rule that looks from an element to one behind it: `img + p`. */
interface SiblingRule {
  /** Does what it begins from match an element? */
  from(e: Tag): boolean;
  /** The rule with something else to begin from. */
  restated(from: string): string;
}

/**
 * The rules of style sheets with `+` or `~` in them (Selectors 4 §16.3, §16.4): an image that gets a box round it is no
 * longer the sibling of what stood behind it, the box is.
 */
export function siblingRules(sheets: readonly string[]): SiblingRule[] {
  return sheets.filter((sheet) => /[+~]/.test(sheet)).flatMap((sheet) => rulesIn(sheet));
}

function rulesIn(sheet: string): SiblingRule[] {
  const out: SiblingRule[] = [];
  const around: string[] = [];
  let tree: CssNode;
  try {
    tree = parse(sheet, { parseValue: false, onParseError: () => undefined });
  } catch {
    return out;
  }
  walk(tree, {
    enter(node: CssNode) {
      if (node.type === 'Atrule' && node.block)
        around.push(`@${node.name} ${node.prelude ? generate(node.prelude) : ''}`);
      if (node.type !== 'Rule' || node.prelude.type !== 'SelectorList') return;
      const block = generate(node.block);
      for (const selector of node.prelude.children)
        if (selector.type === 'Selector') out.push(...fromEach(selector.children.toArray(), block, [...around]));
    },
    leave(node: CssNode) {
      if (node.type === 'Atrule' && node.block) around.pop();
    },
  });
  return out;
}

/** One for each place of a selector that something behind it is looked for from. */
function fromEach(parts: readonly CssNode[], block: string, around: readonly string[]): SiblingRule[] {
  return parts.flatMap((part, i): SiblingRule[] => {
    if (part.type !== 'Combinator' || !/^[+~]$/.test(part.name)) return [];
    const start = parts.slice(0, i).findLastIndex((p) => p.type === 'Combinator') + 1;
    const text = (nodes: readonly CssNode[]): string =>
      generate({ type: 'Selector', children: new List<CssNode>().fromArray(nodes.map((n) => clone(n))) });
    let matches: ((e: Tag) => boolean) | null = null;
    return [
      {
        from: (e) => (matches ??= compiled<Node, Tag>(text(parts.slice(0, i)), { adapter: TREE }))(e),
        restated: (from) => {
          const rule = `${text(parts.slice(0, start))}${from}${text(parts.slice(i))}${block}`;
          return around.reduceRight((inner, at) => `${at}{${inner}}`, rule);
        },
      },
    ];
  });
}
