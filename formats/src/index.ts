/** Codecs on bytes: no interface, no DOM, no Node. */
export { LIMITS } from './limits';
export {
  openDocument,
  type Media,
  type OpenedFile,
  type OpenedPicture,
  type Place,
  type Problem,
  type Swap,
  type Where,
} from './ooxml/document';
export { MISFITS, type Misfit } from './ooxml/write-picture';
export { inflateUpTo, readArchive, readEntry, type Archive, type Entry } from './zip/reader';
export { spliceArchive } from './zip/writer';
export { crc32 } from './zip/crc32';
export { readHeader, type PictureHeader } from './raster/header';
export { decodeXml, parseXml, type Element } from './xml/located';
export { openFile } from './open';
export { surveyFile, surveyPicture, type SurveyPicture } from './survey';
