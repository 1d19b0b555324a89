import { fileRoom, type Frame } from '@gable/core';
import { ancestor, child, type Element } from '../xml/located';
import { is, lengthOf, Names } from './names';
import { mastersOf, type Master } from './page-layout';
import type { Styles } from './styles';
import { TextStyles } from './text-styles';

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

/** Characters of a text that are laid out: the rest would only be waited for. */
const MAX_TEXT_CHARS = 4_000_000;

/**
 * A text document as HTML, page by page as far as the file tells where they end: roughly as readers lay it out, near enough
 * to see where pictures stand. Pictures are hidden boxes that bear their numbers in `data-picture`.
 * @param pictures by the element they stand in
 */
export function textMarkup(
  content: TextPart,
  common: TextPart | null,
  pictures: ReadonlyMap<Element, TextPicture>,
): string {
  return new TextPages(content, common, pictures).html();
}

class TextPages {
  private readonly css: TextStyles;
  private readonly masters: ReadonlyMap<string, Master>;
  private readonly ordered: ReadonlySet<string>;
  private readonly pages: string[] = [];
  private master: Master;
  private out: string[] = [];
  private length = 0;
  private notes: string[] = [];
  private part: TextPart;

  constructor(
    private readonly content: TextPart,
    private readonly common: TextPart | null,
    private readonly pictures: ReadonlyMap<Element, TextPicture>,
  ) {
    this.part = content;
    this.css = new TextStyles([...(common ? [common.root] : []), content.root]);
    const { masters, first } = mastersOf(common?.root);
    this.masters = masters;
    this.master = first;
    this.ordered = new Set(
      [common?.root, content.root]
        .flatMap((r) => [child(r, 'styles'), child(r, 'automatic-styles')])
        .flatMap((l) => l?.children ?? [])
        .filter((e) => e.local === 'list-style' && e.children[0]?.local === 'list-level-style-number')
        .flatMap((e) => new Names(e).get(e, 'style:name') ?? []),
    );
  }

  html(): string {
    const body = child(child(this.content.root, 'body'), 'text');
    for (const e of body?.children ?? []) this.block(e);
    this.endPage();
    return `<!doctype html><meta charset="utf-8"><style>${SHEET}</style>${this.pages.join('')}`;
  }

  private put(html: string): void {
    this.length += html.length;
    this.out.push(html);
  }

  /** A page with its header and footer; the next one follows the master that this one names. */
  private endPage(): void {
    const { page, next, ...master } = this.master;
    const first = this.pages.length === 0;
    const header = (first && master.firstHeader) || master.header;
    const footer = (first && master.firstFooter) || master.footer;
    const body = this.out.join('') + (this.notes.length > 0 ? `<hr>${this.notes.join('')}` : '');
    this.out = [];
    this.notes = [];
    const around = (e: Element | undefined): string => {
      if (!e || !this.common) return '';
      this.part = this.common;
      const html = this.inner(e);
      this.part = this.content;
      return html;
    };
    const { top, right, bottom, left } = page.margins;
    const number = this.pages.length + 1;
    this.pages.push(
      `<section data-page style="width:${page.width}pt;min-height:${page.height}pt;padding:${top}pt ${right}pt ${bottom}pt ${left}pt">` +
        `<header>${around(header)}</header><main>${body}</main><footer>${around(footer)}</footer></section>`.replaceAll(
          PAGE_NUMBER,
          String(number),
        ),
    );
    this.master = this.masters.get(next ?? '') ?? this.master;
  }

  /** What blocks within an element come to, apart from the page. */
  private inner(e: Element): string {
    const kept = this.out;
    this.out = [];
    for (const c of e.children) this.block(c);
    const html = this.out.join('');
    this.out = kept;
    return html;
  }

  private block(e: Element): void {
    if (this.length > MAX_TEXT_CHARS) return;
    if (is(e, 'text', 'p', 'h')) this.paragraph(e);
    else if (is(e, 'text', 'list')) this.list(e);
    else if (is(e, 'table', 'table')) this.table(e);
    else if (is(e, 'text', 'soft-page-break')) this.turn(e);
    else if (is(e, 'draw', 'frame', 'g', 'custom-shape', 'rect', 'circle', 'ellipse', 'path', 'polygon'))
      this.put(this.drawn(e));
    else if (
      is(e, 'text', 'section', 'index-body', 'index-title') ||
      /-index$|^table-of-content$|^bibliography$/.test(e.local)
    )
      for (const c of e.children) this.block(c);
  }

  /** A page ends only where nothing is open round the place. */
  private turn(e: Element): void {
    if (this.part === this.content && e.parent?.local === 'text') this.endPage();
  }

  private paragraph(e: Element): void {
    const n = new Names(e);
    const style = n.get(e, 'text:style-name');
    const master = this.css.property('paragraph', style, null, 'style:master-page-name');
    const before = this.css.property('paragraph', style, 'paragraph-properties', 'fo:break-before');
    if (
      this.part === this.content &&
      e.parent?.local === 'text' &&
      (before === 'page' || this.masters.has(master ?? ''))
    ) {
      if (this.out.length > 0) this.endPage();
      this.master = this.masters.get(master ?? '') ?? this.master;
    }
    const inner = this.flow(e);
    const css = this.css.css('paragraph', style);
    this.put(`<div data-paragraph style="${css.replaceAll('"', '')}">${inner === '' ? '<br>' : inner}</div>`);
    // A page that ends within a paragraph ends after it here.
    if (e.children.some((c) => is(c, 'text', 'soft-page-break'))) this.turn(e);
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
      .replace(/<[!?][\s\S]*?>/g, '');
  }

  private inFlow(e: Element): string {
    const n = new Names(e);
    if (is(e, 'text', 'span'))
      return `<span style="${this.css.css('text', n.get(e, 'text:style-name')).replaceAll('"', '')}">${this.flow(e)}</span>`;
    if (is(e, 'text', 's')) return '&nbsp;'.repeat(Math.max(1, Math.min(200, Number(n.get(e, 'text:c') ?? 1) || 1)));
    if (is(e, 'text', 'tab')) return '<i class="tab"></i>';
    if (is(e, 'text', 'line-break')) return '<br>';
    if (is(e, 'text', 'page-number')) return PAGE_NUMBER;
    if (is(e, 'text', 'note')) {
      const citation = child(e, 'note-citation');
      const mark = citation ? `<sup>${this.flow(citation)}</sup>` : '';
      const body = child(e, 'note-body');
      if (body) this.notes.push(`<div class="note">${mark}<div>${this.inner(body)}</div></div>`);
      return mark;
    }
    if (is(e, 'draw', 'frame', 'g', 'custom-shape', 'rect', 'circle', 'ellipse', 'path', 'polygon'))
      return this.drawn(e);
    // Marks of changes and comments are no part of the text.
    if (is(e, 'office', 'annotation', 'annotation-end') || is(e, 'text', 'tracked-changes')) return '';
    return this.flow(e);
  }

  private list(e: Element): void {
    const named = ancestor(e, (a) => is(a, 'text', 'list') && new Names(a).get(a, 'text:style-name') !== undefined);
    const own = new Names(e).get(e, 'text:style-name') ?? (named && new Names(named).get(named, 'text:style-name'));
    const tag = this.ordered.has(own ?? '') ? 'ol' : 'ul';
    this.put(`<${tag}>`);
    for (const item of e.children)
      if (is(item, 'text', 'list-item', 'list-header')) this.put(`<li>${this.inner(item)}</li>`);
    this.put(`</${tag}>`);
  }

  private table(e: Element): void {
    const n = new Names(e);
    this.put(`<table style="${this.css.css('table', n.get(e, 'table:style-name')).replaceAll('"', '')}">`);
    const columns: string[] = [];
    const rows: Element[] = [];
    const visit = (at: Element): void => {
      if (is(at, 'table', 'table-column')) {
        const name = n.get(at, 'table:style-name');
        const width = lengthOf(
          this.css.property('table-column', name, 'table-column-properties', 'style:column-width'),
        );
        const times = Math.min(64, Number(n.get(at, 'table:number-columns-repeated') ?? 1) || 1);
        for (let i = 0; i < times; i++) columns.push(`<col${width ? ` style="width:${width}pt"` : ''}>`);
      } else if (is(at, 'table', 'table-row')) rows.push(at);
      else if (/^table-(columns|rows|header-columns|header-rows|row-group|column-group)$/.test(at.local))
        at.children.forEach(visit);
    };
    e.children.forEach(visit);
    this.put(columns.join(''));
    for (const row of rows) {
      this.put('<tr>');
      for (const cell of row.children) {
        if (!is(cell, 'table', 'table-cell')) continue;
        const span = (name: string, html: string): string => {
          const times = Number(n.get(cell, name) ?? 1);
          return times > 1 && times < 1000 ? ` ${html}="${times}"` : '';
        };
        const css = this.css.css('table-cell', n.get(cell, 'table:style-name')).replaceAll('"', '');
        const spans = span('table:number-columns-spanned', 'colspan') + span('table:number-rows-spanned', 'rowspan');
        this.put(`<td${spans} style="${css}">${this.inner(cell)}</td>`);
      }
      this.put('</tr>');
    }
    this.put('</table>');
  }

  /** A picture, a box of text, or what else is drawn, where its anchor and its wrapping put it. */
  private drawn(e: Element): string {
    const picture = this.pictures.get(e);
    const n = new Names(e);
    const box = child(e, 'text-box');
    if (!picture && is(e, 'draw', 'g')) return e.children.map((c) => this.drawn(c)).join('');
    const frame = picture && { ...picture.frame, box: fileRoom(picture.frame).box };
    const width = frame?.box.width ?? lengthOf(n.get(e, 'svg:width'));
    const least = box && lengthOf(new Names(box).get(box, 'fo:min-height'));
    const height = frame?.box.height ?? lengthOf(n.get(e, 'svg:height')) ?? least;
    if (!width || !height) return '';
    const place = this.placed(e, n, width, frame);
    const size = `width:${width}pt;${picture || !box ? 'height' : 'min-height'}:${height}pt`;
    if (picture) return `<span data-picture="${picture.n}" style="${size};${place}"></span>`;
    const style = n.get(e, 'draw:style-name');
    const property = (name: string): string | undefined => this.part.styles.property(style, name);
    const fill = /^#[0-9a-f]{6}$/i.exec(property('fo:background-color') ?? property('draw:fill-color') ?? '')?.[0];
    const filled = box
      ? property('draw:fill') !== 'none' && fill
      : property('draw:fill') !== 'none' && (fill ?? '#dddddd');
    const border = box && /^[\w#. ]+$/.exec(property('fo:border') ?? '')?.[0];
    const look = `${filled ? `;background:${filled}` : ''}${border ? `;border:${border};padding:4pt` : ''}`;
    // An image that is no picture of ours has only its room.
    return `<span class="box" style="${size};${place}${look}">${box ? this.inner(box) : e.children.some((c) => is(c, 'draw', 'image')) ? '' : this.inner(e)}</span>`;
  }

  private placed(e: Element, n: Names, width: number, frame: Frame | undefined): string {
    const anchor = n.get(e, 'text:anchor-type') ?? 'paragraph';
    if (frame ? frame.flow === 'inline' : anchor === 'as-char') return 'display:inline-block;vertical-align:bottom';
    const { styles } = this.part;
    const style = n.get(e, 'draw:style-name');
    const { page } = this.master;
    const { left: margin } = page.margins;
    const column = page.width - margin - page.margins.right;
    const across = styles.property(style, 'style:horizontal-pos') ?? 'from-left';
    const down = styles.property(style, 'style:vertical-pos') ?? 'from-top';
    const onPage = anchor === 'page' || /^page$/.test(styles.property(style, 'style:horizontal-rel') ?? '');
    const given = {
      x: frame?.box.x ?? lengthOf(n.get(e, 'svg:x')) ?? 0,
      y: frame?.box.y ?? lengthOf(n.get(e, 'svg:y')) ?? 0,
    };
    const room = onPage ? page.width : column;
    const from =
      across === 'center' ? (room - width) / 2 : across === 'right' ? room - width : across === 'left' ? 0 : given.x;
    const x = from - (onPage ? margin : 0);
    const y = down === 'from-top' ? given.y : 0;
    if (anchor === 'page') return `position:absolute;left:${x + margin}pt;top:${y}pt`;
    const wrap = styles.property(style, 'style:wrap') ?? 'none';
    if (wrap === 'run-through' || ancestor(e, (a) => is(a, 'draw', 'g', 'text-box')))
      return `position:absolute;left:${x}pt;top:${y}pt`;
    if (wrap === 'none') return `display:block;margin:${Math.max(0, y)}pt 0 6pt ${x}pt`;
    const left = x + width / 2 <= column / 2;
    const free = column - x - width;
    return left ? `float:left;margin:${y}pt 9pt 6pt ${x}pt` : `float:right;margin:${y}pt ${free}pt 6pt 9pt`;
  }
}

/** Stands where the number of the page goes until it is known. */
const PAGE_NUMBER = '\ue001';

const SHEET = `body{margin:24px;background:transparent}section{box-sizing:border-box;position:relative;margin:0 auto 24px;background:#fff;color:#000;box-shadow:0 1px 8px rgb(34 48 47/22%);display:flex;flex-direction:column;font:12pt serif}main{flex:1}main::after{content:'';display:block;clear:both}[data-paragraph]{position:relative;white-space:pre-wrap;overflow-wrap:break-word}table{border-collapse:collapse;table-layout:fixed}td{vertical-align:top;padding:0}ul,ol{margin:0;padding-left:24pt}.tab{display:inline-block;width:2.5em}.box{box-sizing:border-box;display:block;overflow:hidden}.note{display:flex;gap:4pt;font-size:10pt}hr{width:30%;margin:12pt 0 4pt;border:0;border-top:.5pt solid #555}[data-picture]{visibility:hidden!important}`;
