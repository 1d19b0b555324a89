import { readFileSync } from 'node:fs';
import { strFromU8, unzipSync } from 'fflate';
import mammoth from 'mammoth';
import { parseXml, type Element, type MarginPicture } from '../src/index';
import { openFile, type FramedFile } from './support/frames';
import { find } from './support/find';
import { buildDocument, inlined, png } from './support/build';

const W = 'http://schemas.openxmlformats.org/wordprocessingml/2006/main';
const R = 'http://schemas.openxmlformats.org/officeDocument/2006/relationships';
const part = (bytes: Uint8Array, name: string): string => strFromU8(unzipSync(bytes)[name]!);
const section = (bytes: Uint8Array): Element => find(parseXml(part(bytes, 'word/document.xml'), 'x'), 'sectPr').pop()!;
async function wish(more: Partial<MarginPicture> = {}): Promise<MarginPicture> {
  const picture = { bytes: await png(400, 400), type: 'png' as const, size: { width: 400, height: 400 } };
  return {
    into: 'header',
    pages: 'all',
    align: 'center',
    width: 72,
    height: 72,
    alt: 'A pot',
    gap: 14.4,
    picture,
    ...more,
  };
}
const place = async (bytes: Uint8Array, more: Partial<MarginPicture> = {}): Promise<Uint8Array> =>
  openFile(bytes).putInMargin!(await wish(more)).bytes;
const where = (file: FramedFile): string[] => file.pictures.map((p) => p.where.place);
const body = `${inlined()}<w:sectPr><w:pgSz w:w="11906" w:h="16838"/><w:pgMar w:top="1440" w:right="1440" w:bottom="1440" w:left="1440" w:header="720" w:footer="720" w:gutter="0"/><w:cols/></w:sectPr>`;

describe('a picture in the page header or footer', () => {
  test('with part, relationship, content type and reference where there was none', async () => {
    const bytes = await place(await buildDocument({ body }));
    const file = openFile(bytes);
    expect(where(file)).toEqual(['body', 'header']);
    expect(file.pictures[1]!.frame).toMatchObject({ alt: 'A pot', flow: 'inline', box: { width: 72, height: 72 } });
    // CT_SectPr, §17.6.17: references come first.
    expect(section(bytes).children.map((c) => c.local)).toEqual(['headerReference', 'pgSz', 'pgMar', 'cols']);
    expect(section(bytes).children[0]!.attributes['w:type']).toBe('default');
    // Half an inch to the edge, an inch of picture, 0.2 in of air: 1.7 in in twentieths of a point (common practice).
    expect(find(section(bytes), 'pgMar')[0]!.attributes['w:top']).toBe(String(1.7 * 1440));
    expect(part(bytes, '[Content_Types].xml')).toContain(
      'PartName="/word/headerGable1.xml" ContentType="application/vnd.openxmlformats-officedocument.wordprocessingml.header+xml"',
    );
    const rel = find(parseXml(part(bytes, 'word/_rels/document.xml.rels'), 'x'), 'Relationship').find((r) =>
      r.attributes['Type']!.endsWith('/header'),
    )!;
    expect(rel.attributes['Target']).toBe('/word/headerGable1.xml');
    // A reader of others still opens it.
    expect(
      (await mammoth.extractRawText({ buffer: Buffer.from(bytes) })).messages.filter((m) => m.type === 'error'),
    ).toEqual([]);
  });

  test('beside what is there already, before it, and the text begins below both', async () => {
    const handbook = new Uint8Array(readFileSync('demo/files/season-handbook.docx'));
    const before = openFile(handbook);
    const bytes = await place(handbook);
    const after = openFile(bytes);
    expect(after.pictures).toHaveLength(before.pictures.length + 1);
    expect(where(after).filter((p) => p === 'header')).toHaveLength(2);
    const text = part(bytes, 'word/header1.xml');
    const old = part(handbook, 'word/header1.xml');
    const at = text.indexOf('<w:p><w:pPr><w:spacing w:before="0"');
    expect(text.slice(0, at)).toBe(old.slice(0, at));
    expect(old.endsWith(text.slice(text.indexOf('</w:p>', at) + 6))).toBe(true);
    const parts = unzipSync(bytes);
    for (const [name, data] of Object.entries(unzipSync(handbook)))
      if (!/document\.xml$|header1\.xml|Content_Types/.test(name))
        expect(Buffer.from(data).equals(parts[name]!)).toBe(true);
  });

  test('room is made for every line that stands there: breaks, and text longer than the column', async () => {
    const raised = async (inner: string): Promise<number> => {
      const document = await buildDocument({
        body: body.replace('<w:sectPr>', '<w:sectPr><w:headerReference w:type="default" r:id="rIdH"/>'),
        rels: `<Relationship Id="rIdH" Type="${R}/header" Target="header1.xml"/>`,
        more: { 'word/header1.xml': `<w:hdr xmlns:w="${W}"><w:p><w:r>${inner}</w:r></w:p></w:hdr>` },
      });
      return Number(find(section(await place(document)), 'pgMar')[0]!.attributes['w:top']);
    };
    const one = await raised('<w:t>Fennick</w:t>');
    const LINE = 280;
    expect(await raised('<w:t>Fennick</w:t><w:br/><w:t>Clayworks</w:t><w:br/><w:t>Since 1987</w:t>')).toBe(
      one + 2 * LINE,
    );
    // 451 pt of column take about 82 letters of 11 pt (common practice).
    expect(await raised(`<w:t>${'Fennick Clayworks. '.repeat(10)}</w:t>`)).toBe(one + 2 * LINE);
  });

  test('on the first page only: a header of its own with a copy of the usual one, and the switch for it', async () => {
    const header = `<w:hdr xmlns:w="${W}"><w:p><w:r><w:t>Fennick</w:t></w:r></w:p></w:hdr>`;
    const document = await buildDocument({
      body: body.replace('<w:sectPr>', '<w:sectPr><w:headerReference w:type="default" r:id="rIdH"/>'),
      rels: `<Relationship Id="rIdH" Type="${R}/header" Target="header1.xml"/>`,
      more: { 'word/header1.xml': header },
    });
    const bytes = await place(document, { pages: 'first' });
    expect(section(bytes).children.map((c) => c.local)).toEqual([
      'headerReference',
      'headerReference',
      'pgSz',
      'pgMar',
      'cols',
      'titlePg',
    ]);
    expect(part(bytes, 'word/header1.xml')).toBe(header);
    const first = part(bytes, 'word/headerGable1.xml');
    expect(first).toContain('Fennick');
    expect(first.indexOf('<w:drawing')).toBeLessThan(first.indexOf('Fennick'));
    expect(where(openFile(bytes))).toEqual(['body', 'header']);
  });

  test('in the footer; even pages and later sections too; margins are left alone when so wished', async () => {
    const two = `<w:p><w:pPr><w:sectPr><w:pgMar w:top="1440" w:bottom="1440" w:footer="720"/></w:sectPr></w:pPr></w:p>${body.replace('<w:sectPr>', '<w:sectPr><w:footerReference w:type="default" r:id="rIdF"/>')}`;
    const document = await buildDocument({
      body: two,
      rels: `<Relationship Id="rIdF" Type="${R}/footer" Target="footer1.xml"/><Relationship Id="rIdS" Type="${R}/settings" Target="settings.xml"/>`,
      more: {
        'word/footer1.xml': `<w:ftr xmlns:w="${W}"/>`,
        'word/settings.xml': `<w:settings xmlns:w="${W}"><w:evenAndOddHeaders/></w:settings>`,
      },
    });
    const result = openFile(document).putInMargin!(await wish({ into: 'footer', gap: null }));
    expect(result.parts).toHaveLength(3);
    expect(where(openFile(result.bytes)).filter((p) => p === 'footer')).toHaveLength(3);
    expect(part(result.bytes, 'word/document.xml').match(/w:bottom="\d+"/g)).toEqual([
      'w:bottom="1440"',
      'w:bottom="1440"',
    ]);
    const raised = await place(document, { into: 'footer', gap: 10 });
    expect(part(raised, 'word/document.xml').match(/w:bottom="\d+"/g)).toEqual(['w:bottom="2360"', 'w:bottom="2360"']);
  });

  test('a document without sections says so', async () => {
    await expect(buildDocument({ body: inlined() }).then((b) => place(b))).rejects.toThrow(/no section/);
  });
});
