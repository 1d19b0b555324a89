import { generate, parse, walk, type CssNode } from 'css-tree';
import { POINTS, type Unit } from '@gable/core';

/** A rule for elements by name, class or id; rules that depend on where an element stands are left out of account. */
interface Rule {
  tag: string | null;
  ids: string[];
  classes: string[];
  weight: number;
  declarations: Map<string, string>;
}

export interface Styled {
  tag: string;
  id: string | undefined;
  classes: readonly string[];
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

/** Rules of a style sheet in their order (CSS Cascade 5 §6), as far as they are plain ones. */
export function rulesOf(sheet: string): Rule[] {
  const out: Rule[] = [];
  let tree: CssNode;
  try {
    tree = parse(sheet, { parseAtrulePrelude: false, onParseError: () => undefined });
  } catch {
    return out;
  }
  if (tree.type !== 'StyleSheet') return out;
  tree.children.forEach((node) => {
    if (node.type !== 'Rule' || node.prelude.type !== 'SelectorList') return;
    const declarations = new Map<string, string>();
    node.block.children.forEach((d) => {
      if (d.type === 'Declaration') declarations.set(d.property.toLowerCase(), generate(d.value));
    });
    node.prelude.children.forEach((selector) => {
      if (selector.type !== 'Selector') return;
      const rule: Rule = { tag: null, ids: [], classes: [], weight: 0, declarations };
      let plain = true;
      selector.children.forEach((part) => {
        if (part.type === 'TypeSelector') rule.tag = part.name === '*' ? null : part.name.toLowerCase();
        else if (part.type === 'ClassSelector') rule.classes.push(part.name);
        else if (part.type === 'IdSelector') rule.ids.push(part.name);
        else plain = false;
      });
      rule.weight = rule.ids.length * 10_000 + rule.classes.length * 100 + (rule.tag ? 1 : 0);
      if (plain) out.push(rule);
    });
  });
  return out;
}

/** What the rules and the element's own `style` say of it. */
export function styleOf(element: Styled, rules: readonly Rule[], own: string | undefined): Map<string, string> {
  const out = new Map<string, string>();
  const fits = (r: Rule): boolean =>
    (r.tag === null || r.tag === element.tag) &&
    r.ids.every((id) => id === element.id) &&
    r.classes.every((c) => element.classes.includes(c));
  const matching = rules.filter(fits).sort((a, b) => a.weight - b.weight);
  for (const { declarations } of matching) for (const [k, v] of declarations) out.set(k, v);
  for (const [k, v] of declarationsOf(own ?? '')) out.set(k, v);
  return out;
}

/** A length in points; null for percentages, other units and words. @param unitless points of a bare number */
export function pointsOf(text: string | undefined, unitless = 0): number | null {
  const m = /^\s*(-?\d*\.?\d+)([a-z%]*)\s*$/i.exec(text ?? '');
  if (!m) return null;
  const unit = m[2]!.toLowerCase();
  const value = Number(m[1]);
  if (unit === '') return value === 0 ? 0 : unitless > 0 ? value * unitless : null;
  if (unit === 'em' || unit === 'rem') return value * 12;
  return unit in POINTS ? value * POINTS[unit as Unit] : null;
}

export function percentOf(text: string | undefined): number | null {
  const m = /^\s*(-?\d*\.?\d+)%\s*$/.exec(text ?? '');
  return m ? Number(m[1]) / 100 : null;
}
