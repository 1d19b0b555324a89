import { child, descend, type Element } from '../../xml/located';
import type { Package } from '../../ooxml/package';
import { attributeOf } from '../../xml/located';
import { NOTHING, over, type Properties } from './properties';

/** A style and those that it is based on, the weakest first. */
type Chain = readonly Element[];

/** What is said of a paragraph, and of the runs in it. */
export interface Looks {
  paragraph: Properties;
  run: Properties;
}

/** The styles of a document (ISO/IEC 29500-1 §17.7), its theme's fonts, and what its settings say of its layout. */
export class WordStyles {
  private readonly byId = new Map<string, Element>();
  private readonly usual = new Map<string, string>();
  private readonly chains = new Map<string, Chain>();
  private readonly fonts: Readonly<Record<string, string>>;
  /** Where all paragraphs and runs begin (§17.7.5.1, docDefaults). */
  readonly paragraph: Properties;
  readonly run: Properties;
  /** Have even pages headers and footers of their own (§17.10.1, evenAndOddHeaders)? */
  readonly evenPages: boolean;
  /** From one stop of a tab to the next where none is set (§17.15.1.25, defaultTabStop). Points. */
  readonly tab: number;
  /** Is the space behind a paragraph added to that before the next (§17.15.3.21, and from memory; else the larger one holds)? */
  readonly addsSpaces: boolean;
  /** The edges of tables stand at the margin, and not their words (compatibility mode 15 of newer programs, from memory). */
  readonly tablesAtMargin: boolean;

  constructor(pack: Package, main: string) {
    const part = pack.partFor(main, 'styles');
    const root = part ? pack.part(part).root : undefined;
    for (const style of root?.children ?? []) {
      const id = attributeOf(style, 'styleId');
      if (style.local !== 'style' || id === undefined) continue;
      this.byId.set(id, style);
      if (['1', 'true', 'on'].includes(attributeOf(style, 'default') ?? ''))
        this.usual.set(attributeOf(style, 'type') ?? 'paragraph', id);
    }
    const defaults = child(root, 'docDefaults');
    this.paragraph = over(NOTHING, descend(defaults, 'pPrDefault', 'pPr'));
    this.run = over(NOTHING, descend(defaults, 'rPrDefault', 'rPr'));
    this.fonts = themeFonts(pack, main);
    const name = pack.partFor(main, 'settings');
    const settings = name ? pack.part(name).root : undefined;
    const on = (local: string): boolean => {
      const e = child(settings, local);
      return e !== undefined && !['0', 'false', 'off'].includes(attributeOf(e, 'val') ?? '1');
    };
    this.evenPages = on('evenAndOddHeaders');
    this.tab = Number(attributeOf(child(settings, 'defaultTabStop'), 'val') ?? 720) / 20 || 36;
    const compat = child(settings, 'compat');
    this.addsSpaces = child(compat, 'doNotUseHTMLParagraphAutoSpacing') !== undefined;
    const mode = compat?.children.find((c) => attributeOf(c, 'name') === 'compatibilityMode');
    this.tablesAtMargin = Number(attributeOf(mode, 'val') ?? 12) >= 15;
  }

  /** A style with all that it takes from others; the usual one of its kind where none is named. */
  chain(type: 'paragraph' | 'character' | 'table', id: string | undefined): Chain {
    const first = id !== undefined && this.byId.has(id) ? id : this.usual.get(type);
    if (first === undefined || (type === 'character' && id === undefined)) return [];
    const known = this.chains.get(first);
    if (known) return known;
    const out: Element[] = [];
    const seen = new Set<string>();
    for (let at: string | undefined = first; at !== undefined && !seen.has(at);) {
      seen.add(at);
      const style = this.byId.get(at);
      if (!style) break;
      out.unshift(style);
      at = attributeOf(child(style, 'basedOn'), 'val');
    }
    this.chains.set(first, out);
    return out;
  }

  /** What a style says of runs or paragraphs, over what they have before. */
  under(base: Properties, chain: Chain, local: 'pPr' | 'rPr' | 'tblPr' | 'tcPr' | 'trPr'): Properties {
    return chain.reduce((all, style) => over(all, child(style, local)), base);
  }

  /** What a paragraph says of itself and of its runs, with its style, over what holds it (a cell has the look of its table). */
  ofParagraph(p: Element, { paragraph, run }: Looks = this): Looks & { styled: Properties } {
    const pPr = child(p, 'pPr');
    const chain = this.chain('paragraph', attributeOf(child(pPr, 'pStyle'), 'val'));
    const styled = this.under(paragraph, chain, 'pPr');
    return { styled, paragraph: over(styled, pPr), run: this.under(run, chain, 'rPr') };
  }

  /** What a run says of itself, with its style, over that of its paragraph. */
  ofRun(r: Element, paragraph: Properties): Properties {
    const rPr = child(r, 'rPr');
    const id = attributeOf(child(rPr, 'rStyle'), 'val');
    return over(this.under(paragraph, this.chain('character', id), 'rPr'), rPr);
  }

  /** The font of a run by its name (§17.3.2.26, rFonts); of the theme where it refers to that. */
  fontOf({ said }: Properties): string {
    const fonts = said['rFonts'] ?? {};
    const theme = fonts['asciiTheme'] ?? fonts['hAnsiTheme'];
    return (
      (theme !== undefined ? this.fonts[theme] : undefined) ?? fonts['ascii'] ?? fonts['hAnsi'] ?? 'Times New Roman'
    );
  }
}

/** Latin fonts of the theme by what runs call them (§20.1.4.1.18, fontScheme; §17.18.96, ST_Theme). */
function themeFonts(pack: Package, main: string): Record<string, string> {
  const name = pack.partFor(main, 'theme');
  const scheme = name ? descend(pack.part(name).root, 'themeElements', 'fontScheme') : undefined;
  const of = (local: string): string | undefined =>
    descend(scheme, local, 'latin')?.attributes['typeface'] || undefined;
  const out: Record<string, string> = {};
  for (const [theme, local] of [
    ['minor', 'minorFont'],
    ['major', 'majorFont'],
  ] as const) {
    const font = of(local);
    if (font !== undefined) for (const end of ['Ascii', 'HAnsi', 'Bidi', 'EastAsia']) out[`${theme}${end}`] = font;
  }
  return out;
}
