import type { FontFile } from '../codec/contract';
import { Additions, relationshipBase } from '../ooxml/additions';
import { isStrict, namespaceOf } from '../ooxml/names';
import type { Package } from '../ooxml/package';
import { child, prefixFor, type Element } from '../xml/located';
import { escapeXml } from '../xml/splice';
import { Splices } from '../xml/splices';
import { crc32 } from '../zip/crc32';

const TABLE = 'application/vnd.openxmlformats-officedocument.wordprocessingml.fontTable+xml';
const OBFUSCATED = 'application/vnd.openxmlformats-officedocument.obfuscatedFont';
/** In the order in which a font holds them (ISO/IEC 29500-1 §17.8.3.10, font). */
const EMBEDS = ['embedRegular', 'embedBold', 'embedItalic', 'embedBoldItalic'] as const;
const embedOf = ({ weight, italic }: FontFile): (typeof EMBEDS)[number] =>
  EMBEDS[(weight === 700 ? 1 : 0) + (italic ? 2 : 0)]!;

/** Puts fonts into a text, into its table of fonts, which it may get (§17.8.3). Those that are there already stay. */
export function embedFonts(pack: Package, main: string, fonts: readonly FontFile[]): Uint8Array {
  const splices = new Splices((name) => pack.part(name));
  const additions = new Additions(pack, main, splices);
  const { root: text } = pack.part(main);
  const strict = isStrict(text.uri);
  const table = pack.partFor(main, 'fontTable');
  const families = new Map<string, FontFile[]>();
  for (const font of fonts) families.set(font.family, [...(families.get(font.family) ?? []), font]);
  const folder = main.slice(0, main.lastIndexOf('/') + 1);
  const part = table ?? `${folder}fontTable.xml`;
  let files = 0;
  const embedText = (w: string, r: string, declare: string, font: FontFile): string => {
    const key = keyOf(font.bytes);
    let name: string;
    do name = `${folder}fonts/gable${++files}.odttf`;
    while (pack.entry(name));
    additions.entries.set(name, obfuscated(font.bytes, key));
    additions.declare('odttf', OBFUSCATED);
    const id = additions.relatePart(part, name, 'font', strict);
    return `<${w}${embedOf(font)}${declare} ${r}:id="${id}" ${w}fontKey="${key}"/>`;
  };
  const fontText = (w: string, r: string, declare: string, [family, files]: [string, FontFile[]]): string =>
    `<${w}font ${w}name="${escapeXml(family)}"${declare}><${w}charset ${w}val="00"/><${w}family ${w}val="auto"/>` +
    `<${w}pitch ${w}val="variable"/>${sorted(files)
      .map((f) => embedText(w, r, '', f))
      .join('')}</${w}font>`;
  if (table) {
    const { root } = pack.part(table);
    const w = root.name.slice(0, root.name.length - root.local.length);
    const uri = relationshipBase(strict);
    const r = prefixFor(root, uri) ?? 'r';
    const declare = prefixFor(root, uri) === null ? ` xmlns:r="${uri}"` : '';
    const splice = splices.of(table);
    for (const [family, all] of families) {
      const known = root.children.find((f) => f.local === 'font' && valueOf(f, 'name') === family);
      if (!known) splice.append(root, fontText(w, r, declare, [family, all]));
      for (const font of known ? sorted(all) : [])
        if (!child(known, embedOf(font))) splice.append(known!, embedText(w, r, declare, font));
    }
  } else {
    const uri = namespaceOf('word', strict);
    const list = [...families].map((f) => fontText('w:', 'r', '', f)).join('');
    additions.entries.set(
      part,
      new TextEncoder().encode(
        `<?xml version="1.0" encoding="UTF-8" standalone="yes"?>\n<w:fonts xmlns:w="${uri}" xmlns:r="${relationshipBase(strict)}">${list}</w:fonts>`,
      ),
    );
    additions.override(part, TABLE);
    additions.relatePart(main, part, 'fontTable', strict);
  }
  return additions.write(splices.changed());
}

const sorted = (fonts: readonly FontFile[]): FontFile[] =>
  [...fonts].sort((a, b) => EMBEDS.indexOf(embedOf(a)) - EMBEDS.indexOf(embedOf(b)));

const valueOf = (e: Element, local: string): string | undefined =>
  Object.entries(e.attributes).find(([name]) => name === local || name.endsWith(`:${local}`))?.[1];

/** A key that is the same for the same font, so that the same file is written again. */
function keyOf(bytes: Uint8Array): string {
  const hex = [0, 1, 2, 3]
    .map((i) => crc32(new Uint8Array([i, ...bytes.subarray(0, 4096), bytes.length & 255])))
    .map((v) => v.toString(16).padStart(8, '0'))
    .join('')
    .toUpperCase();
  return `{${[hex.slice(0, 8), hex.slice(8, 12), hex.slice(12, 16), hex.slice(16, 20), hex.slice(20)].join('-')}}`;
}

/** The first 32 bytes mixed with the key, whose digits are taken from the last one (§17.8.1). */
function obfuscated(bytes: Uint8Array, key: string): Uint8Array {
  const digits = key.replace(/[{}-]/g, '');
  const out = new Uint8Array(bytes);
  for (let i = 0; i < 32 && i < out.length; i++) {
    const at = digits.length - 2 - 2 * (i % 16);
    out[i]! ^= parseInt(digits.slice(at, at + 2), 16);
  }
  return out;
}
