import {
  allOn,
  documentOfPictures,
  equal,
  GableError,
  itemIdOf,
  type Frame,
  type GroupItem,
  type ItemId,
} from '@gable/core';
import { NOT_DRAWN } from '@gable/core/silhouette';
import { unsupportedIn, refuseUnsupported, onlyAlt, withOverstepping, type Feature } from '../codec/capabilities';
import {
  type Codec,
  type Opened,
  type Sheet,
  shorten,
  type OpenedPicture,
  noPicture,
  replacementOf,
  noData,
} from '../codec/contract';
import { writeDataUrl } from '../codec/data-url';
import { refuseTooLarge, refuseBeyond } from '../codec/limits';
import { describeAddress } from '../codec/media';
import { tellLocks, withStaying } from '../codec/staying';
import { withTiesThatHold } from '../codec/tied';
import { decodeXml, parseXml, type Element, encodeXml } from '../xml/located';
import { Splice } from '../xml/splice';
import { arrangeDrawing } from './arrange';
import { itemAnew, putAround, veilPicture, type Writing } from './around';
import { embedFonts } from './fonts';
import { SVG, type Drawing, type Place, type Found } from './drawing';
import { placeOf, textIn, inGroup, namings } from './find';
import { groundOf, writeGround } from './ground';
import { Presentation } from './presentation';
import { read } from './read-image';
import { itemsIn } from './read-page';
import { restyleDrawn } from './restyle';
import { LOCK_ATTRIBUTE, putTies, TIE_ATTRIBUTE, tiedItems } from './ties';
import { canPlay, videoOf } from './video';
import { pageOf, sheetOf } from './viewport';
import { writeAlt, groupOf, fresh } from './write-image';

export const svgCodec: Codec = {
  formats: ['svg'],
  recognises: ({ bytes, archive }) => archive === null && isSvg(bytes),
  open: ({ bytes }) => openSvg(bytes),
};

/** Does a group say nothing of what is in it (SVG 2 §5.2)? */
const isBare = (group: Element): boolean =>
  Object.keys(group.attributes).every((name) => /^(id|xmlns(:.*)?)$/.test(name)) &&
  group.children.every((c) => !/^(title|desc|metadata|style|script|set|animate.*)$/.test(c.local));

/** An image with the video that stands in its place. */
function withOwnVideo(f: Found): Found {
  const video = videoOf(f.image);
  return video ? { ...f, frame: { ...f.frame, video } } : f;
}

/** Is this a drawing? Its root element must be `svg`, behind at most a declaration, comments and a document type. */
function isSvg(bytes: Uint8Array): boolean {
  const head = new TextDecoder().decode(bytes.subarray(0, 4096)).replace(/^\uFEFF/, '');
  return /^\s*(<\?xml[\s\S]*?\?>\s*)?(<!--[\s\S]*?-->\s*)*(<!DOCTYPE\s+svg[\s\S]*?>\s*)?(<!--[\s\S]*?-->\s*)*<(\w+:)?svg[\s>]/i.test(
    head,
  );
}

/**
 * Opens an SVG drawing (SVG 2) and finds its `image` elements. Nothing it links to is fetched, and nothing in it is run.
 * @throws GableError `xml-…`, `too-large`, `bad-svg`, `too-many-pictures`
 */
function openSvg(file: Uint8Array): Opened {
  refuseTooLarge(file);
  const bytes = new Uint8Array(file.buffer, file.byteOffset, file.byteLength);
  const decoded = decodeXml(bytes, 'drawing');
  const { text } = decoded;
  const root = parseXml(text, 'drawing', 'entities');
  if (root.local !== 'svg')
    throw new GableError('bad-svg', 'This is not an SVG drawing.', 'Save it again as plain SVG.');
  const ids = new Map<string, Element>();
  const shown = new Set<Element>();
  const visit = (e: Element, drawn: boolean): void => {
    const id = e.attributes['id'];
    if (id !== undefined && !ids.has(id)) ids.set(id, e);
    const here = drawn && !NOT_DRAWN.has(e.local);
    if (here && (e.uri === SVG || e.uri === '')) shown.add(e);
    e.children.forEach((c) => visit(c, here));
  };
  visit(root, true);
  const page = pageOf(root);
  const patterned = [...ids.values()].some((e) => e.local === 'pattern');
  const drawing: Drawing = { text, ids, page, looks: new Presentation(root), patterned, clips: new Map() };
  const places: Place[] = [];
  for (const e of shown) {
    const at = placeOf(e, drawing);
    if (at) refuseBeyond('uses', places.push(at));
  }
  const found = places.map((at, i) => withOwnVideo(read(at, i + 1, drawing)));
  const unsupportedBy = (f: Found, next: Frame): Feature[] =>
    withOverstepping(
      unsupportedIn('svg', f.frame, next).filter((m) => m !== 'video' || !canPlay(next)),
      next,
    );
  const near = shorten(textIn(root));
  const pictures = found.map((f): OpenedPicture => {
    const { media, problem } = describeAddress(f.href, f.bytes);
    const where = {
      part: '',
      place: 'drawing' as const,
      table: false,
      textBox: false,
      group: inGroup(f.element),
      page: 1,
      near,
    };
    return { n: f.frame.n, where, freeable: false, frame: f.frame, size: f.size, media, problem };
  });

  const shownBy = new Map(found.map((f) => [f.element, { n: f.frame.n, box: f.frame.box }]));
  let sheets: readonly Sheet[] | null = null;
  let known: ReturnType<typeof itemsIn> | null = null;
  const items = (): ReturnType<typeof itemsIn> => (known ??= itemsIn(root, drawing, shownBy));

  /** What was defined for a picture's sake alone. */
  const definitionsOf = ({ definitions }: Found): Element[] => {
    // What one that stays refers to stays, too.
    const stays = definitions.findIndex((e) => shown.has(e) || namings(text, e.attributes['id']) !== 1);
    return stays < 0 ? [...definitions] : definitions.slice(0, stays);
  };

  const elementOf = (id: ItemId): Element | undefined =>
    found.find((f) => itemIdOf(f.frame) === id)?.element ?? items().elements.get(id);
  const readSheets = (): Sheet[] => {
    const { items: all, elements, own } = items();
    const numbers = new Map(found.map((f) => [f.element, f.frame.n]));
    const sheet = {
      ...sheetOf(root, page),
      ...(ground && { background: ground.colour }),
      ...{ backdrop: true as const, drawn: true as const, apart: own, items: tiedItems(all, { numbers, elements }) },
    };
    // What is told of a group is told of all that is in it.
    const stays = (id: ItemId, group?: GroupItem): boolean => group !== undefined && !isBare(elements.get(id)!);
    const isLocked = (id: ItemId): boolean => elementOf(id)?.attributes[LOCK_ATTRIBUTE] !== undefined;
    return withStaying(withTiesThatHold([sheet], pictures), { stays, isLocked });
  };
  const ground = groundOf(root, drawing);
  const writing: Writing = {
    page,
    sheets: /<(\w+:)?style\b/.test(text),
    prefix: root.name.slice(0, root.name.length - root.local.length),
  };

  return {
    format: 'svg',
    signed: false,
    pages: 1,
    get sheets() {
      return (sheets ??= readSheets());
    },
    pictures,
    unsupported(frame) {
      const f = found[frame.n - 1] ?? noPicture(frame.n, found.length);
      return unsupportedBy(f, frame);
    },
    change(frames, images) {
      const splice = new Splice(text);
      const written = new Set<Element>();
      const reserved = new Set(ids.keys());
      for (const next of frames) {
        const f = found[next.n - 1] ?? noPicture(next.n, found.length);
        const image = replacementOf(next, images);
        if (!image && equal(f.frame, next)) continue;
        refuseUnsupported(next.n, unsupportedBy(f, next));
        if (written.has(f.element)) throw new Error(`Two pictures share one place.`);
        written.add(f.element);
        if (!image && f.alt && onlyAlt(f.frame, next)) {
          writeAlt(splice, f.alt, next.alt);
          continue;
        }
        const href = image ? writeDataUrl(image.bytes, `image/${image.type}`) : f.href;
        splice.replace(
          f.element,
          groupOf(f, next, { href, size: image?.size ?? f.size }, fresh(reserved), drawing.looks),
        );
        for (const e of definitionsOf(f)) splice.replace(e, '');
      }
      if (splice.empty) return bytes;
      return encodeXml({ text: splice.apply(), encoding: decoded.encoding });
    },
    arrange(change) {
      const where = new Map(found.map((f) => [itemIdOf(f.frame), f]));
      const elements = new Map([...items().elements, ...[...where].map(([id, f]) => [id, f.element] as const)]);
      const drawn = {
        text,
        root,
        page,
        elements,
        definitionsOf: (id: ItemId) => (where.has(id) ? definitionsOf(where.get(id)!) : []),
      };
      return encodeXml({ text: arrangeDrawing(drawn, change), encoding: decoded.encoding });
    },
    restyle({ items: changed, grounds, veils }) {
      const splice = new Splice(text);
      const written = new Set(items().own);
      for (const [id, { was, now }] of changed) {
        const e = elementOf(id)!;
        const image = veils.get(id);
        if (!written.has(id)) restyleDrawn(splice, e, { was, now, page });
        else splice.replace(e, itemAnew(e, now, { writing, veil: image && veilPicture(image) }));
      }
      const paint = grounds.get(1);
      if (paint) writeGround(splice, root, ground, paint);
      return encodeXml({ text: splice.apply(), encoding: decoded.encoding });
    },
    hasTies: text.includes(TIE_ATTRIBUTE),
    hasLocks: text.includes(LOCK_ATTRIBUTE),
    putLocks(locks) {
      const splice = new Splice(text);
      const all = allOn(documentOfPictures(pictures, this), 'page1');
      tellLocks(locks, { itemsOn: () => all, elementOf }, (e, locked) =>
        splice.attribute(e, LOCK_ATTRIBUTE, locked ? '' : null),
      );
      return encodeXml({ text: splice.apply(), encoding: decoded.encoding });
    },
    putTies(ties) {
      const splice = new Splice(text);
      const all = allOn(documentOfPictures(pictures, this), 'page1');
      putTies(splice, ties, { itemsOn: () => all, elementOf });
      return encodeXml({ text: splice.apply(), encoding: decoded.encoding });
    },
    putAround(around, veils) {
      const drawn = {
        text,
        root,
        writing,
        taken: new Set(ids.keys()),
        file: { pictures, sheets: this.sheets },
        elementOf,
      };
      return encodeXml({ text: putAround(drawn, { around, veils }), encoding: decoded.encoding });
    },
    embedFonts: (fonts) => encodeXml({ text: embedFonts(text, root, fonts), encoding: decoded.encoding }),
    backdrop() {
      const splice = new Splice(text);
      // What Gable has put there is painted for itself, and so is the colour behind it all.
      const { elements, own } = items();
      const apart = [...found.map((f) => f.element), ...own.map((id) => elements.get(id)!)];
      for (const element of new Set([...apart, ...(ground ? [ground.element] : [])])) splice.replace(element, '');
      return encodeXml({ text: splice.apply(), encoding: decoded.encoding });
    },
    pictureBytes(n) {
      const f = found[n - 1] ?? noPicture(n, found.length);
      return f.bytes ?? noData(pictures[n - 1]!);
    },
  };
}
