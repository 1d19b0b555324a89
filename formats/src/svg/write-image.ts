import { type Frame, type Size, svgParts, multiply, frameMatrix, invert, trimNumber } from '@gable/core';
import { PIXEL } from '../css/lengths';
import { METADATA_NAMESPACE, encodeWithDigest } from '../metadata/digest';
import { type Splice, escapeText, escapeXml } from '../xml/splice';
import type { AltPlace, Found } from './drawing';
import { type Presentation, USUAL } from './presentation';
import { withVideo } from './video';

/** Another alternative text where it stands: in a `title` or `desc` (SVG 2 §5.7), else as `aria-label`. */
export function writeAlt(splice: Splice, { text, labelled }: AltPlace, alt: string): void {
  if (text) splice.content(text, escapeText(alt));
  else splice.attribute(labelled, 'aria-label', alt);
}

/** A name that no element has yet. */
export function fresh(taken: Set<string>): string {
  let i = 1;
  while (taken.has(`gable-${i}`)) i++;
  taken.add(`gable-${i}`);
  return `gable-${i}`;
}

/** The frame as a group: its matrix takes points of the box to the units of the place where the image stood. */
export function groupOf(
  f: Found,
  next: Frame,
  picture: { href: string; size: Size },
  id: string,
  looks: Presentation,
): string {
  const { defs, shadow, content, outline } = svgParts(next, { ...picture, transparent: true }, id);
  const prefix = f.image.name.slice(0, f.image.name.length - f.image.local.length);
  const plain = `<defs>${defs}</defs>${shadow}${content}${outline}`;
  // Sizes and places of style sheets come before the attributes of our images, too.
  const sized = ['x', 'y', 'width', 'height'].some((name) => looks.bySheets(f.image).has(name));
  const body = !sized
    ? plain
    : plain.replace(
        /(<image href="[^"]*" x="([^"]*)" y="([^"]*)" width="([^"]*)" height="([^"]*)")/g,
        (all, _tag: string, x: string, y: string, width: string, height: string) =>
          `${all} style="x:${x}px;y:${y}px;width:${width}px;height:${height}px"`,
      );
  const drawn = prefix === '' ? body : body.replace(/<(\/?)(?=[A-Za-z])/g, `<$1${prefix}`);
  const markup = withVideo(drawn, prefix, f.image, next);
  const onPage = multiply([1 / PIXEL, 0, 0, 1 / PIXEL, 0, 0], frameMatrix(next));
  const m = multiply(invert(f.outer), onPage);
  const own = f.element;
  const restyled = (style: string): string =>
    style.replace(/(^|;)\s*([\w-]+)\s*:[^;]*/g, (all, before: string, name: string) =>
      f.said.includes(name) ? before : all,
    );
  // What comes from a style sheet or from round about is taken back where the frame says it, or must not have it.
  const [bySheets, above] = [looks.bySheets(own), looks.above(own)];
  const back = Object.entries(USUAL).filter(
    ([name]) => (f.said.includes(name) && bySheets.has(name)) || above.has(name),
  );
  const attributes = { ...own.attributes };
  if (attributes['style'] !== undefined) attributes['style'] = restyled(attributes['style']);
  if (back.length > 0)
    attributes['style'] = [
      (attributes['style'] ?? '').replace(/;?\s*$/, ''),
      ...back.map(([name, value]) => `${name}:${value}`),
    ]
      .filter(Boolean)
      .join(';');
  const keep = Object.entries(attributes)
    .filter(([name]) =>
      /^(id|class|style|opacity|display|visibility|filter|systemLanguage|data-[\w-]+|xmlns(:\w+)?)$/.test(name),
    )
    .filter(([name]) => !f.said.includes(name))
    .map(([name, value]) => ` ${name}="${escapeXml(value)}"`)
    .join('');
  const g = `${prefix}g`;
  const title = next.alt ? `<${prefix}title>${escapeXml(next.alt)}</${prefix}title>` : '';
  const inside = title + markup;
  const metadata = `<${prefix}metadata><frame xmlns="${METADATA_NAMESPACE}">${escapeText(encodeWithDigest(next, title + drawn))}</frame></${prefix}metadata>`;
  return `<${g}${keep} transform="matrix(${m.map((v) => trimNumber(v, 8)).join(' ')})">${metadata}${inside}</${g}>`;
}
