import type { Format } from '../codec/capabilities';
import { type Place, shorten } from '../codec/contract';
import { type Element, ancestor } from '../xml/located';
import type { Found, Part } from './found';
import { is, Names } from './names';
import { veilOf } from './read-frame';

export const PLACES: Partial<Record<Format, Place>> = { odp: 'slide', ods: 'sheet', odg: 'drawing' };

/** Goes through a part in document order and collects frames with pictures and shapes filled with them. */
export class Walk {
  readonly found: Found[] = [];
  page = 0;
  private title = '';

  constructor(private readonly format: Format) {}

  run(name: string, part: Part, root: Element, place: Place): void {
    if (this.format === 'odt' && place === 'body') this.page = 1;
    for (const e of root.children) this.visit(e, name, part, place);
  }

  private visit(e: Element, name: string, part: Part, place: Place): void {
    if (is(e, 'text', 'tracked-changes', 'changed-region')) return;
    if (place === 'master' && is(e, 'style', 'header', 'header-left', 'header-first')) place = 'header';
    if (place === 'master' && is(e, 'style', 'footer', 'footer-left', 'footer-first')) place = 'footer';
    if (is(e, 'text', 'note-body'))
      place =
        ancestor(e, (a) => a.local === 'note')?.attributes['text:note-class'] === 'endnote' ? 'endnote' : 'footnote';
    if (is(e, 'text', 'soft-page-break')) this.page++;
    if (
      (is(e, 'draw', 'page') && place !== 'master') ||
      (is(e, 'table', 'table') && this.format === 'ods' && place === 'sheet')
    ) {
      this.page++;
      this.title = shorten(wordsOf(e));
    }
    // Notes to a slide repeat the slide; what stands in for an object of another program is that program's to draw.
    if (is(e, 'presentation', 'notes')) return;
    this.look(e, name, part, place);
    for (const c of e.children) this.visit(c, name, part, place);
  }

  private look(e: Element, name: string, part: Part, place: Place): void {
    const isFrame = is(e, 'draw', 'frame');
    if (!isFrame && !is(e, 'draw', 'custom-shape', 'rect', 'circle', 'ellipse', 'path', 'polygon')) return;
    const image = isFrame ? (e.children[0] ?? null) : null;
    if (isFrame && (!image || !is(image, 'draw', 'image'))) return;
    const names = new Names(e);
    const style = names.get(e, 'draw:style-name') ?? names.get(e, 'presentation:style-name');
    if (!isFrame && (part.styles.property(style, 'draw:fill') !== 'bitmap' || veilOf(e))) return;
    const inText = this.format === 'odt';
    const frameFlow = names.get(e, 'text:anchor-type') === 'as-char' ? 'inline' : 'floating';
    const group = !!ancestor(e, (a) => is(a, 'draw', 'g'));
    const textBox = !!ancestor(e, (a) => is(a, 'draw', 'text-box'));
    const paged = ['body', 'slide', 'sheet', 'drawing'].includes(place);
    this.found.push({
      site: { part: name, element: e, image, names, styles: part.styles, style, inText, frameFlow },
      where: {
        part: name,
        place,
        table: !!ancestor(e, (a) => is(a, 'table', 'table-cell')),
        textBox,
        group,
        page: paged ? Math.max(1, this.page) : null,
        near: inText ? near(e) : this.title,
      },
      // What is tied to a page stands in no paragraph that it could be a letter of.
      freeable: inText && !group && !textBox && place === 'body' && !!ancestor(e, (a) => is(a, 'text', 'p', 'h')),
    });
  }
}

function wordsOf(e: Element): string {
  const out: string[] = [];
  const visit = (at: Element): void => {
    if (is(at, 'text', 'p', 'h', 'span', 'a')) out.push(at.text);
    if (out.length < 60) at.children.forEach(visit);
  };
  visit(e);
  return out.join(' ').replace(/\s+/g, ' ').trim();
}

function near(e: Element): string {
  const paragraph = ancestor(e, (a) => is(a, 'text', 'p', 'h'));
  const siblings = paragraph?.parent?.children ?? [];
  const at = paragraph ? siblings.indexOf(paragraph) : -1;
  const words = [paragraph, siblings[at + 1], siblings[at - 1]].map((p) => (p ? wordsOf(p) : ''));
  return shorten(words.find((w) => w !== '') ?? '');
}
