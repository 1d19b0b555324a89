import { strToU8, zipSync } from 'fflate';
import { createHash } from 'node:crypto';
import sharp from 'sharp';

/** Every attack at its full size; else at one that takes seconds. */
export const LONG = process.env['GABLE_ATTACK'] === 'long';

/** Files that are small, cheap to make, and dear to open. */
export interface HostileFile {
  name: string;
  /** Can it be opened all the same? Otherwise it is refused with a reason. */
  opens: boolean;
  make(): Uint8Array | Promise<Uint8Array>;
}

const times = (n: number, of: (i: number) => string): string => Array.from({ length: n }, (_, i) => of(i)).join('');

/** Bytes that do not pack, always the same. */
function noise(length: number): Uint8Array {
  const out = new Uint8Array(length);
  for (let at = 0, i = 0; at < length; at += 32, i++)
    out.set(
      createHash('sha256')
        .update(String(i))
        .digest()
        .subarray(0, Math.min(32, length - at)),
      at,
    );
  return out;
}

const page = (inside: string): Uint8Array => strToU8(`<!doctype html><html><head></head><body>${inside}</body></html>`);
const drawing = (inside: string): Uint8Array =>
  strToU8(`<svg xmlns="http://www.w3.org/2000/svg" width="400" height="300">${inside}</svg>`);

const OFFICE = 'http://schemas.openxmlformats.org';
const NAMESPACES =
  `xmlns:w="${OFFICE}/wordprocessingml/2006/main" xmlns:wp="${OFFICE}/drawingml/2006/wordprocessingDrawing" ` +
  `xmlns:a="${OFFICE}/drawingml/2006/main" xmlns:pic="${OFFICE}/drawingml/2006/picture" ` +
  `xmlns:r="${OFFICE}/officeDocument/2006/relationships"`;

/** A text document. @param noiseBytes bytes that do not pack, so that it may grow */
function document(body: string, noiseBytes = 0): Uint8Array {
  const type = 'application/vnd.openxmlformats-officedocument.wordprocessingml.document.main+xml';
  return zipSync({
    '[Content_Types].xml': strToU8(
      `<Types xmlns="${OFFICE}/package/2006/content-types"><Default Extension="rels" ContentType="application/vnd.openxmlformats-package.relationships+xml"/>` +
        `<Override PartName="/word/document.xml" ContentType="${type}"/></Types>`,
    ),
    '_rels/.rels': strToU8(
      `<Relationships xmlns="${OFFICE}/package/2006/relationships"><Relationship Id="r1" Type="${OFFICE}/officeDocument/2006/relationships/officeDocument" Target="word/document.xml"/></Relationships>`,
    ),
    'word/document.xml': strToU8(`<w:document ${NAMESPACES}><w:body>${body}</w:body></w:document>`),
    'word/media/noise.bin': [noise(noiseBytes), { level: 0 }],
  });
}

const picture = (i: number): string =>
  `<w:r><w:drawing><wp:inline><wp:extent cx="914400" cy="914400"/><wp:docPr id="${i + 1}" name="p"/><a:graphic><a:graphicData uri="${OFFICE}/drawingml/2006/picture">` +
  `<pic:pic><pic:nvPicPr><pic:cNvPr id="0" name="p"/><pic:cNvPicPr/></pic:nvPicPr><pic:blipFill><a:blip r:embed="rId1"/></pic:blipFill><pic:spPr/></pic:pic></a:graphicData></a:graphic></wp:inline></w:drawing></w:r>`;

const DOT =
  'data:image/png;base64,iVBORw0KGgoAAAANSUhEUgAAAAEAAAABCAYAAAAfFcSJAAAADUlEQVR42mNk+M9QDwADhgGAWjR9awAAAABJRU5ErkJggg==';

export const FILES: readonly HostileFile[] = [
  {
    name: 'shadow.html',
    opens: true,
    make: () =>
      page(
        `<img src="${DOT}" width="90" height="90" style="border-radius:50%;box-shadow:0 0 0 100000000000000000000px #000">`,
      ),
  },
  {
    name: 'numbers.html',
    opens: true,
    make: () =>
      page(
        times(
          60,
          (i) =>
            `<p><img src="${DOT}" style="width:${'9'.repeat(i + 1)}px;height:1e${i * 5}px;outline:${'9'.repeat(i + 1)}px solid;box-shadow:1e${i * 5}px 0 1e${i * 5}px red;transform:rotate(1e${i * 5}deg)"></p>`,
        ),
      ),
  },
  { name: 'deep.html', opens: false, make: () => page(`${'<div>'.repeat(100_000)}<img src="${DOT}">`) },
  {
    name: 'formatting.html',
    opens: false,
    // Each letter is put into all the elements that were left open before it (HTML §13.2.4.3).
    make: () => page(`${times(950, (i) => `<div><font color="${i}">a</div>`)}<img src="${DOT}">`),
  },
  {
    name: 'rules.html',
    opens: true,
    make: () =>
      page(
        `<style>${times(LONG ? 60_000 : 20_000, (i) => `.a${i} p img{width:${i}px}`)}</style>${`<p><img src="${DOT}"></p>`.repeat(1500)}`,
      ),
  },
  {
    name: 'urls.html',
    opens: true,
    make: () => page(`<style>${'a{background:url('.repeat(60_000)}</style><img src="${DOT}">`),
  },
  {
    name: 'calc.html',
    opens: true,
    make: () => page(`<style>img{width:calc(${'('.repeat(9000)}1px${')'.repeat(9000)})}</style><img src="${DOT}">`),
  },
  {
    name: 'uses.svg',
    opens: false,
    make: () =>
      drawing(`<defs><image id="i" width="1" height="1" href="${DOT}"/></defs>${'<use href="#i"/>'.repeat(400_000)}`),
  },
  {
    name: 'numbers.svg',
    opens: true,
    make: () =>
      drawing(
        times(
          40,
          (i) =>
            `<g transform="scale(1e${i * 8}) translate(-1e${i * 8} 9)"><image width="1e${i * 8}" height="${'9'.repeat(i + 1)}" x="-1e${i * 8}" href="${DOT}"/></g>`,
        ),
      ),
  },
  {
    name: 'clips.svg',
    opens: true,
    make: () =>
      drawing(
        `<clipPath id="c"><path d="M0 0${'L9 1L1 9'.repeat(40_000)}"/></clipPath>${`<image width="9" height="9" clip-path="url(#c)" href="${DOT}"/>`.repeat(2000)}`,
      ),
  },
  {
    name: 'blurs.svg',
    opens: true,
    make: () =>
      drawing(
        `<filter id="f" x="-9" y="-9" width="99" height="99">${'<feGaussianBlur stdDeviation="300"/>'.repeat(60)}</filter><rect width="400" height="300" filter="url(#f)"/><image width="9" height="9" href="${DOT}"/>`,
      ),
  },
  { name: 'elements.docx', opens: false, make: () => document('<w:p/>'.repeat(2_500_000), 300_000) },
  { name: 'bomb.docx', opens: false, make: () => document(' '.repeat(200_000_000)) },
  { name: 'paragraph.docx', opens: true, make: () => document(`<w:p>${times(5000, picture)}</w:p>`, 400_000) },
  { name: 'deep.docx', opens: false, make: () => document('<w:p>'.repeat(100_000), 400_000) },
];

/** A picture of many pixels that packs well. */
export const largePicture = (width: number, height: number): Promise<Buffer> =>
  sharp({ create: { width, height, channels: 3, background: '#b5482a' }, limitInputPixels: false })
    .jpeg({ quality: 60 })
    .toBuffer();

/** A picture of many bytes. */
export const heavyPicture = (side: number): Promise<Buffer> => {
  const raw = { width: side, height: side, channels: 3 as const };
  return sharp(noise(side * side * 3), { raw })
    .png({ compressionLevel: 0 })
    .toBuffer();
};

/** An outline of many points that all cross each other. */
export const tangle = (points: number): string =>
  `M${Array.from({ length: points }, (_, i) => {
    const angle = (i * Math.PI * (points - 1)) / points;
    return `${(0.5 + Math.cos(angle) / 2).toFixed(4)} ${(0.5 + Math.sin(angle) / 2).toFixed(4)}`;
  }).join('L')}Z`;
