import { type ItemId, setIn, trimNumber, type SectionLayout } from '@gable/core';
import { showable } from '../../codec/likeness';
import type { Theme } from '../../drawingml/colour';
import { plainSymbols } from '../../flow/numeral';
import { FLOW_STYLES } from '../../flow/sheet';
import { NS } from '../../ooxml/names';
import { relatedId, type Package } from '../../ooxml/package';
import { attributeOf, child, descend, type Element } from '../../xml/located';
import { escapeText, escapeXml } from '../../xml/splice';
import { blockElements } from '../blocks';
import { roomOf } from '../flow';
import { branchOf, drawnMarkup, type TextPicture } from './drawing';
import { Numbering } from './numbering';
import { borderCss } from './border';
import { attributesOf, isOn, over, twips, valueOf, type Properties } from './properties';
import { lineHeight, lineRuleOf, runCss, shadeOf, sizeOf, type LineRule } from './run-style';
import type { Looks, WordStyles } from './styles';
import { tableMarkup, type CellStyle } from './table';

const n = (v: number): string => trimNumber(v, 3);

/** Characters of a text that are laid out: the rest would only be waited for. */
const MAX_TEXT_CHARS = 6_000_000;

/** What a document is laid out from. */
export interface WordText {
  pack: Package;
  main: string;
  theme: (part: string) => Theme;
  styles: WordStyles;
  /** By the elements that they stand in. */
  pictures: ReadonlyMap<Element, TextPicture>;
  /** Names of shapes and text boxes, which bear them in the markup. */
  own: ReadonlyMap<Element, ItemId>;
}

/**
 * A document as the markup of a text (`SectionLayout`), for a browser that lays it out on pages (ISO/IEC 29500-1 §17).
 * Pictures are hidden boxes that bear their numbers.
 */
export const documentMarkup = (text: WordText): string => new DocumentMarkup(text).html();

class DocumentMarkup {
  private readonly styles: WordStyles;
  private readonly numbering: Numbering;
  private readonly blockNumbers: ReadonlyMap<Element, number>;
  private readonly notes = new Map<string, Element>();
  private part: string;
  private length = 0;
  private noteCount = { footnote: 0, endnote: 0 };
  private noteMarkup: string[] = [];
  private endNotes: string[] = [];
  private approximate = new Set<string>();

  constructor(private readonly text: WordText) {
    const { pack, main } = text;
    this.styles = text.styles;
    this.numbering = new Numbering(pack, main);
    this.part = main;
    const body = child(pack.part(main).root, 'body');
    this.blockNumbers = new Map(body ? blockElements(body).map((b, i) => [b.element, i]) : []);
    for (const kind of ['footnotes', 'endnotes']) {
      const name = pack.partFor(main, kind);
      for (const note of name ? pack.part(name).root.children : [])
        this.notes.set(`${kind} ${attributeOf(note, 'id') ?? ''}`, note);
    }
  }

  html(): string {
    const body = child(this.text.pack.part(this.text.main).root, 'body');
    const sections: string[] = [];
    let blocks: Element[] = [];
    const known: Record<string, string> = {};
    const end = (section: Element | undefined): void => {
      sections.push(this.section(blocks, section, known, sections.length === 0));
      blocks = [];
    };
    for (const e of body?.children ?? []) {
      if (e.local === 'sectPr') {
        end(e);
        continue;
      }
      blocks.push(e);
      const section = e.local === 'p' ? descend(e, 'pPr', 'sectPr') : undefined;
      if (section) end(section);
    }
    if (blocks.length > 0 || sections.length === 0) end(undefined);
    const last = this.endNotes.length > 0 ? sections.length - 1 : -1;
    if (last >= 0)
      sections[last] = sections[last]!.replace('</main>', `<hr class="notes">${this.endNotes.join('')}</main>`);
    const fonts = [...this.approximate].sort();
    return (
      `<!doctype html><meta charset="utf-8"><style>${FLOW_STYLES}</style>` +
      `<body data-flow data-approximate="${escapeXml(JSON.stringify(fonts))}">${sections.join('')}</body>`
    );
  }

  /** @param known headers and footers so far: a section without one takes that of the one before (§17.10.1) */
  private section(
    blocks: readonly Element[],
    section: Element | undefined,
    known: Record<string, string>,
    isFirst: boolean,
  ): string {
    const main = this.blocks(blocks);
    const { pack, main: name } = this.text;
    for (const reference of section?.children ?? []) {
      const kind = /^(header|footer)Reference$/.exec(reference.local)?.[1];
      const id = relatedId(reference);
      const target = pack.relationships(name).find((r) => r.id === id && !r.external)?.target;
      if (kind && target !== undefined && pack.entry(target))
        known[`${kind} ${attributeOf(reference, 'type') ?? 'default'}`] = this.inPart(target, () =>
          this.blocks(pack.part(target).root.children),
        );
    }
    const around = (kind: 'header' | 'footer'): string =>
      (['default', 'first', 'even'] as const)
        .map((type) => {
          const html = known[`${kind} ${type}`];
          const use = type === 'default' ? 'usual' : type;
          return html === undefined ? '' : `<${kind} data-for="${use}">${html}</${kind}>`;
        })
        .join('');
    const layout = escapeXml(JSON.stringify(this.layoutOf(section, isFirst)));
    const notes = this.noteMarkup.splice(0).join('');
    return `<section data-section="${layout}">${around('header')}${around('footer')}<main>${main}</main>${notes}</section>`;
  }

  private layoutOf(section: Element | undefined, isFirst: boolean): SectionLayout {
    const { width, height, margins } = roomOf(section);
    const margin = child(section, 'pgMar');
    const far = (name: string): number => twips(attributeOf(margin, name)) ?? 36;
    const gutter = twips(attributeOf(margin, 'gutter')) ?? 0;
    const cols = child(section, 'cols');
    const room = width - margins.left - margins.right - gutter;
    const own = (cols?.children ?? []).filter((c) => c.local === 'col');
    const equal = !own.length || !['0', 'false'].includes(attributeOf(cols, 'equalWidth') ?? '1');
    const count = Math.max(1, Number(attributeOf(cols, 'num') ?? (equal ? 1 : own.length)) || 1);
    const gap = twips(attributeOf(cols, 'space')) ?? 36;
    const even = (room - gap * (count - 1)) / count;
    const columns = equal
      ? Array.from({ length: count }, (_, i) => ({ width: even, gap: i < count - 1 ? gap : 0 }))
      : own.map((c) => ({ width: twips(attributeOf(c, 'w')) ?? even, gap: twips(attributeOf(c, 'space')) ?? 0 }));
    const type = attributeOf(child(section, 'type'), 'val') ?? 'nextPage';
    const starts = { continuous: 'continuous', evenPage: 'even', oddPage: 'odd' } as const;
    const number = attributeOf(child(section, 'pgNumType'), 'start');
    const title = child(section, 'titlePg');
    return {
      width,
      height,
      margins: { ...margins, left: margins.left + gutter },
      header: far('header'),
      footer: far('footer'),
      columns,
      start: isFirst ? 'page' : (starts[type as keyof typeof starts] ?? 'page'),
      number: number === undefined ? null : Number(number) || 1,
      first: title !== undefined && !['0', 'false', 'off'].includes(attributeOf(title, 'val') ?? '1'),
      even: this.styles.evenPages,
    };
  }

  private inPart<T>(part: string, make: () => T): T {
    const before = this.part;
    this.part = part;
    const made = make();
    this.part = before;
    return made;
  }

  /** Blocks one after the other, in what they stand in. */
  blocks(elements: readonly Element[], holder: Looks | null = null): string {
    const all = elements.flatMap((e) => this.leaves(e, this.blockNumbers.get(e)));
    const looks = all.map(({ element }) => (element.local === 'p' ? this.paragraphSet(element, holder) : null));
    let out = '';
    for (const [i, { element, number }] of all.entries()) {
      if (this.length > MAX_TEXT_CHARS) break;
      const set = looks[i];
      const [before, next] = [looks[i - 1] ?? null, looks[i + 1] ?? null];
      const html = set ? this.paragraph(element, { set, before, next, number }) : tableMarkup(element, number, this);
      this.length += html.length;
      out += html;
    }
    return out;
  }

  /** Paragraphs and tables, also those within what marks them (§17.5.2, sdt). */
  private leaves(e: Element, number: number | undefined): { element: Element; number: number | undefined }[] {
    if (e.local === 'p' || e.local === 'tbl') return [{ element: e, number: this.blockNumbers.get(e) ?? number }];
    if (/^(sdt|sdtContent|customXml|ins|moveTo|body|hdr|ftr|footnote|endnote)$/.test(e.local))
      return e.children.flatMap((c) => this.leaves(c, this.blockNumbers.get(c) ?? number));
    return [];
  }

  /** What a paragraph says of itself, with its style, its list and what it stands in. */
  private paragraphSet(p: Element, holder: Looks | null): ParagraphLook {
    const { styles } = this;
    const pPr = child(p, 'pPr');
    const styleId = attributeOf(child(pPr, 'pStyle'), 'val');
    const { styled, paragraph: direct, run } = styles.ofParagraph(p, holder ?? styles);
    const numPr = direct.held['numPr'];
    const numId = attributeOf(child(numPr, 'numId'), 'val') ?? '0';
    const ilvl = Number(attributeOf(child(numPr, 'ilvl'), 'val') ?? 0) || 0;
    const level = numId === '0' ? undefined : this.numbering.level(numId, ilvl);
    // A list's indents hold over those of the style, and under those of the paragraph (§17.9.22, numPr).
    const properties = level ? over(over(styled, child(level.element, 'pPr')), pPr) : direct;
    return { properties, run, styleId: styleId ?? '', list: level ? { numId, ilvl } : null };
  }

  private paragraph(p: Element, { set, before, next, number }: ParagraphPlace): string {
    const { properties, run } = set;
    const rule = lineRuleOf(properties);
    const mark = over(run, descend(p, 'pPr', 'rPr'));
    const inner = this.inline(p, run, rule);
    const sizes = inner.sizes.length > 0 ? inner.sizes : [sizeOf(mark)];
    const least = Math.min(...sizes);
    const { css: family, line } = setIn(this.styles.fontOf(mark));
    const { said } = properties;
    const ind = said['ind'] ?? {};
    const rtl = isOn(properties, 'bidi');
    const left = twips(ind['start'] ?? ind['left']) ?? 0;
    const right = twips(ind['end'] ?? ind['right']) ?? 0;
    const first = ind['hanging'] !== undefined ? -(twips(ind['hanging']) ?? 0) : (twips(ind['firstLine']) ?? 0);
    const above = gapBetween(before, set, this.styles.addsSpaces);
    const out = [
      `margin:${n(above)}pt ${n(right)}pt ${next === null ? n(gapAfter(set)) : 0}pt ${n(left)}pt`,
      `text-indent:${n(first)}pt`,
      `font-size:${n(least)}pt`,
      `font-family:${family}`,
      `line-height:${n(lineHeight(rule, least, line))}pt`,
    ];
    const jc = valueOf(properties, 'jc') ?? 'start';
    const aligns: Readonly<Record<string, string>> = {
      both: 'justify',
      distribute: 'justify',
      center: 'center',
      right: 'right',
      end: 'end',
      left: rtl ? 'right' : 'left',
    };
    const align = aligns[jc];
    if (align) out.push(`text-align:${align}`);
    if (rtl) out.push('direction:rtl');
    out.push(...bordersOf(properties, before, next));
    const shade = shadeOf(said['shd']);
    if (shade) out.push(`background:${shade}`);
    const data = [
      number === undefined ? '' : ` data-block="${number}"${this.blockNumbers.has(p) ? '' : ' data-closed'}`,
      isOn(properties, 'keepNext') ? ' data-keep' : '',
      isOn(properties, 'keepLines') ? ' data-whole' : '',
      said['widowControl'] === undefined || isOn(properties, 'widowControl') ? ' data-widow' : '',
      isOn(properties, 'pageBreakBefore') ? ' data-break="page"' : '',
      inner.tabs
        ? ` data-tabs="${escapeXml(JSON.stringify(this.tabsOf(properties, left + Math.min(0, first), left)))}"`
        : '',
    ].join('');
    const marker = this.marker(p, set, rule, first);
    // The paragraph's own mark is as high as its letters: it counts in the last line.
    const end =
      inner.html === '' && marker === ''
        ? '<br>'
        : sizeOf(mark) > least
          ? `<span style="font-size:${n(sizeOf(mark))}pt;line-height:${n(lineHeight(rule, sizeOf(mark), line))}pt">\u200b</span>`
          : '';
    return `<div data-paragraph${data} style="${out.join(';')}">${marker}${inner.html}${end}</div>`;
  }

  /** The number or the bullet before a paragraph of a list. */
  private marker(p: Element, { list, run }: ParagraphLook, rule: LineRule, first: number): string {
    if (!list) return '';
    const level = this.numbering.level(list.numId, list.ilvl)!;
    const text = this.numbering.next(list.numId, list.ilvl);
    if (text === '') return '';
    const own = over(over(run, descend(p, 'pPr', 'rPr')), child(level.element, 'rPr'));
    const isSymbol = level.format === 'bullet';
    // A bullet's own font has signs where others have letters: here it is set in the text's.
    const css = runCss(isSymbol ? run : own, this.styles, rule) ?? '';
    const wide = level.suffix === 'tab' && first < 0 ? `min-width:${n(-first)}pt` : 'padding-right:4pt';
    return `<span class="marker" style="${css};${wide}">${escapeText(text)}</span>`;
  }

  /** Stops of tabs, from the paragraph's own left edge (§17.3.1.38, tabs): place, how what follows is aligned, and its leader. */
  private tabsOf(properties: Properties, origin: number, hanging: number): object {
    const stops = (properties.held['tabs']?.children ?? [])
      .map((t) => attributesOf(t))
      .filter((t) => t['val'] !== 'clear')
      .map((t) => [twips(t['pos']) ?? 0, t['val'] ?? 'left', t['leader'] ?? 'none'] as const);
    if (hanging > origin) stops.push([hanging, 'left', 'none']);
    return { stops: stops.sort((a, b) => a[0] - b[0]), every: this.styles.tab };
  }

  /** Runs and what stands among them. */
  private inline(p: Element, run: Properties, rule: LineRule): Inline {
    const state: Inline = { html: '', sizes: [], tabs: false };
    const fields: Field[] = [];
    const hidden = (): boolean => fields.some((f) => !f.shows);
    const visit = (e: Element, style: Properties): void => {
      if (!NS.word.has(e.uri)) {
        if (e.local === 'AlternateContent') {
          const branch = branchOf(e);
          if (branch) visit(branch, style);
        } else if (/^(oMath|oMathPara)$/.test(e.local))
          state.html += `<span class="plate" data-plate="Equation">${escapeText(e.local === 'oMath' || e.children.length > 0 ? mathText(e) : '')}</span>`;
        return;
      }
      switch (e.local) {
        case 'r':
          this.run(e, style, rule, state, fields);
          return;
        case 'pPr':
        case 'del':
        case 'moveFrom':
          return;
        case 'fldSimple': {
          const code = attributeOf(e, 'instr') ?? '';
          const field = fieldOf(code);
          if (field) state.html += field;
          else e.children.forEach((c) => visit(c, style));
          return;
        }
        case 'drawing':
        case 'pict':
        case 'object':
          if (!hidden()) state.html += this.drawn(e);
          return;
        default:
          e.children.forEach((c) => visit(c, style));
      }
    };
    p.children.forEach((c) => visit(c, run));
    return state;
  }

  private drawn(e: Element): string {
    const { pack, pictures, own, theme } = this.text;
    return drawnMarkup(e, {
      part: this.part,
      ...{ pictures, own },
      theme: () => theme(this.part),
      likeness: (rid) => {
        const to = pack.relationships(this.part).find((r) => r.id === rid && !r.external);
        return to ? showable(pack.archive, pack.entry(to.target)) : null;
      },
      blocks: (holder) => this.blocks(holder.children),
    });
  }

  private run(r: Element, style: Properties, rule: LineRule, state: Inline, fields: Field[]): void {
    const properties = this.styles.ofRun(r, style);
    const css = runCss(properties, this.styles, rule);
    let html = '';
    for (const c of r.children) {
      if (c.local === 'fldChar') {
        const type = attributeOf(c, 'fldCharType');
        if (type === 'begin') fields.push({ code: '', shows: false, told: false });
        else if (type === 'separate' && fields.length > 0) {
          const last = fields.at(-1)!;
          const field = fieldOf(last.code);
          Object.assign(last, { shows: field === null, told: true });
          if (field) html += field;
        } else if (type === 'end') {
          const done = fields.pop();
          // Some are without a result.
          if (done && !done.told) html += fieldOf(done.code) ?? '';
        }
        continue;
      }
      if (c.local === 'instrText' && fields.length > 0) {
        fields.at(-1)!.code += c.text;
        continue;
      }
      if (fields.some((f) => !f.shows) || css === null) continue;
      html += this.inRun(c, state);
    }
    if (html === '') return;
    const font = this.styles.fontOf(properties);
    if (setIn(font).approximate) this.approximate.add(font);
    // What is only drawn is as high as it is.
    if (r.children.some((c) => !NO_LETTERS.has(c.local))) state.sizes.push(sizeOf(properties));
    state.html += `<span style="${css}">${html}</span>`;
  }

  private inRun(c: Element, state: Inline): string {
    switch (c.local) {
      case 't':
        return escapeText(c.text);
      case 'tab':
      case 'ptab':
        state.tabs = true;
        return `<i data-tab${c.local === 'ptab' ? `="${escapeXml(attributeOf(c, 'alignment') ?? 'left')}"` : ''}></i>`;
      case 'br': {
        const type = attributeOf(c, 'type');
        return type === 'page' || type === 'column' ? `<b data-break="${type}"></b>` : '<br>';
      }
      case 'cr':
        return '<br>';
      case 'noBreakHyphen':
        return '\u2011';
      case 'softHyphen':
        return '&shy;';
      case 'sym':
        return escapeText(
          plainSymbols(String.fromCharCode(Number.parseInt(attributeOf(c, 'char') ?? '2022', 16) || 0x2022)),
        );
      case 'pgNum':
        return fieldOf('PAGE')!;
      case 'footnoteReference':
      case 'endnoteReference':
        return this.reference(c, c.local === 'endnoteReference' ? 'endnote' : 'footnote');
      case 'footnoteRef':
      case 'endnoteRef':
        return this.mark;
      case 'drawing':
      case 'pict':
      case 'object':
        return this.drawn(c);
      case 'AlternateContent': {
        const branch = branchOf(c);
        return branch ? this.inRun(branch, state) : '';
      }
      case 'ruby':
        return c.children
          .filter((x) => x.local === 'rubyBase')
          .flatMap((x) => x.children)
          .flatMap((r) => r.children.map((x) => this.inRun(x, state)))
          .join('');
      default:
        return '';
    }
  }

  /** The sign of the note that is being written. */
  private mark = '';

  private reference(c: Element, kind: 'footnote' | 'endnote'): string {
    const id = attributeOf(c, 'id') ?? '';
    const note = this.notes.get(`${kind}s ${id}`);
    const name = this.text.pack.partFor(this.text.main, `${kind}s`);
    if (!note || !name) return '';
    const number = ++this.noteCount[kind];
    const sign = kind === 'footnote' ? String(number) : romanOf(number);
    const before = this.mark;
    this.mark = sign;
    const html = this.inPart(name, () => this.blocks(note.children));
    this.mark = before;
    const key = `${kind}${number}`;
    if (kind === 'footnote') this.noteMarkup.push(`<aside data-note="${key}">${html}</aside>`);
    else this.endNotes.push(html);
    return `<span class="reference"${kind === 'footnote' ? ` data-ref="${key}"` : ''}>${sign}</span>`;
  }

  /** What a table gives the paragraphs of a cell. */
  cell(cell: Element, { paragraph, run }: CellStyle): string {
    return this.blocks(cell.children, {
      paragraph: paragraph.reduce((all, e) => over(all, e), this.styles.paragraph),
      run: run.reduce((all, e) => over(all, e), this.styles.run),
    });
  }

  styleChain(id: string | undefined): readonly Element[] {
    return this.styles.chain('table', id);
  }

  get tablesAtMargin(): boolean {
    return this.styles.tablesAtMargin;
  }
}

const romanOf = (number: number): string =>
  ['', 'i', 'ii', 'iii', 'iv', 'v', 'vi', 'vii', 'viii', 'ix', 'x'][number] ?? String(number);

/** Elements of a run that have no letters of its size. */
const NO_LETTERS = new Set([
  'rPr',
  'drawing',
  'pict',
  'object',
  'AlternateContent',
  'fldChar',
  'instrText',
  'lastRenderedPageBreak',
]);

/** A field whose code or result is being read (§17.16.18, fldChar). */
interface Field {
  code: string;
  /** Is what stands in it its result, and to be shown? */
  shows: boolean;
  told: boolean;
}

interface Inline {
  html: string;
  sizes: number[];
  tabs: boolean;
}

/** A paragraph with all that its look takes from elsewhere. */
interface ParagraphLook {
  properties: Properties;
  run: Properties;
  styleId: string;
  list: { numId: string; ilvl: number } | null;
}

interface ParagraphPlace {
  set: ParagraphLook;
  before: ParagraphLook | null;
  next: ParagraphLook | null;
  number: number | undefined;
}

/** Pages that fields tell are known once they are laid out (§17.16.5, PAGE, NUMPAGES); null for all other fields. */
function fieldOf(code: string): string | null {
  const name = /^\s*(\w+)/.exec(code)?.[1]?.toUpperCase();
  if (name === 'PAGE') return '<span data-field="page">1</span>';
  if (name === 'NUMPAGES' || name === 'SECTIONPAGES') return '<span data-field="pages">1</span>';
  return null;
}

const mathText = (e: Element): string => (e.local === 't' ? e.text : e.children.map(mathText).join(''));

/** Space that is left to HTML (§17.3.1.33, beforeAutospacing): a line (from memory). */
const AUTOMATIC = 14;

const gapBefore = ({ properties: { said } }: ParagraphLook): number =>
  on(said['spacing']?.['beforeAutospacing']) ? AUTOMATIC : (twips(said['spacing']?.['before']) ?? 0);
const gapAfter = ({ properties: { said } }: ParagraphLook): number =>
  on(said['spacing']?.['afterAutospacing']) ? AUTOMATIC : (twips(said['spacing']?.['after']) ?? 0);
const on = (text: string | undefined): boolean => text !== undefined && !['0', 'false', 'off'].includes(text);

/**
 * From one paragraph to the next: the larger of the spaces behind the one and before the other, or both; none between those of
 * one style that ask for it (§17.3.1.9, contextualSpacing).
 */
function gapBetween(before: ParagraphLook | null, set: ParagraphLook, adds: boolean): number {
  if (!before) return gapBefore(set);
  const same = before.styleId === set.styleId;
  const after = same && isOn(before.properties, 'contextualSpacing') ? 0 : gapAfter(before);
  const above = same && isOn(set.properties, 'contextualSpacing') ? 0 : gapBefore(set);
  return adds ? after + above : Math.max(after, above);
}

const SIDES = ['top', 'right', 'bottom', 'left'] as const;

/** Borders of a paragraph (§17.3.1.24, pBdr): paragraphs with the same ones share them. */
function bordersOf(properties: Properties, before: ParagraphLook | null, next: ParagraphLook | null): string[] {
  const borders = properties.held['pBdr'];
  if (!borders) return [];
  const told = (e: Element | undefined): string =>
    (e?.children ?? []).map((c) => `${c.local} ${Object.values(c.attributes).join(' ')}`).join();
  const same = (other: ParagraphLook | null): boolean =>
    other !== null && told(other.properties.held['pBdr']) === told(borders);
  return SIDES.flatMap((side) => {
    const e = child(borders, side);
    const css = e && borderCss(attributesOf(e));
    if (!css || (side === 'top' && same(before)) || (side === 'bottom' && same(next))) return [];
    return [`border-${side}:${css}`, `padding-${side}:${n(Number(attributeOf(e, 'space') ?? 0) || 0)}pt`];
  });
}
