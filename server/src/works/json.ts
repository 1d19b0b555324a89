import { readChanges } from '@gable/core';
import type { Work as WorkJson } from '@gable/contract';
import { CAPABILITIES } from '@gable/formats';
import type { Work } from '../db/models';
import { nextNumber } from './arrange';
import { summarise } from './shelf';

/** What can be done with works that have no file. */
const NOTHING = {
  ...{ insert: null, turns: false, around: false, restyles: null, order: false, groups: false, margin: false },
  fonts: false,
  cells: false,
} as const;
const WITHOUT_FILE = {
  pictures: { ...NOTHING, pages: 'row', slim: 'none' },
  folder: { ...NOTHING, pages: 'none', slim: 'all' },
} as const;

function capabilitiesOf(format: Work['opened']['format']): WorkJson['can'] {
  if (format === 'pictures' || format === 'folder') return WITHOUT_FILE[format];
  const { pages, insert, turns, restyles, arrange, groups, margin, fonts, cells, slim } = CAPABILITIES[format];
  return { pages, insert, turns, around: true, restyles, order: arrange, groups, margin, fonts, cells, slim };
}

const countOf = ({ origin }: Work, op: 'add' | 'remove'): number =>
  origin?.structure.done.filter((d) => d.op === op).length ?? 0;

/** A work as the API tells of it. */
export const toJson = (w: Work): WorkJson => ({
  ...summarise(w),
  signed: w.opened.signed,
  can: capabilitiesOf(w.opened.format),
  pages: w.opened.pages,
  sheets: w.opened.sheets ?? [],
  layers: w.opened.layers ?? [],
  stories: w.opened.stories ?? [],
  leftOut: w.opened.leftOut ?? [],
  pictures: w.opened.pictures.map(({ media, clip, ...p }) => ({
    ...p,
    ...(clip && { plays: true as const }),
    media: media && {
      type: media.type,
      pixels: media.pixels,
      orientation: media.orientation,
      drawable: media.drawable,
      bytes: media.range?.size ?? null,
      // The same data in several frames are one part, or have the same sum; in the files of a folder too.
      data:
        media.crc !== undefined
          ? `${media.crc}/${media.range?.size}`
          : media.range
            ? `${media.part}#${media.range.from}`
            : null,
    },
  })),
  next: nextNumber(w),
  came: countOf(w, 'add'),
  gone: countOf(w, 'remove'),
  changes: readChanges(w.changes),
  marks: w.marks,
});
