import type { Work as WorkJson } from '@gable/contract';
import type { Work } from '../db/models';
import { summarise } from './shelf';

/** A work as the API tells of it. */
export const toJson = (w: Work): WorkJson => ({
  ...summarise(w),
  signed: w.opened.signed,
  pages: w.opened.pages,
  sheets: w.opened.sheets ?? [],
  layers: w.opened.layers ?? [],
  leftOut: w.opened.leftOut ?? [],
  pictures: w.opened.pictures.map(({ media, ...p }) => ({
    ...p,
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
  changes: w.changes,
  marks: w.marks,
});
