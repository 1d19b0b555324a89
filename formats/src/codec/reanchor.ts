import type { Element } from '../xml/located';
import { escapeXml } from '../xml/splice';

/** Where pictures of a part stand, and where some of them go. */
export interface Moves {
  /** By their numbers, in the order of the file: the parts that they are in, and where. */
  from: readonly { n: number; part: string; start: number }[];
  part: string;
  /** Where those that move will stand, in the text as it was. */
  to: ReadonlyMap<number, number>;
}

/** The numbers of pictures in their order after some have moved within a part; several at one place keep theirs. */
export function orderAfter({ from, part, to }: Moves): number[] {
  const placed = from.map(({ n, start, ...at }, i) => ({
    n,
    i,
    part: at.part,
    at: to.get(n) ?? start,
    came: to.has(n),
  }));
  const sorted = placed
    .filter((p) => p.part === part)
    .sort((a, b) => a.at - b.at || Number(b.came) - Number(a.came) || a.i - b.i);
  // Parts stand one behind the other.
  return placed.map((p) => (p.part === part ? sorted.shift()!.n : p.n));
}

/** Markup that is taken elsewhere in its part, with the namespaces that only what it stood in binds. */
export function taken(text: string, element: Element): string {
  const missing = new Map<string, string>();
  // What all of the part has is there wherever it goes.
  for (let e = element.parent; e?.parent; e = e.parent)
    for (const [name, value] of Object.entries(e.attributes))
      if (/^xmlns(:|$)/.test(name) && element.attributes[name] === undefined && !missing.has(name))
        missing.set(name, ` ${name}="${escapeXml(value)}"`);
  const end = element.start + 1 + element.name.length;
  return text.slice(element.start, end) + [...missing.values()].join('') + text.slice(end, element.end);
}
