import { floatBox, stretchesOf, type FloatPlace, type Kept, type PageRoom, type SectionLayout } from '@gable/core/flow';
import { layTabs } from './tabs';
import { parted, splitBlock } from './split';
import type { Spot } from './told';

/** CSS pixels in a point. */
const PX = 4 / 3;
/** Blocks that are put on a page before it is asked which of them fit. */
const AT_ONCE = 24;
/** So many pages at most: a text has an end. */
const MOST_PAGES = 3000;
/** Text runs along an outline in steps of so many points. */
const STEP = 4;
/** Columns are as high as each other up to so many CSS pixels, where no more than so many blocks are left for them. */
const EVEN = 1;
const MOST_EVENED = 400;
/** Points that a line may reach over what it keeps away from. */
const TOUCH = 0.5;
/** What is beside the text may move the paragraph that it is tied to: it is asked again so often. */
const SETTLES = 3;

interface Page {
  element: HTMLElement;
  layout: SectionLayout;
  /** As it is counted. */
  number: number;
  /** Where its text begins and ends, from its top. CSS pixels. */
  top: number;
  bottom: number;
  kept: KeptOnPage[];
  notes: HTMLElement | null;
}

/** What text keeps away from, from the corner of its page. Points. */
type KeptOnPage = Kept & { of: HTMLElement };

interface Column {
  page: Page;
  area: HTMLElement;
  /** From the page's left edge, in points. */
  x: number;
  width: number;
}

const section = (e: Element): SectionLayout => JSON.parse((e as HTMLElement).dataset['section']!) as SectionLayout;
const rectOf = (e: Element): DOMRect => e.getBoundingClientRect();
const isText = (e: Element): e is HTMLElement => e.matches('[data-paragraph]');

/** Is asked between pages: what has been laid out can be shown. */
export type Pause = (pages: readonly HTMLElement[]) => Promise<void> | undefined;

/**
 * Lays a text out on pages (`SectionLayout`): sections, columns, headers and footers, notes, what is beside the text, and breaks
 * where pages are full.
 * @param source the markup; its blocks are taken out of it
 * @param host where the pages are put
 */
export async function paginate(source: HTMLElement, host: HTMLElement, pause: Pause): Promise<Paginated> {
  const paginator = new Paginator(host, pause);
  const sections = [...source.querySelectorAll(':scope > section[data-section]')];
  for (const [i, e] of sections.entries()) {
    const next = sections[i + 1];
    await paginator.section(e, next !== undefined && goesOnFrom(section(e), section(next)));
  }
  paginator.end();
  return { pages: paginator.pages.map((p) => p.element), oneSided: paginator.oneSided };
}

/** Does a section go on below another on the same page? */
const goesOnFrom = (above: SectionLayout, { start, width, height }: SectionLayout): boolean =>
  start === 'continuous' && above.width === width && above.height === height;

/** Pages with what is on them. */
interface Paginated {
  pages: HTMLElement[];
  /** Does text somewhere run on one side only of what it would run round on both? */
  oneSided: boolean;
}

class Paginator {
  readonly pages: Page[] = [];
  oneSided = false;
  private column: Column | null = null;
  private columns: Column[] = [];
  /** Where the present section's text begins on its page, from the top. CSS pixels. */
  private from = 0;
  private sectionElement!: Element;
  private layout!: SectionLayout;
  private isFirstOfSection = true;
  /** Was the present column begun because the one before was full? */
  private natural = false;
  /** What is left of a section whose columns are to be as high as each other, as its last page begins. */
  private last: { page: Page; from: number; blocks: HTMLElement[] } | null = null;
  private evens = false;
  /** While columns are tried: how far down they may go, in CSS pixels, and whether that was too little. */
  private tried: { bottom: number; full: boolean } | null = null;
  private notes = new Map<string, Element>();
  private readonly onPages = new Map<number, { element: HTMLElement; tie: HTMLElement }[]>();

  constructor(
    private readonly host: HTMLElement,
    private readonly pause: Pause,
  ) {}

  /** @param evens another section goes on below it, so that its columns end at the same height (§17.6.22, continuous) */
  async section(e: Element, evens: boolean): Promise<void> {
    this.sectionElement = e;
    const layout = section(e);
    const goesOn = this.column !== null && goesOnFrom(this.layout, layout);
    this.layout = layout;
    this.evens = evens && layout.columns.length > 1;
    this.last = null;
    this.isFirstOfSection = !goesOn;
    this.takeThoseOnPages(e);
    for (const note of e.querySelectorAll('aside[data-note]'))
      this.notes.set((note as HTMLElement).dataset['note']!, note);
    if (goesOn) this.continueOn(this.column!.page);
    else {
      this.newPage();
      const odd = this.pages.at(-1)!.number % 2 === 1;
      if ((layout.start === 'even' && odd) || (layout.start === 'odd' && !odd)) this.newPage();
    }
    const main = e.querySelector(':scope > main')!;
    await this.fill([...main.children] as HTMLElement[]);
    if (this.evens) await this.even();
  }

  /** Columns of the last page of a section that end as high as can be. */
  private async even(): Promise<void> {
    const { last } = this;
    this.evens = false;
    if (!last || this.column!.page !== last.page || last.blocks.some((b) => b.querySelector('[data-break]'))) return;
    const { page, from, blocks } = last;
    const tries = async (height: number): Promise<boolean> => {
      this.clear();
      this.columnsOn(page, from);
      this.tried = { bottom: from + height, full: false };
      await this.fill(blocks.map((b) => b.cloneNode(true) as HTMLElement));
      const { full } = this.tried;
      this.tried = null;
      return !full;
    };
    let [least, most] = [0, page.bottom - from];
    while (most - least > EVEN) {
      const middle = (least + most) / 2;
      if (await tries(middle)) most = middle;
      else least = middle;
    }
    await tries(most);
  }

  /** Takes what is in the present columns off their page. */
  private clear(): void {
    const areas = this.columns.map((c) => c.area);
    const { page } = this.column!;
    for (const [float, { block }] of tied) {
      if (!areas.some((a) => a.contains(block))) continue;
      float.remove();
      page.kept = page.kept.filter((k) => k.of !== float);
      tied.delete(float);
    }
    for (const area of areas) {
      this.withoutNotesOf(page, area);
      area.remove();
    }
  }

  /** What is tied to a page, and not to words, waits for that page. */
  private takeThoseOnPages(e: Element): void {
    for (const element of e.querySelectorAll<HTMLElement>('[data-on-page]')) {
      const number = Number(element.dataset['onPage']);
      const tie = document.createElement('div');
      tie.dataset['paragraph'] = '';
      tie.className = 'tied';
      const holder = element.closest('.tied');
      tie.append(element);
      if (holder && !holder.querySelector('[data-float]')) holder.remove();
      this.onPages.set(number, [...(this.onPages.get(number) ?? []), { element, tie }]);
    }
  }

  /** The columns of another section, below what is on a page. */
  private continueOn(page: Page): void {
    const lowest = this.columns.reduce((most, c) => Math.max(most, lastBottom(c)), this.from);
    page.layout = { ...page.layout, columns: this.layout.columns };
    this.columnsOn(page, lowest);
  }

  private newPage(): void {
    const layout = this.isFirstOfSection ? this.layout : (this.layout.after ?? this.layout);
    const element = document.createElement('section');
    element.className = 'page';
    element.dataset['page'] = '';
    element.style.width = `${layout.width}pt`;
    element.style.height = `${layout.height}pt`;
    this.host.append(element);
    const last = this.pages.at(-1);
    const first = this.isFirstOfSection;
    const number = first && layout.number !== null ? layout.number : (last?.number ?? 0) + 1;
    const page: Page = { element, layout, number, top: 0, bottom: 0, kept: [], notes: null };
    this.pages.push(page);
    const use = first && this.layout.first ? 'first' : layout.even && number % 2 === 0 ? 'even' : 'usual';
    const { margins } = layout;
    const header = this.around(page, 'header', use);
    const footer = this.around(page, 'footer', use);
    const height = layout.height * PX;
    page.top = Math.max(margins.top * PX, header ? layout.header * PX + rectOf(header).height : 0);
    page.bottom = Math.min(
      height - margins.bottom * PX,
      footer ? height - layout.footer * PX - rectOf(footer).height : height,
    );
    this.isFirstOfSection = false;
    this.columnsOn(page, page.top);
    const columns = this.columns.map(({ x, width }) => ({ x: x * PX, width: width * PX }));
    element.dataset['columns'] = JSON.stringify(
      columns.map((c) => ({ ...c, y: page.top, height: page.bottom - page.top }) satisfies Spot),
    );
    for (const float of this.onPages.get(this.pages.length) ?? []) {
      this.column!.area.append(float.tie);
      this.place(float.element, float.tie, this.column!);
      float.tie.remove();
    }
  }

  /** A header or a footer of a page, with what floats in it. */
  private around(page: Page, kind: 'header' | 'footer', use: string): HTMLElement | null {
    const source = this.sectionElement.querySelector(`:scope > ${kind}[data-for="${use}"]`);
    if (!source) return null;
    const { layout, element } = page;
    const { margins } = layout;
    const area = document.createElement('div');
    area.className = 'area';
    area.style.left = `${margins.left}pt`;
    area.style.width = `${layout.width - margins.left - margins.right}pt`;
    area.style[kind === 'header' ? 'top' : 'bottom'] = `${layout[kind]}pt`;
    area.append(...[...source.cloneNode(true).childNodes]);
    element.append(area);
    for (const field of area.querySelectorAll<HTMLElement>('[data-field="page"]'))
      field.textContent = String(page.number);
    const column = { page, area, x: margins.left, width: layout.width - margins.left - margins.right };
    for (const block of [...area.children] as HTMLElement[]) this.settle(block, column);
    return area;
  }

  private columnsOn(page: Page, top: number): void {
    this.from = top;
    let x = page.layout.margins.left;
    this.columns = page.layout.columns.map(({ width, gap }) => {
      const area = document.createElement('div');
      area.className = 'area';
      area.style.left = `${x}pt`;
      area.style.top = `${top}px`;
      area.style.width = `${width}pt`;
      page.element.append(area);
      const column = { page, area, x, width };
      x += width + gap;
      return column;
    });
    this.column = this.columns[0]!;
    this.keepAway(this.column);
  }

  private nextColumn(): void {
    const next = this.columns[this.columns.indexOf(this.column!) + 1];
    if (next) {
      this.column = next;
      this.keepAway(next);
    } else if (this.tried) this.tried.full = true;
    else this.newPage();
  }

  /** Lays blocks out, column by column. */
  private async fill(queue: HTMLElement[]): Promise<void> {
    let at = 0;
    this.natural = false;
    while (at < queue.length && this.pages.length < MOST_PAGES) {
      const block = queue[at]!;
      const isEmpty = this.isEmpty();
      this.remember(queue, at);
      const kind = block.dataset['break'];
      if (kind !== undefined) {
        delete block.dataset['break'];
        if (!isEmpty && kind === 'column') this.nextColumn();
        else if (!isEmpty) this.newPage();
        this.natural = false;
        // The mark of a paragraph that ends with a break stays with it.
        if ('goesOn' in block.dataset && isBare(block)) queue.splice(at, 1);
        continue;
      }
      const rest = partedAtBreak(block);
      if (rest) queue.splice(at + 1, 0, rest);
      const alone = rest !== null || needsCare(block);
      const batch = [block];
      if (!alone)
        while (batch.length < AT_ONCE && at + batch.length < queue.length) {
          const next = queue[at + batch.length]!;
          if (needsCare(next) || next.dataset['break'] !== undefined) break;
          batch.push(next);
        }
      const taken = this.put(batch, isEmpty);
      at += taken.whole;
      if (taken.rest ?? taken.whole < batch.length) {
        // The first part of one that is split stays; what is left of it goes on in the next column.
        if (taken.rest) queue[at] = taken.rest;
        else at -= this.takeBack();
        this.nextColumn();
        this.natural = true;
      }
      if (this.tried?.full) return;
      if (!this.tried) await this.pause(this.pages.map((p) => p.element));
    }
  }

  /** Keeps what a page begins with, where its columns may have to be made as high as each other. */
  private remember(queue: readonly HTMLElement[], at: number): void {
    const { page } = this.column!;
    const begins = this.column === this.columns[0] && this.isEmpty();
    if (!this.evens || !begins || queue.length - at > MOST_EVENED) return;
    const blocks = queue.slice(at).map((b) => b.cloneNode(true) as HTMLElement);
    this.last = { page, from: this.from, blocks };
  }

  private isEmpty(): boolean {
    return ![...this.column!.area.children].some((c) => !c.matches('.keep'));
  }

  /**
   * Puts blocks into the present column.
   * @returns how many of them are in it with all that they hold, and what is left of one that is in it in part
   */
  private put(batch: readonly HTMLElement[], isEmpty: boolean): { whole: number; rest: HTMLElement | null } {
    const column = this.column!;
    const { area, page } = column;
    // No space is left above what a full page has sent on (from memory).
    if (isEmpty && this.natural) batch[0]!.style.marginTop = '0';
    area.append(...batch);
    for (const block of batch) this.settle(block, column);
    if (batch.length === 1) this.noteFor(page, batch[0]!);
    const limit = this.limitOf(page);
    const at = batch.findIndex((b) => rectOf(b).bottom > limit + 0.5);
    if (at < 0) return { whole: batch.length, rest: null };
    const first = isEmpty && at === 0;
    const rest = splitBlock(batch[at]!, limit, first);
    const behind = batch.slice(at + 1);
    behind.forEach((b) => b.remove());
    if (rest) {
      this.withoutNotesOf(page, rest);
      this.untie(column, (of) => rest.contains(of.marker));
      return { whole: at, rest };
    }
    // What is too high for any page stands on one as it is.
    if (first) return { whole: 1, rest: null };
    this.lift(column, batch[at]!);
    return { whole: at, rest: null };
  }

  /** A block goes to the next column: with what is tied to it, and its notes. */
  private lift(column: Column, block: HTMLElement): void {
    this.untie(column, (of) => of.block === block);
    block.remove();
    this.keepAway(column);
    this.withoutNotesOf(column.page, block);
  }

  /** What is beside the text goes back to where it is tied, for another page. */
  private untie(column: Column, which: (of: Tie) => boolean): void {
    const { page } = column;
    let some = false;
    for (const [float, of] of tied) {
      if (!which(of)) continue;
      of.marker.replaceWith(float);
      page.kept = page.kept.filter((k) => k.of !== float);
      float.setAttribute('style', of.style);
      tied.delete(float);
      some = true;
    }
    if (some) this.keepAway(column);
  }

  /** Blocks that are kept with the next one go with it, but for the first of a column. @returns how many */
  private takeBack(): number {
    const column = this.column!;
    for (let count = 0; ; count++) {
      const last = column.area.lastElementChild as HTMLElement | null;
      const before = last?.previousElementSibling;
      if (!last || !('keep' in last.dataset) || !before || before.matches('.keep')) return count;
      this.lift(column, last);
    }
  }

  /** Tabs of a block, and what floats in it, brought to where they belong. */
  private settle(block: HTMLElement, column: Column): void {
    for (const p of [
      ...(block.dataset['tabs'] === undefined ? [] : [block]),
      ...block.querySelectorAll<HTMLElement>('[data-tabs]'),
    ])
      layTabs(p);
    const floats = [...block.querySelectorAll<HTMLElement>('[data-float]')].filter(
      (f) => !f.parentElement!.closest('[data-float], .inline'),
    );
    for (const float of floats) this.place(float, block, column);
  }

  /** What is beside the text leaves it for its page; the text keeps away from it. */
  private place(float: HTMLElement, block: HTMLElement, column: Column): void {
    const { page } = column;
    const told = JSON.parse(float.dataset['float']!) as FloatPlace;
    // A box of words grows with them.
    told.height = Math.max(told.height, rectOf(float).height / PX);
    const marker = document.createElement('i');
    float.before(marker);
    const style = float.getAttribute('style') ?? '';
    const paragraph = float.closest<HTMLElement>('[data-paragraph]') ?? block;
    tied.set(float, { block, marker, style, paragraph });
    page.element.append(float);
    const { anchor } = told;
    float.style.zIndex = String(anchor.behind ? -1 : 2 + Math.min(1e6, Math.round(told.order / 1024) || 0));
    let last = Number.NaN;
    for (let i = 0; i < SETTLES; i++) {
      const box = floatBox(told, this.roomFor(marker, paragraph, column));
      float.style.left = `${box.x}pt`;
      float.style.top = `${box.y}pt`;
      if (anchor.wrap === 'none' || Math.abs(box.y - last) < 0.3) return;
      last = box.y;
      page.kept = [...page.kept.filter((k) => k.of !== float), ...keptBy(float, told, box)];
      this.keepAway(column, paragraph.parentElement!.closest('td'));
    }
  }

  private roomFor(marker: HTMLElement, paragraph: HTMLElement, { page, area }: Column): PageRoom {
    const corner = rectOf(page.element);
    const cell = paragraph.parentElement!.closest('td');
    const holder = rectOf(cell ?? area);
    const own = cell ? getComputedStyle(cell) : null;
    const [left, right] = own ? [parseFloat(own.paddingLeft), parseFloat(own.paddingRight)] : [0, 0];
    const at = rectOf(marker);
    const { width, height, margins } = page.layout;
    return {
      ...{ width, height, margins, number: page.number },
      column: { x: (holder.left + left - corner.left) / PX, width: (holder.width - left - right) / PX },
      paragraph: (rectOf(paragraph).top - corner.top) / PX,
      line: { x: (at.left - corner.left) / PX, y: (lineTop(paragraph, at) - corner.top) / PX },
    };
  }

  /** The text of a column keeps away from what is beside it on its page. */
  private keepAway(column: Column, cell: Element | null = null): void {
    const holder = (cell as HTMLElement | null) ?? column.area;
    holder.querySelectorAll(':scope > .keep').forEach((k) => k.remove());
    const { page } = column;
    const corner = rectOf(page.element);
    const own = rectOf(holder);
    const [x, y] = [(own.left - corner.left) / PX, (own.top - corner.top) / PX];
    const width = cell ? own.width / PX : column.width;
    const kept = page.kept
      .filter((k) => (cell ? cell.contains(tied.get(k.of)?.marker ?? null) : true))
      .map((k) => ({ ...k, x: k.x - x, y: k.y - y }))
      .filter((k) => k.x < width && k.x + k.width > 0 && k.y + k.height > 0);
    const stretches = stretchesOf(width, kept);
    if (stretches.some((s) => s.oneSided)) this.oneSided = true;
    holder.prepend(
      ...stretches.flatMap(({ height, left, right }) =>
        (
          [
            ['left', left],
            ['right', right],
          ] as const
        ).map(([side, wide]) => {
          const div = document.createElement('div');
          div.className = 'keep';
          div.style.cssText = `float:${side};clear:${side};width:${wide}pt;height:${height}pt`;
          return div;
        }),
      ),
    );
  }

  /** How far down a page its text may go: its notes are below it. */
  private limitOf({ element, bottom, notes }: Page): number {
    const top = rectOf(element).top;
    const own = top + bottom - (notes ? rectOf(notes).height : 0);
    return this.tried ? Math.min(own, top + this.tried.bottom) : own;
  }

  /** The notes that a block refers to, at the bottom of its page. */
  private noteFor(page: Page, block: HTMLElement): void {
    for (const reference of block.querySelectorAll<HTMLElement>('[data-ref]')) {
      const note = this.notes.get(reference.dataset['ref']!);
      if (!note || page.notes?.querySelector(`[data-note="${reference.dataset['ref']}"]`)) continue;
      if (!page.notes) {
        const { layout, element } = page;
        page.notes = document.createElement('div');
        page.notes.className = 'area';
        page.notes.style.left = `${layout.margins.left}pt`;
        page.notes.style.width = `${layout.width - layout.margins.left - layout.margins.right}pt`;
        page.notes.style.bottom = `${layout.height * PX - page.bottom}px`;
        page.notes.append(Object.assign(document.createElement('hr'), { className: 'notes' }));
        element.append(page.notes);
      }
      page.notes.append(note.cloneNode(true));
    }
  }

  private withoutNotesOf(page: Page, rest: HTMLElement): void {
    for (const reference of rest.querySelectorAll<HTMLElement>('[data-ref]'))
      page.notes?.querySelector(`[data-note="${reference.dataset['ref']}"]`)?.remove();
    if (page.notes && !page.notes.querySelector('[data-note]')) {
      page.notes.remove();
      page.notes = null;
    }
  }

  /** All pages are there: their count is known. */
  end(): void {
    for (const page of this.pages)
      for (const field of page.element.querySelectorAll<HTMLElement>('[data-field]'))
        field.textContent = String(field.dataset['field'] === 'pages' ? this.pages.length : page.number);
  }
}

interface Tie {
  block: HTMLElement;
  /** Stands where it was in the text. */
  marker: HTMLElement;
  style: string;
  paragraph: HTMLElement;
}

/** The top of the line that something is in: what stands in it like a letter may be higher than its letters. */
function lineTop(paragraph: HTMLElement, at: DOMRect): number {
  const beside = [...paragraph.querySelectorAll('.inline')].map(rectOf);
  return Math.min(at.top, ...beside.filter((b) => b.top <= at.bottom && b.bottom >= at.top).map((b) => b.top));
}

/** What has left the text for its page, and where it is tied to it. */
const tied = new Map<HTMLElement, Tie>();

/** A paragraph with a break in it: what is behind that is a block of its own. */
function partedAtBreak(block: HTMLElement): HTMLElement | null {
  const mark = block.querySelector<HTMLElement>('b[data-break]');
  if (!mark || !isText(block)) return null;
  const kind = mark.dataset['break']!;
  const parent = mark.parentNode!;
  const place = [...parent.childNodes].indexOf(mark);
  mark.remove();
  const rest = parted(block, [parent, place]);
  rest.dataset['break'] = kind;
  if (isBare(block)) block.append(document.createElement('br'));
  return rest;
}

/** Must it be laid out by itself: what floats in it changes the page, and so do its notes. */
const needsCare = (block: HTMLElement): boolean =>
  block.querySelector('[data-float], [data-ref], b[data-break]') !== null;

const isBare = (block: HTMLElement): boolean =>
  (block.textContent ?? '') === '' && !block.querySelector('.inline, [data-float], .plate, i');

const lastBottom = ({ page, area }: Column): number => {
  const last = area.lastElementChild;
  return last && !last.matches('.keep') ? rectOf(last).bottom - rectOf(page.element).top : 0;
};

/** What text keeps away from because of something beside it. Points of its page. */
function keptBy(
  of: HTMLElement,
  { anchor, outline }: FloatPlace,
  box: { x: number; y: number; width: number; height: number },
): KeptOnPage[] {
  const { wrap, sides = 'both', distances } = anchor;
  // A line that only touches it runs on: lengths in a browser are rounded.
  const whole = {
    x: box.x - distances.left,
    y: box.y - distances.top + TOUCH,
    width: box.width + distances.left + distances.right,
    height: Math.max(TOUCH, box.height + distances.top + distances.bottom - 2 * TOUCH),
  };
  if (wrap === 'top-bottom') return [{ of, sides: 'none', ...whole, x: -1e4, width: 3e4 }];
  if (wrap === 'square' || !outline) return [{ of, sides, ...whole }];
  const slices: KeptOnPage[] = [];
  for (let y = 0; y < box.height; y += STEP) {
    const height = Math.min(STEP, box.height - y);
    const [left, right] = across(outline, y / box.height, (y + height) / box.height);
    if (right <= left) continue;
    slices.push({
      ...{ of, sides, y: box.y + y, height },
      x: box.x + left * box.width - distances.left,
      width: (right - left) * box.width + distances.left + distances.right,
    });
  }
  return slices;
}

/** How far an outline reaches to both sides between two heights, in shares of its box. */
function across(outline: readonly { x: number; y: number }[], from: number, to: number): [number, number] {
  let [left, right] = [Infinity, -Infinity];
  const see = (x: number): void => {
    left = Math.min(left, x);
    right = Math.max(right, x);
  };
  for (const [i, a] of outline.entries()) {
    const b = outline[(i + 1) % outline.length]!;
    for (const y of [from, to]) if ((a.y - y) * (b.y - y) < 0) see(a.x + ((b.x - a.x) * (y - a.y)) / (b.y - a.y));
    if (a.y >= from && a.y <= to) see(a.x);
  }
  return [left, right];
}

/** The paragraph that something stands in, or is tied to. */
export const paragraphOf = (e: Element): Element | null => {
  const float = e.closest<HTMLElement>('[data-float]');
  return (float && tied.get(float)?.paragraph) ?? e.parentElement?.closest('[data-paragraph]') ?? null;
};

/** Nothing of a text that was laid out before. */
export const forget = (): void => tied.clear();
