import { strToU8, zipSync, type Zippable } from 'fflate';
import sharp from 'sharp';

/** Small OpenDocument files written by hand, so that each test shows the markup it is about. */
const NS = Object.entries({
  office: 'office',
  style: 'style',
  text: 'text',
  table: 'table',
  draw: 'drawing',
  presentation: 'presentation',
  fo: 'xsl-fo-compatible',
  svg: 'svg-compatible',
})
  .map(([prefix, name]) => `xmlns:${prefix}="urn:oasis:names:tc:opendocument:xmlns:${name}:1.0"`)
  .concat('xmlns:xlink="http://www.w3.org/1999/xlink"')
  .join(' ');
const MANIFEST = 'urn:oasis:names:tc:opendocument:xmlns:manifest:1.0';

interface Parts {
  kind?: 'text' | 'presentation' | 'graphics' | 'spreadsheet';
  /** Automatic styles of the content. */
  styles?: string;
  body?: string;
  /** `office:styles`. */
  common?: string;
  masters?: string;
  manifest?: string;
  ppi?: number;
}

/** A PNG without its `pHYs` chunk, which the library that makes it writes unasked. */
function withoutDensity(png: Uint8Array): Uint8Array {
  const at = Buffer.from(png).indexOf('pHYs') - 4;
  return at < 0 ? png : Buffer.concat([png.subarray(0, at), png.subarray(at + 21)]);
}

/** `Pictures/one.png` is 300 × 200 pixels; without `ppi` it names no density. */
export async function buildOpen({
  kind = 'text',
  styles = '',
  body = '',
  common = '',
  masters = '',
  manifest = '',
  ppi,
}: Parts = {}): Promise<Uint8Array> {
  let image = sharp({ create: { width: 300, height: 200, channels: 3, background: '#c87137' } });
  if (ppi) image = image.withMetadata({ density: ppi });
  const tag = kind === 'graphics' ? 'drawing' : kind;
  const picture = new Uint8Array(await image.png().toBuffer());
  const files: Record<string, string | Uint8Array> = {
    'content.xml': `<?xml version="1.0" encoding="UTF-8"?>\n<office:document-content ${NS}><office:automatic-styles>${styles}</office:automatic-styles><office:body><office:${tag}>${body}</office:${tag}></office:body></office:document-content>`,
    'styles.xml': `<office:document-styles ${NS}><office:styles>${common}</office:styles><office:automatic-styles/><office:master-styles>${masters}</office:master-styles></office:document-styles>`,
    'META-INF/manifest.xml': `<manifest:manifest xmlns:manifest="${MANIFEST}"><manifest:file-entry manifest:full-path="/" manifest:media-type="x"/>${manifest}</manifest:manifest>`,
    'Pictures/one.png': ppi ? picture : withoutDensity(picture),
    'settings.xml': '<untouched/>',
  };
  const zip: Zippable = {
    mimetype: [strToU8(`application/vnd.oasis.opendocument.${kind}`), { level: 0, mtime: new Date(2026, 0, 1) }],
  };
  for (const [name, data] of Object.entries(files))
    zip[name] = [typeof data === 'string' ? strToU8(data) : data, { mtime: new Date(2026, 0, 1) }];
  return zipSync(zip);
}

export const graphicStyle = (name: string, properties: string, parent = ''): string =>
  `<style:style style:name="${name}" style:family="graphic"${parent && ` style:parent-style-name="${parent}"`}><style:graphic-properties ${properties}/></style:style>`;

/** A frame of 6 × 4 cm with the picture. */
export const openFrame = (attributes = '', more = ''): string =>
  `<draw:frame draw:name="p" svg:width="6cm" svg:height="4cm" ${attributes}><draw:image xlink:href="Pictures/one.png" xlink:type="simple"/>${more}</draw:frame>`;
