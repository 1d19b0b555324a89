import { GableError } from '@gable/core';
import { openDocumentKind, openOpenDocument } from './odf/open';
import { openOfficePackage } from './ooxml/index';
import { refuseCompound } from './ooxml/package';
import type { OpenedFile } from './opened';
import { readHeader } from './raster/header';
import { readArchive } from './zip/reader';

/**
 * Opens any file Gable knows, by its content and not by its name.
 * @throws GableError with what is wrong and what to do
 */
export function openFile(bytes: Uint8Array): OpenedFile {
  const header = bytes.length > 0 && bytes[0] !== 0x50 ? readHeader(bytes.subarray(0, 65_536)) : null;
  if (header && header.type !== 'unknown')
    throw new GableError(
      'unsupported-format',
      `This is a picture (${header.type.toUpperCase()}), not a document.`,
      'Choose the file the picture is in.',
      { type: header.type },
    );
  refuseCompound(bytes);
  const archive = readArchive(bytes);
  const kind = openDocumentKind(archive);
  return kind === null ? openOfficePackage(archive) : openOpenDocument(archive, kind);
}
