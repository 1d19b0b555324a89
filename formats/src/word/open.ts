import { plainGround, type StoryContent, type ItemId } from '@gable/core';
import {
  type AroundPicture,
  type Place,
  type Opened,
  MAX_PAGE_ITEMS,
  type MarginPicture,
  type NewPicture,
  type Restyling,
  type Veils,
  type FontFile,
} from '../codec/contract';
import type { Room } from '../codec/beside-text';
import type { ColourMap } from '../drawingml/colour';
import { findFauxOutlines } from '../drawingml/faux-outline';
import { Additions } from '../ooxml/additions';
import type { Found } from '../ooxml/found';
import { openOoxml } from '../ooxml/pictures';
import { type Package, themeOf } from '../ooxml/package';
import { removal } from '../ooxml/remove-picture';
import { type Element, child, holds } from '../xml/located';
import { Splices } from '../xml/splices';
import { itemOfRun, numberOf, putBeside } from './around';
import { restyleInText } from './restyle';
import { takeBeside } from '../ooxml/take-beside';
import { embedFonts } from './fonts';
import { blocksOfDocument, insertInText } from './create';
import { Walk } from './find';
import { roomOf, sectionOf } from './flow';
import { groundOfText, writeGround } from './ground';
import { putInMargin } from './margin';
import type { TextPicture } from './layout/drawing';
import { documentMarkup } from './layout/pages';
import { WordStyles } from './layout/styles';
import { itemsInText } from './read-items';
import { reanchoring } from './reanchor';

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
  const roomAt = (holder: Element): Room => roomOf(sectionOf(holder) ?? lastSection(pack.part(main).root));
  let pages = 1;
  let [deleted, filled] = [0, 0];
  for (const { name, place } of parts) {
    const walk = new Walk(name, place);
    walk.run(pack.part(name).root);
    findFauxOutlines(pack.part(name).root, name, walk.found, theme);
    for (const { site } of walk.found) if (site.holder) site.room = () => roomAt(site.holder!);
    found.push(...walk.found);
    if (place === 'body') pages = walk.page;
    deleted += walk.deleted;
    filled += walk.filled;
  }
  const leftOut = [
    { why: 'in deleted text', count: deleted },
    { why: 'as fills of shapes in older markup', count: filled },
  ].filter((l) => l.count > 0);
  const elements = new Map<ItemId, Element>();
  let known: WordStyles | null = null;
  const styles = (): WordStyles => (known ??= new WordStyles(pack, main));
  const partOf = (e: Element): string | undefined => parts.find(({ name }) => holds(pack.part(name).root, e))?.name;
  /** What stands in the texts: read when it is first asked for. */
  const readPages = (): { sheets: []; stories: StoryContent[] } => {
    const left = { count: MAX_PAGE_ITEMS };
    const numbers = new Map(found.flatMap(({ site, twins }, i) => [site, ...twins].map(({ pic }) => [pic, i + 1])));
    const { width, height, margins } = roomOf(lastSection(pack.part(main).root));
    const ground = groundOfText(pack, main);
    const paper = { width, height, margins };
    const behind = ground ? { ground: plainGround(ground) } : {};
    const stories = parts.map(({ name: part, place }, i): StoryContent => {
      const told = { numbers, name: `story${i + 1}`, left, elements, part, theme, styles, roomAt };
      return {
        place,
        part,
        items: itemsInText(pack.part(part).root, told),
        page: place === 'body' ? { ...paper, ...behind } : paper,
      };
    });
    return { sheets: [], stories };
  };
  const file = openOoxml({ format: 'docx', pack, main, found, pages, theme, readPages });
  return Object.assign(file, {
    markup(page: number) {
      if (page !== 1) return null;
      // Shapes are known once the texts are read.
      void file.stories;
      const own = new Map([...elements].map(([id, e]) => [e, id]));
      return documentMarkup({ pack, main, theme, styles: styles(), pictures: pictured(found, file.pictures), own });
    },
    ...(leftOut.length > 0 && { leftOut }),
    remove: removal(pack, main, found),
    putInMargin: (wish: MarginPicture) => putInMargin(pack, main, wish),
    reanchor: reanchoring(pack, main, found),
    putBeside: (around: readonly AroundPicture[], veils: Veils) =>
      putBeside(pack, main, found, { around, veils, fonts: theme().fonts }),
    restyle({ items, grounds, veils }: Restyling) {
      // Shapes are known once the texts are read.
      void file.stories;
      const splices = new Splices((name) => pack.part(name));
      const additions = new Additions(pack, main, splices);
      restyleInText({ elements, partOf, theme }, { splices, additions }, { items, veils });
      const [paint] = grounds.values();
      if (paint) writeGround(pack, main, paint, { splices, additions });
      return additions.write(splices.changed());
    },
    takeBeside: () => takeBeside({ pack, main, found }, numberOf, itemOfRun),
    embedFonts: (fonts: readonly FontFile[]) => embedFonts(pack, main, fonts),
    insert: (picture: NewPicture) => insertInText(pack, main, found, picture),
    blocks: () => blocksOfDocument(pack, main),
  });
}

/** Pictures by the elements that they stand in, in all branches of alternate content. */
const pictured = (found: readonly Found[], pictures: Opened['pictures']): Map<Element, TextPicture> =>
  new Map(
    found.flatMap(({ site, twins }, i) =>
      [site, ...twins].map(({ pic }): [Element, TextPicture] => [
        pic,
        { n: pictures[i]!.n, frame: pictures[i]!.frame },
      ]),
    ),
  );

/** The section whose properties end the body (§17.6.17, sectPr). */
const lastSection = (root: Element): Element | undefined =>
  child(root, 'body')?.children.findLast((c) => c.local === 'sectPr');

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
