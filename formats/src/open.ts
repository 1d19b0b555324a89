import { GableError } from '@gable/core';
import { openDocument, type OpenedFile } from './ooxml/document';
import { readHeader } from './raster/header';

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
      'Choose the document the picture is in (.docx).',
      { type: header.type },
    );
  return openDocument(bytes);
}
