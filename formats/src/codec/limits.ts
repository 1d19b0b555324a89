import { GableError } from '@gable/core';

/** What Gable takes at the most; each refusal names its limit. */
export const LIMITS = {
  fileBytes: 300 * 1024 * 1024,
  megapixels: 100,
  pictures: 5_000,
  parts: 10_000,
  inflatedBytes: 1024 * 1024 * 1024,
  /** Overall inflation, counted once a file inflates to more than `inflationFloor` bytes. */
  inflation: 100,
  inflationFloor: 1024 * 1024,
  xmlDepth: 256,
  /** Elements of one part of a package, or of a drawing. */
  xmlElements: 1_000_000,
  /** Elements of a web page, and how many may be open at once: browsers end at 512 levels. */
  htmlElements: 300_000,
  htmlDepth: 1_000,
  /** Rules of a page's style sheets, and how often one may be held against an element. */
  rules: 100_000,
  ruleTests: 10_000_000,
} as const;

const LIMIT_ERRORS = {
  xmlElements: ['too-many-elements', 'It has more than # elements in one part', 'Split the file.'],
  htmlElements: ['too-many-elements', 'The page has more than # elements', 'Split the page.'],
  htmlDepth: ['too-deep', 'The page is nested more than # levels deep', 'Close its elements, then open it again.'],
  rules: [
    'too-many-rules',
    'The style sheets have more than # rules',
    'Take out the rules that the page does not use.',
  ],
  uses: ['too-many-pictures', 'The drawing shows more than # pictures', 'Split the drawing.'],
} as const;

/** Refuses what goes beyond a limit, which the message names. @throws GableError */
export function refuseBeyond(limit: keyof typeof LIMIT_ERRORS, count: number): void {
  const most = limit === 'uses' ? LIMITS.pictures : LIMITS[limit];
  if (count <= most) return;
  const [code, text, remedy] = LIMIT_ERRORS[limit];
  throw new GableError(code, `${text.replace('#', most.toLocaleString('en'))}; Gable takes no more.`, remedy, { most });
}

/** @throws GableError `too-large` */
export function refuseTooLarge(bytes: Uint8Array): void {
  if (bytes.length > LIMITS.fileBytes)
    throw new GableError(
      'too-large',
      `The file is larger than ${LIMITS.fileBytes / 1048576} MB.`,
      'Split it, or make its pictures smaller first.',
      { bytes: bytes.length },
    );
}

/** @throws GableError `too-many-pictures` */
export function refuseTooMany(count: number): void {
  if (count > LIMITS.pictures)
    throw new GableError(
      'too-many-pictures',
      `The file has ${count} pictures; Gable takes ${LIMITS.pictures}.`,
      'Split the file.',
      { pictures: count },
    );
}
