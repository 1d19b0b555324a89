import { equal, MAX_CAPTIONS, type Frame, type StoryContent } from '@gable/core';
import { unsupportedIn, refuseUnsupported, withOverstepping, type Feature } from '../codec/capabilities';
import {
  type Codec,
  type Opened,
  type OpenedPicture,
  noPicture,
  noSuchPage,
  replacementOf,
  type ReplacementImage,
  type SitePicture,
  MAX_PAGE_ITEMS,
  noData,
} from '../codec/contract';
import { mediaTypeOf, readDataUrl } from '../codec/data-url';
import { refuseTooLarge, refuseTooMany, refuseBeyond } from '../codec/limits';
import { MediaParts, describeAddress, rangeOf } from '../codec/media';
import { rulesOf } from '../css/rules';
import { decodeWithDigest } from '../metadata/digest';
import { type Edit, applyEdits } from '../xml/splice';
import { type Archive, type Entry, readEntry } from '../zip/reader';
import { spliceArchive } from '../zip/writer';
import { HTML_ADAPTER, Cascade } from './cascade';
import { copyName, imageEdits, takesCopies } from './copies';
import { entryName, sized, imageOrPicture, wordsOfStyle, standing, tagAbove, near } from './find';
import { embedFonts } from './fonts';
import { blocksOf, insertImage } from './insert';
import { canBeGround, groundAlone } from './section';
import { pageMarkup } from './page';
import { pageFrom, type Page, elementsThat, type Found } from './page-source';
import { writtenPlace } from './place';
import { readImage, altOf, looksOf } from './read-image';
import { sheetsOf } from './sheets';
import { snippetOf } from './snippet';
import { siblingRules } from './siblings';
import { DeclaredSizing, sizingRules } from './declared';
import { imageAttributes, isPictured, storeCaptions, storeVideo, videoOf, type KeepVideo } from './video';
import { restyleWords } from './restyle';
import { ownWords, wordsItems, type OwnWords } from './words';
import { ownWrap, framed, store } from './write-image';

export const htmlCodec: Codec = {
  formats: ['html', 'site'],
  recognises: ({ bytes, archive }) =>
    archive ? !isOfficePackage(archive) && pagesOf(archive).length > 0 : isHtml(bytes),
  open: ({ bytes, archive }) => (archive ? openSite(archive) : openHtml(bytes)),
};

/** So many headings, paragraphs and the like of a page can look otherwise. */
const MOST_WORDS = 1000;

const isOfficePackage = ({ entries }: Archive): boolean =>
  entries.some((e) => e.name.toLowerCase() === '[content_types].xml');

/** Is this a web page? It begins like one. */
function isHtml(bytes: Uint8Array): boolean {
  const head = new TextDecoder().decode(bytes.subarray(0, 2048)).replace(/^\uFEFF/, '');
  return /^\s*(<\?xml[^>]*>\s*)?(<!--[\s\S]*?-->\s*)*<(!doctype\s+html|html|head|body|meta|title)\b/i.test(head);
}

/** The pages of a zipped site, by name; empty when there is none. */
const pagesOf = (archive: Archive): Entry[] =>
  archive.entries.filter((e) => /\.(html?|xhtml)$/i.test(e.name) && !/(^|\/)(__MACOSX|\.)/.test(e.name));

/** Opens one page. What it links to is never fetched. @throws GableError `too-large`, `too-many-pictures` */
function openHtml(file: Uint8Array): Opened {
  refuseTooLarge(file);
  const bytes = new Uint8Array(file.buffer, file.byteOffset, file.byteLength);
  return opened('html', [pageFrom('page', bytes)], null, (changed) => changed.get('page') ?? bytes);
}

/** Opens all pages of a zipped folder, with the pictures and style sheets in it. @throws GableError `no-pages`, … */
function openSite(archive: Archive): Opened {
  const pages = pagesOf(archive).map((e) => pageFrom(e.name, readEntry(archive, e)));
  return opened('site', pages, archive, (changed, added) => spliceArchive(archive, changed, added));
}

function opened(
  format: 'html' | 'site',
  pages: readonly Page[],
  archive: Archive | null,
  write: (changed: Map<string, Uint8Array>, added: Map<string, Uint8Array>) => Uint8Array,
): Opened {
  const entries = new Map((archive?.entries ?? []).map((e) => [e.name, e]));
  const folder = { archive, entries };
  const media = archive && new MediaParts(archive);
  const images = pages.flatMap((page) => elementsThat(page.tree, isPictured).map((image) => ({ page, image })));
  refuseTooMany(images.length);
  const wordCascades = new Map<Page, () => Cascade>();
  const cascades = new Map(
    pages.map((p) => {
      const sheets = sheetsOf(p, folder);
      const rules = sheets.flatMap((sheet) => rulesOf(sheet, HTML_ADAPTER));
      refuseBeyond('rules', rules.length);
      let siblings: ReturnType<typeof siblingRules> | null = null;
      p.siblings = () => (siblings ??= siblingRules(sheets));
      const cascade = new Cascade(rules);
      // Comparing rules has its limits: words take nothing of those from pictures.
      let forWords: Cascade | null = null;
      wordCascades.set(p, () => (forWords ??= new Cascade(rules)));
      let sizing: ReturnType<typeof sizingRules> | null = null;
      p.declared = (image) => {
        sizing ??= sizingRules(sheets.flatMap((sheet) => rulesOf(sheet, HTML_ADAPTER, 'all')));
        return DeclaredSizing.of(image, sizing, cascade.styleOf(image));
      };
      return [p, cascade];
    }),
  );
  const pageAt = (number: number): Page => {
    const page = pages[number - 1];
    if (!page) throw noSuchPage(number, pages.length);
    return page;
  };
  const found: Found[] = [];
  const pictures = images.map(({ page, image }, i): OpenedPicture => {
    const n = i + 1;
    const attributes = imageAttributes(image);
    const src = attributes['src'] ?? '';
    const data = readDataUrl(src);
    const name = data ? null : entryName(page.name, src);
    const entry = name === null ? undefined : entries.get(name);
    const { media: about, problem } = entry && media ? media.describe(entry) : describeAddress(src, data);
    const known = about?.pixels ?? null;
    const stored = known ?? sized(attributes) ?? { width: 300, height: 150 };
    const frameOurs = ownWrap(page, image);
    const read = frameOurs && decodeWithDigest(frameOurs.extras, frameOurs.markup, n);
    const cascade = cascades.get(page)!;
    const style = cascade.styleOf(image);
    const outer = frameOurs ? frameOurs.outer : imageOrPicture(image);
    const ours = frameOurs ? { name: frameOurs.name, style: frameOurs.style } : null;
    // Selectors that led to the image may lead past it since: where it stood is what was written then.
    const written = ours?.style ? writtenPlace(wordsOfStyle(ours.style), ours.name) : null;
    const said = read && written ? null : readImage(standing(image, cascade), n, stored);
    const video = videoOf(image, (address) => {
      const there = entries.get(entryName(page.name, address) ?? '');
      const bytes =
        readDataUrl(address) ?? (there && there.size <= MAX_CAPTIONS && archive ? readEntry(archive, there) : null);
      return bytes && new TextDecoder().decode(bytes);
    });
    const beside =
      video?.source.from === 'file' ? entries.get(entryName(page.name, video.source.key) ?? '') : undefined;
    const frame = { ...(read ?? said!.frame), alt: altOf(attributes), ...(video && { video }) };
    const place = written ?? said!.place;
    const recoloured = said?.recoloured ?? looksOf(style).read;
    found.push({
      ...{ page, image, attributes, outer, ours, frame, size: stored, known: known !== null, src, entry, data },
      ...{ recoloured, place },
    });
    return {
      n,
      where: {
        part: archive ? page.name : '',
        place: 'page',
        table: tagAbove(image, 'td') || tagAbove(image, 'th'),
        textBox: false,
        group: false,
        page: pages.indexOf(page) + 1,
        near: near(image),
      },
      freeable: false,
      ...(canBeGround(outer) && { sections: true }),
      ...(beside && { clip: { part: beside.name, range: rangeOf(beside) } }),
      frame,
      size: stored,
      media: about,
      problem,
    };
  });

  let stories: StoryContent[] | null = null;
  const words = new Map<Page, readonly OwnWords[]>();
  const mostWords = Math.min(MOST_WORDS, Math.floor(MAX_PAGE_ITEMS / Math.max(1, pages.length)));
  const wordsOn = (page: Page): readonly OwnWords[] => {
    const known = words.get(page) ?? ownWords(page.tree, { number: 1 + pages.indexOf(page), most: mostWords });
    words.set(page, known);
    return known;
  };
  // A video lies in its box like a picture, but has no tiles.
  const unsupportedBy = (f: Found, next: Frame): Feature[] =>
    withOverstepping(
      unsupportedIn(format, f.frame, next).filter((m) => m !== 'video' || next.placement.fit === 'tile'),
      next,
    );
  return {
    format,
    signed: false,
    pages: Math.max(1, pages.length),
    sheets: [],
    pictures,
    unsupported(frame) {
      const f = found[frame.n - 1] ?? noPicture(frame.n, found.length);
      return unsupportedBy(f, frame);
    },
    change(frames, images) {
      const added = new Map<string, Uint8Array>();
      const edits = new Map<Page, Edit[]>();
      const taken = new Map(pages.map((p) => [p, new Set<string>()]));
      for (const next of frames) {
        const f = found[next.n - 1] ?? noPicture(next.n, found.length);
        const image = replacementOf(next, images);
        if (!image && equal(f.frame, next)) continue;
        refuseUnsupported(next.n, unsupportedBy(f, next));
        const list = edits.get(f.page) ?? [];
        edits.set(f.page, list);
        const keep = (s: ReplacementImage): string => store(s, f.page, entries, added, format);
        const beside = { page: f.page, entries, added };
        const keepVideo: KeepVideo = {
          data: (video) => storeVideo(video, beside, format),
          captions: (text) => storeCaptions(text, beside, format),
        };
        list.push(...framed(f, next, { image, keep, keepVideo, taken: taken.get(f.page)! }));
      }
      const changed = new Map<string, Uint8Array>();
      for (const [page, list] of edits) changed.set(page.name, page.encode(applyEdits(page.text, list)));
      return write(changed, added);
    },
    putBeside(around) {
      const edits = new Map<Page, Edit[]>();
      const taken = new Map(pages.map((p) => [p, new Set<string>()]));
      for (const own of around) {
        const f = found[own.n - 1] ?? noPicture(own.n, found.length);
        const list = framed(f, f.frame, { around: own, taken: taken.get(f.page)! });
        edits.set(f.page, [...(edits.get(f.page) ?? []), ...list]);
      }
      return write(
        new Map([...edits].map(([page, list]) => [page.name, page.encode(applyEdits(page.text, list))])),
        new Map(),
      );
    },
    embedFonts(fonts) {
      const edits = pages.map((page) => [page, embedFonts(page, fonts)] as const).filter(([, list]) => list.length > 0);
      return write(
        new Map(edits.map(([page, list]) => [page.name, page.encode(applyEdits(page.text, list))])),
        new Map(),
      );
    },
    // Each page is a text of its own, with or without pictures.
    get stories() {
      return (stories ??= pages.map((page) => {
        const items = wordsItems(wordsOn(page), wordCascades.get(page)!());
        return { place: 'page', part: archive ? page.name : '', items };
      }));
    },
    restyle({ items }) {
      const changed = new Map<string, Uint8Array>();
      for (const page of pages) {
        const cascade = wordCascades.get(page)!();
        const edits = wordsOn(page).flatMap((words) => {
          const change = items.get(words.id);
          return change ? restyleWords(words, change, { cascade, text: page.text }) : [];
        });
        if (edits.length > 0) changed.set(page.name, page.encode(applyEdits(page.text, edits)));
      }
      return write(changed, new Map());
    },
    blocks: (number) => blocksOf(pageAt(number)),
    insert(picture) {
      const added = new Map<string, Uint8Array>();
      const { page, edit } = insertImage(pages, found, picture, (on) =>
        store(picture.image, on, entries, added, format),
      );
      const changed = new Map([[page.name, page.encode(applyEdits(page.text, [edit]))]]);
      const before = found.filter(
        (f) =>
          pages.indexOf(f.page) < pages.indexOf(page) ||
          (f.page === page && f.image.sourceCodeLocation!.startOffset < edit.start),
      );
      return { bytes: write(changed, added), n: 1 + before.length };
    },
    remove(n) {
      const { page, outer, ours } = found[n - 1] ?? noPicture(n, found.length);
      const gone = [groundAlone(outer), ...(ours?.style ? [ours.style] : [])];
      const edits = gone.map((e) => ({
        start: e.sourceCodeLocation!.startOffset,
        end: e.sourceCodeLocation!.endOffset,
        text: '',
      }));
      return write(new Map([[page.name, page.encode(applyEdits(page.text, edits))]]), new Map());
    },
    markup(number, painted) {
      const page = pages[number - 1];
      if (!page) return null;
      const on = found.flatMap((f, i) => {
        if (f.page !== page) return [];
        const outer = f.ours ? f.outer : f.image;
        const shown = !painted?.has(i + 1) && (f.data !== null || f.entry !== undefined);
        return [{ n: i + 1, image: f.image, outer, size: f.size, shown }];
      });
      return pageMarkup(page, { pictures: on, words: wordsOn(page) }, folder);
    },
    ...(archive && {
      besidePage(n: number) {
        const f = found[n - 1] ?? noPicture(n, found.length);
        return takesCopies(f) ? { name: f.entry!.name, bytes: readEntry(archive, f.entry!) } : null;
      },
      withCopies(list: readonly SitePicture[]) {
        const added = new Map<string, Uint8Array>();
        const edits = new Map<Page, Edit[]>();
        // Copies of one file that several pictures show stand there once.
        const names = new Map<string, string>();
        for (const picture of list) {
          const f = found[picture.n - 1] ?? noPicture(picture.n, found.length);
          const copies = (takesCopies(f) ? picture.copies : []).map(({ width, bytes }) => {
            const key = `${f.entry!.name} ${width}`;
            const name = names.get(key) ?? copyName(f.entry!.name, width, (own) => entries.has(own) || added.has(own));
            names.set(key, name);
            if (!added.has(name)) added.set(name, bytes);
            return { name, width };
          });
          edits.set(f.page, [...(edits.get(f.page) ?? []), ...imageEdits(f, picture, copies)]);
        }
        const changed = [...edits].filter(([, all]) => all.length > 0);
        return write(
          new Map(changed.map(([page, all]) => [page.name, page.encode(applyEdits(page.text, all))])),
          added,
        );
      },
    }),
    snippet(n) {
      const f = found[n - 1] ?? noPicture(n, found.length);
      const { media: about } = pictures[n - 1]!;
      const bytes = f.data ?? (f.entry && archive ? readEntry(archive, f.entry) : null);
      return snippetOf(f, bytes && about ? { bytes, type: mediaTypeOf(about.type) } : null);
    },
    pictureBytes(n) {
      const f = found[n - 1] ?? noPicture(n, found.length);
      if (f.data) return f.data;
      return f.entry && archive ? readEntry(archive, f.entry) : noData(pictures[n - 1]!);
    },
  };
}
