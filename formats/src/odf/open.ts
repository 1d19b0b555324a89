import { GableError, type Box, type Frame, type Outline, type Size } from '@gable/core';
import { canFoldInnerTransform, foldInnerTransform, withoutFoldable } from '../equivalents/inner-transform';
import { densityIn, MediaParts, problemsIn } from '../codec/media';
import { refuseTooMany } from '../codec/limits';
import { unsupportedIn, refuseUnsupported, type Feature } from '../codec/capabilities';
import {
  noData,
  noPicture,
  shorten,
  replacementOf,
  type OpenedFile,
  type OpenedPicture,
  type Place,
  type ReplacementImage,
  type Where,
} from '../codec/contract';
import type { Format } from '../codec/capabilities';
import { offEdge } from '../equivalents/offset-outline';
import { readDensity } from '../raster/density';
import { ancestor, child, missingPart, decodeXml, parseXml, type Element, type XmlText } from '../xml/located';
import { escapeXml } from '../xml/splice';
import { Splices } from '../xml/splices';
import { readEntry, type Archive } from '../zip/reader';
import { spliceArchive } from '../zip/writer';
import { Tables } from './cells';
import { is, Names } from './names';
import { backdropsOf, readPages } from './read-page';
import { hrefOf, physicalSize, readFrame } from './read-frame';
import type { ReadFrame, Site } from './site';
import { namedIn, Styles } from './styles';
import { textMarkup } from './text';
import { dashElement, isPlain, lacksTone, staysImage, writeFrame, type StyleWriter } from './write-frame';

const MANIFEST = 'META-INF/manifest.xml';
const MIMETYPE = 'application/vnd.oasis.opendocument.';
const FORMATS: Record<string, Format> = { text: 'odt', presentation: 'odp', spreadsheet: 'ods', graphics: 'odg' };

/** The kind of an OpenDocument package by its first entry (ODF 1.2 Part 3 §3.3); null when it is none. */
export function openDocumentKind(archive: Archive): string | null {
  const entry = archive.entries.find((e) => e.name === 'mimetype');
  if (!entry || entry.size > 200) return null;
  const type = new TextDecoder().decode(readEntry(archive, entry)).trim();
  return type.startsWith(MIMETYPE) ? type.slice(MIMETYPE.length).replace(/-(template|master)$/, '') : null;
}

/**
 * A fill is not mirrored with its shape, never shows less than a tile, and its shadow does not turn: where none of these
 * matters, a picture turned inside its shape is a turned shape, turned back.
 */
function canTurn(site: Site, next: Frame, size: Size): boolean {
  const { placement, flip, shadow } = next;
  if (placement.mirror || flip.horizontal || flip.vertical || (shadow && placement.turn !== 0)) return false;
  if (!canFoldInnerTransform(next, size, site.inText)) return false;
  const turned = foldInnerTransform(next, size);
  return turned.placement.fit === 'cover';
}

/** A plain box can be mirrored; a shape's fill is not. */
function unsupportedBy(format: Format, site: Site, read: ReadFrame, next: Frame): Feature[] {
  const found = unsupportedIn(format, read.frame, next).filter((m) => m !== 'tone' && (m !== 'flip' || !isPlain(next)));
  return [
    ...(lacksTone(site, read, next) ? (['tone'] as const) : []),
    ...withoutFoldable(found, read.frame, next, () => canTurn(site, next, read.size)),
    // The room for the line would be tiled, too.
    ...(next.placement.fit === 'tile' && offEdge(next) ? (['tile'] as const) : []),
  ];
}

interface Part extends XmlText {
  root: Element;
  styles: Styles;
}

interface Found {
  site: Site;
  where: Where;
  freeable: boolean;
}

/**
 * Opens an OpenDocument text, presentation, spreadsheet or drawing (ISO/IEC 26300) and finds its pictures: those of the
 * content in document order, then those of headers, footers and master pages.
 * @throws GableError `encrypted`, `unsupported-format`, `missing-part`, `damaged-part`, `xml-…`, `too-many-pictures`
 */
export function openOpenDocument(archive: Archive, kind: string): OpenedFile {
  const format = FORMATS[kind];
  if (!format)
    throw new GableError(
      'unsupported-format',
      `This is an OpenDocument file of a kind that Gable does not open (${kind}).`,
      'Choose a text, a presentation, a spreadsheet or a drawing.',
    );
  const entries = new Map(archive.entries.map((e) => [e.name, e]));
  const xml = (name: string): XmlText & { root: Element } => {
    const entry = entries.get(name);
    if (!entry) throw missingPart(name);
    const decoded = decodeXml(readEntry(archive, entry), name);
    return { ...decoded, root: parseXml(decoded.text, name, 'plain') };
  };
  const manifest = entries.has(MANIFEST) ? xml(MANIFEST) : null;
  if (manifest?.root.children.some((e) => child(e, 'encryption-data')))
    throw new GableError(
      'encrypted',
      'The file is protected by a password.',
      'Take the password off in the program it was made with, then open it again.',
    );

  const parts = new Map<string, Part>();
  const common = entries.has('styles.xml') ? xml('styles.xml') : null;
  const office = child(common?.root, 'styles');
  const shared = new Styles([office], null);
  if (common) {
    const styles = new Styles([child(common.root, 'automatic-styles')], shared);
    parts.set('styles.xml', { ...common, styles });
  }
  const content = xml('content.xml');
  parts.set('content.xml', { ...content, styles: new Styles([child(content.root, 'automatic-styles')], shared) });
  const fills = new Map(
    [...namedIn(office, 'draw', 'fill-image')].map(([name, e]) => [
      name,
      { href: new Names(e).get(e, 'xlink:href') ?? '' },
    ]),
  );

  const walk = new Walk(format);
  const body = child(child(content.root, 'body'), kind === 'graphics' ? 'drawing' : kind);
  if (body) walk.run('content.xml', parts.get('content.xml')!, body, kind === 'text' ? 'body' : PLACES[format]!);
  const { page } = walk;
  const fixed = kind === 'presentation' || kind === 'graphics';
  for (const master of child(common?.root, 'master-styles')?.children ?? [])
    walk.run('styles.xml', parts.get('styles.xml')!, master, 'master');
  const found = walk.found.filter((f) => hrefOf(f.site, fills) !== undefined);
  refuseTooMany(found.length);

  const tables =
    body && kind === 'spreadsheet' ? new Tables(body, [...(common ? [common.root] : []), content.root]) : null;
  const media = new MediaParts(archive);
  const reads: ReadFrame[] = [];
  const pictures = found.map(({ site, where, freeable }, i): OpenedPicture => {
    const n = i + 1;
    const href = hrefOf(site, fills)!;
    const entry = entries.get(pathOf(href));
    const described =
      /^[a-z][a-z0-9+.-]*:|^\/\//i.test(href) && !entry
        ? { media: null, problem: problemsIn.linked(href) }
        : media.describe(entry);
    const pixels = described.media?.pixels ?? null;
    const read = readFrame(site, n, pixels, densityIn(archive, entry));
    reads.push(read);
    const origin = tables && { origin: tables.cornerOf(site.element) };
    return { n, where, freeable, frame: read.frame, size: read.size, ...origin, ...described };
  });
  const placedOn = (sheet: number): { n: number; box: Box }[] =>
    pictures
      .filter((p) => p.where.page === sheet && p.where.place === 'sheet')
      .map(({ n, frame: { box }, origin }) => ({ n, box: { ...box, x: box.x + origin!.x, y: box.y + origin!.y } }));
  const pagesOf = (): Pick<OpenedFile, 'sheets' | 'layers'> => {
    if (tables) return { sheets: tables.sheets(Array.from({ length: page }, (_, i) => placedOn(i + 1))) };
    if (!fixed || !body) return { sheets: [] };
    return readPages({
      body,
      common: common?.root,
      content: content.root,
      styles: parts.get('content.xml')!.styles,
      masterStyles: parts.get('styles.xml')?.styles,
      numbers: new Map(found.map(({ site }, i) => [site.element, i + 1])),
    });
  };
  let made: ReturnType<typeof pagesOf> | null = null;

  return {
    format,
    signed: entries.has('META-INF/documentsignatures.xml'),
    pages: Math.max(1, page),
    get sheets() {
      return (made ??= pagesOf()).sheets;
    },
    get layers() {
      return (made ??= pagesOf()).layers ?? [];
    },
    pictures,
    unsupported(frame) {
      const read = reads[frame.n - 1] ?? noPicture(frame.n, pictures.length);
      return unsupportedBy(format, found[frame.n - 1]!.site, read, frame);
    },
    save(frames, swaps = new Map()) {
      const splices = new Splices((name) => (name === MANIFEST ? manifest! : parts.get(name)!));
      const additions = new Additions(archive, manifest?.root ?? null, splices);
      const wardrobe = new NewStyles(parts, office, fills, splices);
      for (const next of frames) {
        const at = found[next.n - 1];
        const read = reads[next.n - 1];
        if (!at || !read) noPicture(next.n, pictures.length);
        refuseUnsupported(next.n, unsupportedBy(format, at.site, read, next));
        const swap = replacementOf(next, swaps);
        const href = swap ? additions.store(swap) : hrefOf(at.site, fills)!;
        const known = swap ? { ...read, ...sizesOf(swap) } : read;
        writeFrame(splices.of(at.site.part), at.site, known, next, wardrobe, href, !!swap);
      }
      wardrobe.flush();
      return spliceArchive(archive, splices.changed(), additions.entries);
    },
    ...(fixed && {
      backdrop: (number: number) => {
        const shown = body?.children.filter((e) => is(e, 'draw', 'page'))[number - 1];
        const name = shown && new Names(shown).get(shown, 'draw:master-page-name');
        const master = child(common?.root, 'master-styles')?.children.find(
          (m) => new Names(m).get(m, 'style:name') === name,
        );
        const ground = shown && backdropsOf(common?.root, content.root)(shown, master);
        const href = ground && 'image' in ground ? fills.get(ground.image)?.href : undefined;
        const entry = href === undefined ? undefined : entries.get(pathOf(href));
        return entry ? readEntry(archive, entry) : null;
      },
    }),
    ...(kind === 'text' && {
      markup: (number: number) =>
        number > Math.max(1, page)
          ? null
          : textMarkup(
              parts.get('content.xml')!,
              parts.get('styles.xml') ?? null,
              new Map(found.map(({ site }, i) => [site.element, { n: i + 1, frame: pictures[i]!.frame }])),
            ),
    }),
    becomesShape(frame) {
      const { site } = found[frame.n - 1] ?? noPicture(frame.n, pictures.length);
      const read = reads[frame.n - 1]!;
      return !!site.image && !staysImage(site, read, frame, false);
    },
    pictureBytes(n) {
      const picture = pictures[n - 1] ?? noPicture(n, pictures.length);
      const entry = picture.media && entries.get(picture.media.part);
      return entry ? readEntry(archive, entry) : noData(picture);
    },
  };
}

const PLACES: Partial<Record<Format, Place>> = { odp: 'slide', ods: 'sheet', odg: 'drawing' };

/** An address in the package: relative to its root, percent-encoded. */
function pathOf(href: string): string {
  try {
    return decodeURIComponent(href).replace(/^\.\//, '');
  } catch {
    return href;
  }
}

const sizesOf = ({ size, bytes }: ReplacementImage): Pick<ReadFrame, 'size' | 'physical'> => ({
  size,
  physical: physicalSize(size, readDensity(bytes.subarray(0, 4096))),
});

/** Goes through a part in document order and collects frames with pictures and shapes filled with them. */
class Walk {
  readonly found: Found[] = [];
  page = 0;
  private title = '';

  constructor(private readonly format: Format) {}

  run(name: string, part: Part, root: Element, place: Place): void {
    if (this.format === 'odt' && place === 'body') this.page = 1;
    for (const e of root.children) this.visit(e, name, part, place);
  }

  private visit(e: Element, name: string, part: Part, place: Place): void {
    if (is(e, 'text', 'tracked-changes', 'changed-region')) return;
    if (place === 'master' && is(e, 'style', 'header', 'header-left', 'header-first')) place = 'header';
    if (place === 'master' && is(e, 'style', 'footer', 'footer-left', 'footer-first')) place = 'footer';
    if (is(e, 'text', 'note-body'))
      place =
        ancestor(e, (a) => a.local === 'note')?.attributes['text:note-class'] === 'endnote' ? 'endnote' : 'footnote';
    if (is(e, 'text', 'soft-page-break')) this.page++;
    if (
      (is(e, 'draw', 'page') && place !== 'master') ||
      (is(e, 'table', 'table') && this.format === 'ods' && place === 'sheet')
    ) {
      this.page++;
      this.title = shorten(wordsOf(e));
    }
    // Notes to a slide repeat the slide; what stands in for an object of another program is that program's to draw.
    if (is(e, 'presentation', 'notes')) return;
    this.look(e, name, part, place);
    for (const c of e.children) this.visit(c, name, part, place);
  }

  private look(e: Element, name: string, part: Part, place: Place): void {
    const isFrame = is(e, 'draw', 'frame');
    if (!isFrame && !is(e, 'draw', 'custom-shape', 'rect', 'circle', 'ellipse', 'path', 'polygon')) return;
    const image = isFrame ? (e.children[0] ?? null) : null;
    if (isFrame && (!image || !is(image, 'draw', 'image'))) return;
    const names = new Names(e);
    const style = names.get(e, 'draw:style-name') ?? names.get(e, 'presentation:style-name');
    if (!isFrame && part.styles.property(style, 'draw:fill') !== 'bitmap') return;
    const inText = this.format === 'odt';
    const frameFlow = names.get(e, 'text:anchor-type') === 'as-char' ? 'inline' : 'floating';
    const group = !!ancestor(e, (a) => is(a, 'draw', 'g'));
    const textBox = !!ancestor(e, (a) => is(a, 'draw', 'text-box'));
    const paged = ['body', 'slide', 'sheet', 'drawing'].includes(place);
    this.found.push({
      site: { part: name, element: e, image, names, styles: part.styles, style, inText, frameFlow },
      where: {
        part: name,
        place,
        table: !!ancestor(e, (a) => is(a, 'table', 'table-cell')),
        textBox,
        group,
        page: paged ? Math.max(1, this.page) : null,
        near: inText ? near(e) : this.title,
      },
      freeable: inText && !group && !textBox && place === 'body',
    });
  }
}

function wordsOf(e: Element): string {
  const out: string[] = [];
  const visit = (at: Element): void => {
    if (is(at, 'text', 'p', 'h', 'span', 'a')) out.push(at.text);
    if (out.length < 60) at.children.forEach(visit);
  };
  visit(e);
  return out.join(' ').replace(/\s+/g, ' ').trim();
}

function near(e: Element): string {
  const paragraph = ancestor(e, (a) => is(a, 'text', 'p', 'h'));
  const siblings = paragraph?.parent?.children ?? [];
  const at = paragraph ? siblings.indexOf(paragraph) : -1;
  const words = [paragraph, siblings[at + 1], siblings[at - 1]].map((p) => (p ? wordsOf(p) : ''));
  return shorten(words.find((w) => w !== '') ?? '');
}

/** New styles: automatic ones in each part, names for fills and dashes in `office:styles`. */
class NewStyles implements StyleWriter {
  private readonly automatic = new Map<string, string[]>();
  private readonly named: string[] = [];
  private readonly images = new Map<string, string>();
  private readonly dashes = new Map<string, string>();
  private count = 0;

  constructor(
    private readonly parts: ReadonlyMap<string, Part>,
    private readonly office: Element | undefined,
    fills: ReadonlyMap<string, { href: string }>,
    private readonly splices: Splices,
  ) {
    for (const [name, { href }] of fills) if (!this.images.has(href)) this.images.set(href, name);
  }

  private fresh(): string {
    const all = [...this.parts.values()];
    let name: string;
    do name = `Gable${++this.count}`;
    while (all.some((p) => p.styles.isTaken(name)));
    return name;
  }

  style(part: string, write: (name: string, names: Names) => string): string {
    const list = this.automatic.get(part) ?? [];
    this.automatic.set(part, list);
    const name = this.fresh();
    list.push(write(name, new Names(this.parts.get(part)!.root)));
    return name;
  }

  fillImage(href: string): string {
    let name = this.images.get(href);
    if (!name) {
      name = this.fresh();
      this.images.set(href, name);
      const n = this.officeNames();
      this.named.push(
        `<${n.of('draw:fill-image')}${n.declare('draw', 'xlink')} ${n.of('draw:name')}="${name}" ${n.of('xlink:href')}="${escapeXml(href)}" ${n.of('xlink:type')}="simple" ${n.of('xlink:show')}="embed" ${n.of('xlink:actuate')}="onLoad"/>`,
      );
    }
    return name;
  }

  dash(outline: Outline): string {
    const key = `${outline.dash} ${outline.weight}`;
    let name = this.dashes.get(key);
    if (!name) {
      name = this.fresh();
      this.dashes.set(key, name);
      this.named.push(dashElement(this.officeNames(), name, outline));
    }
    return name;
  }

  private officeNames(): Names {
    if (!this.office)
      throw new GableError(
        'cannot-write',
        'The file has no place for common styles.',
        'Open it in the program it was made with and save it again.',
      );
    return new Names(this.office);
  }

  /** Puts all of them where they belong. */
  flush(): void {
    for (const [name, list] of this.automatic) {
      const { root } = this.parts.get(name)!;
      const styles = child(root, 'automatic-styles');
      if (styles) this.splices.of(name).append(styles, list.join(''));
      else {
        const tag = new Names(root).of('office:automatic-styles');
        this.splices
          .of(name)
          .slot(root, ['automatic-styles'], ['master-styles', 'body'], `<${tag}>${list.join('')}</${tag}>`);
      }
    }
    if (this.named.length > 0) this.splices.of('styles.xml').append(this.office!, this.named.join(''));
  }
}

/** Pictures that come into the package, and their lines in the manifest (ODF 1.2 Part 3 §3.2). */
class Additions {
  readonly entries = new Map<string, Uint8Array>();
  private readonly stored = new Map<Uint8Array, string>();

  constructor(
    private readonly archive: Archive,
    private readonly manifest: Element | null,
    private readonly splices: Splices,
  ) {}

  store({ bytes, type }: ReplacementImage): string {
    const known = this.stored.get(bytes);
    if (known) return known;
    const taken = new Set(this.archive.entries.map((e) => e.name));
    let i = this.stored.size + 1;
    let name: string;
    do name = `Pictures/gable${i++}.${type}`;
    while (taken.has(name) || this.entries.has(name));
    this.stored.set(bytes, name);
    this.entries.set(name, bytes);
    if (this.manifest) {
      const n = new Names(this.manifest);
      this.splices
        .of(MANIFEST)
        .append(
          this.manifest,
          `<${n.of('manifest:file-entry')} ${n.of('manifest:full-path')}="${name}" ${n.of('manifest:media-type')}="image/${type}"/>`,
        );
    }
    return name;
  }
}
