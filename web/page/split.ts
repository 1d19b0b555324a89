/** What is left of a block behind a line; null where none of it fits, so that it goes on as a whole. */
export type Rest = HTMLElement | null;

/** The places between the lines of a paragraph, from above its first to below its last, in CSS pixels of the window. */
export function linesOf(paragraph: HTMLElement): number[] {
  const range = document.createRange();
  range.selectNodeContents(paragraph);
  const rects = [...range.getClientRects()].filter((r) => r.height > 0).sort((a, b) => a.bottom - b.bottom);
  const box = paragraph.getBoundingClientRect();
  const lines: { top: number; bottom: number }[] = [];
  for (const { top, bottom } of rects) {
    const last = lines.at(-1);
    // What begins above the middle of a line is on it: letters of several sizes share one.
    if (last && top < (last.top + last.bottom) / 2) {
      last.top = Math.min(last.top, top);
      last.bottom = Math.max(last.bottom, bottom);
    } else lines.push({ top, bottom });
  }
  const between = lines.slice(1).map((line, i) => (lines[i]!.bottom + line.top) / 2);
  return lines.length === 0 ? [box.top, box.bottom] : [box.top, ...between, box.bottom];
}

/** Fewer lines than these are not left alone on a page (ISO/IEC 29500-1 §17.3.1.44, widowControl). */
const TOGETHER = 2;

/** How many of so many lines stay, of those that fit. */
export function staying(fit: number, count: number, { whole, widow }: { whole: boolean; widow: boolean }): number {
  if (fit >= count) return count;
  if (whole) return 0;
  if (!widow) return fit;
  if (fit < TOGETHER) return 0;
  const stays = Math.min(fit, count - TOGETHER);
  return stays < TOGETHER ? 0 : stays;
}

/** The first place of a paragraph below a height, as its words run. */
function placeBelow(paragraph: HTMLElement, y: number): [Node, number] | null {
  const walker = document.createTreeWalker(paragraph, NodeFilter.SHOW_TEXT | NodeFilter.SHOW_ELEMENT);
  const range = document.createRange();
  const isBelow = (rect: DOMRect): boolean => (rect.top + rect.bottom) / 2 > y;
  for (let node = walker.nextNode(); node; node = walker.nextNode()) {
    if (node instanceof HTMLElement) {
      if (!node.matches('.inline, [data-tab], .plate, img')) continue;
      if (isBelow(node.getBoundingClientRect()))
        return [node.parentNode!, [...node.parentNode!.childNodes].indexOf(node)];
      continue;
    }
    const text = node.nodeValue ?? '';
    if (text === '' || node.parentElement?.closest('.inline, .float, .plate')) continue;
    range.selectNodeContents(node);
    const rects = [...range.getClientRects()];
    if (rects.length === 0 || !isBelow(rects.at(-1)!)) continue;
    let [from, to] = [0, text.length];
    while (from < to) {
      const middle = (from + to) >> 1;
      range.setStart(node, middle);
      range.setEnd(node, Math.min(text.length, middle + 1));
      const rect = range.getClientRects()[0];
      if (rect && rect.height > 0 && isBelow(rect)) to = middle;
      else from = middle + 1;
    }
    return [node, from];
  }
  return null;
}

/** Takes what is below a place of a paragraph out of it. @returns that, as a paragraph that goes on */
export function parted(paragraph: HTMLElement, [node, offset]: readonly [Node, number]): HTMLElement {
  const rest = paragraph.cloneNode(false) as HTMLElement;
  if (paragraph.lastChild) {
    const range = document.createRange();
    range.setStart(node, offset);
    range.setEndAfter(paragraph.lastChild);
    rest.append(range.extractContents());
  }
  rest.style.marginTop = '0';
  rest.style.textIndent = '0';
  rest.style.borderTop = 'none';
  rest.removeAttribute('data-break');
  rest.dataset['goesOn'] = '';
  return rest;
}

/** Splits a paragraph so that no line of it ends below a height. */
export function splitParagraph(paragraph: HTMLElement, limit: number): Rest {
  const between = linesOf(paragraph);
  const count = between.length - 1;
  const fit = between.slice(1).filter((bottom) => bottom <= limit + 0.5).length;
  const stays = staying(fit, count, { whole: 'whole' in paragraph.dataset, widow: 'widow' in paragraph.dataset });
  if (stays === 0 || stays === count) return null;
  const place = placeBelow(paragraph, between[stays]!);
  if (!place) return null;
  const rest = parted(paragraph, place);
  if (getComputedStyle(paragraph).textAlign === 'justify') paragraph.style.textAlignLast = 'justify';
  return rest;
}

/** Splits a table between its rows, or a row where it is the first and does not fit; what heads it stands on both parts. */
function splitTable(table: HTMLTableElement, limit: number, isFirst: boolean): Rest {
  const body = table.tBodies[0]!;
  const rows = [...body.rows];
  let at = rows.findIndex((row) => row.getBoundingClientRect().bottom > limit + 0.5);
  if (at < 0) return null;
  const split = 'whole' in rows[at]!.dataset && !(isFirst && at === 0) ? null : splitRow(rows[at]!, limit);
  if (!split && at === 0) {
    if (!isFirst) return null;
    // One that fits nowhere stands as it is.
    at = 1;
    if (rows.length === 1) return null;
  }
  const rest = table.cloneNode(false) as HTMLTableElement;
  for (const part of table.children) if (part !== body) rest.append(part.cloneNode(true));
  const lower = body.cloneNode(false) as HTMLElement;
  rest.append(lower);
  if (split) lower.append(split, ...rows.slice(at + 1));
  else lower.append(...rows.slice(at));
  rest.dataset['goesOn'] = '';
  return rest;
}

/** What is left of a row below a height; null where nothing of it fits. */
function splitRow(row: HTMLTableRowElement, limit: number): HTMLElement | null {
  const cells = [...row.cells];
  if (cells.some((c) => c.rowSpan > 1)) return null;
  if (
    !cells.some((c) =>
      [...c.children].some((b) => b.getBoundingClientRect().bottom <= limit || linesOf(b as HTMLElement)[1]! <= limit),
    )
  )
    return null;
  const rest = row.cloneNode(false) as HTMLTableRowElement;
  rest.style.height = '';
  let any = false;
  for (const cell of cells) {
    const lower = cell.cloneNode(false) as HTMLElement;
    lower.append(...below(cell, limit));
    any ||= lower.childNodes.length > 0;
    rest.append(lower);
  }
  // Where nothing stays it goes on as a whole.
  if (any && cells.every((c) => c.childElementCount === 0)) {
    for (const [i, cell] of cells.entries()) cell.append(...rest.cells[i]!.childNodes);
    return null;
  }
  if (any) row.style.height = '';
  return any ? rest : null;
}

/** Takes the blocks below a height out of what holds them, and parts the one that is across it. */
export function below(holder: HTMLElement, limit: number): HTMLElement[] {
  const blocks = [...holder.children] as HTMLElement[];
  const at = blocks.findIndex((b) => b.getBoundingClientRect().bottom > limit + 0.5);
  if (at < 0) return [];
  const rest = splitBlock(blocks[at]!, limit, false);
  return [...(rest ? [rest] : [blocks[at]!]), ...blocks.slice(at + 1)];
}

/** Splits a block at a height. @param isFirst is it the first of its page, which must hold something? */
export function splitBlock(block: HTMLElement, limit: number, isFirst: boolean): Rest {
  if (block instanceof HTMLTableElement) return splitTable(block, limit, isFirst);
  return 'paragraph' in block.dataset ? splitParagraph(block, limit) : null;
}
