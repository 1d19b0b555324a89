import type { ReplacementImage } from '../codec/contract';
import type { Element } from '../xml/located';
import { type Splices } from '../xml/splices';
import type { Archive } from '../zip/reader';
import { Names } from './names';

export const MANIFEST = 'META-INF/manifest.xml';

/** Pictures and fonts that come into the package, and their lines in the manifest (ODF 1.2 Part 3 §3.2). */
export class Additions {
  readonly entries = new Map<string, Uint8Array>();
  private readonly stored = new Map<Uint8Array, string>();

  constructor(
    private readonly archive: Archive,
    private readonly manifest: Element | null,
    private readonly splices: Splices,
  ) {}

  store({ bytes, type }: ReplacementImage): string {
    return this.keep(bytes, { name: (i) => `Pictures/gable${i}.${type}`, type: `image/${type}` });
  }

  /** @param as its name by a number, and its media type @returns its name */
  keep(bytes: Uint8Array, as: { name: (i: number) => string; type: string }): string {
    const known = this.stored.get(bytes);
    if (known) return known;
    const taken = new Set(this.archive.entries.map((e) => e.name));
    let i = this.stored.size + 1;
    let name: string;
    do name = as.name(i++);
    while (taken.has(name) || this.entries.has(name));
    this.stored.set(bytes, name);
    this.entries.set(name, bytes);
    if (this.manifest) {
      const n = new Names(this.manifest);
      this.splices
        .of(MANIFEST)
        .append(
          this.manifest,
          `<${n.of('manifest:file-entry')} ${n.of('manifest:full-path')}="${name}" ${n.of('manifest:media-type')}="${as.type}"/>`,
        );
    }
    return name;
  }
}
