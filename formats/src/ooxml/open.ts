import { equal, type Frame } from '@gable/core';
import { canCounterTurn, withoutInward } from '../counter-turned';
import { densityIn, MediaParts, problems } from '../media';
import { refuseTooMany } from '../limits';
import { misfitsOf, refuseMisfits, type Misfit } from '../misfits';
import {
  noData,
  noPicture,
  swapOf,
  type Format,
  type OpenedFile,
  type OpenedPicture,
  type Sheet,
  type Where,
} from '../opened';
import { child } from '../xml/located';
import { Splices } from '../xml/splices';
import { readEntry } from '../zip/reader';
import { Additions } from './additions';
import type { Theme } from './colour';
import type { Package } from './package';
import { blipIds, eachFill, readPicture, type ReadPicture, type Site } from './read-picture';
import { isPlainInGroup, readLegacy, writeGrouped, writeLegacy, type Legacy } from './legacy';
import type { Plate } from './plates';
import { canRecolour } from './recolour';
import { canTile } from './tile';
import { writePicture } from './write-picture';

/** A picture found in a part, before its data is looked at. */
export interface Found {
  site: Site;
  /** The same picture again, in the other branches of alternate content. */
  twins: Site[];
  where: Where;
  freeable: boolean;
  /** In the older markup, which is read and never spliced. */
  legacy?: Legacy;
  /** A second shape that stands in for its outline. */
  plate?: Plate;
}

interface Source {
  format: Format;
  pack: Package;
  /** Name of the main part. */
  main: string;
  found: readonly Found[];
  pages: number;
  /** Made when they are first asked for. */
  sheets?: () => readonly Sheet[];
  /** The theme that colours in a part refer to. */
  theme: (part: string) => Theme;
}

/** What DrawingML (ISO/IEC 29500-1 §20.1) has no words for. */
const BEYOND: ReadonlySet<Misfit> = new Set([
  'turn',
  'mirror',
  'tile',
  'backing',
  'tone',
  'seat',
  'spread',
  'outside',
  'shape',
]);

/** Does the text of a document make room for the picture's box? */
const isHeld = ({ holder, group }: Site): boolean =>
  !!holder && !group && (holder.local === 'inline' || !child(holder, 'wrapNone'));

/**
 * A line off the edge is part of the geometry (`ringed.ts`), where a shadow inside the shape would fall from it, too. What
 * is turned inside its shape is a turned frame with its shape turned back (`counter-turned.ts`).
 */
function beyond({ site, legacy, twins }: Found, read: ReadPicture, next: Frame): Misfit[] {
  if (legacy?.group) return isPlainInGroup(read, next) ? [] : ['group'];
  // A picture that becomes a shape for its tiles takes its data along as they are.
  const becomesTiles = next.placement.fit === 'tile' && read.frame.placement.fit !== 'tile';
  const lies = (m: Misfit): boolean =>
    m === 'tone' && next.tone
      ? becomesTiles || !canRecolour(next.tone)
      : m === 'outside'
        ? next.shadow?.kind === 'inner'
        : m === 'tile'
          ? !!legacy || twins.length > 0 || (becomesTiles && !!read.frame.tone) || !canTile(site, next)
          : true;
  const found = misfitsOf(read.frame, next, BEYOND).filter(lies);
  // Tiles as they were read can get a line that they cannot have.
  if (next.placement.fit === 'tile' && !equal(read.frame, next) && lies('tile') && !found.includes('tile'))
    found.push('tile');
  return withoutInward(found, read.frame, next, () => !legacy && canCounterTurn(next, read.size, isHeld(site)));
}

/** The pictures of a package that have been found in its parts, as a file. @throws GableError `too-many-pictures` */
export function openOoxml({ format, pack, main, found, pages, theme, sheets }: Source): OpenedFile {
  refuseTooMany(found.length);
  const reads: ReadPicture[] = [];
  const parts = new MediaParts(pack.archive);
  const pictures = found.map(({ site, where, freeable, legacy, plate }, i): OpenedPicture => {
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
    reads.push(read);
    return {
      n,
      where,
      freeable,
      frame: read.frame,
      size: read.size,
      media,
      problem,
      ...(plate ? { faked: { weight: plate.weight, colour: plate.colour } } : {}),
    };
  });

  let made: readonly Sheet[] | null = null;
  return {
    format,
    signed: pack.signed,
    pages,
    get sheets() {
      return (made ??= sheets?.() ?? []);
    },
    pictures,
    misfits(frame) {
      const read = reads[frame.n - 1] ?? noPicture(frame.n, pictures.length);
      return beyond(found[frame.n - 1]!, read, frame);
    },
    save(frames, swaps = new Map()) {
      const splices = new Splices((name) => pack.part(name));
      const additions = new Additions(pack, main, splices);
      for (const next of frames) {
        const at = found[next.n - 1];
        const read = reads[next.n - 1];
        if (!at || !read) noPicture(next.n, pictures.length);
        refuseMisfits(next.n, beyond(at, read, next));
        const swap = swapOf(next, swaps);
        // A real outline takes the place of the one that was faked.
        if (at.plate && !read.frame.outline && next.outline) splices.of(at.plate.part).replace(at.plate.element, '');
        if (at.legacy) {
          if (!swap && equal(read.frame, next)) continue;
          const rid = swap ? additions.relateTo(at.site, swap) : null;
          const write = at.legacy.group ? writeGrouped : writeLegacy;
          write(splices.of(at.site.part), at.legacy, swap ? { ...read, size: swap.size } : read, next, rid);
          continue;
        }
        for (const site of [at.site, ...at.twins]) {
          writePicture(splices.of(site.part), site, swap ? { ...read, size: swap.size } : read, next);
          if (swap) for (const each of eachFill(site)) additions.swap(each, swap);
        }
      }
      return additions.write(splices.changed());
    },
    pictureBytes(n) {
      const picture = pictures[n - 1] ?? noPicture(n, pictures.length);
      const entry = picture.media && pack.entry(picture.media.part);
      return entry ? readEntry(pack.archive, entry) : noData(picture);
    },
  };
}

/** Finds a picture's data and reads its header, once for each part. */
function locate(pack: Package, site: Site, parts: MediaParts): Pick<OpenedPicture, 'media' | 'problem'> {
  const { embed, link } = blipIds(site);
  const related = pack.relationships(site.part).find((r) => r.id === (embed ?? link));
  if (related?.external) return { media: null, problem: problems.linked(related.target) };
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
