import { writeDataUrl } from '../codec/data-url';
import { holds } from '../css/media-queries';
import { WINDOW } from '../css/values';
import { type Archive, type Entry, readEntry } from '../zip/reader';
import { entryName, wordsOfStyle } from './find';
import { elements, MARK, type Page } from './page-source';
import { attributesOf, type Tag } from './tree';

/** What lies beside a page is read up to this size, in bytes. */
const MAX_BESIDE_BYTES = 4 * 1024 * 1024;
/** A picture or font behind a page is put in up to this size, in bytes. */
const MAX_EMBEDDED_BYTES = 1024 * 1024;
/** Sheets that bring in sheets are followed so far. */
const MAX_DEPTH = 5;
const MEDIA_TYPES: Readonly<Record<string, string>> = {
  png: 'image/png',
  jpg: 'image/jpeg',
  jpeg: 'image/jpeg',
  gif: 'image/gif',
  webp: 'image/webp',
  avif: 'image/avif',
  svg: 'image/svg+xml',
  woff2: 'font/woff2',
  woff: 'font/woff',
  ttf: 'font/ttf',
  otf: 'font/otf',
};

/** The folder that a page lies in; a page alone has none. */
export interface Folder {
  archive: Archive | null;
  entries: ReadonlyMap<string, Entry>;
}

/** Something in a folder, with the name it has there. */
interface Beside {
  name: string;
  bytes: Uint8Array;
}

/** What an address in the page, or the sheet, `from` leads to; null for what is not there, is too large or damaged. */
function besideOf(from: string, address: string, { archive, entries }: Folder): Beside | null {
  const name = entryName(from, address) ?? '';
  const entry = entries.get(name);
  if (!archive || !entry || entry.size > MAX_BESIDE_BYTES) return null;
  try {
    return { name, bytes: readEntry(archive, entry) };
  } catch {
    return null;
  }
}

/** `@import` with what it asks of the window (CSS Cascade 5 §2); one that asks for a layer or more is left as it is. */
const IMPORT = /@import\s+(?:url\(\s*)?(["']?)([^"')\s;]+)\1\s*\)?\s*([^;]*);/gi;

/** A sheet with those that it brings in, in their places. */
export function withImports(css: string, from: string, folder: Folder, depth = 0): { css: string; from: string }[] {
  if (depth === MAX_DEPTH || !/@import/i.test(css)) return [{ css, from }];
  const out: { css: string; from: string }[] = [];
  const rest = css.replace(IMPORT, (whole, _quote: string, address: string, asked: string) => {
    const sheet = /^(layer|supports)\b/i.test(asked) ? null : besideOf(from, address, folder);
    if (!sheet) return whole;
    const media = asked.trim();
    for (const part of withImports(new TextDecoder().decode(sheet.bytes), sheet.name, folder, depth + 1))
      out.push(media === '' ? part : { ...part, css: `@media ${media}{${part.css}}` });
    return '';
  });
  return [...out, { css: rest, from }];
}

/** The sheet that a link leads to, with those it brings in; empty where it leads to none. */
export function linkedSheet(link: Tag, page: Page, folder: Folder): { css: string; from: string }[] {
  const a = attributesOf(link);
  const rel = (a['rel'] ?? '').toLowerCase().split(/\s+/);
  if (!rel.includes('stylesheet') || rel.includes('alternate') || 'disabled' in a) return [];
  // A damaged style sheet leaves its page without those rules.
  const sheet = besideOf(page.name, a['href'] ?? '', folder);
  return sheet ? withImports(new TextDecoder().decode(sheet.bytes), sheet.name, folder) : [];
}

/** Style sheets in the page, and those beside it in the folder, in their order. */
export function sheetsOf(page: Page, folder: Folder): string[] {
  const place = (e: Tag): number => e.sourceCodeLocation?.startOffset ?? 0;
  const all = [...elements(page.tree, 'link'), ...elements(page.tree, 'style')].sort((a, b) => place(a) - place(b));
  return all.flatMap((e) => {
    const a = attributesOf(e);
    if (MARK in a || !holds(a['media'])) return [];
    const sheets =
      e.tagName === 'style' ? withImports(wordsOfStyle(e), page.name, folder) : linkedSheet(e, page, folder);
    return sheets.map(({ css }) => css);
  });
}

/** Lengths by the height of the window, `vh` and its like, and by its lesser and greater side (CSS Values 4 §6.1.2). */
const BY_HEIGHT = /(?<![\w#.-])(\d*\.?\d+)[sld]?(vh|vb|vmin|vmax)\b/gi;
const SHARES = { vh: WINDOW.height, vb: WINDOW.height, vmin: WINDOW.height, vmax: WINDOW.width } as const;
/** What asks how high the window is. */
const ASKS_HEIGHT = /@media\s([^{;]*\b(?:height|orientation|aspect-ratio)\b[^{;]*)\{/gi;

/**
 * Styles as they need nothing else: with the pictures and fonts of their folder in them (CSS Values 4 §4.5, url), and as high a
 * window as pages are read for, since a page is shown whole in a higher one. They cannot end their own element.
 */
export const selfContained = (css: string, from: string, folder: Folder): string =>
  css
    .replace(ASKS_HEIGHT, (_, query: string) => `@media ${holds(query) ? 'all' : 'not all'}{`)
    .replace(
      BY_HEIGHT,
      (_, share: string, unit: string) =>
        `${(Number(share) / 100) * SHARES[unit.toLowerCase() as keyof typeof SHARES]}px`,
    )
    .replace(/<\/(?=style)/gi, '<\\/')
    .replace(/url\(\s*(["']?)([^"')]+)\1\s*\)/gi, (whole, _quote: string, address: string) => {
      const url = dataUrlOf(address, from, folder);
      return url ? `url("${url}")` : whole;
    });

/** What lies beside a page as its data; null for what is not there or is no picture or font. */
export function dataUrlOf(address: string, from: string, folder: Folder): string | null {
  const type = MEDIA_TYPES[/\.(\w+)(?:[?#].*)?$/.exec(address)?.[1]?.toLowerCase() ?? ''];
  const beside = type ? besideOf(from, address, folder) : null;
  return beside && beside.bytes.length <= MAX_EMBEDDED_BYTES ? writeDataUrl(beside.bytes, type!) : null;
}
