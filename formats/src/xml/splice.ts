import type { Element } from './located';

/** Text in the place of what stands from `start` up to, not including, `end`. */
export interface Edit {
  start: number;
  end: number;
  text: string;
}

// Control characters cannot stand in XML 1.0 at all (§2.2).
// eslint-disable-next-line no-control-regex -- they are what is looked for
const IMPOSSIBLE = /[\u0000-\u0008\u000b\u000c\u000e-\u001f\ufffe\uffff]/g;
const ESCAPES: Record<string, string> = {
  '&': '&amp;',
  '<': '&lt;',
  '>': '&gt;',
  '"': '&quot;',
  '\t': '&#9;',
  '\n': '&#10;',
  '\r': '&#13;',
};

/** Text for an attribute in double quotes. */
export const escapeXml = (text: string): string =>
  text.replace(IMPOSSIBLE, '').replace(/[&<>"\t\n\r]/g, (c) => ESCAPES[c]!);

/** Text for between two tags. */
export const escapeText = (text: string): string => escapeXml(text).replaceAll('&quot;', '"');

/** The namespaces that an element binds, as they are written in its tag. */
export const bindingsOf = (element: Element): string =>
  Object.entries(element.attributes)
    .filter(([name]) => name.startsWith('xmlns'))
    .map(([name, value]) => ` ${name}="${escapeXml(value)}"`)
    .join('');

/** Makes all changes at once. @throws Error when two of them overlap, which is a fault of the caller */
export function applyEdits(text: string, edits: readonly Edit[]): string {
  let out = '';
  let at = 0;
  for (const e of [...edits].sort((a, b) => a.start - b.start || a.end - b.end)) {
    if (e.start < at) throw new Error(`Two changes overlap at character ${e.start}.`);
    out += text.slice(at, e.start) + e.text;
    at = e.end;
  }
  return out + text.slice(at);
}

/** Collects changes to one part and makes them all at once; every character outside them stays as it is. */
export class Splice {
  private readonly edits: Edit[] = [];
  /** Attributes by element, so that several changes to one tag make one edit. */
  private readonly tags = new Map<Element, Map<string, string | null>>();
  private readonly filled = new Map<Element, string>();

  constructor(private readonly text: string) {}

  get empty(): boolean {
    return this.edits.length === 0 && this.tags.size === 0 && this.filled.size === 0;
  }

  /** An element as it is written. */
  source(element: Element): string {
    return this.text.slice(element.start, element.end);
  }

  /** An element as it is to be written, by its changes so far: whatever changes outside of it is left out. */
  rewritten({ start, end }: Element): string {
    const inside = this.changes().filter((c) => c.start >= start && c.end <= end);
    return applyEdits(
      this.text.slice(start, end),
      inside.map((c) => ({ ...c, start: c.start - start, end: c.end - start })),
    );
  }

  /** Sets an attribute (name as written), or takes it away with null. */
  attribute(element: Element, name: string, value: string | null): void {
    if ((element.attributes[name] ?? null) === value) return;
    const tag = this.tags.get(element) ?? new Map<string, string | null>();
    tag.set(name, value);
    this.tags.set(element, tag);
  }

  replace(element: Element, xml: string): void {
    if (this.text.slice(element.start, element.end) !== xml)
      this.edits.push({ start: element.start, end: element.end, text: xml });
  }

  /** Gives an element that has children another opening and closing tag; what stands between them stays. */
  retag(element: Element, open: string, close: string): void {
    this.edits.push({ start: element.start, end: element.openEnd, text: open });
    this.edits.push({ start: element.closeStart, end: element.end, text: close });
  }

  /** Puts text at a place between elements, or between letters. */
  at(place: number, xml: string): void {
    this.edits.push({ start: place, end: place, text: xml });
  }

  /** Puts text before an element. */
  before(element: Element, xml: string): void {
    this.edits.push({ start: element.start, end: element.start, text: xml });
  }

  /** Puts text behind everything in an element. */
  append(parent: Element, xml: string): void {
    if (parent.openEnd === parent.end) this.fill(parent, xml);
    else this.edits.push({ start: parent.closeStart, end: parent.closeStart, text: xml });
  }

  /** Replaces the character data of an element that has no children. */
  content(element: Element, value: string): void {
    if (element.openEnd === element.end) this.fill(element, value);
    else this.edits.push({ start: element.openEnd, end: element.closeStart, text: value });
  }

  /**
   * Puts, replaces or (with null) removes a child where the content model has it.
   * @param names local names of the same slot: `['custGeom', 'prstGeom']`
   * @param later local names that must come after it
   */
  slot(parent: Element, names: readonly string[], later: readonly string[], xml: string | null): void {
    const old = parent.children.find((c) => names.includes(c.local));
    if (old) {
      this.replace(old, xml ?? '');
      return;
    }
    if (xml === null) return;
    const before = parent.children.find((c) => later.includes(c.local));
    if (before) this.edits.push({ start: before.start, end: before.start, text: xml });
    else this.append(parent, xml);
  }

  private fill(element: Element, xml: string): void {
    this.filled.set(element, (this.filled.get(element) ?? '') + xml);
  }

  /** All changes, in no order. */
  changes(): Edit[] {
    const elements = new Set([...this.tags.keys(), ...this.filled.keys()]);
    return [...this.edits, ...[...elements].map((e) => this.tagEdit(e))];
  }

  /** The new text. @throws Error when two changes overlap, which is a fault of the caller */
  apply(): string {
    return applyEdits(this.text, this.changes());
  }

  /** One edit for the opening tag of an element, from its `<` to its `>`. */
  private tagEdit(element: Element): Edit {
    let tag = this.text.slice(element.start, element.openEnd);
    for (const [name, value] of this.tags.get(element) ?? []) {
      const escaped = name.replace(/[.\\]/g, '\\$&');
      const found = new RegExp(`\\s+${escaped}\\s*=\\s*("[^"]*"|'[^']*')`).exec(tag);
      const written = value === null ? '' : ` ${name}="${escapeXml(value)}"`;
      if (found) tag = tag.slice(0, found.index) + written + tag.slice(found.index + found[0].length);
      else tag = tag.replace(/\s*\/?>$/, (close) => written + close);
    }
    const inner = this.filled.get(element);
    if (inner !== undefined) tag = `${tag.replace(/\s*\/>$/, '>')}${inner}</${element.name}>`;
    return { start: element.start, end: element.openEnd, text: tag };
  }
}
