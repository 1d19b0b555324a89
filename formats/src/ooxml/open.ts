import { GableError } from '@gable/core';
import type { Codec, Opened } from '../codec/contract';
import type { Archive } from '../zip/reader';
import { openDeck } from '../slides/open';
import { openDocument } from '../word/open';
import { NS } from './names';
import { Package } from './package';
import { openWorkbook } from '../workbook/open';

export const officeCodec: Codec = {
  formats: ['docx', 'pptx', 'xlsx'],
  recognises: ({ archive }) => archive !== null,
  open: ({ archive }) => openOfficePackage(archive!),
};

/**
 * Opens a package of ISO/IEC 29500 by what its main part is: a text document, a slide deck or a workbook.
 * @throws GableError `not-a-document`, `damaged-part`, `xml-…`, `too-many-pictures`
 */
function openOfficePackage(archive: Archive): Opened {
  const pack = Package.of(archive);
  const main = pack.partFor('', 'officeDocument');
  if (!main) throw new GableError('not-a-document', 'This package has no main part.', 'Choose another file.');
  // A binary workbook's main part is no XML at all.
  if (/\.bin$/i.test(main))
    throw new GableError(
      'unsupported-format',
      'This is a workbook in the binary format.',
      'Save it as .xlsx in the program it was made with, then open that.',
    );
  const { uri, local } = pack.part(main).root;
  if (NS.word.has(uri) && local === 'document') return openDocument(pack, main);
  if (NS.presentation.has(uri) && local === 'presentation') return openDeck(pack, main);
  if (NS.spreadsheet.has(uri) && local === 'workbook') return openWorkbook(pack, main);
  throw new GableError(
    'not-a-document',
    'This package is not a text document, slide deck or workbook.',
    'Choose a file of a kind that Gable opens.',
    { type: pack.contentType(main) },
  );
}
