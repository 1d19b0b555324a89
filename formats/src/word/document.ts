import { cut, type ItemId, type StoryContent } from '@gable/core';
import { ancestor, attributeOf as attribute, child, type Element } from '../xml/located';
import {
  MAX_PAGE_ITEMS,
  noSuchPlace,
  shorten,
  type MarginPicture,
  type NewPicture,
  type Opened,
  type Place,
} from '../codec/contract';
import { insertInText } from './create';
import { putInMargin } from './margin';
import { itemsInText } from './read-items';
import { NS } from '../ooxml/names';
import { inStep, openOoxml } from '../ooxml/open';
import { removal } from '../ooxml/remove-picture';
import type { Found } from '../ooxml/found';
import { themeOf, type Package } from '../ooxml/package';
import type { ColourMap } from '../drawingml/colour';
import { legaciesOf, legacySite, type Legacy } from '../vml/legacy';
import { findFauxOutlines } from '../drawingml/faux-outline';
import { isPicture, siteOf } from '../drawingml/read-picture';
import type { Site } from '../drawingml/site';
import { canMoveFreely } from '../drawingml/write-picture';

const NS_VML = 'urn:schemas-microsoft-com:vml';

const PLACES: Record<string, Place> = {
  header: 'header',
  footer: 'footer',
  footnotes: 'footnote',
  endnotes: 'endnote',
  comments: 'comment',
};

/**
 * Opens a word-processing document (ISO/IEC 29500, transitional or strict; also templates and macro variants) and finds
 * its pictures in document order: body, then headers, footers, footnotes, endnotes and comments. Only the directory, XML
 * parts and the first bytes of pictures are read.
 * @param main name of the main part
 */
export function openDocument(pack: Package, main: string): Opened {
  const parts: { name: string; place: Place }[] = [{ name: main, place: 'body' }];
  for (const [kind, place] of Object.entries(PLACES))
    for (const r of pack.relationships(main))
      if (r.kind === kind && !r.external && pack.entry(r.target) && !parts.some((p) => p.name === r.target))
        parts.push({ name: r.target, place });

  const theme = themeOf(pack, main, () => colourMapOf(pack, main));
  const found: Found[] = [];
  let pages = 1;
  let [deleted, filled] = [0, 0];
  for (const { name, place } of parts) {
    const walk = new Walk(name, place);
    walk.run(pack.part(name).root);
    findFauxOutlines(pack.part(name).root, name, walk.found, theme);
    found.push(...walk.found);
    if (place === 'body') pages = walk.page;
    deleted += walk.deleted;
    filled += walk.filled;
  }
  const leftOut = [
    { why: 'in deleted text', count: deleted },
    { why: 'as fills of shapes in older markup', count: filled },
  ].filter((l) => l.count > 0);
  /** What stands in the texts: read when it is first asked for. */
  const readPages = (): { sheets: []; stories: StoryContent[] } => {
    const left = { count: MAX_PAGE_ITEMS };
    const elements = new Map<ItemId, Element>();
    const numbers = new Map(found.flatMap(({ site, twins }, i) => [site, ...twins].map(({ pic }) => [pic, i + 1])));
    const stories = parts.map(({ name: part, place }, i): StoryContent => {
      const told = { numbers, name: `story${i + 1}`, left, elements, part, theme };
      return { place, part, items: itemsInText(pack.part(part).root, told) };
    });
    return { sheets: [], stories };
  };
  const file = openOoxml({ format: 'docx', pack, main, found, pages, theme, readPages });
  return Object.assign(file, {
    ...(leftOut.length > 0 && { leftOut }),
    remove: removal(pack, main, found),
    putInMargin: (wish: MarginPicture) => putInMargin(pack, main, wish),
    insert(picture: NewPicture) {
      const { place } = picture;
      if (place.on !== 'text') throw noSuchPlace('the text');
      return insertInText(pack, main, found, { ...picture, place });
    },
  });
}

/** What the names of colours mean: `w:clrSchemeMapping` of the settings (§17.15.1.20), in the theme's own names. */
function colourMapOf(pack: Package, main: string): ColourMap {
  const settings = pack.partFor(main, 'settings');
  const said = settings ? child(pack.part(settings).root, 'clrSchemeMapping') : undefined;
  const out: Record<string, string> = {};
  for (const [name, value] of Object.entries(said?.attributes ?? {})) {
    const local = name.slice(name.indexOf(':') + 1);
    out[LONG[local] ?? local] = LONG[value] ?? value;
  }
  return out;
}

/** Names of the settings (§17.18.97, ST_WmlColorSchemeIndex) as themes and drawings have them. */
const LONG: Readonly<Record<string, string>> = {
  t1: 'tx1',
  t2: 'tx2',
  dark1: 'dk1',
  light1: 'lt1',
  dark2: 'dk2',
  light2: 'lt2',
  hyperlink: 'hlink',
  followedHyperlink: 'folHlink',
};

/** Goes through a part in document order and collects pictures with their surroundings. */
class Walk {
  readonly found: Found[] = [];
  page = 1;
  /** Pictures in deleted text, and fills of shapes in the older markup. */
  deleted = 0;
  filled = 0;
  private readonly layout: boolean[] = [];

  constructor(
    private readonly part: string,
    private readonly place: Place,
  ) {}

  run(root: Element): void {
    // When the last layout is noted in the file, it tells pages better than breaks do, and tells explicit breaks again.
    this.layout[0] = has(root, (e) => e.local === 'lastRenderedPageBreak');
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
    for (const c of e.children) this.visit(c);
  }

  private countPage(e: Element): void {
    if (!NS.word.has(e.uri)) return;
    if (this.layout[0]) {
      if (e.local === 'lastRenderedPageBreak') this.page++;
      return;
    }
    const explicit = e.local === 'br' && attribute(e, 'type') === 'page';
    const before = e.local === 'pageBreakBefore' && !['0', 'false', 'off'].includes(attribute(e, 'val') ?? '1');
    if (explicit || before) this.page++;
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
