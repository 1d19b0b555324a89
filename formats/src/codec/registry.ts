import { GableError } from '@gable/core';
import { isHtml, openHtml, openSite, pagesOf } from '../html/open';
import { openDocumentKind, openOpenDocument } from '../odf/open';
import { openOfficePackage } from '../ooxml/index';
import { refuseCompound } from '../ooxml/package';
import type { OpenedFile } from './contract';
import { readHeader } from '../raster/header';
import { isSvg, openSvg } from '../svg/open';
import { readArchive } from '../zip/reader';

/**
 * Opens any file Gable knows, by its content and not by its name: text documents, slide decks and workbooks, OpenDocument,
 * drawings, web pages and zipped sites.
 * @throws GableError with what is wrong and what to do
 */
export function openFile(bytes: Uint8Array): OpenedFile {
  refuseCompound(bytes);
  if (bytes.length > 0 && bytes[0] !== 0x50) {
    if (isSvg(bytes)) return openSvg(bytes);
    if (isHtml(bytes)) return openHtml(bytes);
    const header = readHeader(bytes.subarray(0, 65_536));
    if (header && header.type !== 'unknown')
      throw new GableError(
        'unsupported-format',
        `This is a picture (${header.type.toUpperCase()}), not a document.`,
        'Choose the file the picture is in.',
        { type: header.type },
      );
  }
  const archive = readArchive(bytes);
  const kind = openDocumentKind(archive);
  if (kind !== null) return openOpenDocument(archive, kind);
  const office = archive.entries.some((e) => e.name.toLowerCase() === '[content_types].xml');
  return !office && pagesOf(archive).length > 0 ? openSite(archive) : openOfficePackage(archive);
}
