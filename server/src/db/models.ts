import type { Frame } from '@gable/core';
import type { OpenedFile } from '@gable/formats';
import {
  DataTypes,
  Model,
  type CreationOptional,
  type InferAttributes,
  type InferCreationAttributes,
  type Sequelize,
} from 'sequelize';

/** What opening a file found; kept so that a work opens without reading its file again. */
export type Opened = Pick<OpenedFile, 'format' | 'signed' | 'pages' | 'pictures'>;
/** Frames that differ from the file, by picture number. */
export type Frames = Record<string, Frame>;

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
  declare sha256: string;
  declare opened: Opened;
  declare frames: Frames;
  declare revision: CreationOptional<number>;
  declare demo: CreationOptional<boolean>;
  declare createdAt: CreationOptional<Date>;
  declare updatedAt: CreationOptional<Date>;
}

/** A state that did not become, or did not stay, the work's: nobody's work is thrown away. */
export class WorkVersion extends Model<InferAttributes<WorkVersion>, InferCreationAttributes<WorkVersion>> {
  declare id: CreationOptional<string>;
  declare workId: string;
  declare reason: 'stale' | 'replaced';
  declare revision: number;
  declare frames: Frames;
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
      sha256,
      opened: { type: DataTypes.JSONB, allowNull: false },
      frames: { type: DataTypes.JSONB, allowNull: false },
      revision: { type: DataTypes.INTEGER, allowNull: false, defaultValue: 1 },
      demo: { type: DataTypes.BOOLEAN, allowNull: false, defaultValue: false },
      createdAt: DataTypes.DATE,
      updatedAt: DataTypes.DATE,
    },
    { ...common, tableName: 'works' },
  );
  WorkVersion.init(
    {
      id,
      workId: { type: DataTypes.UUID, allowNull: false },
      reason: { type: DataTypes.TEXT, allowNull: false },
      revision: { type: DataTypes.INTEGER, allowNull: false },
      frames: { type: DataTypes.JSONB, allowNull: false },
      createdAt: DataTypes.DATE,
    },
    { ...common, tableName: 'work_versions', updatedAt: false },
  );
  Setting.init(
    { key: { type: DataTypes.TEXT, primaryKey: true }, value: { type: DataTypes.TEXT, allowNull: false } },
    { ...common, tableName: 'settings', timestamps: false },
  );
}
