import { noPageLeft, type PagePlan } from '../codec/contract';
import { child, type Element } from '../xml/located';
import { escapeXml, Splice } from '../xml/splice';
import type { Splices } from '../xml/splices';
import type { Archive } from '../zip/reader';
import { spliceArchive } from '../zip/writer';
import { MANIFEST } from './additions';
import { is, Names } from './names';

/** A presentation or a drawing, with what its pages may be named and shown by. */
export interface PagedFile {
  archive: Archive;
  splices: Splices;
  /** `office:presentation` or `office:drawing`, and the text of the content. */
  body: Element;
  text: string;
  /** The text of the styles, which may show the same pictures. */
  common: string;
  manifest: Element | undefined;
}

/**
 * Puts the pages of a presentation or a drawing into another order, copies some, makes empty ones like others, and takes out
 * those that are not planned, with the data that only they show (ODF 1.2 Part 1 §10.2.4, draw:page). Links to a page that is
 * gone go, and shows are without it.
 */
export function arrangePages(file: PagedFile, plan: readonly PagePlan[]): Uint8Array {
  if (plan.length === 0) throw noPageLeft();
  const { archive, splices, body, text } = file;
  const pages = body.children.filter((e) => is(e, 'draw', 'page'));
  const stays = new Set(plan.filter((p) => p.as === 'itself').map((p) => p.page - 1));
  const gone = pages.filter((_, i) => !stays.has(i));
  const names = new FreeNames(pages);
  const after = plan.map(({ page, as }): string => {
    const like = pages[page - 1]!;
    if (as === 'itself') return text.slice(like.start, like.end);
    return as === 'copy' ? copyOf(text, like, names) : blankLike(text, like, names);
  });
  const splice = splices.of('content.xml');
  if (after.join('') !== pages.map((p) => text.slice(p.start, p.end)).join('')) {
    const pieces = gone.length > 0 ? unlinked(pages, gone, after, plan) : after;
    for (const [i, page] of pages.entries()) splice.replace(page, i === 0 ? pieces.join('') : '');
    withoutInShows(splice, body, gone);
    return spliceArchive(archive, ...withoutData(file, gone, pieces.join('')));
  }
  return spliceArchive(archive, splices.changed());
}

const nameOf = (page: Element): string | undefined => new Names(page).get(page, 'draw:name');

/** Names that no page has. */
class FreeNames {
  private readonly taken: Set<string | undefined>;
  private count = 0;

  constructor(pages: readonly Element[]) {
    this.taken = new Set(pages.map(nameOf));
  }

  of(name: string): string {
    let i = 2;
    while (this.taken.has(`${name} (${i})`)) i++;
    this.taken.add(`${name} (${i})`);
    return `${name} (${i})`;
  }

  /** Something that no id of the file ends with. */
  suffix(text: string): string {
    do this.count++;
    while (text.includes(`-copy${this.count}"`));
    return `-copy${this.count}`;
  }
}

/** Attributes by which things of a page are named, and by which others of it refer to them. */
const NAMING = /(\s[\w.-]+:(?:id|targetElement|start-shape|end-shape)\s*=\s*)("[^"]*"|'[^']*')/g;

function copyOf(text: string, page: Element, names: FreeNames): string {
  const source = text.slice(page.start, page.end);
  const suffix = names.suffix(text);
  const own = source.replace(NAMING, (_, before: string, value: string) => {
    const quote = value[0]!;
    return `${before}${quote}${value.slice(1, -1)}${suffix}${quote}`;
  });
  return renamed(own, page, names);
}

/** A page's text with a name of its own. */
function renamed(source: string, page: Element, names: FreeNames): string {
  const name = nameOf(page);
  if (name === undefined) return source;
  const attribute = new Names(page).of('draw:name');
  const end = source.indexOf('>');
  const tag = source
    .slice(0, end)
    .replace(
      new RegExp(`(\\s${attribute}\\s*=\\s*)("[^"]*"|'[^']*')`),
      (_, before: string) => `${before}"${escapeXml(names.of(name))}"`,
    );
  return tag + source.slice(end);
}

/** What a page's layout gives room for; all else on a page is its own. */
const ROOMS = new Set(['title', 'subtitle', 'outline', 'text', 'graphic']);

/** The frames of a page's layout, empty (ODF 1.2 Part 1, presentation:class and presentation:placeholder). */
function emptyRooms(text: string, page: Element): string {
  const frames = page.children.filter(
    (e) => is(e, 'draw', 'frame') && ROOMS.has(new Names(e).get(e, 'presentation:class') ?? ''),
  );
  return frames
    .map((frame) => {
      const n = new Names(frame);
      const awaits = n.of('presentation:placeholder');
      const tag = text
        .slice(frame.start, frame.openEnd)
        .replace(/\s*\/?>$/, '')
        .replace(NAMING, '')
        .replace(new RegExp(`\\s${awaits}\\s*=\\s*("[^"]*"|'[^']*')`), '');
      return `${tag} ${awaits}="true"><${n.of('draw:text-box')}/></${frame.name}>`;
    })
    .join('');
}

/** A page of the same master and layout, with nothing in it. */
function blankLike(text: string, page: Element, names: FreeNames): string {
  const n = new Names(page);
  const kept = ['draw:style-name', 'draw:master-page-name', 'presentation:presentation-page-layout-name'].flatMap(
    (key) => {
      const value = n.get(page, key);
      return value === undefined ? [] : [` ${n.of(key)}="${escapeXml(value)}"`];
    },
  );
  const name = nameOf(page);
  const own = name === undefined ? '' : ` ${n.of('draw:name')}="${escapeXml(names.of(name))}"`;
  const inner = emptyRooms(text, page);
  return `<${page.name}${own}${kept.join('')}${inner ? `>${inner}</${page.name}>` : '/>'}`;
}

/** Pages without links to those that are gone: what was linked stays. */
function unlinked(
  pages: readonly Element[],
  gone: readonly Element[],
  after: readonly string[],
  plan: readonly PagePlan[],
): string[] {
  const lost = new Set(gone.flatMap((p) => nameOf(p) ?? []));
  return after.map((source, i) => {
    if (plan[i]!.as !== 'itself') return source;
    const page = pages[plan[i]!.page - 1]!;
    // Counted within the page: its text is taken along as it is.
    const splice = new Splice(' '.repeat(page.start) + source);
    const visit = (e: Element): void => {
      const href = new Names(e).get(e, 'xlink:href');
      const named = href?.startsWith('#') && lost.has(decoded(href.slice(1)));
      if (named && is(e, 'presentation', 'event-listener')) splice.replace(e, '');
      else {
        if (named && (is(e, 'text', 'a') || is(e, 'draw', 'a'))) splice.retag(e, '', '');
        e.children.forEach(visit);
      }
    };
    visit(page);
    return splice.empty ? source : splice.apply().slice(page.start);
  });
}

function decoded(text: string): string {
  try {
    return decodeURIComponent(text);
  } catch {
    return text;
  }
}

/** Shows of some pages (§10.9.1, presentation:show), and the page that a show begins with, without those that are gone. */
function withoutInShows(splice: Splice, body: Element, gone: readonly Element[]): void {
  const lost = new Set(gone.flatMap((p) => nameOf(p) ?? []));
  const settings = child(body, 'settings');
  if (!settings || lost.size === 0) return;
  const n = new Names(settings);
  const first = n.get(settings, 'presentation:start-page');
  if (first !== undefined && lost.has(first)) splice.attribute(settings, n.of('presentation:start-page'), null);
  for (const show of settings.children) {
    const names = new Names(show);
    const listed = names.get(show, 'presentation:pages')?.split(',') ?? [];
    const left = listed.filter((name) => !lost.has(name.trim()));
    if (left.length < listed.length) splice.attribute(show, names.of('presentation:pages'), left.join(','));
  }
}

/** Data that only pages which are gone refer to: they go, with their lines in the manifest. */
function withoutData(
  { archive, splices, body, text, common, manifest }: PagedFile,
  gone: readonly Element[],
  pages: string,
): [ReadonlyMap<string, Uint8Array>, ReadonlyMap<string, Uint8Array>, ReadonlySet<string>] {
  const around = text.slice(0, body.start) + pages + text.slice(body.end) + common;
  const shown = gone.flatMap((p) =>
    [...text.slice(p.start, p.end).matchAll(/\bhref\s*=\s*"(?:\.\/)?([^"#:]+)"/g)].map((m) => m[1]!),
  );
  const unused = [...new Set(shown)].filter((h) => !around.includes(`"${h}"`) && !around.includes(`"./${h}"`));
  const goes = (name: string): boolean => unused.some((h) => name === decoded(h) || name.startsWith(`${decoded(h)}/`));
  for (const entry of manifest?.children ?? []) {
    const path = new Names(entry).get(entry, 'manifest:full-path');
    if (path !== undefined && goes(path)) splices.of(MANIFEST).replace(entry, '');
  }
  return [splices.changed(), new Map(), new Set(archive.entries.map((e) => e.name).filter(goes))];
}
