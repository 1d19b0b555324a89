import { child, type Element } from '../xml/located';
import { Names, type Prefix, URIS } from './names';

interface Style {
  element: Element;
  names: Names;
  properties: Element | undefined;
  parent: string | undefined;
  family: string;
}

/** Graphic styles by name, and what they take from each other (ODF 1.2 Part 1 §16.2, style:style). */
export class Styles {
  private readonly own = new Map<string, Style>();
  private readonly taken = new Set<string>();

  constructor(
    lists: readonly (Element | undefined)[],
    /** Styles of the other part, which are looked at when there is none of the name here. */
    private readonly common: Styles | null,
  ) {
    for (const list of lists)
      for (const element of list?.children ?? []) {
        const names = new Names(element);
        const name = names.get(element, 'style:name') ?? names.get(element, 'draw:name');
        if (name) this.taken.add(name);
        const family = names.get(element, 'style:family') ?? '';
        if (element.local !== 'style' || !name || !/^(graphic|presentation)$/.test(family)) continue;
        const properties = child(element, 'graphic-properties');
        this.own.set(name, {
          element,
          names,
          properties,
          parent: names.get(element, 'style:parent-style-name'),
          family,
        });
      }
  }

  find(name: string | undefined): Style | undefined {
    return name === undefined ? undefined : (this.own.get(name) ?? this.common?.find(name));
  }

  isTaken(name: string): boolean {
    return this.taken.has(name) || (this.common?.isTaken(name) ?? false);
  }

  /** A property of a style, its own or from the nearest style above it. */
  property(name: string | undefined, property: string): string | undefined {
    const seen = new Set<string>();
    for (let at = name; at !== undefined && !seen.has(at);) {
      seen.add(at);
      const style = this.find(at);
      const value = style?.properties && style.names.get(style.properties, property);
      if (value !== undefined) return value;
      at = style?.parent;
    }
    return undefined;
  }
}

/** Things with a name in `office:styles`: pictures for fills, dashes. */
export function namedIn(list: Element | undefined, prefix: Prefix, local: string): Map<string, Element> {
  const out = new Map<string, Element>();
  for (const e of list?.children ?? []) {
    const name = new Names(e).get(e, `${prefix}:name`);
    if (e.uri === URIS[prefix] && e.local === local && name) out.set(name, e);
  }
  return out;
}
