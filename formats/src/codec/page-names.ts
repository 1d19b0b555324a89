import { documentOfPictures, type Document, type ItemId, type PageItem } from '@gable/core';
import type { Sheet, Source } from './contract';
import { renamed } from './known';
import { stayingAs } from './staying';

/** A page under the name that it has wherever it stands; what lies on it is named after that, and not after its place. */
export function calledSheet(sheet: Sheet, place: number, id: string): Sheet {
  if (id === `page${place}`) return sheet;
  const own = id.replace(/^page/, '');
  const called = (item: ItemId): ItemId =>
    item.replace(/^([a-z]+)(\d+)-/, (as, kind: string, at: string) => (Number(at) === place ? `${kind}${own}-` : as));
  const items = sheet.items.map((item): PageItem => {
    if ('picture' in item) return item;
    const tied = item.tie ? { ...item, tie: { ...item.tie, to: called(item.tie.to) } } : item;
    return tied.kind === 'group'
      ? { ...tied, id: called(item.id), children: tied.children.map(called) }
      : { ...tied, id: called(item.id) };
  });
  return { ...sheet, id, items, ...stayingAs(sheet, called) };
}

/**
 * A file whose pages, and what lies on them, are called as before its pages came, went or moved.
 * @param pages what they are called, in their order
 */
export function withPageNames(file: Source, pages: readonly string[]): Source {
  const own = file.sheets.map((s, i) => s.id ?? `page${i + 1}`);
  if (own.length !== pages.length || own.every((id, i) => id === pages[i])) return file;
  const sheets = file.sheets.map((s, i) => calledSheet(s, i + 1, pages[i]!));
  const names = new Map(own.map((id, i) => [id, pages[i]!]));
  for (const [i, { items }] of file.sheets.entries())
    for (const [j, item] of items.entries()) {
      const called = sheets[i]!.items[j]!;
      if (!('picture' in item) && !('picture' in called)) names.set(item.id, called.id);
    }
  const back = new Map([...names].map(([id, called]) => [called, id]));
  const inFile = (id: ItemId): ItemId => back.get(id) ?? id;
  const toFile = (document: Document): Document => {
    const out = renamed(document, inFile, (item) => item);
    return { ...out, pages: out.pages.map((page) => ({ ...page, id: inFile(page.id) })) };
  };
  let document: Document | null = null;
  const source: Source = {
    ...file,
    sheets,
    get document() {
      return (document ??= documentOfPictures(file.pictures, source));
    },
    ...(file.backdrop && {
      backdrop: (page: number, as?: Document) => file.backdrop!(page, as && toFile(as)),
    }),
    ...(file.likeness && { likeness: (id: ItemId) => file.likeness!(inFile(id)) }),
    write: (next, images) => file.write(toFile(next), images),
    arranged: (next, images) => file.arranged(toFile(next), images),
    fidelity: (next) => file.fidelity(toFile(next)),
  };
  return source;
}
