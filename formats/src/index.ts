/** Codecs on bytes: no interface, no DOM, no Node. */
export { LIMITS } from './limits';
export type {
  Format,
  LeftOut,
  Media,
  OpenedFile,
  OpenedPicture,
  Piece,
  Place,
  Problem,
  Sheet,
  Swap,
  Where,
} from './opened';
export type { MarginPicture } from './ooxml/margin';
export { MISFITS, type Misfit } from './misfits';
export { inflateUpTo, readArchive, readEntry, type Archive, type Entry } from './zip/reader';
export { spliceArchive } from './zip/writer';
export { crc32 } from './zip/crc32';
export { readHeader, type PictureHeader } from './raster/header';
export { decodeXml, parseXml, type Element } from './xml/located';
export { openFile } from './open';
export { surveyFile, surveyPicture, type SurveyPicture } from './survey';
export { withoutPrivate } from './raster/private';
export { applySlim, planSlim, type SlimPlan, type SlimStep, type SlimWish } from './slim';
