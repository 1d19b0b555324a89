import { readFileSync } from 'node:fs';
import { strFromU8, unzipSync } from 'fflate';
import mammoth from 'mammoth';
import { ON_PAGE } from '@gable/core';
import { parseXml, type Element, type MarginPicture } from '../src/index';
import { openFile, type FramedFile } from './support/frames';
import { find } from './support/find';
import { buildDocument, inlined, png } from './support/build';
import { buildOpen } from './support/open';

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
    floats: null,
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
    expect(result.placed).toHaveLength(3);
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

describe('at a place of the page, in a header', () => {
  const floats = { x: 400, y: 20, ...ON_PAGE };

  test('it is tied to the first paragraph there: no line is added, and the margins stay', async () => {
    const handbook = new Uint8Array(readFileSync('demo/files/season-handbook.docx'));
    const before = openFile(handbook);
    const bytes = await place(handbook, { gap: null, floats });
    const after = openFile(bytes);
    const put = after.pictures.filter((p) => p.frame.alt === 'A pot');
    expect(put.length).toBeGreaterThan(0);
    expect(after.pictures).toHaveLength(before.pictures.length + put.length);
    for (const { frame, where: at } of put) {
      expect(at.place).toBe('header');
      expect(frame.anchor).toEqual(ON_PAGE);
      expect([frame.box.x, frame.box.y]).toEqual([400, 20]);
      const lines = (b: Uint8Array): number => find(parseXml(part(b, at.part), 'x'), 'p').length;
      expect(lines(bytes)).toBe(lines(handbook));
    }
    expect(part(bytes, 'word/document.xml')).toBe(part(handbook, 'word/document.xml'));
    // Numbers of drawings are unique in the document (§20.4.2.5, docPr).
    const ids = (b: Uint8Array): (string | undefined)[] =>
      Object.keys(unzipSync(b))
        .filter((name) => /^word\/(document|header\d*|footer\d*)\.xml$/.test(name))
        .flatMap((name) => find(parseXml(part(b, name), 'x'), 'docPr').map((e) => e.attributes['id']));
    const added = ids(bytes).filter((id) => !ids(handbook).includes(id));
    expect(added).toHaveLength(put.length);
    expect(new Set(added).size).toBe(put.length);
  });
});

/** ODF 1.2 Part 1 §16.9 and §16.6, from memory. */
describe('the headers of an OpenDocument text', () => {
  const master = (inner: string): string =>
    `<style:master-page style:name="Standard" style:page-layout-name="pm1">${inner}</style:master-page>`;
  const headed =
    '<style:header><text:p>Clay<text:span>works</text:span></text:p></style:header><style:footer><text:p/></style:footer>';
  const names = (bytes: Uint8Array): string[] =>
    find(parseXml(part(bytes, 'styles.xml'), 'x'), 'master-page')[0]!.children.map((c) => c.local);
  const header = (bytes: Uint8Array, local = 'header'): Element[] =>
    find(parseXml(part(bytes, 'styles.xml'), 'x'), local)[0]!.children;

  test('get a picture before what is there, or one of their own; the words stay, and so does the text', async () => {
    for (const inner of [headed, '', '<style:footer><text:p/></style:footer>']) {
      const bytes = await buildOpen({ body: '<text:p>Text</text:p>', masters: master(inner) });
      const after = await place(bytes);
      const [picture] = openFile(after).pictures;
      expect(picture!.where.place).toBe('header');
      expect(picture!.frame).toMatchObject({ alt: 'A pot', flow: 'inline', box: { width: 72, height: 72 } });
      expect(names(after)[0]).toBe('header');
      expect(header(after)[0]!.children[0]!.local).toBe('frame');
      if (inner === headed)
        expect(part(after, 'styles.xml')).toContain('<text:p>Clay<text:span>works</text:span></text:p></style:header>');
      expect(part(after, 'content.xml')).toBe(part(bytes, 'content.xml'));
    }
  });

  test('on the first page alone; what stood there is there, too', async () => {
    const bytes = await buildOpen({ body: '<text:p>Text</text:p>', masters: master(headed) });
    const after = await place(bytes, { pages: 'first' });
    expect(names(after)).toEqual(['header', 'header-first', 'footer']);
    expect(header(after)).toHaveLength(1);
    expect(header(after, 'header-first').map((e) => e.local)).toEqual(['p', 'p']);
    expect(openFile(after).pictures).toHaveLength(1);
    const bare = await buildOpen({ body: '<text:p>Text</text:p>', masters: master('') });
    const both = await place(bare, { pages: 'first', into: 'footer' });
    expect(names(both)).toEqual(['footer', 'footer-first']);
    expect(openFile(both).pictures.map((p) => p.where.place)).toEqual(['footer']);
  });

  test('at a place of the page; twice, each with a name of its own', async () => {
    const bytes = await buildOpen({ body: '<text:p>Text</text:p>', masters: master(headed) });
    const floats = { x: 400, y: 20, ...ON_PAGE };
    const after = await place(await place(bytes, { floats, gap: null }), { into: 'footer', floats, gap: null });
    const { pictures } = openFile(after);
    expect(pictures.map((p) => [p.where.place, p.frame.anchor, p.frame.box.x])).toEqual([
      ['header', ON_PAGE, 400],
      ['footer', ON_PAGE, 400],
    ]);
    const drawn = find(parseXml(part(after, 'styles.xml'), 'x'), 'frame').map((e) => e.attributes['draw:name']);
    expect(new Set(drawn).size).toBe(2);
  });
});
