import { noPageLeft, type PagePlan } from '../codec/contract';
import { placeholderOf } from '../drawingml/free-walk';
import { Additions, relationshipBase, relationshipsText } from '../ooxml/additions';
import { isStrict, namespaceOf } from '../ooxml/names';
import { relatedId, relationshipsPart, type Package } from '../ooxml/package';
import { child, descend, encodeXml, prefixFor, type Element } from '../xml/located';
import { escapeXml, Splice } from '../xml/splice';
import { Splices } from '../xml/splices';
import { readEntry } from '../zip/reader';
import { spliceArchive } from '../zip/writer';
import type { DeckParts } from './arrange';

/** A slide that is to be in the deck: its id in the list of slides, and how it is written there. */
interface Listed {
  id: string;
  text: string;
  /** The id of the slide that it is like. */
  of: string;
}

/** What a slide has in common with others, and with copies of it; all else that it refers to is its own. */
const SHARED = new Set(
  'slideLayout slideMaster notesMaster theme image media audio video hyperlink slide tags oleObject customXml'.split(
    ' ',
  ),
);
/** What was said about a slide is not said about its copy. */
const LEFT_OUT = /comment/i;

/**
 * Puts the slides of a deck into another order, copies some, makes empty ones like others, and takes out those that are not
 * planned, with all that only they refer to (ISO/IEC 29500-1 §19.2.1.34, sldIdLst; ISO/IEC 29500-2 §6.5, relationships).
 * Sections and shows of the deck follow; links to a slide that is gone go, too.
 */
export function arrangePages(
  { pack, main, slides }: Omit<DeckParts, 'layers' | 'elements' | 'theme'>,
  plan: readonly PagePlan[],
): Uint8Array {
  if (plan.length === 0) throw noPageLeft();
  const splices = new Splices((name) => pack.part(name));
  const additions = new Additions(pack, main, splices);
  const { root, text } = pack.part(main);
  const strict = isStrict(root.uri);
  const list = child(root, 'sldIdLst')!;
  const related = new Map(pack.relationships(main).map((r) => [r.id, r.target]));
  const listed = new Map(list.children.map((e) => [related.get(relatedId(e) ?? '') ?? '', e]));
  const stays = new Set(plan.filter((p) => p.as === 'itself').map((p) => slides[p.page - 1]!));
  const gone = new Set(slides.filter((s) => !stays.has(s)));
  let next = 1 + Math.max(255, ...list.children.map((e) => Number(e.attributes['id']) || 0));
  const copies = new Copies({ pack, additions, splices, gone });
  const r = prefixFor(root, relationshipBase(strict));
  const order = plan.map(({ page, as }): Listed => {
    const like = slides[page - 1]!;
    const own = listed.get(like)!;
    const of = own.attributes['id'] ?? '';
    if (as === 'itself') return { id: of, text: text.slice(own.start, own.end), of };
    const part = as === 'copy' ? copies.copy(like) : copies.make(like, blankSlide(pack, like));
    const rid = additions.relatePart(main, part, 'slide', strict);
    const id = String(next++);
    const bound = r ? '' : ` xmlns:r="${relationshipBase(strict)}"`;
    return { id, text: `<${own.name} id="${id}"${bound} ${r || 'r'}:id="${escapeXml(rid)}"/>`, of };
  });
  const splice = splices.of(main);
  const after = order.map((o) => o.text);
  const before = list.children.map((e) => text.slice(e.start, e.end));
  if (after.join('') !== before.join(''))
    for (const [i, e] of list.children.entries()) splice.replace(e, i === 0 ? after.join('') : '');
  setSections(splice, root, order);
  const without = letGo(pack, splices, gone, copies.uses);
  const changed = new Map([...splices.changed()].map(([name, bytes]) => [pack.entry(name)!.name, bytes]));
  for (const name of without) changed.delete(name);
  return spliceArchive(pack.archive, changed, additions.entries, without);
}

/** Copies of slides with what is their own: notes, charts, diagrams. */
class Copies {
  private readonly taken = new Set<string>();
  /** Parts of the deck that they refer to. */
  readonly uses = new Set<string>();

  constructor(
    private readonly deck: {
      pack: Package;
      additions: Additions;
      splices: Splices;
      /** Slides that nothing may refer to. */
      gone: ReadonlySet<string>;
    },
  ) {}

  /** @param seen what parts of the same slide are called now */
  copy(name: string, seen = new Map<string, string>()): string {
    const { pack, additions, gone } = this.deck;
    const fresh = this.free(name);
    seen.set(name, fresh);
    this.declare(name, fresh);
    const rels = relationshipsPart(name);
    const lost = new Set<string>();
    if (pack.entry(rels)) {
      const { root, text } = pack.part(rels);
      const splice = new Splice(text);
      for (const [i, { id, kind, target, external }] of pack.relationships(name).entries()) {
        const element = root.children[i]!;
        if (external || !pack.entry(target)) continue;
        const known = seen.get(target);
        if (known !== undefined) splice.attribute(element, 'Target', `/${known}`);
        else if (LEFT_OUT.test(kind) || gone.has(target)) {
          splice.replace(element, '');
          lost.add(id);
        } else if (SHARED.has(kind)) this.uses.add(target);
        else splice.attribute(element, 'Target', `/${this.copy(target, seen)}`);
      }
      additions.entries.set(relationshipsPart(fresh), new TextEncoder().encode(splice.apply()));
    }
    additions.entries.set(fresh, lost.size > 0 ? this.without(name, lost) : readEntry(pack.archive, pack.entry(name)!));
    return fresh;
  }

  /** A part without what names these relationships. */
  private without(name: string, ids: ReadonlySet<string>): Uint8Array {
    const { root, text, encoding } = this.deck.pack.part(name);
    const splice = new Splice(text);
    dropNaming(splice, root, ids);
    return encodeXml({ text: splice.apply(), encoding });
  }

  /** A new slide of the same kind, with the layout of another. */
  make(like: string, text: string): string {
    const { pack, additions } = this.deck;
    const fresh = this.free(like);
    additions.entries.set(fresh, new TextEncoder().encode(text));
    this.declare(like, fresh);
    const layout = pack.partFor(like, 'slideLayout');
    const type = `${relationshipBase(isStrict(pack.part(like).root.uri))}/slideLayout`;
    if (layout) this.uses.add(layout);
    const own = layout ? `<Relationship Id="rId1" Type="${type}" Target="/${escapeXml(layout)}"/>` : '';
    additions.entries.set(relationshipsPart(fresh), new TextEncoder().encode(relationshipsText(own)));
    return fresh;
  }

  private free(name: string): string {
    const [, stem, extension] = /^(.*?)\d*(\.[^./]*)$/.exec(name) ?? ['', name, ''];
    let i = 1;
    let fresh: string;
    do fresh = `${stem}${i++}${extension}`;
    while (this.deck.pack.entry(fresh) || this.taken.has(fresh.toLowerCase()));
    this.taken.add(fresh.toLowerCase());
    return fresh;
  }

  private declare(like: string, fresh: string): void {
    const { pack, splices } = this.deck;
    const { root } = pack.part('[Content_Types].xml');
    const own = root.children.find(
      (t) => t.local === 'Override' && t.attributes['PartName']?.toLowerCase() === `/${like}`.toLowerCase(),
    );
    const type = own?.attributes['ContentType'];
    if (!own || type === undefined) return;
    splices
      .of('[Content_Types].xml')
      .append(root, `<${own.name} PartName="/${escapeXml(fresh)}" ContentType="${escapeXml(type)}"/>`);
  }
}

/** Placeholders that a layout shows without a slide's help. */
const OF_LAYOUT = new Set(['dt', 'ftr', 'sldNum', 'hdr']);

/** An empty slide with the placeholders of a layout (ISO/IEC 29500-1 §19.3.1.38, sld; §19.3.1.36, ph). */
function blankSlide(pack: Package, like: string): string {
  const strict = isStrict(pack.part(like).root.uri);
  const names = `xmlns:a="${namespaceOf('drawing', strict)}" xmlns:r="${relationshipBase(strict)}" xmlns:p="${namespaceOf('presentation', strict)}"`;
  const layout = pack.partFor(like, 'slideLayout');
  const tree = layout === undefined ? undefined : descend(pack.part(layout).root, 'cSld', 'spTree');
  const places = (tree?.children ?? []).flatMap((e) => {
    const ph = e.local === 'sp' ? placeholderOf(e) : undefined;
    return ph && !OF_LAYOUT.has(ph.attributes['type'] ?? '') ? [{ e, ph }] : [];
  });
  const shapes = places.map(({ e, ph }, i) => {
    const name = descend(e, 'nvSpPr', 'cNvPr')?.attributes['name'] ?? `Placeholder ${i + 1}`;
    const said = ['type', 'orient', 'sz', 'idx'].flatMap((key) => {
      const value = ph.attributes[key];
      return value === undefined ? [] : [` ${key}="${escapeXml(value)}"`];
    });
    return (
      `<p:sp><p:nvSpPr><p:cNvPr id="${i + 2}" name="${escapeXml(name)}"/><p:cNvSpPr><a:spLocks noGrp="1"/></p:cNvSpPr>` +
      `<p:nvPr><p:ph${said.join('')}/></p:nvPr></p:nvSpPr><p:spPr/><p:txBody><a:bodyPr/><a:lstStyle/><a:p/></p:txBody></p:sp>`
    );
  });
  return (
    `<?xml version="1.0" encoding="UTF-8" standalone="yes"?>\n<p:sld ${names}><p:cSld><p:spTree><p:nvGrpSpPr><p:cNvPr id="1" name=""/>` +
    `<p:cNvGrpSpPr/><p:nvPr/></p:nvGrpSpPr><p:grpSpPr/>${shapes.join('')}</p:spTree></p:cSld>` +
    `<p:clrMapOvr><a:masterClrMapping/></p:clrMapOvr></p:sld>`
  );
}

/**
 * Sections name their slides one after another ([MS-PPTX] §2.6.5, sectionLst): each slide stays in its own, or goes into that
 * of the one before it where the order parts them.
 */
function setSections(splice: Splice, root: Element, order: readonly Listed[]): void {
  const sections = find(root, 'sectionLst')?.children ?? [];
  const lists = sections.flatMap((s) => child(s, 'sldIdLst') ?? []);
  if (lists.length === 0 || lists.length < sections.length) return;
  const home = new Map(lists.flatMap((l, i) => l.children.map((e) => [e.attributes['id'] ?? '', i] as const)));
  let at = 0;
  const inside = lists.map((): string[] => []);
  const own = (o: Listed): number | undefined => home.get(o.id) ?? home.get(o.of);
  for (const o of order) {
    at = Math.max(at, own(o) ?? at);
    inside[at]!.push(o.id);
  }
  for (const [i, l] of lists.entries()) {
    const was = l.children.map((e) => e.attributes['id']);
    if (was.join() === inside[i]!.join()) continue;
    const prefix = l.name.slice(0, l.name.length - l.local.length);
    splice.replace(l, `<${l.name}>${inside[i]!.map((id) => `<${prefix}sldId id="${id}"/>`).join('')}</${l.name}>`);
  }
}

function find(e: Element, local: string): Element | undefined {
  if (e.local === local) return e;
  for (const c of e.children) {
    const found = find(c, local);
    if (found) return found;
  }
  return undefined;
}

/**
 * Lets go of slides: relationships to them, elements that name these, and parts that nothing leads to any more.
 * @param used by what comes
 * @returns the names of the entries that go
 */
function letGo(pack: Package, splices: Splices, gone: ReadonlySet<string>, used: ReadonlySet<string>): Set<string> {
  if (gone.size === 0) return new Set();
  const reach = (passes: (target: string) => boolean): Set<string> => {
    const found = new Set(['', ...used]);
    for (const part of found)
      for (const { target, external } of pack.relationships(part))
        if (!external && pack.entry(target) && passes(target)) found.add(target);
    return found;
  };
  const [all, left] = [reach(() => true), reach((target) => !gone.has(target))];
  for (const part of left) {
    const rels = relationshipsPart(part);
    const lost = new Set<string>();
    for (const [i, { id, target, external }] of pack.relationships(part).entries()) {
      if (external || !gone.has(target)) continue;
      lost.add(id);
      splices.of(rels).replace(pack.part(rels).root.children[i]!, '');
    }
    if (lost.size > 0 && part !== '') dropNaming(splices.of(part), pack.part(part).root, lost);
  }
  const removed = [...all].filter((part) => !left.has(part));
  const types = pack.part('[Content_Types].xml').root.children;
  const named = new Set(removed.map((part) => `/${part}`.toLowerCase()));
  for (const t of types)
    if (t.local === 'Override' && named.has(t.attributes['PartName']?.toLowerCase() ?? ''))
      splices.of('[Content_Types].xml').replace(t, '');
  return new Set(
    removed.flatMap((part) => [part, relationshipsPart(part)]).flatMap((name) => pack.entry(name)?.name ?? []),
  );
}

/** Elements that name a relationship which is gone: links to a slide, slides of a show. Those of the list itself are set anew. */
function dropNaming(splice: Splice, root: Element, ids: ReadonlySet<string>): void {
  const visit = (e: Element): void => {
    if (e.local === 'sldIdLst') return;
    const id = relatedId(e);
    if (id !== undefined && ids.has(id)) splice.replace(e, '');
    else e.children.forEach(visit);
  };
  visit(root);
}
