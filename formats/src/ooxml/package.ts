import { GableError } from '@gable/core';
import { parseXml, decodeXml, missingPart, type Element, type XmlText } from '../xml/located';
import { readEntry, type Archive, type Entry } from '../zip/reader';
import { NO_THEME, readTheme, type ColourMap, type Theme } from '../drawingml/colour';
import { relationshipKind } from './names';

export interface Relationship {
  id: string;
  kind: string;
  /** Part name inside the package, or the address of an external target. */
  target: string;
  external: boolean;
}

export interface Part extends XmlText {
  name: string;
  root: Element;
}

/** An Open Packaging Conventions package (ISO/IEC 29500-2). Parts are read when asked for, once. */
export class Package {
  private readonly byName: ReadonlyMap<string, Entry>;
  private readonly parts = new Map<string, Part>();
  private readonly related = new Map<string, Relationship[]>();

  private constructor(readonly archive: Archive) {
    // Part names are compared without case (ISO/IEC 29500-2 §6.2.2.3).
    this.byName = new Map(archive.entries.map((e) => [e.name.toLowerCase(), e]));
  }

  /** @throws GableError `not-a-document` */
  static of(archive: Archive): Package {
    const opened = new Package(archive);
    if (!opened.entry('[Content_Types].xml') || !opened.entry('_rels/.rels')) throw notDocument();
    return opened;
  }

  entry(name: string): Entry | undefined {
    return this.byName.get(name.toLowerCase());
  }

  /** @throws GableError `missing-part`, `damaged-part`, `xml-…` */
  part(name: string): Part {
    const known = this.parts.get(name);
    if (known) return known;
    const entry = this.entry(name);
    if (!entry) throw missingPart(name);
    const decoded = decodeXml(readEntry(this.archive, entry), name);
    const part = { ...decoded, name, root: parseXml(decoded.text, name) };
    this.parts.set(name, part);
    return part;
  }

  /** The text of a part that is read once and not kept. @throws GableError `damaged-part`, `xml-encoding` */
  text(name: string): string {
    return decodeXml(readEntry(this.archive, this.entry(name)!), name).text;
  }

  /** Relationships of a part; of the package itself for the empty name. */
  relationships(name: string): Relationship[] {
    const known = this.related.get(name);
    if (known) return known;
    const folder = folderOf(name);
    const rels = relationshipsPart(name);
    const list = this.entry(rels)
      ? this.part(rels).root.children.map((r): Relationship => {
          const external = r.attributes['TargetMode'] === 'External';
          const target = r.attributes['Target'] ?? '';
          return {
            id: r.attributes['Id'] ?? '',
            kind: relationshipKind(r.attributes['Type'] ?? ''),
            target: external ? target : resolvePart(folder, target),
            external,
          };
        })
      : [];
    this.related.set(name, list);
    return list;
  }

  /** Name of the part that a part refers to as its theme, its settings, …; undefined where the package has none. */
  partFor(owner: string, kind: string): string | undefined {
    const target = this.relationships(owner).find((r) => r.kind === kind && !r.external)?.target;
    return target !== undefined && this.entry(target) ? target : undefined;
  }

  /** Content type of a part, from its override or its extension (ISO/IEC 29500-2 §7.2.3). */
  contentType(name: string): string {
    const types = this.part('[Content_Types].xml').root.children;
    const wanted = `/${name}`.toLowerCase();
    const extension = name.slice(name.lastIndexOf('.') + 1).toLowerCase();
    const found =
      types.find((t) => t.local === 'Override' && t.attributes['PartName']?.toLowerCase() === wanted) ??
      types.find((t) => t.local === 'Default' && t.attributes['Extension']?.toLowerCase() === extension);
    return found?.attributes['ContentType'] ?? '';
  }

  /** A signed package loses its signature when anything in it changes. */
  get signed(): boolean {
    return this.relationships('').some((r) => r.kind === 'origin');
  }
}

/**
 * The theme, read when first asked for.
 * @param owner the part that the theme belongs to
 * @param mapping what its colours are called there
 */
export function themeOf(pack: Package, owner: string, mapping: () => ColourMap = () => ({})): () => Theme {
  let theme: Theme | null = null;
  return () => {
    const part = theme ? undefined : pack.partFor(owner, 'theme');
    return (theme ??= part ? readTheme(pack.part(part).root, mapping()) : NO_THEME);
  };
}

/** The relationship that an element of a list names: `r:id`, beside which it may have an `id` of its own. */
export const relatedId = (e: Element): string | undefined =>
  Object.entries(e.attributes).find(([name]) => name.endsWith(':id'))?.[1];

const folderOf = (name: string): string => name.slice(0, name.lastIndexOf('/') + 1);

/** Where the relationships of a part stand (ISO/IEC 29500-2 §6.5.2). */
export const relationshipsPart = (name: string): string =>
  `${folderOf(name)}_rels/${name.slice(folderOf(name).length)}.rels`;

/** A target relative to the folder of its source part; one that leaves the package stays unresolvable. */
function resolvePart(folder: string, target: string): string {
  const segments: string[] = [];
  let path = target;
  try {
    path = decodeURIComponent(target);
  } catch {
    // Not an encoded name: taken as it is.
  }
  for (const s of (path.startsWith('/') ? path : folder + path).split('/')) {
    if (s === '..') segments.pop();
    else if (s !== '' && s !== '.') segments.push(s);
  }
  return segments.join('/');
}

/**
 * Files of the older binary formats and password-protected ones are compound files: [MS-CFB] §2.2 signature.
 * @throws GableError `legacy-office`, `encrypted`
 */
export function refuseCompound(bytes: Uint8Array): void {
  const signature = [0xd0, 0xcf, 0x11, 0xe0, 0xa1, 0xb1, 0x1a, 0xe1];
  if (!signature.every((b, i) => bytes[i] === b)) return;
  // A protected package keeps its data in a stream of this name, written in UTF-16 ([MS-OFFCRYPTO] §2.3).
  const name = [...'EncryptedPackage'].flatMap((c) => [c.charCodeAt(0), 0]);
  for (let i = 0; i + name.length <= bytes.length; i += 2)
    if (name.every((b, k) => bytes[i + k] === b))
      throw new GableError(
        'encrypted',
        'The file is protected by a password.',
        'Remove the password in the program it was made with, then open it again.',
      );
  throw new GableError(
    'legacy-office',
    'This is a file in an older binary format.',
    'Save it as .docx, .pptx or .xlsx in the program it was made with, then open that.',
  );
}

function notDocument(): GableError {
  return new GableError('not-a-document', 'This is a zip package, but not an office document.', 'Choose another file.');
}
