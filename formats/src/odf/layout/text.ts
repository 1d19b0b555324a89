import {
  FULL_SEAT,
  setIn,
  fileRoom,
  textBoxOf,
  trimNumber,
  type Anchor,
  type FloatPlace,
  type Frame,
  type ItemId,
  type SectionLayout,
} from '@gable/core';
import { laidMarkup } from '../../codec/laid';
import { likenessMarkup } from '../../codec/likeness';
import { FLOW_STYLES } from '../../flow/sheet';
import { plateMarkup, shapeMarkup } from '../../flow/shape-markup';
import { ancestor, child, type Element } from '../../xml/located';
import { escapeText, escapeXml } from '../../xml/splice';
import { anchorOf } from '../anchor';
import { is, lengthOf, Names, percentOf } from '../names';
import { mastersOf, type Master } from '../page-layout';
import { itemOf } from '../read-page';
import type { Styles } from '../styles';
import { TextStyles } from '../text-styles';
import { ListStyles, nextLabel, type ListLevel } from './lists';

const n2 = (v: number): string => trimNumber(v, 3);

/** A part of a text: its tree and how it is written. */
export interface TextPart {
  root: Element;
  text: string;
  styles: Styles;
}

export interface TextPicture {
  n: number;
  frame: Frame;
}

/** What a text is laid out from. */
export interface OpenText {
  content: TextPart;
  common: TextPart | null;
  /** The picture that stands in for an object; null where there is none that can be shown. */
  likeness(e: Element): Uint8Array | null;
  /** By the elements that they stand in. */
  pictures: ReadonlyMap<Element, TextPicture>;
  /** Names of shapes and text boxes, which bear them in the markup. */
  own: ReadonlyMap<Element, ItemId>;
  /** The numbers of its blocks, which places are counted by. */
  blocks: ReadonlyMap<Element, number>;
  /** Is the space behind a paragraph added to that before the next? Else the larger one holds. */
  addsSpaces: boolean;
}

/** Characters of a text that are laid out: the rest would only be waited for. */
const MAX_TEXT_CHARS = 6_000_000;
/** Letters of a text that says neither font nor size (common practice). */
const USUAL_FONT = 'Times New Roman';
const USUAL_SIZE = 12;
/** From one stop of a tab to the next (common practice). */
const USUAL_TAB = 35.4;

/**
 * A text document as the markup of a text (`SectionLayout`), for a browser that lays it out on pages. Pictures are hidden boxes
 * that bear their numbers.
 */
export const textMarkup = (text: OpenText): string => new TextMarkup(text).html();

/** Where a paragraph stands in a list: its level, what stands before it, and whether it is the first of its item. */
interface InList {
  levels: (at: number) => ListLevel | undefined;
  at: number;
  counts: number[];
  first: boolean;
}

class TextMarkup {
  private readonly css: TextStyles;
  private readonly lists: ListStyles;
  private readonly masters: ReadonlyMap<string, Master>;
  private master: Master;
  private readonly sections: string[] = [];
  private out: string[] = [];
  private notes: string[] = [];
  private readonly endNotes: string[] = [];
  private length = 0;
  private noteCount = 0;
  private part: TextPart;
  private number: number | null = null;
  /** The paragraph before ended its page. */
  private breaks: 'page' | 'column' | null = null;
  /** Space that is left behind the paragraph before; null behind anything else. */
  private behind: number | null = null;
  private styleBefore = '';
  private readonly headings: number[] = [];
  private readonly counted = new Map<string, number[]>();
  private readonly approximate = new Set<string>();

  constructor(private readonly text: OpenText) {
    const { content, common } = text;
    this.part = content;
    const roots = [...(common ? [common.root] : []), content.root];
    this.css = new TextStyles(roots);
    this.lists = new ListStyles(roots);
    const { masters, first } = mastersOf(common?.root);
    this.masters = masters;
    this.master = first;
  }

  html(): string {
    const body = child(child(this.text.content.root, 'body'), 'text');
    for (const e of body?.children ?? []) this.block(e, null);
    this.endSection();
    const last = this.sections.length - 1;
    if (this.endNotes.length > 0)
      this.sections[last] = this.sections[last]!.replace(
        '</main>',
        `<hr class="notes">${this.endNotes.join('')}</main>`,
      );
    const fonts = escapeXml(JSON.stringify([...this.approximate].sort()));
    return (
      `<!doctype html><meta charset="utf-8"><style>${FLOW_STYLES}body{font:${USUAL_SIZE}pt ${setIn(USUAL_FONT).css}}</style>` +
      `<body data-flow data-approximate="${fonts}">${this.sections.join('')}</body>`
    );
  }

  private put(html: string): void {
    this.length += html.length;
    this.out.push(html);
  }

  /** What was said since the last master page began, with the headers and footers of that. */
  private endSection(): void {
    const first = this.master;
    const next = this.masters.get(first.next ?? '') ?? first;
    const own = next !== first;
    const around = (kind: 'header' | 'footer', use: string, e: Element | undefined, { page }: Master): string => {
      if (!e || !this.text.common) return '';
      const { least, gap } = page[kind];
      const [above, below] = kind === 'header' ? [0, gap] : [gap, 0];
      return `<${kind} data-for="${use}"><div style="min-height:${n2(least)}pt;padding:${n2(above)}pt 0 ${n2(below)}pt">${this.inPart(this.text.common, () => this.inner(e))}</div></${kind}>`;
    };
    const both = (use: string, master: Master, isFirst: boolean): string =>
      around('header', use, (isFirst && master.firstHeader) || master.header, master) +
      around('footer', use, (isFirst && master.firstFooter) || master.footer, master);
    const layout = layoutOf(first);
    const told: SectionLayout = {
      ...layout,
      number: this.number,
      first: own || first.firstHeader !== undefined || first.firstFooter !== undefined,
      ...(own && { after: layoutOf(next) }),
    };
    const data = escapeXml(JSON.stringify(told));
    const notes = this.notes.splice(0).join('');
    this.sections.push(
      `<section data-section="${data}">${told.first ? both('first', first, true) : ''}${both('usual', next, false)}<main>${this.out.splice(0).join('')}</main>${notes}</section>`,
    );
    this.number = null;
    this.behind = null;
  }

  private inPart<T>(part: TextPart, make: () => T): T {
    const before = this.part;
    this.part = part;
    const made = make();
    this.part = before;
    return made;
  }

  /** What blocks within an element come to, apart from what is round it. */
  private inner(e: Element): string {
    const [out, behind, style, breaks] = [this.out, this.behind, this.styleBefore, this.breaks];
    [this.out, this.behind, this.styleBefore, this.breaks] = [[], null, '', null];
    for (const c of e.children) this.block(c, null);
    const html = this.out.join('');
    [this.out, this.behind, this.styleBefore, this.breaks] = [out, behind, style, breaks];
    return html;
  }

  private numberOf(e: Element): string {
    for (let at: Element | null = e; at && at.local !== 'text-box' && at.local !== 'table-cell'; at = at.parent) {
      const number = this.text.blocks.get(at);
      // What is in a block of several has no place of its own.
      if (number !== undefined) return ` data-block="${number}"${at === e ? '' : ' data-closed'}`;
    }
    return '';
  }

  private block(e: Element, list: InList | null): void {
    if (this.length > MAX_TEXT_CHARS) return;
    if (is(e, 'text', 'p', 'h')) this.paragraph(e, list);
    else if (is(e, 'text', 'list')) this.list(e, list);
    else if (is(e, 'table', 'table')) {
      this.put(this.table(e, this.behind ?? 0));
      this.behind = null;
    } else if (isDrawn(e)) this.put(`<div data-paragraph class="tied">${this.drawn(e)}</div>`);
    else if (
      is(e, 'text', 'section', 'index-body', 'index-title', 'numbered-paragraph') ||
      /-index$|^table-of-content$|^bibliography$/.test(e.local)
    )
      for (const c of e.children) this.block(c, null);
  }

  private list(e: Element, outer: InList | null): void {
    const own = new Names(e);
    const named = ancestor(e, (a) => is(a, 'text', 'list') && new Names(a).get(a, 'text:style-name') !== undefined);
    const style = own.get(e, 'text:style-name') ?? (named && new Names(named).get(named, 'text:style-name'));
    const goesOn = own.get(e, 'text:continue-numbering') === 'true' || own.get(e, 'text:continue-list') !== undefined;
    const key = style ?? '';
    const counts = outer ? outer.counts : goesOn ? (this.counted.get(key) ?? []) : [];
    if (!outer) this.counted.set(key, counts);
    const at = outer ? outer.at + 1 : 0;
    const levels = (i: number): ListLevel | undefined => this.lists.level(style, i);
    for (const item of e.children) {
      if (!is(item, 'text', 'list-item', 'list-header')) continue;
      const begins = is(item, 'text', 'list-item');
      const start = begins ? Number(new Names(item).get(item, 'text:start-value')) : NaN;
      if (start >= 0) counts[at] = start - 1;
      let first = begins;
      for (const c of item.children) {
        this.block(c, { levels, at, counts, first });
        if (is(c, 'text', 'p', 'h')) first = false;
      }
    }
  }

  private paragraph(e: Element, list: InList | null): void {
    const n = new Names(e);
    const style = n.get(e, 'text:style-name');
    const of = (name: string): string | undefined =>
      this.css.property('paragraph', style, 'paragraph-properties', name);
    const inBody = this.part === this.text.content && e.parent?.local === 'text';
    const master = inBody ? this.css.property('paragraph', style, null, 'style:master-page-name') : undefined;
    let breaks = inBody ? this.breaks : null;
    this.breaks = null;
    if (master && this.masters.has(master)) {
      if (this.out.length > 0) this.endSection();
      this.master = this.masters.get(master)!;
      this.number = Number(of('style:page-number')) || null;
      breaks = null;
    } else if (/^(page|column)$/.test(of('fo:break-before') ?? '') && inBody)
      breaks = of('fo:break-before') as 'page' | 'column';
    const after = of('fo:break-after');
    if (inBody && (after === 'page' || after === 'column')) this.breaks = after;

    const level = list?.levels(list.at);
    const margin = (side: 'left' | 'right' | 'top' | 'bottom'): number =>
      lengthOf(of(`fo:margin-${side}`)) ?? lengthOf(of('fo:margin')) ?? 0;
    const left = level ? level.left : margin('left');
    const indent = level ? level.indent : (lengthOf(of('fo:text-indent')) ?? 0);
    const same = of('style:contextual-spacing') === 'true' && this.styleBefore === style;
    const [top, before] = same ? [0, 0] : [margin('top'), this.behind ?? 0];
    const above = this.text.addsSpaces ? top + before : Math.max(top, before);
    this.behind = margin('bottom');
    this.styleBefore = style ?? '';

    const size = lengthOf(this.css.property('paragraph', style, 'text-properties', 'fo:font-size')) ?? USUAL_SIZE;
    const font = this.css.fontOf(style) || USUAL_FONT;
    const { line, approximate } = setIn(font);
    if (approximate) this.approximate.add(font);
    // Spaces that a paragraph begins with are none (ODF 1.2 Part 1 §6.1.2).
    const inner = this.flow(e).replace(/^ +/, '');
    const out = [
      this.css.css('paragraph', style).replaceAll('"', ''),
      `margin:${n2(above)}pt ${n2(margin('right'))}pt 0 ${n2(left)}pt`,
      `text-indent:${n2(indent)}pt`,
      `line-height:${lineOf(of, size, line)}`,
    ].filter(Boolean);
    const tabs = inner.includes('data-tab')
      ? ` data-tabs="${escapeXml(JSON.stringify(this.tabsOf(style, left)))}"`
      : '';
    const widow = Number(of('fo:widows') ?? 2) >= 2 || Number(of('fo:orphans') ?? 2) >= 2;
    const data = [
      this.numberOf(e),
      of('fo:keep-with-next') === 'always' ? ' data-keep' : '',
      of('fo:keep-together') === 'always' ? ' data-whole' : '',
      widow ? ' data-widow' : '',
      breaks ? ` data-break="${breaks}"` : '',
      tabs,
    ].join('');
    const label = this.label(e, n, list);
    const wide = indent < 0 ? `min-width:${n2(-indent)}pt` : 'padding-right:4pt';
    const marker = label === '' ? '' : `<span class="marker" style="${wide}">${escapeText(label)}</span>`;
    this.put(
      `<div data-paragraph${data} style="${out.join(';')}">${marker}${inner === '' && marker === '' ? '<br>' : inner}</div>`,
    );
  }

  /** The number or the bullet before a paragraph: of its list, or of the headings. */
  private label(e: Element, n: Names, list: InList | null): string {
    if (list) return list.first ? nextLabel(list.levels, list.at, list.counts) : '';
    if (!is(e, 'text', 'h') || this.part !== this.text.content) return '';
    const at = Number(n.get(e, 'text:outline-level') ?? 1) - 1;
    return nextLabel((i) => this.lists.outline[i], at, this.headings);
  }

  /** Stops of tabs (ODF 1.2 Part 1 §17.8, style:tab-stops); they count from where the paragraph begins. */
  private tabsOf(style: string | undefined, left: number): object {
    const held = this.css.held('paragraph', style, 'paragraph-properties', 'tab-stops');
    const stops = (held?.children ?? []).map((t) => {
      const n = new Names(t);
      const leader = n.get(t, 'style:leader-style');
      return [
        (lengthOf(n.get(t, 'style:position')) ?? 0) + left,
        n.get(t, 'style:type') === 'char' ? 'decimal' : (n.get(t, 'style:type') ?? 'left'),
        leader === 'dotted' ? 'dot' : leader && leader !== 'none' ? 'underscore' : 'none',
      ];
    });
    const every = lengthOf(this.css.property('paragraph', style, 'paragraph-properties', 'style:tab-stop-distance'));
    return { stops, every: every ?? USUAL_TAB };
  }

  /** Text and what stands in it, in its order; the text between elements means the same in HTML. */
  private flow(e: Element): string {
    let html = '';
    let at = e.openEnd;
    for (const c of e.children) {
      html += this.words(at, c.start) + this.inFlow(c);
      at = c.end;
    }
    return html + this.words(at, e.closeStart);
  }

  private words(from: number, to: number): string {
    return this.part.text
      .slice(from, Math.max(from, to))
      .replace(/<!\[CDATA\[([\s\S]*?)\]\]>/g, (_, t: string) => t.replaceAll('&', '&amp;').replaceAll('<', '&lt;'))
      .replace(/<[!?][\s\S]*?>/g, '')
      .replace(/\s+/g, ' ');
  }

  private inFlow(e: Element): string {
    const n = new Names(e);
    if (is(e, 'text', 'span'))
      return `<span style="${this.css.css('text', n.get(e, 'text:style-name')).replaceAll('"', '')}">${this.flow(e)}</span>`;
    if (is(e, 'text', 's')) return '&nbsp;'.repeat(Math.max(1, Math.min(200, Number(n.get(e, 'text:c') ?? 1) || 1)));
    if (is(e, 'text', 'tab')) return '<i data-tab></i>';
    if (is(e, 'text', 'line-break')) return '<br>';
    if (is(e, 'text', 'page-number')) return '<span data-field="page">1</span>';
    if (is(e, 'text', 'page-count')) return '<span data-field="pages">1</span>';
    if (is(e, 'text', 'soft-page-break')) return '';
    if (is(e, 'text', 'note')) return this.note(e, n);
    if (isDrawn(e)) return this.drawn(e);
    // Marks of changes and comments are no part of the text.
    if (is(e, 'office', 'annotation', 'annotation-end') || is(e, 'text', 'tracked-changes')) return '';
    return this.flow(e);
  }

  private note(e: Element, n: Names): string {
    const citation = child(e, 'note-citation');
    const body = child(e, 'note-body');
    const sign = citation ? this.flow(citation) : '';
    const html = body
      ? this.inner(body).replace(/(<div data-paragraph[^>]*>)/, `$1<sup class="sign">${sign}</sup> `)
      : '';
    if (n.get(e, 'text:note-class') === 'endnote') {
      this.endNotes.push(html);
      return `<sup class="sign">${sign}</sup>`;
    }
    const key = `note${++this.noteCount}`;
    this.notes.push(`<aside data-note="${key}">${html}</aside>`);
    return `<sup class="sign" data-ref="${key}">${sign}</sup>`;
  }

  /** @param above space that is left behind the paragraph before it */
  private table(e: Element, above = 0): string {
    const n = new Names(e);
    const columns: string[] = [];
    const [head, body]: [Element[], Element[]] = [[], []];
    const visit = (at: Element, rows: Element[]): void => {
      if (is(at, 'table', 'table-column')) {
        const name = n.get(at, 'table:style-name');
        const width = lengthOf(
          this.css.property('table-column', name, 'table-column-properties', 'style:column-width'),
        );
        const times = Math.min(64, Number(n.get(at, 'table:number-columns-repeated') ?? 1) || 1);
        for (let i = 0; i < times; i++) columns.push(`<col${width ? ` style="width:${width}pt"` : ''}>`);
      } else if (is(at, 'table', 'table-row')) rows.push(at);
      else if (is(at, 'table', 'table-header-rows')) at.children.forEach((c) => visit(c, head));
      else if (/^table-(columns|rows|header-columns|row-group|column-group)$/.test(at.local))
        at.children.forEach((c) => visit(c, rows));
    };
    e.children.forEach((c) => visit(c, body));
    const rowsOf = (rows: readonly Element[]): string =>
      rows
        .map((row) => {
          const cells = row.children.filter((c) => is(c, 'table', 'table-cell')).map((cell) => this.cell(cell, n));
          const name = n.get(row, 'table:style-name');
          const height = lengthOf(
            this.css.property('table-row', name, 'table-row-properties', 'style:row-height') ??
              this.css.property('table-row', name, 'table-row-properties', 'style:min-row-height'),
          );
          return `<tr${height ? ` style="height:${n2(height)}pt"` : ''}>${cells.join('')}</tr>`;
        })
        .join('');
    const look = this.css.css('table', n.get(e, 'table:style-name')).replaceAll('"', '');
    const own =
      lengthOf(this.css.property('table', n.get(e, 'table:style-name'), 'table-properties', 'fo:margin-top')) ?? 0;
    const thead = head.length > 0 ? `<thead>${rowsOf(head)}</thead>` : '';
    const fixed = columns.some((c) => c.includes('width')) ? ';table-layout:fixed' : '';
    // Where nothing is said it is as wide as its column (§20.137, table:align).
    const wide = /(^|;)width:/.test(look) ? '' : ';width:100%';
    return `<table${this.numberOf(e)} style="${look}${wide}${fixed};margin-top:${n2(Math.max(above, own))}pt"><colgroup>${columns.join('')}</colgroup>${thead}<tbody>${rowsOf(body)}</tbody></table>`;
  }

  private cell(cell: Element, n: Names): string {
    const span = (name: string, html: string): string => {
      const times = Number(n.get(cell, name) ?? 1);
      return times > 1 && times < 1000 ? ` ${html}="${times}"` : '';
    };
    const css = this.css.css('table-cell', n.get(cell, 'table:style-name')).replaceAll('"', '');
    const spans = span('table:number-columns-spanned', 'colspan') + span('table:number-rows-spanned', 'rowspan');
    return `<td${spans} style="${css}">${this.inner(cell)}</td>`;
  }

  /** A picture, a box of text, or what else is drawn: in its line, or beside the text. */
  private drawn(e: Element): string {
    if (is(e, 'draw', 'a')) return e.children.map((c) => this.drawn(c)).join('');
    const picture = this.text.pictures.get(e);
    if (!picture && is(e, 'draw', 'g')) return e.children.map((c) => this.drawn(c)).join('');
    const names = new Names(e);
    const { styles } = this.part;
    const frame = picture && { ...picture.frame, box: fileRoom(picture.frame).box };
    const item = picture ? null : itemOf(e, { names, styles, part: '', words: null }, 'shape');
    const box = frame?.box ?? item?.at.box;
    if (!box || !(box.width > 0) || !(box.height > 0)) return '';
    const content = child(e, 'text-box');
    const grows = content !== undefined && lengthOf(names.get(e, 'svg:height')) === null;
    const size = `width:${n2(box.width)}pt;${grows ? 'min-height' : 'height'}:${n2(box.height)}pt`;
    const inner = picture ? '' : this.contentOf(e, content, item, box, grows);
    const own = this.text.own.get(e);
    const named = picture ? ` data-picture="${picture.n}"` : own === undefined ? '' : ` data-own="${own}"`;
    const group = ancestor(e, (a) => is(a, 'draw', 'g'));
    const holder = group ?? e;
    const hn = group ? new Names(group) : names;
    const as = hn.get(holder, 'text:anchor-type') ?? 'paragraph';
    if (frame ? frame.flow === 'inline' : as === 'as-char')
      return `<span class="inline" style="${size};vertical-align:bottom"${named}>${inner}</span>`;
    const style = hn.get(holder, 'draw:style-name') ?? names.get(e, 'draw:style-name');
    const site = {
      part: '',
      element: e,
      image: null,
      names,
      style,
      styles,
      inText: true,
      frameFlow: 'floating' as const,
    };
    const anchor: Anchor = (as === 'page' ? undefined : frame?.anchor) ?? anchorOf(site, as)!;
    const place: FloatPlace = {
      ...{ x: box.x, y: box.y, width: box.width, height: box.height },
      anchor,
      order: (Number(names.get(e, 'draw:z-index')) || 0) * 1024,
    };
    const page = as === 'page' ? ` data-on-page="${Number(hn.get(holder, 'text:anchor-page-number')) || 1}"` : '';
    const added = laidMarkup(names.get(e, 'draw:name'), anchor.behind);
    return `<span class="float" style="${size}" data-float="${escapeXml(JSON.stringify(place))}"${page}${named}${added}>${inner}</span>`;
  }

  /** The form of a shape, and the words in it. */
  private contentOf(
    e: Element,
    content: Element | undefined,
    item: ReturnType<typeof itemOf>,
    box: { width: number; height: number },
    grows: boolean,
  ): string {
    if (!item || item.kind !== 'framed') {
      const { look } = item?.kind === 'foreign' ? item : {};
      const line = look && shapeMarkup({ at: item!.at, ...look, seat: FULL_SEAT, fill: null });
      const table = e.children.find((c) => is(c, 'table', 'table'));
      return (
        line ??
        (table
          ? this.table(table)
          : (likenessMarkup(this.text.likeness(e), nameOf(e)) ?? plateMarkup(nameOf(e), box.width, box.height)))
      );
    }
    const form = shapeMarkup(item);
    const names = new Names(e);
    const property = (name: string): string | undefined =>
      this.part.styles.property(names.get(e, 'draw:style-name'), name);
    const border = content && /^[\w#. ]+$/.exec(property('fo:border') ?? '')?.[0];
    const isFilled = property('draw:fill') !== undefined;
    const ground = content && !isFilled && /^#[0-9a-f]{6}$/i.exec(property('fo:background-color') ?? '')?.[0];
    const pad = lengthOf(property('fo:padding')) ?? (content && border ? 4 : 0);
    const look = `${border ? `;border:${border}` : ''}${ground ? `;background:${ground}` : ''}`;
    const align =
      { middle: 'center', bottom: 'flex-end' }[property('draw:textarea-vertical-align') ?? ''] ??
      (content ? 'flex-start' : 'center');
    const { x, y, width, height } = textBoxOf(box, item);
    const padding = [y, box.width - x - width, box.height - y - height, x].map((v) => `${n2(pad + v)}pt`).join(' ');
    const words = content ?? (e.children.some((c) => is(c, 'text', 'p', 'list')) ? e : undefined);
    const inside = words
      ? `<span class="words" style="${grows ? 'position:relative;inset:auto;' : ''}padding:${padding};justify-content:${align}${look}"><span data-box>${this.inner(words)}</span></span>`
      : '';
    return `${form}${inside}`;
  }
}

const isDrawn = (e: Element): boolean =>
  is(
    e,
    'draw',
    'frame',
    'g',
    'a',
    'custom-shape',
    'rect',
    'circle',
    'ellipse',
    'path',
    'polygon',
    'polyline',
    'line',
    'connector',
    'control',
    'regular-polygon',
    'caption',
    'measure',
  );

const nameOf = (e: Element): string =>
  e.children.some((c) => is(c, 'draw', 'object'))
    ? 'Object'
    : is(e, 'draw', 'control')
      ? 'Field'
      : e.children.some((c) => is(c, 'draw', 'image'))
        ? 'Picture'
        : 'Drawing';

/** A page of a text with the room of its header and its footer. */
function layoutOf({ page }: Master): SectionLayout {
  const { width, height, margins, columns, gap } = page;
  const room = width - margins.left - margins.right;
  const each = (room - gap * (columns - 1)) / columns;
  return {
    ...{ width, height, margins },
    header: margins.top,
    footer: margins.bottom,
    columns: Array.from({ length: columns }, (_, i) => ({ width: each, gap: i < columns - 1 ? gap : 0 })),
    start: 'page',
    number: null,
    first: false,
    even: false,
  };
}

/** How high lines are, as CSS has it: a share is one of the font's own lines (§20.204, fo:line-height). */
function lineOf(of: (name: string) => string | undefined, size: number, line: number): string {
  const said = of('fo:line-height');
  const exactly = lengthOf(said);
  if (exactly !== null) return `${n2(exactly)}pt`;
  const least = lengthOf(of('style:line-height-at-least'));
  if (least !== null) return `${n2(Math.max(least, size * line))}pt`;
  return n2((percentOf(said) ?? 1) * line);
}
