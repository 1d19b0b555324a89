/** Whole folders, and the exit codes a build stands on; from the built form (`npm run build`). */
import { copyFileSync, existsSync, mkdirSync, mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import { strFromU8, unzipSync } from 'fflate';
import { parseOffice } from 'officeparser';
import { gable } from './support/gable';

const demo = (name: string): string => path.resolve('demo/files', name);
let folder: string;
beforeEach(() => {
  folder = mkdtempSync(path.join(os.tmpdir(), 'gable-folder-'));
  mkdirSync(path.join(folder, 'in/deep'), { recursive: true });
  copyFileSync(demo('season-handbook.docx'), path.join(folder, 'in/handbook.docx'));
  copyFileSync(demo('open-day-talk.pptx'), path.join(folder, 'in/deep/talk.pptx'));
  writeFileSync(path.join(folder, 'in/notes.txt'), 'not for us');
});
afterEach(() => rmSync(folder, { recursive: true }));
const at = (name: string): string => path.join(folder, name);
const ellipses = (file: string, part: string): number =>
  strFromU8(unzipSync(readFileSync(file))[part]!).split('prst="ellipse"').length - 1;

test('a folder is surveyed file by file; one that is broken is told, and the rest is there all the same', () => {
  const { status, out } = gable('survey', at('in'), '--json');
  const result = JSON.parse(out) as { files: { file: string; pictures: unknown[] }[]; failed: unknown[] };
  expect(status).toBe(0);
  expect(result.files.map((f) => [f.file, f.pictures.length > 0])).toEqual([
    [path.join('deep', 'talk.pptx'), true],
    ['handbook.docx', true],
  ]);
  writeFileSync(at('in/broken.docx'), 'PK no');
  const again = gable('survey', at('in'), '--table');
  expect(again.status).toBe(1);
  expect(again.out).toContain('handbook.docx:');
  expect(again.err).toContain('broken.docx: ');
});

test('a finish is laid on every picture of a folder, mended before; the folder comes out whole', () => {
  const { status, out } = gable('frame', at('in'), '--finish', 'round-portrait', '--fix', '--out', at('out'));
  expect(status).toBe(0);
  expect(out).toContain('18 of 18 pictures framed');
  expect(ellipses(at('out/handbook.docx'), 'word/document.xml')).toBeGreaterThanOrEqual(16);
  expect(ellipses(at('out/deep/talk.pptx'), 'ppt/slides/slide1.xml')).toBeGreaterThanOrEqual(1);
  expect(existsSync(at('out/notes.txt'))).toBe(false);
});

test('a dry run writes nothing and tells what would change', () => {
  const { status, out } = gable('frame', at('in'), '--fix', '--dry-run');
  expect(status).toBe(0);
  expect(out).toMatch(/handbook\.docx: \d+ of 18 pictures would change: .*\b4\b/);
  expect(existsSync(at('out'))).toBe(false);
});

test('exit 3 while findings of the severity, or worse, remain', () => {
  const handbook = at('in/handbook.docx');
  expect(gable('survey', handbook, '--fail', 'fault').status).toBe(3);
  expect(gable('frame', handbook, '--fix', '--out', at('mended.docx'), '--fail', 'flaw').status).toBe(3);
  // What is soft stays so: no finish makes pixels.
  expect(gable('frame', handbook, '--fix', '--out', at('mended.docx'), '--fail', 'fault').status).toBe(0);
  expect(gable('survey', at('mended.docx'), '--fail', 'fault').status).toBe(0);
  expect(gable('survey', at('mended.docx'), '--fail', 'hint').status).toBe(3);
});

test('a finish with a name below: every picture that can have one has it, by its own alt text', async () => {
  const run = { text: 'Name', font: '', size: 11, weight: 700, italic: false, underline: false };
  const paint = { kind: 'solid', colour: '#22302f', opacity: 1 };
  const item = {
    ...{ kind: 'framed', id: 'part-1', turn: 0, flip: { horizontal: false, vertical: false }, opacity: 1, alt: '' },
    ...{
      shape: { name: 'rectangle', knobs: {} },
      seat: { fit: 'fill', anchor: 'centre', repeat: false },
      outline: null,
      shadow: null,
    },
    ...{ at: { on: 'page', box: { x: 0, y: 0, width: 90, height: 20 } }, fill: null },
    text: {
      ...{ anchor: 'middle', inset: { top: 0, right: 0, bottom: 0, left: 0 } },
      paragraphs: [{ align: 'centre', runs: [{ ...run, paint }] }],
    },
    tie: { to: 'picture', as: 'beside', side: 'bottom', gap: 4, share: 1 },
  };
  const finish = {
    name: 'Captioned',
    shape: { name: 'circle', knobs: {} },
    around: [{ layer: 'front', says: 'name', item }],
  };
  writeFileSync(at('named.json'), JSON.stringify({ gable: 'finish', version: 1, finish }));
  const { status, err } = gable(
    'frame',
    demo('open-day-talk.pptx'),
    '--finish',
    at('named.json'),
    '--pick',
    '2,3',
    '--out',
    at('out.pptx'),
  );
  expect([status, err]).toEqual([0, '']);
  const said = (await parseOffice(readFileSync(at('out.pptx')))).toText();
  expect(said).toContain('Maren in a teal apron');
  // The third has no alt text: its name waits.
  expect(said.split(/\bName\b/).length - 1).toBe(1);
  const text = gable('frame', at('in/handbook.docx'), '--finish', at('named.json'), '--out', at('out.docx'));
  expect(text.status).toBe(0);
  expect(strFromU8(unzipSync(readFileSync(at('out.docx')))['word/document.xml']!)).toContain('<wps:txbx>');
});

test('a finish from a file; what is none, and a folder in itself, are faults of the call', () => {
  const finish = { name: 'Thick', outline: null, shadow: null, shape: { name: 'heart', knobs: {} } };
  writeFileSync(at('mine.json'), JSON.stringify({ gable: 'finish', version: 1, finish }));
  const args = ['frame', at('in/handbook.docx'), '--out', at('x.docx'), '--finish'];
  expect(gable(...args, at('mine.json')).status).toBe(0);
  expect(strFromU8(unzipSync(readFileSync(at('x.docx')))['word/document.xml']!)).toContain('prst="heart"');
  writeFileSync(at('bad.json'), '{"name":"x"}');
  const bad = gable(...args, at('bad.json'));
  expect([bad.status, bad.err]).toEqual([2, expect.stringContaining('This is not a finish')]);
  expect(gable(...args, 'shiny').status).toBe(2);
  expect(gable('frame', at('in'), '--fix', '--out', at('in/new')).status).toBe(2);
  expect(gable('survey', at('in'), '--fail', 'always').status).toBe(2);
  expect(gable('survey', at('in'), '--json', '--table').status).toBe(2);
});
