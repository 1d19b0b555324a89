import {
  type Frame,
  type Size,
  GableError,
  type Box,
  type Document,
  type ItemId,
  type Paragraph,
  documentOfPictures,
  withChildren,
  itemIdOf,
  plainGround,
} from '@gable/core';
import type { Room } from '../codec/beside-text';
import { type Format, type Feature, unsupportedIn, refuseUnsupported, withOverstepping } from '../codec/capabilities';
import {
  MAX_PAGE_ITEMS,
  type AroundPicture,
  type AroundOnPage,
  type Arrangement,
  type Codec,
  type MarginPicture,
  type NewPicture,
  type PageLocks,
  type PageTies,
  type Opened,
  type OpenedPicture,
  noPicture,
  replacementOf,
  noData,
  noSuchPage,
  liesInText,
  type PagePlan,
  type ReplacementImage,
  type Restyling,
  type Veils,
} from '../codec/contract';
import { refuseTooMany } from '../codec/limits';
import { MediaParts, problemsIn, densityIn } from '../codec/media';
import { canFoldInnerTransform, foldInnerTransform, withoutFoldable } from '../equivalents/inner-transform';
import { canOverstep, offEdge } from '../equivalents/offset-outline';
import { TIE_NAMESPACE } from '../metadata/ties';
import { readDensity } from '../raster/density';
import { type XmlText, type Element, missingPart, decodeXml, encodeXml, parseXml, child } from '../xml/located';
import { Splices } from '../xml/splices';
import { type Archive, readEntry } from '../zip/reader';
import { spliceArchive } from '../zip/writer';
import { MANIFEST, Additions } from './additions';
import { tellLocks, withStaying } from '../codec/staying';
import { arrangeItems, standsAlone } from './arrange';
import { groupInCells, stays as staysInCells, ungroupInCells, type Cells } from './groups';
import { hrefsOf, putAround, putBeside, takeBeside } from './around';
import { Tables } from './cells';
import { Walk, PLACES } from './find';
import { type Part, pathOf } from './found';
import { Names, is } from './names';
import { NewStyles } from './new-styles';
import { fillShape } from './fill';
import { isLocked, setLocked } from './locks';
import { embedFonts } from './fonts';
import { blockElements, blocksOf, frameAlone, freeNames, insertBehind, insertFrame } from './insert';
import { reanchor } from './reanchor';
import { writeGround } from './ground';
import { restyleShape, writeGrounds } from './restyle';
import { hrefOf, readFrame, physicalSize } from './read-frame';
import { putInMargin } from './margin';
import { mastersOf } from './page-layout';
import { arrangePages } from './pages';
import { showable } from '../codec/likeness';
import { backdropsOf, drawnIn, readPages } from './read-page';
import type { Site, ReadFrame } from './site';
import { Styles, namedIn } from './styles';
import { TextStyles } from './text-styles';
import { readWords, type WordStyles } from './words';
import { ListStyles } from './layout/lists';
import { textMarkup } from './layout/text';
import { putTies } from './ties';
import { isPlain, lacksTone, writeFrame, staysImage } from './write-frame';

/** Says a part that something is locked? */
const LOCKED = /:protect="[^"]*position/;

const MIMETYPE = 'application/vnd.oasis.opendocument.';

const FORMATS: Record<string, Format> = { text: 'odt', presentation: 'odp', spreadsheet: 'ods', graphics: 'odg' };

export const openDocumentCodec: Codec = {
  formats: ['odt', 'odp', 'ods', 'odg'],
  recognises: ({ archive }) => archive !== null && openDocumentKind(archive) !== null,
  open: ({ archive }) => openOpenDocument(archive!, openDocumentKind(archive!)!),
};

/** The kind of an OpenDocument package by its first entry (ODF 1.2 Part 3 §3.3); null when it is none. */
function openDocumentKind(archive: Archive): string | null {
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
  const found = unsupportedIn(format, read.frame, next).filter(
    (m) => m !== 'tone' && (m !== 'flip' || !isPlain(next)) && (m !== 'overstep' || !canOverstep(next)),
  );
  const all: Feature[] = [
    ...(lacksTone(site, read, next) ? (['tone'] as const) : []),
    ...withoutFoldable(found, read.frame, next, () => canTurn(site, next, read.size)),
    // The room for the line would be tiled, too.
    ...(next.placement.fit === 'tile' && offEdge(next) ? (['tile'] as const) : []),
  ];
  return withOverstepping(all, next);
}

/**
 * Opens an OpenDocument text, presentation, spreadsheet or drawing (ISO/IEC 26300) and finds its pictures: those of the
 * content in document order, then those of headers, footers and master pages.
 * @throws GableError `encrypted`, `unsupported-format`, `missing-part`, `damaged-part`, `xml-…`, `too-many-pictures`
 */
function openOpenDocument(archive: Archive, kind: string): Opened {
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
      'Remove the password in the program it was made with, then open it again.',
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

  const wordsBy = new Map<string, WordStyles>();
  /** What the words of a part are set by; read when they are asked for. */
  const wordsOf = (part: string): WordStyles => {
    const roots = [...(common ? [common.root] : []), ...(part === 'content.xml' ? [content.root] : [])];
    const known = wordsBy.get(part) ?? {
      source: parts.get(part)?.text ?? '',
      text: new TextStyles(roots),
      lists: new ListStyles(roots),
    };
    wordsBy.set(part, known);
    return known;
  };

  const walk = new Walk(format);
  const body = child(child(content.root, 'body'), kind === 'graphics' ? 'drawing' : kind);
  if (body) walk.run('content.xml', parts.get('content.xml')!, body, kind === 'text' ? 'body' : PLACES[format]!);
  const { page } = walk;
  const fixed = kind === 'presentation' || kind === 'graphics';
  for (const master of child(common?.root, 'master-styles')?.children ?? [])
    walk.run('styles.xml', parts.get('styles.xml')!, master, 'master');
  const found = walk.found.filter((f) => hrefOf(f.site, fills) !== undefined);
  refuseTooMany(found.length);
  if (kind === 'text') {
    let page: Room | null = null;
    for (const { site } of found) site.room = () => (page ??= mastersOf(common?.root).first.page);
  }

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
    const held = { family: 'graphic' as const, style: site.style, boxed: false };
    const words = site.image ? null : readWords(site.element, held, wordsOf(site.part));
    const origin = tables && { origin: tables.cornerOf(site.element) };
    return { n, where, freeable, frame: read.frame, size: read.size, ...origin, ...described, ...(words && { words }) };
  });
  /** What changes, pictures that come in, and new styles. */
  const changing = (): { splices: Splices; additions: Additions; styles: NewStyles } => {
    const splices = new Splices((name) => (name === MANIFEST ? manifest! : parts.get(name)!));
    return {
      splices,
      additions: new Additions(archive, manifest?.root ?? null, splices),
      styles: new NewStyles(parts, office, fills, splices),
    };
  };
  /** The picture that stands in for an object (ODF 1.2 Part 1 §10.4.6.2, draw:object): the frame's own next one. */
  const likenessOf = (e: Element): Uint8Array | null => {
    const image = e.children.find((c) => is(c, 'draw', 'image'));
    const href = image && new Names(image).get(image, 'xlink:href');
    return href === undefined ? null : showable(archive, entries.get(pathOf(href)));
  };
  const locks = (id: ItemId): boolean => {
    const e = placed.get(id) ?? elements.get(id);
    return e !== undefined && isLocked(siteOf(e));
  };
  const pagesOf = (): Pick<Opened, 'sheets' | 'layers' | 'stories'> => {
    const numbers = new Map(found.map(({ site }, i) => [site.element, i + 1]));
    const { styles } = parts.get('content.xml')!;
    const words = wordsOf('content.xml');
    if (tables) {
      const boxOf = (n: number): Box => onSheet(pictures[n - 1]!);
      const left = { count: MAX_PAGE_ITEMS };
      const originOf = (e: Element): { x: number; y: number } => tables.cornerOf(e);
      const told = { part: 'content.xml', styles, words, numbers, boxOf, left, originOf, elements };
      const sheets = tables.sheets((sheet, number) => {
        const items = drawnIn(sheet, { ...told, name: `sheet${number}` });
        return { items, boxes: items.map((i) => ('picture' in i ? boxOf(i.picture) : i.at.box)) };
      });
      const still = (id: ItemId): boolean => {
        const e = placed.get(id) ?? elements.get(id);
        return e !== undefined && staysInCells(e);
      };
      return { sheets: withStaying(sheets, { stays: still, isLocked: locks }) };
    }
    if (!body) return { sheets: [] };
    if (!fixed) {
      const boxOf = (n: number): Box => pictures[n - 1]!.frame.box;
      const left = { count: MAX_PAGE_ITEMS };
      const layout = mastersOf(common?.root).first.page;
      const { width, height, margins, ground } = layout;
      const room = (): Room => layout;
      const told = { part: 'content.xml', styles, words, numbers, boxOf, left, name: 'text', room, elements };
      const page = { width, height, margins };
      const behind = ground ? { ground: plainGround(ground) } : {};
      const ofMargins = (['header', 'footer'] as const).map((place) => ({
        place,
        part: 'styles.xml',
        items: [],
        page,
      }));
      return {
        sheets: [],
        stories: [
          { place: 'body', part: 'content.xml', items: drawnIn(body, told), page: { ...page, ...behind } },
          ...ofMargins,
        ],
      };
    }
    const read = readPages({
      body,
      common: common?.root,
      content: content.root,
      styles,
      masterStyles: parts.get('styles.xml')?.styles,
      words,
      masterWords: wordsOf('styles.xml'),
      numbers,
      boxOf: (n) => pictures[n - 1]!.frame.box,
      elements,
      hasLikeness: (e) => likenessOf(e) !== null,
      pictures,
    });
    const stays = (id: ItemId): boolean => {
      const e = placed.get(id) ?? elements.get(id);
      return !e || standsAlone(content.root, e);
    };
    return { ...read, sheets: withStaying(read.sheets, { stays, isLocked: locks }) };
  };
  /** Where items of pages stand: known once the pages are read. */
  const elements = new Map<ItemId, Element>();
  let made: ReturnType<typeof pagesOf> | null = null;
  const placed = new Map(found.map(({ site }, i) => [itemIdOf({ n: i + 1 }), site.element]));
  const elementOf = (id: ItemId): Element | undefined => {
    made ??= pagesOf();
    return placed.get(id) ?? elements.get(id);
  };
  let document: Document | null = null;
  const documentNow = (): Document => (document ??= documentOfPictures(pictures, (made ??= pagesOf())));
  const itemsOn = (page: number): readonly ItemId[] => documentNow().pages[page - 1]?.items ?? [];
  const allOn = (page: number): readonly ItemId[] => itemsOn(page).flatMap((id) => withChildren(documentNow(), id));
  const elementsOf = (ids: readonly ItemId[]): Element[] => ids.flatMap((id) => elementOf(id) ?? []);
  /** The spreadsheet with what lies over its cells grouped otherwise. */
  const regrouped = (put: (cells: Cells) => void): Uint8Array => {
    const splices = new Splices((name) => parts.get(name)!);
    const { text } = content;
    put({ text, splice: splices.of('content.xml'), cornerOf: (e) => tables!.cornerOf(e) });
    return spliceArchive(archive, splices.changed());
  };
  const siteOf = (element: Element): Site => {
    const names = new Names(element);
    const style = names.get(element, 'draw:style-name') ?? names.get(element, 'presentation:style-name');
    const { styles } = parts.get('content.xml')!;
    const inText = kind === 'text';
    return { part: 'content.xml', element, image: null, names, styles, style, inText, frameFlow: 'floating' };
  };

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
    get stories() {
      return (made ??= pagesOf()).stories ?? [];
    },
    pictures,
    unsupported(frame) {
      const read = reads[frame.n - 1] ?? noPicture(frame.n, pictures.length);
      return unsupportedBy(format, found[frame.n - 1]!.site, read, frame);
    },
    change(frames, images) {
      const { splices, additions, styles: styleWriter } = changing();
      for (const next of frames) {
        const at = found[next.n - 1];
        const read = reads[next.n - 1];
        if (!at || !read) noPicture(next.n, pictures.length);
        refuseUnsupported(next.n, unsupportedBy(format, at.site, read, next));
        const image = replacementOf(next, images);
        const href = image ? additions.store(image) : hrefOf(at.site, fills)!;
        const known = image ? { ...read, ...sizesOf(image) } : read;
        writeFrame(splices.of(at.site.part), at.site, known, next, { styleWriter, href, replaced: !!image });
      }
      styleWriter.flush();
      return spliceArchive(archive, splices.changed(), additions.entries);
    },
    embedFonts(fonts) {
      const { splices, additions } = changing();
      embedFonts(splices.of('content.xml'), content.root, fonts, additions);
      return spliceArchive(archive, splices.changed(), additions.entries);
    },
    ...(!fixed && {
      insert(picture: NewPicture) {
        if (!body) throw noSuchPage(1, 0);
        const { splices, additions, styles } = changing();
        const href = additions.store(picture.image);
        const { place } = picture;
        if (place.in === 'shape') {
          const element = elementOf(place.fills)!;
          fillShape(splices.of('content.xml'), siteOf(element), { href, alt: picture.alt, styles });
          styles.flush();
          const n =
            1 + found.filter((f) => f.site.part === 'content.xml' && f.site.element.start < element.start).length;
          return { bytes: spliceArchive(archive, splices.changed(), additions.entries), n };
        }
        const beside = place.in === 'beside' ? (found[place.n - 1] ?? noPicture(place.n, found.length)).site : null;
        const part = beside?.part ?? 'content.xml';
        const coming = {
          ...picture,
          href,
          text: content.text,
          name: freeNames(content.root, ...(common ? [common.root] : []))(),
          style: (write: (name: string, names: Names) => string) => styles.style(part, write),
        };
        const splice = splices.of(part);
        const at =
          beside && place.in === 'beside'
            ? insertBehind(splice, beside.element, coming, place)
            : insertFrame(splice, body, coming);
        styles.flush();
        const before = found.filter(
          ({ site }) =>
            (site.part === part && site.element.start < at) || (part !== 'content.xml' && site.part !== part),
        );
        return { bytes: spliceArchive(archive, splices.changed(), additions.entries), n: 1 + before.length };
      },
      remove(n: number) {
        const { site } = found[n - 1] ?? noPicture(n, pictures.length);
        const splices = new Splices((name) => parts.get(name)!);
        splices.of(site.part).replace(frameAlone(site.element), '');
        return spliceArchive(archive, splices.changed());
      },
    }),
    ...(body && {
      restyle({ items, grounds, veils }: Restyling) {
        const { splices, additions, styles } = changing();
        const splice = splices.of('content.xml');
        const hrefOf = hrefsOf(veils, (image) => additions.store(image));
        const words = wordsOf('content.xml');
        for (const [id, change] of items) {
          if (kind === 'text') liesInText(change);
          const e = elementOf(id);
          const origin = e && tables?.cornerOf(e);
          if (e) restyleShape({ splice, content: content.root, styles, hrefOf, words }, siteOf(e), change, origin);
        }
        if (kind === 'text')
          for (const paint of grounds.values()) writeGround(splices.of('styles.xml'), common?.root, paint);
        else writeGrounds(splice, { content: content.root, body, styles }, grounds);
        styles.flush();
        return spliceArchive(archive, splices.changed(), additions.entries);
      },
    }),
    ...(tables && {
      group: (sets: readonly (readonly ItemId[])[]) =>
        regrouped((cells) => sets.forEach((ids) => groupInCells(cells, elementsOf(ids)))),
      ungroup: (groups: readonly ItemId[]) =>
        regrouped((cells) =>
          groups.forEach((id) => {
            const [group, e] = [documentNow().items[id], elementOf(id)];
            if (e && group?.kind === 'group') ungroupInCells(cells, e, elementsOf(group.children));
          }),
        ),
    }),
    ...((fixed || tables) &&
      body && {
        hasLocks: LOCKED.test(content.text) || LOCKED.test(common?.text ?? ''),
        putLocks(told: PageLocks) {
          const { splices, styles } = changing();
          tellLocks(told, { itemsOn: allOn, elementOf }, (e, locked) =>
            is(e, 'draw', 'g') ? undefined : setLocked(splices.of('content.xml'), siteOf(e), { locked, styles }),
          );
          styles.flush();
          return spliceArchive(archive, splices.changed());
        },
      }),
    ...(fixed &&
      body && {
        arrange(change: Arrangement) {
          const { splices, additions, styles } = changing();
          const masters = child(common?.root, 'master-styles')?.children ?? [];
          const named = new Map(masters.map((m) => [new Names(m).get(m, 'style:name') ?? '', m]));
          const layers = (made ??= pagesOf()).layers ?? [];
          const texts = arrangeItems(
            {
              ...{ parts, styles, elementOf, siteOf },
              pages: body.children.filter((e) => is(e, 'draw', 'page')),
              masters: new Map(layers.flatMap(({ id, name }) => (named.has(name) ? [[id, named.get(name)!]] : []))),
              store: (image) => additions.store(image),
              newName: freeNames(content.root, ...(common ? [common.root] : [])),
              spliceOf: (part) => splices.of(part),
              flush: () => styles.flush(),
            },
            change,
          );
          const arranged = [...texts].map(([name, text]) => {
            const { encoding } = parts.get(name)!;
            return [name, encodeXml({ text, encoding })] as const;
          });
          return spliceArchive(archive, new Map([...splices.changed(), ...arranged]), additions.entries);
        },
        standsAlone(id: ItemId): boolean {
          const e = elementOf(id);
          return !e || standsAlone(content.root, e);
        },
        hasTies: content.text.includes(TIE_NAMESPACE),
        putTies(ties: PageTies) {
          const splices = new Splices((name) => parts.get(name)!);
          putTies(splices.of('content.xml'), ties, { itemsOn: allOn, elementOf });
          return spliceArchive(archive, splices.changed());
        },
        putAround(around: readonly AroundOnPage[], veils: Veils) {
          const { splices, additions, styles } = changing();
          const hrefOf = hrefsOf(veils, (image) => additions.store(image));
          putAround({ splice: splices.of('content.xml'), styles, hrefOf, body, itemsOn, elementOf }, around);
          styles.flush();
          return spliceArchive(archive, splices.changed(), additions.entries);
        },
      }),
    ...(fixed &&
      body?.children.some((e) => is(e, 'draw', 'page')) && {
        arrangePages: (plan: readonly PagePlan[]) =>
          arrangePages(
            {
              ...{ archive, body, text: content.text, common: common?.text ?? '', manifest: manifest?.root },
              splices: new Splices((name) => (name === MANIFEST ? manifest! : parts.get(name)!)),
            },
            plan,
          ),
      }),
    ...(kind === 'text' && {
      putInMargin(wish: MarginPicture) {
        const { splices, additions, styles } = changing();
        const coming = {
          alt: wish.alt,
          href: additions.store(wish.picture),
          text: common?.text ?? '',
          name: freeNames(content.root, ...(common ? [common.root] : []))(),
          style: (write: (name: string, names: Names) => string) => styles.style('styles.xml', write),
        };
        const places = putInMargin({ splice: splices.of('styles.xml'), common: common?.root, coming }, wish);
        styles.flush();
        const there = found.flatMap(({ site }) => (site.part === 'styles.xml' ? site.element.start : []));
        const placed = places.map((at) => ({
          part: 'styles.xml',
          index: there.filter((s) => s < at).length + places.filter((p) => p < at).length,
        }));
        return { bytes: spliceArchive(archive, splices.changed(), additions.entries), placed };
      },
    }),
    ...((kind === 'text' || kind === 'spreadsheet') && {
      takeBeside() {
        const splices = new Splices((name) => parts.get(name)!);
        const around = takeBeside(parts, splices);
        return around.length > 0 ? { bytes: spliceArchive(archive, splices.changed()), around } : null;
      },
      putBeside(around: readonly AroundPicture[], veils: Veils) {
        const { splices, additions, styles } = changing();
        const hrefOf = hrefsOf(veils, (image) => additions.store(image));
        putBeside({ splices, styles, hrefOf, found }, around);
        styles.flush();
        return spliceArchive(archive, splices.changed(), additions.entries);
      },
    }),
    ...(kind === 'text' &&
      body && {
        blocks: () => blocksOf(body, content.text),
        reanchor(to: ReadonlyMap<number, Paragraph>) {
          const splices = new Splices((name) => parts.get(name)!);
          const order = reanchor(splices.of('content.xml'), { body, text: content.text, found }, to);
          return { bytes: spliceArchive(archive, splices.changed()), order };
        },
      }),
    ...(fixed && {
      likeness: (id: ItemId) => {
        made ??= pagesOf();
        const e = elements.get(id);
        return e ? likenessOf(e) : null;
      },
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
      markup(number: number) {
        // Shapes are known once the text is read.
        made ??= pagesOf();
        return number === 1
          ? textMarkup({
              own: new Map([...elements].map(([id, e]) => [e, id])),
              content: parts.get('content.xml')!,
              common: parts.get('styles.xml') ?? null,
              likeness: likenessOf,
              pictures: new Map(found.map(({ site }, i) => [site.element, { n: i + 1, frame: pictures[i]!.frame }])),
              blocks: new Map(body ? blockElements(body).map(({ element }, i) => [element, i]) : []),
              addsSpaces:
                entries.has('settings.xml') && /"AddParaTableSpacing"[^>]*>true</.test(xml('settings.xml').text),
            })
          : null;
      },
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

/** The box of a picture of a sheet, from the sheet's corner. */
const onSheet = ({ frame: { box }, origin = { x: 0, y: 0 } }: OpenedPicture): Box => ({
  ...box,
  x: box.x + origin.x,
  y: box.y + origin.y,
});

const sizesOf = ({ size, bytes }: ReplacementImage): Pick<ReadFrame, 'size' | 'physical'> => ({
  size,
  physical: physicalSize(size, readDensity(bytes.subarray(0, 4096))),
});
