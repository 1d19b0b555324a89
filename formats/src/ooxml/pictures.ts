import { equal, type Frame, type Video } from '@gable/core';
import { canOverstep } from '../equivalents/offset-outline';
import { canFoldInnerTransform, withoutFoldable } from '../equivalents/inner-transform';
import { densityIn, MediaParts, problemsIn, rangeOf } from '../codec/media';
import { refuseTooMany } from '../codec/limits';
import { unsupportedIn, refuseUnsupported, withOverstepping, type Feature } from '../codec/capabilities';
import { noData, noPicture, replacementOf, type Opened, type OpenedPicture } from '../codec/contract';
import type { Format } from '../codec/capabilities';
import { readText } from '../drawingml/read-shape';
import { child } from '../xml/located';
import type { Splice } from '../xml/splice';
import { Splices } from '../xml/splices';
import { readEntry } from '../zip/reader';
import { Additions } from './additions';
import type { Theme } from '../drawingml/colour';
import type { Found } from './found';
import type { Package } from './package';
import { blipIds, eachFill, readPicture } from '../drawingml/read-picture';
import type { ReadPicture, Site } from '../drawingml/site';
import { readLegacy } from '../vml/read-picture';
import { isPlainInGroup, writeGrouped, writeLegacy } from '../vml/write-picture';
import { canRecolour } from '../drawingml/recolour';
import { canTile } from '../drawingml/tile';
import { writePicture } from '../drawingml/write-picture';

type Pages = Pick<Opened, 'sheets' | 'layers' | 'stories'>;

interface Source {
  format: Format;
  pack: Package;
  /** Name of the main part. */
  main: string;
  found: readonly Found[];
  pages: number;
  /** Its pages where they are fixed: read when they are first asked for. */
  readPages?: () => Pages;
  /** The theme that colours in a part refer to. */
  theme: (part: string) => Theme;
  /** Is told which frames have moved, so that what is tied to them follows. */
  follow?: (splices: Splices, moved: readonly MovedFrame[]) => void;
  /** Its videos, where it has some. */
  videos?: Videos;
}

/** How a picture is a video. */
interface Videos {
  can(site: Site): boolean;
  read(site: Site): Video | undefined;
  write(writing: { splice: Splice; additions: Additions }, site: Site, was: Video | undefined, now?: Video): void;
}

/** A frame that has another place, size or turn. */
export interface MovedFrame {
  site: Site;
  was: Frame;
  is: Frame;
}

/** Does the text of a document make room for the picture's box? */
const isHeld = ({ holder, group }: Site): boolean =>
  !!holder && !group && (holder.local === 'inline' || !child(holder, 'wrapNone'));

/**
 * A line off the edge is part of the geometry (`offset-outline.ts`), where a shadow inside the shape would fall from it, too. What
 * is turned inside its shape is a turned frame with its shape turned back (`inner-transform.ts`).
 */
function unsupportedBy(
  { format, videos }: Pick<Source, 'format' | 'videos'>,
  { site, legacy, twins }: Found,
  read: ReadPicture,
  next: Frame,
): Feature[] {
  if (legacy?.group) return isPlainInGroup(read, next) ? [] : ['group'];
  // A picture that becomes a shape for its tiles takes its data along as they are.
  const becomesTiles = next.placement.fit === 'tile' && read.frame.placement.fit !== 'tile';
  // Of these it depends on the frame.
  const known: Partial<Record<Feature, boolean>> = {
    ...(next.tone && { tone: becomesTiles || !canRecolour(next.tone) }),
    outside: next.shadow?.kind === 'inner',
    overstep: !!legacy || !canOverstep(next),
    video: !!legacy || videos?.can(site) !== true,
    tile: !!legacy || twins.length > 0 || (becomesTiles && !!read.frame.tone) || !canTile(site, next),
  };
  const lies = (m: Feature): boolean => known[m] ?? true;
  const found = unsupportedIn(format, read.frame, next).filter(lies);
  // Tiles as they were read can get a line that they cannot have.
  if (next.placement.fit === 'tile' && !equal(read.frame, next) && lies('tile') && !found.includes('tile'))
    found.push('tile');
  const left = withoutFoldable(
    found,
    read.frame,
    next,
    () => !legacy && canFoldInnerTransform(next, read.size, isHeld(site)),
  );
  return withOverstepping(left, next);
}

/** The pictures of a package that have been found in its parts, as a file. @throws GableError `too-many-pictures` */
export function openOoxml({ format, pack, main, found, pages, theme, readPages, follow, videos }: Source): Opened {
  refuseTooMany(found.length);
  const reads: ReadPicture[] = [];
  const parts = new MediaParts(pack.archive);
  const pictures = found.map(({ site, where, freeable, legacy, fauxOutline }, i): OpenedPicture => {
    const n = i + 1;
    const { media, problem } = locate(pack, site, parts);
    const pixels = media?.pixels ?? null;
    const read = legacy
      ? readLegacy(legacy, n, pixels)
      : readPicture(
          site,
          n,
          pixels,
          () => theme(site.part),
          () => densityIn(pack.archive, media ? pack.entry(media.part) : undefined),
        );
    const video = legacy ? undefined : videos?.read(site);
    const frame = video ? { ...read.frame, video } : read.frame;
    reads.push({ ...read, frame });
    const words =
      site.pic.local === 'sp' ? readText(child(site.pic, 'txBody'), { theme: () => theme(site.part) }) : null;
    return {
      n,
      where,
      freeable,
      frame,
      size: read.size,
      media,
      problem,
      ...clipOf(pack, video),
      ...(words && { words }),
      ...(fauxOutline ? { faked: { weight: fauxOutline.weight, colour: fauxOutline.colour } } : {}),
    };
  });

  let made: Pages | null = null;
  const read = (): Pages => (made ??= readPages?.() ?? { sheets: [] });
  return {
    format,
    signed: pack.signed,
    pages,
    get sheets() {
      return read().sheets;
    },
    get layers() {
      return read().layers ?? [];
    },
    get stories() {
      return read().stories ?? [];
    },
    pictures,
    unsupported(frame) {
      const read = reads[frame.n - 1] ?? noPicture(frame.n, pictures.length);
      return unsupportedBy({ format, videos }, found[frame.n - 1]!, read, frame);
    },
    change(frames, images) {
      const splices = new Splices((name) => pack.part(name));
      const additions = new Additions(pack, main, splices);
      const moved: MovedFrame[] = [];
      for (const next of frames) {
        const at = found[next.n - 1];
        const read = reads[next.n - 1];
        if (!at || !read) noPicture(next.n, pictures.length);
        refuseUnsupported(next.n, unsupportedBy({ format, videos }, at, read, next));
        const image = replacementOf(next, images);
        // A real outline takes the place of the one that was faked.
        if (at.fauxOutline && !read.frame.outline && next.outline)
          splices.of(at.fauxOutline.part).replace(at.fauxOutline.element, '');
        if (at.legacy) {
          if (!image && equal(read.frame, next)) continue;
          const rid = image ? additions.relateTo(at.site, image) : null;
          const write = at.legacy.group ? writeGrouped : writeLegacy;
          write(splices.of(at.site.part), at.legacy, image ? { ...read, size: image.size } : read, next, rid);
          continue;
        }
        for (const site of [at.site, ...at.twins]) {
          writePicture(splices.of(site.part), site, image ? { ...read, size: image.size } : read, next);
          if (image) for (const each of eachFill(site)) additions.replaceImage(each, image);
          videos?.write({ splice: splices.of(site.part), additions }, site, read.frame.video, next.video);
        }
        const { frame: was } = read;
        if (!equal([was.box, was.turn, was.flip], [next.box, next.turn, next.flip]))
          moved.push({ site: at.site, was, is: next });
      }
      follow?.(splices, moved);
      return additions.write(splices.changed());
    },
    pictureBytes(n) {
      const picture = pictures[n - 1] ?? noPicture(n, pictures.length);
      const entry = picture.media && pack.entry(picture.media.part);
      return entry ? readEntry(pack.archive, entry) : noData(picture);
    },
  };
}

/** Where a video of the package itself stands. */
function clipOf(pack: Package, video: Video | undefined): Pick<OpenedPicture, 'clip'> {
  const entry = video?.source.from === 'file' ? pack.entry(video.source.key) : undefined;
  return entry ? { clip: { part: entry.name, range: rangeOf(entry) } } : {};
}

/** Finds a picture's data and reads its header, once for each part. */
function locate(pack: Package, site: Site, parts: MediaParts): Pick<OpenedPicture, 'media' | 'problem'> {
  const { embed, link } = blipIds(site);
  const related = pack.relationships(site.part).find((r) => r.id === (embed ?? link));
  if (related?.external) return { media: null, problem: problemsIn.linked(related.target) };
  return parts.describe(related && pack.entry(related.target));
}

/**
 * The same picture stands in every branch of alternate content (ISO/IEC 29500-3 §7.6): found once, in the first branch that
 * has any, with its twins in the others, so that all are kept in step.
 */
export function inStep(branches: readonly Found[][]): Found[] {
  const main = branches.find((b) => b.length > 0) ?? [];
  const used = new Set<Found>();
  for (const picture of main)
    for (const branch of branches) {
      if (branch === main) continue;
      const ids = blipIds(picture.site);
      const twin = branch.find((t) => {
        const own = blipIds(t.site);
        return !t.legacy && !used.has(t) && own.embed === ids.embed && own.link === ids.link;
      });
      if (!twin) continue;
      used.add(twin);
      picture.twins.push(twin.site, ...twin.twins);
    }
  return main;
}
