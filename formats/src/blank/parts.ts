import type { Size } from '@gable/core';
import { strToU8, zipSync, type Zippable } from 'fflate';
import { relationshipBase, relationshipsText } from '../ooxml/additions';

/** A page to begin with. Lengths in points. */
export interface BlankPage {
  size: Size;
  /** `#rrggbb`; white where nothing is said. */
  ground: string | null;
  /** Of a text: so many, each with an empty paragraph; 1 where it is not said. Other files get theirs as any file does. */
  pages?: number;
}

/** Nothing in a blank file tells when it was made: the same page is the same bytes. */
const MADE = new Date(2026, 0, 1);

/** A package of parts as text. @param stored the part that comes first, as it is (ODF 1.2 Part 3 §3.3) */
export function packed(parts: Readonly<Record<string, string>>, stored?: { name: string; text: string }): Uint8Array {
  const zip: Zippable = {};
  if (stored) zip[stored.name] = [strToU8(stored.text), { level: 0, mtime: MADE }];
  for (const [name, text] of Object.entries(parts)) zip[name] = [strToU8(text), { level: 6, mtime: MADE }];
  return zipSync(zip);
}

export const XML = '<?xml version="1.0" encoding="UTF-8" standalone="yes"?>\n';

/** What types of relationships and the names in parts begin with (ISO/IEC 29500-1 §8.1, transitional). */
export const OFFICE = relationshipBase(false);

/** A part of relationships: kind and target. */
export const relationships = (list: readonly (readonly [kind: string, target: string])[]): string =>
  relationshipsText(
    list
      .map(([kind, target], i) => `<Relationship Id="rId${i + 1}" Type="${OFFICE}/${kind}" Target="${target}"/>`)
      .join(''),
  );

/** The types of the parts of a package (ISO/IEC 29500-2 §10.1.2.3). @param parts types by name, without what all begin with */
export const contentTypes = (parts: Readonly<Record<string, string>>): string =>
  `${XML}<Types xmlns="http://schemas.openxmlformats.org/package/2006/content-types"><Default Extension="rels" ContentType="application/vnd.openxmlformats-package.relationships+xml"/><Default Extension="xml" ContentType="application/xml"/>${Object.entries(
    parts,
  )
    .map(
      ([name, type]) =>
        `<Override PartName="/${name}" ContentType="application/vnd.openxmlformats-officedocument.${type}+xml"/>`,
    )
    .join('')}</Types>`;
