import { GableError, type Paint } from '@gable/core';
import { attributeOf, child, type Element } from '../xml/located';
import { escapeXml } from '../xml/splice';
import type { Splice } from '../xml/splice';
import { is, Names } from './names';
import type { StyleWriter } from './write-frame';

const PART = 'content.xml';

/**
 * Gives pages another colour behind them: a new style of each page, with all that its old one says of anything else
 * (ODF 1.2 Part 1 §16.7, style family drawing-page; §20.119, draw:fill; numbers from memory).
 * @param body `office:presentation` or `office:drawing`
 */
export function writeGrounds(
  splice: Splice,
  { content, body, styles }: { content: Element; body: Element; styles: StyleWriter },
  grounds: ReadonlyMap<number, Paint>,
): void {
  const pages = body.children.filter((e) => is(e, 'draw', 'page'));
  const automatic = child(content, 'automatic-styles')?.children ?? [];
  for (const [number, paint] of grounds) {
    const page = pages[number - 1]!;
    const names = new Names(page);
    if (paint.kind !== 'solid')
      throw new GableError(
        'cannot-write',
        'A gradient cannot be written behind a page of this kind of file.',
        'Choose one colour.',
        {},
      );
    const named = names.get(page, 'draw:style-name');
    const old = automatic.find((s) => is(s, 'style', 'style') && new Names(s).get(s, 'style:name') === named);
    const properties = child(old, 'drawing-page-properties');
    const kept = Object.entries(properties?.attributes ?? {}).filter(
      ([name]) => !/(^|:)(fill|fill-.*|opacity|opacity-name)$/.test(name),
    );
    const parent = attributeOf(old, 'parent-style-name');
    const name = styles.style(PART, (fresh, n) => {
      const said = kept.map(([key, value]) => ` ${key}="${escapeXml(value)}"`).join('');
      const above = parent === undefined ? '' : ` ${n.of('style:parent-style-name')}="${escapeXml(parent)}"`;
      const look = ` ${n.of('draw:fill')}="solid" ${n.of('draw:fill-color')}="${paint.colour}"`;
      return (
        `<${n.of('style:style')}${n.declare('style', 'draw')} ${n.of('style:name')}="${fresh}" ${n.of('style:family')}="drawing-page"${above}>` +
        `<${n.of('style:drawing-page-properties')}${said}${look}/></${n.of('style:style')}>`
      );
    });
    splice.attribute(page, names.of('draw:style-name'), name);
  }
}
