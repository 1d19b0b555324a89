import { GableError, type Frame, type Size } from '@gable/core';
import { LIMITS } from '../limits';
import { readHeader } from '../raster/header';
import { ancestor, type Element } from '../xml/located';
import { Splice } from '../xml/splice';
import { encodeXml } from '../xml/located';
import { readEntry, readHead } from '../zip/reader';
import { spliceArchive } from '../zip/writer';
import { readTheme, type Theme } from './colour';
import { NS } from './names';
import { Package } from './package';
import { blipIds, isPicture, readPicture, siteOf, type ReadPicture, type Site } from './read-picture';
import { canMoveFreely, misfitsOf, refuseUnwritable, writePicture, type Misfit } from './write-picture';
import { Additions } from './additions';

export type Place = 'body' | 'header' | 'footer' | 'footnote' | 'endnote' | 'comment';

/** Where a picture stands, in words a reader understands. */
export interface Where {
  part: string;
  place: Place;
  table: boolean;
  textBox: boolean;
  group: boolean;
  /** An estimate from page breaks and the last layout noted in the file; null in headers, footers and comments. */
  page: number | null;
  /** Words beside it: its own paragraph's, else the next, else the one before. */
  near: string;
}

/** A picture's data: a reference into the file, never a copy. */
export interface Media {
  part: string;
  type: string;
  /** Stored pixels, null when unknown. */
  pixels: Size | null;
  orientation: number;
  drawable: boolean;
  /** Byte range of the compressed data in the file, and how it is packed. */
  range: { from: number; to: number; method: number; size: number };
}

export interface Problem {
  code: 'linked-picture' | 'missing-picture' | 'broken-picture' | 'too-many-pixels' | 'undrawable-picture';
  message: string;
  remedy: string;
}

/** One picture of an opened document. */
export interface OpenedPicture {
  n: number;
  where: Where;
  frame: Frame;
  /** Can it leave the text flow, or go back into it? */
  freeable: boolean;
  /** The size placements are reckoned with: stored pixels, or an assumed size when those are unknown. */
  size: Size;
  /** Null for a linked or missing picture. */
  media: Media | null;
  /** Why the picture cannot be shown; framing it may work all the same. */
  problem: Problem | null;
}

/** Another picture's data, of a kind that documents hold. Pictures that share an object are stored once. */
export interface Swap {
  bytes: Uint8Array;
  type: 'png' | 'jpeg' | 'gif';
  /** Stored pixels. */
  size: Size;
}

export interface OpenedFile {
  format: 'docx';
  /** Changing a signed file breaks its signature. */
  signed: boolean;
  /** Is any page number an estimate from the last layout, rather than only from breaks? */
  pages: number;
  pictures: readonly OpenedPicture[];
  /**
   * The file with these frames in the place of the old ones. Where a frame has another `source`, its bytes come in
   * `swaps`; the old picture stays in the file. Unchanged frames cost nothing; with no difference the very
   * same bytes come back.
   * @throws GableError `no-such-picture`, `cannot-write`
   */
  save(frames: Iterable<Frame>, swaps?: ReadonlyMap<number, Swap>): Uint8Array;
  /** What of a frame the file cannot say in its own terms; empty when it fits. */
  misfits(frame: Frame): Misfit[];
  /** The bytes of a picture as it came. @throws GableError when there are none */
  pictureBytes(n: number): Uint8Array;
}

const PLACES: Record<string, Place> = {
  header: 'header',
  footer: 'footer',
  footnotes: 'footnote',
  endnotes: 'endnote',
  comments: 'comment',
};

interface Found {
  site: Site;
  twins: Site[];
  where: Where;
}

/**
 * Opens a word-processing document (ISO/IEC 29500, transitional or strict; also templates and macro variants) and finds
 * its pictures in document order: body, then headers, footers, footnotes, endnotes and comments. Only the directory, XML
 * parts and the first bytes of pictures are read.
 * @throws GableError for everything that is no such document; see `Package.open`
 */
export function openDocument(bytes: Uint8Array): OpenedFile {
  const pack = Package.open(bytes);
  const main = mainPart(pack);
  const parts: { name: string; place: Place }[] = [{ name: main, place: 'body' }];
  for (const [kind, place] of Object.entries(PLACES))
    for (const r of pack.relationships(main))
      if (r.kind === kind && !r.external && pack.entry(r.target) && !parts.some((p) => p.name === r.target))
        parts.push({ name: r.target, place });

  let theme: Theme | null = null;
  const themeOnce = (): Theme => {
    const target = pack.relationships(main).find((r) => r.kind === 'theme' && !r.external)?.target;
    return (theme ??= target && pack.entry(target) ? readTheme(pack.part(target).root) : new Map());
  };

  const found: Found[] = [];
  let pages = 1;
  for (const { name, place } of parts) {
    const walk = new Walk(name, place);
    walk.run(pack.part(name).root);
    found.push(...walk.found);
    if (place === 'body') pages = walk.page;
  }
  if (found.length > LIMITS.pictures)
    throw new GableError(
      'too-many-pictures',
      `The document has ${found.length} pictures; Gable takes ${LIMITS.pictures}.`,
      'Split the document.',
      { pictures: found.length },
    );

  const reads: ReadPicture[] = [];
  const heads = new Map<string, Omit<Media, 'part'> | null>();
  const pictures = found.map(({ site, where }, i): OpenedPicture => {
    const n = i + 1;
    const { media, problem } = locate(pack, site, heads);
    const read = readPicture(site, n, media?.pixels ?? null, themeOnce);
    reads.push(read);
    return { n, where, freeable: canMoveFreely(site, where), frame: read.frame, size: read.size, media, problem };
  });

  return {
    format: 'docx',
    signed: pack.signed,
    pages,
    pictures,
    misfits(frame) {
      const read = reads[frame.n - 1];
      if (!read) throw noPicture(frame.n, pictures.length);
      return misfitsOf(read.frame, frame);
    },
    save(frames, swaps = new Map()) {
      const splices = new Map<string, Splice>();
      const spliceOf = (name: string): Splice => {
        const splice = splices.get(name) ?? new Splice(pack.part(name).text);
        splices.set(name, splice);
        return splice;
      };
      const additions = new Additions(pack, spliceOf);
      for (const next of frames) {
        const at = found[next.n - 1];
        const read = reads[next.n - 1];
        if (!at || !read) throw noPicture(next.n, pictures.length);
        refuseUnwritable(read, next);
        const swap = swaps.get(next.n);
        if (next.source && !swap) throw new Error(`The bytes of picture ${next.n} are missing.`);
        for (const site of [at.site, ...at.twins]) {
          writePicture(spliceOf(site.part), site, swap ? { ...read, size: swap.size } : read, next);
          if (swap) additions.swap(site, swap);
        }
      }
      const replaced = new Map<string, Uint8Array>();
      for (const [name, splice] of splices) {
        const part = pack.part(name);
        const text = splice.empty ? part.text : splice.apply();
        if (text !== part.text) replaced.set(pack.entry(name)!.name, encodeXml({ text, encoding: part.encoding }));
      }
      return spliceArchive(pack.archive, replaced, additions.entries);
    },
    pictureBytes(n) {
      const picture = pictures[n - 1];
      if (!picture) throw noPicture(n, pictures.length);
      const entry = picture.media && pack.entry(picture.media.part);
      if (!entry)
        throw new GableError(
          picture.problem?.code ?? 'missing-picture',
          picture.problem?.message ?? `Picture ${n} is not in the file.`,
          picture.problem?.remedy ?? '',
          { n },
        );
      return readEntry(pack.archive, entry);
    },
  };
}

const noPicture = (n: number, count: number): GableError =>
  new GableError(
    'no-such-picture',
    `There is no picture ${n} in this document.`,
    count ? `It has ${count}.` : 'It has none.',
    { n },
  );

/** The main part by the package's relationship; its content type tells documents from decks and sheets. */
function mainPart(pack: Package): string {
  const main = pack.relationships('').find((r) => r.kind === 'officeDocument' && !r.external)?.target;
  if (!main || !pack.entry(main))
    throw new GableError('not-a-document', 'This package has no main part.', 'Choose a .docx file.');
  const type = pack.contentType(main);
  const named = /presentationml/.test(type) ? 'a slide deck' : /spreadsheetml/.test(type) ? 'a spreadsheet' : null;
  if (named)
    throw new GableError(
      'unsupported-format',
      `This is ${named}, which Gable does not open yet.`,
      'Choose a text document (.docx).',
      { type },
    );
  if (!NS.word.has(pack.part(main).root.uri) || pack.part(main).root.local !== 'document')
    throw new GableError('not-a-document', 'This package is not a text document.', 'Choose a .docx file.', { type });
  return main;
}

/** Goes through a part in document order and collects pictures with their surroundings. */
class Walk {
  readonly found: Found[] = [];
  page = 1;
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
    if ((e.local === 'del' || e.local === 'moveFrom') && NS.word.has(e.uri)) return;
    if (isPicture(e)) {
      this.add(e);
      return;
    }
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

  /** The same picture stands in Choice and in Fallback: found once, and both kept in step (§ Part 3, 7.6). */
  private alternatives(e: Element): void {
    const branches = e.children.map((branch) => {
      const from = this.found.length;
      const page = this.page;
      for (const c of branch.children) this.visit(c);
      const own = this.found.splice(from);
      return { own, page: branch === e.children[0] ? this.page : page };
    });
    this.page = branches[0]?.page ?? this.page;
    const main = branches.find((b) => b.own.length > 0);
    if (!main) return;
    const used = new Set<Found>();
    for (const picture of main.own) {
      for (const branch of branches) {
        if (branch === main) continue;
        const twin = branch.own.find(
          (t) =>
            !used.has(t) &&
            blipIds(t.site).embed === blipIds(picture.site).embed &&
            blipIds(t.site).link === blipIds(picture.site).link,
        );
        if (!twin) continue;
        used.add(twin);
        picture.twins.push(twin.site, ...twin.twins);
      }
      this.found.push(picture);
    }
  }

  private add(pic: Element): void {
    const site = siteOf(pic, this.part);
    if (!site) return;
    this.found.push({
      site,
      twins: [],
      where: {
        part: this.part,
        place: this.place,
        table: !!ancestor(pic, (a) => a.local === 'tbl' && NS.word.has(a.uri)),
        textBox: !!ancestor(pic, (a) => a.local === 'txbxContent'),
        group: site.group !== null,
        page: this.place === 'body' || this.place === 'footnote' ? (this.place === 'body' ? this.page : null) : null,
        near: nearby(site.holder),
      },
    });
  }
}

/** An attribute by its local name. */
function attribute(e: Element, local: string): string | undefined {
  for (const [name, value] of Object.entries(e.attributes))
    if (name === local || name.endsWith(`:${local}`)) return value;
  return undefined;
}

function has(e: Element, passes: (e: Element) => boolean): boolean {
  return passes(e) || e.children.some((c) => has(c, passes));
}

/** Text of a paragraph, without that of text boxes in it. */
function paragraphText(p: Element): string {
  let out = '';
  const visit = (e: Element): void => {
    if (e.local === 't') out += e.text;
    else if (e.local === 'tab' || e.local === 'br') out += ' ';
    else if (e.local !== 'drawing' && e.local !== 'pict' && e.local !== 'AlternateContent') e.children.forEach(visit);
  };
  visit(p);
  return out.replace(/\s+/g, ' ').trim();
}

function nearby(holder: Element): string {
  const paragraph = ancestor(holder, (a) => a.local === 'p' && NS.word.has(a.uri));
  if (!paragraph) return '';
  const siblings = paragraph.parent?.children ?? [paragraph];
  const at = siblings.indexOf(paragraph);
  const candidates = [paragraph, siblings[at + 1], siblings[at - 1]].filter((p): p is Element => p?.local === 'p');
  const text = candidates.map(paragraphText).find((t) => t !== '') ?? '';
  return text.length > 90 ? `${text.slice(0, 89).trimEnd()}…` : text;
}

const problems = {
  linked: (address: string): Problem => ({
    code: 'linked-picture',
    message: `The picture is not in the document; it is linked from ${address}.`,
    remedy: 'Gable never fetches linked pictures. Insert the picture itself in the document.',
  }),
  missing: (): Problem => ({
    code: 'missing-picture',
    message: 'The document names a picture that is not in it.',
    remedy: 'Insert the picture again in the document.',
  }),
  broken: (part: string): Problem => ({
    code: 'broken-picture',
    message: `The part “${part}” is not a picture, or it is damaged.`,
    remedy: 'It is left as it is. Insert the picture again in the document.',
  }),
  large: (megapixels: number): Problem => ({
    code: 'too-many-pixels',
    message: `The picture has ${megapixels.toFixed(0)} megapixels; Gable shows up to ${LIMITS.megapixels}.`,
    remedy: 'It is left as it is. Make the picture smaller and insert it again.',
  }),
  undrawable: (type: string): Problem => ({
    code: 'undrawable-picture',
    message: `Gable cannot show ${type.toUpperCase()} pictures.`,
    remedy: 'It can be framed all the same; a plate stands in for it here.',
  }),
};

/** Finds a picture's data and reads its header, once for each part. */
function locate(
  pack: Package,
  site: Site,
  heads: Map<string, Omit<Media, 'part'> | null>,
): { media: Media | null; problem: Problem | null } {
  const { embed, link } = blipIds(site);
  const relationships = pack.relationships(site.part);
  const related = relationships.find((r) => r.id === (embed ?? link));
  if (related?.external) return { media: null, problem: problems.linked(related.target) };
  const entry = related && pack.entry(related.target);
  if (!entry) return { media: null, problem: problems.missing() };
  const part = entry.name;
  if (!heads.has(part)) heads.set(part, describe(pack, part));
  const known = heads.get(part);
  if (!known) {
    const range = {
      from: entry.dataOffset,
      to: entry.dataOffset + entry.compressedSize,
      method: entry.method,
      size: entry.size,
    };
    return {
      media: { part, type: 'unknown', pixels: null, orientation: 1, drawable: false, range },
      problem: problems.broken(part),
    };
  }
  const media = { part, ...known };
  const megapixels = known.pixels ? (known.pixels.width * known.pixels.height) / 1e6 : 0;
  if (megapixels > LIMITS.megapixels)
    return { media: { ...media, drawable: false }, problem: problems.large(megapixels) };
  return { media, problem: known.drawable ? null : problems.undrawable(known.type) };
}

function describe(pack: Package, part: string): Omit<Media, 'part'> | null {
  const entry = pack.entry(part)!;
  const range = {
    from: entry.dataOffset,
    to: entry.dataOffset + entry.compressedSize,
    method: entry.method,
    size: entry.size,
  };
  try {
    // Most headers stand in the first 64 kB; a large colour profile or preview can push a JPEG's size further back.
    for (const bytes of [65_536, 1_048_576, entry.size]) {
      const header = readHeader(readHead(pack.archive, entry, bytes));
      if (header) return { ...header, range };
      if (bytes >= entry.size) break;
    }
  } catch {
    // Damaged data: a broken picture, which must not keep the rest of the document closed.
  }
  return null;
}
