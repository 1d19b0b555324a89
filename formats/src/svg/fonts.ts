import type { FontFile } from '../codec/contract';
import { fontFaces, FONTS_ATTRIBUTE } from '../css/font-face';
import type { Element } from '../xml/located';
import { Splice } from '../xml/splice';

/** Puts fonts into a drawing, as rules before all that it draws (SVG 2 §6.2, style). @returns its text */
export function embedFonts(text: string, root: Element, fonts: readonly FontFile[]): string {
  const splice = new Splice(text);
  const prefix = root.name.slice(0, root.name.length - root.local.length);
  const old = root.children.find((e) => e.local === 'style' && e.attributes[FONTS_ATTRIBUTE] !== undefined);
  const style = `<${prefix}style ${FONTS_ATTRIBUTE}="">${fontFaces(fonts, old?.text)}</${prefix}style>`;
  const first = root.children[0];
  if (old) splice.replace(old, style);
  else if (first) splice.before(first, style);
  else splice.append(root, style);
  return splice.apply();
}
