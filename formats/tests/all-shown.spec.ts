/**
 * Nothing is left out without a word: every element of the demo's files and of files of others is drawn, or a plate says what it is.
 * Files of others come with packages that are no part of the product (`mammoth`, and the HTML of whatever ships some), or are written
 * by `pptxgenjs`, `odfpy` and `python-docx`.
 */
import { isPictureItem, itemIdOf, type Item } from '@gable/core';
import { strFromU8, unzipSync } from 'fflate';
import { execFileSync } from 'node:child_process';
import { existsSync, readdirSync, readFileSync, statSync } from 'node:fs';
import path from 'node:path';
import { openFile } from '../src/index';
import { png } from './support/build';
import { attribute, tags, type Tag } from './support/html';

const FOLDERS = ['demo/files', 'formats/tests/fixtures', 'node_modules/mammoth/test/test-data'];
const named = (ending: RegExp): string[] =>
  FOLDERS.flatMap((folder) =>
    readdirSync(folder)
      .filter((name) => ending.test(name))
      .map((name) => path.join(folder, name)),
  );
const count = (text: string, what: RegExp): number => [...text.matchAll(what)].length;
const partsOf = (bytes: Uint8Array, name: RegExp): string =>
  Object.entries(unzipSync(bytes))
    .filter(([part]) => name.test(part))
    .map(([, data]) => strFromU8(data))
    .join('');

describe('documents', () => {
  test.each(named(/\.docx$/))('%s', (name) => {
    const bytes = readFileSync(name);
    const html = openFile(bytes).markup!(1)!;
    const xml = partsOf(bytes, /^word\/(document|header\d*|footer\d*|footnotes|endnotes)\.xml$/);
    const shown = tags(html).filter((e) => /^(inline|float)$/.test(attribute(e, 'class') ?? ''));
    const main = xml.replace(/<mc:Fallback>.*?<\/mc:Fallback>/gs, '');
    expect(shown).toHaveLength(count(main, /<wp:(inline|anchor)[ >]|<w:pict[ >]|<w:object[ >]/g));
    // Those that have no form and no words are plates; a picture is painted over its room.
    for (const e of shown) {
      const filled = e.childNodes.length > 0 || attribute(e, 'data-picture') !== undefined;
      expect(filled).toBe(true);
    }
    expect(tags(html).filter((e) => e.tagName === 'table').length).toBeGreaterThanOrEqual(count(main, /<w:tbl>/g));
  });

  test.each(named(/\.odt$/))('%s', (name) => {
    const bytes = readFileSync(name);
    const html = openFile(bytes).markup!(1)!;
    const xml = partsOf(bytes, /^content\.xml$/);
    const shown = tags(html).filter((e) => /^(inline|float)$/.test(attribute(e, 'class') ?? ''));
    expect(shown.length).toBeGreaterThanOrEqual(count(xml, /<draw:frame[ >]/g));
    expect(tags(html).filter((e) => e.tagName === 'table')).toHaveLength(count(xml, /<table:table[ >]/g));
  });
});

/** Is something of an item on its page: its picture, a paint, a line, words, or a plate? */
function isShown(item: Item): boolean {
  if (isPictureItem(item)) return true;
  if (item.kind === 'foreign') return (item.preview?.length ?? 0) > 0 || (item.look?.outline ?? null) !== null;
  return item.kind === 'framed' && (item.fill !== null || item.outline !== null || item.text !== null);
}

describe('slides', () => {
  const script = (name: string, ...more: string[]): Uint8Array =>
    new Uint8Array(
      execFileSync(process.execPath, [path.join(__dirname, 'support', name), ...more], { maxBuffer: 1e8 }),
    );
  test.each(['open-day-talk.pptx', 'drawn-deck.mjs', 'words-deck.mjs', 'other-deck.mjs', 'write-deck.mjs'])(
    '%s',
    async (name) => {
      const picture = Buffer.from(await png(60, 40)).toString('base64');
      const bytes = name.endsWith('.mjs') ? script(name, picture) : readFileSync(`demo/files/${name}`);
      const { document } = openFile(bytes);
      const xml = partsOf(bytes, /^ppt\/slides\/slide\d+\.xml$/);
      const items = Object.values(document.items).filter((i) => i.kind !== 'group');
      const onSlides = new Set(document.pages.flatMap((p) => p.items));
      for (const i of Object.values(document.items)) if (i.kind === 'group') i.children.forEach((c) => onSlides.add(c));
      const drawn = items.filter((i) => onSlides.has(i.id));
      expect(drawn).toHaveLength(count(xml, /<p:(sp|pic|graphicFrame|cxnSp)>/g));
      // What shows nothing says so: an empty placeholder, a box without fill, line and words.
      const empty = drawn.filter((i) => !isShown(i));
      const silent = [...xml.matchAll(/<p:sp>.*?<\/p:sp>/gs)].filter(
        ([sp]) => !/<a:t>[^<]/.test(sp) && !/<a:(solid|grad|patt)Fill>|<p:style>/.test(sp),
      );
      expect(empty.length).toBeLessThanOrEqual(silent.length);
    },
  );

  test.each(named(/\.(odp|odg)$/))('%s', (name) => {
    const bytes = readFileSync(name);
    const { document, pictures } = openFile(bytes);
    const drawn = Object.values(document.items).filter((i) => i.kind !== 'group');
    const xml = partsOf(bytes, /^content\.xml$/);
    expect(drawn.length).toBeGreaterThanOrEqual(
      count(xml, /<draw:(frame|custom-shape|rect|circle|ellipse|line|connector|path|polygon|polyline)[ >]/g),
    );
    expect(drawn.filter((i) => !isShown(i))).toEqual([]);
    for (const p of pictures) expect(document.items[itemIdOf(p)]).toBeDefined();
  });
});

/** Pages of packages, whatever they are for. */
function pagesIn(folder: string, depth = 6): string[] {
  if (depth === 0 || !existsSync(folder)) return [];
  return readdirSync(folder, { withFileTypes: true }).flatMap((e) => {
    const name = path.join(folder, e.name);
    if (e.isDirectory()) return e.name === '.bin' ? [] : pagesIn(name, depth - 1);
    return e.isFile() && e.name.endsWith('.html') && statSync(name).size < 400_000 ? [name] : [];
  });
}

describe('web pages', () => {
  const pages = pagesIn('node_modules').sort().slice(0, 40);
  test('there are enough of others', () => {
    expect(pages.length + named(/\.(docx|odt|odp|odg)$/).length + 4).toBeGreaterThanOrEqual(50);
  });

  // What runs, leads elsewhere or stands for scripts is not seen; other things keep their places, or their room.
  const UNSEEN = new Set([
    'script',
    'base',
    'noscript',
    'template',
    'meta',
    'link',
    'style',
    'source',
    'track',
    'param',
  ]);
  const ROOM = new Set(['iframe', 'embed', 'object', 'video', 'canvas']);
  const inRoom = (e: Tag): boolean => {
    for (let at = e.parentNode; at && 'tagName' in at; at = at.parentNode)
      if (ROOM.has(at.tagName) || at.tagName === 'noscript') return true;
    return false;
  };
  test.each(pages)('%s', (name) => {
    const bytes = readFileSync(name);
    const text = bytes.toString('utf8');
    if (
      !/^\s*(<\?xml[^>]*>\s*)?(<!--[\s\S]*?-->\s*)*<(!doctype\s+html|html|head|body|meta|title)\b/i.test(
        text.slice(0, 2048),
      )
    )
      return;
    const seen = (html: string): Map<string, number> => {
      const out = new Map<string, number>();
      for (const e of tags(html)) {
        if (UNSEEN.has(e.tagName) || inRoom(e)) continue;
        const kind = ROOM.has(e.tagName) ? 'room' : e.tagName;
        out.set(kind, (out.get(kind) ?? 0) + 1);
      }
      return out;
    };
    const markup = openFile(bytes).markup!(1)!;
    expect(seen(markup)).toEqual(seen(text));
    const rooms = tags(markup).filter((e) => ROOM.has(e.tagName));
    for (const e of rooms) expect(attribute(e, 'data-plate')).toBeTruthy();
  });
});
