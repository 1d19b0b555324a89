import {
  deriveView,
  effectivePpi,
  mendEach,
  shapeOf,
  type Finding,
  type Frame,
  type PictureFacts,
  type Size,
} from '@gable/core';
import type { WorkPicture } from '@gable/contract';
import { withoutKind } from '../intake/files';
import { notes, pageMark, placeWords, type Note } from '../work/wording';

/** One frame of the work with its findings and figures. */
export interface Row {
  n: number;
  picture: WorkPicture;
  frame: Frame;
  size: Size;
  /** What the painter knows its picture by. */
  key: string;
  facts: PictureFacts;
  notes: readonly Note[];
  /** Codes of its findings, the worst first. */
  codes: readonly Code[];
  ppi: number | null;
  /** The share of what matters that it keeps, or of its keep mark; null while nobody has looked. */
  kept: number | null;
  distortion: number;
  problem: WorkPicture['problem'];
}

/** A finding, or what keeps a picture from being shown. */
export type Code = Finding['code'] | 'problem';

/** What a kind of finding is called of one frame, and of many; in the order in which people care. */
export const KINDS: Record<Code, { one: string; many: string }> = {
  distorted: { one: 'squashed', many: 'Squashed or stretched' },
  egg: { one: 'not round', many: 'Almost circles' },
  sideways: { one: 'sideways', many: 'Sideways' },
  'keep-cut': { one: 'cut', many: 'Cut a keep mark' },
  'faked-outline': { one: 'imitated outline', many: 'Imitated outlines' },
  'faint-outline': { one: 'faint outline', many: 'Faint outlines' },
  hairline: { one: 'hairline', many: 'Hairlines' },
  'empty-corner': { one: 'gaps', many: 'Gaps at the edge' },
  'over-face': { one: 'words on a face', many: 'Words over a face' },
  'words-out': { one: 'too large', many: 'Words too large' },
  'hard-to-read': { one: 'hard to read', many: 'Words hard to read' },
  soft: { one: 'soft', many: 'Too few pixels' },
  'off-centre': { one: 'off-centre', many: 'Subject off-centre' },
  'unknown-shape': { one: 'unknown shape', many: 'Unknown shapes' },
  'no-alt-text': { one: 'no alt text', many: 'No alt text' },
  problem: { one: 'not shown', many: 'Cannot be shown' },
};
export const CODES = Object.keys(KINDS) as Code[];

export function rowOf(
  picture: WorkPicture,
  frame: Frame,
  key: string,
  facts: PictureFacts,
  problem: WorkPicture['problem'],
  kept: number | null = null,
): Row {
  const size = frame.source?.size ?? picture.size;
  const found = problem ? [] : notes(frame, facts);
  const codes: Code[] = [
    ...found.map((x) => x.code as Code),
    ...(frame.alt.trim() === '' ? (['no-alt-text'] as const) : []),
    ...(problem ? (['problem'] as const) : []),
  ];
  return {
    n: frame.n,
    picture,
    frame,
    size,
    key,
    facts,
    notes: found,
    codes: codes.sort((a, b) => CODES.indexOf(a) - CODES.indexOf(b)),
    ppi: facts.pixels ? effectivePpi(frame, facts.pixels) : null,
    kept,
    distortion: deriveView(frame.placement, frame.box, size).placement.distortion,
    problem,
  };
}

/** The frame with all of these findings mended, each once; the same frame where there is nothing to mend. */
export const mendedBy = (row: Row, codes: ReadonlySet<string>): Frame =>
  mendEach(row.frame, (now) =>
    notes(now, row.facts)
      .filter((x) => codes.has(x.code))
      .map((x) => ({ code: x.code, frame: x.remedy?.frame ?? null })),
  );

/** How many frames have each finding, in the order of `KINDS`. */
export function counted(rows: readonly Row[]): { code: Code; rows: Row[]; mendable: number }[] {
  return CODES.map((code) => {
    const having = rows.filter((r) => r.codes.includes(code));
    const mendable = having.filter((r) => r.notes.some((x) => x.code === code && x.remedy)).length;
    return { code, rows: having, mendable };
  }).filter((c) => c.rows.length > 0);
}

export type Grouping = 'page' | 'shape' | 'finding' | 'none';
export type Order = 'reading' | 'size' | 'sharpness' | 'kept' | 'ratio' | 'bytes';
export interface Arrangement {
  /** Words that must be in its text, its neighbours' or its place. */
  query: string;
  only: Code | null;
  grouping: Grouping;
  order: Order;
}

const ratioOf = ({ frame: { box } }: Row): number => box.width / box.height;
const areaOf = ({ frame: { box } }: Row): number => box.width * box.height;
const BY: Record<Order, (a: Row, b: Row) => number> = {
  reading: (a, b) => a.n - b.n,
  size: (a, b) => areaOf(b) - areaOf(a),
  sharpness: (a, b) => (a.ppi ?? Infinity) - (b.ppi ?? Infinity),
  kept: (a, b) => (a.kept ?? 1) - (b.kept ?? 1),
  ratio: (a, b) => ratioOf(a) - ratioOf(b),
  bytes: (a, b) => (b.picture.media?.bytes ?? 0) - (a.picture.media?.bytes ?? 0),
};

export const shapeWords = (frame: Frame): string => shapeOf(frame.shape)?.label ?? 'Shape of the file';

function markOf(row: Row, grouping: Grouping): string {
  if (grouping === 'page') return row.picture.file ? withoutKind(row.picture.file) : pageMark(row.picture.where);
  if (grouping === 'shape') return shapeWords(row.frame);
  return row.codes[0] ? KINDS[row.codes[0]].one : 'no findings';
}

export function matches(row: Row, query: string): boolean {
  const text = `${row.n} ${row.picture.file ?? ''} ${row.frame.alt} ${row.picture.where.near} ${placeWords(row.picture.where)} ${shapeWords(row.frame)}`;
  const has = text.toLocaleLowerCase();
  return query
    .toLocaleLowerCase()
    .split(/\s+/)
    .every((w) => has.includes(w));
}

/** The frames that are to be seen, in groups. */
export function arranged(rows: readonly Row[], a: Arrangement): { mark: string; rows: Row[] }[] {
  const seen = rows
    .filter((r) => (a.only === null || r.codes.includes(a.only)) && matches(r, a.query))
    .sort((x, y) => BY[a.order](x, y) || x.n - y.n);
  if (a.grouping === 'none') return seen.length > 0 ? [{ mark: '', rows: seen }] : [];
  const groups = new Map<string, Row[]>();
  for (const r of seen) {
    const mark = markOf(r, a.grouping);
    const group = groups.get(mark);
    if (group) group.push(r);
    else groups.set(mark, [r]);
  }
  const out = [...groups].map(([mark, of]) => ({ mark, rows: of }));
  // Pages follow each other; shapes and findings come with the most frequent first.
  return a.grouping === 'page' ? out : out.sort((x, y) => y.rows.length - x.rows.length);
}

/** A place on the contact sheet; the first of a group carries its mark, and how many follow it. */
export interface Cell {
  row: Row;
  mark: string | null;
  count: number;
}

/** The groups one behind the other, as on the ruler of the run, in lines of so many cells. */
export function linesOf(
  groups: readonly { mark: string; rows: readonly Row[] }[],
  columns: number,
): { id: string; cells: Cell[] }[] {
  const cells = groups.flatMap(({ mark, rows }) =>
    rows.map((row, i) => ({ row, mark: i === 0 ? mark : null, count: rows.length })),
  );
  return Array.from({ length: Math.ceil(cells.length / columns) }, (_, i) => {
    const of = cells.slice(i * columns, (i + 1) * columns);
    return { id: of.map((c) => c.row.n).join(), cells: of };
  });
}

/** Frames that show the same picture as this one: the same data in the file, or the same kept picture. */
export function showingSame(rows: readonly Row[], row: Row): number[] {
  const of = ({ frame, picture }: Row): string => frame.source?.sha256 ?? picture.media?.data ?? `frame ${frame.n}`;
  return rows.filter((r) => of(r) === of(row)).map((r) => r.n);
}

/** Frames like this one: its shape, nearly its size, and lined alike. */
export function likeThisOne(rows: readonly Row[], row: Row): number[] {
  const near = (a: number, b: number): boolean => Math.abs(a / b - 1) < 0.12;
  const kind = ({ frame }: Row): string =>
    frame.shape.name === 'circle' || frame.shape.name === 'ellipse' ? 'round' : frame.shape.name;
  return rows
    .filter(
      (r) =>
        kind(r) === kind(row) &&
        near(r.frame.box.width, row.frame.box.width) &&
        near(r.frame.box.height, row.frame.box.height) &&
        (r.frame.outline === null) === (row.frame.outline === null),
    )
    .map((r) => r.n);
}
