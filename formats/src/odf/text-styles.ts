import { setIn } from '@gable/core';
import { child, type Element } from '../xml/located';
import { lengthOf, Names } from './names';

export type Family =
  | 'graphic'
  | 'presentation'
  | 'drawing-page'
  | 'paragraph'
  | 'text'
  | 'table'
  | 'table-column'
  | 'table-row'
  | 'table-cell'
  | 'section';

interface Found {
  element: Element;
  parent: string | undefined;
}

/** Formatting properties that CSS has under the same name and with the same values (ODF 1.2 Part 1 §20, XSL 1.1). */
const SAME =
  /^fo:(color|background-color|font-size|font-style|font-weight|font-variant|text-align|text-indent|text-transform|letter-spacing|margin|margin-(?:left|right|top|bottom)|padding|padding-(?:left|right|top|bottom)|border|border-(?:left|right|top|bottom)|vertical-align|width)$/;
/** What a value may be made of: numbers, units, names, colours. */
const SAFE_VALUE = /^[\w#%.,() +-]+$/;
const HELD = ['text-properties', 'paragraph-properties', 'table-cell-properties', 'table-properties'];

/** Styles of text, paragraphs and tables as CSS, with all they take from others (ODF 1.2 Part 1 §16.2). */
export class TextStyles {
  private readonly known = new Map<string, Found>();
  private readonly usual = new Map<string, Element>();
  private readonly fonts = new Map<string, string>();
  private readonly made = new Map<string, string>();

  /** @param roots parts of the file, the common one first */
  constructor(roots: readonly Element[]) {
    for (const root of roots) {
      for (const f of child(root, 'font-face-decls')?.children ?? []) {
        const n = new Names(f);
        this.fonts.set(n.get(f, 'style:name') ?? '', n.get(f, 'svg:font-family') ?? '');
      }
      for (const list of [child(root, 'styles'), child(root, 'automatic-styles')])
        for (const element of list?.children ?? []) {
          const n = new Names(element);
          const family = n.get(element, 'style:family') ?? '';
          if (element.local === 'default-style') this.usual.set(family, element);
          const name = n.get(element, 'style:name');
          if (element.local === 'style' && name)
            this.known.set(`${family} ${name}`, { element, parent: n.get(element, 'style:parent-style-name') });
        }
    }
  }

  /** A style and those it takes from, the nearest first. */
  private chain(family: Family, name: string | undefined): Element[] {
    const out: Element[] = [];
    const seen = new Set<string>();
    for (let at = name; at !== undefined && !seen.has(at);) {
      seen.add(at);
      const found = this.known.get(`${family} ${at}`);
      if (found) out.push(found.element);
      at = found?.parent;
    }
    const usual = this.usual.get(family);
    return usual ? [...out, usual] : out;
  }

  /** An attribute of the style itself or of one of its property elements, its own or the nearest above. */
  property(family: Family, name: string | undefined, held: string | null, property: string): string | undefined {
    for (const element of this.chain(family, name)) {
      const value = new Names(element).get(held === null ? element : child(element, held), property);
      if (value !== undefined) return value;
    }
    return undefined;
  }

  /** As `property`, of the style itself and those above it alone: not what is usual for its family. */
  said(family: Family, name: string | undefined, held: string, property: string): string | undefined {
    const usual = this.usual.get(family);
    for (const element of this.chain(family, name)) {
      const value = element === usual ? undefined : new Names(element).get(child(element, held), property);
      if (value !== undefined) return value;
    }
    return undefined;
  }

  /** The names of a style and of those it takes from, the nearest first. */
  namesAbove(family: Family, name: string | undefined): string[] {
    return this.chain(family, name).flatMap((e) => new Names(e).get(e, 'style:name') ?? []);
  }

  /** A font by the name that styles give it. */
  fontNamed(name: string | undefined): string | undefined {
    return name === undefined ? undefined : this.fonts.get(name);
  }

  /** An element that the style itself, or the nearest above that has one, holds in its properties. */
  held(family: Family, name: string | undefined, held: string, local: string): Element | undefined {
    return this.chain(family, name)
      .map((e) => child(child(e, held), local))
      .find((e) => e !== undefined);
  }

  /** The font of a paragraph's or a cell's words, by its name. */
  fontOf(style: string | undefined, family: Family = 'paragraph'): string {
    const named = this.property(family, style, 'text-properties', 'style:font-name');
    const own = this.property(family, style, 'text-properties', 'fo:font-family');
    return ((named !== undefined ? this.fonts.get(named) : undefined) ?? own ?? '').replace(/["']/g, '');
  }

  /** The declarations of a style. */
  css(family: Family, name: string | undefined): string {
    const key = `${family} ${name ?? ''}`;
    let css = this.made.get(key);
    if (css === undefined) {
      const all = new Map<string, string>();
      for (const element of this.chain(family, name).reverse())
        for (const held of HELD) for (const [p, v] of this.declarations(child(element, held))) all.set(p, v);
      css = [...all].map(([p, v]) => `${p}:${v}`).join(';');
      this.made.set(key, css);
    }
    return css;
  }

  private declarations(properties: Element | undefined): [string, string][] {
    if (!properties) return [];
    const n = new Names(properties);
    const out: [string, string][] = [];
    for (const name of Object.keys(properties.attributes)) {
      const local = name.slice(name.indexOf(':') + 1);
      const value = n.get(properties, `fo:${local}`);
      if (value === undefined || !SAME.test(`fo:${local}`) || !SAFE_VALUE.test(value)) continue;
      // An indent counts from a margin that may be left of the page's: both are kept as they are.
      out.push([local, value]);
    }
    const font = this.fonts.get(n.get(properties, 'style:font-name') ?? '') ?? n.get(properties, 'fo:font-family');
    if (font) out.push(['font-family', setIn(font).css]);
    const lines = [
      drawn(n.get(properties, 'style:text-underline-style')) && 'underline',
      drawn(n.get(properties, 'style:text-line-through-style')) && 'line-through',
    ].filter(Boolean);
    if (lines.length > 0) out.push(['text-decoration', lines.join(' ')]);
    const position = n.get(properties, 'style:text-position') ?? '';
    if (/^(super|[1-9])/.test(position)) out.push(['vertical-align', 'super'], ['font-size', '58%']);
    if (/^(sub|-)/.test(position)) out.push(['vertical-align', 'sub'], ['font-size', '58%']);
    if (n.get(properties, 'table:align') === 'center') out.push(['margin-left', 'auto'], ['margin-right', 'auto']);
    const width = lengthOf(n.get(properties, 'style:width'));
    if (width) out.push(['width', `${width}pt`]);
    return out;
  }
}

const drawn = (style: string | undefined): boolean => style !== undefined && style !== 'none';
