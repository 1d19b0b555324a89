import {
  documentOfPictures,
  withChildren,
  itemIdOf,
  type Document,
  type GroupItem,
  type ItemId,
  type LayerContent,
  type PageItem,
} from '@gable/core';
import { ancestor, attributeOf, child, descend, firstBelow, type Element } from '../xml/located';
import { showable } from '../codec/likeness';
import {
  MAX_PAGE_ITEMS,
  type AroundOnPage,
  type PageLocks,
  type PageTies,
  type Arrangement,
  type Opened,
  type PagePlan,
  type Restyling,
  type Place,
  type Veils,
} from '../codec/contract';
import { NO_THEME, readTheme, type ColourMap, type Theme } from '../drawingml/colour';
import { collect, placeholderOf, textOf } from '../drawingml/free-walk';
import { hasLocks, putLocks } from '../ooxml/locks';
import { openOoxml, type MovedFrame } from '../ooxml/pictures';
import { isLocked } from '../drawingml/locks';
import { type Splices } from '../xml/splices';
import type { Site } from '../drawingml/site';
import type { Found } from '../ooxml/found';
import { relatedId, type Package } from '../ooxml/package';
import type { Sheet } from '../codec/contract';
import { TIE_NAMESPACE } from '../metadata/ties';
import { readEntry } from '../zip/reader';
import { arrangeSlides } from './arrange';
import { putAround } from './around';
import { withStaying } from '../codec/staying';
import { withTiesThatHold } from '../codec/tied';
import { putTies } from './ties';
import { isAnimated } from '../ooxml/remove-picture';
import { drawingOf } from '../drawingml/tie-text';
import { followFrames } from './glue';
import { arrangePages } from './pages';
import { restyle } from './restyle';
import { canBeVideo, readVideo, writeVideo } from './video';
import { backdropOf, groundOf, itemsOf, type Layer } from './read-page';
import { measure } from '../drawingml/values';

/** Has a group a fill for what is in it, or effects of its own (§20.1.2.2.22, grpSpPr)? */
const looksAsOne = (group: Element): boolean =>
  descend(group, 'grpSpPr')?.children.some((c) => /(Fill|effectLst|effectDag|scene3d)$/.test(c.local)) === true;

/** Says a part that something is locked? */

const rootOf = (e: Element): Element => (e.parent ? rootOf(e.parent) : e);

/** Everything on a slide, a layout or a master that is or fills a placeholder. */
function placeholders(root: Element): { ph: Element; spPr: Element | undefined; element: Element }[] {
  const out: { ph: Element; spPr: Element | undefined; element: Element }[] = [];
  const visit = (e: Element): void => {
    const ph = placeholderOf(e);
    if (ph) out.push({ ph, spPr: descend(e, 'spPr'), element: e });
    else e.children.forEach(visit);
  };
  const tree = descend(root, 'cSld', 'spTree');
  if (tree) visit(tree);
  return out;
}

/** Placeholder types that take after one of another name on the master (§19.7.10, ST_PlaceholderType; common practice). */
const MASTER_TYPE: Record<string, string> = { ctrTitle: 'title', subTitle: 'body', obj: 'body', pic: 'body' };

/**
 * Opens a slide deck (ISO/IEC 29500-1 §19) and finds its pictures: slide by slide in the order they are shown, then those
 * of the layouts and masters, each once. Shapes filled with a picture count as pictures.
 * @param main name of the main part
 */
export function openDeck(pack: Package, main: string): Opened {
  const target = (part: string, kind: string): string | undefined => pack.partFor(part, kind);
  const ids = descend(pack.part(main).root, 'sldIdLst')?.children ?? [];
  const related = pack.relationships(main).filter((x) => x.kind === 'slide' && !x.external);
  const slideOf = new Map(related.map((r) => [r.id, r]));
  const listed = ids.flatMap((id) => {
    const r = slideOf.get(relatedId(id) ?? '');
    return r && pack.entry(r.target) ? [r.target] : [];
  });
  const slides = [...new Set(listed)];

  /** The parts a part takes after, nearest first. */
  const above = (part: string): string[] => {
    const layout = target(part, 'slideLayout');
    const master = target(layout ?? part, 'slideMaster');
    return [layout, master].filter((p): p is string => p !== undefined);
  };

  const held = new Map<string, ReturnType<typeof placeholders>>();
  const heldBy = (part: string): ReturnType<typeof placeholders> => {
    const list = held.get(part) ?? placeholders(pack.part(part).root);
    held.set(part, list);
    return list;
  };
  const inherited = (pic: Element, part: string): Element[] => {
    const ph = placeholderOf(pic);
    if (!ph) return [];
    const idx = ph.attributes['idx'] ?? '0';
    let type = ph.attributes['type'] ?? 'obj';
    const out: Element[] = [];
    for (const name of above(part)) {
      const onMaster = MASTER_TYPE[type] ?? type;
      const list = heldBy(name);
      const match =
        list.find((p) => (p.ph.attributes['idx'] ?? '0') === idx && (p.ph.attributes['type'] ?? 'obj') === type) ??
        list.find((p) => idx !== '0' && p.ph.attributes['idx'] === idx) ??
        list.find((p) => [type, onMaster].includes(p.ph.attributes['type'] ?? 'obj'));
      if (match?.spPr) out.push(match.spPr);
      type = match?.ph.attributes['type'] ?? type;
    }
    return out;
  };

  const read = (part: string, place: Place, page: number | null): Found[] => {
    const { root } = pack.part(part);
    const title = heldBy(part).find((p) => /title/i.test(p.ph.attributes['type'] ?? ''));
    const near = textOf(title?.element) || textOf(descend(root, 'cSld'));
    return collect(root, { part, place, page, near, site: (pic) => ({ inherited: inherited(pic, part) }) });
  };

  const found = slides.flatMap((part, i) => read(part, 'slide', i + 1));
  const layouts = [...new Set(slides.flatMap((s) => target(s, 'slideLayout') ?? []))];
  const masters = [...new Set(layouts.flatMap((l) => target(l, 'slideMaster') ?? []))];
  for (const part of layouts) found.push(...read(part, 'layout', null));
  for (const part of masters) found.push(...read(part, 'master', null));

  /** Names of colours: the master's, unless the part has its own (§19.3.1.7, clrMapOvr). */
  const colourMap = (part: string): ColourMap => {
    const own = descend(pack.part(part).root, 'clrMapOvr', 'overrideClrMapping');
    const master = [part, ...above(part)].map((p) => child(pack.part(p).root, 'clrMap')).find((m) => m !== undefined);
    return (own ?? master)?.attributes ?? {};
  };
  const themes = new Map<string, Theme>();
  const themeOfPart = new Map<string, Theme>();
  const theme = (part: string): Theme => {
    const known = themeOfPart.get(part);
    if (known) return known;
    const owner = [part, ...above(part)].find((p) => target(p, 'theme')) ?? main;
    const name = target(owner, 'theme');
    const mapping = colourMap(part);
    // Slides by the thousand share a theme and its names: it is read once for all of them.
    const key = JSON.stringify([name, mapping]);
    const read = themes.get(key) ?? (name ? readTheme(pack.part(name).root, mapping) : NO_THEME);
    themes.set(key, read);
    themeOfPart.set(part, read);
    return read;
  };
  /** Styles by levels: the master's by the kind of a placeholder (§19.3.1.52, txStyles), for all else those of the deck. */
  const listsFor = (e: Element, part: string): Element[] => {
    const type = placeholderOf(e)?.attributes['type'] ?? (placeholderOf(e) ? 'obj' : null);
    const styles = child(pack.part(above(part).at(-1) ?? part).root, 'txStyles');
    const deck = child(pack.part(main).root, 'defaultTextStyle');
    const kind =
      type === null
        ? 'otherStyle'
        : /title/i.test(type)
          ? 'titleStyle'
          : /^(dt|ftr|sldNum)$/.test(type)
            ? 'otherStyle'
            : 'bodyStyle';
    const own = child(styles, kind);
    return (type === null ? [deck, own] : [own, deck]).filter((l) => l !== undefined);
  };
  /** The picture that stands in for an object, in it or in the other branch of its markup (ISO/IEC 29500-3 §7.6, Fallback). */
  const likenessOf = (e: Element, part: string): Uint8Array | null => {
    const blip =
      firstBelow(e, 'blip') ??
      firstBelow(
        ancestor(e, (a) => a.local === 'AlternateContent'),
        'blip',
      );
    const rid = attributeOf(blip, 'embed');
    const to = rid && pack.relationships(part).find((r) => r.id === rid && !r.external);
    return to ? showable(pack.archive, pack.entry(to.target)) : null;
  };
  const tableStyle = (id: string): Element | undefined => {
    const name = target(main, 'tableStyles');
    return name ? pack.part(name).root.children.find((s) => s.attributes['styleId'] === id) : undefined;
  };
  const size = descend(pack.part(main).root, 'sldSz')?.attributes;
  const isSlide = new Set(slides);
  const layerOf = (part: string): Layer => ({
    part,
    root: pack.part(part).root,
    theme: () => theme(part),
    takesAfter: (e: Element) => inherited(e, part),
    listsFor: (e: Element) => listsFor(e, part),
    hasLikeness: (e: Element) => likenessOf(e, part) !== null,
    tableStyle,
    own: isSlide.has(part),
  });
  const layersOf = (slide: string): Layer[] => [...above(slide).reverse(), slide].map(layerOf);

  /** Where items stand: known once the pages are read. */
  const elements = new Map<ItemId, Element>(found.map(({ site }, i) => [itemIdOf({ n: i + 1 }), site.pic]));

  /** Slides with what lies on them, and what lies on the layouts and masters under them: made when first asked for. */
  const readPages = (): { sheets: Sheet[]; layers: LayerContent[] } => {
    const numbers = new Map<string, Map<Element, number>>();
    for (const [i, { site, twins }] of found.entries())
      for (const { part, pic } of [site, ...twins])
        numbers.set(part, (numbers.get(part) ?? new Map<Element, number>()).set(pic, i + 1));
    const left = { count: MAX_PAGE_ITEMS };
    const read = (part: string, name: string): PageItem[] =>
      itemsOf(layerOf(part), { numbers: numbers.get(part) ?? new Map(), name, left, elements });
    const shared = [...new Set(slides.flatMap(above))];
    const layers = shared.map((part, i) => ({ id: `layer${i + 1}`, name: part, items: read(part, `layer${i + 1}`) }));
    const names = new Map(layers.map(({ id, name }) => [name, id]));
    const [width, height] = [measure(size?.['cx']) ?? 720, measure(size?.['cy']) ?? 540];
    const sheets = slides.map((part, i): Sheet => {
      const under = layersOf(part);
      const background = under.map(groundOf).findLast((g) => g !== null) ?? '#ffffff';
      return {
        width,
        height,
        background,
        layers: above(part)
          .reverse()
          .map((p) => names.get(p)!),
        items: read(part, `slide${i + 1}`),
        ...(backdropOf(under) && { backdrop: true as const }),
      };
    });
    return { sheets: withStaying(withTiesThatHold(sheets, file.pictures), { stays, isLocked: locks }), layers };
  };
  /** Must an element stay as it is grouped: does an animation move it, or does it fill a placeholder? */
  const standsAlone = (e: Element | undefined): boolean =>
    !e || placeholderOf(e) !== undefined || isAnimated(rootOf(e), drawingOf(e)?.attributes['id']);
  const stays = (id: ItemId, group?: GroupItem): boolean => {
    const e = elements.get(id);
    return standsAlone(e) || (group !== undefined && looksAsOne(e!));
  };
  const locks = (id: ItemId): boolean => {
    const e = elements.get(id);
    return e !== undefined && isLocked(e);
  };
  const backdrop = (page: number): Uint8Array | null => {
    const slide = slides[page - 1];
    const at = slide === undefined ? null : backdropOf(layersOf(slide));
    const r = at && pack.relationships(at.part).find((x) => x.id === at.id && !x.external);
    const entry = r && pack.entry(r.target);
    return entry ? readEntry(pack.archive, entry) : null;
  };
  /** The part that an element of a slide, a layout or a master stands in. */
  const partOf = (e: Element): string | undefined => {
    const root = ancestor(e, (a) => a.parent === null);
    return [...slides, ...slides.flatMap(above)].find((name) => pack.part(name).root === root);
  };
  const likeness = (id: ItemId): Uint8Array | null => {
    // Where items stand is known once the pages are read.
    void file.sheets;
    const e = elements.get(id);
    const part = e && partOf(e);
    return e && part !== undefined ? likenessOf(e, part) : null;
  };
  const pages = Math.max(1, slides.length);
  const arrange = (change: Arrangement): Uint8Array => {
    const { layers = [] } = file;
    const parts = new Map(layers.map(({ id, name }) => [id, name]));
    return arrangeSlides({ pack, main, slides, layers: parts, elements, theme }, change);
  };
  let document: Document | null = null;
  const itemsOn = (page: number): readonly ItemId[] =>
    (document ??= documentOfPictures(file.pictures, file)).pages[page - 1]?.items ?? [];
  const allOn = (page: number): readonly ItemId[] => itemsOn(page).flatMap((id) => withChildren(document!, id));
  const follow = (splices: Splices, moved: readonly MovedFrame[]): void =>
    followFrames(splices, (part) => pack.part(part).root, moved);
  const videos = { can: canBeVideo, read: (site: Site) => readVideo(pack, site), write: writeVideo };
  const file = openOoxml({ format: 'pptx', pack, main, found, pages, theme, readPages, follow, videos });
  const pagesAsPlanned = (plan: readonly PagePlan[]): Uint8Array => arrangePages({ pack, main, slides }, plan);
  return Object.assign(file, {
    backdrop,
    likeness,
    arrange,
    restyle: (change: Restyling) => restyle({ pack, main, slides, layers: new Map(), elements, theme }, partOf, change),
    putAround: (around: readonly AroundOnPage[], veils: Veils) =>
      putAround({ pack, main, slides, layers: new Map(), elements, theme }, { around, veils }, itemsOn),
    standsAlone: (id: ItemId) => standsAlone(elements.get(id)),
    hasTies: slides.some((part) => pack.part(part).text.includes(TIE_NAMESPACE)),
    putTies: (ties: PageTies) => putTies({ pack, main, slides, layers: new Map(), elements, theme }, ties, allOn),
    hasLocks: hasLocks(pack, slides),
    putLocks: (told: PageLocks) =>
      putLocks({ pack, main }, told, { itemsOn: allOn, elementOf: (id) => elements.get(id), partOf }),
    ...(slides.length > 0 && { arrangePages: pagesAsPlanned }),
  });
}
