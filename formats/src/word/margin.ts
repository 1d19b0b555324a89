import { GableError, type Size } from '@gable/core';
import type { MarginPicture, Opened } from '../codec/contract';
import { attributeOf as attribute, child, type Element } from '../xml/located';
import type { Splice } from '../xml/splice';
import { Splices } from '../xml/splices';
import { Additions, relationshipBase, relationshipsText } from '../ooxml/additions';
import { frontHeight } from '../ooxml/ids';
import { isStrict, NS } from '../ooxml/names';
import { relationshipsPart, type Package } from '../ooxml/package';
import { linesOf, textRoom } from './flow';
import { freeDrawingId, plainDrawing } from './plain-drawing';
import { integer } from '../drawingml/values';

/** So far from the edge of the sheet a header stands that says nothing (§17.6.11, pgMar; common practice: 0.5 in). */
const EDGE = 720;
/** A line of text beside the picture, in twentieths of a point: 11 pt with its leading (common practice). */
const LINE = 280;

/** Children of a section's properties that come behind its references (§17.6.17, CT_SectPr). */
const BEHIND_REFERENCES =
  'footnotePr endnotePr type pgSz pgMar paperSrc pgBorders lnNumType pgNumType cols formProt vAlign noEndnote titlePg textDirection bidi rtlGutter docGrid printerSettings sectPrChange'.split(
    ' ',
  );
const BEHIND_TITLE = ['textDirection', 'bidi', 'rtlGutter', 'docGrid', 'printerSettings', 'sectPrChange'];

/**
 * The document with a picture in its page header or footer (ISO/IEC 29500-1 §17.10): in a paragraph of its own before what
 * is there already. Parts, relationships, content types and references that are missing are made.
 * @returns the file, and the parts whose first picture it is
 * @throws GableError `cannot-write` for a document without sections
 */
export function putInMargin(
  pack: Package,
  main: string,
  wish: MarginPicture,
): ReturnType<NonNullable<Opened['putInMargin']>> {
  const splices = new Splices((name) => pack.part(name));
  const additions = new Additions(pack, main, splices);
  const { root } = pack.part(main);
  const sections = all(root, 'sectPr').filter((s) => s.parent?.local !== 'sectPrChange');
  const [first] = sections;
  if (!first)
    throw new GableError(
      'cannot-write',
      'The document has no section that could have a header.',
      'Open it in the program it was made with and save it again.',
    );
  const strict = isStrict(root.uri);
  const w = root.name.slice(0, root.name.length - root.local.length);
  const related = pack.relationships(main);
  let id = freeDrawingId(pack, main);
  const size = { width: wish.width, height: wish.height };
  const drawn = (at: Element): Wish => ({ ...wish, id: id++, size, height: frontHeight(at) });
  const fresh = new Fresh(pack, main, additions, splices, strict);
  const put = new Set<string>();

  const referenceOf = (section: Element, type: string): Element | undefined =>
    section.children.find((c) => c.local === `${wish.into}Reference` && (attribute(c, 'type') ?? 'default') === type);
  const partOf = (reference: Element): string | undefined =>
    related.find((r) => r.id === attribute(reference, 'id') && !r.external)?.target;
  const into = (name: string): void => {
    if (put.has(name)) return;
    put.add(name);
    const part = pack.part(name).root;
    const prefix = part.name.slice(0, part.name.length - part.local.length);
    const rid = additions.relateTo({ part: name, strict }, wish.picture);
    const [child0] = part.children;
    const beginning = wish.floats && child0?.local === 'p' ? child0 : null;
    const xml = beginning ? runOf(drawn(part), rid, prefix, part.uri) : paragraphOf(drawn(part), rid, prefix, part.uri);
    const next = beginning ? beginning.children.find((c) => c.local !== 'pPr') : child0;
    if (next) splices.of(name).before(next, xml);
    else if (beginning) splices.of(name).append(beginning, xml);
    else splices.of(name).append(part, xml);
  };
  /** A new part, with a copy of another's content behind the picture when there is one. */
  const make = (section: Element, type: string, like: string | undefined): void => {
    const { name, rid } = fresh.part(drawn(like && pack.entry(like) ? pack.part(like).root : root), like);
    put.add(name);
    const r = fresh.relationshipPrefix(root);
    const before = [
      `${wish.into}Reference`,
      ...(wish.into === 'header' ? ['footerReference'] : []),
      ...BEHIND_REFERENCES,
    ];
    splices
      .of(main)
      .slot(section, [], before, `<${w}${wish.into}Reference${r.declare} ${w}type="${type}" ${r.prefix}id="${rid}"/>`);
  };

  const kinds = wish.pages === 'first' ? ['first'] : ['default'];
  if (wish.pages === 'all') {
    const settings = pack.partFor(main, 'settings');
    const even = settings ? child(pack.part(settings).root, 'evenAndOddHeaders') : undefined;
    if (even && isOn(even)) kinds.push('even');
  }
  for (const kind of kinds) {
    const known = referenceOf(first, kind);
    const part = known && partOf(known);
    if (part && pack.entry(part)) into(part);
    else {
      // On its own first page the usual header is no longer shown: its content is copied.
      const usual = kind === 'default' ? undefined : referenceOf(first, 'default');
      make(first, kind, usual && partOf(usual));
    }
    // Later sections that have one of their own do not take after the first (§17.10.1).
    if (kind !== 'first')
      for (const section of sections.slice(1)) {
        const own = referenceOf(section, kind);
        const name = own && partOf(own);
        if (name && pack.entry(name)) into(name);
      }
  }
  if (wish.pages === 'first' && !(child(first, 'titlePg') && isOn(child(first, 'titlePg')!)))
    splices.of(main).slot(first, ['titlePg'], BEHIND_TITLE, `<${w}titlePg/>`);
  // A section that has a first page of its own shows its first header there, and not the usual one.
  if (wish.pages === 'all')
    for (const section of sections) {
      const title = child(section, 'titlePg');
      const own = title && isOn(title) ? referenceOf(section, 'first') : undefined;
      const name = own && partOf(own);
      if (name && pack.entry(name)) into(name);
    }
  if (wish.gap !== null) {
    const lines = linesBeside(pack, first, referenceOf(first, kinds[0]!), partOf);
    for (const section of wish.pages === 'all' ? sections : [first])
      setMargin(splices.of(main), section, wish, w, lines);
  }

  const placed = [...put].map((part) => ({ part, index: 0 }));
  return { bytes: additions.write(splices.changed()), placed };
}

const isOn = (e: Element): boolean => !['0', 'false', 'off'].includes(attribute(e, 'val') ?? '1');

function all(e: Element, local: string): Element[] {
  return [...(e.local === local && NS.word.has(e.uri) ? [e] : []), ...e.children.flatMap((c) => all(c, local))];
}

/** Lines that stand in the header already: of each paragraph as many as its text takes in the section's width. */
function linesBeside(
  pack: Package,
  section: Element,
  reference: Element | undefined,
  partOf: (reference: Element) => string | undefined,
): number {
  const name = reference && partOf(reference);
  if (!name || !pack.entry(name)) return 0;
  const { width } = textRoom(section);
  return all(pack.part(name).root, 'p').reduce((sum, p) => sum + linesOf(p, width), 0);
}

/** `w:pgMar` (§17.6.11), in twentieths of a point: edge, picture, what stands there already, and the gap. */
function setMargin(splice: Splice, section: Element, wish: MarginPicture, w: string, lines: number): void {
  const margins = child(section, 'pgMar');
  const [side, edge] = wish.into === 'header' ? (['top', 'header'] as const) : (['bottom', 'footer'] as const);
  const from = integer(margins && attribute(margins, edge), EDGE);
  const value = String(Math.round(from + (wish.height + (wish.gap ?? 0)) * 20 + lines * LINE));
  if (margins) {
    const name = Object.keys(margins.attributes).find((k) => k === side || k.endsWith(`:${side}`)) ?? `${w}${side}`;
    splice.attribute(margins, name, value);
    return;
  }
  const rest = {
    top: '1440',
    right: '1440',
    bottom: '1440',
    left: '1440',
    header: String(EDGE),
    footer: String(EDGE),
    gutter: '0',
  };
  const attributes = Object.entries({ ...rest, [side]: value }).map(([k, v]) => ` ${w}${k}="${v}"`);
  splice.slot(
    section,
    ['pgMar'],
    BEHIND_REFERENCES.slice(BEHIND_REFERENCES.indexOf('pgMar') + 1),
    `<${w}pgMar${attributes.join('')}/>`,
  );
}

interface Wish extends Omit<MarginPicture, 'width' | 'height'> {
  size: Size;
  /** Of the drawing, unique in the document (§20.4.2.5, docPr). */
  id: number;
  /** How far in front it lies. */
  height: number;
}

/** A run with the picture, in line or at its place on the page. */
function runOf({ id, alt, size, height, floats }: Wish, rid: string, w: string, word: string): string {
  const drawing = plainDrawing({ id, name: `Picture ${id}`, alt, rid, size, floats, height }, w, word);
  return `<${w}r>${drawing}</${w}r>`;
}

/** A paragraph with the picture. */
function paragraphOf(wish: Wish, rid: string, w: string, word: string): string {
  return `<${w}p><${w}pPr><${w}spacing ${w}before="0" ${w}after="0"/><${w}jc ${w}val="${wish.align}"/></${w}pPr>${runOf(wish, rid, w, word)}</${w}p>`;
}

/** New header and footer parts with all that makes them known. */
class Fresh {
  constructor(
    private readonly pack: Package,
    private readonly main: string,
    private readonly additions: Additions,
    private readonly splices: Splices,
    private readonly strict: boolean,
  ) {}

  /** @param like a part whose content and relationships are copied behind the picture */
  part(wish: Wish, like: string | undefined): { name: string; rid: string } {
    const { additions } = this;
    const kind = wish.into;
    const folder = this.main.slice(0, this.main.lastIndexOf('/') + 1);
    let i = 1;
    let name: string;
    do name = `${folder}${kind}Gable${i++}.xml`;
    while (this.pack.entry(name) || additions.entries.has(name));
    const { uri } = this.pack.part(this.main).root;
    const local = kind === 'header' ? 'hdr' : 'ftr';
    const base = relationshipBase(this.strict);
    const media = additions.store(wish.picture);
    const own = `<Relationship Id="rIdGable1" Type="${base}/image" Target="/${media}"/>`;
    const copied = like && this.pack.entry(like) ? this.pack.part(like) : null;
    let xml: string;
    let rels = '';
    if (copied) {
      const { root, text } = copied;
      const first = root.children[0];
      const at = first?.start ?? root.closeStart;
      const prefix = root.name.slice(0, root.name.length - root.local.length);
      xml = text.slice(0, at) + paragraphOf(wish, 'rIdGable1', prefix, uri) + text.slice(at);
      const known = relationshipsPart(like!);
      if (this.pack.entry(known)) {
        const r = this.pack.part(known);
        rels = r.text.slice(r.root.openEnd, r.root.closeStart);
      }
    } else
      xml = `<?xml version="1.0" encoding="UTF-8" standalone="yes"?>\n<w:${local} xmlns:w="${uri}">${paragraphOf(wish, 'rIdGable1', 'w:', uri)}</w:${local}>`;
    additions.entries.set(name, new TextEncoder().encode(xml));
    additions.entries.set(relationshipsPart(name), new TextEncoder().encode(relationshipsText(rels + own)));
    const { root: types } = this.pack.part('[Content_Types].xml');
    const t = types.name.slice(0, types.name.length - types.local.length);
    this.splices
      .of('[Content_Types].xml')
      .append(
        types,
        `<${t}Override PartName="/${name}" ContentType="application/vnd.openxmlformats-officedocument.wordprocessingml.${kind}+xml"/>`,
      );
    return { name, rid: additions.relatePart(this.main, name, kind, this.strict) };
  }

  /** The prefix of relationships where a section stands. */
  relationshipPrefix(root: Element): { prefix: string; declare: string } {
    const uri = relationshipBase(this.strict);
    const bound = Object.entries(root.attributes).find(([name, value]) => name.startsWith('xmlns:') && value === uri);
    return bound ? { prefix: `${bound[0].slice(6)}:`, declare: '' } : { prefix: 'r:', declare: ` xmlns:r="${uri}"` };
  }
}
