import { child } from '../xml/located';
import { escapeText, escapeXml, type Splice } from '../xml/splice';
import { is } from './names';
import type { Site } from './site';
import { basedStyle, type StyleWriter } from './write-frame';

/** A picture that fills a shape: its data's address in the package, and its description. */
interface Filling {
  href: string;
  alt: string;
  styles: StyleWriter;
}

/**
 * Puts a picture into a shape: an empty placeholder becomes a frame with the picture (ODF 1.2 Part 1 §19.391,
 * presentation:placeholder), any other shape is filled with it (§20.103, draw:fill) and keeps its words and its look.
 */
export function fillShape(splice: Splice, site: Site, { href, alt, styles }: Filling): void {
  const { element, names: n } = site;
  const words = alt ? `<${n.of('svg:desc')}${n.declare('svg')}>${escapeText(alt)}</${n.of('svg:desc')}>` : '';
  if (is(element, 'draw', 'frame')) {
    const link = `${n.of('xlink:href')}="${escapeXml(href)}" ${n.of('xlink:type')}="simple" ${n.of('xlink:show')}="embed" ${n.of('xlink:actuate')}="onLoad"`;
    splice.attribute(element, n.of('presentation:placeholder'), null);
    const desc = child(element, 'desc');
    if (desc) splice.replace(desc, words);
    splice.replace(element.children[0]!, `<${n.of('draw:image')}${n.declare('xlink')} ${link}/>${desc ? '' : words}`);
    return;
  }
  const image = styles.fillImage(href);
  const style = styles.style(site.part, (name) =>
    basedStyle(splice, site, name, [
      ['draw:fill', 'bitmap'],
      ['draw:fill-image-name', image],
      ['style:repeat', 'stretch'],
    ]),
  );
  const family = site.styles.find(site.style)?.family === 'presentation' ? 'presentation' : 'draw';
  splice.attribute(element, n.of(`${family}:style-name`), style);
  if (!alt) return;
  const before = element.children.filter((c) => c.local !== 'title').map((c) => c.local);
  splice.slot(element, ['desc'], before, words);
}
