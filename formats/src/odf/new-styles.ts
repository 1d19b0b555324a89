import { type Outline, GableError } from '@gable/core';
import { type Element, child } from '../xml/located';
import { escapeXml } from '../xml/splice';
import { type Splices } from '../xml/splices';
import type { Part } from './found';
import { Names } from './names';
import { type StyleWriter, dashElement } from './write-frame';

/** New styles: automatic ones in each part, names for fills and dashes in `office:styles`. */
export class NewStyles implements StyleWriter {
  private readonly automatic = new Map<string, string[]>();
  private readonly named: string[] = [];
  private readonly images = new Map<string, string>();
  private readonly dashes = new Map<string, string>();
  private count = 0;

  constructor(
    private readonly parts: ReadonlyMap<string, Part>,
    private readonly office: Element | undefined,
    fills: ReadonlyMap<string, { href: string }>,
    private readonly splices: Splices,
  ) {
    for (const [name, { href }] of fills) if (!this.images.has(href)) this.images.set(href, name);
  }

  private fresh(): string {
    const all = [...this.parts.values()];
    let name: string;
    do name = `Gable${++this.count}`;
    while (all.some((p) => p.styles.isTaken(name)));
    return name;
  }

  style(part: string, write: (name: string, names: Names) => string): string {
    const list = this.automatic.get(part) ?? [];
    this.automatic.set(part, list);
    const name = this.fresh();
    list.push(write(name, new Names(this.parts.get(part)!.root)));
    return name;
  }

  fillImage(href: string): string {
    let name = this.images.get(href);
    if (!name) {
      name = this.fresh();
      this.images.set(href, name);
      const n = this.officeNames();
      this.named.push(
        `<${n.of('draw:fill-image')}${n.declare('draw', 'xlink')} ${n.of('draw:name')}="${name}" ${n.of('xlink:href')}="${escapeXml(href)}" ${n.of('xlink:type')}="simple" ${n.of('xlink:show')}="embed" ${n.of('xlink:actuate')}="onLoad"/>`,
      );
    }
    return name;
  }

  dash(outline: Outline): string {
    const key = `${outline.dash} ${outline.weight}`;
    let name = this.dashes.get(key);
    if (!name) {
      name = this.fresh();
      this.dashes.set(key, name);
      this.named.push(dashElement(this.officeNames(), name, outline));
    }
    return name;
  }

  private officeNames(): Names {
    if (!this.office)
      throw new GableError(
        'cannot-write',
        'The file has no place for common styles.',
        'Open it in the program it was made with and save it again.',
      );
    return new Names(this.office);
  }

  /** Puts all of them where they belong. */
  flush(): void {
    for (const [name, list] of this.automatic) {
      const { root } = this.parts.get(name)!;
      const styles = child(root, 'automatic-styles');
      if (styles) this.splices.of(name).append(styles, list.join(''));
      else {
        const tag = new Names(root).of('office:automatic-styles');
        this.splices
          .of(name)
          .slot(root, ['automatic-styles'], ['master-styles', 'body'], `<${tag}>${list.join('')}</${tag}>`);
      }
    }
    if (this.named.length > 0) this.splices.of('styles.xml').append(this.office!, this.named.join(''));
  }
}
