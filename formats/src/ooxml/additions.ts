import { GableError } from '@gable/core';
import { child, prefixFor } from '../xml/located';
import type { Splices } from '../xml/splices';
import { spliceArchive } from '../zip/writer';
import type { ReplacementImage } from '../codec/contract';
import { isStrict, namespaceOf } from './names';
import { relationshipsPart, type Package } from './package';
import type { Site } from '../drawingml/site';

/** Parts that come into a package: pictures, their relationships and content types (ISO/IEC 29500-2). */
export class Additions {
  readonly entries = new Map<string, Uint8Array>();
  private readonly media = new Map<Uint8Array, string>();
  private readonly videos = new Map<string, string>();
  private readonly ids = new Map<string, string>();
  private readonly types = new Set<string>();

  constructor(
    private readonly pack: Package,
    /** The main part: media go into a folder beside it. */
    private readonly main: string,
    private readonly splices: Splices,
  ) {}

  /** The package with changed parts and all that came in. @param changed by the names that the changes were made under */
  write(changed: ReadonlyMap<string, Uint8Array>): Uint8Array {
    const replaced = new Map([...changed].map(([name, bytes]) => [this.pack.entry(name)!.name, bytes]));
    return spliceArchive(this.pack.archive, replaced, this.entries);
  }

  /** Lets a picture show other data. The old part and its relationship stay, so nothing is lost. */
  replaceImage(site: Site, image: ReplacementImage): void {
    const blip = child(site.blipFill, 'blip');
    if (!blip)
      throw new GableError(
        'cannot-write',
        'This picture has no data that can be replaced.',
        'Leave this picture as it is.',
      );
    const splice = this.splices.of(site.part);
    const id = this.relate(site.part, this.store(image), isStrict(blip.uri));
    const names = Object.keys(blip.attributes);
    const embed = names.find((n) => n === 'embed' || n.endsWith(':embed'));
    const link = names.find((n) => n === 'link' || n.endsWith(':link'));
    if (link) splice.attribute(blip, link, null);
    const uri = relationshipBase(isStrict(blip.uri));
    const prefix = prefixFor(blip, uri);
    if (embed) splice.attribute(blip, embed, id);
    else {
      if (!prefix) splice.attribute(blip, 'xmlns:r', uri);
      splice.attribute(blip, `${prefix || 'r'}:embed`, id);
    }
    // A drawing in an extension would be shown in the place of the new data.
    const extensions = child(blip, 'extLst');
    for (const ext of extensions?.children ?? [])
      if (ext.children.some((c) => c.local === 'svgBlip'))
        splice.replace(extensions!.children.length === 1 ? extensions! : ext, '');
  }

  /** A relationship of the site's part to other data. @returns its id */
  relateTo(site: Pick<Site, 'part' | 'strict'>, image: ReplacementImage): string {
    return this.relate(site.part, this.store(image), site.strict);
  }

  /** Keeps a picture's data part. @returns its name */
  store({ bytes, type }: ReplacementImage): string {
    let name = this.media.get(bytes);
    if (!name) {
      let i = this.media.size + 1;
      const folder = this.main.slice(0, this.main.lastIndexOf('/') + 1);
      do name = `${folder}media/gable${i++}.${type}`;
      while (this.pack.entry(name) || this.entries.has(name));
      this.media.set(bytes, name);
      this.entries.set(name, bytes);
      this.declare(type, `image/${type}`);
    }
    return name;
  }

  /** Keeps the data part of a video. @returns its name */
  storeVideo(bytes: Uint8Array, { sha256, type }: { sha256: string; type: string }, mediaType: string): string {
    const known = this.videos.get(sha256);
    if (known !== undefined) return known;
    const folder = this.main.slice(0, this.main.lastIndexOf('/') + 1);
    let i = this.videos.size + 1;
    let name: string;
    do name = `${folder}media/gable-video${i++}.${type}`;
    while (this.pack.entry(name) || this.entries.has(name));
    this.videos.set(sha256, name);
    this.entries.set(name, bytes);
    this.declare(type, mediaType);
    return name;
  }

  /** A content type for an extension that has none yet. */
  declare(extension: string, type: string): void {
    const { root } = this.pack.part('[Content_Types].xml');
    const known = root.children.some(
      (t) => t.local === 'Default' && t.attributes['Extension']?.toLowerCase() === extension,
    );
    if (known || this.types.has(extension)) return;
    this.types.add(extension);
    const prefix = root.name.slice(0, root.name.length - root.local.length);
    this.splices
      .of('[Content_Types].xml')
      .append(root, `<${prefix}Default Extension="${extension}" ContentType="${type}"/>`);
  }

  /** A content type for a part that comes in. */
  override(part: string, type: string): void {
    const { root } = this.pack.part('[Content_Types].xml');
    const prefix = root.name.slice(0, root.name.length - root.local.length);
    this.splices
      .of('[Content_Types].xml')
      .append(root, `<${prefix}Override PartName="/${part}" ContentType="${type}"/>`);
  }

  private relate(part: string, media: string, strict: boolean): string {
    return this.relatePart(part, media, 'image', strict);
  }

  /**
   * A relationship of a part to another.
   * @param kind of the standard, or the whole name of one that is not
   * @returns its id
   */
  relatePart(part: string, target: string, kind: string, strict: boolean): string {
    const key = `${part} ${target} ${kind}`;
    const known = this.ids.get(key);
    if (known) return known;
    const name = relationshipsPart(part);
    const type = kind.includes(':') ? kind : `${relationshipBase(strict)}/${kind}`;
    if (!this.pack.entry(name)) return this.relateAnew(name, key, target, type);
    const { root } = this.pack.part(name);
    const taken = new Set([...root.children.map((r) => r.attributes['Id']), ...this.ids.values()]);
    let i = this.ids.size + 1;
    while (taken.has(`rIdGable${i}`)) i++;
    const id = `rIdGable${i}`;
    this.ids.set(key, id);
    const prefix = root.name.slice(0, root.name.length - root.local.length);
    this.splices.of(name).append(root, `<${prefix}Relationship Id="${id}" Type="${type}" Target="/${target}"/>`);
    return id;
  }

  /** A part that has no relationships yet gets a part for them. */
  private relateAnew(name: string, key: string, target: string, type: string): string {
    const id = `rIdGable${this.ids.size + 1}`;
    this.ids.set(key, id);
    const own = `<Relationship Id="${id}" Type="${type}" Target="/${target}"/>`;
    const begun = this.entries.get(name);
    const text = begun
      ? new TextDecoder().decode(begun).replace('</Relationships>', `${own}</Relationships>`)
      : relationshipsText(own);
    this.entries.set(name, new TextEncoder().encode(text));
    return id;
  }
}

/** What the types of relationships begin with. */
export const relationshipBase = (strict: boolean): string => namespaceOf('relationships', strict);

/** A part of relationships. */
export const relationshipsText = (list: string): string =>
  `<?xml version="1.0" encoding="UTF-8" standalone="yes"?>\n<Relationships xmlns="http://schemas.openxmlformats.org/package/2006/relationships">${list}</Relationships>`;
