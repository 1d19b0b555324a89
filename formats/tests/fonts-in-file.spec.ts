/** Fonts in files: where their standard says how, and nothing else changes. */
import { readFileSync } from 'node:fs';
import { createRequire } from 'node:module';
import { openFile, withFonts, type FontFile } from '@gable/formats';
import { strFromU8, unzipSync } from 'fflate';
import * as csstree from 'css-tree';
import { parse } from 'parse5';
import { madeFont } from '../../core/tests/made-font';

const regular = madeFont('Fennick Hand');
const bold = madeFont('Fennick Hand', { bold: true, wide: 800 });
const packed = readFileSync(
  createRequire(import.meta.url).resolve('@fontsource/carlito/files/carlito-latin-400-normal.woff2'),
);
const FONTS: FontFile[] = [
  { family: 'Fennick Hand', weight: 400, italic: false, bytes: regular, packed },
  { family: 'Fennick Hand', weight: 700, italic: false, bytes: bold, packed },
];
const file = (name: string): Uint8Array => new Uint8Array(readFileSync(name));

/** All entries but some are the very same. */
function othersAreSame(before: Uint8Array, after: Uint8Array, ...changed: readonly string[]): void {
  const [was, now] = [unzipSync(before), unzipSync(after)];
  for (const [name, bytes] of Object.entries(was))
    if (!changed.includes(name)) expect([name, Buffer.compare(bytes, now[name]!)]).toEqual([name, 0]);
}

/**
 * A font as it was before it was mixed with its key (ISO/IEC 29500-1 §17.8.1, from memory: the digits of the key in reverse order,
 * two by two, exclusive-or with the first 32 bytes).
 */
function unmixed(bytes: Uint8Array, key: string): Uint8Array {
  const pairs = key
    .replace(/[^0-9A-F]/g, '')
    .match(/../g)!
    .reverse();
  return bytes.map((b, i) => (i < 32 ? b ^ parseInt(pairs[i % 16]!, 16) : b));
}

describe.each(['demo/files/season-handbook.docx', 'demo/files/letter.docx', 'formats/tests/fixtures/python-docx.docx'])(
  'a text: %s',
  (name) => {
    const before = file(name);
    const after = withFonts(before, FONTS);
    const all = unzipSync(after);

    test('its table of fonts leads to the files, which are mixed with their keys', () => {
      const table = strFromU8(all['word/fontTable.xml']!);
      const own = /<w:font w:name="Fennick Hand"[^]*?<\/w:font>/.exec(table)![0];
      const relations = strFromU8(all['word/_rels/fontTable.xml.rels']!);
      const found = [...own.matchAll(/<w:(embed\w+)[^>]* r:id="(\w+)" w:fontKey="(\{[-\w]+\})"\/>/g)];
      expect(found.map((m) => m[1])).toEqual(['embedRegular', 'embedBold']);
      for (const [i, [, , id, key]] of found.entries()) {
        const target = new RegExp(`Id="${id}" Type="[^"]*/relationships/font" Target="/([^"]+)"`).exec(relations)![1]!;
        expect(Buffer.compare(unmixed(all[target]!, key!), i === 0 ? regular : bold)).toBe(0);
        // The key is a GUID (§22.9.2.4, ST_Guid).
        expect(key).toMatch(/^\{[0-9A-F]{8}-[0-9A-F]{4}-[0-9A-F]{4}-[0-9A-F]{4}-[0-9A-F]{12}\}$/);
      }
      const types = strFromU8(all['[Content_Types].xml']!);
      expect(types).toContain(
        'Extension="odttf" ContentType="application/vnd.openxmlformats-officedocument.obfuscatedFont"',
      );
      expect(types).toMatch(/PartName="\/word\/fontTable.xml" ContentType="[^"]*wordprocessingml.fontTable\+xml"/);
    });

    test('nothing else changes; a second time nothing does', () => {
      othersAreSame(
        before,
        after,
        ...[
          '[Content_Types].xml',
          'word/fontTable.xml',
          'word/_rels/fontTable.xml.rels',
          'word/_rels/document.xml.rels',
        ],
      );
      expect(Buffer.compare(withFonts(after, FONTS), after)).toBe(0);
      expect(openFile(after).pictures.map((p) => p.frame)).toEqual(openFile(before).pictures.map((p) => p.frame));
    });
  },
);

test.each([
  'demo/files/empty-board.odg',
  'formats/tests/fixtures/odfpy.odt',
  'formats/tests/fixtures/odfpy.odp',
  'formats/tests/fixtures/odfpy.ods',
])('an OpenDocument file declares them, with their files: %s', (name) => {
  const before = file(name);
  const after = withFonts(before, FONTS);
  const all = unzipSync(after);
  const content = strFromU8(all['content.xml']!);
  const faces = [
    ...content.matchAll(
      /<style:font-face[^>]*svg:font-family="(?:&apos;|')Fennick Hand(?:&apos;|')"[^]*?<\/style:font-face>/g,
    ),
  ];
  expect(faces).toHaveLength(2);
  for (const [i, [face]] of faces.entries()) {
    const href = /xlink:href="(Fonts\/[^"]+)"/.exec(face)![1]!;
    expect(Buffer.compare(all[href]!, i === 0 ? regular : bold)).toBe(0);
    expect(strFromU8(all['META-INF/manifest.xml']!)).toContain(`full-path="${href}" `);
  }
  // Two declarations have two names (ODF 1.2 Part 1 §16.23).
  expect(new Set(faces.map(([f]) => /style:name="([^"]+)"/.exec(f)![1])).size).toBe(2);
  othersAreSame(before, after, 'content.xml', 'META-INF/manifest.xml');
  expect(Buffer.compare(withFonts(after, FONTS), after)).toBe(0);
  expect(openFile(after).pictures).toHaveLength(openFile(before).pictures.length);
});

const rulesIn = (css: string): string[] => {
  const families: string[] = [];
  csstree.walk(csstree.parse(css), (node) => {
    if (node.type === 'Atrule' && node.name === 'font-face') families.push(csstree.generate(node.block!));
  });
  return families;
};

test('a drawing and a web page have them as rules; what is there already is not put there twice', () => {
  const drawing = withFonts(file('demo/files/firing-day-board.svg'), FONTS);
  const css = /<style data-gable-fonts="">([^]*?)<\/style>/.exec(strFromU8(drawing))![1]!;
  expect(rulesIn(css)).toHaveLength(2);
  expect(Buffer.compare(withFonts(drawing, FONTS), drawing)).toBe(0);

  const page = new TextEncoder().encode(
    `<!doctype html><html><head><title>Visit</title></head><body><span class="g" data-gable-set style="font-family:'Fennick Hand'">us</span></body></html>`,
  );
  const after = withFonts(page, FONTS);
  const head = (
    parse(strFromU8(after)) as unknown as {
      childNodes: { childNodes: { childNodes: { nodeName: string; childNodes: { value: string }[] }[] }[] }[];
    }
  ).childNodes[1]!.childNodes[0]!.childNodes;
  const style = head.find((e) => e.nodeName === 'style')!;
  expect(rulesIn(style.childNodes[0]!.value)).toEqual([
    expect.stringContaining('font-weight:400'),
    expect.stringContaining('font-weight:700'),
  ]);
  expect(strFromU8(after).replace(/<style data-gable-fonts>[^]*?<\/style>/, '')).toBe(strFromU8(page));
  expect(Buffer.compare(withFonts(after, FONTS), after)).toBe(0);
  // A page that has no words in them stays as it is.
  const plain = new TextEncoder().encode('<!doctype html><p>us');
  expect(Buffer.compare(withFonts(plain, FONTS), plain)).toBe(0);
});

test('fonts that came before stay when others come; one in the place of another is the later one', () => {
  const [first, second] = [[FONTS[0]!], [FONTS[1]!]];
  for (const name of ['demo/files/firing-day-board.svg', 'demo/files/empty-board.odg', 'demo/files/letter.docx']) {
    const both = withFonts(withFonts(file(name), first), second);
    const parts = name.endsWith('.svg')
      ? [strFromU8(both)]
      : Object.values(unzipSync(both)).map((b) => Buffer.from(b).toString('latin1'));
    const text = parts.join('\n');
    const found = text.match(
      /@font-face\{|<style:font-face [^>]*'Fennick Hand'|<style:font-face [^>]*&apos;Fennick Hand|<w:embed(?:Regular|Bold) /g,
    );
    expect([name, found?.length]).toEqual([name, 2]);
  }
  const twice = withFonts(file('demo/files/letter.docx'), [FONTS[0]!, { ...FONTS[0]!, bytes: bold }]);
  expect(Object.keys(unzipSync(twice)).filter((n) => n.endsWith('.odttf'))).toHaveLength(1);
});

test('a page that only names the font in its own styles stays as it is', () => {
  const page = new TextEncoder().encode(`<!doctype html><style>p{font-family:'Fennick Hand'}</style><p>us`);
  expect(Buffer.compare(withFonts(page, FONTS), page)).toBe(0);
});

test('a deck, for which there is no documented way, stays as it is', () => {
  const deck = file('demo/files/open-day-talk.pptx');
  expect(Buffer.compare(withFonts(deck, FONTS), deck)).toBe(0);
});
