import type { NewWorkSchema } from '@gable/contract';
import {
  applyAll,
  frameOfItem,
  GableError,
  isPictureItem,
  marginOf,
  parseColour,
  parsePage,
  spreading,
  SPREADS,
  withFrame,
  type Document,
  type Operation,
  type PictureItem,
} from '@gable/core';
import { BLANKS, type Format } from '@gable/formats';
import { randomUUID } from 'node:crypto';
import type { z } from 'zod';
import type { AppContext } from '../context';
import { Work } from '../db/models';
import { findWork } from './find';
import { append } from './log';
import { createWork } from './open';
import { documentOf } from './state';

type Wish = z.output<typeof NewWorkSchema>;

/** What each is called, and the kind of file that it is worked on in: one whose pages hold pictures anywhere. */
const KINDS: Record<Wish['kind'], { name: string; format: Format }> = {
  paper: { name: 'New pages', format: 'odg' },
  slides: { name: 'New slides', format: 'pptx' },
  graphic: { name: 'New graphic', format: 'svg' },
  web: { name: 'New web page.html', format: 'html' },
};

/** A work of one page: empty, or with the pictures of another. @throws GableError `bad-size`, `bad-colour`, `has-file`, `no-pictures` */
export async function newWork(context: AppContext, { kind, page, ground, name, of }: Wish): Promise<Work> {
  const { name: usual, format } = KINDS[kind];
  const row = of === undefined ? null : await rowOf(of);
  const made = BLANKS[format]!({ size: parsePage(page), ground: ground === null ? null : parseColour(ground) });
  const begun = kind === 'web' ? null : kind;
  const work = await createWork(context, Buffer.from(made), name ?? row?.name ?? usual, { begun });
  if (!row) return work;
  try {
    return await withPictures(context, work.id, row.pictures);
  } catch (error) {
    await work.destroy();
    throw error;
  }
}

/** The pictures of a work that has no page, as they are framed; empty frames have none. */
async function rowOf(id: string): Promise<{ name: string; pictures: PictureItem[] }> {
  const row = await findWork(id);
  if (row.opened.format !== 'pictures')
    throw new GableError('has-file', 'The pictures of this work are on pages already.', 'Add pages to it instead.');
  const pictures = Object.values(documentOf(row).items)
    .filter(isPictureItem)
    .filter((p) => p.fill.source.from === 'kept');
  if (pictures.length === 0)
    throw new GableError('no-pictures', 'All frames of this work are empty.', 'Put a picture into one of them first.');
  return { name: row.name, pictures };
}

/** Puts pictures on the one page of a work, all as large as it has room for them side by side. */
function withPictures(context: AppContext, id: string, pictures: readonly PictureItem[]): Promise<Work> {
  return context.sequelize.transaction(async (transaction) => {
    const work = await Work.findByPk(id, { transaction, lock: true, rejectOnEmpty: true });
    const document = documentOf(work);
    const page = document.pages[0]!;
    const put = pictures.map((item, index): Operation & { op: 'add' } => ({
      op: 'add',
      item: { ...item, at: { on: 'page', box: item.at.box } },
      slot: { in: { page: page.id }, index },
    }));
    const items = spread(applyAll(document, put).document, pictures);
    const operations = put.map((o, i): Operation => ({ ...o, item: items[i]! }));
    await append(context, work, [{ id: randomUUID(), name: 'pictures on a page', operations }], transaction);
    return work;
  });
}

/** Pictures of a page, each as it is to lie on it. */
function spread(document: Document, pictures: readonly PictureItem[]): PictureItem[] {
  const page = document.pages[0]!;
  const framed = new Map(
    pictures.map(({ id, fill }, i) => {
      const item = document.items[id] as PictureItem;
      return [id, { item, frame: frameOfItem(item, i + 1), size: fill.source.size }] as const;
    }),
  );
  const margin = marginOf(page);
  const { frames } = spreading(document, page, {
    spread: SPREADS.find((s) => s.name === 'justified')!,
    ...{ gap: margin / 2, margin, pictures: framed, titles: null, newId: randomUUID },
  });
  return [...framed].map(([id, { item, frame, size }]) => withFrame(item, frames.get(id) ?? frame, size));
}
