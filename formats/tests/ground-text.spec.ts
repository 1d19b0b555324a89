/**
 * The colour behind the pages of a text: ISO/IEC 29500-1 §17.2.1 (background) and §17.15.1.25 (displayBackgroundShape), order of the
 * settings by §17.15.1.78; ODF 1.2 Part 1 §20.175 (fo:background-color). Only these parts are written.
 */
import { applyAll, diff, groundOf, papersOf, plainGround, withChanges, changesFrom, type Document } from '@gable/core';
import { strFromU8, strToU8, unzipSync, zipSync } from 'fflate';
import { readFileSync } from 'node:fs';
import { BLANKS, openFile, type Source } from '../src/index';
import { buildDocument, inlined } from './support/build';
import { buildOpen, openFrame } from './support/open';

const SIZE = { width: 595, height: 842 };
const blank = (format: 'docx' | 'odt', ground: string | null): Uint8Array => BLANKS[format]!({ size: SIZE, ground });
const behind = (file: Source): string => groundOf(papersOf(file.document)[0]!);
const grounded = ({ document }: Source, colour: string): Document =>
  applyAll(document, [{ op: 'page-set', id: papersOf(document)[0]!.id, path: 'ground', value: plainGround(colour) }])
    .document;
const partsIn = (bytes: Uint8Array): Record<string, string> =>
  Object.fromEntries(Object.entries(unzipSync(bytes)).map(([name, data]) => [name, strFromU8(data)]));
const differing = (a: Uint8Array, b: Uint8Array): string[] => {
  const [was, is] = [partsIn(a), partsIn(b)];
  return Object.keys(is).filter((name) => was[name] !== is[name]);
};
/** A file with one of its parts otherwise. */
const edited = (bytes: Uint8Array, part: string, edit: (xml: string) => string | null): Uint8Array => {
  const all = unzipSync(bytes);
  const next = edit(strFromU8(all[part]!));
  if (next === null) delete all[part];
  else all[part] = strToU8(next);
  return zipSync(all);
};

describe.each(['docx', 'odt'] as const)('an .%s', (format) => {
  test('tells what it is, gets another colour and, given that back, is what it was, byte for byte', () => {
    const bytes = blank(format, '#f4f0e7');
    const file = openFile(bytes);
    expect(behind(file)).toBe('#f4f0e7');
    expect(behind(openFile(blank(format, null)))).toBe('#ffffff');
    const next = grounded(file, '#22302f');
    const out = file.write(next);
    expect(differing(bytes, out)).toEqual([format === 'docx' ? 'word/document.xml' : 'styles.xml']);
    expect(openFile(out).document).toEqual(next);
    // Nothing of it is painted, also where there was none before.
    expect(file.fidelity(next).size).toBe(0);
    const plain = openFile(blank(format, null));
    expect(plain.fidelity(grounded(plain, '#22302f')).size).toBe(0);
    expect(file.write(grounded(file, '#f4f0e7'))).toEqual(bytes);
  });

  test('is stored as a change, and taken back', () => {
    const { document } = openFile(blank(format, '#f4f0e7'));
    const next = grounded({ document } as Source, '#22302f');
    expect(withChanges(document, changesFrom(document, next))).toEqual(next);
    expect(applyAll(document, diff(document, next)).document).toEqual(next);
    expect(applyAll(next, diff(next, document)).document).toEqual(document);
    const { inverse } = applyAll(document, diff(document, next));
    expect(applyAll(next, inverse).document).toEqual(document);
  });

  test('takes no gradient, and nothing but its ground', () => {
    const file = openFile(blank(format, null));
    const { id } = papersOf(file.document)[0]!;
    const stop = (at: number): object => ({ at, colour: '#22302f', opacity: 1 });
    const gradient = { kind: 'paint', paint: { kind: 'linear', angle: 0, stops: [stop(0), stop(1)] } };
    const { document } = applyAll(file.document, [{ op: 'page-set', id, path: 'ground', value: gradient }]);
    expect(() => file.write(document)).toThrow(/gradient/);
    expect(() => applyAll(file.document, [{ op: 'page-set', id, path: 'width', value: 9 }])).toThrow(/cannot be that/);
  });

  test('a picture that is framed with it comes along', async () => {
    const bytes =
      format === 'docx'
        ? await buildDocument({ body: inlined() })
        : await buildOpen({ body: openFrame(), masters: MASTERS });
    const with1 =
      format === 'docx'
        ? bytes
        : edited(bytes, 'styles.xml', (xml) => xml.replace('<office:automatic-styles/>', LAYOUTS));
    const file = openFile(with1);
    const [picture] = file.pictures;
    const next = applyAll(grounded(file, '#22302f'), [
      { op: 'set', id: `p${picture!.n}`, path: 'shape', value: { name: 'ellipse', knobs: {} } },
    ]).document;
    const again = openFile(file.write(next));
    expect(behind(again)).toBe('#22302f');
    expect(again.pictures[0]!.frame.shape.name).toBe('ellipse');
  });
});

const LAYOUTS =
  '<office:automatic-styles><style:page-layout style:name="L"><style:header-style/></style:page-layout>' +
  '<style:page-layout style:name="M"><style:page-layout-properties draw:fill="bitmap" draw:fill-image-name="x"><style:background-image xlink:href="x"/></style:page-layout-properties></style:page-layout>' +
  '<style:page-layout style:name="N"><style:page-layout-properties fo:background-color="#ffeeee"/></style:page-layout></office:automatic-styles>';
const MASTERS =
  '<style:master-page style:name="Standard" style:page-layout-name="L"/><style:master-page style:name="Second" style:page-layout-name="M"/>';

test('settings of a text: on in its place, off no more, made where there are none', () => {
  const bytes = blank('docx', null);
  const settings = 'word/settings.xml';
  const write = (file: Uint8Array): string =>
    partsIn(openFile(file).write(grounded(openFile(file), '#22302f')))[settings]!;
  const within = (xml: string): Uint8Array =>
    edited(bytes, settings, (s) => s.replace(/<w:settings([^>]*)(\/>|>.*)$/s, `<w:settings$1>${xml}</w:settings>`));
  expect(write(within('<w:zoom w:percent="90"/><w:defaultTabStop w:val="720"/>'))).toContain(
    '<w:zoom w:percent="90"/><w:displayBackgroundShape/><w:defaultTabStop w:val="720"/>',
  );
  const off = within('<w:displayBackgroundShape w:val="0"/>');
  expect(
    behind(
      openFile(
        edited(off, 'word/document.xml', (s) => s.replace('<w:body>', '<w:background w:color="00FF00"/><w:body>')),
      ),
    ),
  ).toBe('#ffffff');
  expect(write(off)).toContain('<w:displayBackgroundShape/>');
  const none = edited(
    edited(
      edited(bytes, settings, () => null),
      'word/_rels/document.xml.rels',
      (s) => s.replace(/<Relationship [^>]*settings[^>]*>/, ''),
    ),
    '[Content_Types].xml',
    (s) => s.replace(/<Override [^>]*settings[^>]*>/, ''),
  );
  expect(write(none)).toContain('<w:displayBackgroundShape/>');
  expect(behind(openFile(openFile(none).write(grounded(openFile(none), '#22302f'))))).toBe('#22302f');
});

test('a picture behind a text goes where a colour comes; the colour of the theme is let go', () => {
  const old =
    '<w:background w:color="FFFFFF" w:themeColor="background1"><v:background xmlns:v="urn:schemas-microsoft-com:vml" id="x"/></w:background>';
  const bytes = edited(blank('docx', null), 'word/document.xml', (s) => s.replace('<w:body>', `${old}<w:body>`));
  const out = openFile(bytes).write(grounded(openFile(bytes), '#22302f'));
  expect(partsIn(out)['word/document.xml']).toContain('<w:background w:color="22302F"/><w:body>');
});

test('every layout that pages of a text have is coloured, and no other', async () => {
  const file = edited(await buildOpen({ body: openFrame(), masters: MASTERS }), 'styles.xml', (xml) =>
    xml.replace('<office:automatic-styles/>', LAYOUTS),
  );
  const xml = partsIn(openFile(file).write(grounded(openFile(file), '#22302f')))['styles.xml']!;
  expect(xml).toMatch(
    /style:name="L"><style:page-layout-properties fo:background-color="#22302f"\/><style:header-style\/>/,
  );
  expect(xml).toMatch(
    /style:name="M"><style:page-layout-properties [^>]*draw:fill="solid"[^>]*draw:fill-color="#22302f"/,
  );
  expect(xml).not.toContain('background-image');
  expect(xml).toContain('fo:background-color="#ffeeee"');
});

test('a text without a layout of pages says so', async () => {
  const file = openFile(await buildOpen({ body: openFrame() }));
  expect(() => file.write(grounded(file, '#22302f'))).toThrow(/how its pages are laid out/);
});

test('the handbook: one part changes, and its settings', () => {
  const bytes = new Uint8Array(readFileSync('demo/files/season-handbook.docx'));
  const file = openFile(bytes);
  const out = file.write(grounded(file, '#f4f0e7'));
  expect(differing(bytes, out).filter((n) => !/settings|Content_Types|document\.xml\.rels/.test(n))).toEqual([
    'word/document.xml',
  ]);
  expect(openFile(out).pictures.map((p) => p.frame)).toEqual(file.pictures.map((p) => p.frame));
});
