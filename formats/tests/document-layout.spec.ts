/**
 * Documents as the markup that is laid out: every word that `mammoth` reads in them, numbers of lists (ISO/IEC 29500-1 §17.18.59; Roman numerals by common practice), and what styles take from each other (§17.7.2).
 */
import mammoth from 'mammoth';
import { readdirSync, readFileSync } from 'node:fs';
import path from 'node:path';
import { parse } from 'parse5';
import { openFile } from '../src/index';
import { numeral } from '../src/flow/numeral';
import { buildDocument } from './support/build';
import { attribute, tags, words, type Tag } from './support/html';

const paragraphs = (html: string): Tag[] => tags(html).filter((e) => attribute(e, 'data-paragraph') !== undefined);

const folders = ['demo/files', 'formats/tests/fixtures', 'node_modules/mammoth/test/test-data'];
const documents = folders.flatMap((folder) =>
  readdirSync(folder)
    .filter((name) => name.endsWith('.docx'))
    .map((name) => path.join(folder, name)),
);

test.each(documents)('%s: every word is laid out', async (name) => {
  const bytes = readFileSync(name);
  const html = openFile(bytes).markup!(1)!;
  const letters = (text: string): string => text.replace(/\s/g, '');
  const said = letters(words(parse(html.replace(/<span class="reference"[^>]*>[^<]*<\/span>/g, ''))));
  const { value } = await mammoth.extractRawText({ buffer: bytes });
  for (const line of value.split('\n').map(letters).filter(Boolean)) expect(said).toContain(line);
});

test('numbers of lists', () => {
  const as = (format: string, ...numbers: number[]): string[] => numbers.map((n) => numeral(n, format));
  expect(as('upperRoman', 1, 4, 9, 14, 40, 90, 1994)).toEqual(['I', 'IV', 'IX', 'XIV', 'XL', 'XC', 'MCMXCIV']);
  expect(as('lowerLetter', 1, 26, 27, 28)).toEqual(['a', 'z', 'aa', 'bb']);
  expect(as('ordinal', 1, 2, 3, 4, 11, 12, 13, 21, 112)).toEqual([
    ...['1st', '2nd', '3rd', '4th', '11th', '12th', '13th', '21st', '112th'],
  ]);
  expect(as('decimalZero', 7, 12)).toEqual(['07', '12']);
});

const p = (text: string, pPr = '', rPr = ''): string =>
  `<w:p><w:pPr>${pPr}</w:pPr><w:r><w:rPr>${rPr}</w:rPr><w:t>${text}</w:t></w:r></w:p>`;

test('lists count through levels, and begin again under the next of a higher one', async () => {
  const level = (at: number, format: string, text: string): string =>
    `<w:lvl w:ilvl="${at}"><w:start w:val="1"/><w:numFmt w:val="${format}"/><w:lvlText w:val="${text}"/><w:pPr><w:ind w:left="${720 * (at + 1)}" w:hanging="360"/></w:pPr></w:lvl>`;
  const W = 'xmlns:w="http://schemas.openxmlformats.org/wordprocessingml/2006/main"';
  const numbering = `<w:numbering ${W}><w:abstractNum w:abstractNumId="3">${level(0, 'decimal', '%1.')}${level(1, 'lowerLetter', '%1.%2)')}</w:abstractNum><w:num w:numId="5"><w:abstractNumId w:val="3"/></w:num></w:numbering>`;
  const item = (text: string, at: number): string =>
    p(text, `<w:numPr><w:ilvl w:val="${at}"/><w:numId w:val="5"/></w:numPr>`);
  const bytes = await buildDocument({
    body: item('one', 0) + item('under', 1) + item('under again', 1) + item('two', 0) + item('anew', 1) + p('plain'),
    more: { 'word/numbering.xml': numbering },
    rels: '<Relationship Id="rIdN" Type="http://schemas.openxmlformats.org/officeDocument/2006/relationships/numbering" Target="numbering.xml"/>',
  });
  const html = openFile(bytes).markup!(1)!;
  expect(paragraphs(html).map(words)).toEqual(['1.one', '1.a)under', '1.b)under again', '2.two', '2.a)anew', 'plain']);
  // 1,440 twentieths from the edge, the first line 360 less.
  expect(attribute(paragraphs(html)[1]!, 'style')).toMatch(/^margin:0pt 0pt 0pt 72pt;text-indent:-18pt/);
});

test('a run takes from its style, its paragraph’s style and what all begin with; what it says itself comes first', async () => {
  const W = 'xmlns:w="http://schemas.openxmlformats.org/wordprocessingml/2006/main"';
  const styles = `<w:styles ${W}><w:docDefaults><w:rPrDefault><w:rPr><w:rFonts w:ascii="Arial"/><w:sz w:val="20"/></w:rPr></w:rPrDefault></w:docDefaults><w:style w:type="paragraph" w:default="1" w:styleId="N"><w:pPr><w:spacing w:after="200"/></w:pPr></w:style><w:style w:type="paragraph" w:styleId="H"><w:basedOn w:val="N"/><w:pPr><w:spacing w:before="480"/></w:pPr><w:rPr><w:b/><w:sz w:val="32"/></w:rPr></w:style><w:style w:type="character" w:styleId="C"><w:rPr><w:i/><w:color w:val="FF0000"/></w:rPr></w:style></w:styles>`;
  const bytes = await buildDocument({
    body: p('Head', '<w:pStyle w:val="H"/>', '<w:rStyle w:val="C"/><w:b w:val="0"/>') + p('plain'),
    more: { 'word/styles.xml': styles },
    rels: '<Relationship Id="rIdS" Type="http://schemas.openxmlformats.org/officeDocument/2006/relationships/styles" Target="styles.xml"/>',
  });
  const html = openFile(bytes).markup!(1)!;
  const run = (text: string): string =>
    attribute(
      tags(html).find((e) => e.tagName === 'span' && words(e) === text)!,
      'style',
    )!;
  expect(run('Head')).toMatch(/font-size:16pt.*font-weight:400;font-style:italic;color:#ff0000/);
  expect(run('plain')).toMatch(/'Arial','Arimo',sans-serif;font-size:10pt.*font-weight:400;font-style:normal/);
  // 480 twentieths above; 200 below are kept by the next.
  expect(paragraphs(html).map((e) => /^margin:([\d.]+)pt/.exec(attribute(e, 'style')!)![1])).toEqual(['24', '10']);
});
