import { strToU8, unzipSync, zipSync } from 'fflate';
import { readFileSync } from 'node:fs';
import { GableError } from '@gable/core';
import { openFile } from './support/frames';
import { buildOpen } from './support/open';
import { buildDocument, inlined, NAMESPACES, png } from './support/build';

async function refusal(bytes: Uint8Array | Promise<Uint8Array>): Promise<GableError> {
  try {
    openFile(await bytes);
  } catch (error) {
    if (error instanceof GableError) return error;
    throw error;
  }
  throw new Error('It was opened.');
}

const compound = (text: string): Uint8Array => {
  const bytes = new Uint8Array(4096);
  bytes.set([0xd0, 0xcf, 0x11, 0xe0, 0xa1, 0xb1, 0x1a, 0xe1]);
  bytes.set(Buffer.from(text, 'utf16le'), 1024);
  return bytes;
};
describe('each bad file has its own clear answer', () => {
  test.each<[string, () => Uint8Array | Promise<Uint8Array>, string, RegExp]>([
    ['nothing', () => new Uint8Array(), 'empty-file', /empty/],
    ['not a zip', () => strToU8('Dear members, the kiln is warm.'), 'not-a-zip', /not an office document/],
    ['a single picture', () => png(20, 20), 'unsupported-format', /a picture \(PNG\)/],
    [
      'a zip that is no document',
      () => zipSync({ 'readme.txt': strToU8('hi') }),
      'not-a-document',
      /not an office document/,
    ],
    [
      'a zip without a main part',
      () => buildDocument({ more: { 'word/document.xml': null } }),
      'not-a-document',
      /main part/,
    ],
    [
      'an OpenDocument formula',
      () =>
        zipSync({
          mimetype: [strToU8('application/vnd.oasis.opendocument.formula'), { level: 0 }],
          'content.xml': strToU8('<x/>'),
        }),
      'unsupported-format',
      /OpenDocument/,
    ],
    [
      'an OpenDocument text without content',
      () => zipSync({ mimetype: [strToU8('application/vnd.oasis.opendocument.text'), { level: 0 }] }),
      'missing-part',
      /content\.xml/,
    ],
    [
      'an OpenDocument text with a password',
      () =>
        buildOpen({
          manifest:
            '<manifest:file-entry manifest:full-path="content.xml"><manifest:encryption-data/></manifest:file-entry>',
        }),
      'encrypted',
      /password/,
    ],
    ['the older binary format', () => compound('WordDocument'), 'legacy-office', /older binary/],
    ['a password', () => compound('EncryptedPackage'), 'encrypted', /password/],
    ['cut off', () => readFileSync('demo/files/season-handbook.docx').subarray(0, 2_000_000), 'truncated', /cut off/],
    [
      'a bomb',
      () => buildDocument({ more: { 'word/big.xml': new Uint8Array(40_000_000) } }),
      'inflates-too-much',
      /times its size/,
    ],
    [
      'a name that leaves the package',
      () => buildDocument({ more: { '../../evil.xml': 'x' } }),
      'bad-part-name',
      /outside/,
    ],
    [
      'a document type',
      () =>
        buildDocument({
          more: { 'word/document.xml': `<!DOCTYPE d><w:document ${NAMESPACES}><w:body/></w:document>` },
        }),
      'xml-dtd',
      /document type/,
    ],
    ['an entity', () => buildDocument({ body: '<w:p>&boom;</w:p>' }), 'xml-broken', /line 2, column/],
    ['broken XML', () => buildDocument({ body: '<w:p>' }), 'xml-broken', /word\/document\.xml/],
    [
      'XML without end',
      () => buildDocument({ body: '<w:p>'.repeat(400) + '</w:p>'.repeat(400) }),
      'xml-too-deep',
      /nested/,
    ],
  ])('%s', async (_name, make, code, words) => {
    const error = await refusal(make());
    expect(error.code).toBe(code);
    expect(error.message).toMatch(words);
    expect(error.remedy.length).toBeGreaterThan(10);
  });

  test('a document without pictures opens and has none', async () => {
    expect(openFile(await buildDocument({ body: '<w:p/>' })).pictures).toEqual([]);
  });

  test('templates and macro variants open the same', async () => {
    for (const type of [
      'application/vnd.ms-word.document.macroEnabled.main+xml',
      'application/vnd.openxmlformats-officedocument.wordprocessingml.template.main+xml',
    ]) {
      const bytes = await buildDocument({
        body: inlined(),
        more: {
          '[Content_Types].xml': `<Types xmlns="http://schemas.openxmlformats.org/package/2006/content-types"><Default Extension="rels" ContentType="r"/><Override PartName="/word/document.xml" ContentType="${type}"/></Types>`,
        },
      });
      expect(openFile(bytes).pictures).toHaveLength(1);
    }
  });

  test('a signed document says so', async () => {
    const bytes = await buildDocument({
      body: inlined(),
      more: {
        '_rels/.rels': `<Relationships xmlns="http://schemas.openxmlformats.org/package/2006/relationships"><Relationship Id="r1" Type="http://schemas.openxmlformats.org/officeDocument/2006/relationships/officeDocument" Target="word/document.xml"/><Relationship Id="r2" Type="http://schemas.openxmlformats.org/package/2006/relationships/digital-signature/origin" Target="_xmlsignatures/origin.sigs"/></Relationships>`,
      },
    });
    expect(openFile(bytes).signed).toBe(true);
  });

  test('300 damaged copies of a document end in a clear error or a valid file', async () => {
    const original = await buildDocument({ body: inlined() + inlined() });
    let seed = 20_261_124;
    const random = (): number => (seed = (Math.imul(seed, 1_664_525) + 1_013_904_223) >>> 0) / 2 ** 32;
    const parts = unzipSync(original);
    let opened = 0;
    for (let i = 0; i < 300; i++) {
      // Half of them are damaged in the package, half in the text of a part.
      let bytes = original.slice();
      if (i % 2 === 0)
        for (let k = 0; k < 4; k++) bytes[Math.floor(random() * bytes.length)] = Math.floor(random() * 256);
      else {
        const name = 'word/document.xml';
        const text = Buffer.from(parts[name]!).toString();
        const at = Math.floor(random() * text.length);
        bytes = zipSync({
          ...parts,
          [name]: strToU8(
            text.slice(0, at) + ['', '<', '"', '99999999999', '&'][i % 5]! + text.slice(at + Math.floor(random() * 12)),
          ),
        });
      }
      try {
        const file = openFile(bytes);
        opened++;
        file.save(file.pictures.map((p) => ({ ...p.frame, box: { ...p.frame.box, width: 50, height: 50 } })));
      } catch (error) {
        if (!(error instanceof GableError)) throw error;
      }
    }
    expect(opened).toBeGreaterThan(10);
  });
});
