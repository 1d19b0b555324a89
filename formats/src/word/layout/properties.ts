import type { Element } from '../../xml/located';

/** Attributes of an element by their local names. */
export type Attributes = Readonly<Record<string, string>>;

/**
 * What paragraphs, runs, tables and cells say of their look: the attributes of each property by its local name, merged from the
 * weakest to the strongest that say something (ISO/IEC 29500-1 §17.7.2, style hierarchy).
 */
export interface Properties {
  said: Readonly<Record<string, Attributes>>;
  /** Properties that hold others: borders, tabs, margins of cells. */
  held: Readonly<Record<string, Element>>;
}

export const NOTHING: Properties = { said: {}, held: {} };

export function attributesOf(e: Element): Record<string, string> {
  const out: Record<string, string> = {};
  for (const [name, value] of Object.entries(e.attributes)) out[name.slice(name.indexOf(':') + 1)] = value;
  return out;
}

/** Of these each attribute is said by itself. */
const BY_ATTRIBUTE = new Set(['ind', 'spacing', 'rFonts', 'lang', 'tblLook']);

/** Properties with those of an element (`pPr`, `rPr`, `tblPr`, `tcPr`, `trPr`) over them. */
export function over(base: Properties, e: Element | undefined): Properties {
  if (!e || e.children.length === 0) return base;
  const said: Record<string, Attributes> = { ...base.said };
  const held: Record<string, Element> = { ...base.held };
  for (const c of e.children) {
    const own = attributesOf(c);
    const before = BY_ATTRIBUTE.has(c.local) ? { ...said[c.local] } : {};
    // One kind of first line takes the place of the other (§17.3.1.12, ind).
    if (c.local === 'ind') {
      if ('hanging' in own) delete before['firstLine'];
      if ('firstLine' in own) delete before['hanging'];
    }
    if (c.local === 'rFonts')
      for (const kind of ['ascii', 'hAnsi']) {
        if (kind in own) delete before[`${kind}Theme`];
        if (`${kind}Theme` in own) delete before[kind];
      }
    said[c.local] = { ...before, ...own };
    if (c.children.length > 0) held[c.local] = c;
  }
  return { said, held };
}

/** Is a property there, and not said to be off (§17.17.4, ST_OnOff)? */
export const isOn = ({ said }: Properties, name: string): boolean => {
  const p = said[name];
  return p !== undefined && !['0', 'false', 'off', 'none'].includes(p['val'] ?? '1');
};

export const valueOf = ({ said }: Properties, name: string): string | undefined => said[name]?.['val'];

/** Twentieths of a point. */
export const twips = (text: string | undefined): number | undefined => {
  if (text === undefined) return undefined;
  const plain = /^-?\d+(\.\d+)?$/.test(text) ? Number(text) / 20 : measured(text);
  return Number.isFinite(plain) ? plain : undefined;
};

/** A length with its unit (ISO/IEC 29500-1 §22.9.2.15, ST_UniversalMeasure), in points. */
function measured(text: string): number {
  const [, number, unit] = /^(-?[\d.]+)(mm|cm|in|pt|pc|pi)$/.exec(text) ?? [];
  const units: Readonly<Record<string, number>> = { mm: 72 / 25.4, cm: 720 / 25.4, in: 72, pt: 1, pc: 12, pi: 12 };
  return number === undefined ? Number.NaN : Number(number) * units[unit!]!;
}
