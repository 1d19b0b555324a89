/**
 * Slides that come, go and change their places. Decks are the demo's and one that `pptxgenjs` wrote, with notes, a chart and a
 * table; what comes of it is read by `pptxtojson`. Links, sections and shows by ISO/IEC 29500-1 §19.2 and [MS-PPTX] §2.6.5.
 */
import fc from 'fast-check';
import { strFromU8, strToU8, unzipSync, zipSync } from 'fflate';
import { execFileSync } from 'node:child_process';
import { readFileSync } from 'node:fs';
import path from 'node:path';
import { parse } from 'pptxtojson';
import { openFile, type PagePlan } from '../src/index';
import { png } from './support/build';
import { buildDeck, slidePic, PLACED } from './support/deck';

const talk = new Uint8Array(readFileSync('demo/files/open-day-talk.pptx'));
let other: Uint8Array;
beforeAll(async () => {
  const script = path.join(__dirname, 'support/other-deck.mjs');
  const picture = Buffer.from(await png(30, 20)).toString('base64');
  other = new Uint8Array(execFileSync(process.execPath, [script, picture], { maxBuffer: 10e6 }));
});

const itself = (page: number): PagePlan => ({ page, as: 'itself' });
const parts = (bytes: Uint8Array): Record<string, string> =>
  Object.fromEntries(
    Object.entries(unzipSync(bytes)).map(([name, data]) => [name, Buffer.from(data).toString('latin1')]),
  );
const folderOf = (name: string): string => name.slice(0, name.lastIndexOf('/') + 1);

/** Every relationship leads to a part that is there, every part has a content type, and all that is named is there. */
function expectWhole(bytes: Uint8Array): void {
  const all = parts(bytes);
  const names = new Set(Object.keys(all));
  const types = all['[Content_Types].xml']!;
  for (const [, part] of types.matchAll(/PartName="\/([^"]*)"/g)) expect(names).toContain(part);
  for (const [name, text] of Object.entries(all)) {
    if (!name.endsWith('.rels')) continue;
    const owner = folderOf(name).replace(/_rels\/$/, '');
    const of = owner + name.slice(folderOf(name).length, -5);
    const ids = [...text.matchAll(/<Relationship\b[^>]*>/g)].map(([r]) => {
      const of = (key: string): string => new RegExp(`\\b${key}="([^"]*)"`).exec(r)?.[1] ?? '';
      if (of('TargetMode') !== 'External') {
        const target = new URL(of('Target'), `http://x/${owner}`).pathname.slice(1);
        expect([name, [...names].some((n) => n === decodeURIComponent(target))]).toEqual([name, true]);
      }
      return of('Id');
    });
    expect(new Set(ids).size).toBe(ids.length);
    // What a part names of its relationships is there.
    for (const [, id] of (all[of] ?? '').matchAll(/\br:(?:id|embed|link|pict)="([^"]+)"/g)) expect(ids).toContain(id);
  }
  const slides = [...all['ppt/presentation.xml']!.matchAll(/<p:sldId\b[^>]*\bid="(\d+)"/g)].map((m) => m[1]);
  expect(new Set(slides).size).toBe(slides.length);
}

const planned = (bytes: Uint8Array, plan: readonly PagePlan[]): Uint8Array => openFile(bytes).withPages!(plan).bytes;
const wordsOf = async (bytes: Uint8Array): Promise<string[]> =>
  (await parse(bytes.slice().buffer)).slides.map((s) => JSON.stringify(s.elements.map((e) => [e.type, e.left, e.top])));

/** The texts of slides in the order of the deck (§19.2.1.34, sldIdLst), by hand. */
function inOrder(bytes: Uint8Array): (string | undefined)[] {
  const all = parts(bytes);
  const target = (id: string): string =>
    [...all['ppt/_rels/presentation.xml.rels']!.matchAll(/<Relationship\b[^>]*>/g)]
      .map(([r]) => r)
      .find((r) => r.includes(`Id="${id}"`))!
      .replace(/.*Target="(\/ppt\/)?([^"]*)".*/, '$2');
  return [...all['ppt/presentation.xml']!.matchAll(/<p:sldId\b[^>]*\br:id="([^"]*)"/g)].map(
    (m) => all[`ppt/${target(m[1]!)}`],
  );
}

test('slides in another order, one less and one twice, as another program reads them', async () => {
  const before = await wordsOf(talk);
  const file = openFile(talk);
  const plan: PagePlan[] = [
    itself(3),
    itself(1),
    { page: 3, as: 'copy' },
    ...file.sheets.slice(3).map((_, i) => itself(i + 4)),
  ];
  const { bytes, order } = file.withPages!(plan);
  expectWhole(bytes);
  const wanted = [2, 0, 2, ...before.slice(3).map((_, i) => i + 3)];
  const texts = inOrder(talk);
  expect(inOrder(bytes)).toEqual(wanted.map((i) => texts[i]));
  // The other program has them in the order of their names.
  expect((await wordsOf(bytes)).sort()).toEqual(wanted.map((i) => before[i]).sort());
  // The names of pictures follow them, and those of the copy are new.
  const now = openFile(bytes);
  expect(order).toHaveLength(now.pictures.length);
  const frames = new Map(file.pictures.map((p) => [`p${p.n}`, p.frame.box]));
  for (const [i, id] of order.entries()) if (id !== null) expect(now.pictures[i]!.frame.box).toEqual(frames.get(id));
  expect(order.filter((id) => id === null)).toHaveLength(file.pictures.filter((p) => p.where.page === 3).length);
});

test('what only a slide has goes with it; all others are byte for byte as they were', async () => {
  const after = planned(
    talk,
    openFile(talk)
      .sheets.slice(1)
      .map((_, i) => itself(i + 2)),
  );
  expectWhole(after);
  const [was, is] = [unzipSync(talk), unzipSync(after)];
  const lost = Object.keys(was).filter((name) => !is[name]);
  expect(lost).toContain('ppt/slides/slide1.xml');
  expect(lost.every((name) => !/slideLayout|slideMaster|theme|slide[2-9]/.test(name))).toBe(true);
  const touched = Object.keys(is).filter((name) => Buffer.compare(is[name]!, was[name] ?? Buffer.alloc(0)) !== 0);
  expect(touched.sort()).toEqual(['[Content_Types].xml', 'ppt/_rels/presentation.xml.rels', 'ppt/presentation.xml']);
});

test('as they are, they give the very same file', () => {
  const plan = openFile(talk).sheets.map((_, i) => itself(i + 1));
  expect(Buffer.compare(planned(talk, plan), talk)).toBe(0);
});

test('notes and a chart are copied with their slide', async () => {
  const twice = planned(other, [itself(1), { page: 1, as: 'copy' }]);
  expectWhole(twice);
  const [a, b] = await wordsOf(twice);
  expect(a).toBe(b);
  const all = parts(twice);
  const charts = Object.keys(all).filter((n) => /charts\/chart[^/]*\.xml$/.test(n));
  expect(charts).toHaveLength(2 * Object.keys(parts(other)).filter((n) => /charts\/chart[^/]*\.xml$/.test(n)).length);
  const notes = Object.keys(all).filter((n) => /notesSlides\/_rels\/.*\.rels$/.test(n));
  expect(notes).toHaveLength(2);
  // The notes of the copy belong to the copy.
  const targets = notes.map((n) => /slides\/slide\d+\.xml/.exec(all[n]!)![0]);
  expect(new Set(targets).size).toBe(2);
});

test('an empty slide has the placeholders of its layout', async () => {
  const place =
    '<p:sp><p:nvSpPr><p:cNvPr id="2" name="Portrait"/><p:cNvSpPr/><p:nvPr><p:ph type="pic" idx="13"/></p:nvPr></p:nvSpPr><p:spPr><a:xfrm><a:off x="914400" y="914400"/><a:ext cx="1828800" cy="2743200"/></a:xfrm></p:spPr></p:sp><p:sp><p:nvSpPr><p:cNvPr id="3" name="Date"/><p:cNvSpPr/><p:nvPr><p:ph type="dt"/></p:nvPr></p:nvSpPr><p:spPr/></p:sp>';
  const deck = await buildDeck([slidePic(PLACED)], place);
  const after = planned(deck, [itself(1), { page: 1, as: 'blank' }]);
  expectWhole(after);
  const file = openFile(after);
  const items = file.document.pages[1]!.items.map((id) => file.document.items[id]!);
  expect(items).toMatchObject([{ awaits: 'picture', at: { box: { x: 72, y: 72, width: 144, height: 216 } } }]);
  expect(file.pictures.map((p) => p.where.page)).toEqual([1]);
});

test('links, shows and sections let go of a slide that is gone', async () => {
  const link =
    '<p:sp><p:nvSpPr><p:cNvPr id="9" name="Link"><a:hlinkClick r:id="jump" action="ppaction://hlinksldjump"/></p:cNvPr><p:cNvSpPr/><p:nvPr/></p:nvSpPr><p:spPr/></p:sp>';
  const files = unzipSync(await buildDeck([slidePic(PLACED), link, slidePic(PLACED)]));
  const change = (name: string, how: (text: string) => string): void => {
    files[name] = strToU8(how(strFromU8(files[name]!)));
  };
  // The first slide of three is slide3.xml.
  const type = 'http://schemas.openxmlformats.org/officeDocument/2006/relationships/slide';
  change('ppt/slides/_rels/slide2.xml.rels', (t) =>
    t.replace('</Relationships>', `<Relationship Id="jump" Type="${type}" Target="slide3.xml"/></Relationships>`),
  );
  const p14 = 'http://schemas.microsoft.com/office/powerpoint/2010/main';
  const sections = `<p:custShowLst><p:custShow name="Short" id="0"><p:sldLst><p:sld r:id="s0"/><p:sld r:id="s2"/></p:sldLst></p:custShow></p:custShowLst><p:extLst><p:ext uri="{521415D9-36F7-43E2-AB2F-B90AF26B5E84}"><p14:sectionLst xmlns:p14="${p14}"><p14:section name="One" id="{1}"><p14:sldIdLst><p14:sldId id="300"/><p14:sldId id="301"/></p14:sldIdLst></p14:section><p14:section name="Two" id="{2}"><p14:sldIdLst><p14:sldId id="302"/></p14:sldIdLst></p14:section></p14:sectionLst></p:ext></p:extLst>`;
  change('ppt/presentation.xml', (t) => t.replace('</p:presentation>', `${sections}</p:presentation>`));
  const deck = zipSync(files);
  const without = planned(deck, [itself(2), { page: 2, as: 'copy' }, itself(3)]);
  expectWhole(without);
  const all = parts(without);
  expect(all['ppt/slides/slide2.xml']).not.toContain('hlinkClick');
  expect(all['ppt/presentation.xml']).toContain('<p:sldLst><p:sld r:id="s2"/></p:sldLst>');
  expect(all['ppt/presentation.xml']).toMatch(
    /name="One" id="\{1\}"><p14:sldIdLst><p14:sldId id="301"\/><p14:sldId id="303"\/><\/p14:sldIdLst>.*name="Two" id="\{2\}"><p14:sldIdLst><p14:sldId id="302"\/>/,
  );
  // Across sections, each goes into that of the one before it.
  const turned = parts(planned(deck, [itself(3), itself(1), itself(2)]))['ppt/presentation.xml'];
  expect(turned).toMatch(
    /id="\{1\}"><p14:sldIdLst><\/p14:sldIdLst>.*id="\{2\}"><p14:sldIdLst><p14:sldId id="302"\/><p14:sldId id="300"\/><p14:sldId id="301"\/>/,
  );
});

test('no slide left, or one that is not there, is refused', () => {
  expect(() => planned(talk, [])).toThrow('one page at least');
  expect(() => planned(talk, [itself(99)])).toThrow('no page 99');
});

test('any plan gives a whole deck with the pictures that were planned', () => {
  const file = openFile(talk);
  const count = file.sheets.length;
  const step = fc.record({ page: fc.integer({ min: 1, max: count }), as: fc.constantFrom('itself', 'copy', 'blank') });
  fc.assert(
    fc.property(fc.array(step as fc.Arbitrary<PagePlan>, { minLength: 1, maxLength: 8 }), (steps) => {
      // A slide is in a deck once; what comes again is a copy.
      const seen = new Set<number>();
      const plan = steps.map((s): PagePlan => {
        if (s.as !== 'itself' || !seen.has(s.page)) {
          if (s.as === 'itself') seen.add(s.page);
          return s;
        }
        return { ...s, as: 'copy' };
      });
      const { bytes, order } = openFile(talk).withPages!(plan);
      expectWhole(bytes);
      const now = openFile(bytes);
      expect(now.sheets).toHaveLength(plan.length);
      expect(now.pictures).toHaveLength(order.length);
    }),
    { numRuns: 25 },
  );
});
