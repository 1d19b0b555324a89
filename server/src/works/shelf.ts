import { ShelfQuerySchema, type Shelf, type WorkSummary as SummaryJson } from '@gable/contract';
import { col, fn, Op, type WhereOptions } from 'sequelize';
import { Work, type WorkSummary } from '../db/models';
import { isFolder } from './folders';

/** What a list shows of a work; enough of it is read for that and no more. */
const SHOWN = ['id', 'name', 'revision', 'demo', 'begun', 'summary', 'createdAt', 'updatedAt'] as const;
type Shown = Pick<Work, (typeof SHOWN)[number]>;

const toJson = (w: Shown, { members, ...summary }: WorkSummary, revision = w.revision): SummaryJson => {
  void members;
  return {
    id: w.id,
    name: w.name,
    revision,
    demo: w.demo,
    begun: w.begun ?? null,
    ...summary,
    createdAt: w.createdAt.toISOString(),
    updatedAt: w.updatedAt.toISOString(),
  };
};

export const summarise = (w: Work): SummaryJson => toJson(w, w.summary);

/** A folder in a list: what its works have, numbered through. */
function folderTold(folder: Shown, works: ReadonlyMap<string, Shown>): SummaryJson {
  const members = (folder.summary.members ?? []).flatMap((id) => works.get(id) ?? []);
  let before = 0;
  const faces: number[] = [];
  for (const { summary } of members) {
    faces.push(...summary.faces.map((n) => n + before));
    before += summary.pictures;
  }
  const framed = members.reduce((sum, m) => sum + m.summary.framed, 0);
  const revision = 1 + members.reduce((sum, m) => sum + m.revision, 0);
  return toJson(
    folder,
    { format: 'folder', pictures: before, framed, faces: faces.slice(0, 4), sheetCount: 0 },
    revision,
  );
}

/** What a search for words asks of names: all of them, wherever they stand; signs of patterns are plain signs. */
const named = (words: string): WhereOptions<Work> => ({
  [Op.and]: words
    .split(/\s+/)
    .filter(Boolean)
    .map((w) => ({ name: { [Op.iLike]: `%${w.replace(/[\\%_]/g, '\\$&')}%` } })),
});

/** A page of the works on the shelf, the latest first or by name, and where the next one begins. */
export async function listWorks(query: unknown): Promise<Shelf> {
  const { limit, after, words, order } = ShelfQuerySchema.parse(query);
  const byName = order === 'name';
  const [time, id] = byName ? [] : (after?.split('_') ?? []);
  const at = time === undefined ? null : new Date(Number(time));
  const from = at ? { [Op.or]: [{ updatedAt: { [Op.lt]: at } }, { updatedAt: at, id: { [Op.lt]: id! } }] } : {};
  const skipped = byName ? Number(after ?? 0) || 0 : 0;
  const rows = await Work.findAll({
    attributes: [...SHOWN],
    where: { [Op.and]: [from, named(words)] },
    order: byName
      ? [
          [fn('lower', col('name')), 'ASC'],
          ['id', 'ASC'],
        ]
      : [
          ['updatedAt', 'DESC'],
          ['id', 'DESC'],
        ],
    offset: skipped,
    limit: limit + 1,
  });
  const page = rows.slice(0, limit);
  const last = page.at(-1);
  const next = last && (byName ? String(skipped + limit) : `${last.updatedAt.getTime()}_${last.id}`);
  const wanted = page.flatMap((w) => w.summary.members ?? []);
  const members = wanted.length > 0 ? await Work.findAll({ attributes: [...SHOWN], where: { id: wanted } }) : [];
  const byId = new Map(members.map((w) => [w.id, w]));
  return {
    works: page.map((w) => (isFolder(w) ? folderTold(w, byId) : summarise(w))),
    next: (rows.length > limit && next) || null,
  };
}
