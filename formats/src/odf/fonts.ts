import type { FontFile } from '../codec/contract';
import { child, type Element } from '../xml/located';
import { escapeXml, type Splice } from '../xml/splice';
import type { Additions } from './additions';
import { Names } from './names';

/**
 * Puts fonts into a package: files that its declarations of fonts lead to (ODF 1.2 Part 1 §16.23, style:font-face; §16.25,
 * svg:font-face-uri). One that is there already stays.
 * @param root of the content
 */
export function embedFonts(splice: Splice, root: Element, fonts: readonly FontFile[], additions: Additions): void {
  const declared = child(root, 'font-face-decls');
  const known = new Set(
    (declared?.children ?? []).flatMap((f) => {
      const n = new Names(f);
      const [weight = 'normal', style = 'normal'] = [n.get(f, 'svg:font-weight'), n.get(f, 'svg:font-style')];
      const look = { family: n.get(f, 'svg:font-family') ?? '', weight: weight.replace('normal', '400'), style };
      return child(f, 'font-face-src') ? [keyOf(look)] : [];
    }),
  );
  const taken = new Set((declared?.children ?? []).map((f) => new Names(f).get(f, 'style:name')));
  const n = new Names(declared ?? root);
  const own = n.declare('style', 'svg', 'xlink');
  const faces = fonts
    .filter(({ family, weight, italic }) => !known.has(keyOf({ family, weight, style: italic ? 'italic' : 'normal' })))
    .map((font) => {
      let name = font.family;
      for (let i = 2; taken.has(name); i++) name = `${font.family} ${i}`;
      taken.add(name);
      return faceText(n, font, { name, additions, declare: declared ? own : '' });
    })
    .join('');
  if (faces === '') return;
  if (declared) splice.append(declared, faces);
  else {
    const all = `<${n.of('office:font-face-decls')}${own}>${faces}</${n.of('office:font-face-decls')}>`;
    const next = root.children.find((e) => e.local === 'automatic-styles' || e.local === 'body');
    if (next) splice.before(next, all);
    else splice.append(root, all);
  }
}

/** A font by its family and its style there. */
const keyOf = ({ family, weight, style }: { family: string; weight: string | number; style: string }): string =>
  `${family.replace(/["']/g, '').toLowerCase()}/${String(weight).replace('bold', '700')}/${style}`;

function faceText(
  n: Names,
  { family, weight, italic, bytes }: FontFile,
  { name, additions, declare }: { name: string; additions: Additions; declare: string },
): string {
  const isCff = String.fromCharCode(...bytes.subarray(0, 4)) === 'OTTO';
  const [ending, format] = isCff ? ['otf', 'opentype'] : ['ttf', 'truetype'];
  const href = additions.keep(bytes, { name: (i) => `Fonts/gable${i}.${ending}`, type: `font/${ending}` });
  return (
    `<${n.of('style:font-face')}${declare} ${n.of('style:name')}="${escapeXml(name)}" ${n.of('svg:font-family')}="${escapeXml(`'${family}'`)}"` +
    ` ${n.of('svg:font-weight')}="${weight}" ${n.of('svg:font-style')}="${italic ? 'italic' : 'normal'}">` +
    `<${n.of('svg:font-face-src')}><${n.of('svg:font-face-uri')} ${n.of('xlink:href')}="${href}" ${n.of('xlink:type')}="simple">` +
    `<${n.of('svg:font-face-format')} ${n.of('svg:string')}="${format}"/>` +
    `</${n.of('svg:font-face-uri')}></${n.of('svg:font-face-src')}></${n.of('style:font-face')}>`
  );
}
