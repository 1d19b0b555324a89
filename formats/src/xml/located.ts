import { GableError } from '@gable/core';
import { SaxesParser } from 'saxes';
import { LIMITS, refuseBeyond } from '../codec/limits';

/** An element with its place in the text of the part. Offsets are UTF-16 code units; `end` is one past the last. */
export interface Element {
  /** Name as written, prefix included. */
  name: string;
  local: string;
  uri: string;
  /** Values by name as written. */
  attributes: Readonly<Record<string, string>>;
  start: number;
  /** End of the opening tag. */
  openEnd: number;
  /** Start of the closing tag; equal to `end` for `<a/>`. */
  closeStart: number;
  end: number;
  parent: Element | null;
  children: Element[];
  /** Character data directly inside, joined. */
  text: string;
}

/** A part decoded, with what is needed to write it back in the same encoding. */
export interface XmlText {
  text: string;
  encoding: 'utf-8' | 'utf-16le' | 'utf-16be';
}

/**
 * Decodes a part; a byte-order mark stays in the text, so that offsets and bytes come back.
 * @throws GableError `xml-encoding`
 */
export function decodeXml(bytes: Uint8Array, part: string): XmlText {
  const encoding =
    bytes[0] === 0xff && bytes[1] === 0xfe ? 'utf-16le' : bytes[0] === 0xfe && bytes[1] === 0xff ? 'utf-16be' : 'utf-8';
  try {
    const raw = encoding === 'utf-16be' ? swapped(bytes) : bytes;
    return {
      text: new TextDecoder(encoding === 'utf-8' ? 'utf-8' : 'utf-16le', { ignoreBOM: true, fatal: true }).decode(raw),
      encoding,
    };
  } catch (cause) {
    throw new GableError(
      'xml-encoding',
      `The part “${part}” is not readable text.`,
      'Save the file again with the program it was made with.',
      { part },
      { cause },
    );
  }
}

/** The bytes of a text in the encoding it came in. */
export function encodeXml({ text, encoding }: XmlText): Uint8Array {
  if (encoding === 'utf-8') return new TextEncoder().encode(text);
  const out = new Uint8Array(text.length * 2);
  const view = new DataView(out.buffer);
  for (let i = 0; i < text.length; i++) view.setUint16(i * 2, text.charCodeAt(i), encoding === 'utf-16le');
  return out;
}

function swapped(bytes: Uint8Array): Uint8Array {
  const out = new Uint8Array(bytes.length & ~1);
  for (let i = 0; i + 1 < bytes.length; i += 2) {
    out[i] = bytes[i + 1]!;
    out[i + 1] = bytes[i]!;
  }
  return out;
}

/** For a package without a part it must have. */
export const missingPart = (part: string): GableError =>
  new GableError(
    'missing-part',
    `The package lacks the part “${part}”.`,
    'Open the file in the program it was made with and save it again.',
    { part },
  );

/**
 * Parses a part into elements with places.
 * @param declares document types that are taken: none; one that defines nothing of its own (`plain`); or one that defines
 *   names for plain text as well (`entities`, XML 1.0 §4.2.1). Nothing that they name is ever fetched
 * @throws GableError `xml-dtd`, `xml-too-deep`, `xml-broken` with line and column, `too-many-elements`
 */
export function parseXml(text: string, part: string, declares: 'none' | 'plain' | 'entities' = 'none'): Element {
  refuseBeyond('xmlElements', countElements(text));
  const parser = new SaxesParser({ xmlns: true });
  let root: Element | null = null;
  let open: Element | null = null;
  let depth = 0;
  // Each handler is one more property of the parser. With more than a few of them engines keep it as a dictionary, and
  // parsing takes five times as long: rare events are listened for only where they can come, errors are caught.
  if (text.includes('<!DOCTYPE'))
    parser.on('doctype', (declared) => {
      const inside = /\[([\s\S]*)\]\s*$/.exec(declared)?.[1] ?? '';
      if (declares === 'none' || (declares === 'plain' && inside.trim() !== ''))
        throw new GableError(
          'xml-dtd',
          `The part “${part}” declares a document type of its own, which office documents must not.`,
          'Do not trust this file; ask its author for another copy.',
          { part },
        );
      Object.assign(parser.ENTITIES, plainEntities(inside, text, part));
    });
  if (text.includes('<![CDATA['))
    parser.on('cdata', (t) => {
      if (open) open.text += t;
    });
  parser.on('opentag', (tag) => {
    if (++depth > LIMITS.xmlDepth)
      throw new GableError(
        'xml-too-deep',
        `The part “${part}” is nested more than ${LIMITS.xmlDepth} deep.`,
        'Do not trust this file; ask its author for another copy.',
        { part },
      );
    const attributes: Record<string, string> = {};
    for (const name in tag.attributes) attributes[name] = tag.attributes[name]!.value;
    const element: Element = {
      name: tag.name,
      local: tag.local,
      uri: tag.uri,
      attributes,
      // No attribute holds a bare `<` (XML 1.0 §3.1, No < in Attribute Values).
      start: text.lastIndexOf('<', parser.position - 1),
      openEnd: parser.position,
      closeStart: parser.position,
      end: parser.position,
      parent: open,
      children: [],
      text: '',
    };
    open?.children.push(element);
    root ??= element;
    open = element;
  });
  parser.on('closetag', (tag) => {
    depth--;
    const element = open!;
    element.end = parser.position;
    element.closeStart = tag.isSelfClosing ? element.end : text.lastIndexOf('</', element.end - 1);
    open = element.parent;
  });
  parser.on('text', (t) => {
    if (open) open.text += t;
  });
  try {
    parser.write(text).close();
  } catch (cause) {
    if (cause instanceof GableError) throw cause;
    throw new GableError(
      'xml-broken',
      `The part “${part}” is broken at line ${parser.line}, column ${parser.column}.`,
      'Open the file in the program it was made with and save it again.',
      { part, line: parser.line, column: parser.column },
      { cause },
    );
  }
  return root!;
}

/** What holds no elements, and how it ends (XML 1.0 §2.5 to §2.7). */
const NO_ELEMENTS = [
  ['!--', '-->'],
  ['![CDATA[', ']]>'],
  ['?', '?>'],
] as const;

/** How many start tags there are: told in a hundredth of the time that parsing takes. */
function countElements(text: string): number {
  let count = 0;
  for (let at = text.indexOf('<'); at >= 0; at = text.indexOf('<', at + 1)) {
    const next = text.charCodeAt(at + 1);
    if (next === 0x21 || next === 0x3f) {
      const other = NO_ELEMENTS.find(([start]) => text.startsWith(start, at + 1));
      const end = other ? text.indexOf(other[1], at + 1) : at;
      if (end < 0) break;
      at = end;
    } else if (next !== 0x2f) count++;
  }
  return count;
}

/** So much text may names for text become in all; a page of a drawing has a few hundred characters of them. */
const MAX_EXPANDED = 1_000_000;

/**
 * Names for plain text (XML 1.0 §4.2.1): neither markup, nor other names, nor anything that lies elsewhere.
 * @throws GableError `xml-dtd`
 */
function plainEntities(inside: string, text: string, part: string): Record<string, string> {
  const out: Record<string, string> = {};
  const refuse = (why: string): never => {
    throw new GableError('xml-dtd', `The part “${part}” declares ${why}.`, 'Save the drawing again as plain SVG.', {
      part,
    });
  };
  const declarations = inside.replace(/<!--[\s\S]*?-->/g, '');
  if (/<!ENTITY\s+%/.test(declarations) || /(^|\s)%[\w:.-]+;/.test(declarations)) refuse('parameter entities');
  let expanded = 0;
  for (const [, name, rest] of declarations.matchAll(/<!ENTITY\s+([\w:.-]+)\s+([^>]*)>/g)) {
    const value = /^(?:"([^"<&%]*)"|'([^'<&%]*)')\s*$/.exec(rest!);
    if (!value) refuse(`the entity “${name}”, which is no plain text`);
    const own = value![1] ?? value![2] ?? '';
    out[name!] = own;
    expanded += own.length * (text.split(`&${name};`).length - 1);
    if (expanded > MAX_EXPANDED)
      refuse(`entities that become more than ${MAX_EXPANDED.toLocaleString('en')} characters`);
  }
  return out;
}

/** The first child with this local name, in any of the namespaces. */
export function child(element: Element | undefined | null, local: string): Element | undefined {
  return element?.children.find((c) => c.local === local);
}

/** Follows local names downwards. */
export function descend(element: Element | undefined | null, ...locals: string[]): Element | undefined {
  let at = element ?? undefined;
  for (const local of locals) at = child(at, local);
  return at;
}

/** The first element of a local name below an element, however deep. */
export function firstBelow(element: Element | undefined, local: string): Element | undefined {
  for (const c of element?.children ?? []) {
    const found = c.local === local ? c : firstBelow(c, local);
    if (found) return found;
  }
  return undefined;
}

/** The nearest ancestor, the element itself not included, that passes. */
export function ancestor(element: Element, passes: (e: Element) => boolean): Element | undefined {
  for (let e = element.parent; e; e = e.parent) if (passes(e)) return e;
  return undefined;
}

/** The prefix bound to a namespace where this element stands; null when there is none. */
export function prefixFor(element: Element, uri: string): string | null {
  const seen = new Set<string>();
  for (let e: Element | null = element; e; e = e.parent)
    for (const [name, value] of Object.entries(e.attributes)) {
      const prefix = name === 'xmlns' ? '' : name.startsWith('xmlns:') ? name.slice(6) : null;
      if (prefix === null || seen.has(prefix)) continue;
      if (value === uri) return prefix;
      seen.add(prefix);
    }
  return null;
}

/** Is an element another one, or in it? */
export const holds = (root: Element, e: Element): boolean => e === root || (e.parent !== null && holds(root, e.parent));

/** An attribute by its local name, whatever its prefix. */
export function attributeOf(e: Element | undefined, local: string): string | undefined {
  for (const [name, value] of Object.entries(e?.attributes ?? {}))
    if (name === local || name.endsWith(`:${local}`)) return value;
  return undefined;
}
