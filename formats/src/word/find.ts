import { cut } from '@gable/core';
import { type Place, shorten } from '../codec/contract';
import { isPicture, siteOf } from '../drawingml/read-picture';
import type { Site } from '../drawingml/site';
import { canMoveFreely } from '../drawingml/write-picture';
import type { Found } from '../ooxml/found';
import { NS } from '../ooxml/names';
import { inStep } from '../ooxml/pictures';
import { legaciesOf, legacySite, type Legacy } from '../vml/find';
import { type Element, attributeOf as attribute, ancestor, child } from '../xml/located';
import { heightOf, textRoom } from './flow';

const NS_VML = 'urn:schemas-microsoft-com:vml';

/** Goes through a part in document order and collects pictures with their surroundings. */
export class Walk {
  readonly found: Found[] = [];
  page = 1;
  /** Pictures in deleted text, and fills of shapes in the older markup. */
  deleted = 0;
  filled = 0;
  private readonly layout: boolean[] = [];
  /** How far down the page the text has come, in points, and how much room there is. */
  private down = 0;
  private room: ReturnType<typeof textRoom> | null = null;

  constructor(
    private readonly part: string,
    private readonly place: Place,
  ) {}

  run(root: Element): void {
    // When the last layout is noted in the file, it tells pages better than breaks do, and tells explicit breaks again.
    this.layout[0] = has(root, (e) => e.local === 'lastRenderedPageBreak');
    const body = this.place === 'body' ? child(root, 'body') : undefined;
    if (body && !this.layout[0]) this.room = textRoom(body.children.findLast((c) => c.local === 'sectPr'));
    this.visit(root);
  }

  private visit(e: Element): void {
    if (e.local === 'AlternateContent' && NS.compatibility.has(e.uri)) {
      this.alternatives(e);
      return;
    }
    // Deleted and moved-away text is no longer in the document (§17.13.5).
    if ((e.local === 'del' || e.local === 'moveFrom') && NS.word.has(e.uri)) {
      this.deleted += picturesIn(e);
      return;
    }
    if (e.local === 'fill' && e.uri === NS_VML && /^(frame|tile|pattern)$/.test(e.attributes['type'] ?? ''))
      this.filled++;
    if (isPicture(e)) this.add(siteOf(e, this.part));
    const legacies = legaciesOf(e);
    for (const legacy of legacies) this.add(legacySite(legacy, this.part), legacy);
    if (legacies.length > 0) return;
    this.countPage(e);
    const flows = e.local === 'body' && this.room && NS.word.has(e.uri) ? this.room : null;
    for (const c of e.children)
      if (flows) this.flow(c, flows);
      else this.visit(c);
  }

  /** A paragraph or a table where no layout is noted: what does not fit any more begins the next page. */
  private flow(block: Element, { width, height }: { width: number; height: number }): void {
    const { whole, picture } = heightOf(block, width);
    if (this.down > 0 && picture > 0 && this.down + picture > height) this.nextPage();
    this.visit(block);
    this.down += whole;
    while (this.down > height) {
      this.page++;
      this.down -= height;
    }
  }

  private nextPage(): void {
    this.page++;
    this.down = 0;
  }

  private countPage(e: Element): void {
    if (!NS.word.has(e.uri)) return;
    if (this.layout[0]) {
      if (e.local === 'lastRenderedPageBreak') this.page++;
      return;
    }
    const explicit = e.local === 'br' && attribute(e, 'type') === 'page';
    const before = e.local === 'pageBreakBefore' && !['0', 'false', 'off'].includes(attribute(e, 'val') ?? '1');
    if (explicit || before) this.nextPage();
  }

  private alternatives(e: Element): void {
    const from = this.page;
    let after: number | null = null;
    const branches = e.children.map((branch) => {
      const start = this.found.length;
      this.page = from;
      for (const c of branch.children) this.visit(c);
      after ??= this.page;
      return this.found.splice(start);
    });
    this.page = after ?? from;
    this.found.push(...inStep(branches));
  }

  private add(site: (Site & { holder: Element }) | null, legacy?: Legacy): void {
    if (!site) return;
    const { holder } = site;
    const where = {
      part: this.part,
      place: this.place,
      table: !!ancestor(holder, (a) => a.local === 'tbl' && NS.word.has(a.uri)),
      textBox: !!ancestor(holder, (a) => a.local === 'txbxContent'),
      group: site.group !== null,
      page: this.place === 'body' ? this.page : null,
      near: nearby(holder),
    };
    this.found.push({ site, twins: [], freeable: canMoveFreely(site, where), where, ...(legacy ? { legacy } : {}) });
  }
}

const picturesIn = (e: Element): number => (isPicture(e) ? 1 : e.children.reduce((sum, c) => sum + picturesIn(c), 0));

function has(e: Element, passes: (e: Element) => boolean): boolean {
  return passes(e) || e.children.some((c) => has(c, passes));
}

/** As much of a paragraph as tells it from others, in characters. */
const ENOUGH = 400;

/** Texts of paragraphs that were asked for: thousands of pictures may stand in one. */
const beginnings = new WeakMap<Element, string>();

/** How a paragraph begins, without the text of text boxes in it. */
function paragraphText(p: Element): string {
  const known = beginnings.get(p);
  if (known !== undefined) return known;
  let out = '';
  const visit = (e: Element): void => {
    if (out.length > ENOUGH) return;
    if (e.local === 't') out += e.text;
    else if (e.local === 'tab' || e.local === 'br') out += ' ';
    else if (e.local !== 'drawing' && e.local !== 'pict' && e.local !== 'AlternateContent') e.children.forEach(visit);
  };
  visit(p);
  const text = cut(out, ENOUGH).replace(/\s+/g, ' ').trim();
  beginnings.set(p, text);
  return text;
}

const places = new WeakMap<readonly Element[], ReadonlyMap<Element, number>>();

/** Where an element stands among its siblings; found once for all of them. */
function placeAmong(siblings: readonly Element[], e: Element): number {
  const known = places.get(siblings) ?? new Map(siblings.map((s, i) => [s, i]));
  places.set(siblings, known);
  return known.get(e) ?? -1;
}

function nearby(holder: Element): string {
  const paragraph = ancestor(holder, (a) => a.local === 'p' && NS.word.has(a.uri));
  if (!paragraph) return '';
  const siblings = paragraph.parent?.children ?? [paragraph];
  const at = placeAmong(siblings, paragraph);
  for (const p of [paragraph, siblings[at + 1], siblings[at - 1]]) {
    const text = p?.local === 'p' ? paragraphText(p) : '';
    if (text !== '') return shorten(text);
  }
  return '';
}
