/**
 * Documents from recipes, by the command as it is called, from its built form (`npm run build`): words as `officeparser` and
 * `mammoth` find them; the schema by the JSON schema of its own that Zod writes, read back with the operations of a work.
 */
import { openFile } from '@gable/formats';
import { madeFont } from '../../core/tests/made-font';
import { unzipSync } from 'fflate';
import { parseOffice } from 'officeparser';
import { spawnSync } from 'node:child_process';
import { existsSync, mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import { gable } from './support/gable';

let folder: string;
beforeEach(() => (folder = mkdtempSync(path.join(os.tmpdir(), 'gable-recipe-'))));
afterEach(() => rmSync(folder, { recursive: true }));
const at = (name: string): string => path.join(folder, name);
const compose = (recipe: unknown, out: string): ReturnType<typeof gable> => {
  writeFileSync(at('recipe.json'), typeof recipe === 'string' ? recipe : JSON.stringify(recipe));
  return gable('compose', at('recipe.json'), '--out', at(out));
};

const portrait = path.resolve('demo/files/pictures/portrait-maren.jpg');
const run = { text: 'Maren Holt', font: 'Calibri', size: 28, weight: 700, italic: false, underline: false };
const words = {
  anchor: 'middle',
  inset: { top: 0, right: 0, bottom: 0, left: 0 },
  paragraphs: [{ align: 'centre', runs: [{ ...run, paint: { kind: 'solid', colour: '#22302f', opacity: 1 } }] }],
};
const add = (item: object): object => ({ op: 'add', item });
const RECIPE = {
  new: { page: '16:9', ground: '#f4f0e7' },
  pictures: { maren: portrait },
  operations: [
    add({
      ...{ id: 'maren', alt: 'Maren Holt', shape: { name: 'circle', knobs: {} } },
      at: { on: 'page', box: { x: 100, y: 100, width: 200, height: 200 } },
    }),
    add({
      ...{ id: 'add-name', text: words, tie: { to: 'maren', as: 'beside', side: 'bottom', gap: 12, share: 1.2 } },
      at: { on: 'page', box: { x: 0, y: 0, width: 200, height: 40 } },
    }),
  ],
};

test('words are set in a font of a file, which a document takes along', () => {
  writeFileSync(at('boxes.otf'), madeFont('Fennick Boxes'));
  const [picture, name] = RECIPE.operations as { item: { text?: typeof words } }[];
  const boxed = {
    ...words,
    paragraphs: [{ ...words.paragraphs[0], runs: [{ ...words.paragraphs[0]!.runs[0]!, font: 'Fennick Boxes' }] }],
  };
  const recipe = {
    ...{ ...RECIPE, new: { page: '16:9' }, fonts: ['boxes.otf'] },
    operations: [picture, { ...name, item: { ...name!.item, text: boxed } }],
  };
  expect(compose(recipe, 'out.odp')).toMatchObject({ status: 0, err: '' });
  const all = unzipSync(readFileSync(at('out.odp')));
  expect(Buffer.compare(all['Fonts/gable1.otf']!, readFileSync(at('boxes.otf')))).toBe(0);
  const paint = (...more: string[]): Buffer => {
    // A process of its own each: fonts stay in one that has read them.
    const args = ['page', at('out.odp'), '--out', at('page.png'), '--width', '960', ...more];
    expect(spawnSync(process.execPath, ['cli/bin/gable.mjs', ...args]).status).toBe(0);
    return readFileSync(at('page.png'));
  };
  expect(Buffer.compare(paint('--fonts', at('boxes.otf')), paint())).not.toBe(0);
  expect(compose({ ...recipe, fonts: ['recipe.json'] }, 'none.odp')).toMatchObject({
    status: 1,
    out: '',
    err: expect.stringContaining('“recipe.json” is not a font'),
  });
  expect(existsSync(at('none.odp'))).toBe(false);
});

test('a slide from nothing: a round portrait with its name 12 pt below it', async () => {
  expect(compose(RECIPE, 'out.pptx')).toMatchObject({ status: 0, err: '' });
  const bytes = readFileSync(at('out.pptx'));
  const { pictures, document, sheets } = openFile(bytes);
  expect(sheets.map((s) => [s.width, s.height, s.background])).toEqual([[960, 540, '#f4f0e7']]);
  expect(pictures.map((p) => [p.frame.shape.name, p.frame.alt, p.frame.box])).toEqual([
    ['circle', 'Maren Holt', { x: 100, y: 100, width: 200, height: 200 }],
  ]);
  const name = Object.values(document.items).find((i) => i.kind === 'framed' && i.text !== null)!;
  expect(name.at.box).toEqual({ x: 80, y: 312, width: 240, height: 40 });
  expect((await parseOffice(bytes)).toText()).toContain('Maren Holt');
});

test('a file that is there: one property is set, and the rest stays byte for byte as that alone makes it', () => {
  const talk = path.resolve('demo/files/open-day-talk.pptx');
  const set = { op: 'set', id: 'p2', path: 'alt', value: 'Maren at the wheel' };
  expect(compose({ open: talk, operations: [set] }, 'out.pptx')).toMatchObject({ status: 0, err: '' });
  const [was, is] = [talk, at('out.pptx')].map((f) => openFile(readFileSync(f)).pictures.map((p) => p.frame));
  expect(is!.map((f) => f.alt)).toEqual(was!.map((f) => (f.n === 2 ? 'Maren at the wheel' : f.alt)));
  const others = (frames: typeof was): unknown => frames!.map((f) => ({ ...f, alt: '' }));
  expect(others(is)).toEqual(others(was));
  expect(compose({ open: talk, operations: [] }, 'same.pptx').status).toBe(0);
  expect(readFileSync(at('same.pptx')).equals(readFileSync(talk))).toBe(true);
});

test.each([
  ['{', /not JSON/],
  [{ operations: [] }, /Say either “open” or “new”/],
  [{ new: {}, open: 'a.docx', operations: [] }, /Say either “open” or “new”/],
  [{ new: {}, operations: [{ op: 'paint' }] }, /operations\.0/],
  [{ new: {}, operations: [{ op: 'page-remove', id: 's1' }] }, /pages cannot come, go or move/],
  [{ ...RECIPE, pictures: {} }, /“maren” has no picture/],
  [{ ...RECIPE, pictures: { maren: 'nowhere.jpg' } }, /There is no file/],
] as const)('a recipe that cannot be used says what and where, and nothing is written (%#)', (recipe, why) => {
  const { status, err } = compose(recipe, 'out.pptx');
  expect([1, 2]).toContain(status);
  expect(err).toMatch(why);
  expect(existsSync(at('out.pptx'))).toBe(false);
});

test('the recipe of the documents makes what it says', () => {
  const [, json] = /```json\n([\s\S]*?)```/.exec(readFileSync('docs/recipes.md', 'utf8'))!;
  const recipe = { ...(JSON.parse(json!) as object), pictures: { maren: portrait } };
  expect(compose(recipe, 'out.odp')).toMatchObject({ status: 0, err: '' });
  expect(openFile(readFileSync(at('out.odp'))).pictures.map((p) => p.frame.shape.name)).toEqual(['circle']);
});

test('the form of a recipe is served as JSON schema, with every operation', () => {
  const { status, out } = gable('schema');
  expect(status).toBe(0);
  const schema = JSON.parse(out) as { $schema: string; properties: { operations: { items: { oneOf: unknown[] } } } };
  expect(schema.$schema).toBe('https://json-schema.org/draft/2020-12/schema');
  expect(schema.properties.operations.items.oneOf).toHaveLength(8);
});
