import { GableError } from '@gable/core';
import { htmlCodec } from '../html/open';
import { openDocumentCodec } from '../odf/open';
import { officeCodec } from '../ooxml/open';
import { refuseCompound } from '../ooxml/package';
import { readHeader } from '../raster/header';
import { svgCodec } from '../svg/open';
import { readArchive } from '../zip/reader';
import type { Candidate, Codec, Opened } from './contract';

/** All codecs; the first that recognises a file opens it. Office packages come last: they say what is no document. */
export const CODECS: readonly Codec[] = [svgCodec, htmlCodec, openDocumentCodec, officeCodec];

/**
 * Opens a file by its content, whatever its name: text documents, slide decks and workbooks, OpenDocument, drawings, web
 * pages and zipped sites.
 * @throws GableError with what is wrong and what to do
 */
export function openByContent(bytes: Uint8Array): Opened {
  refuseCompound(bytes);
  const isArchive = bytes.length === 0 || bytes[0] === 0x50;
  const plain: Candidate = { bytes, archive: null };
  const byText = isArchive ? undefined : CODECS.find((c) => c.recognises(plain));
  if (byText) return byText.open(plain);
  if (!isArchive) refusePicture(bytes);
  const packed: Candidate = { bytes, archive: readArchive(bytes) };
  return (CODECS.find((c) => c.recognises(packed)) ?? officeCodec).open(packed);
}

function refusePicture(bytes: Uint8Array): void {
  const header = readHeader(bytes.subarray(0, 65_536));
  if (!header || header.type === 'unknown') return;
  throw new GableError(
    'unsupported-format',
    `This is a picture (${header.type.toUpperCase()}), not a document.`,
    'Choose the file the picture is in.',
    { type: header.type },
  );
}
