import {
  itemIdOf,
  NO_CHANGES,
  type LayerContent,
  type StoryContent,
  type Changes,
  type Entry,
  type ColourPalette,
  type Finish,
  type Frame,
  type KeptVideo,
  type Region,
  type ShapeChoice,
  type Structure,
} from '@gable/core';
import type { FontFacts } from '@gable/core/silhouette';
import type { Begun, HandedAs, PictureContents, Suggestions } from '@gable/contract';
import type { ScreensWish, SetWish } from '@gable/render';
import type { Format, Known, LeftOut, OpenedPicture, Sheet, SlimWish } from '@gable/formats';
import {
  DataTypes,
  Model,
  type CreationOptional,
  type InferAttributes,
  type InferCreationAttributes,
  type Sequelize,
} from 'sequelize';

/** A picture of a work; an empty frame is one that waits. */
export type WorkPicture = Omit<OpenedPicture, 'problem'> & {
  problem: OpenedPicture['problem'] | { code: 'empty-frame'; message: string; remedy: string };
  /** In a folder: the file it is in, and what it is there. */
  file?: string;
  member?: { id: string; n: number };
};

/** What opening a file found; kept so that a work opens without reading its file again. */
export interface Opened {
  /** `pictures` for a work that began with pictures and has no file; `folder` for works that are seen together. */
  format: Format | 'pictures' | 'folder';
  signed: boolean;
  /** How much was read of its file (`READING`); 1 where it is not said. */
  reading?: number;
  pages: number;
  /** Missing in works that were opened before there were any. */
  sheets?: readonly Sheet[];
  /** What pages share: masters and layouts. */
  layers?: readonly LayerContent[];
  /** Texts that flow, with what stands in them; missing in works that were opened before it was read. */
  stories?: readonly StoryContent[];
  pictures: readonly WorkPicture[];
  /** What its pictures are called, in their order, where that is not their order: some were put in, or taken out. */
  known?: readonly Known[];
  /** Pictures of the file that are not listed, and why. */
  leftOut?: readonly LeftOut[];
  /** Of a folder: its works. */
  members?: readonly string[];
}
/** A file as it came, and what came into it and went out of it since. */
export interface Origin {
  sha256: string;
  opened: Opened;
  structure: Structure;
}
/** What was said of a work as a whole. */
export interface Marks {
  /** Uneven families that are meant to be so, by what they are about. */
  deliberate?: string[];
  /** The finish that comes first. */
  finish?: string;
}
export class Blob extends Model<InferAttributes<Blob>, InferCreationAttributes<Blob>> {
  declare sha256: string;
  declare size: number;
}

export class BlobChunk extends Model<InferAttributes<BlobChunk>, InferCreationAttributes<BlobChunk>> {
  declare sha256: string;
  declare seq: number;
  declare bytes: Buffer;
}

export class Work extends Model<InferAttributes<Work>, InferCreationAttributes<Work>> {
  declare id: CreationOptional<string>;
  declare name: string;
  /** The file; null for a work of pictures. */
  declare sha256: string | null;
  declare opened: Opened;
  /** Where pictures were put in or taken out: the file as it came, and what was done; null where nothing was. */
  declare origin: CreationOptional<Origin | null>;
  /** What differs from the file; read by `readChanges`. */
  declare changes: CreationOptional<Changes>;
  declare revision: CreationOptional<number>;
  declare demo: CreationOptional<boolean>;
  /** What it began as, where its kind of file is chosen when it is handed over; null for a file. */
  declare begun: CreationOptional<Begun | null>;
  declare marks: CreationOptional<Marks>;
  /** What the shelf shows, so that a list need not read what works hold. */
  declare summary: CreationOptional<WorkSummary>;
  /** It can be brought back for a while; only what brings it back, or removes it for good, sees it. */
  declare deletedAt: CreationOptional<Date | null>;
  /** Folders that it left when it was removed. */
  declare wasIn: CreationOptional<readonly string[]>;
  declare createdAt: CreationOptional<Date>;
  declare updatedAt: CreationOptional<Date>;
}

export interface WorkSummary {
  format: Opened['format'];
  pictures: number;
  framed: number;
  /** Pictures that can be shown, for a look at the work: framed ones before others. */
  faces: number[];
  /** How many pages of a fixed size it has. */
  sheetCount: number;
  /** Of a folder: its works. */
  members?: readonly string[];
}

export const summaryOf = ({ opened, changes }: Pick<Work, 'opened' | 'changes'>): WorkSummary => ({
  format: opened.format,
  pictures: opened.pictures.length,
  framed: Object.keys(changes.items).length,
  faces: opened.pictures
    .filter((p) => !p.problem && (p.media?.drawable || p.frame.source))
    .sort((a, b) => Number(itemIdOf(b) in changes.items) - Number(itemIdOf(a) in changes.items) || a.n - b.n)
    .slice(0, 4)
    .map((p) => p.n),
  sheetCount: opened.sheets?.length ?? 0,
  ...(opened.members && { members: opened.members }),
});

/** A state that did not become, or did not stay, the work's: nobody's work is thrown away. */
export class WorkVersion extends Model<InferAttributes<WorkVersion>, InferCreationAttributes<WorkVersion>> {
  declare id: CreationOptional<string>;
  declare workId: string;
  declare reason: 'stale' | 'replaced';
  declare revision: number;
  declare changes: Changes;
  declare createdAt: CreationOptional<Date>;
}

/** A picture that is kept beside the works: the author's own, or from the stock. */
export class Picture extends Model<InferAttributes<Picture>, InferCreationAttributes<Picture>> {
  declare sha256: string;
  declare name: string;
  /** What it is found by, beside its name. */
  declare words: CreationOptional<string>;
  /** A hidden one is no longer offered, but works that show it go on showing it. */
  declare kind: 'own' | 'stock' | 'hidden';
  declare type: string;
  declare width: number;
  declare height: number;
  declare orientation: number;
  /** What it is seen of before that plays. */
  declare video: CreationOptional<KeptVideo | null>;
  declare usedAt: Date;
}

export class Silhouette extends Model<InferAttributes<Silhouette>, InferCreationAttributes<Silhouette>> {
  declare id: CreationOptional<string>;
  declare name: string;
  declare shape: ShapeChoice;
  declare createdAt: CreationOptional<Date>;
}

/** What was found in a picture, by its content. */
export class PictureFacts extends Model<InferAttributes<PictureFacts>, InferCreationAttributes<PictureFacts>> {
  declare content: string;
  declare kind: 'faces' | 'words' | 'refused';
  declare version: number;
  declare facts: PictureContents | Pick<Suggestions, 'words'> | Region[];
}

/** A page as a browser has laid it out, without its pictures, which is kept as a PNG; lengths in points. */
export interface Shot {
  ground: string;
  width: number;
  height: number;
  frames: { n: number; x: number; y: number; k: number }[];
}
export interface ShotPair {
  caption: string;
  before: Shot;
  after: Shot;
}

/** What a long job is to make, of works as they were when it was asked for. */
export type JobPlan =
  /** The files of a folder, zipped. */
  | {
      kind: 'folder';
      files: ({ sha256: string; name: string; changes: Changes } & Numbered)[];
      slim?: SlimWish;
      grouped?: true;
    }
  | ({
      kind: 'hand-over';
      changes: Changes;
      slim?: SlimWish;
      screens?: ScreensWish;
      grouped?: true;
      as?: As;
    } & Numbered)
  /** As they came, and where they stand, in the same order. */
  | ({ kind: 'proof'; frames: Frame[]; before: Frame[]; captions: string[]; shots?: ShotPair[] } & Numbered)
  | ({ kind: 'set'; frames: Frame[]; set: SetWish } & Numbered);

/** Another kind of file than the one that is worked on, and the resolution of painted pages. */
export interface As {
  kind: HandedAs;
  ppi: number;
}

/** What the pictures of a file are called. */
type Numbered = Pick<Opened, 'known'>;

/** A long job. */
export class Job extends Model<InferAttributes<Job>, InferCreationAttributes<Job>> {
  declare id: CreationOptional<string>;
  declare workId: string;
  /** The work's file; null for a work of pictures. */
  declare sha256: string | null;
  /** Of the file that is made. */
  declare name: string;
  declare revision: number;
  declare wish: JobPlan;
  declare state: CreationOptional<'waiting' | 'running' | 'done' | 'failed' | 'cancelled'>;
  declare done: CreationOptional<number>;
  declare total: number;
  /** How often it has been begun. */
  declare attempts: CreationOptional<number>;
  /** Who is at it, and when that was last heard of. */
  declare server: CreationOptional<string | null>;
  declare heardAt: CreationOptional<Date | null>;
  declare made: CreationOptional<string | null>;
  declare size: CreationOptional<number | null>;
  /** What was done to make it smaller, in words. */
  declare said: CreationOptional<string | null>;
  declare problem: CreationOptional<{ code: string; title: string; remedy: string } | null>;
  declare createdAt: CreationOptional<Date>;
  declare updatedAt: CreationOptional<Date>;
}

/** A finish of one's own, or another state of one that ships; null for a shipped one that was removed. */
export class OwnFinish extends Model<InferAttributes<OwnFinish>, InferCreationAttributes<OwnFinish>> {
  declare id: string;
  declare finish: Finish | null;
}

/** Colours of one's own, under a name. */
export class Palette extends Model<InferAttributes<Palette>, InferCreationAttributes<Palette>> {
  declare id: CreationOptional<string>;
  declare palette: ColourPalette;
  declare createdAt: CreationOptional<Date>;
}

/** A font of one's own, as a plain font file. */
export class Font extends Model<InferAttributes<Font>, InferCreationAttributes<Font>> {
  declare id: CreationOptional<string>;
  declare sha256: string;
  /** `ships` of one that comes with the program. */
  declare facts: FontFacts & { ships?: true };
  declare createdAt: CreationOptional<Date>;
}

/** What was done to a work, in order; entries are only ever added. */
export class LogEntry extends Model<InferAttributes<LogEntry>, InferCreationAttributes<LogEntry>> {
  /** Rises over all works, so that those of a folder have one order. */
  declare seq: CreationOptional<number>;
  declare workId: string;
  /** Of the work, with this entry. */
  declare revision: number;
  declare entry: Entry;
  declare createdAt: CreationOptional<Date>;
}

export class Setting extends Model<InferAttributes<Setting>, InferCreationAttributes<Setting>> {
  declare key: string;
  declare value: string;
}

export function defineModels(sequelize: Sequelize): void {
  const sha256 = { type: DataTypes.CHAR(64), allowNull: false };
  const id = { type: DataTypes.UUID, defaultValue: DataTypes.UUIDV4, primaryKey: true };
  const common = { sequelize, underscored: true };
  Blob.init(
    { sha256: { ...sha256, primaryKey: true }, size: { type: DataTypes.INTEGER, allowNull: false } },
    { ...common, tableName: 'blobs', timestamps: false },
  );
  BlobChunk.init(
    {
      sha256: { ...sha256, primaryKey: true },
      seq: { type: DataTypes.INTEGER, primaryKey: true },
      bytes: { type: DataTypes.BLOB, allowNull: false },
    },
    { ...common, tableName: 'blob_chunks', timestamps: false },
  );
  Work.init(
    {
      id,
      name: { type: DataTypes.TEXT, allowNull: false },
      sha256: { ...sha256, allowNull: true },
      opened: { type: DataTypes.JSONB, allowNull: false },
      origin: { type: DataTypes.JSONB, allowNull: true },
      changes: { type: DataTypes.JSONB, allowNull: false, defaultValue: NO_CHANGES },
      revision: { type: DataTypes.INTEGER, allowNull: false, defaultValue: 1 },
      demo: { type: DataTypes.BOOLEAN, allowNull: false, defaultValue: false },
      begun: DataTypes.TEXT,
      marks: { type: DataTypes.JSONB, allowNull: false, defaultValue: {} },
      summary: { type: DataTypes.JSONB, allowNull: false, defaultValue: {} },
      deletedAt: { type: DataTypes.DATE, allowNull: true },
      wasIn: { type: DataTypes.JSONB, allowNull: false, defaultValue: [] },
      createdAt: DataTypes.DATE,
      updatedAt: DataTypes.DATE,
    },
    {
      ...common,
      tableName: 'works',
      defaultScope: { where: { deletedAt: null } },
      hooks: {
        beforeSave: (work) => {
          if (work.isNewRecord || work.changed('opened') || work.changed('changes')) work.summary = summaryOf(work);
        },
      },
    },
  );
  WorkVersion.init(
    {
      id,
      workId: { type: DataTypes.UUID, allowNull: false },
      reason: { type: DataTypes.TEXT, allowNull: false },
      revision: { type: DataTypes.INTEGER, allowNull: false },
      changes: { type: DataTypes.JSONB, allowNull: false },
      createdAt: DataTypes.DATE,
    },
    { ...common, tableName: 'work_versions', updatedAt: false },
  );
  // Each attribute its own object: Sequelize writes its column's name into it.
  const whole = (): { type: typeof DataTypes.INTEGER; allowNull: boolean } => ({
    type: DataTypes.INTEGER,
    allowNull: false,
  });
  const text = (): { type: typeof DataTypes.TEXT; allowNull: boolean } => ({ type: DataTypes.TEXT, allowNull: false });
  Picture.init(
    {
      sha256: { ...sha256, primaryKey: true },
      name: text(),
      words: { ...text(), defaultValue: '' },
      kind: text(),
      type: text(),
      width: whole(),
      height: whole(),
      orientation: whole(),
      video: { type: DataTypes.JSONB },
      usedAt: { type: DataTypes.DATE, allowNull: false },
    },
    { ...common, tableName: 'pictures', timestamps: false },
  );
  Silhouette.init(
    { id, name: text(), shape: { type: DataTypes.JSONB, allowNull: false }, createdAt: DataTypes.DATE },
    { ...common, tableName: 'silhouettes', updatedAt: false },
  );
  Job.init(
    {
      id,
      workId: { type: DataTypes.UUID, allowNull: false },
      sha256: { ...sha256, allowNull: true },
      name: text(),
      revision: whole(),
      wish: { type: DataTypes.JSONB, allowNull: false },
      state: { ...text(), defaultValue: 'waiting' },
      done: { ...whole(), defaultValue: 0 },
      total: whole(),
      attempts: { ...whole(), defaultValue: 0 },
      server: { type: DataTypes.UUID, allowNull: true },
      heardAt: { type: DataTypes.DATE, allowNull: true },
      made: { ...sha256, allowNull: true },
      size: { type: DataTypes.INTEGER, allowNull: true },
      said: { type: DataTypes.TEXT, allowNull: true },
      problem: { type: DataTypes.JSONB, allowNull: true },
      createdAt: DataTypes.DATE,
      updatedAt: DataTypes.DATE,
    },
    { ...common, tableName: 'jobs' },
  );
  OwnFinish.init(
    { id: { type: DataTypes.TEXT, primaryKey: true }, finish: { type: DataTypes.JSONB, allowNull: true } },
    { ...common, tableName: 'finishes', timestamps: false },
  );
  PictureFacts.init(
    {
      content: { type: DataTypes.TEXT, primaryKey: true },
      kind: { type: DataTypes.TEXT, primaryKey: true },
      version: whole(),
      facts: { type: DataTypes.JSONB, allowNull: false },
    },
    { ...common, tableName: 'picture_facts', timestamps: false },
  );
  Palette.init(
    {
      id: { type: DataTypes.UUID, primaryKey: true, defaultValue: DataTypes.UUIDV4 },
      palette: { type: DataTypes.JSONB, allowNull: false },
      createdAt: DataTypes.DATE,
    },
    { ...common, tableName: 'palettes', updatedAt: false },
  );
  Font.init(
    {
      id: { type: DataTypes.UUID, primaryKey: true, defaultValue: DataTypes.UUIDV4 },
      sha256,
      facts: { type: DataTypes.JSONB, allowNull: false },
      createdAt: DataTypes.DATE,
    },
    { ...common, tableName: 'fonts', updatedAt: false },
  );
  LogEntry.init(
    {
      seq: { type: DataTypes.INTEGER, primaryKey: true, autoIncrement: true },
      workId: { type: DataTypes.UUID, allowNull: false },
      revision: whole(),
      entry: { type: DataTypes.JSONB, allowNull: false },
      createdAt: DataTypes.DATE,
    },
    { ...common, tableName: 'entries', updatedAt: false },
  );
  Setting.init(
    { key: { type: DataTypes.TEXT, primaryKey: true }, value: { type: DataTypes.TEXT, allowNull: false } },
    { ...common, tableName: 'settings', timestamps: false },
  );
}
