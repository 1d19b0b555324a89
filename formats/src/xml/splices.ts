import { encodeXml, type XmlText } from './located';
import { Splice } from './splice';

/** Changes to the parts of a package, begun when a part is first touched. */
export class Splices {
  private readonly begun = new Map<string, Splice>();

  /** @param part the text of a part, by its name */
  constructor(private readonly part: (name: string) => XmlText) {}

  of(name: string): Splice {
    const known = this.begun.get(name) ?? new Splice(this.part(name).text);
    this.begun.set(name, known);
    return known;
  }

  /** The parts whose text is another now, in the encoding each came in. */
  changed(): Map<string, Uint8Array> {
    const out = new Map<string, Uint8Array>();
    for (const [name, splice] of this.begun) {
      const { text, encoding } = this.part(name);
      const next = splice.empty ? text : splice.apply();
      if (next !== text) out.set(name, encodeXml({ text: next, encoding }));
    }
    return out;
  }
}
